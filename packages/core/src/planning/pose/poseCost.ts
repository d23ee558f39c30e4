import { figures } from '../../trade/figures.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';

/** What a pose is judged by. */
export interface PoseMeasures {
  heightMm: number;
  /** area that the first layer of the part itself lays on the bed */
  footMm2: number;
  /** how far it may lean on that foot before it falls; negative where it falls by itself */
  tipDeg: number;
  /** the same with what support stands on the bed */
  heldDeg: number;
  /** seen skin that support touches */
  scarMm2: number;
  /** mean height of the layers' steps on seen skin, and how much of that skin there is */
  stepMm: number;
  seenMm2: number;
  /** places that start in mid-air */
  islands: number;
  /** largest section and largest growth from one layer to the next */
  maxPeelMm2: number;
  peelJumpMm2: number;
  /** hours of the machine, s */
  durationS: number;
}

/** Share of prints lost that fall over at once, that barely hold on, and that peel as much as the whole bed (our own judgement). */
const lostWhenTipping = 0.3;
const lostWhenLoose = 0.15;
const lostWhenPeeling = 0.5;
/** A foot of this share of the square of the height holds (our own judgement). */
const stoutFoot = 0.02;

/** How much what a pose costs counts beside its looks where a part is to stand for looks. */
export const costBesideLooks = 0.02;

/** The maker's own time after the print, s: support off, marks and steps sanded. */
export const handSOf = ({ scarMm2, stepMm, seenMm2 }: Pick<PoseMeasures, 'scarMm2' | 'stepMm' | 'seenMm2'>): number =>
  (scarMm2 / 100) * figures.handSPerCm2.value + (seenMm2 / 100) * (stepMm / 0.1) * figures.stepSandSPerCm2.value;

/** Share of such prints that are lost by how they lie alone. */
export function lossOf(pose: PoseMeasures, { kind, bedMm }: Pick<PrinterProfile, 'kind' | 'bedMm'>): number {
  const falls = (deg: number): number => Math.min(1, Math.max(0, 1 - deg / figures.tipDeg.value));
  // support carries what is heavy, and breaks off where the nozzle knocks against it
  const tipping = (falls(pose.tipDeg) + falls(pose.heldDeg)) / 2;
  const loose = Math.max(0, 1 - pose.footMm2 / (stoutFoot * pose.heightMm * pose.heightMm));
  if (kind === 'filament') return Math.min(0.9, lostWhenTipping * tipping + lostWhenLoose * loose);
  const bed = bedMm[0] * bedMm[1];
  return Math.min(0.9, (lostWhenPeeling * (pose.maxPeelMm2 + pose.peelJumpMm2)) / bed);
}

/** What a pose costs in all, s: the machine with what is lost, and the maker's hands. The less the better. */
export const poseCost = (pose: PoseMeasures, profile: PrinterProfile): number =>
  pose.durationS / (1 - lossOf(pose, profile)) + handSOf(pose) + pose.islands * figures.islandS.value;
