import { decideTongue, reachOf } from '../decide.ts';
import { dowelLength, oneDigit, thing } from '../loose.ts';
import { tongueOutline } from '../shapes.ts';
import { straight } from './straight.ts';

/** One along a face, printed on one of the two parts; loose where neither fits its bed with it. */
export const tongue = straight(({ across, length }) => tongueOutline(across, length), {
  overMembranes: false,
  carried: 'either',
  decide: (work, site, wishes) => decideTongue(site, work.flesh(site, reachOf(wishes)), wishes),
  things: (join, on, clearance) => {
    if (on !== 'both') return [];
    const heightMm = dowelLength(join.depth, clearance);
    const size = [join.across, join.length, heightMm].map(oneDigit).join(' x ');
    return [thing('tongue', join, join.length, { size, heightMm, keyed: join.keyed })];
  },
  noted: ({ length }) => ({ lengthMm: length, size: '' }),
});
