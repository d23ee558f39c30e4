import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { Bodies, Keep } from './bodies.ts';
import { cutBody, type CrumbRule } from './cutSolid.ts';
import { directionsFor, flatsOfPart, offsetsAlong } from './candidates.ts';
import { alike, sectionProfile } from './sectionProfile.ts';
import type { PlanPart, PartContext } from './PlanPart.ts';
import { partOf } from './PlanPart.ts';
import type { Weights } from './styles.ts';

/** One way to cut a part. */
export interface Option {
  normal: Vec3;
  offset: number;
  areaMm2: number;
  /** length of its seam, each stretch by how much it shows */
  seenMm: number;
  children: PlanPart[];
}

interface Rough extends Omit<Option, 'children'> {
  score: number;
  /** of the part along the normal, mm */
  reach: number;
}

/** Faces smaller than this hold no pin and little glue, mm². Two pins of 3 mm with their walls, side by side. */
export const smallJointMm2 = 100;

/** Share of a part's expected number by which the larger side of a cut must be less. */
const leastProgress = 0.15;

export interface OptionContext extends PartContext {
  keep: Keep;
  bodies: Bodies;
  crumbs: CrumbRule;
  /** mm of seam that weigh as much as one in the weights: round a bed */
  roundBedMm: number;
  checkCancelled: () => void;
}

/** The best cuts through a part by a quick judgement from its sections, not all alike. */
function roughly(part: PlanPart, weights: Weights, { rooms, clean, roundBedMm }: OptionContext, most: number): Rough[] {
  const flats = flatsOfPart(part, 12);
  // a cut that leaves nearly all in one piece would be followed by others of its kind, without end
  const left = Math.max(1, part.expected - Math.max(0.4, leastProgress * part.expected));
  const all: Rough[] = [];
  for (const normal of directionsFor(part, flats)) {
    const along = offsetsAlong(part, normal, rooms, flats);
    if (!along) continue;
    const { offsets, natural } = along;
    const { areaMm2, seenMm, parts, larger } = sectionProfile(part, normal, offsets, rooms, clean);
    const reach = offsets[offsets.length - 1] - offsets[0];
    const middle = (offsets[offsets.length - 1] + offsets[0]) / 2;
    for (let i = 0; i < offsets.length; i++) {
      if (!(areaMm2[i] > 0) || (!part.fits && larger[i] > left)) continue;
      const score =
        weights.parts * parts[i] +
        (weights.seam * seenMm[i]) / roundBedMm +
        weights.smallJoint * Math.max(0, 1 - areaMm2[i] / smallJointMm2) +
        // among equals halves, and planes that something speaks for
        (0.02 * Math.abs(offsets[i] - middle)) / (reach || 1) -
        (natural.has(offsets[i]) ? 0.04 + 0.3 * weights.support : 0);
      all.push({
        normal,
        offset: offsets[i],
        areaMm2: areaMm2[i],
        seenMm: seenMm[i],
        score,
        reach: reach || 1,
      });
    }
  }
  all.sort((a, b) => a.score - b.score);
  const chosen: Rough[] = [];
  for (const c of all) {
    if (chosen.length >= most) break;
    if (!chosen.some((o) => alike(o.normal, c.normal) > 0.98 && Math.abs(o.offset - c.offset) < 0.06 * c.reach))
      chosen.push(c);
  }
  return chosen;
}

/** The best ways to cut a part, each really cut on the stand-in; worked out once. */
export function optionsOf(part: PlanPart, weights: Weights, context: OptionContext, most: number): Option[] {
  if (part.options) return part.options;
  const options: Option[] = [];
  for (const { normal, offset, areaMm2, seenMm } of roughly(part, weights, context, most)) {
    context.checkCancelled();
    const parted = cutBody(context.keep, context.bodies, part.solid, { normal, offset }, context.crumbs);
    if (!parted) continue;
    const down: Vec3 = [-normal[0], -normal[1], -normal[2]];
    options.push({
      normal,
      offset,
      areaMm2,
      seenMm,
      children: [
        ...parted.below.map((s) => partOf(context, s, [...part.faces, normal])),
        ...parted.above.map((s) => partOf(context, s, [...part.faces, down])),
      ],
    });
  }
  part.options = options;
  return options;
}
