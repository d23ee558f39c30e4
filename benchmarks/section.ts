import { Slicer } from '@jasmorphe/core/section/Slicer';
import { regionsOf } from '@jasmorphe/core/section/regions';
import { fastest, knobbly, say } from './scan.ts';

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
