import type { RunContext } from '../../run/context.ts';
import { xyz, type Xyz } from '../../mesh/TriMesh.ts';
import type { Keep } from '../../planning/cuts/bodies.ts';
import { fromPlane } from '../../planning/cuts/cutSolid.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { roomiestPlaces } from '../../planning/cuts/roomiestPlaces.ts';
import { fromSolid, hullPoints, type Kernel, type Solid } from '../../solid/kernel.ts';
import { facesOn, place, type Face, type Lump } from './contact.ts';
import type { JoinKind } from './joinKinds.ts';
import { pinSides, type SharedFace } from './pinSides.ts';

/** One join as a part sees it. */
export interface PlacedJoin {
  kind: Exclude<JoinKind, 'none'>;
  /** does this part carry the pin, or the hole for it? */
  role: 'pin' | 'hole';
  /** tag of the part on the other side */
  to: string;
  at: Xyz;
  diameterMm: number;
  depthMm: number;
}

/** Largest join across, and the least that is worth printing, mm (common practice). */
const widest = 6;
const narrowest = 2;
/** Skin left around a hole, mm: two lines of a 0.4 mm nozzle (common practice). */
const skin = 0.8;
/** Magnets are bought as discs of 6 x 2 mm (common practice). */
const magnet = { diameter: 6, depth: 2 };

/** Which pairs of parts have their pins on the part above the cut, so that each part keeps a face to lie on. */
function pinsAboveAt(
  keep: Keep,
  faces: readonly (readonly Face[])[],
): (cut: number, below: number, above: number) => boolean {
  const shared: SharedFace[] = [];
  faces.forEach((own, number) => {
    for (const a of own)
      for (const b of own) {
        if (a.above || !b.above) continue;
        const areaMm2 = keep(a.section.intersect(b.section)).area();
        if (areaMm2 > 0) shared.push({ cut: number, below: a.index, above: b.index, areaMm2 });
      }
  });
  const sides = pinSides(shared);
  const above = new Set(shared.flatMap((f, i) => (sides[i] ? [`${f.cut} ${f.below} ${f.above}`] : [])));
  return (cut, a, b) => above.has(`${cut} ${a} ${b}`);
}

/** Where two parts may be joined, before it is known whether the flesh around is deep enough. */
interface Spot {
  number: number;
  /** the parts below and above the cut */
  a: number;
  b: number;
  u: number;
  v: number;
  radius: number;
}

/** The roomiest places of all faces that two parts share. */
function spotsOf(keep: Keep, faces: readonly (readonly Face[])[], kind: JoinKind, clearance: number): Spot[] {
  const least = (kind === 'magnet' ? magnet.diameter / 2 : narrowest / 2) + clearance + skin;
  const spots: Spot[] = [];
  faces.forEach((own, number) => {
    for (const a of own.filter((f) => !f.above))
      for (const b of own.filter((f) => f.above)) {
        const shared = keep(a.section.intersect(b.section));
        if (shared.isEmpty()) continue;
        for (const { u, v, radius } of roomiestPlaces(shared, 2, least))
          spots.push({ number, a: a.index, b: b.index, u, v, radius });
      }
  });
  return spots;
}

/** Parts that would fit no bed with pins at all their spots. */
async function tightOf(
  lumps: readonly Lump[],
  cuts: readonly PlaneCut[],
  spots: readonly Spot[],
  fits: (points: Float32Array) => boolean,
): Promise<Set<number>> {
  const ends = lumps.map((): number[] => []);
  for (const { number, a, b, u, v } of spots) {
    const { normal } = cuts[number];
    const at = fromPlane(cuts[number], u, v);
    for (const [part, out] of [
      [a, widest],
      [b, -widest],
    ])
      // the end of the pin and a rim around it, as a box
      for (let i = 0; i < 8; i++)
        for (let k = 0; k < 3; k++)
          ends[part].push(
            at[k] + out * normal[k] + (((i >> k) & 1) * 2 - 1) * (1 - Math.abs(normal[k])) * (widest / 2),
          );
  }
  const tight = new Set<number>();
  for (let i = 0; i < lumps.length; i++) {
    if (ends[i].length === 0) continue;
    const plain = await hullPoints(fromSolid(lumps[i].solid));
    const points = new Float32Array(plain.length + ends[i].length);
    points.set(plain);
    points.set(ends[i], plain.length);
    if (!fits(points)) tight.add(i);
  }
  return tight;
}

