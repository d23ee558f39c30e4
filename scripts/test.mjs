import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureChromium, ensureInstalled, root } from './workspace.mjs';

/** Every suite in its own process, then one line with the counts of all. `npm test -- core` runs only those named. */
process.chdir(root);
ensureInstalled();
ensureBuilt();

const named = process.argv.slice(2).filter((a) => !a.startsWith('-'));
const suites = ['core', 'contracts', 'server', 'cli', 'web'].map((name) => ({ name, folder: `packages/${name}/test` }));
suites.push({ name: 'e2e', folder: 'e2e' });

const results = join(root, '.cache', 'test');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

let passed = 0;
let failed = 0;
let skipped = 0;
for (const { name, folder } of suites) {
  if (named.length > 0 && !named.includes(name)) continue;
  const files = readdirSync(folder)
    .filter((f) => f.endsWith('.spec.ts'))
    .map((f) => join(folder, f));
  const env = {
    ...process.env,
    TSX_TSCONFIG_PATH: join(root, 'tsconfig.base.json'),
    JASMORPHE_TEST_RESULT: join(results, `${name}.json`),
  };
  if (name === 'e2e') {
    const chromium = ensureChromium();
    if (!chromium) {
      console.error(
        'The browser tests need Chromium. Install it with: sudo apt-get install chromium (or name one in CHROMIUM).',
      );
      failed++;
      continue;
    }
    env.CHROMIUM = chromium;
  }
  console.log(`\n${name}`);
  const { status } = spawnSync(
    process.execPath,
    [
      '--conditions=source',
      '--import',
      'tsx',
      'node_modules/mocha/bin/mocha.js',
      '--reporter',
      'scripts/countingReporter.cjs',
      '--timeout',
      '120000',
      '--exit',
      ...files,
    ],
    { stdio: 'inherit', env, timeout: 15 * 60_000 },
  );
  if (existsSync(env.JASMORPHE_TEST_RESULT)) {
    const counts = JSON.parse(readFileSync(env.JASMORPHE_TEST_RESULT, 'utf8'));
    passed += counts.passed;
    failed += counts.failed;
    skipped += counts.skipped;
    if (status !== 0 && counts.failed === 0) failed++;
  } else failed++;
}
console.log(`\n${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
