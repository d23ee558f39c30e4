import type { BedfulPartView, BedfulView, PartTrouble } from '@jasmorphe/contracts/dayViews';
import { poseAfter } from '@jasmorphe/contracts/reading/poses';
import { stopsInForce } from '@jasmorphe/contracts/reading/stops';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { PrinterKind } from '@jasmorphe/core/params/checks';
import { bedfulStops } from '@jasmorphe/core/planning/bedfuls/bedfulStops';
import { isPrinting, isWaiting, standingOf } from '@jasmorphe/core/planning/printState';
import { stopText } from '@jasmorphe/core/trade/stopKinds';
import { Refusal } from './Refusal.ts';
import type { LogRowInForce } from './PrintLog.ts';
import type { bedfuls, KeptPart } from './schema.ts';

export type BedfulRow = typeof bedfuls.$inferSelect;

/** The model that a part of a bedful is of. */
export const modelOf = (row: Pick<BedfulRow, 'modelId'>, part: KeptPart): string => part.of?.model ?? row.modelId;

/** The tag of a part of a bedful among those of its own model. */
export const ownTagOf = (part: KeptPart): string => part.of?.tag ?? part.tag;

/** Models that a bedful holds parts of. */
export const modelsOf = (row: Pick<BedfulRow, 'modelId' | 'parts'>): string[] => [
  ...new Set(row.parts.map((p) => modelOf(row, p))),
];

/** Version of the operation since which each part has its hours on the printer that it is on. */
const hoursByPrinterSince = 5;

/** A bedful by its row alone. */
export function bareView(row: BedfulRow): BedfulView {
  const { id, projectId, modelId, number, kind, bedMm, fillPct, durationS, materialG, wantedAt } = row;
  return {
    id,
    projectId,
    modelId,
    number,
    kind,
    printerId: row.printerId,
    printer: row.printerName,
    bedMm,
    parts: row.parts.map(({ rotation: _r, settings: _s, mesh, of, laidFor: _l, ...part }) => ({
      ...part,
      modelId: of?.model ?? row.modelId,
      meshHash: mesh,
      state: 'planned',
      trouble: null,
    })),
    settings: row.parts[0]?.settings ?? '',
    colour: '',
    stops: [],
    inTurn: row.inTurn,
    fillPct,
    durationS,
    materialG,
    wantedAt,
    state: 'waiting',
    startedAt: null,
  };
}

/** A part of a bedful as it is now among those of its model. A divide that was done anew may have made it under another id. */
export const partNow = (kept: KeptPart, parts: readonly PartView[]): PartView | undefined =>
  parts.find((p) => p.id === kept.partId) ?? parts.find((p) => p.mesh.hash === kept.mesh && p.tag === ownTagOf(kept));

/** What has become of a part since it was put into a bedful; null where it is as it was. */
function troubleOf(kept: KeptPart, parts: readonly PartView[]): PartTrouble | null {
  const part = partNow(kept, parts);
  if (!part) return 'gone';
  if (part.mesh.hash !== kept.mesh) return 'changed';
  if (!isWaiting(part)) return part.state as PartTrouble;
  const [, , up] = kept.rotation;
  const same = up[0] * part.up[0] + up[1] * part.up[1] + up[2] * part.up[2];
  return same < 1 - 1e-9 ? 'relaid' : null;
}

/**
 * A bedful as it is now.
 *
 * @param partsOf a model that are in force
 * @param log entries in force of its models
 * @param printer undefined where it is gone, or no longer printed with
 */
export function bedfulView(
  row: BedfulRow,
  partsOf: (modelId: string) => readonly PartView[],
  log: readonly LogRowInForce[],
  printer: PrinterView | undefined,
): BedfulView {
  const bare = bareView(row);
  const started = log.find((e) => e.bedfulId === row.id && e.outcome === 'started');
  let printing = false;
  const told = bare.parts.map((part, i): BedfulPartView => {
    // two models may have one and the same mesh
    const said = log.filter((e) => e.meshHash === part.meshHash && e.modelId === part.modelId);
    const { state } = standingOf(said);
    // it may be on another bed by now
    if (isPrinting({ state }) && said.findLast((e) => e.outcome === 'started')?.bedfulId === row.id) printing = true;
    return { ...part, state, trouble: started ? null : troubleOf(row.parts[i], partsOf(part.modelId)) };
  });
  const stopped = told.map(({ tag, heightMm, durationS, meshHash, modelId, trouble }, i) => {
    const own = ownTagOf(row.parts[i]);
    const part = trouble === null && partsOf(modelId).find((p) => p.mesh.hash === meshHash && p.tag === own);
    const stops = part ? stopsInForce(part).map((s) => ({ ...s, says: stopText(s) })) : [];
    return { tag, heightMm, durationS, stops };
  });
  return {
    ...bare,
    parts: told,
    stops: bedfulStops(stopped, row.inTurn),
    printerId: printer?.id ?? null,
    // a printer that was named anew is still the same
    printer: printer?.profile.name ?? row.printerName,
    state: !started ? 'waiting' : printing ? 'printing' : 'done',
    startedAt: started?.at ?? null,
  };
}

/** What was worked out does not hold any more. */
export const changedSince = (what: string): Refusal =>
  new Refusal('state', 'cannot', `${what} since these bedfuls were worked out.`, 'Plan the bedfuls anew.', 'stepId');

/**
 * The parts of a bedful that was worked out, as they are kept.
 *
 * @param views of the models that they are of
 * @param modelId of those that say of no other
 * @throws Refusal where one is not what it was, or overlaps
 */
export function keptParts(
  { parts, printer, settings }: StepOf<'bedfuls'>['report']['bedfuls'][number],
  { params, version }: StepOf<'bedfuls'>,
  views: ReadonlyMap<string, BodyView>,
  modelId: string,
  kind: PrinterKind,
): KeptPart[] {
  return parts.map(({ tag, at, turnDeg, path, clashes, durationS, materialG }): KeptPart => {
    if (clashes)
      throw new Refusal(
        'state',
        'cannot',
        `${tag} overlaps another part or its gap, reaches beyond the bed of ${printer}, or has other settings.`,
        'Move it, and try again.',
        'stepId',
      );
    const laid = params.parts.find((p) => p.tag === tag)!;
    const model = laid.of?.model ?? modelId;
    const there = views.get(model)!.parts;
    const own = laid.of?.tag ?? tag;
    const part = there.find((p) => p.id === laid.of?.part) ?? there.find((p) => p.tag === own);
    if (part?.mesh.hash !== laid.mesh) throw changedSince(`${tag} has changed`);
    const of = views.size > 1 ? { model, part: part.id, tag: part.tag } : undefined;
    const { laidFor: _, ...plain } = laid;
    const kept = {
      ...plain,
      // plans of an earlier version know those alone that it was laid for
      ...(version < hoursByPrinterSince ? {} : { durationS, materialG, settings }),
      of,
      partId: part.id,
      at,
      turnDeg,
      path,
    };
    const trouble = troubleOf(kept, there);
    if (trouble) throw changedSince(trouble === 'relaid' ? `${tag} was laid otherwise` : `${tag} was started`);
    if (poseAfter(part.line, part.cursor)?.report.kind !== kind)
      throw changedSince(`${tag} was laid for another kind of printer`);
    return kept;
  });
}
