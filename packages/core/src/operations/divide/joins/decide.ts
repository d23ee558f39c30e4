import type { CrossSection } from 'manifold-3d';
import { roomiestPlaces } from '../../../planning/cuts/roomiestPlaces.ts';
import { lieOf, whereIn } from '../../../section/rings.ts';
import { pinSizes } from '../../../trade/fasteners.ts';
import { figures } from '../../../trade/figures.ts';
import type { MadeKind } from '../../../trade/joinKinds.ts';
import {
  apartOf2,
  extremesOf,
  farthestPair,
  holdsPoint,
  middleOfRegion,
  nextFarthest,
  runInside,
  type Point,
} from './places.ts';
import type { Flesh, Sides, Site } from './sites.ts';

/** What is wanted of all joins of a division. */
export interface JoinWishes {
  kind: MadeKind;
  /** gap on each side, mm */
  clearance: number;
  /** largest pin across, mm */
  widest: number;
}

/** A join whose place is settled. */
export interface Decided {
  site: Site;
  kind: MadeKind;
  at: Point;
  /** turned by, in the plane of the cut, radians */
  turn: number;
  across: number;
  depth: number;
  /** along the face, of a tongue or slide */
  length: number;
  /** goes in one way by itself */
  keyed: boolean;
  /** where a hole for it goes in; `both` leaves the choice for what is printed on */
  sides: Sides;
  wallMm: number;
  boss: boolean;
  own: boolean;
  /** how high its face lies over the plane of the cut there, and by how much that differs under it, mm */
  lift: number;
  slack: number;
}

/** A join at a place, with what is usual left to be so. */
export const joinAt = (
  site: Site,
  kind: MadeKind,
  at: Point,
  own: Pick<Decided, 'across' | 'depth'> & Partial<Decided>,
): Decided => ({
  site,
  kind,
  at,
  turn: 0,
  length: 0,
  keyed: false,
  sides: 'both',
  wallMm: 0,
  boss: false,
  own: false,
  lift: 0,
  slack: 0,
  ...own,
});

/** Skin left around a hole, mm. */
export const skinMm = figures.joinSkinMm.value;

/** Beside a pin that is pushed in by a hair too far, two patterns are taken for one, mm (our own judgement). */
const slackMm = 0.3;
export const sameWithin = (clearance: number): number => 2 * clearance + slackMm;

/** Parts of so much face get a third and a fourth join, mm² (our own judgement). */
const thirdMm2 = 8000;
const fourthMm2 = 30000;
const countFor = (areaMm2: number): number => (areaMm2 > fourthMm2 ? 4 : areaMm2 > thirdMm2 ? 3 : 2);

/** Longest tongue or slide, mm: longer ones bind (our own judgement). */
export const longestMm = 60;

interface Size {
  across: number;
  depth: number;
}

/** What goes straight into holes. */
export interface Straight {
  /** sizes that there are up to a width, mm, the largest first */
  sizes: (widest: number) => Size[];
  /** holes on both sides; else on one, whichever has room */
  loose: boolean;
  /** all on a face are of one size, and tell by something else which way the part goes on */
  alike: boolean;
}

/** Sizes of pins; what cannot go in to its full depth may go in by half. */
export const pinsUpTo = (widest: number): Size[] =>
  pinSizes
    .filter((across) => across <= widest)
    .flatMap((across) => [
      { across, depth: across },
      { across, depth: across / 2 },
    ]);

/** How deep a join can reach that is as deep as it is wide at most, with the skin under it, mm. */
export const reachOf = ({ widest, clearance }: Omit<JoinWishes, 'kind'>): number => widest + clearance + skinMm + 0.5;

const waysOf = (loose: boolean): Sides[] => (loose ? ['both'] : ['both', 'up', 'down']);

/** Flesh left beside a hole in the plane, mm. */
function wallAt(flesh: Flesh, { sides, depth, across }: Decided, at: Point, clearance: number): number {
  const { distance } = whereIn(flesh.room(sides, depth + clearance, 0).toPolygons(), at[0], at[1]);
  return Math.max(0, distance - across / 2 - clearance);
}

