import { spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { say } from './common.ts';

// how long the command line takes to be of use, beside a program that does nothing
const gear = createRequire(import.meta.url).resolve('stl-models/objects/gearwheel.bin.stl');
const runs = 9;
/** Median time of a process, ms. */
const median = (args: string[]): number => {
  const all = Array.from({ length: runs }, () => {
    const began = performance.now();
    spawnSync(process.execPath, args);
    return performance.now() - began;
  });
  return all.sort((x, y) => x - y)[runs >> 1];
};
const bare = median(['-e', '0']);
for (const [name, args] of [
  ['--help', ['--help']],
  ['help mend', ['help', 'mend']],
  ['inspect 2 444 triangles', ['inspect', gear, '--json']],
] as const) {
  const ms = median(['packages/cli/bin/jasmorphe.mjs', ...args]);
  say(`${name}: ${ms.toFixed(0)} ms, ${(ms / bare).toFixed(2)} times a bare node`);
}
