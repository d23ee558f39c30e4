import { build, ensureInstalled } from './workspace.mjs';

ensureInstalled();
await build();
