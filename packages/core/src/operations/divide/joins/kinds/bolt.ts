import type { CutNode } from '../../../../planning/cuts/cutSolid.ts';
import { toZ } from '../../../../planning/cuts/planeFrame.ts';
import type { Lump } from '../../contact.ts';
import { boltReach, boltTools, decideBolts, type BoltSide, type DecidedBolt } from '../bolts.ts';
import type { Decided } from '../decide.ts';
import type { JoinMethod } from '../JoinMethod.ts';
import { thing } from '../loose.ts';

/** Numbers of the parts that a cut left on one side of what it parted. */
const membersOf = (lumps: readonly Lump[], group: CutNode | null, way: 1 | -1): number[] =>
  lumps.flatMap((lump, i) => {
    for (let n = lump.node; n.parent; n = n.parent) if (n.parent === group) return Math.sign(n.side) === way ? [i] : [];
    return [];
  });

const fitOf = (join: Decided): DecidedBolt['fit'] => (join as DecidedBolt).fit;
const sizeOf = (join: Decided): string => `${fitOf(join).size.name} x ${join.length}`;

/** A nut in one part, and in the other a well for the head that a driver reaches. */
export const bolt: JoinMethod = {
  reach: () => boltReach,
  overMembranes: false,
  carried: 'by room',
  decide(work, site) {
    const cut = work.cutOf(site);
    const turn = toZ(cut.normal);
    const { keep } = work.maker;
    const turned = (part: number) => keep(work.lumps[part].solid.transform(turn));
    const side = (own: number, way: 1 | -1): BoltSide => ({
      endsAt: (at) => work.endsAt(own, cut, way, at),
      own: turned(own),
      others: membersOf(work.lumps, site.group, way)
        .filter((i) => i !== own)
        .map(turned),
    });
    const sides = { up: side(site.above, 1), down: side(site.below, -1) };
    return decideBolts(work.maker, site, work.flesh(site, boltReach), cut.offset, sides, work.wishes);
  },
  cut(work, join) {
    const { below, above } = join.site;
    const { nut, head } = boltTools(work.maker, join as DecidedBolt, work.wishes.clearance);
    const [nuts, heads] = join.sides === 'down' ? [below, above] : [above, below];
    const parts = [
      [nuts, work.onCut(join, nut)],
      [heads, work.onCut(join, head)],
    ] as const;
    if (parts.some(([part, tool]) => work.isTaken(part, tool))) return false;
    for (const [part, tool] of parts) work.take(part, tool);
    return true;
  },
  things(join) {
    const { name, nutFlats, nutHeight } = fitOf(join).size;
    return [
      thing('bolt', join, join.length, { size: sizeOf(join) }),
      thing('nut', join, nutHeight, { size: name, acrossMm: nutFlats, heightMm: nutFlats }),
    ];
  },
  noted: (join) => ({ lengthMm: join.length, size: sizeOf(join) }),
};