/**
 * Puts up to two joins on each face that two parts share, as far inside as they go, and only where the hole keeps a
 * skin around it. Parts are replaced in `lumps`. A part that would not fit its bed with anything sticking out carries no
 * pins: the other side does, or where that is as tight, both have holes for a dowel.
 *
 * @param fits is there a bed for a hull of these corners? Quick, and rather no than yes
 * @returns the joins of each part; a face too narrow for one simply gets none
 */
export async function addJoins(
  kernel: Kernel,
  keep: Keep,
  lumps: Lump[],
  cuts: readonly PlaneCut[],
  kind: Exclude<JoinKind, 'none'>,
  clearance: number,
  fits: (points: Float32Array) => boolean,
  context: RunContext,
): Promise<PlacedJoin[][]> {
  const joins: PlacedJoin[][] = lumps.map(() => []);
  const shape = (radius: number, from: number, to: number): Solid =>
    kind === 'key'
      ? keep(
          keep(kernel.Manifold.cube([radius * Math.SQRT2, radius * Math.SQRT2, to - from], true)).translate([
            0,
            0,
            (from + to) / 2,
          ]),
        )
      : keep(keep(kernel.Manifold.cylinder(to - from, radius, radius, 48)).translate([0, 0, from]));
  /** along the cut's normal where the part below carries the pin, against it where the part above does */
  const towards = (s: 1 | -1, radius: number, from: number, to: number): Solid =>
    s > 0 ? shape(radius, from, to) : shape(radius, -to, -from);
  const faces = cuts.map((_, number) => facesOn(keep, lumps, cuts, number));
  const pinsAbove = kind === 'pin' || kind === 'key' ? pinsAboveAt(keep, faces) : () => false;
  const holds = (solid: Solid, tool: Solid): boolean => keep(solid.intersect(tool)).volume() > 0.999 * tool.volume();
  const spots = spotsOf(keep, faces, kind, clearance);
  const tight = kind === 'pin' || kind === 'key' ? await tightOf(lumps, cuts, spots, fits) : new Set<number>();
  for (const { number, a, b, ...spot } of spots) {
    context.checkCancelled();
    const cut = cuts[number];
    const radius = kind === 'magnet' ? magnet.diameter / 2 : Math.min(widest / 2, spot.radius - clearance - skin);
    const both = kind === 'dowel' || kind === 'magnet' || (tight.has(a) && tight.has(b));
    // the part that carries the pin, and the one with the hole for it
    const above = tight.has(a) || (pinsAbove(number, a, b) && !tight.has(b));
    const s = above ? -1 : 1;
    const [pinned, holed] = s > 0 ? [a, b] : [b, a];
    const put = (solid: Solid): Solid => place(keep, solid, cut, spot.u, spot.v);
    let depth = kind === 'magnet' ? magnet.depth : 2 * radius;
    const sound = (d: number): boolean =>
      holds(lumps[holed].solid, put(towards(s, radius + clearance + skin, 1e-3, d + clearance + skin))) &&
      holds(
        lumps[pinned].solid,
        put(
          both ? towards(s, radius + clearance + skin, -d - clearance - skin, -1e-3) : towards(s, radius, -0.5, -1e-3),
        ),
      );
    if (!sound(depth)) {
      depth /= 2;
      if (kind === 'magnet' || !sound(depth)) continue;
    }
    const hole = put(towards(s, radius + clearance, both ? -depth - clearance : -1e-2, depth + clearance));
    lumps[holed].solid = keep(lumps[holed].solid.subtract(hole));
    lumps[pinned].solid = keep(
      both ? lumps[pinned].solid.subtract(hole) : lumps[pinned].solid.add(put(towards(s, radius, -0.5, depth))),
    );
    const join = {
      kind: both && kind === 'pin' ? 'dowel' : kind,
      at: xyz(fromPlane(cut, spot.u, spot.v)),
      diameterMm: 2 * radius,
      depthMm: depth,
    };
    joins[pinned].push({ ...join, role: both ? 'hole' : 'pin', to: lumps[holed].tag });
    joins[holed].push({ ...join, role: 'hole', to: lumps[pinned].tag });
  }
  return joins;
}
