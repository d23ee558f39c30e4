import { quietContext, type RunContext } from '../../run/context.ts';
import { cross, dot, normalize, placeMesh, rotationToZ, type Mat3 } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { hullOf } from '../../solid/kernel.ts';
import { weldExact } from '../../mesh/weld.ts';
import { figures } from '../../trade/figures.ts';
import { enough, flatFit, multiply, posePoints } from '../bedFit.ts';
import { spreadDirections } from '../cuts/proxySolid.ts';
import { flatsOf, reachAlong, restsOf } from '../partPose.ts';
import { roomBeside } from '../room.ts';
import { costBesideLooks, poseCost, handSOf, type PoseMeasures } from './poseCost.ts';
import type { School } from './schools.ts';
import { StandIn, type PoseAim } from './StandIn.ts';

/** Directions over the whole sphere in which poses are looked for. */
const sphere = 500;
/** Facets of the hull that are tried as a foot. */
const mostFacets = 24;
/** Of a lean: ways to lean to, and steps of it. */
const leanWays = 12;
const leanSteps = 6;
/** Best poses from which better ones are sought around, and the first and last turn of that search, radians. */
const sought = 4;
const firstTurn = 0.1;
const lastTurn = 0.006;
/** Poses that are judged at most, whatever is still gained. */
const mostTried = 4000;

/** The hull of a mesh on a bed: which poses fit. */
export class BedRoom {
  private constructor(
    /** corners of the hull */
    readonly points: Float32Array,
    readonly hull: TriMesh | null,
    readonly room: Vec3,
  ) {}

  static async of(mesh: TriMesh, { profile }: PoseAim): Promise<BedRoom> {
    const hull = await hullOf(mesh);
    const room = roomBeside(profile.bedMm, profile.marginMm, profile.keepOuts);
    return new BedRoom(hull?.positions ?? weldExact(mesh).positions, hull, room);
  }

  /** Rows of the rotation that lays a direction up, turned about the vertical as fits best, and whether it fits. */
  lay(up: Vec3): { rotation: Mat3; fits: boolean } {
    const upright = rotationToZ(up);
    const { positions } = placeMesh({ positions: this.points, triangles: new Uint32Array() }, upright);
    const { m, value } = flatFit(positions, this.room);
    return { rotation: multiply(m, upright), fits: value >= enough };
  }

  /** Does it fit in that pose, turned about the vertical in some way? */
  fits(up: Vec3): boolean {
    const upright = rotationToZ(up);
    const size = [0, 1, 2].map((k) => {
      const { lo, hi } = reachAlong(this.points, upright[k]);
      return (hi - lo) * enough;
    });
    if (size[2] > this.room[2]) return false;
    // as it is, or turned by a quarter: what fits so needs no closer look
    const [x, y] = this.room;
    if ((size[0] <= x && size[1] <= y) || (size[0] <= y && size[1] <= x)) return true;
    return this.lay(up).fits;
  }
}

/** A pose that was judged on the stand-in. */
export interface Tried {
  up: Vec3;
  measures: PoseMeasures;
  costS: number;
}

/** A pose that a school takes. */
export interface Chosen {
  school: School;
  up: Vec3;
}

export interface PoseSearch {
  chosen: Chosen[];
  /** does the part fit the bed in any pose? */
  fits: boolean;
  /** poses that were compared */
  looked: number;
}

/** Poses are one when they differ by less than this, as a cosine. */
const same = Math.cos((0.5 * Math.PI) / 180);

/** Directions beside one, turned by an angle to `count` sides. */
function around(up: Vec3, angle: number, count: number): Vec3[] {
  const aside = normalize(cross(Math.abs(up[0]) < 0.8 ? [1, 0, 0] : [0, 1, 0], up));
  const beside = cross(up, aside);
  const [s, c] = [Math.sin(angle), Math.cos(angle)];
  return Array.from({ length: count }, (_, i) => {
    const a = (2 * Math.PI * i) / count;
    const [u, v] = [s * Math.cos(a), s * Math.sin(a)];
    return [0, 1, 2].map((k) => c * up[k] + u * aside[k] + v * beside[k]) as unknown as Vec3;
  });
}

/**
 * Looks for the pose of each school among directions spread over the sphere, flats of the skin, facets of the hull and
 * leaning poses, then around the best of them by ever smaller turns. Judged on a stand-in; whoever takes a pose measures
 * it on the solid itself. (Search by samples and descent over the sphere as in Frank and Fadel 1995 and Ezair, Massarwi
 * and Elber 2015; the cost is our own.)
 *
 * @param wanted schools that are looked for
 */
