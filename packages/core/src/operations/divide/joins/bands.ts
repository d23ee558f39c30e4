import type { CrossSection } from 'manifold-3d';
import { roomiestPlaces } from '../../../planning/cuts/roomiestPlaces.ts';
import { sectionAt, sidesOf } from '../../../planning/cuts/cutSolid.ts';
import { fromZ, toZ } from '../../../planning/cuts/planeFrame.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import { cornerNormals, unitNormalsOf } from '../../../mesh/measures.ts';
import type { TriMesh } from '../../../mesh/TriMesh.ts';
import type { Ring } from '../../../section/rings.ts';
import type { RunContext } from '../../../run/context.ts';
import { fromSolid, toSolid, type Solid } from '../../../solid/kernel.ts';
import { boxesMeet, into, reachesCut, type Lump } from '../contact.ts';
import { comesOut } from './bosses.ts';
import { withoutFilms, type Maker } from './shapes.ts';

/** How bands are made, mm. */
export interface BandLook {
  /** from the wall into the cavity */
  wide: number;
  /** straight up from the cut; from there they lean back to the wall at 45 degrees */
  straight: number;
}

/** Steps of the part that leans, mm: a layer or two each, in a cavity where nobody sees them. */
const stepMm = 1;
/** Outlines of openings are drawn no finer, mm: features that are finer than the root would fold over. */
const outlineMm = 0.2;
/** A cavity is at least so many bands wide across its middle, so that an opening stays: drains and cables go on through it. */
const leastAcross = 2.5;
/** Cavities smaller than this are left alone, mm. */
const leastHole = 6;
/** How far a band goes into the wall, mm: bodies that only touch would leave films of air between them. */
const rootMm = 0.05;

/** Holes of a section that are wide enough for a band, each by itself. */
function holesOf({ keep, kernel }: Maker, section: CrossSection, wide: number): CrossSection[] {
  return (section.toPolygons() as Ring[]).flatMap((ring) => {
    const twice = ring.reduce((sum, [x, y], i) => {
      const [u, v] = ring[(i + 1) % ring.length];
      return sum + x * v - u * y;
    }, 0);
    // outlines run to the left, holes to the right
    if (twice >= -2 * leastHole * leastHole) return [];
    const hole = keep(new kernel.CrossSection([[...ring].reverse() as [number, number][]]));
    const [middle] = roomiestPlaces(hole, 1, 0);
    return middle && 2 * middle.radius >= leastAcross * wide ? [hole] : [];
  });
}

/** All that is near a plane, but for the openings that bands leave: in the frame of the cut, from its plane up, or down. */
function toolOf(
  { keep, kernel }: Maker,
  holes: readonly CrossSection[],
  lump: Solid,
  cut: PlaneCut,
  { wide, straight }: BandLook,
  way: 1 | -1,
): Solid {
  const { min, max } = keep(lump.transform(toZ(cut.normal))).boundingBox();
  const size: [number, number] = [max[0] - min[0] + 2, max[1] - min[1] + 2];
  const all = keep(keep(kernel.CrossSection.square(size)).translate([min[0] - 1, min[1] - 1]));
  const steps = Math.max(1, Math.round(wide / stepMm));
  const slices: Solid[] = [];
  for (let k = 0; k <= steps; k++) {
    const inset = wide * (1 - k / (steps + 1));
    const to = straight + (k * wide) / steps;
    const left = holes.map((h) => keep(keep(h.offset(-inset, 'Round')).simplify(outlineMm)));
    const flat = left.reduce((a, b) => keep(a.subtract(b)), all);
    // each stands on the plane, within the one before
    slices.push(keep(flat.extrude(to)));
  }
  const tool = keep(kernel.Manifold.union(slices));
  const turned = way > 0 ? tool : keep(tool.mirror([0, 0, 1]));
  return keep(keep(turned.translate([0, 0, cut.offset])).transform(fromZ(cut.normal)));
}