/** Least flesh beside what lies along a face, at its two ends and its middle. */
const wallAlong = (flesh: Flesh, join: Decided, clearance: number): number =>
  Math.min(
    ...[-0.5, 0, 0.5].map((k) =>
      wallAt(
        flesh,
        join,
        [join.at[0] + k * join.length * Math.cos(join.turn), join.at[1] + k * join.length * Math.sin(join.turn)],
        clearance,
      ),
    ),
  );

const widestRound = (shared: CrossSection): number => {
  const [place] = roomiestPlaces(shared, 1, 0);
  return place ? 1.1 * place.radius + 0.3 : 0;
};

/**
 * Joins on one face: two of unequal size as far apart as the flesh allows, so that the parts go together in one way; on
 * large faces more; where there is room for one only, a keyed one.
 *
 * @param used distances between the first two joins of other faces: none is taken twice, so that neighbours do not fit
 */
export function decidePins(
  site: Site,
  flesh: Flesh,
  wishes: JoinWishes,
  { sizes: sizesUpTo, loose, alike }: Straight,
  used: number[],
): Decided[] {
  const { kind, clearance, widest } = wishes;
  const roomy = widestRound(site.shared);
  const sizes = sizesUpTo(widest).filter((s) => s.across / 2 + clearance + skinMm <= roomy);
  const region = ({ across, depth }: Size, sides: Sides, wall: number): CrossSection =>
    flesh.room(sides, depth + clearance + skinMm, across / 2 + clearance + wall);
  const join = (at: Point, { across, depth }: Size, sides: Sides, keyed = false): Decided => {
    const own = joinAt(site, kind, at, { across, depth, keyed, sides });
    return { ...own, wallMm: wallAt(flesh, own, at, clearance) };
  };
  for (const sides of waysOf(loose)) {
    let single: Decided | null = null;
    for (const size of sizes) {
      // pins are told apart by their size
      const second = alike ? size : sizes.find((s) => s.across < size.across - 2 * clearance && s.depth <= size.depth);
      for (const wall of [Math.max(skinMm, size.across / 2), skinMm]) {
        const first = region(size, sides, wall);
        if (first.isEmpty()) continue;
        const middle = single ? null : middleOfRegion(first);
        if (middle) single = join(middle, size, sides, !alike);
        if (!second) continue;
        const other = region(second, sides, wall);
        const least = size.across / 2 + second.across / 2 + 2 * clearance + 2 * skinMm;
        const pair = farthestPair(extremesOf(first), extremesOf(other));
        if (!pair || apartOf2(...pair) < least) continue;
        const [p, q] = told(pair, other, least, used, clearance);
        used.push(apartOf2(p, q));
        const taken = [p, q];
        const spare = extremesOf(other);
        while (!alike && taken.length < countFor(site.areaMm2)) {
          const next = nextFarthest(spare, taken, 3 * size.across);
          if (!next) break;
          taken.push(next);
        }
        return taken.map((at, i) => join(at, i === 0 ? size : second, sides));
      }
      // one stout join rather than two thin ones
      if (single && size.across < single.across / 2) break;
    }
    if (single) return [single];
  }
  return [];
}

/** Moves the second of two places towards the first until no other face has the same distance between its joins. */
function told(
  [p, q]: [Point, Point],
  region: CrossSection,
  least: number,
  used: readonly number[],
  clearance: number,
): [Point, Point] {
  const far = apartOf2(p, q);
  const same = sameWithin(clearance);
  for (let d = far; d >= least; d -= 0.51 * same) {
    const moved: Point = [p[0] + ((q[0] - p[0]) * d) / far, p[1] + ((q[1] - p[1]) * d) / far];
    if (used.some((u) => Math.abs(u - d) <= same)) continue;
    if (d === far || holdsPoint(region, moved)) return [p, moved];
  }
  return [p, q];
}

