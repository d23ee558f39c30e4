import { existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { build } from 'esbuild';
import { root } from './workspace.mjs';

/**
 * Tests as plain JavaScript, each package's in a folder beside its `test`, where what they name by relative paths is found
 * as well: neither they nor the threads and processes that they start wait for a compiler. What they import of
 * the workspace is what was built; the page, which is built for browsers alone, goes in with its tests.
 */
export const builtFolder = 'test-built';

/** What makes a document of its own has to be there before all else: of modules that are shared, order is not kept. */
const first = 'dom.tsx';

/** What is to be loaded before the tests of a folder, if anything. */
export const firstOf = (folder) => (existsSync(join(root, folder, first)) ? builtOf(join(folder, first)) : null);

/** Where a test file stands when it is built. */
export const builtOf = (file) => join(dirname(file), '..', builtFolder, basename(file).replace(/\.tsx?$/, '.mjs'));

/**
 * Builds the tests of some suites.
 *
 * @param folders of tests, from the root of the checkout
 */
export async function buildTests(folders) {
  await Promise.all(
    folders.map(async (folder) => {
      const outdir = join(root, folder, '..', builtFolder);
      rmSync(outdir, { recursive: true, force: true });
      mkdirSync(outdir, { recursive: true });
      await build({
        absWorkingDir: root,
        entryPoints: readdirSync(join(root, folder))
          .filter((f) => /\.spec\.tsx?$/.test(f) || f === first)
          .map((f) => join(folder, f)),
        outdir,
        outExtension: { '.js': '.mjs' },
        bundle: true,
        splitting: true,
        format: 'esm',
        platform: 'node',
        target: 'node20',
        packages: 'external',
        tsconfig: 'tsconfig.base.json',
        sourcemap: true,
        logLevel: 'warning',
      });
    }),
  );
}
