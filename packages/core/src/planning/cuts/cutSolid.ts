import type { CrossSection } from 'manifold-3d';
import { dot } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import { whereIn } from '../../section/rings.ts';
import { kernelNow, splitByPlane, type Solid } from '../../solid/kernel.ts';
import type { CleanBox } from './CleanBox.ts';
import type { Bodies, Keep } from './bodies.ts';
import { cutAlong } from './loopCut.ts';
import { rowsToZ, toZ } from './planeFrame.ts';
import { heightOver, type PlaneCut } from './PlaneCut.ts';

/** What a body was cut from, and on which side of which cut it lay. */
export interface CutNode {
  parent: CutNode | null;
  /** 1 + the number of the cut, negative where it lies below; 0 where it was whole from the beginning */
  side: number;
}

/** A body between cuts. */
export interface CutBody {
  solid: Solid;
  node: CutNode;
}

/** The cuts that made a body, as 1 + their number, the last first; negative where it lies below. */
export function sidesOf({ node }: Pick<CutBody, 'node'>): number[] {
  const out: number[] = [];
  for (let n: CutNode | null = node; n && n.side !== 0; n = n.parent) out.push(n.side);
  return out;
}

/** The point at u, v of the plane of a cut. */
export function fromPlane({ normal, offset }: PlaneCut, u: number, v: number): Vec3 {
  const [a, b, c] = rowsToZ(normal);
  return [0, 1, 2].map((k) => a[k] * u + b[k] * v + c[k] * offset) as unknown as Vec3;
}

/** Where a point lies in the plane of a cut, u and v: the way back from `fromPlane`. */
export const toPlane = ({ normal }: PlaneCut, p: Vec3): [number, number] => {
  const [a, b] = rowsToZ(normal);
  return [dot(a, p), dot(b, p)];
};

/** Lowest and highest corner of a solid's box over a plane, mm: the solid itself reaches no farther. */
export function reachOver(solid: Solid, cut: PlaneCut): { lo: number; hi: number } {
  const { min, max } = solid.boundingBox();
  let lo = Infinity;
  let hi = -Infinity;
  for (let i = 0; i < 8; i++) {
    const h = heightOver(cut, [i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]]);
    if (h < lo) lo = h;
    if (h > hi) hi = h;
  }
  return { lo, hi };
}

/** The section of a solid in a plane parallel to a cut, `by` above it, turned to x and y. */
export const sectionAt = (keep: Keep, solid: Solid, { normal, offset }: PlaneCut, by = 0): CrossSection =>
  keep(keep(solid.transform(toZ(normal))).slice(offset + by));

/** How far a point of the plane lies outside a section, mm; 0 within. */
function distanceTo(section: CrossSection, [x, y]: readonly [number, number]): number {
  const { inside, distance } = whereIn(section.toPolygons(), x, y);
  return inside ? 0 : distance;
}

/** A point of a section may lie so far outside the box of its body where it was planned on a stand-in, mm. */
const aboutMm = 2;

/** Bodies that a loop may lie on, by their boxes. */
const aroundLoop = (bodies: readonly CutBody[], loop: readonly Vec3[]): number[] =>
  bodies.flatMap(({ solid }, i) => {
    const { min, max } = solid.boundingBox();
    const within = loop.every((p) => p.every((x, k) => x > min[k] - aboutMm && x < max[k] + aboutMm));
    return within ? [i] : [];
  });

/** Which of the bodies that a plane passes through a cut is meant for: all, or the one with the point in its section. */
function meantBy(keep: Keep, bodies: readonly CutBody[], cut: PlaneCut): number[] {
  if (cut.loop) return aroundLoop(bodies, cut.loop);
  const crossed = bodies.flatMap(({ solid }, i) => {
    const { lo, hi } = reachOver(solid, cut);
    return lo < 0 && hi > 0 ? [i] : [];
  });
  if (!cut.through || crossed.length === 0) return crossed;
  // sections of large bodies take long: mostly boxes tell
  const { through } = cut;
  const about = crossed.filter((i) => {
    const { min, max } = bodies[i].solid.boundingBox();
    return through.every((x, k) => x > min[k] - aboutMm && x < max[k] + aboutMm);
  });
  if (about.length === 1) return about;
  const at = toPlane(cut, cut.through);
  let best: number[] = [];
  let nearest = Infinity;
  for (const i of about.length > 0 ? about : crossed) {
    const d = distanceTo(sectionAt(keep, bodies[i].solid, cut), at);
    if (d < nearest) {
      nearest = d;
      best = [i];
    }
    if (d === 0) break;
  }
  return best;
}

/** A body that is hardly worth a print, beside the one that it was cut from. */
export interface CrumbRule {
  /** longest side of its box, mm */
  longestMm: number;
  /** share of its neighbour's volume */
  share: number;
}

function isCrumb(solid: Solid, beside: number, rule: CrumbRule): boolean {
  const { min, max } = solid.boundingBox();
  return Math.max(...max.map((m, k) => m - min[k])) < rule.longestMm && solid.volume() < rule.share * beside;
}

