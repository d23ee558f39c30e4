// The worker when the program runs from source: threads do not inherit the TypeScript loader, so it is registered here.
import { register } from 'tsx/esm/api';

register();
await import('./pieceWorker.ts');
