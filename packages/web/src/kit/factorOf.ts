import type { PieceView } from '@jasmorphe/contracts/kitViews';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';

/** Sides of a piece by which a kit may be sized. */
export const sides = ['longest', 'x', 'y', 'z'] as const;
export type Side = (typeof sides)[number];

/** Length of a side, mm. */
export const sideOf = ({ size }: Pick<PieceView, 'size'>, side: Side): number =>
  side === 'longest' ? longestOf(size) : size[side];

/**
 * The factor that all pieces are sized by where one side of one of them is to be so long. A piece that is sized already
 * is sized anew from what it was before: its factor so far is part of it.
 */
export const kitFactor = (piece: Pick<PieceView, 'size'>, side: Side, toMm: number, soFar: number): number =>
  (toMm / sideOf(piece, side)) * soFar;
