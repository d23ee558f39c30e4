import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { holdText, settingsText } from '@jasmorphe/core/planning/settingsText';
import { poseAfter } from './poses.ts';
import type { PartView } from './views.ts';

/** What the printer is set to that a part is laid for; null while it is not laid. */
export function settingsOf(part: Pick<PartView, 'line' | 'cursor'>): string | null {
  const pose = poseAfter(part.line, part.cursor);
  return pose ? settingsText(readKept(PrinterProfile, pose.params.printer)) : null;
}

/** What holds a part on the bed beside its own foot, in words; empty while it is not laid, or where nothing does. */
export function heldBy(part: Pick<PartView, 'line' | 'cursor'>): string {
  const pose = poseAfter(part.line, part.cursor);
  return pose ? holdText(readKept(PrinterProfile, pose.params.printer)) : '';
}

/** How far its brim or raft reaches beyond a part, where it has any. */
function holdOf(part: Pick<PartView, 'line' | 'cursor'>): { holdMm?: number } {
  const { kind, brimMm, raftMm } = readKept(PrinterProfile, poseAfter(part.line, part.cursor)?.params.printer);
  const holdMm = kind === 'resin' ? 0 : Math.max(brimMm, raftMm);
  return holdMm > 0 ? { holdMm } : {};
}

/** A part as it lies, as bedfuls are asked with; it must be posed. */
export const laidPart = (part: PartView): LaidPart => ({
  tag: part.tag,
  mesh: part.mesh.hash,
  rotation: part.rotation,
  heightMm: part.heightMm,
  durationS: part.posed!.durationS,
  materialG: part.posed!.materialG,
  settings: settingsOf(part) ?? '',
  ...holdOf(part),
});
