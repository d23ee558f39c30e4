import { Slicer } from '@jasmorphe/core/section/Slicer';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { regionsOf } from '@jasmorphe/core/section/regions';
import { fastest, knobbly, say } from './common.ts';

// what the browser's worker does when the section plane moves: aim under 50 ms on 200 000 triangles
const mesh = knobbly(200_000);
const began = performance.now();
const slicer = new Slicer(mesh);
const ready = performance.now() - began;
let worst = 0;
for (let z = -30; z <= 30; z += 1.5) worst = Math.max(worst, await fastest(1, () => regionsOf(slicer.at(z))));
say(
  `section plane on 200 000 triangles: worst ${worst.toFixed(1)} ms, ${(worst / 50).toFixed(2)} of 50 ms; first use of an axis ${ready.toFixed(0)} ms`,
);

// all layers of a scan of 870 000 triangles at 0.2 mm, areas, perimeters and islands included
const scan = knobbly(870_000);
const pass = await fastest(3, () => {
  let sum = 0;
  for (let i = 0; i < scan.triangles.length; i++) sum += scan.positions[3 * scan.triangles[i] + 2];
  return sum;
});
const start = performance.now();
const { layers, islands } = sweepLayers(scan, 0.2);
const swept = performance.now() - start;
say(
  `layers of 870 000 triangles at 0.2 mm: ${layers} layers, ${islands.length} islands, ${(swept / 1000).toFixed(2)} s, ${(swept / 3000).toFixed(2)} of 3 s, ${(swept / pass).toFixed(0)} plain passes over the triangles`,
);
