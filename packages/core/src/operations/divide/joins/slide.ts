import type { CrossSection } from 'manifold-3d';
import type { Keep } from '../../../planning/cuts/bodies.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import type { Solid } from '../../../solid/kernel.ts';
import { place } from '../contact.ts';
import { skinMm, slideLean, type Decided } from './decide.ts';
import { prism, type Maker, type Outline } from './shapes.ts';

/** What is printed on wants so much flesh under it, mm (our own judgement). */
export const footMm = 2;
/**
 * A rail stands so far inside the outline of its face, and grows out of so much flesh, mm: less than anyone sees, and enough
 * that no wall of it lies in the skin of its part, where rounding would leave films and chips.
 */
const inside = 0.05;

/** A body made around the middle of a join, turned and moved to its place on the cut. */
export function onCut(keep: Keep, join: Decided, cut: PlaneCut, solid: Solid): Solid {
  const turned = join.turn === 0 ? solid : keep(solid.rotate([0, 0, (join.turn * 180) / Math.PI]));
  return place(keep, turned, { ...cut, offset: cut.offset + join.lift }, ...join.at);
}

/** Across x, high y: narrow at the face, wide at its head. */
const dovetail = (across: number, depth: number): Outline => {
  const n = across / 2;
  const w = n + depth * slideLean;
  return [
    [-n, -inside],
    [n, -inside],
    [n, 0],
    [w, depth],
    [-w, depth],
    [-n, 0],
  ];
};

/** The bodies that make a slide. */
export interface SlideBodies {
  /** what is taken out of the part that slides on */
  slot: Solid;
  /** the room that the slot wants, with the skin around it */
  needed: Solid;
  /** the flesh that the rails stand on */
  foot: Solid;
  /** what is added to the part that carries them */
  rails: Solid[];
}

/**
 * The bodies of a dovetail slide on a plane cut.
 *
 * @param of the part that carries the rail, the one that it goes into, and on which side of the cut that lies
 * @param clearance gap on each side, mm
 */
export function slideBodies(
  maker: Maker,
  join: Decided,
  cut: PlaneCut,
  { rail, flesh, way }: { rail: Solid; flesh: Solid; way: 1 | -1 },
  clearance: number,
): SlideBodies {
  const { keep, kernel } = maker;
  const { across, depth, length, site } = join;
  const profile = keep(new kernel.CrossSection([dovetail(across, depth)]));
  const along = (flat: CrossSection, from: number, to: number): Solid => {
    const bar = keep(keep(flat.extrude(to - from)).translate([0, 0, from]));
    // x across, y high, z along become v, w and u
    const laid = keep(bar.transform([0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1]));
    return onCut(keep, join, cut, way > 0 ? laid : keep(laid.mirror([0, 0, 1])));
  };
  const over = (by: number, from: number, to: number): Solid =>
    place(keep, prism(maker, keep(site.shared.offset(by, 'Miter', 4)), from, to, way), cut, 0, 0);
  // past the mouth, and cut to the skin
  const past = length + 4 * (across + depth);
  const sole: Outline = [
    [-across / 2, -footMm],
    [across / 2, -footMm],
    [across / 2, -1e-2],
    [-across / 2, -1e-2],
  ];
  const foot = keep(along(keep(new kernel.CrossSection([sole])), 0, past).intersect(rail));
  // over its face alone, and within the flesh above it; flesh on the way beyond the mouth is no part of it
  const room = keep(flesh.add(over(1, -1, inside)));
  return {
    slot: along(keep(profile.offset(clearance, 'Miter', 4)), -clearance, past),
    needed: along(keep(profile.offset(clearance + skinMm, 'Round')), 0, length),
    foot,
    rails: keep(keep(along(profile, 0, past).intersect(over(-inside, -1, depth + 1))).intersect(room))
      .decompose()
      .map(keep)
      .filter((piece) => keep(piece.intersect(foot)).volume() > 1e-3),
  };
}
