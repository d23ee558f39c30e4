import type { RunContext } from '../../mesh/context.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import type { Kernel, Solid } from '../../solid/kernel.ts';
import { axes } from '../size/size.ts';
import { faceOf, facesOn, place, roomiestPlaces, type Keep, type Lump } from './contact.ts';
import type { CutAt } from './grid.ts';
import type { JoinKind } from './joinKinds.ts';

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
          let depth = kind === 'magnet' ? magnet.depth : 2 * radius;
          const sound = (d: number): boolean => {
            const upper = place(
              keep,
              shape(radius + clearance + skin, 1e-3, d + clearance + skin),
              cut,
              spot.u,
              spot.v,
            );
            const lower = place(
              keep,
              shape(radius + clearance + skin, -d - clearance - skin, -1e-3),
              cut,
              spot.u,
              spot.v,
            );
            return (
              holds(lumps[b.index].solid, upper) &&
              holds(lumps[a.index].solid, both ? lower : place(keep, shape(radius, -0.5, -1e-3), cut, spot.u, spot.v))
            );
          };
          if (!sound(depth)) {
            depth /= 2;
            if (kind === 'magnet' || !sound(depth)) continue;
          }
          const hole = place(
            keep,
            shape(radius + clearance, both ? -depth - clearance : -1e-2, depth + clearance),
            cut,
            spot.u,
            spot.v,
          );
          lumps[b.index].solid = keep(lumps[b.index].solid.subtract(hole));
          if (both) lumps[a.index].solid = keep(lumps[a.index].solid.subtract(hole));
          else
            lumps[a.index].solid = keep(
              lumps[a.index].solid.add(place(keep, shape(radius, -0.5, depth), cut, spot.u, spot.v)),
            );
          const at = [0, 0, 0];
          at[k] = cut.mm;
          at[(k + 1) % 3] = spot.u;
          at[(k + 2) % 3] = spot.v;
          const join = { kind, at: { x: at[0], y: at[1], z: at[2] }, diameterMm: 2 * radius, depthMm: depth };
          joins[a.index].push({ ...join, role: both ? 'hole' : 'pin', to: lumps[b.index].tag });
          joins[b.index].push({ ...join, role: 'hole', to: lumps[a.index].tag });
        }
      }
  }
  return joins;
}
