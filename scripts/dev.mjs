import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureInstalled, root } from './workspace.mjs';

// The server restarts when its sources change; the web application reloads what changed by itself.
ensureInstalled();
const env = { ...process.env, TSX_TSCONFIG_PATH: join(root, 'tsconfig.base.json') };
const children = [
  spawn(
    'npx',
    [
      '--no-install',
      'tsx',
      'watch',
      '--conditions=source',
      'demo/src/main.ts',
      '--web',
      'none',
      ...process.argv.slice(2),
    ],
    { cwd: root, stdio: 'inherit', env },
  ),
  spawn('npx', ['--no-install', 'vite'], { cwd: join(root, 'packages/web'), stdio: 'inherit' }),
];
const stop = () => children.forEach((c) => c.kill('SIGTERM'));
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
children.forEach((c) => c.on('exit', stop));
