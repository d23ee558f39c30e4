import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { availableParallelism, setPriority } from 'node:os';
import { basename, join } from 'node:path';
import { ensureBuilt, ensureChromium, ensureInstalled, ensureScans, root } from './workspace.mjs';

// Every suite in a process of its own, one more side by side than there are cores, at most three: the server's tests and
// the browser's wait for one another now and then. Then one line with the counts of all. `npm test -- core` runs only those
// named.
process.chdir(root);
const named = process.argv.slice(2).filter((a) => !a.startsWith('-'));
const suites = ['contracts', 'core', 'server', 'web', 'cli', 'e2e'].filter(
  (name) => named.length === 0 || named.includes(name),
);
ensureInstalled();
// beside the build and the first tests of others: unpacking it takes one core some ten seconds
const installing = suites.includes('e2e') ? ensureChromium() : null;
await Promise.all([ensureBuilt(), ...(suites.includes('core') ? [ensureScans([3, 4])] : [])]);

/** The longest first, so that none of them is left over at the end; one lane may have to wait for the browser. */
const byLength = 'core, e2e-flows, server, web, cli, e2e-tools, e2e-kits, e2e-gone, contracts'.split(', ');
/** How far others stand back for the longest, which would else be left over: as `nice` has it. */
const back = 5;
/** They have both cores already: no threads of each to collect what is free, and less often. Sizes in MB. */
const engine = ['--single-threaded-gc', '--initial-old-space-size=500'];
/** Room for what is new: geometry makes few objects, and goes through them sooner where they lie close together. */
const ofGeometry = ['--min-semi-space-size=16'];
/**
 * Others make many objects, and most of what they run, they run a few times: that is not worth the other thread that makes code fast.
 * So it waits longer, by bytes of code that have run, fifteen times the usual. Together 5 to 12 % less work; geometry by itself would be
 * slower.
 */
const ofOthers = ['--min-semi-space-size=64', '--max-semi-space-size=128', '--interrupt-budget=1000000'];
const longestMs = 17 * 60_000;

const results = join(root, '.cache', 'test');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

/** What failed, told once more at the end: what is kept of a long output is its end. */
const failures = [];
const totals = { passed: 0, failed: 0, skipped: 0 };
const folderOf = (name) => (name === 'e2e' ? name : `packages/${name}/test`);
// after the packages are there
const { buildTests, builtOf, firstOf } = await import('./testBuild.mjs');
await buildTests(suites.map(folderOf));

const runs = suites
  .flatMap((name) => {
    const folder = folderOf(name);
    const files = readdirSync(join(root, folder))
      .filter((f) => /\.spec\.tsx?$/.test(f))
      .map((f) => builtOf(join(folder, f)));
    const run = (title, some) => ({
      title,
      files: some,
      first: firstOf(folder),
      inBrowser: name === 'e2e',
      flags: [...engine, ...(name === 'core' ? ofGeometry : ofOthers)],
    });
    // flows have an application each; others load the same code, which the engine makes fast once a process
    return name === 'e2e' ? files.map((f) => run(`e2e-${basename(f, '.spec.mjs')}`, [f])) : [run(name, files)];
  })
  .sort((a, b) => byLength.indexOf(a.title) - byLength.indexOf(b.title));

/** Runs one process to its end; what it says is shown at once when it ends, so that two do not mix. */
const runOne = ({ title, files, first, flags }, chromium) =>
  new Promise((resolve) => {
    const began = Date.now();
    const result = join(results, `${title}.json`);
    const child = spawn(
      process.execPath,
      [
        ...flags,
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
    // before it has threads and children: they stand back with it
    if (title !== byLength[0]) setPriority(child.pid, back);
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
        for (const { title: test, why } of counts.failures) failures.push(`${title}: ${test}\n${why}`);
        if (status === 0 || counts.failed > 0) return resolve();
      }
      totals.failed++;
      failures.push(`${title} did not end as it should: ${status ?? 'it was ended after its time'}`);
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
await Promise.all(Array.from({ length: Math.min(2, availableParallelism()) + 1 }, lane));
const { passed, failed, skipped } = totals;
if (failures.length > 0) console.log(`\nWhat failed:\n\n${failures.join('\n\n')}`);
console.log(`\n${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
