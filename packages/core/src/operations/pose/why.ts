import type { SchoolPose } from '../../planning/pose/posesOf.ts';
import { schoolNames, type PoseName } from '../../planning/pose/schools.ts';
import { secondsText, type Speaker } from '../../words/numbers.ts';

type Why = (pose: SchoolPose, say: Speaker) => string;

const own: Record<PoseName, Why> = {
  best: (p, { volume }) =>
    `It costs least in all: ${secondsText(p.durationS)} of printing, ${secondsText(p.handS)} of your hands, ${volume(p.supportMm3)} of support.`,
  flat: (p, { area }) => `It stands on the broadest foot, ${area(p.footMm2)}.`,
  lean: (p, { length, area }) =>
    `It leans back, so that no layer peels more than ${area(p.maxPeelMm2)} or grows by more than ${area(p.peelJumpMm2)} at once; it is ${length(p.heightMm)} high.`,
  low: (p, { length }) => `It lies as low as it goes: ${length(p.heightMm)}.`,
  own: (p, { volume }) =>
    `As you turned it: ${secondsText(p.durationS)} of printing, ${secondsText(p.handS)} of your hands, ${volume(p.supportMm3)} of support.`,
  stand: (p, { area, fine }) =>
    `It spares the skin that is seen: ${area(p.scarMm2)} touched by support, steps of ${fine(p.stepMm)} in the mean.`,
};

/** Are two poses one: is the same up, but for a third of a degree? */
export const isSamePose = (a: SchoolPose, b: SchoolPose): boolean =>
  a.up.x * b.up.x + a.up.y * b.up.y + a.up.z * b.up.z > Math.cos((0.3 * Math.PI) / 180);

/** Why a pose, in a sentence or two; against the next best where several were looked at. */
export function whyOf(pose: SchoolPose, poses: readonly SchoolPose[], say: Speaker): string {
  const reason = pose.fits
    ? own[pose.school](pose, say)
    : poses.some((p) => p.fits) || poses.length < 2
      ? 'It reaches beyond the bed as it lies so.'
      : 'It fits the bed in no pose that was tried.';
  const others = poses.filter((p) => !isSamePose(p, pose) && p.fits >= pose.fits);
  if (others.length === 0) return reason;
  const next = others.reduce((a, b) => (b.costS < a.costS ? b : a));
  const more = next.costS - pose.costS;
  const name = schoolNames[next.school].toLowerCase();
  return `${reason} ${
    more >= 0
      ? `The next, ${name}, costs ${secondsText(more)} more.`
      : `By hours, hands and risk together ${name} costs ${secondsText(-more)} less.`
  }`;
}
