import { hollow } from '@jasmorphe/core/operations/hollow/run';
import { HollowParams } from '@jasmorphe/core/operations/hollow/describe';
import { quietContext } from '@jasmorphe/core/run/context';
import { triangleCount } from '@jasmorphe/core/mesh/TriMesh';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { families } from './family.ts';
import { say } from './common.ts';

// bodies full of holes: how time grows with triangles (1 is linear); the grid, which follows the wall, is a floor under it
for (const [name, make] of Object.entries(families)) {
  const times: [number, number][] = [];
  for (const wanted of [20_000, 100_000, 500_000]) {
    const mesh = await make(wanted);
    const began = performance.now();
    await hollow.run([mesh], parseParams(HollowParams, { wall: 1 }), quietContext).catch((error: Error) => {
      say(`  ${name}: ${error.message}`);
    });
    times.push([triangleCount(mesh), performance.now() - began]);
  }
  const [[n0, t0], , [n1, t1]] = times;
  say(
    `hollow, ${name}: ${times.map(([n, t]) => `${n} triangles ${(t / 1000).toFixed(1)} s`).join(', ')}; exponent ${(Math.log(t1 / t0) / Math.log(n1 / n0)).toFixed(2)}`,
  );
}
