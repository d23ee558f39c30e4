import type { CrossSection } from 'manifold-3d';
import type { Keep } from '../../../planning/cuts/bodies.ts';
import type { CutNode } from '../../../planning/cuts/cutSolid.ts';
import { toZ } from '../../../planning/cuts/planeFrame.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import type { Solid } from '../../../solid/kernel.ts';
import { facesOn, into, type Lump } from '../contact.ts';

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

/** All faces that two parts share, cut by cut. */
export function sitesOf(keep: Keep, lumps: readonly Lump[], cuts: readonly PlaneCut[]): Site[] {
  const sites: Site[] = [];
  cuts.forEach((_, number) => {
    const faces = facesOn(keep, lumps, cuts, number);
    for (const a of faces)
      for (const b of faces) {
        if (a.above || !b.above) continue;
        const shared = keep(a.section.intersect(b.section));
        const areaMm2 = shared.area();
        if (areaMm2 < leastMm2) continue;
        const group = lastShared(lumps[a.index].node, lumps[b.index].node);
        sites.push({ cut: number, below: a.index, above: b.index, shared, areaMm2, group });
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
