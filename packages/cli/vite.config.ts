import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const path = (file: string) => fileURLToPath(new URL(file, import.meta.url));

// One folder of a few files instead of hundreds of modules: help and small meshes should not wait for the loader.
export default defineConfig({
  // the solid kernel finds its WebAssembly beside itself; the store is loaded by one command alone
  ssr: { noExternal: true, external: ['manifold-3d', '@jasmorphe/server'] },
  build: {
    ssr: true,
    outDir: 'dist/bundle',
    emptyOutDir: true,
    target: 'node20',
    minify: true,
    rolldownOptions: {
      onwarn: (warning, warn) => {
        // whether a module is in a chunk of its own is for speed alone
        if (warning.code !== 'INEFFECTIVE_DYNAMIC_IMPORT') warn(warning);
      },
      input: { main: path('src/main.ts'), pieceWorker: path('../threads/src/pieceWorker.ts') },
      output: { entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
      external: [/^@jasmorphe\/server\//, 'manifold-3d'],
    },
  },
});
