import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { firstLoad, mostKb } from './firstLoad.mjs';
import { transpile } from './transpile.mjs';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

const at = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;

/** Runs a program in the checkout, with its output shown; ends this process when it fails. */
export function run(program, args, options = {}) {
  const { status } = spawnSync(program, args, { cwd: root, stdio: 'inherit', ...options });
  if (status !== 0) process.exit(status ?? 1);
}

/** Installs the packages of the lock file unless they are there. */
export function ensureInstalled() {
  const mark = join(root, 'node_modules', '.package-lock.json');
  if (existsSync(mark) && at(mark) >= at(join(root, 'package-lock.json')) - 1000) return;
  console.log('Installing packages');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
}

const newest = (folder) => {
  let time = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    time = Math.max(time, entry.isDirectory() ? newest(path) : at(path));
  }
  return time;
};

/** What runs in Node. */
const packages = ['packages/core', 'packages/contracts', 'packages/threads', 'packages/server', 'packages/cli', 'demo'];

const sources = [...packages, 'packages/web'].map((folder) => `${folder}/src`);

/** When it was built last. */
const stamp = join(root, '.cache', 'built');

/** Builds what has changed since the last build. */
export function ensureBuilt() {
  const files = [
    'package-lock.json',
    'tsconfig.base.json',
    'scripts/transpile.mjs',
    'packages/web/vite.config.ts',
    'packages/cli/vite.config.ts',
    'packages/server/vite.config.ts',
    'packages/web/index.html',
  ];
  const changed = Math.max(...sources.map((s) => newest(join(root, s))), ...files.map((f) => at(join(root, f))));
  if (
    at(stamp) >= changed &&
    existsSync(join(root, 'packages/web/dist/index.html')) &&
    existsSync(join(root, 'demo/dist/main.js'))
  )
    return;
  build();
}

/** Pieces of earlier builds of the server: one that still runs may ask for them, for a week. */
function removeOldPieces() {
  const folder = join(root, 'packages/server/dist/bundle');
  if (!existsSync(folder)) return;
  for (const name of readdirSync(folder))
    if (at(join(folder, name)) < Date.now() - 7 * 86_400_000) rmSync(join(folder, name));
}

export function build() {
  console.log('Building');
  for (const folder of packages) transpile(root, folder);
  removeOldPieces();
  for (const name of ['server', 'cli', 'web'])
    run('npx', ['--no-install', 'vite', 'build', '--logLevel', 'warn'], { cwd: join(root, 'packages', name) });
  const { initialKb } = firstLoad(join(root, 'packages/web/dist'));
  if (initialKb > mostKb)
    throw new Error(
      `The page loads ${initialKb.toFixed(0)} kB of JavaScript (gzipped) before it shows anything; at most ${mostKb} kB may be. See what main.tsx imports.`,
    );
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, '');
}

/** Where Chromium is, installing Debian's when this process may; null when there is none. */
export function ensureChromium() {
  const known = [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find(
    (p) => p && existsSync(p),
  );
  if (known) return known;
  if (process.getuid?.() === 0) {
    console.log('Installing Chromium from Debian');
    try {
      execFileSync('apt-get', ['update', '-qq'], { stdio: 'inherit' });
      execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
        stdio: ['ignore', 'ignore', 'inherit'],
        env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      });
    } catch {
      return null;
    }
    if (existsSync('/usr/bin/chromium')) return '/usr/bin/chromium';
  }
  return null;
}