export async function searchPoses(
  mesh: TriMesh,
  aim: PoseAim,
  bed: BedRoom,
  wanted: readonly School[],
  context: RunContext = quietContext,
): Promise<PoseSearch> {
  const { profile } = aim;
  context.progress(0, 'Making a stand-in');
  const standIn = await StandIn.of(mesh, aim);
  const tried: Tried[] = [];
  const judge = (up: Vec3): Tried => {
    context.checkCancelled();
    const measures = standIn.measure(up);
    const pose = { up, measures, costS: poseCost(measures, profile) };
    tried.push(pose);
    return pose;
  };
  const laid = new Map<Tried, boolean>();
  let anyFits = true;
  const fits = (pose: Tried): boolean => {
    if (!anyFits) return true;
    let known = laid.get(pose);
    if (known === undefined) laid.set(pose, (known = bed.fits(pose.up)));
    return known;
  };

  // flats of the skin first, so that a pose beside one gives way to it
  const ways: Vec3[] = restsOf(mesh, bed.points).map((rest) => rest.up);
  const flats = ways.length;
  const facets = bed.hull ? flatsOf(bed.hull).slice(0, mostFacets) : [];
  for (const { normal } of facets) ways.push([-normal[0], -normal[1], -normal[2]]);
  for (const up of spreadDirections(sphere / 2)) ways.push(up, [-up[0], -up[1], -up[2]]);
  ways.forEach((up, i) => {
    if ((i & 15) === 0) context.progress((0.6 * i) / ways.length, 'Trying poses all round');
    const before = ways.slice(0, Math.min(i, flats + facets.length));
    if (i < flats || !before.some((w) => dot(w, up) > same)) judge(up);
  });

  // where none of them fits, the full search may still know one
  if (!tried.some(fits)) {
    const whole = posePoints(bed.points, bed.room);
    if (whole.fits) {
      const up = whole.pose.rotation[2] as unknown as Vec3;
      return { chosen: wanted.map((school) => ({ school, up })), fits: true, looked: standIn.judged };
    }
    anyFits = false;
  }

  const least = (value: (p: Tried) => number, among: readonly Tried[] = tried): Tried => {
    const order = [...among].sort((a, b) => value(a) - value(b));
    return order.find(fits) ?? order[0];
  };
  /** The best around the best few, by turns that are halved. */
  const descend = (value: (p: Tried) => number): Tried => {
    const starts: Tried[] = [];
    for (const p of [...tried].sort((a, b) => value(a) - value(b))) {
      if (starts.length >= sought) break;
      if (!starts.some((s) => dot(s.up, p.up) > Math.cos(firstTurn)) && fits(p)) starts.push(p);
    }
    let best = starts[0] ?? least(value);
    for (const start of starts) {
      let at = start;
      for (let turn = firstTurn; turn > lastTurn; turn /= 2) {
        const next = around(at.up, turn, 6).map(judge);
        const better = least(value, [at, ...next]);
        if (better !== at && value(better) < value(at)) {
          at = better;
          turn *= 2;
          if (tried.length > mostTried) break;
        }
      }
      if (value(at) < value(best) && fits(at)) best = at;
    }
    return best;
  };

  const cost = (p: Tried): number => p.costS;
  // the largest foot; among equal ones the lowest print is done soonest (common practice)
  const broadest = (): Tried => {
    const most = least((p) => -p.measures.footMm2).measures.footMm2;
    return least(
      (p) => p.measures.heightMm,
      tried.filter((p) => p.measures.footMm2 >= 0.99 * most),
    );
  };
  let flat: Tried | null = null;
  const flatDown = (): Tried => (flat ??= broadest());
  const pick: Record<School, () => Tried> = {
    best: () => descend(cost),
    flat: flatDown,
    low: () => {
      const lowest = descend((p) => p.measures.heightMm).measures.heightMm;
      // a layer more or less is worth less than what else is better
      return least(
        cost,
        tried.filter((p) => p.measures.heightMm < 1.01 * lowest + profile.layerMm),
      );
    },
    stand: () => descend((p) => handSOf(p.measures) + costBesideLooks * p.costS),
    lean: () => {
      const [from, to] = [figures.leanLeastDeg.value, figures.leanMostDeg.value].map((d) => (d * Math.PI) / 180);
      const leaning: Tried[] = [];
      for (let i = 0; i < leanSteps; i++)
        for (const up of around(flatDown().up, from + ((to - from) * i) / (leanSteps - 1), leanWays))
          leaning.push(judge(up));
      return least(cost, leaning);
    },
  };
  const chosen = wanted.map((school, i) => {
    context.progress(0.6 + (0.4 * i) / wanted.length, 'Turning the best of them');
    return { school, up: pick[school]().up };
  });
  return { chosen, fits: anyFits, looked: standIn.judged };
}
