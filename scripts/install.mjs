import { installPackages } from './workspace.mjs';

// The packages of the lock file, afresh.
installPackages();
