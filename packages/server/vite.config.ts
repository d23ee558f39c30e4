import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const path = (file: string) => fileURLToPath(new URL(file, import.meta.url));

// What a process or a thread of the server begins with, in a few files: more than a thousand modules would take the
// loader longer than the database and the first request together.
export default defineConfig({
  // what brings files or a library of its own finds them beside itself
  ssr: { noExternal: true, external: ['@libsql/client', 'libsql', 'manifold-3d', 'pdfkit', 'pino', 'piscina'] },
  build: {
    ssr: true,
    outDir: 'dist/bundle',
    // a server that runs may still ask for a piece of the build before
    emptyOutDir: false,
    target: 'node20',
    minify: false,
    rolldownOptions: {
      onwarn: (warning, warn) => {
        // whether a module is in a chunk of its own is for speed alone
        if (warning.code !== 'INEFFECTIVE_DYNAMIC_IMPORT') warn(warning);
      },
      input: {
        main: path('src/main.ts'),
        startServer: path('src/startServer.ts'),
        whyNotStarted: path('src/whyNotStarted.ts'),
        thread: path('src/threads/thread.ts'),
        pieceWorker: path('../threads/src/pieceWorker.ts'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
    },
  },
});
