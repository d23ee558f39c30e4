import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { isHeld, type HeldStop } from '@jasmorphe/core/planning/layers/StopWish';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { poseAfter } from './poses.ts';
import { lastStepOf, type StepOf } from '../steps.ts';
import type { PartView } from '../views.ts';

/** Stops that are kept with a part. */
export interface KeptStops {
  step: StepOf<'stops'>;
  /** it lies otherwise, was cut anew, or is laid in other layers since: they hold no longer */
  lapsed: boolean;
}

/** Rows of rotations that differ by less are one. */
const sameRow = 1e-6;

/** The stops kept with a part, if any were. */
export function stopsOf(part: Pick<PartView, 'line' | 'cursor' | 'rotation' | 'mesh'>): KeptStops | null {
  const step = lastStepOf(part.line, part.cursor, catalogue.stops);
  if (!step || step.report.stops.length === 0) return null;
  const { rotation, layerMm, firstLayerMm } = step.report;
  const turned = rotation.some((row, i) => row.some((c, k) => Math.abs(c - part.rotation[i][k]) > sameRow));
  const pose = poseAfter(part.line, part.cursor);
  const profile = pose && readKept(PrinterProfile, pose.params.printer);
  const otherLayers = profile !== undefined && (profile.layerMm !== layerMm || profile.firstLayerMm !== firstLayerMm);
  return { step, lapsed: turned || otherLayers || step.inputs[0] !== part.mesh.hash };
}

/** Stops that hold for a part as it lies, from the bed up. */
export function stopsInForce(part: Parameters<typeof stopsOf>[0]): HeldStop[] {
  const kept = stopsOf(part);
  if (!kept || kept.lapsed) return [];
  return kept.step.report.stops.filter(isHeld);
}
