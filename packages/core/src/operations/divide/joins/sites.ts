import type { CrossSection } from 'manifold-3d';
import type { Keep } from '../../../planning/cuts/bodies.ts';
import type { CutNode } from '../../../planning/cuts/cutSolid.ts';
import { toZ } from '../../../planning/cuts/planeFrame.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import { whereIn } from '../../../section/rings.ts';
import type { Solid } from '../../../solid/kernel.ts';
import { membraneOver } from '../../../planning/cuts/loopCut.ts';
import { sidesOf } from '../../../planning/cuts/cutSolid.ts';
import { boxesMeet, facesOn, into, type Lump } from '../contact.ts';

/** A face that two parts share. */
export interface Site {
  /** number of the cut */
  cut: number;
  /** numbers of the parts on either side */
  below: number;
  above: number;
  /** the face, in the plane turned to x and y */
  shared: CrossSection;
  areaMm2: number;
  /** how high the face lies over the plane of its cut at u, v, mm, where it is a membrane */
  over: ((u: number, v: number) => number) | null;
  /** what the cut parted here: sites of one group are put together in one movement */
  group: CutNode | null;
}

/** Where two bodies were one for the last time. */
function lastShared(a: CutNode, b: CutNode): CutNode | null {
  const above = new Set<CutNode>();
  for (let n: CutNode | null = a; n; n = n.parent) above.add(n);
  for (let n: CutNode | null = b; n; n = n.parent) if (above.has(n)) return n;
  return null;
}

/** Smaller faces hold nothing, mm² (our own judgement). */
const leastMm2 = 1;
/** Smaller ones are what rounding leaves, mm². */
const meetMm2 = 0.01;

/** By how much one part is pushed into the other to see where they meet along a membrane, mm. */
const pressMm = 0.05;

/** Where two parts meet along a membrane, as seen along the normal of its cut. */
function sharedAlong(keep: Keep, below: Lump, above: Lump, cut: PlaneCut): CrossSection | null {
  const turn = toZ(cut.normal);
  const lower = keep(below.solid.transform(turn));
  const upper = keep(above.solid.transform(turn));
  if (!boxesMeet(lower, upper, pressMm)) return null;
  const pressed = keep(keep(lower.translate([0, 0, pressMm])).intersect(upper));
  if (pressed.isEmpty()) return null;
  // without the slivers where walls that stand upright were grazed
  return keep(keep(pressed.project().offset(-pressMm, 'Round')).offset(pressMm, 'Round'));
}

/** Faces along the membrane of a cut that follows a loop. */
function sitesAlong(keep: Keep, lumps: readonly Lump[], cut: PlaneCut, number: number): Site[] {
  const over = membraneOver(cut);
  const onSide = (sign: 1 | -1): number[] =>
    lumps.flatMap((lump, i) => (sidesOf(lump).includes(sign * (number + 1)) ? [i] : []));
  const above = onSide(1);
  return onSide(-1).flatMap((below) =>
    above.flatMap((up): Site[] => {
      const shared = sharedAlong(keep, lumps[below], lumps[up], cut);
      const areaMm2 = shared?.area() ?? 0;
      if (!shared || areaMm2 < meetMm2) return [];
      const group = lastShared(lumps[below].node, lumps[up].node);
      return [{ cut: number, below, above: up, shared, areaMm2, over, group }];
    }),
  );
}

/** Lowest and highest that a membrane lies over its plane within a region, mm. */
function spanOver(shared: CrossSection, over: (u: number, v: number) => number): { lo: number; hi: number } {
  const { min, max } = shared.bounds();
  const n = 12;
  let lo = Infinity;
  let hi = -Infinity;
  const look = (u: number, v: number): void => {
    const h = over(u, v);
    if (h < lo) lo = h;
    if (h > hi) hi = h;
  };
  const rings = shared.toPolygons();
  for (const ring of rings) for (const [u, v] of ring) look(u, v);
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) {
      const u = min[0] + ((max[0] - min[0]) * i) / n;
      const v = min[1] + ((max[1] - min[1]) * j) / n;
      if (whereIn(rings, u, v).inside) look(u, v);
    }
  return { lo, hi };
}

/** What is large enough to hold a join, or a drop of glue. */
export const holding = (sites: readonly Site[]): Site[] => sites.filter((s) => s.areaMm2 >= leastMm2);

/** All faces that two parts share, cut by cut, however small. */
export function sitesOf(keep: Keep, lumps: readonly Lump[], cuts: readonly PlaneCut[]): Site[] {
  const sites: Site[] = [];
  cuts.forEach((cut, number) => {
    if (cut.loop) {
      sites.push(...sitesAlong(keep, lumps, cut, number));
      return;
    }
    const faces = facesOn(keep, lumps, cuts, number);
    for (const a of faces)
      for (const b of faces) {
        if (a.above || !b.above) continue;
        const shared = keep(a.section.intersect(b.section));
        const areaMm2 = shared.area();
        if (areaMm2 < meetMm2) continue;
        const group = lastShared(lumps[a.index].node, lumps[b.index].node);
        sites.push({ cut: number, below: a.index, above: b.index, shared, areaMm2, over: null, group });
      }
  });
  return sites;
}

