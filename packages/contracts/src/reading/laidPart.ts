import { hoursBy } from '@jasmorphe/core/planning/profileFields';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { holdText, settingsText } from '@jasmorphe/core/planning/settingsText';
import { poseAfter } from './poses.ts';
import type { BodyView, PartView } from '../views.ts';

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
  laidFor: {
    printer: hoursBy(readKept(PrinterProfile, poseAfter(part.line, part.cursor)?.params.printer)),
    supportMm3: part.posed!.supportMm3,
  },
});

/** Stands with the settings of parts of whose colour nobody said anything, where others have one. */
export const noColour = 'no colour said';

/** A tag that no other part has, with its model's name before it, of up to 40 letters. */
function tagWith(model: string, tag: string, taken: ReadonlySet<string>): string {
  for (let n = 1; ; n++) {
    const behind = [...(n > 1 ? [n] : []), ...(tag ? [tag] : [])].map((word) => ` ${word}`).join('');
    const whole = `${model.slice(0, mostTag - behind.length).trim()}${behind}`.slice(-mostTag);
    if (!taken.has(whole)) return whole;
  }
}
const mostTag = 40;

/**
 * Parts of one model or several as bedfuls are asked with. Of several each has the name of its model before its tag, or
 * that name alone where the model is in one piece, and colours that differ are set apart: one bed has one colour.
 *
 * @param models each with those of its parts that are to be put on beds; they must be posed
 */
export function laidTogether(
  models: readonly (Pick<BodyView, 'id' | 'name' | 'colour'> & { parts: readonly PartView[]; whole?: boolean })[],
): LaidPart[] {
  const used = models.filter((m) => m.parts.length > 0);
  if (used.length < 2) return used.flatMap((m) => m.parts.map(laidPart));
  const coloured = new Set(used.map((m) => m.colour)).size > 1;
  const taken = new Set<string>();
  const namedAlike = new Map<string, string>();
  for (const { id, name } of used) {
    const same = [...namedAlike.values()].filter((n) => n === name || n.startsWith(`${name} `)).length;
    namedAlike.set(id, same > 0 ? `${name} ${same + 1}` : name);
  }
  return used.flatMap(({ id, colour, parts, whole = false }) =>
    parts.map((part): LaidPart => {
      const laid = laidPart(part);
      const tag = tagWith(namedAlike.get(id)!, whole ? '' : part.tag, taken);
      taken.add(tag);
      const settings = coloured ? [laid.settings, colour || noColour].filter(Boolean).join(', ') : laid.settings;
      return {
        ...laid,
        tag,
        settings: settings?.slice(-mostSettings),
        of: { model: id, part: part.id, tag: part.tag },
      };
    }),
  );
}
const mostSettings = 200;
