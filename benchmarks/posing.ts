import { boundsOf, sizeOf, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { judgePose } from '@jasmorphe/core/planning/pose/judgePose';
import { posedSkin } from '@jasmorphe/core/planning/pose/PosedSkin';
import { schools } from '@jasmorphe/core/planning/pose/schools';
import { BedRoom, searchPoses } from '@jasmorphe/core/planning/pose/searchPoses';
import { quietContext } from '@jasmorphe/core/run/context';
import { knobbly, peakMb, say } from './common.ts';

// how long poses are looked for among 500 directions and more (aim: 5 s for 70 000 triangles), and how long one takes to be
// measured on the solid itself; beside it a plain read through all triangles once for every direction
const scaledTo = (mesh: TriMesh, longest: number): TriMesh => {
  const f = longest / Math.max(...sizeOf(boundsOf(mesh)));
  return scaleMesh(mesh, [f, f, f]);
};

/** Time of going once through all corners for each of so many directions, ms. */
function plainMs({ positions: p }: TriMesh, directions: number): number {
  const start = performance.now();
  let most = 0;
  for (let d = 0; d < directions; d++) {
    const [x, y, z] = [Math.sin(d), Math.cos(d), Math.sin(2 * d)];
    for (let i = 0; i < p.length; i += 3) most = Math.max(most, x * p[i] + y * p[i + 1] + z * p[i + 2]);
  }
  if (!Number.isFinite(most)) throw new Error('no corners');
  return performance.now() - start;
}

const profile = parseParams(PrinterProfile, { name: 'bench' });
const aim = { profile, unseen: [], hidden: [], bare: [] };
say(
  '| triangles | one school | all five | poses | measured on the solid | one plain pass over the corners a pose | peak MB |',
);
say('| --- | --- | --- | --- | --- | --- | --- |');
for (const triangles of [7000, 70_000, 870_000]) {
  const mesh = scaledTo(knobbly(triangles), 200);
  const bed = await BedRoom.of(mesh, aim);
  const timed = async (wanted: typeof schools | readonly ['best']): Promise<[number, number]> => {
    const start = performance.now();
    const { looked } = await searchPoses(mesh, aim, bed, wanted, quietContext);
    return [performance.now() - start, looked];
  };
  const [one] = await timed(['best']);
  const [all, looked] = await timed(schools);
  const start = performance.now();
  judgePose(posedSkin(mesh, []), bed.lay([0, 0, 1]).rotation, aim, quietContext);
  const judged = performance.now() - start;
  const plain = plainMs(mesh, looked);
  say(
    `| ${triangleCount(mesh)} | ${one.toFixed(0)} ms | ${all.toFixed(0)} ms | ${looked} | ${judged.toFixed(0)} ms | ${plain.toFixed(0)} ms (${(all / plain).toFixed(2)}) | ${peakMb()} |`,
  );
}
