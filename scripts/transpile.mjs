import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join, relative } from 'node:path';

/** Names of what a module imports beside it, as they stand after it was built. */
const asBuilt = (code) => code.replace(/(\bfrom\s*|\bimport\s*\(?\s*)"(\.{1,2}\/[^"]+)\.tsx?"/g, '$1"$2.js"');

const modulesIn = (folder) =>
  readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile() && /\.ts$/.test(e.name))
    .map((e) => join(e.parentPath ?? e.path, e.name));

/**
 * Makes JavaScript of the modules of a package, file by file and without looking at types: within seconds, where the type
 * checker takes most of a minute. Types are looked at by `npm run check`.
 *
 * @param root of the checkout
 * @param folder of the package, with `src`; what is made goes to its `dist`
 */
export function transpile(root, folder) {
  const { buildSync } = createRequire(join(root, 'package.json'))('esbuild');
  const src = join(root, folder, 'src');
  const { outputFiles } = buildSync({
    absWorkingDir: root,
    entryPoints: modulesIn(src).map((f) => relative(root, f)),
    outbase: src,
    outdir: join(root, folder, 'dist'),
    format: 'esm',
    target: 'es2022',
    tsconfig: 'tsconfig.base.json',
    sourcemap: true,
    write: false,
    logLevel: 'warning',
  });
  for (const { path, text } of outputFiles) {
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, path.endsWith('.js') ? asBuilt(text) : text);
  }
}
