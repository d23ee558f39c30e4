import { IsIn, IsOptional } from 'class-validator';
import { by, IsMm, IsTriple } from '../../params/checks.ts';
import { Param } from '../../params/Param.ts';
import { stopKinds, type StopKind, type StopTrouble } from '../../trade/stopKinds.ts';

const mostLetters = 60;

/** A stop as it is wished for: at a height, or by a place of the part. */
export class StopWish {
  @Param('what for')
  @IsIn(stopKinds)
  what: StopKind;

  @Param('height above the bed')
  @IsOptional()
  @IsMm()
  mm?: number;

  @Param('a point of the part: where another colour begins, or in the hollow into which something is put')
  @IsOptional()
  @IsTriple()
  at?: [number, number, number];

  @Param('height of what is put in')
  @IsOptional()
  @IsMm()
  highMm: number = 0;

  @Param('what is changed to or put in')
  @IsOptional()
  @by('isStopWord', (v) => typeof v === 'string' && v.length <= mostLetters, `words of up to ${mostLetters} letters`, {
    type: 'string',
    maxLength: mostLetters,
  })
  words: string = '';
}

/** A stop of a print as the part lies. */
export interface PrintStop {
  what: StopKind;
  words: string;
  /** number of the wish, from 0 */
  wish: number;
  /** it stops after that layer, from 0, at that height; null where it comes to nothing */
  afterLayer: number | null;
  atMm: number | null;
  /** how much of the time of the part's layers is over by then, 0 to 1 */
  share: number | null;
  /** by how much what is put in stands out over what is laid by then; below 0 the head clears it, mm; null where nothing is put in */
  standsOutMm: number | null;
  trouble: StopTrouble | null;
}

/** A stop that comes to something. */
export type HeldStop = PrintStop & { afterLayer: number; atMm: number; share: number };

export const isHeld = (stop: PrintStop): stop is HeldStop => stop.trouble === null;
