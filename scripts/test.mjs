import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ensureBuilt, ensureChromium, ensureInstalled, root } from './workspace.mjs';

// Every suite in processes of its own, as many side by side as there are cores, at most two: the server's tests and the
// browser's use more than one thread themselves. Then one line with the counts of all. `npm test -- core` runs only
// those named.
process.chdir(root);
const named = process.argv.slice(2).filter((a) => !a.startsWith('-'));
// the longest first, so that none of them is left over at the end
const suites = ['e2e', 'core', 'server', 'web', 'cli', 'contracts'].filter(
  (name) => named.length === 0 || named.includes(name),
);
ensureInstalled();
// beside the build and the first tests of others: unpacking it takes one core some ten seconds
const installing = suites.includes('e2e') ? ensureChromium() : null;
await ensureBuilt();

/**
 * Files of a suite that share a process. The flows of a browser take long: two processes of them run beside the others.
 * Those of the page are short, and most of what a process of theirs does is to load what the page is built of; those of
 * core, server and command line work with the same code, which the engine makes fast once a process. Two of each but the
 * shortest, so that both cores have something to do until the end.
 */
const together = { cli: 7, core: 18, e2e: 2, server: 9, web: 15 };
const togetherOf = (name) => together[name] ?? 4;
/** Two processes have both cores already: no threads of each to collect what is free, and less often. Bytes in MB. */
const engine = ['--single-threaded-gc', '--min-semi-space-size=16'];
const longestMs = 15 * 60_000;

const results = join(root, '.cache', 'test');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

const totals = { passed: 0, failed: 0, skipped: 0 };
const folderOf = (name) => (name === 'e2e' ? name : `packages/${name}/test`);
// after the packages are there
const { buildTests, builtOf, firstOf } = await import('./testBuild.mjs');
await buildTests(suites.map(folderOf));

const runs = suites.flatMap((name) => {
  const folder = folderOf(name);
  const files = readdirSync(folder)
    .filter((f) => /\.spec\.tsx?$/.test(f))
    .map((f) => builtOf(join(folder, f)));
  const parts = Math.ceil(files.length / togetherOf(name));
  // every so manieth file, so that neighbours in the alphabet, which are often alike, do not meet in one
  return Array.from({ length: parts }, (_, part) => ({
    title: parts > 1 ? `${name}, ${part + 1} of ${parts}` : name,
    result: join(results, `${name}-${part}.json`),
    files: files.filter((_, i) => i % parts === part),
    first: firstOf(folder),
    inBrowser: name === 'e2e',
  }));
});
// one lane may be held up until the browser is there, the other works meanwhile
const other = runs.findIndex((r) => !r.inBrowser);
if (other > 1) runs.splice(1, 0, ...runs.splice(other, 1));

/** Runs one process to its end; what it says is shown at once when it ends, so that two do not mix. */
const runOne = ({ title, result, files, first }, chromium) =>
  new Promise((resolve) => {
    const began = Date.now();
    const child = spawn(
      process.execPath,
      [
        ...engine,
        '--enable-source-maps',
        'node_modules/mocha/bin/mocha.js',
        '--reporter',
        'scripts/countingReporter.cjs',
        '--timeout',
        '120000',
        '--exit',
        ...(first ? ['--file', first] : []),
        ...files,
      ],
      {
        stdio: ['ignore', 'pipe', 'pipe'],
        env: {
          ...process.env,
          JASMORPHE_TEST_RESULT: result,
          ...(chromium ? { CHROMIUM: chromium } : {}),
        },
      },
    );
    const timer = setTimeout(() => child.kill('SIGKILL'), longestMs);
    let said = '';
    child.stdout.on('data', (text) => (said += text));
    child.stderr.on('data', (text) => (said += text));
    child.on('close', (status) => {
      clearTimeout(timer);
      console.log(`\n${title}, ${Math.round((Date.now() - began) / 1000)} s\n${said}`);
      if (existsSync(result)) {
        const counts = JSON.parse(readFileSync(result, 'utf8'));
        for (const key of Object.keys(totals)) totals[key] += counts[key];
        if (status !== 0 && counts.failed === 0) totals.failed++;
      } else totals.failed++;
      resolve();
    });
  });

const lane = async () => {
  for (let next = runs.shift(); next; next = runs.shift()) {
    const chromium = next.inBrowser ? await installing : null;
    if (!next.inBrowser || chromium) await runOne(next, chromium);
    else {
      console.error(
        `${next.title}: Chromium is missing. Install it with: sudo apt-get install chromium (or name one in CHROMIUM).`,
      );
      totals.failed++;
    }
  }
};
await Promise.all(Array.from({ length: Math.min(2, availableParallelism()) }, lane));
const { passed, failed, skipped } = totals;
console.log(`\n${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
