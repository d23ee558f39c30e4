import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { fitInBed } from '../../planning/bedFit.ts';
import { roomOf } from '../../planning/room.ts';

/** Does it fit a bed whole, and how large could it be? */
export const fit = makeOperation(description, async ([mesh], params, context) => {
  context.progress(0.1, 'Turning it on the bed');
  return { outputs: [], report: await fitInBed(mesh, roomOf(params.bed, params.margin)) };
});
