import { parseParams } from '@jasmorphe/core/params/parseParams';
import { quietContext } from '@jasmorphe/core/run/context';
import { recut } from '@jasmorphe/core/operations/recut/run';
import { fromSolid, loadKernel, splitByPlane, toSolid } from '@jasmorphe/core/solid/kernel';
import { fastest, knobbly, peakMb, say } from './common.ts';

// a planar cut through our own way round, against the solid kernel alone: aim at most 1.2
const mesh = knobbly(300_000);
const kernel = await loadKernel();
const alone = await fastest(4, () => {
  const solid = toSolid(kernel, mesh);
  const [above, below] = splitByPlane(solid, [0, 0, 1], 3);
  fromSolid(above);
  for (const s of [solid, above, below]) s.delete();
});
const params = parseParams(recut.params, { printed: 35 });
const whole = await fastest(4, () => recut.run([mesh], params, quietContext));
say(
  `planar cut of 300 000 triangles: ${whole.toFixed(0)} ms with its measures, kernel alone ${alone.toFixed(0)} ms; ratio ${(whole / alone).toFixed(2)}; peak ${peakMb()} MB`,
);
