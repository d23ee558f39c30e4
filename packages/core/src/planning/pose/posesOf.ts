import { dot } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { costBesideLooks } from './poseCost.ts';
import { judgePose, type PoseFigures } from './judgePose.ts';
import { posedSkin } from './PosedSkin.ts';
import type { PoseName, School } from './schools.ts';
import { BedRoom, searchPoses } from './searchPoses.ts';
import type { PoseAim } from './StandIn.ts';

/** A pose with the school that takes it, and its figures. */
export interface SchoolPose extends PoseFigures {
  school: PoseName;
  /** does the part fit the bed in it? */
  fits: boolean;
}

/** What each school goes by, on the solid itself: less is better; null where its pose is what it is. */
const goesBy: Record<School, ((p: PoseFigures) => number) | null> = {
  best: (p) => p.costS,
  flat: null,
  lean: null,
  low: (p) => p.heightMm,
  stand: (p) => p.handS + costBesideLooks * p.costS,
};

/** Poses that differ by less are one, as a cosine. */
const same = Math.cos((0.3 * Math.PI) / 180);

/**
 * The poses of a solid by school, each measured on the solid itself. What a search found on the stand-in does not count
 * where another school's pose turns out to serve better.
 */
export async function posesOf(
  mesh: TriMesh,
  aim: PoseAim,
  wanted: readonly School[],
  context: RunContext,
): Promise<{ poses: SchoolPose[]; looked: number; fits: boolean }> {
  const bed = await BedRoom.of(mesh, aim);
  const { chosen, looked, fits } = await searchPoses(mesh, aim, bed, wanted, sliceContext(context, 0, 0.6));
  const skin = posedSkin(mesh, aim.unseen, aim.hidden);
  const judged: { up: Vec3; figures: PoseFigures; fits: boolean }[] = [];
  const of = (up: Vec3, from: number, to: number): (typeof judged)[number] => {
    const known = judged.find((j) => dot(j.up, up) > same);
    if (known) return known;
    const { rotation, fits: lies } = bed.lay(up);
    const figures = judgePose(skin, rotation, aim, sliceContext(context, from, to));
    judged.push({ up, figures, fits: lies });
    return judged.at(-1)!;
  };
  const share = 0.4 / chosen.length;
  const own = chosen.map(({ school, up }, i) => ({ school, ...of(up, 0.6 + i * share, 0.6 + (i + 1) * share) }));
  const poses = own.map(({ school, ...found }) => {
    const by = goesBy[school];
    const best = by
      ? judged.reduce((a, b) => (by(b.figures) < by(a.figures) && b.fits >= a.fits ? b : a), found)
      : found;
    return { school, fits: best.fits, ...best.figures };
  });
  return { poses, looked, fits };
}

/** One pose, as it is told. @param up direction of the mesh that is up */
export async function poseAt(
  mesh: TriMesh,
  aim: PoseAim,
  school: PoseName,
  up: Vec3,
  context: RunContext,
): Promise<SchoolPose> {
  const bed = await BedRoom.of(mesh, aim);
  const { rotation, fits } = bed.lay(up);
  return { school, fits, ...judgePose(posedSkin(mesh, aim.unseen, aim.hidden), rotation, aim, context) };
}
