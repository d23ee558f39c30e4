import { IsOptional } from 'class-validator';
import { fitInBed, type BedFit } from '../../planning/bedFit.ts';
import { roomOf } from '../../planning/room.ts';
import { IsMm, IsPositiveTriple } from '../checks.ts';
import type { Operation } from '../Operation.ts';

export class FitParams {
  /** Room of the printer, mm. */
  @IsPositiveTriple()
  bed: [number, number, number];

  /** Kept free at each side and on top, mm. */
  @IsOptional()
  @IsMm()
  margin: number = 0;
}

/** Does it fit a bed whole, and how large could it be? */
export const fit: Operation<FitParams, BedFit> = {
  name: 'fit',
  version: 1,
  summary: 'Turns a mesh in the room of a printer',
  params: FitParams,
  study: true,
  async run([mesh], params, context) {
    context.progress(0.1, 'Turning it on the bed');
    return { outputs: [], report: await fitInBed(mesh, roomOf(params.bed, params.margin)) };
  },
};