/** A join where the maker wants it, as large as goes there or as wanted; null where nothing goes. */
export function decideAt(
  site: Site,
  flesh: Flesh,
  wishes: JoinWishes,
  { sizes, loose }: Straight,
  at: Point,
  mm: number | undefined,
  keyed: boolean,
): Decided | null {
  const { kind, clearance, widest } = wishes;
  const fits = mm === undefined ? widest : mm;
  for (const sides of waysOf(loose))
    for (const { across, depth } of sizes(fits)) {
      if (mm !== undefined && across < Math.min(mm, 2)) continue;
      const region = flesh.room(sides, depth + clearance + skinMm, across / 2 + clearance + skinMm);
      if (region.isEmpty() || !holdsPoint(region, at)) continue;
      const own = {
        site,
        kind,
        at,
        turn: 0,
        across,
        depth,
        length: 0,
        keyed,
        sides,
        wallMm: 0,
        boss: false,
        own: true,
        lift: 0,
        slack: 0,
      };
      return { ...own, wallMm: wallAt(flesh, own, at, clearance) };
    }
  return null;
}

/** One tongue along a face, as wide and long as goes. */
export function decideTongue(site: Site, flesh: Flesh, wishes: JoinWishes): Decided[] {
  const { clearance, widest } = wishes;
  const { angle } = lieOf(site.shared.toPolygons());
  const roomy = widestRound(site.shared);
  for (const sides of waysOf(false))
    for (const { across, depth } of pinsUpTo(widest)) {
      if (across < 3 || across / 2 + clearance + skinMm > roomy) continue;
      const region = flesh.room(sides, depth + clearance + skinMm, across / 2 + clearance + skinMm);
      const middle = region.isEmpty() ? null : middleOfRegion(region);
      if (!middle) continue;
      const ahead = runInside(region, middle, angle, longestMm / 2);
      const back = runInside(region, middle, angle + Math.PI, longestMm / 2);
      const length = ahead + back;
      if (length < 2 * across) continue;
      const shift = (ahead - back) / 2;
      const at: Point = [middle[0] + shift * Math.cos(angle), middle[1] + shift * Math.sin(angle)];
      const own = joinAt(site, 'tongue', at, { turn: angle, across, depth, length, keyed: true, sides });
      return [{ ...own, wallMm: wallAlong(flesh, own, clearance) }];
    }
  return [];
}

/** How much a slide is wider at its head on each side, per mm of height: 15 degrees (common practice for dovetails). */
export const slideLean = Math.tan((15 * Math.PI) / 180);

/**
 * One slide along a face, in through the edge that lies in a direction.
 *
 * @param fits does the part that carries it still fit its bed?
 * @param others faces on the same cut that are joined in the same movement: a slide does not open into them
 */
export function decideSlide(
  site: Site,
  flesh: Flesh,
  wishes: JoinWishes,
  angle: number,
  others: readonly CrossSection[],
  fits: (slide: Decided) => boolean,
): Decided | null {
  const { clearance, widest } = wishes;
  const way: Point = [Math.cos(angle), Math.sin(angle)];
  for (const sides of ['up', 'down'] as const)
    for (const across of pinSizes.filter((s) => s <= widest && s >= 3)) {
      const depth = 0.75 * across;
      const half = across / 2 + depth * slideLean + clearance + skinMm;
      const region = flesh.room(sides, depth + clearance + skinMm, half);
      const middle = region.isEmpty() ? null : middleOfRegion(region);
      if (!middle) continue;
      const inside = runInside(region, middle, angle, 500);
      const edge = runInside(site.shared, middle, angle, 500);
      if (edge - inside > 2 * half + 2 * depth) continue;
      const back = runInside(region, middle, angle + Math.PI, longestMm);
      const length = Math.min(longestMm, back + edge);
      if (length < 3 * across) continue;
      const mouth: Point = [middle[0] + (edge + 1) * way[0], middle[1] + (edge + 1) * way[1]];
      if (others.some((o) => holdsPoint(o, mouth))) continue;
      const from = edge - length;
      const at: Point = [middle[0] + from * way[0], middle[1] + from * way[1]];
      const own = joinAt(site, 'dovetail', at, { turn: angle, across, depth, length, keyed: true, sides });
      if (fits(own)) return { ...own, wallMm: wallAt(flesh, own, middle, clearance) };
    }
  return null;
}
