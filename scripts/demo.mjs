import { ensureBuilt, ensureInstalled, root } from './workspace.mjs';

process.chdir(root);
ensureInstalled();
await ensureBuilt();
await import('../demo/dist/main.js');
