import { build, ensureInstalled } from './workspace.mjs';

ensureInstalled();
build();
