import type { PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { printingOf } from '@jasmorphe/core/planning/profileFields';

/** The printer that a part was cut for, where it is still there under that name; or else the one that is thought of. */
export const printerOfPart = (
  { printer }: Pick<PartView, 'printer'>,
  printers: readonly PrinterView[],
  thought: PrinterView | undefined,
): PrinterView | undefined => printers.find((p) => printer !== '' && p.profile.name === printer) ?? thought;

/** What the pose of any part of a model is asked with: the printer, and the faces that are glued. */
export const poseParams = (
  unseen: readonly PlaneCut[],
  printer: PrinterView | undefined,
): Partial<ParamsOf<'pose'>> => ({
  ...(printer ? { printer: printingOf(printer.profile) } : {}),
  ...(unseen.length > 0 ? { unseen: [...unseen] } : {}),
});
