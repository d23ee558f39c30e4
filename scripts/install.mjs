import { ensureSchemas } from './responseSchemas.mjs';
import { installPackages } from './workspace.mjs';

// The packages of the lock file, afresh; and what types and lint need beside the sources.
installPackages();
await ensureSchemas();
