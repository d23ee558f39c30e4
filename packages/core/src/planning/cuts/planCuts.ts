import { vec3 } from '../../mesh/transform.ts';
import { diagonalOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import { kernelNow, type Kernel, type Solid } from '../../solid/kernel.ts';
import { PrinterProfile } from '../PrinterProfile.ts';
import type { CleanPlace } from './CleanBox.ts';
import { checkFacesOut } from './checkCuts.ts';
import { cutPieces, type CutPiece } from './cutPieces.ts';
import { kernelBodies, type Keep } from './bodies.ts';
import { cutSolid, fromPlane, sidesOf, toPlane, type CrumbRule, type CutBody } from './cutSolid.ts';
import { makespanOn, sharesOf, type PrinterShare } from './makespan.ts';
import { optionIn, optionsOf, smallJointMm2, type OptionContext } from './options.ts';
import { partOf, roomsFor, skinOf } from './PlanPart.ts';
import type { Option, PlanPart } from './planParts.ts';
import { misfit, roundBedOf, supportUnitOf } from './planCost.ts';
import type { PlaneCut } from './PlaneCut.ts';
import { proxyOf } from './proxySolid.ts';
import { roomiestPlaces } from './roomiestPlaces.ts';
import { sectionProfile } from './sectionProfile.ts';
import { seenSkin } from './seenSkin.ts';
import { sectionRings } from './skinCut.ts';
import type { Skin } from './Skin.ts';
import { weightsOf, type PlanStyle, type Weights } from './styles.ts';
import {
  areOne,
  areTwins,
  mirroredPlane,
  mirrorsOf,
  pairedAfter,
  pairedIn,
  shareOfPaired,
  type Mirror,
} from './symmetry.ts';

/** What is to be planned for. */
export interface PlanAim {
  /** rooms that parts may lie in, one a printer, mm */
  rooms: readonly Vec3[];
  style: PlanStyle;
  /** the maker's own, instead of those of the style */
  weights?: Weights;
  /** a narrow search, for a first plan within seconds */
  quick?: boolean;
  /** how broad the search is, beside what is usual for so many parts */
  broad?: number;
  clean?: readonly CleanPlace[];
  /** the printers of the rooms: hours go by them; of filament with usual settings where left out */
  profiles?: readonly PrinterProfile[];
}

const profilesOf = ({ rooms, profiles }: Pick<PlanAim, 'rooms' | 'profiles'>): PrinterProfile[] =>
  rooms.map((_, i) => profiles?.[i] ?? new PrinterProfile());

/** What a plan comes to, judged on the stand-in. */
export interface PlanFigures {
  parts: number;
  fitting: number;
  seamMm: number;
  /** each stretch by how much it shows: 1 in full view, 0.3 underneath, 8 where it must stay clean */
  seenSeamMm: number;
  /** room under the overhangs of all parts, each in the best of a few poses */
  supportMm3: number;
  longestS: number;
  /** until all is printed, on all printers */
  allS: number;
  slivers: number;
  /** share of the flesh in parts that have their twin, where the model is mirrored; null where it is not */
  mirrored: number | null;
  /** what each printer prints, in the order of the rooms */
  shares: PrinterShare[];
  /** its parts as they would lie */
  pieces: CutPiece[];
}

export interface CutPlan {
  cuts: PlaneCut[];
  /** ways to cut that were compared, most of them for a part of the model */
  looked: number;
  figures: PlanFigures;
}

interface State {
  parts: readonly PlanPart[];
  cuts: readonly { option: Option; part: PlanPart }[];
  seenMm: number;
  small: number;
  /** flesh in parts that have their twin, in each mirror of the model, mm³ */
  paired: readonly number[];
  cost: number;
}

/** A crumb is put back to its neighbour (common practice: nobody prints it by itself). */
export const crumbRule: CrumbRule = { longestMm: figures.sliverMm.value, share: 0.01 };

/** Seam that each cut still to come will show, as a share of the way round the bed. */
const seamAhead = 0.45;

/** Plans kept from one cut to the next, and cuts tried through a part, by how many parts there will be. */
const breadths = [
  { upTo: 6, states: 10, cuts: 14 },
  { upTo: 16, states: 12, cuts: 14 },
  { upTo: 40, states: 8, cuts: 12 },
  { upTo: Infinity, states: 4, cuts: 8 },
];

/** A part of less than this share of the mean volume counts as a sliver, however long it is (our own judgement). */
const flake = 0.01;

const narrow = { states: 2, cuts: 5 };

/** The parts that searches for plans of one stand-in share, and what they are judged by. */
export interface PlanGround {
  whole: PlanPart[];
  options: OptionContext;
  /** the largest room, mm */
  room: Vec3;
  mirrors: readonly Mirror[];
  /** of the whole from corner to corner, mm */
  longest: number;
}

/**
 * Makes ready what searches on a stand-in share.
 *
 * @param wide cuts in many more directions are looked at
 */
export function groundOf(
  stand: StandIn,
  aim: Omit<PlanAim, 'style' | 'weights'>,
  context: RunContext,
  wide = false,
): PlanGround {
  let ids = 0;
  const room = aim.rooms.reduce((a, b) => (a[0] * a[1] * a[2] >= b[0] * b[1] * b[2] ? a : b));
  const options: OptionContext = {
    crumbs: crumbRule,
    wide,
    // its corners are the solid's, but not all of them: parts of the solid may be a little larger
    rooms: aim.rooms.map((r) => vec3((k) => r[k] - stand.toleranceMm)),
    clean: aim.clean ?? [],
    profiles: profilesOf(aim),
    seen: stand.seen,
    original: stand.original,
    next: () => ++ids,
    roundBedMm: roundBedOf(room),
    checkCancelled: () => context.checkCancelled(),
  };
  const { mirrors, longest } = stand;
  return { whole: skinsOf(stand, options).map((skin) => partOf(options, skin, [])), options, room, mirrors, longest };
}

/**
 * Plans the cuts of a solid: binary space partition by beam search (Luo, Baran, Rusinkiewicz and Matusik 2012) on a
 * stand-in of few triangles. Planes are judged by their sections first; the best are really cut. Every cut goes through
 * one part alone. The same input gives the same plan, whatever was sought on the same ground before.
 *
 * @throws MeshError `cancelled`
 */
export function planOn(ground: PlanGround, aim: PlanAim, context: RunContext): CutPlan {
  const { whole, options, room, mirrors, longest } = ground;
  const weights = aim.weights ?? weightsOf[aim.style];
  const makespan = (parts: readonly PlanPart[]): number => makespanOn(printsOf(parts, aim.rooms), aim.rooms.length);
  const allS = makespan(whole);
  const volume = whole.reduce((v, p) => v + p.volumeMm3, 0);
  const supportUnit = supportUnitOf(room);
  const cells = whole.reduce((n, p) => n + p.expected, 0);
  const usual = breadths.find((b) => cells <= b.upTo)!;
  const { states, cuts } = aim.quick ? narrow : usual;
  const breadth = { states: Math.ceil(states * (aim.broad ?? 1)), cuts: Math.ceil(cuts * (aim.broad ?? 1)) };
  let looked = 0;
  const cost = (s: Omit<State, 'cost'>): number => {
    looked++;
    let support = 0;
    let slivers = 0;
    let n = 0;
    let ahead = 0;
    for (const p of s.parts) {
      support += p.supportMm3;
      n += p.expected;
      ahead += p.expected - 1;
      if (p.longestMm < figures.sliverMm.value || p.volumeMm3 < (flake * volume) / s.parts.length) slivers++;
      if (p.stuck) n += misfit;
    }
    return (
      weights.parts * n +
      weights.seam * (s.seenMm / options.roundBedMm + seamAhead * ahead) +
      (weights.support * support) / supportUnit +
      (weights.time > 0 ? (weights.time * makespan(s.parts)) / (allS || 1) : 0) +
      weights.sliver * slivers +
      weights.symmetry * (1 - shareOfPaired(s.paired, volume)) +
      weights.smallJoint * s.small
    );
  };
  const begun: Omit<State, 'cost'> = {
    parts: whole,
    cuts: [],
    seenMm: 0,
    small: 0,
    paired: pairedIn(whole, mirrors, longest),
  };
  const after = (s: State, part: PlanPart, option: Option): State => {
    const next = {
      paired: pairedAfter(s.paired, s.parts, part, option.children, mirrors, longest),
      parts: [...s.parts.filter((p) => p !== part), ...option.children],
      cuts: [...s.cuts, { option, part }],
      seenMm: s.seenMm + option.seenMm,
      small: s.small + Math.max(0, 1 - option.areaMm2 / smallJointMm2),
    };
    return { ...next, cost: cost(next) };
  };
  const largest = (s: State): PlanPart | null =>
    s.parts.reduce<PlanPart | null>(
      (best, p) => (p.fits || p.stuck || (best && best.expected >= p.expected) ? best : p),
      null,
    );
  let beam: State[] = [{ ...begun, cost: cost(begun) }];
  const done: State[] = [];
  while (beam.length > 0 && done.length < breadth.states) {
    const next = new Map<string, State>();
    for (const state of beam) {
      const part = largest(state);
      if (!part) {
        done.push(state);
        continue;
      }
      context.progress(
        Math.min(0.9, state.parts.length / Math.max(cells, state.parts.length + 1)),
        `Best of ${looked} ways to cut so far`,
      );
      const ways = [...optionsOf(part, weights, options, breadth.cuts), ...mirroredWays(part, state, ground)];
      if (ways.length === 0) {
        part.stuck = true;
        next.set(`stuck ${part.id}`, { ...state, cost: cost(state) });
      }
      for (const option of ways) {
        const s = after(state, part, option);
        const key = s.parts
          .map((p) => p.id)
          .sort((a, b) => a - b)
          .join();
        const old = next.get(key);
        if (!old || s.cost < old.cost) next.set(key, s);
      }
    }
    const bound = Math.min(Infinity, ...done.map((s) => s.cost));
    beam = [...next.values()]
      .filter((s) => s.cost < bound)
      .sort((a, b) => a.cost - b.cost)
      .slice(0, breadth.states);
  }
  let best = done.reduce((a, b) => (b.cost < a.cost ? b : a));
  // further cuts that pay for themselves: less support, sooner done
  const mostParts = Math.ceil(1.6 * best.parts.length) + 2;
  for (let better = weights.support >= 0.5 || weights.time >= 1; better && best.parts.length < mostParts;) {
    better = false;
    let found = best;
    for (const part of best.parts) {
      if (!worthCutting(part, best.parts, weights)) continue;
      for (const option of optionsOf(part, weights, options, breadth.cuts)) {
        if (option.children.some((c) => !c.fits)) continue;
        const s = after(best, part, option);
        if (s.cost < found.cost - 0.02) found = s;
      }
    }
    if (found !== best) {
      best = found;
      better = true;
    }
  }
  return {
    cuts: best.cuts.map(({ option, part }) => cutThrough(option, part)),
    looked,
    figures: figuresOf(best, aim.rooms, ground),
  };
}

/** Such cuts that are looked at of one part. */
const mostMirrored = 3;

/** Cuts through a part like those through its twin, and where it is its own twin, in the mirror itself. */
function mirroredWays(part: PlanPart, { cuts }: State, { mirrors, longest, options }: PlanGround): Option[] {
  const planes: Mirror[] = [];
  const add = (plane: Mirror): void => {
    if (planes.length < mostMirrored && !planes.some((p) => areOne(p, plane, 1e-3 * longest))) planes.push(plane);
  };
  for (const mirror of mirrors)
    for (const { part: other, option } of cuts)
      if (areTwins(other, part, mirror, longest)) add(mirroredPlane(option, mirror));
  for (const mirror of mirrors) if (areTwins(part, part, mirror, longest)) add(mirror);
  return planes.map((plane) => optionIn(part, plane, options)).filter((o) => o !== null);
}

/** What each part takes, and which printers it fits. */
const printsOf = (parts: readonly PlanPart[], rooms: readonly Vec3[]) =>
  parts.map((p) => ({ durationsS: p.durationsS, onto: rooms.length > 1 ? roomsFor(p, rooms) : [0] }));

const figuresOf = (
  { parts, cuts, seenMm }: State,
  rooms: readonly Vec3[],
  symmetry: Pick<PlanGround, 'mirrors' | 'longest'>,
): PlanFigures => ({
  ...partFigures(parts, rooms, symmetry),
  seamMm: cuts.reduce((sum, { option }) => sum + option.seamMm, 0),
  seenSeamMm: seenMm,
});

/** What parts come to by themselves. */
function partFigures(
  parts: readonly PlanPart[],
  rooms: readonly Vec3[],
  { mirrors, longest }: Pick<PlanGround, 'mirrors' | 'longest'>,
): Omit<PlanFigures, 'seamMm' | 'seenSeamMm'> {
  const shares = sharesOf(printsOf(parts, rooms), rooms.length);
  return {
    parts: parts.length,
    fitting: parts.filter((p) => p.fits).length,
    supportMm3: parts.reduce((v, p) => v + p.supportMm3, 0),
    longestS: Math.max(...shares.map((s) => s.longestS)),
    allS: Math.max(...shares.map((s) => s.durationS)),
    slivers: parts.filter((p) => p.longestMm < figures.sliverMm.value).length,
    mirrored:
      mirrors.length > 0
        ? shareOfPaired(
            pairedIn(parts, mirrors, longest),
            parts.reduce((v, p) => v + p.volumeMm3, 0),
          )
        : null,
    shares,
    pieces: cutPieces(parts),
  };
}

/** The skins of the bodies of a stand-in. */
function skinsOf({ solid }: StandIn, context: Parameters<typeof skinOf>[0]): Skin[] {
  const pool: { delete(): void }[] = [];
  const keep: Keep = (s) => {
    pool.push(s);
    return s;
  };
  try {
    return kernelBodies(keep)(solid).map((body) => skinOf(context, body));
  } finally {
    for (const s of pool) if (s !== solid) s.delete();
  }
}

/** Is a part among those that hold most of the support, or take longest, so that a further cut might pay? */
function worthCutting(part: PlanPart, all: readonly PlanPart[], weights: Weights): boolean {
  const by = (p: PlanPart): number => (weights.support >= 0.5 ? p.supportMm3 : Math.min(...p.durationsS));
  return by(part) > 0 && all.filter((p) => by(p) > by(part)).length < 5;
}

/** The cut of an option, with the roomiest place of its section as the point by which its part is known. */
function cutThrough({ normal, offset }: Option, part: PlanPart): PlaneCut {
  const rings = sectionRings(part, normal, offset).map((ring) => ring.map((p) => toPlane({ normal, offset }, p)));
  const section = new (kernelNow().CrossSection)(rings);
  const [place] = roomiestPlaces(section, 1, 0);
  section.delete();
  return place ? { normal, offset, through: fromPlane({ normal, offset }, place.u, place.v) } : { normal, offset };
}

/** A light solid on which plans are made, and how much seams show on it. */
export interface StandIn {
  solid: Solid;
  /** the kernel's number for its triangles */
  original: number;
  seen: Float32Array;
  /** how far its skin may lie from the solid's, mm */
  toleranceMm: number;
  /** planes that it is mirrored in */
  mirrors: Mirror[];
  /** from corner to corner, mm */
  longest: number;
}

/** Makes the stand-in of a solid. */
export async function standInOf(
  kernel: Kernel,
  keep: Keep,
  mesh: TriMesh,
  rooms: readonly Vec3[],
  context: RunContext,
): Promise<StandIn> {
  context.progress(0, 'Making a light stand-in');
  const shortest = Math.min(...rooms.flat());
  const { mesh: light, toleranceMm } = await proxyOf(kernel, keep, mesh, 0.01 * shortest);
  const triangles = light.triangles.length / 3;
  const original = kernel.Manifold.reserveIDs(1);
  const solid = keep(
    new kernel.Manifold(
      new kernel.Mesh({
        numProp: 3,
        vertProperties: light.positions,
        triVerts: light.triangles,
        faceID: Uint32Array.from({ length: triangles }, (_, i) => i),
        runOriginalID: Uint32Array.of(original),
        runIndex: Uint32Array.of(0, light.triangles.length),
      }),
    ),
  );
  checkFacesOut(solid.volume());
  const seen = seenSkin(light, sliceContext(context, 0.3, 1));
  return { solid, original, seen, toleranceMm, mirrors: mirrorsOf(light), longest: diagonalOf(light) };
}

/** Outward normals of the cut faces of a body. */
const facesOf = (body: CutBody, cuts: readonly PlaneCut[]): Vec3[] =>
  sidesOf(body).map((s) => cuts[Math.abs(s) - 1].normal.map((x) => (s > 0 ? -x : x)) as unknown as Vec3);

/** What given cuts come to, judged on the stand-in as plans are. */
export function judgeCuts(stand: StandIn, cuts: readonly PlaneCut[], aim: PlanAim): PlanFigures {
  const pool: { delete(): void }[] = [];
  const keep: Keep = (s) => {
    pool.push(s);
    return s;
  };
  try {
    let ids = 0;
    const bodies = kernelBodies(keep);
    let seamMm = 0;
    let seenSeamMm = 0;
    const context = {
      rooms: aim.rooms,
      clean: aim.clean ?? [],
      profiles: profilesOf(aim),
      seen: stand.seen,
      original: stand.original,
      next: () => ++ids,
    };
    const all = cutSolid(keep, bodies, stand.solid, cuts, crumbRule, {
      body(solid, number) {
        const { normal, offset } = cuts[number];
        const { seamMm: length, seenMm } = sectionProfile(
          { ...skinOf(context, solid), frames: [] },
          normal,
          Float64Array.of(offset),
          aim.rooms,
          aim.clean,
        );
        seamMm += length[0];
        seenSeamMm += seenMm[0];
      },
    });
    const parts = all.map((body) => partOf(context, skinOf(context, body.solid), facesOf(body, cuts)));
    return { ...partFigures(parts, aim.rooms, stand), seamMm, seenSeamMm };
  } finally {
    for (const s of pool) s.delete();
  }
}
