import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import { laidPart, noColour } from '@jasmorphe/contracts/reading/laidPart';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { bedOf } from '@jasmorphe/core/planning/profileFields';
import { Refusal } from '../store/Refusal.ts';
import type { Services } from '../Services.ts';
import { modelOf, partNow, type BedfulRow } from '../store/bedfulViews.ts';

type Placed = ReportOf<'bedfuls'>['bedfuls'][number];

const refused = (message: string, hint: string): Refusal => new Refusal('state', 'cannot', message, hint, 'printerId');

/** The parts of a bedful that waits, as they lie now. @throws Refusal where one is not what it was */
function laidNow(
  row: BedfulRow,
  { number, parts }: BedfulView,
  bodies: ReadonlyMap<string, BodyView | Error>,
): LaidPart[] {
  return row.parts.map((kept, i): LaidPart => {
    const body = bodies.get(modelOf(row, kept));
    const part = body && !(body instanceof Error) ? partNow(kept, body.parts) : undefined;
    if (!part?.posed || parts[i].trouble !== null)
      throw refused(
        `${kept.tag} is not what it was when bedful ${number} was kept.`,
        'Plan the bedfuls anew at Lay out; nothing of this one is lost.',
      );
    // as it was laid, whatever it was moved to since; a colour that it was set apart by stays
    const laid = laidPart(part);
    const colour = `, ${(body as BodyView).colour || noColour}`;
    const settings = `${laid.settings}${kept.settings?.endsWith(colour) ? colour : ''}`;
    return { ...laid, tag: kept.tag, settings };
  });
}

/**
 * A bedful as it lies on another printer: as it lay where that fits, or else put together anew; with the hours that its
 * parts take there.
 *
 * @throws Refusal where that printer is of another kind, or its bed does not take all of it
 */
export async function onOtherPrinter(
  { library, compute }: Pick<Services, 'library' | 'compute'>,
  row: BedfulRow,
  view: BedfulView,
  printer: PrinterView,
): Promise<Placed> {
  const { name, kind } = printer.profile;
  if (printer.retiredAt !== null) throw refused(`${name} is no longer printed with.`, 'Choose another.');
  if (kind !== row.kind)
    throw refused(`${name} prints ${kind}; these parts are laid for ${row.kind}.`, 'Lay them anew.');
  const bodies = await library.views.viewsOf([...new Set(row.parts.map((p) => modelOf(row, p)))]);
  const parts = laidNow(row, view, bodies);
  const run = async (placed: ParamsOf<'bedfuls'>['placed']): Promise<Placed | null> => {
    const params: Partial<ParamsOf<'bedfuls'>> = {
      printers: [{ name, ...bedOf(printer.profile) }],
      parts,
      placed,
      inTurn: row.inTurn,
    };
    const inputs = [parts[0].mesh, ...parts.map((p) => p.mesh)];
    const { result } = compute.run({ kind: 'run', operation: catalogue.bedfuls.name, params, inputs });
    const { bedfuls, left } = (await result).report as ReportOf<'bedfuls'>;
    const fits = bedfuls.length === 1 && left.length === 0 && !bedfuls[0].parts.some((p) => p.clashes);
    return fits ? bedfuls[0] : null;
  };
  const found =
    (await run([{ printer: name, parts: row.parts.map(({ tag, at, turnDeg }) => ({ tag, at, turnDeg })) }])) ??
    (await run([]));
  if (!found)
    throw refused(`The bed of ${name} does not take all of bedful ${row.number}.`, 'Plan the bedfuls anew at Lay out.');
  return found;
}