/** On which sides of a cut a hole goes in. */
export type Sides = 'both' | 'up' | 'down';

/** The flesh on both sides of a face, as deep as a join may go, and where straight holes have room in it. */
export interface Flesh {
  /** the slabs of the part above and of the part below, in the frame of the cut */
  up: Solid;
  down: Solid;
  /** where the axis of a hole so wide and deep may stand */
  room(sides: Sides, depthMm: number, radiusMm: number): CrossSection;
}

/** Between the sections that are looked at, mm, and how many there are at least. */
const lookMm = 1;
const leastLooks = 8;

/**
 * The flesh beside a face.
 *
 * @param reach how deep is looked, mm
 */
export function fleshAt(
  keep: Keep,
  site: Site,
  lumps: readonly { solid: Solid }[],
  cut: PlaneCut,
  reach: number,
): Flesh {
  if (site.over) return fleshAlong(keep, site, lumps, cut, reach);
  const turn = toZ(cut.normal);
  const [x, y, z] = cut.normal;
  const inset = into(cut);
  const looks = Math.max(leastLooks, Math.ceil(reach / lookMm));
  const slab = (solid: Solid, way: 1 | -1): Solid => {
    const own = keep(solid.trimByPlane([way * x, way * y, way * z], way * cut.offset - 1));
    const near = keep(own.trimByPlane([-way * x, -way * y, -way * z], -way * cut.offset - reach));
    return keep(near.transform(turn));
  };
  const up = slab(lumps[site.above].solid, 1);
  const down = slab(lumps[site.below].solid, -1);
  // what all sections down to a depth have in common
  const clear = new Map<string, CrossSection>();
  const common = (way: 1 | -1, level: number): CrossSection => {
    if (level === 0) return site.shared;
    const known = clear.get(`${way} ${level}`);
    if (known) return known;
    const at = Math.max(inset, (reach * level) / looks - 1e-3);
    const own = keep((way > 0 ? up : down).slice(cut.offset + way * at));
    const all = keep(common(way, level - 1).intersect(own));
    clear.set(`${way} ${level}`, all);
    return all;
  };
  return {
    up,
    down,
    room(sides, depthMm, radiusMm) {
      const level = Math.min(looks, Math.ceil((depthMm / reach) * looks));
      let free = site.shared;
      if (sides !== 'down') free = keep(free.intersect(common(1, level)));
      if (sides !== 'up') free = keep(free.intersect(common(-1, level)));
      return keep(free.offset(-radiusMm, 'Round'));
    },
  };
}

/** Both parts together leave hairs between their sections, mm. */
const hairMm = 0.02;

/**
 * The flesh on both sides of a membrane: straight holes have room where both parts together leave none open from the
 * lowest of it to as deep behind the highest as they go.
 */
function fleshAlong(keep: Keep, site: Site, lumps: readonly { solid: Solid }[], cut: PlaneCut, reach: number): Flesh {
  const turn = toZ(cut.normal);
  const { lo, hi } = spanOver(site.shared, site.over!);
  const slab = (solid: Solid): Solid => {
    const turned = keep(solid.transform(turn));
    const above = keep(turned.trimByPlane([0, 0, 1], cut.offset + lo - reach - 1));
    return keep(above.trimByPlane([0, 0, -1], -(cut.offset + hi + reach + 1)));
  };
  const up = slab(lumps[site.above].solid);
  const down = slab(lumps[site.below].solid);
  const sections = new Map<number, CrossSection>();
  const fleshOn = (level: number): CrossSection => {
    const known = sections.get(level);
    if (known) return known;
    const height = cut.offset + lo + level * lookMm;
    const both = keep(keep(up.slice(height)).add(keep(down.slice(height))));
    const closed = keep(keep(both.offset(hairMm, 'Miter')).offset(-hairMm, 'Miter'));
    sections.set(level, closed);
    return closed;
  };
  return {
    up,
    down,
    room(sides, depthMm, radiusMm) {
      const from = sides === 'up' ? 0 : -Math.ceil(depthMm / lookMm);
      const to = Math.ceil((hi - lo + (sides === 'down' ? 0 : depthMm)) / lookMm);
      let free = site.shared;
      for (let level = from; level <= to && !free.isEmpty(); level++) free = keep(free.intersect(fleshOn(level)));
      return keep(free.offset(-radiusMm, 'Round'));
    },
  };
}
