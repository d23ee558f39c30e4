import { ensureChromium, installPackages } from './workspace.mjs';

// The packages of the lock file, afresh, and Chromium for the tests, side by side: each keeps one core half busy.
const installing = ensureChromium();
installPackages();
await installing;
