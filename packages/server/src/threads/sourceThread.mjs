// The thread when the server runs from source: threads do not inherit the TypeScript loader, so it is registered here.
import { register } from 'tsx/esm/api';

register();
const { default: work } = await import('./thread.ts');

export default work;
