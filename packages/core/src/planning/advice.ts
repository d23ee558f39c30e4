import { figures } from '../trade/figures.ts';
import { fixed, whole } from '../words/numbers.ts';
import type { PrinterKind } from '../params/checks.ts';

/** A part as it lies, as far as advice goes. */
export interface AdvisedPart {
  kind: PrinterKind;
  /** as it lies, mm */
  size: { x: number; y: number; z: number };
  /** on which it stands */
  footMm2: number;
  supportMm3: number;
  /** faces that are glued to others */
  joints: number;
  /** that it is printed with already */
  brimMm?: number;
}

export interface Advice {
  text: string;
  reason: string;
}

const mm = (value: number): string => `${fixed(value, value % 1 === 0 ? 0 : 2)} mm`;

/** What to set before a part is printed, each with its reason. */
export function adviceOf({ kind, size, footMm2, supportMm3, joints, brimMm = 0 }: AdvisedPart): Advice[] {
  const out: Advice[] = [];
  const add = (text: string, reason: string): void => void out.push({ text, reason });
  const foot = Math.sqrt(Math.max(footMm2, 0));
  const tall = size.z > figures.tallTimes.value * foot;
  const [short, long] = [Math.min(size.x, size.y), Math.max(size.x, size.y)];
  if (kind === 'resin') {
    if (tall || footMm2 === 0)
      add(
        `Raft, ${mm(figures.raftMarginMm.value * (tall ? 2 : 1))} beyond the part.`,
        tall ? `small feet hold badly, and it is ${whole(size.z)} mm high` : 'it stands on tips alone',
      );
    return out;
  }
  // one that is about as wide as it should be is no news
  const held = brimMm >= figures.brimMm.value / 2;
  if (tall) {
    add(
      `${held ? 'Slower' : `Brim of about ${mm(figures.brimMm.value)}, slower`}, and lift the nozzle ${mm(figures.travelLiftMm.value)} while travelling.`,
      `${whole(size.z)} mm on a foot of ${whole(footMm2)} mm²: tall thin parts get knocked over`,
    );
    if (footMm2 === 0)
      add(
        `On a raft let it reach ${mm(2 * figures.raftMarginMm.value)} beyond the part.`,
        'it stands on an edge or a round, and is tall',
      );
  } else if (long > 4 * short && long > 120 && !held)
    add(`Brim of about ${mm(figures.brimMm.value)}.`, 'long thin parts lift at their ends');
  if (supportMm3 > 0)
    add(
      `Support: ${mm(figures.supportGapMm.value)} above it and ${mm(figures.supportSideMm.value)} beside it, ${figures.interfaceLayers.value} dense layers on top.`,
      figures.supportGapMm.reason,
    );
  if (joints > 0)
    add(
      `${figures.jointLayers.value} layers next to each joint: 3 to 4 walls, 30 to 40 % infill.`,
      'what is laid too much has somewhere to go, and the faces still close',
    );
  return out;
}
