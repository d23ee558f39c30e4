import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { Weights } from './styles.ts';

/** Length of a seam that weighs one: once round the bed, mm. */
export const roundBedOf = (room: Vec3): number => 2 * (room[0] + room[1]);

/** Room under overhangs that weighs one: a hundredth of the printer's room, mm³. */
export const supportUnitOf = (room: Vec3): number => 0.01 * room[0] * room[1] * room[2];

/** What a part that fits no bed costs beside being one. */
export const misfit = 4;

/** What a plan costs, in parts: the less the better. */
export function planCost(
  plan: {
    parts: number;
    fitting: number;
    seenSeamMm: number;
    supportMm3: number;
    allS: number;
    slivers: number;
    mirrored: number | null;
  },
  weights: Weights,
  scale: { room: Vec3; allS: number },
): number {
  return (
    weights.parts * plan.parts +
    misfit * (plan.parts - plan.fitting) +
    (weights.seam * plan.seenSeamMm) / roundBedOf(scale.room) +
    (weights.support * plan.supportMm3) / supportUnitOf(scale.room) +
    (weights.time * plan.allS) / (scale.allS || 1) +
    weights.sliver * plan.slivers +
    weights.symmetry * (1 - (plan.mirrored ?? 1))
  );
}
