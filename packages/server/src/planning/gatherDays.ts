import type { BedfulView, DaysProject } from '@jasmorphe/contracts/dayViews';
import { apart, shelfOf } from '@jasmorphe/contracts/reading/shelf';
import { jointsOf } from '@jasmorphe/contracts/reading/joints';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import type { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { instantOf, localTime } from '@jasmorphe/core/planning/days/instants';
import {
  PlanBedful,
  PlanPrinter,
  PlanProject,
  PlanSpool,
  type PlanLogEntry,
  type PlanPart,
  type PlanRequest,
} from '@jasmorphe/core/planning/days/PlanRequest';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { printingOf } from '@jasmorphe/core/planning/profileFields';
import { figures } from '@jasmorphe/core/trade/figures';
import { isPrinting, isStopped, isToPrint } from '@jasmorphe/core/planning/printState';
import type { LogRowInForce } from '../store/PrintLog.ts';
import type { Library } from '../store/Library.ts';

/** No bedful takes longer. */
const mostHours = 10_000;
/** Of a part as it is called in a plan. */
const mostNameLetters = 200;
/** Of a material as prints of the log name it. */
const mostMaterialLetters = 200;
/** Prints of the log that are looked at, the last. */
const mostLogged = 20_000;

/** All that days are planned from, as it is now. */
export interface Gathered {
  nowMs: number;
  request: PlanRequest;
  bedfuls: BedfulView[];
  projects: DaysProject[];
  printers: PrinterView[];
  bodies: BodyView[];
  log: PlanLogEntry[];
  /** what could not be planned with and is left out of the request, each in a sentence */
  leftOut: string[];
}

/** Keeps what a plan takes; a row that is odd, as one of long ago may be, is named and hinders none of the others. */
class Sorter {
  readonly leftOut: string[] = [];

  /**
   * @param what they are, many of them
   * @param of a row as the plan is given it
   * @param most that a plan takes
   */
  takes<Row, Plain extends object>(
    what: string,
    rows: readonly Row[],
    Class: new () => Plain,
    of: (row: Row, at: number) => Plain,
    nameOf: (row: Row) => string,
    most: number,
  ): Row[] {
    const taken = rows.filter((row, at) => {
      try {
        parseParams(Class, of(row, at));
        return true;
      } catch (error) {
        if (!isMeshError(error)) throw error;
        const name = nameOf(row).replaceAll('\0', '').slice(0, 40);
        this.leftOut.push(`One of the ${what} is left out, "${name}": ${error.message}`);
        return false;
      }
    });
    if (taken.length > most)
      this.leftOut.push(`Of ${taken.length} ${what} ${most} are planned with, and the others are left out.`);
    return taken.slice(0, most);
  }
}

/** A day or time as it was kept, if it is one: what came in with a pack may be anything. */
function readable(text: string | null): string {
  if (text === null) return '';
  try {
    instantOf(text, '');
    return text;
  } catch (error) {
    if (isMeshError(error)) return '';
    throw error;
  }
}

/**
 * Prints of the log with hours that are known: a bedful as one print, by what was said of it or else by its plan; of one
 * that stopped without hours as much as it stood high. What was printed by itself is held against the hours of its pose.
 *
 * @param posedS of the very mesh that an entry is about, s; null where it is not known
 */
function loggedOf(
  entries: readonly LogRowInForce[],
  bedfuls: ReadonlyMap<string, BedfulView>,
  nameOf: (printerId: string | null) => string | null,
  materialOf: ReadonlyMap<string, string>,
  posedS: (entry: LogRowInForce) => number | null,
): PlanLogEntry[] {
  const ended = entries.filter((e) => e.outcome === 'passed' || e.outcome === 'failed');
  const groups = new Map<string, LogRowInForce[]>();
  for (const e of ended) {
    const key = e.bedfulId ?? e.id;
    groups.set(key, [...(groups.get(key) ?? []), e]);
  }
  const out: PlanLogEntry[] = [];
  for (const [key, group] of groups) {
    const printer = nameOf(group[0].printerId);
    if (printer === null) continue;
    const bedful = bedfuls.get(key);
    const failed = group.some((e) => e.outcome === 'failed');
    const given = group.every((e) => e.durationS !== null);
    const saidHours = (bedful ? bedful.durationS : (posedS(group[0]) ?? 0)) / 3600;
    let hours = given ? group.reduce((n, e) => n + e.durationS!, 0) / 3600 : bedful ? saidHours : 0;
    if (!given && failed && bedful) {
      const highest = Math.max(...bedful.parts.map((p) => p.heightMm));
      const reached = Math.max(...group.map((e) => e.heightMm ?? highest));
      hours *= Math.min(1, reached / highest);
    }
    // of what nobody knows how long it took, nothing follows
    if (hours > 0 && hours <= mostHours && saidHours <= mostHours)
      out.push({
        printer,
        hours,
        saidHours: given ? saidHours : 0,
        failed,
        material: (group.flatMap((e) => materialOf.get(e.id) ?? [])[0] ?? '').slice(0, mostMaterialLetters),
      });
  }
  return out;
}

const partOf = (meshHash: string, body: BodyView | undefined): PlanPart | null => {
  const part = body?.parts.find((p) => p.mesh.hash === meshHash);
  const { volumeMm3 = null, areaMm2 = 0 } = part?.mesh.facts ?? {};
  if (!part || volumeMm3 === null) return null;
  return { volumeMm3, areaMm2, heightMm: part.heightMm, columnsMm3: part.posed?.supportMm3 ?? 0 };
};

/** What is to be printed of models and is on none of the bedfuls that are planned, each as it is called, and how it stands. */
function withoutOf(own: readonly BodyView[], on: ReadonlySet<string>): string[] {
  return own.flatMap((b) => {
    const called = (tag: string): string =>
      own.length === 1 ? tag : b.parts.length === 1 ? b.name : `${b.name} ${tag}`;
    const parts = b.parts.flatMap((p) => {
      if (!isToPrint(p) || on.has(`${b.id} ${p.mesh.hash}`)) return [];
      const how = isStopped(p) ? ' (stopped)' : isPrinting(p) ? ' (by itself)' : p.posed === null ? ' (not laid)' : '';
      return [called(p.tag) + how];
    });
    return [
      ...(b.parts.length === 0 ? [`${b.name} (not divided)`] : parts),
      ...(b.copies > 1 ? [`${b.name} (${b.copies - 1} more of it)`] : []),
    ].map((name) => name.slice(-mostNameLetters));
  });
}

function finishOf(name: string, own: readonly BodyView[], dueOn: string, without: readonly string[]): PlanProject {
  const open = own.flatMap((b) => jointsOf(b).filter((j) => !b.joined.includes(j.key)));
  const parts = own.flatMap((b) => b.parts);
  const sides = parts.map((p) => longestOf(p.mesh.facts.size));
  return {
    name,
    deadline: dueOn,
    joints: open.length,
    slow: open.filter((j) => j.glueMm2 > figures.slowGlueMm2.value).length,
    sizeMm: Math.max(0, ...own.map((b) => longestOf(b.mesh.facts.size))),
    pieceMm: sides.length > 0 ? sides.reduce((a, b) => a + b, 0) / sides.length : 0,
    pieces: parts.length,
    without: [...without],
  };
}

/** Projects, bedfuls, printers, spools and the log as one request. */
export async function gatherDays(library: Library): Promise<Gathered> {
  const nowMs = Date.now();
  const { workshop, bedfuls: kept } = library;
  const [settings, allPrinters, allSpools, allMaterials] = await Promise.all([
    workshop.settings(),
    workshop.printers(),
    workshop.spools(),
    workshop.materials(),
  ]);
  const materials = allMaterials.filter((m) => m.retiredAt === null);
  const spools = allSpools.filter((s) => materials.some((m) => m.id === s.materialId));
  const shelf = (await library.projects.all()).filter((p) => p.removedAt === null && p.archivedAt === null);
  const rows = await kept.allRows();
  const sorter = new Sorter();
  const planned = sorter.takes(
    'projects',
    // one that is wanted by a day is told of though nothing of it is on a bedful yet
    shelf.filter((p) => p.dueOn !== null || rows.some((r) => r.projectId === p.id)),
    PlanProject,
    ({ name }) => Object.assign(new PlanProject(), { name }),
    (p) => p.name,
    1000,
  );
  const all = (await library.views.allModels()).filter((m) => planned.some((p) => p.id === m.projectId));
  const views = await library.views.viewsOf(all.map((m) => m.id));
  const bodies = [...views.values()].filter((v): v is BodyView => !(v instanceof Error));
  const unread = new Map<string, string[]>();
  for (const { id, name, projectId } of all)
    if (views.get(id) instanceof Error) unread.set(projectId, [...(unread.get(projectId) ?? []), name]);
  const entries = await library.prints.inForceOf();
  const told = await kept.told(rows, views, entries);
  const bedfuls = told.filter((b) => planned.some((p) => p.id === b.projectId));
  const planPrinterOf = ({ profile }: PrinterView, name: string): PlanPrinter => ({
    name,
    kind: profile.kind,
    profile: { name: profile.name, ...printingOf(profile) },
  });
  const printers = sorter.takes(
    'printers',
    allPrinters.filter((p) => p.retiredAt === null),
    PlanPrinter,
    (p) => planPrinterOf(p, p.profile.name),
    (p) => p.profile.name,
    50,
  );
  const printerNames = apart(printers.map((p) => p.profile.name));
  const nameOf = (id: string | null): string | null => {
    const at = printers.findIndex((p) => p.id === id);
    return at < 0 ? null : printerNames[at];
  };
  const names = apart(planned.map((p) => p.name));
  const projectOf = (id: string): string => names[planned.findIndex((p) => p.id === id)];
  // what was printed for other projects, and for those that are put away, tells of the printers all the same
  const alone = entries.filter((e) => e.bedfulId === null && e.durationS !== null && e.modelId !== null);
  const others = [...new Set(alone.map((e) => e.modelId))].filter((id) => !views.has(id));
  const posed = new Map(
    [...views.values(), ...(await library.views.viewsOf(others)).values()].flatMap((v) =>
      v instanceof Error ? [] : v.parts.map((p) => [`${v.id} ${p.mesh.hash}`, p.posed?.durationS ?? null] as const),
    ),
  );
  const log = loggedOf(
    entries,
    new Map(told.map((b) => [b.id, b])),
    nameOf,
    await workshop.materialsSaid(),
    (e) => posed.get(`${e.modelId} ${e.meshHash}`) ?? null,
  );

  // of two that are said to be on one bed, as after a project was copied, the one that was started last is there
  const printing = bedfuls
    .filter((b) => b.state === 'printing' && b.printerId !== null)
    .sort((a, b) => Date.parse(b.startedAt!) - Date.parse(a.startedAt!))
    .filter((b, i, sorted) => sorted.findIndex((c) => c.printerId === b.printerId) === i);
  const waiting = bedfuls.filter((b) => {
    const fits = b.printerId !== null && b.parts.every((p) => p.trouble === null);
    return b.state === 'printing' ? printing.includes(b) : b.state === 'waiting' && fits;
  });
  const projects = planned.map((p): DaysProject => {
    const own = bodies.filter((b) => b.projectId === p.id && b.aside === null);
    const on = new Set(
      waiting.filter((b) => b.projectId === p.id).flatMap((b) => b.parts.map((q) => `${q.modelId} ${q.meshHash}`)),
    );
    return {
      id: p.id,
      name: p.name,
      dueOn: p.dueOn,
      overdue: readable(p.dueOn) !== '' && instantOf(p.dueOn!, 'dueOn', 'end') < nowMs,
      loose: [
        ...withoutOf(own, on),
        ...(unread.get(p.id) ?? []).map((name) => `${name} (cannot be read)`.slice(-mostNameLetters)),
      ],
    };
  });
  const planBedfulOf = (b: BedfulView): PlanBedful => ({
    name: `Bedful ${b.number}`,
    id: b.id,
    project: projectOf(b.projectId),
    on: [{ printer: nameOf(b.printerId)!, hours: Math.min(mostHours, b.durationS / 3600) }],
    grams: b.materialG,
    material: '',
    colour: b.colour,
    wantedAt: readable(b.wantedAt),
    startedAt: b.state === 'printing' ? readable(b.startedAt) || localTime(nowMs) : '',
    turns: b.inTurn ? b.parts.map((p) => Math.max(1e-3, Math.min(mostHours, p.durationS / 3600))) : [],
    stops: b.stops.map(({ share, says }) => ({ share, says: says.slice(0, 200) })),
    parts: b.parts.flatMap(
      (p) =>
        partOf(
          p.meshHash,
          bodies.find((v) => v.id === p.modelId),
        ) ?? [],
    ),
  });
  const request: PlanRequest = {
    from: '',
    deadline: '',
    home: homeOf(settings),
    printers: printers.map((p, i) => planPrinterOf(p, printerNames[i])),
    bedfuls: sorter
      .takes('bedfuls', waiting, PlanBedful, planBedfulOf, (b) => `${projectOf(b.projectId)} ${b.number}`, 2000)
      .map(planBedfulOf),
    projects: projects.map((p, i) =>
      finishOf(
        names[i],
        bodies.filter((b) => b.projectId === p.id && b.aside === null),
        p.overdue ? '' : readable(p.dueOn),
        p.loose,
      ),
    ),
    spools: sorter.takes(
      'spools',
      shelfOf(spools, materials),
      PlanSpool,
      (s) => s,
      (s) => s.name,
      1000,
    ),
    log: log.slice(-mostLogged),
    otherCuts: [],
  };
  return { nowMs, request, bedfuls, projects, printers, bodies, log, leftOut: sorter.leftOut };
}

const homeOf = ({
  weekdayFrom,
  weekdayTo,
  weekendFrom,
  weekendTo,
  nights,
  nightFrom,
  nightTo,
}: HomeHours): HomeHours => ({ weekdayFrom, weekdayTo, weekendFrom, weekendTo, nights, nightFrom, nightTo });