/** Puts crumbs on one side of a cut back to the body on the other side that they touch most. */
function rejoin(keep: Keep, from: Solid[], to: Solid[], cut: PlaneCut, rule: CrumbRule): [Solid[], Solid[]] {
  const largest = Math.max(0, ...from.map((s) => s.volume()), ...to.map((s) => s.volume()));
  const crumbs = from.filter((s) => isCrumb(s, largest, rule));
  if (crumbs.length === 0 || to.length === 0) return [from, to];
  const stay = from.filter((s) => !crumbs.includes(s));
  const others = [...to];
  for (const crumb of crumbs) {
    const up = reachOver(crumb, cut).hi > -reachOver(crumb, cut).lo ? 1 : -1;
    const into = 2e-4 * (1 + Math.abs(cut.offset));
    const own = sectionAt(keep, crumb, cut, up * into);
    let best = -1;
    let most = 0;
    others.forEach((other, i) => {
      const area = keep(own.intersect(sectionAt(keep, other, cut, -up * into))).area();
      if (area > most) {
        most = area;
        best = i;
      }
    });
    if (best < 0) stay.push(crumb);
    else others[best] = keep(others[best].add(crumb));
  }
  return [stay, others];
}

/** The areas of a section of which the middle lies in a box. */
export function sectionIn(keep: Keep, section: CrossSection, cut: PlaneCut, { min, max }: CleanBox): CrossSection {
  const pieces = section.decompose().map(keep);
  const inside = pieces.filter((piece) => {
    const { min: low, max: high } = piece.bounds();
    const at = fromPlane(cut, (low[0] + high[0]) / 2, (low[1] + high[1]) / 2);
    return at.every((x, k) => x >= min[k] && x <= max[k]);
  });
  return inside.length === 0 ? keep(section.subtract(section)) : inside.reduce((a, b) => keep(a.add(b)));
}

/**
 * Puts together again what a cut parted outside of its box: bodies that share a face there are one. A body that has some
 * on both sides counts to that of its larger share.
 */
function joinedOutside(
  keep: Keep,
  above: readonly Solid[],
  below: readonly Solid[],
  cut: PlaneCut,
  within: CleanBox,
): [Solid[], Solid[]] {
  const into = 2e-4 * (1 + Math.abs(cut.offset));
  const all = [...above, ...below];
  const group = all.map((_, i) => i);
  const rootOf = (i: number): number => (group[i] === i ? i : (group[i] = rootOf(group[i])));
  const sections = all.map((s, i) => sectionAt(keep, s, cut, i < above.length ? into : -into));
  for (let a = 0; a < above.length; a++)
    for (let b = above.length; b < all.length; b++) {
      const shared = keep(sections[a].intersect(sections[b]));
      const inside = sectionIn(keep, shared, cut, within);
      if (shared.area() - inside.area() > 1e-3) group[rootOf(a)] = rootOf(b);
    }
  const up: Solid[] = [];
  const down: Solid[] = [];
  for (const root of new Set(all.map((_, i) => rootOf(i)))) {
    const members = all.filter((_, i) => rootOf(i) === root);
    const solid = members.length === 1 ? members[0] : members.reduce((a, b) => keep(a.add(b)));
    const share = members.reduce((v, m) => v + (all.indexOf(m) < above.length ? m.volume() : -m.volume()), 0);
    (share > 0 ? up : down).push(solid);
  }
  return [up, down];
}

/** The two sides of a body at a cut, each in its bodies; crumbs are put back where a rule is given. Null where it is not cut. */
export function cutBody(
  keep: Keep,
  bodies: Bodies,
  solid: Solid,
  cut: PlaneCut,
  crumbs?: CrumbRule,
): { above: Solid[]; below: Solid[] } | null {
  if (cut.loop) return cutAlong(kernelNow(), keep, bodies, solid, cut);
  const [up, down] = splitByPlane(solid, cut.normal, cut.offset).map(keep);
  if (up.isEmpty() || down.isEmpty()) return null;
  let above = bodies(up);
  let below = bodies(down);
  if (crumbs) {
    [above, below] = rejoin(keep, above, below, cut, crumbs);
    [below, above] = rejoin(keep, below, above, cut, crumbs);
  }
  if (cut.within) [above, below] = joinedOutside(keep, above, below, cut, cut.within);
  return above.length > 0 && below.length > 0 ? { above, below } : null;
}

/**
 * Cuts a solid, cut after cut; each goes through all that is there or through the one part it is meant for.
 *
 * @param each called before each cut, for progress and cancelling, and for each body that is cut in two, with what it became
 */
export function cutSolid(
  keep: Keep,
  bodies: Bodies,
  solid: Solid,
  cuts: readonly PlaneCut[],
  crumbs?: CrumbRule,
  each: { cut?: (number: number) => void; body?: (solid: Solid, number: number, made: readonly Solid[]) => void } = {},
): CutBody[] {
  let all: CutBody[] = bodies(solid).map((body) => ({ solid: body, node: { parent: null, side: 0 } }));
  cuts.forEach((cut, number) => {
    each.cut?.(number);
    const meant = new Set(meantBy(keep, all, cut));
    all = all.flatMap((body, i) => {
      const parted = meant.has(i) ? cutBody(keep, bodies, body.solid, cut, crumbs) : null;
      if (!parted) return [body];
      each.body?.(body.solid, number, [...parted.below, ...parted.above]);
      const from = (side: number) => (s: Solid) => ({ solid: s, node: { parent: body.node, side } });
      return [...parted.below.map(from(-number - 1)), ...parted.above.map(from(number + 1))];
    });
  });
  return all;
}
