import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { CrumbRule } from './cutSolid.ts';
import { directionsFor, flatsOfPart, offsetsAlong } from './candidates.ts';
import { alike, sectionProfile, sweptSkin } from './sectionProfile.ts';
import { mergedProfiles, necksOf } from './necks.ts';
import type { Option, PlanPart, Sweep } from './planParts.ts';
import { partOf, type PartContext } from './PlanPart.ts';
import { cutSkin } from './skinCut.ts';
import type { Mirror } from './symmetry.ts';
import type { Weights } from './styles.ts';

interface Rough extends Omit<Option, 'children'> {
  score: number;
  /** of the part along the normal, mm */
  reach: number;
}

/** Faces smaller than this hold no pin and little glue, mm². Two pins of 3 mm with their walls, side by side. */
export const smallJointMm2 = 100;

/** By how many parts a plane at which a flat begins may be worse. */
const spokenFor = 0.04;
/** Necks of a part that are looked at beside its other cuts. */
const mostNecks = 2;

/** Share of a part's expected number by which the larger side of a cut must be less. */
const leastProgress = 0.15;

export interface OptionContext extends PartContext {
  /** in many more directions */
  wide: boolean;
  crumbs: CrumbRule;
  /** mm of seam that weigh as much as one in the weights: round a bed */
  roundBedMm: number;
  checkCancelled: () => void;
}

/** What planes in many directions would cut of a part; worked out once, whatever is looked for. */
function sweepsOf(part: PlanPart, { rooms, clean, wide }: OptionContext): Sweep[] {
  if (part.sweeps) return part.sweeps;
  const flats = flatsOfPart(part, 12);
  const swept = sweptSkin(part);
  part.sweeps = directionsFor(part, flats, wide).flatMap((normal) => {
    const along = offsetsAlong(part, normal, rooms, flats);
    if (!along) return [];
    const even = sectionProfile(part, normal, along.offsets, rooms, clean, swept);
    const { known, between } = necksOf(even);
    const all =
      between.length > 0
        ? mergedProfiles(even, sectionProfile(part, normal, Float64Array.from(between), rooms, clean, swept))
        : even;
    return [{ ...all, natural: along.natural, necks: new Set([...known, ...between]), added: new Set(between) }];
  });
  return part.sweeps;
}

/** The best cuts through a part by a quick judgement from its sections, not all alike, and the best of its necks. */
function roughly(
  part: PlanPart,
  weights: Weights,
  context: OptionContext,
  most: number,
): { necks: Rough[]; others: Rough[] } {
  // a cut that leaves nearly all in one piece would be followed by others of its kind, without end
  const left = Math.max(1, part.expected - Math.max(0.4, leastProgress * part.expected));
  const all: Rough[] = [];
  const waists: Rough[] = [];
  for (const sweep of sweepsOf(part, context)) {
    const { normal, offsets, natural, necks, added, areaMm2, seamMm, seenMm, parts, larger } = sweep;
    const reach = offsets[offsets.length - 1] - offsets[0];
    const middle = (offsets[offsets.length - 1] + offsets[0]) / 2;
    for (let i = 0; i < offsets.length; i++) {
      if (!(areaMm2[i] > 0) || (!part.fits && larger[i] > left)) continue;
      const score =
        weights.parts * parts[i] +
        (weights.seam * seenMm[i]) / context.roundBedMm +
        weights.smallJoint * Math.max(0, 1 - areaMm2[i] / smallJointMm2) +
        // among equals halves, and planes that something speaks for
        (0.02 * Math.abs(offsets[i] - middle)) / (reach || 1) -
        (natural.has(offsets[i]) ? spokenFor + 0.3 * weights.support : 0);
      const cut: Rough = {
        normal,
        offset: offsets[i],
        areaMm2: areaMm2[i],
        seamMm: seamMm[i],
        seenMm: seenMm[i],
        score,
        reach: reach || 1,
      };
      if (!added.has(offsets[i])) all.push(cut);
      if (necks.has(offsets[i])) waists.push(cut);
    }
  }
  // necks beside the others, not instead of them: a short seam is not always a good one
  return { necks: bestOf(waists, mostNecks), others: bestOf(all, most) };
}

/** The best of some cuts, not all alike. */
function bestOf(cuts: Rough[], most: number): Rough[] {
  const chosen: Rough[] = [];
  for (const c of cuts.sort((a, b) => a.score - b.score)) {
    if (chosen.length >= most) break;
    if (!chosen.some((o) => alike(o.normal, c.normal) > 0.98 && Math.abs(o.offset - c.offset) < 0.06 * c.reach))
      chosen.push(c);
  }
  return chosen;
}

/** The parts that a cut makes of a part; null where it cuts nothing. Worked out once. */
function partedBy(part: PlanPart, normal: Vec3, offset: number, context: OptionContext): PlanPart[] | null {
  const key = `${normal.join()} ${offset}`;
  const known = part.parted.get(key);
  if (known !== undefined) return known;
  context.checkCancelled();
  const parted = cutSkin(part, normal, offset, context.crumbs);
  const down: Vec3 = [-normal[0], -normal[1], -normal[2]];
  const children = parted && [
    ...parted.below.map((s) => partOf(context, s, [...part.faces, normal])),
    ...parted.above.map((s) => partOf(context, s, [...part.faces, down])),
  ];
  part.parted.set(key, children);
  return children;
}

/** The best ways to cut a part, each really cut on the stand-in; worked out once for the same weights. */
export function optionsOf(part: PlanPart, weights: Weights, context: OptionContext, most: number): Option[] {
  const known = part.options.get(weights);
  // fewer are the first of many, after the same necks
  if (known && known.most >= most) return known.ranked.slice(0, known.necks + most).filter((o) => o !== null);
  const { necks, others } = roughly(part, weights, context, most);
  const ranked = [...necks, ...others].map(({ score: _, reach: __, ...cut }): Option | null => {
    const children = partedBy(part, cut.normal, cut.offset, context);
    return children && { ...cut, children };
  });
  part.options.set(weights, { most, necks: necks.length, ranked });
  return ranked.filter((o) => o !== null);
}

/** The cut of a part in one plane, really cut on the stand-in; null where it cuts nothing. Worked out once. */
export function optionIn(part: PlanPart, { normal, offset }: Mirror, context: OptionContext): Option | null {
  const key = `${normal.join()} ${offset}`;
  const known = part.single.get(key);
  if (known !== undefined) return known;
  const children = partedBy(part, normal, offset, context);
  if (!children) {
    part.single.set(key, null);
    return null;
  }
  const { areaMm2, seamMm, seenMm } = sectionProfile(
    part,
    normal,
    Float64Array.of(offset),
    context.rooms,
    context.clean,
  );
  const option = { normal, offset, areaMm2: areaMm2[0], seamMm: seamMm[0], seenMm: seenMm[0], children };
  part.single.set(key, option);
  return option;
}
