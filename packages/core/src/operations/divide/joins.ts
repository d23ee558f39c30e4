import type { RunContext } from '../../run/context.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import type { Kernel, Solid } from '../../solid/kernel.ts';
import { axes } from '../../mesh/axes.ts';
import { faceOf, facesOn, place, roomiestPlaces, type Keep, type Lump } from './contact.ts';
import type { CutAt } from './grid.ts';
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
  lumps: Lump[],
  cuts: readonly CutAt[],
): (cut: CutAt, below: number, above: number) => boolean {
  const shared: SharedFace[] = [];
  cuts.forEach((cut, number) => {
    const faces = facesOn(lumps, cut);
    const sections = faces.map(({ index, above }) => faceOf(keep, lumps[index].solid, cut, above));
    faces.forEach((a, i) => {
      if (a.above) return;
      faces.forEach((b, j) => {
        if (!b.above) return;
        const areaMm2 = keep(sections[i].intersect(sections[j])).area();
        if (areaMm2 > 0) shared.push({ cut: number, below: a.index, above: b.index, areaMm2 });
      });
    });
  });
  const sides = pinSides(shared);
  const above = new Set(shared.flatMap((f, i) => (sides[i] ? [`${f.cut} ${f.below} ${f.above}`] : [])));
  return (cut, a, b) => above.has(`${cuts.indexOf(cut)} ${a} ${b}`);
}

/**
 * Puts up to two joins on each face that two parts share, as far inside as they go, and only where the hole keeps a
 * skin around it. Parts are replaced in `lumps`.
 *
 * @returns the joins of each part; a face too narrow for one simply gets none
 */
export function addJoins(
  kernel: Kernel,
  keep: Keep,
  lumps: Lump[],
  cuts: readonly CutAt[],
  kind: Exclude<JoinKind, 'none'>,
  clearance: number,
  context: RunContext,
): PlacedJoin[][] {
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
  const pinsAbove = kind === 'pin' || kind === 'key' ? pinsAboveAt(keep, lumps, cuts) : () => false;
  const holds = (solid: Solid, tool: Solid): boolean => keep(solid.intersect(tool)).volume() > 0.999 * tool.volume();
  for (const cut of cuts) {
    context.checkCancelled();
    const k = axes.indexOf(cut.axis);
    const faces = facesOn(lumps, cut);
    const sections = new Map(faces.map(({ index, above }) => [index, faceOf(keep, lumps[index].solid, cut, above)]));
    for (const a of faces.filter((f) => !f.above))
      for (const b of faces.filter((f) => f.above)) {
        const shared = keep(sections.get(a.index)!.intersect(sections.get(b.index)!));
        if (shared.isEmpty()) continue;
        const least = (kind === 'magnet' ? magnet.diameter / 2 : narrowest / 2) + clearance + skin;
        for (const spot of roomiestPlaces(shared, 2, least)) {
          const radius = kind === 'magnet' ? magnet.diameter / 2 : Math.min(widest / 2, spot.radius - clearance - skin);
          const both = kind === 'dowel' || kind === 'magnet';
          // the part that carries the pin, and the one with the hole for it
          const s = pinsAbove(cut, a.index, b.index) ? -1 : 1;
          const [pinned, holed] = s > 0 ? [a.index, b.index] : [b.index, a.index];
          const put = (solid: Solid): Solid => place(keep, solid, cut, spot.u, spot.v);
          let depth = kind === 'magnet' ? magnet.depth : 2 * radius;
          const sound = (d: number): boolean =>
            holds(lumps[holed].solid, put(towards(s, radius + clearance + skin, 1e-3, d + clearance + skin))) &&
            holds(
              lumps[pinned].solid,
              put(
                both
                  ? towards(s, radius + clearance + skin, -d - clearance - skin, -1e-3)
                  : towards(s, radius, -0.5, -1e-3),
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
          const at = [0, 0, 0];
          at[k] = cut.mm;
          at[(k + 1) % 3] = spot.u;
          at[(k + 2) % 3] = spot.v;
          const join = { kind, at: { x: at[0], y: at[1], z: at[2] }, diameterMm: 2 * radius, depthMm: depth };
          joins[pinned].push({ ...join, role: both ? 'hole' : 'pin', to: lumps[holed].tag });
          joins[holed].push({ ...join, role: 'hole', to: lumps[pinned].tag });
        }
      }
  }
  return joins;
}
