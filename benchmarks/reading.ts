import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { fastest, knobbly, peakMb, say } from './common.ts';

// 870 000 triangles as binary STL: aim at most three plain passes over the file plus 1 s, and under 600 MB
const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-bench-'));
const path = join(folder, 'scan.stl');
{
  // written record by record, so that making the file does not count in the peak of memory
  const mesh = knobbly(870_000);
  const count = mesh.triangles.length / 3;
  const bytes = Buffer.alloc(84 + 50 * count);
  bytes.writeUInt32LE(count, 80);
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 9; k++)
      bytes.writeFloatLE(
        mesh.positions[3 * mesh.triangles[3 * t + Math.floor(k / 3)] + (k % 3)],
        84 + 50 * t + 12 + 4 * k,
      );
  writeFileSync(path, bytes);
}
const pass = await fastest(3, () => {
  const bytes = readFileSync(path);
  let sum = 0;
  for (let i = 0; i < bytes.length; i++) sum += bytes[i];
  return sum;
});
let triangles = 0;
const read = await fastest(3, () => void (triangles = readMesh(readFileSync(path)).mesh.triangles.length / 3));
say(
  `reading and welding ${triangles} triangles: ${read.toFixed(0)} ms; one plain pass ${pass.toFixed(0)} ms; ${(read / (3 * pass + 1000)).toFixed(2)} of three passes plus 1 s; peak ${peakMb()} MB`,
);
rmSync(folder, { recursive: true });
