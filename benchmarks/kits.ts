import { mkdtempSync, rmSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { doKit } from '@jasmorphe/cli/kit/doKit';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { quietContext } from '@jasmorphe/core/run/context';
import { knobbly, peakMb, say } from './common.ts';

// a kit of 60 files of 20 000 triangles each, read and scaled as one job: aim under 60 s, and memory that does not grow
// with the number of files
const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-kits-'));
const base = knobbly(20_000);
const files: string[] = [];
for (let i = 0; i < 60; i++) {
  const positions = base.positions.map((x, k) => (k % 3 === 0 ? x * (1 + i / 100) : x));
  const path = join(folder, `piece${i}.stl`);
  await writeFile(path, writeBinaryStl({ positions, triangles: base.triangles }));
  files.push(path);
}
const begun = performance.now();
const some = await doKit(files.slice(0, 10), { factor: 3, output: join(folder, 'some'), context: quietContext });
const ten = performance.now() - begun;
const after = peakMb();
const again = performance.now();
const all = await doKit(files, { factor: 3, output: join(folder, 'all'), context: quietContext });
const sixty = performance.now() - again;
say(
  `a kit: ${some.pieces.length} files in ${(ten / 1000).toFixed(1)} s at a peak of ${after} MB; ${all.pieces.length} in ${(sixty / 1000).toFixed(1)} s at ${peakMb()} MB: ${(Number(peakMb()) / Number(after)).toFixed(2)} of the memory for six times the files; ${(sixty / 60_000).toFixed(2)} of a minute`,
);
rmSync(folder, { recursive: true });
