import { decideBosses } from '../bosses.ts';
import { decidePins, pinsUpTo, reachOf, skinMm, type Decided, type JoinWishes, type Straight } from '../decide.ts';
import type { JoinMethod } from '../JoinMethod.ts';
import { ends, type JoinWork, type On } from '../JoinWork.ts';
import { footMm } from '../slide.ts';
import { grown, prism, type Outline } from '../shapes.ts';
import type { Site } from '../sites.ts';

/** What is printed on grows out of this much of its part, mm. */
const rootMm = 0.5;
/** Where only thinner pins fit, bosses are tried, mm (our own judgement). */
const leastStout = 3;

/** Cuts what tells the sides of a join apart. */
type Mark = (work: JoinWork, join: Decided) => void;

/** What a kind has of its own. */
type Own = Pick<JoinMethod, 'carried' | 'things' | 'noted'> &
  Partial<JoinMethod> & {
    mark?: Mark;
    /** those of pins if left out */
    sizes?: Straight['sizes'];
  };

/** Joins in bosses that are made for them on a face. */
function inBosses(work: JoinWork, site: Site): Decided[] {
  const made = decideBosses(work.maker, site, work.lumps, work.cuts, work.wishes.mesh, work.wishes);
  for (const boss of made)
    for (const [part, flesh] of [
      [site.above, boss.up],
      [site.below, boss.down],
    ] as const)
      work.lumps[part].solid = work.maker.keep(work.lumps[part].solid.add(flesh));
  return made.map((b) => b.join);
}

/** Two joins on a face, or as many as its size wants; in bosses where the flesh has room for thin ones alone. */
function decideStout(work: JoinWork, site: Site, wishes: JoinWishes, fit: Straight, reach: number): Decided[] {
  const found = decidePins(site, work.flesh(site, reach), wishes, fit, work.used);
  const enough = Math.min(leastStout, work.wishes.widest);
  if (site.over || found.some((d) => d.across >= enough)) return found;
  const bosses = inBosses(work, site);
  return bosses.length > 0 ? bosses : found;
}

/** Cuts a hole straight in, and adds the pin to the other part, or takes the same hole out of it. @param mark what else is cut */
function cutStraight(work: JoinWork, join: Decided, on: On, outline: Outline, mark?: Mark): boolean {
  const { maker } = work;
  const { clearance } = work.wishes;
  const { pinned, holed, way } = ends(join, on);
  const back = -way as 1 | -1;
  const hole = grown(maker, outline, clearance);
  const wide = grown(maker, outline, clearance + skinMm);
  const needed = (w: 1 | -1) => work.onCut(join, prism(maker, wide, 1e-2, join.depth + clearance + skinMm, w));
  if (work.isTaken(holed, needed(way))) return false;
  if (on === 'both' && work.isTaken(pinned, needed(back))) return false;
  // what is printed on stands on flesh that nothing else is taken out of
  const foot = on === 'both' ? null : work.onCut(join, prism(maker, grown(maker, outline, 0), 1e-2, footMm, back));
  if (foot && work.isTaken(pinned, foot)) return false;
  if (foot) work.bodies[pinned].taken.push(foot);
  const open = -1e-2 - join.slack;
  const drilled = (w: 1 | -1) => work.onCut(join, prism(maker, hole, open, join.depth + clearance, w));
  work.take(holed, drilled(way));
  mark?.(work, join);
  if (on === 'both') work.take(pinned, drilled(back));
  else
    work.bodies[pinned].added.push(
      work.onCut(join, prism(maker, grown(maker, outline, 0), -rootMm - join.slack, join.depth, way, true)),
    );
  return true;
}

/** A kind of join that goes straight into the face, with one outline all the way. */
export const straight = (
  outlineOf: (join: Decided) => Outline,
  { mark, sizes = pinsUpTo, ...own }: Own,
): JoinMethod => {
  const fit: Straight = { sizes, loose: own.carried === 'loose', alike: own.tellsFaces === true };
  const { reach = reachOf } = own;
  return {
    reach,
    overMembranes: true,
    straight: fit,
    decide: (work, site, wishes) => decideStout(work, site, wishes, fit, reach(wishes)),
    cut: (work, join, on) => cutStraight(work, join, on, outlineOf(join), mark),
    ...own,
  };
};
