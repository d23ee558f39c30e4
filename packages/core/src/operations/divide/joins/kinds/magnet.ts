import { wordOutline } from '../../tags.ts';
import { magnetSizes } from '../../../../trade/fasteners.ts';
import { reachOf, type Decided } from '../decide.ts';
import type { JoinWork } from '../JoinWork.ts';
import { oneDigit, thing } from '../loose.ts';
import { prism, roundOutline } from '../shapes.ts';
import type { Site } from '../sites.ts';
import { straight } from './straight.ts';

/** How deep the letter of a pole is, mm. */
const poleMm = 0.4;

/** May the next magnet of a face show its north pole below? */
const poles = new WeakMap<Site, boolean>();

/** Letters in the floors of its pockets: which pole faces the cut. Those of a face take turns, so that a part goes on one way. */
function markPoles(work: JoinWork, join: Decided): void {
  const { maker } = work;
  const north = poles.get(join.site) ?? true;
  poles.set(join.site, !north);
  const floor = join.depth + work.wishes.clearance;
  for (const [part, way] of [
    [join.site.below, -1],
    [join.site.above, 1],
  ] as const) {
    const letter = wordOutline(maker, north === way < 0 ? 'N' : 'S', 0.5 * join.across);
    const sign = way > 0 ? maker.keep(letter.mirror([1, 0])) : letter;
    work.take(part, work.onCut(join, prism(maker, sign, floor - 0.01, floor + poleMm, way)));
  }
}

const sizeOf = ({ across, depth }: Decided): string => `${oneDigit(across)} x ${oneDigit(depth)}`;

/** Two in pockets that face each other. */
export const magnet = straight(({ across }) => roundOutline(across, false), {
  reach: ({ clearance }) => reachOf({ widest: Math.max(...magnetSizes.map((m) => m.thick)), clearance }),
  sizes: (widest) => magnetSizes.filter((m) => m.across <= widest).map((m) => ({ across: m.across, depth: m.thick })),
  carried: 'loose',
  mark: markPoles,
  tellsFaces: true,
  things: (join) => [thing('magnet', join, join.depth, { size: sizeOf(join), count: 2 })],
  noted: (join) => ({ lengthMm: join.length, size: sizeOf(join) }),
});
