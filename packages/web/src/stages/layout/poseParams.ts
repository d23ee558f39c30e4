import { lastStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, type ParamsOf } from '@jasmorphe/core/operations/catalogue';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { printingOf } from '@jasmorphe/core/planning/PrinterProfile';

/** The printer that a part was cut for, where it is still there under that name; or else the one that is thought of. */
export const printerOfPart = (
  { printer }: Pick<PartView, 'printer'>,
  printers: readonly PrinterView[],
  thought: PrinterView | undefined,
): PrinterView | undefined => printers.find((p) => printer !== '' && p.profile.name === printer) ?? thought;

/** What the pose of any part of a model is asked with: the printer, and the faces that are glued. */
export function poseParams(body: BodyView, printer: PrinterView | undefined): Partial<ParamsOf<'pose'>> {
  const cuts = lastStepOf(body.line, body.cursor, catalogue.divide)?.report.cuts ?? [];
  // cuts along closed lines have no plane of their own
  const unseen = cuts
    .filter((c) => !c.loop)
    .map(({ normal: { x, y, z }, offset }): PlaneCut => ({ normal: [x, y, z], offset }));
  return {
    ...(printer ? { printer: printingOf(printer.profile) } : {}),
    ...(unseen.length > 0 ? { unseen: unseen.slice(0, 200) } : {}),
  };
}
