import { wrap, type Remote } from 'comlink';
import type { Workshop } from './workshop.ts';

let remote: Remote<Workshop> | undefined;

/** The worker that holds the full mesh on the bench and answers what is asked about it. */
export function fullMesh(): Remote<Workshop> {
  remote ??= wrap<Workshop>(new Worker(new URL('./meshWorker.ts', import.meta.url), { type: 'module' }));
  return remote;
}
