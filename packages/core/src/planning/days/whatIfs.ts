import { nozzlesMm, figures } from '../../trade/figures.ts';
import { parseParams } from '../../params/parseParams.ts';
import { roughDurationS, roughMaterialMm3 } from '../estimate.ts';
import { PrinterProfile } from '../PrinterProfile.ts';
import type { DaysPlan } from './DaysPlan.ts';
import { planDays } from './planDays.ts';
import { cutOtherwise } from './otherCuts.ts';
import { PlanPart, type PlanBedful, type PlanRequest } from './PlanRequest.ts';

const whatIfKinds = ['more', 'thicker', 'nozzle', 'walls', 'cuts'] as const;
export type WhatIfKind = (typeof whatIfKinds)[number];

/** The plan as it would be otherwise, in what is compared. */
export interface WhatIf {
  kind: WhatIfKind;
  /** what is changed: the printer that there would be two of, the layer or the bore in mm, the walls, the plan of cuts */
  what: string | number;
  ready: DaysPlan['ready'];
  readyP90: DaysPlan['readyP90'];
  lateProbability: number | null;
  printS: number;
  handsS: number;
  materialG: number;
}

type Change = (profile: PrinterProfile) => Partial<PrinterProfile> | null;

const changes: Record<Exclude<WhatIfKind, 'more' | 'cuts'>, Change> = {
  thicker: ({ kind, layerMm, nozzleMm }) => {
    const to = layerMm * figures.thickerLayerFactor.value;
    return kind === 'filament' && to > nozzleMm * figures.thickestLayerShare.value + 1e-9 ? null : { layerMm: to };
  },
  nozzle: ({ kind, nozzleMm, lineWidthMm, layerMm }) => {
    const to = nozzlesMm.find((n) => n > nozzleMm + 1e-9);
    if (kind !== 'filament' || to === undefined) return null;
    const larger = to / nozzleMm;
    return { nozzleMm: to, lineWidthMm: lineWidthMm * larger, layerMm: layerMm * larger };
  },
  walls: ({ kind, walls }) => (kind === 'filament' && walls > 2 ? { walls: walls - 1 } : null),
};

/** A bedful as it would print with other settings: by the volume, skin and overhangs of its parts. */
function changed(
  bedful: PlanBedful,
  profiles: ReadonlyMap<string, readonly [now: PrinterProfile, then: PrinterProfile]>,
): PlanBedful {
  const { parts = [] } = bedful;
  const own = bedful.on.map(({ printer }) => profiles.get(printer));
  if (parts.length === 0 || own.every((p) => p === undefined)) return bedful;
  const ratio = (of: (profile: PrinterProfile) => number, pair: readonly [PrinterProfile, PrinterProfile]): number => {
    const now = of(pair[0]);
    return now > 0 ? of(pair[1]) / now : 1;
  };
  const full = parts.map((p) => parseParams(PlanPart, p));
  // what stands on a resin plate is cured side by side
  const seconds = (profile: PrinterProfile): number => {
    const all = full.map((p) => roughDurationS(p, profile));
    return profile.kind === 'resin' ? Math.max(...all) : all.reduce((a, b) => a + b, 0);
  };
  const first = own.find((p) => p !== undefined)!;
  return {
    ...bedful,
    grams: bedful.grams * ratio((profile) => full.reduce((n, p) => n + roughMaterialMm3(p, profile), 0), first),
    on: bedful.on.map((o, i) => ({ ...o, hours: o.hours * (own[i] ? ratio(seconds, own[i]) : 1) })),
  };
}

/**
 * The plan with one thing changed, side by side: one more of the printer that holds all up, thicker layers, a larger
 * nozzle, a wall less, other plans of cuts. Bedfuls stay as they are but where a model is cut otherwise; those on a bed
 * already go on as they were begun.
 */
export function whatIfs(request: PlanRequest, plan: DaysPlan, nowMs: number, seed = 1): WhatIf[] {
  const out: WhatIf[] = [];
  const add = (kind: WhatIfKind, what: WhatIf['what'], other: PlanRequest): void => {
    const { ready, readyP90, lateProbability, printS, handsS, materialG } = planDays(other, nowMs, seed);
    out.push({ kind, what, ready, readyP90, lateProbability, printS, handsS, materialG });
  };
  const held = plan.days.filter((d) => d.decides).at(-1)?.printer;
  const waiting = plan.days.filter((d) => d.printer === held && !d.running).length;
  const printer = request.printers.find((p) => p.name === held);
  if (printer && waiting > 1) {
    let twin = `${printer.name.slice(0, 190)} twin`;
    while (request.printers.some((p) => p.name === twin)) twin += "'";
    add('more', printer.name, {
      ...request,
      printers: [...request.printers, { ...printer, name: twin }],
      bedfuls: request.bedfuls.map((b) => {
        const own = b.on.find((o) => o.printer === printer.name);
        return own && !b.startedAt ? { ...b, on: [...b.on, { ...own, printer: twin }] } : b;
      }),
      // it would fail as often as the one there is
      log: [
        ...request.log,
        ...request.log.filter((e) => e.printer === printer.name).map((e) => ({ ...e, printer: twin })),
      ],
    });
  }
  for (const kind of ['thicker', 'nozzle', 'walls'] as const) {
    const profiles = new Map<string, readonly [PrinterProfile, PrinterProfile]>();
    let what = 0;
    for (const { name, profile } of request.printers) {
      if (!profile) continue;
      const now = parseParams(PrinterProfile, profile);
      const change = changes[kind](now);
      if (!change) continue;
      profiles.set(name, [now, Object.assign(new PrinterProfile(), now, change)]);
      if (name === held || what === 0)
        what = { thicker: change.layerMm, nozzle: change.nozzleMm, walls: change.walls }[kind]!;
    }
    const touched = request.bedfuls.some(
      (b) => !b.startedAt && (b.parts?.length ?? 0) > 0 && b.on.some((o) => profiles.has(o.printer)),
    );
    if (!touched) continue;
    add(kind, what, {
      ...request,
      bedfuls: request.bedfuls.map((b) => (b.startedAt ? b : changed(b, profiles))),
    });
  }
  for (const cuts of request.otherCuts ?? []) {
    const other = cutOtherwise(request, cuts);
    if (other) add('cuts', cuts.name, other);
  }
  return out;
}
