import { Bvh } from '@jasmorphe/core/mesh/Bvh';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { WindingTree } from '@jasmorphe/core/mesh/WindingTree';
import { fastest, knobbly, peakMb, say } from './common.ts';

// how often a torn scan is asked what is inside it; each triangle by itself is the yardstick
const scan = knobbly(870_000);
const random = randomFrom(5);
const torn = { positions: scan.positions, triangles: scan.triangles.slice(0, 3 * 700_000) };
const tree = new Bvh(torn);
const began = performance.now();
const winding = new WindingTree(tree);
const built = performance.now() - began;
const all = new WindingTree(tree, 1e6);
const points = Array.from({ length: 20_000 }, () => [240, 240, 66].map((side) => side * (random() - 0.5)));
const quick = (await fastest(3, () => points.forEach(([x, y, z]) => winding.at(x, y, z)))) / points.length;
let worst = 0;
const some = points.slice(0, 20);
const slow =
  (await fastest(1, () => {
    for (const [x, y, z] of some) worst = Math.max(worst, Math.abs(all.at(x, y, z) - winding.at(x, y, z)));
  })) / some.length;
say(
  `winding number in 700 000 triangles: tree ${built.toFixed(0)} ms, ${(1000 * quick).toFixed(1)} us a point, 1 of ${(slow / quick).toFixed(0)} of all triangles one by one, off by ${worst.toFixed(4)} at most; ${peakMb()} MB`,
);
