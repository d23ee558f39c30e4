import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, ensureScans, root } from '../scripts/workspace.mjs';

// Each benchmark runs in a process of its own, so that its peak of memory is its own.
ensureInstalled();
await ensureBuilt();
await ensureScans([1, 3, 4]);
process.chdir(root);
const env = { ...process.env, TSX_TSCONFIG_PATH: join(root, 'tsconfig.base.json') };
for (const name of [
  'reading',
  'inspecting',
  'mending',
  'sizing',
  'hollowing',
  'cutting',
  'section',
  'winding',
  'bundle',
  'starting',
  'kits',
  'cuts',
  'posing',
  'bedfuls',
  'days',
])
  spawnSync(process.execPath, ['--conditions=source', '--import', 'tsx', `benchmarks/${name}.ts`], {
    stdio: 'inherit',
    env,
  });
