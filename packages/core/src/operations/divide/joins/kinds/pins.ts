import type { MadeKind } from '../../../../trade/joinKinds.ts';
import type { Decided } from '../decide.ts';
import type { JoinMethod } from '../JoinMethod.ts';
import { dowelLength, oneDigit, thing } from '../loose.ts';
import { roundOutline, squareOutline, type Outline } from '../shapes.ts';
import { straight } from './straight.ts';

const round = ({ across, keyed }: Decided): Outline => roundOutline(across, keyed);
const square = ({ across, keyed }: Decided): Outline => squareOutline(across, keyed);

const sizeOf = ({ across, depth }: Decided, clearance: number): { lengthMm: number; size: string } => {
  const lengthMm = dowelLength(depth, clearance);
  return { lengthMm, size: `${oneDigit(across)} x ${oneDigit(lengthMm)}` };
};

/** Bars of an outline, loose in holes on both sides. */
const bars = (kind: 'dowel' | 'square', outline: (join: Decided) => Outline): JoinMethod =>
  straight(outline, {
    carried: 'loose',
    things: (join, _on, clearance) => {
      const { lengthMm, size } = sizeOf(join, clearance);
      return [thing(kind, join, lengthMm, { size, keyed: join.keyed })];
    },
    noted: sizeOf,
  });

/** The same printed on one of the two parts; loose where neither fits its bed with it. */
const printedOn = (outline: (join: Decided) => Outline, asLoose: MadeKind, loose: JoinMethod): JoinMethod =>
  straight(outline, {
    carried: 'either',
    asLoose,
    things: (join, on, clearance) => (on === 'both' ? loose.things(join, on, clearance) : []),
    noted: ({ length }) => ({ lengthMm: length, size: '' }),
  });

export const dowel = bars('dowel', round);
export const squareDowel = bars('square', square);
export const pin = printedOn(round, 'dowel', dowel);
export const key = printedOn(square, 'square', squareDowel);
