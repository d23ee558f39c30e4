import { vec3 } from '../../../../mesh/transform.ts';
import { rowsToZ } from '../../../../planning/cuts/planeFrame.ts';
import { lieOf } from '../../../../section/rings.ts';
import { decideSlide, reachOf, type Decided } from '../decide.ts';
import type { JoinMethod } from '../JoinMethod.ts';
import { ends, type JoinWork } from '../JoinWork.ts';
import type { Point } from '../places.ts';
import { shellsOf } from '../shapes.ts';
import type { Site } from '../sites.ts';
import { slideBodies } from '../slide.ts';

/** The part that carries a rail, and corners of the box of what stands out of it. */
function railOf(work: JoinWork, slide: Decided): { part: number; points: number[] } {
  const { site, at, turn, length, depth, sides } = slide;
  const end: Point = [at[0] + length * Math.cos(turn), at[1] + length * Math.sin(turn)];
  const [part, out] = sides === 'up' ? [site.below, depth] : [site.above, -depth];
  return { part, points: work.standingOut(slide, at, end, out) };
}

/** Does the part that carries a slide still fit, with all rails that it has, and with those beside? */
function fits(work: JoinWork, slide: Decided, beside: readonly Decided[]): boolean {
  const { part, points } = railOf(work, slide);
  const more = beside.map((s) => railOf(work, s)).filter((r) => r.part === part);
  return work.fitsWith(part, [...work.outstanding[part], ...points, ...more.flatMap((r) => r.points)]);
}

/** The direction in which most faces of a group can have a slide, and those slides. */
function decideTogether(work: JoinWork, sites: readonly Site[]): Decided[] {
  const shared = sites.map((s) => s.shared);
  const { angle } = lieOf(sites.reduce((a, b) => (b.areaMm2 > a.areaMm2 ? b : a)).shared.toPolygons());
  const fleshes = sites.map((s) => work.flesh(s, reachOf(work.wishes)));
  let best: Decided[] = [];
  for (let k = 0; k < 8; k++) {
    const found: Decided[] = [];
    sites.forEach((site, i) => {
      const others = shared.filter((s) => s !== site.shared);
      const slide = decideSlide(site, fleshes[i], work.wishes, angle + (k * Math.PI) / 4, others, (one) =>
        fits(work, one, found),
      );
      if (slide) found.push(slide);
    });
    if (found.length > best.length) best = found;
  }
  for (const slide of best) {
    const { part, points } = railOf(work, slide);
    work.outstanding[part].push(...points);
  }
  return best;
}

/** A rail on one part that slides along the face into the other, in through one edge. */
export const dovetail: JoinMethod = {
  reach: reachOf,
  overMembranes: false,
  carried: 'by room',
  decide: () => [],
  decideTogether,
  cut(work, join, on) {
    const { maker, bodies } = work;
    const { keep, kernel } = maker;
    const { pinned, holed, way } = ends(join, on);
    const [rail, flesh] = [work.lumps[pinned].solid, work.lumps[holed].solid];
    const cut = work.cutOf(join.site);
    const { slot, needed, foot, rails } = slideBodies(maker, join, cut, { rail, flesh, way }, work.wishes.clearance);
    const taken = keep(slot.intersect(flesh));
    if (rails.length === 0 || work.isTaken(holed, needed) || work.isTaken(holed, taken) || work.isTaken(pinned, foot))
      return false;
    // a slot through thin flesh would cut some of it off
    const left = keep(flesh.subtract(keep(kernel.Manifold.union([taken, ...bodies[holed].out]))));
    if (shellsOf(maker, left).length > shellsOf(maker, flesh).length) return false;
    bodies[holed].out.push(slot);
    bodies[holed].taken.push(taken);
    bodies[pinned].taken.push(foot);
    bodies[pinned].added.push(...rails);
    return true;
  },
  middle: ({ turn, length, at: [x, y] }) => [x + (length / 2) * Math.cos(turn), y + (length / 2) * Math.sin(turn)],
  // what carries the rails comes from the side of the mouths, the other part from the far side
  slidesOn({ turn, sides }, cut) {
    const [a, b] = rowsToZ(cut.normal);
    const s = sides === 'up' ? 1 : -1;
    return vec3((k) => s * (Math.cos(turn) * a[k] + Math.sin(turn) * b[k]));
  },
  things: () => [],
  noted: ({ length }) => ({ lengthMm: length, size: '' }),
};