/** A body with its corners moved out along the mean of the normals around them (by angle: Baerentzen and Aanaes 2005). */
function swollen({ keep, kernel }: Maker, solid: Solid, by: number): Solid {
  const mesh = fromSolid(solid);
  const { positions, triangles } = mesh;
  const corners = cornerNormals(mesh, unitNormalsOf(mesh));
  const moved = positions.slice();
  for (let i = 0; i < moved.length; i += 3) {
    const long = Math.hypot(corners[i], corners[i + 1], corners[i + 2]);
    if (long > 0) for (let k = 0; k < 3; k++) moved[i + k] += (by * corners[i + k]) / long;
  }
  return keep(toSolid(kernel, { positions: moved, triangles }));
}

/** Is a lump what half-spaces leave of the whole? What boxes and creases cut is not. */
const isPlain = (lump: Lump, cuts: readonly PlaneCut[]): boolean =>
  sidesOf(lump).every((s) => !cuts[Math.abs(s) - 1].loop && !cuts[Math.abs(s) - 1].within);

/** Nothing that is added inside makes a part larger. */
function sameBox(a: Solid, b: Solid): boolean {
  const p = a.boundingBox();
  const q = b.boundingBox();
  return [0, 1, 2].every((k) => Math.abs(p.min[k] - q.min[k]) < 0.01 && Math.abs(p.max[k] - q.max[k]) < 0.01);
}

/**
 * Gives parts of a shell a solid band along their cut faces, inside the cavity, so that joins of any kind stand in flesh:
 * straight behind the cut, then back to the wall at 45 degrees, which prints without support. Every band keeps to the cell
 * of its part and to the dark of the cavity, and leaves an opening; outside nothing changes. The parts in `lumps` are
 * replaced.
 *
 * @param whole the solid before it was cut
 * @param mesh the same, as a mesh
 * @returns flesh that was added, mm³
 */
export function addBands(
  maker: Maker,
  lumps: readonly Lump[],
  cuts: readonly PlaneCut[],
  whole: Solid,
  mesh: TriMesh,
  look: BandLook,
  context: RunContext,
): number {
  const { keep, kernel } = maker;
  const plain = lumps.map((l) => l.solid);
  const holes = new Map<number, CrossSection[]>();
  const holesOn = (side: number): CrossSection[] => {
    const cut = cuts[Math.abs(side) - 1];
    const known =
      holes.get(side) ?? holesOf(maker, sectionAt(keep, whole, cut, Math.sign(side) * into(cut)), look.wide);
    holes.set(side, known);
    return known;
  };
  let sum = 0;
  lumps.forEach((lump, own) => {
    context.checkCancelled();
    context.progress(own / lumps.length, `Band of ${lump.tag}`);
    if (!isPlain(lump, cuts)) return;
    const inCell = (body: Solid, by = 0): Solid =>
      sidesOf(lump).reduce((left, s) => {
        const { normal, offset } = cuts[Math.abs(s) - 1];
        const sign = Math.sign(s);
        return keep(left.trimByPlane([sign * normal[0], sign * normal[1], sign * normal[2]], sign * offset + by));
      }, body);
    const tools = sidesOf(lump)
      .filter((side) => reachesCut(lump.solid, cuts[Math.abs(side) - 1]) && holesOn(side).length > 0)
      .map((side) => toolOf(maker, holesOn(side), lump.solid, cuts[Math.abs(side) - 1], look, side > 0 ? 1 : -1));
    if (tools.length === 0) return;
    // a hair behind the cuts, where the wall stands between inside and outside
    const tool = inCell(keep(kernel.Manifold.union(tools)), rootMm / 4);
    const near = plain.filter((solid, i) => i === own || boxesMeet(solid, tool));
    const air = keep(tool.subtract(keep(kernel.Manifold.union(near))));
    const flesh = air
      .decompose()
      .map(keep)
      .filter((piece) => piece.volume() > 1 && !comesOut(maker, mesh, piece))
      .map((piece) => inCell(swollen(maker, piece, rootMm)))
      // what does not touch it is another body's cavity
      .filter((piece) => keep(piece.intersect(lump.solid)).volume() > 0);
    if (flesh.length === 0) return;
    const before = lump.solid.volume();
    const joined = withoutFilms(maker, keep(kernel.Manifold.union([lump.solid, ...flesh])), lump.solid);
    if (!sameBox(joined, lump.solid)) return;
    lump.solid = joined;
    sum += joined.volume() - before;
  });
  return sum;
}
