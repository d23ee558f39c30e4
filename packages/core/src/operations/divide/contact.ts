import type { CrossSection } from 'manifold-3d';
import type { Solid } from '../../solid/kernel.ts';
import type { Keep } from '../../planning/cuts/bodies.ts';
import { fromZ } from '../../planning/cuts/planeFrame.ts';
import { reachOver, sectionAt, sidesOf, type CutBody } from '../../planning/cuts/cutSolid.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';

export interface Lump extends CutBody {
  level: number;
  tag: string;
}

/** A lump with a face on a cut, and the side of the plane on which it lies. */
export interface Face {
  index: number;
  above: boolean;
  /** the face, in the plane turned to x and y */
  section: CrossSection;
}

/** Inside a lump as seen from its cut face, past what rounding may have left there, mm. */
export const into = (cut: PlaneCut): number => 2e-4 * (1 + Math.abs(cut.offset));

/** Does a solid reach the plane of a cut, or come to it within rounding? */
export function reachesCut(solid: Solid, cut: PlaneCut): boolean {
  const tolerance = 1e-4 * (1 + Math.abs(cut.offset));
  const { lo, hi } = reachOver(solid, cut);
  return lo <= tolerance && hi >= -tolerance;
}

/** Do the boxes of two solids meet, or come so near, mm? */
export function boxesMeet(a: Solid, b: Solid, within = 0): boolean {
  const p = a.boundingBox();
  const q = b.boundingBox();
  return [0, 1, 2].every((k) => p.min[k] <= q.max[k] + within && q.min[k] <= p.max[k] + within);
}

/** Lumps with a face on the plane of a cut. */
export function facesOn(keep: Keep, lumps: readonly Lump[], cuts: readonly PlaneCut[], number: number): Face[] {
  const cut = cuts[number];
  // the face of a cut along a loop is no plane: see `sitesOf`
  if (cut.loop) return [];
  const out: Face[] = [];
  lumps.forEach((lump, index) => {
    const side = sidesOf(lump).find((s) => Math.abs(s) === number + 1);
    if (side === undefined) return;
    if (!reachesCut(lump.solid, cut)) return;
    const above = side > 0;
    const section = sectionAt(keep, lump.solid, cut, above ? into(cut) : -into(cut));
    if (!section.isEmpty()) out.push({ index, above, section });
  });
  return out;
}

/** A solid made around the w axis at (u, v, 0), moved to its place on a cut. */
export function place(keep: Keep, local: Solid, cut: PlaneCut, u: number, v: number): Solid {
  return keep(keep(local.translate([u, v, cut.offset])).transform(fromZ(cut.normal)));
}
