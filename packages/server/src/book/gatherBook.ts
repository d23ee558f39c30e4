import { expectedS } from '@jasmorphe/core/planning/bedfuls/packBeds';
import { rateBy } from '@jasmorphe/core/planning/days/failures';
import type { BedfulPartView } from '@jasmorphe/contracts/dayViews';
import { adviceFor, joinsOf, wayWords } from '@jasmorphe/contracts/reading/jointWords';
import { cutTag, jointsOf, waitsOf } from '@jasmorphe/contracts/reading/joints';
import { heldBy, settingsOf } from '@jasmorphe/contracts/reading/laidPart';
import { adviceForPart, madeOf } from '@jasmorphe/contracts/reading/partAdvice';
import { poseAfter } from '@jasmorphe/contracts/reading/poses';
import { stopsInForce } from '@jasmorphe/contracts/reading/stops';
import { stopFindings } from '@jasmorphe/contracts/reading/findings';
import { isStepOf, lastStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { DividedPart } from '@jasmorphe/core/operations/divide/describe';
import { mapLayout } from '@jasmorphe/core/operations/divide/mapSvg';
import type { DrawingReport } from '@jasmorphe/core/operations/drawing/describe';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { whyOf } from '@jasmorphe/core/operations/pose/why';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import { localTime } from '@jasmorphe/core/planning/days/instants';
import type { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { stopLine, stopText } from '@jasmorphe/core/trade/stopKinds';
import { liesHow } from '@jasmorphe/core/planning/pose/schools';
import { countOf, inMm } from '@jasmorphe/core/words/numbers';
import { isPrinted, printStateWords } from '@jasmorphe/core/planning/printState';
import { gatherDays, type Gathered } from '../planning/gatherDays.ts';
import type { Library } from '../store/Library.ts';
import type { Book, BookPart, BookStep } from './Book.ts';

/** What a book has worked out for it: in threads of the server, or at once on the command line. */
export interface BookWork {
  /** a mesh as it lies, in lines; null where it cannot be drawn */
  draw: (meshHash: string, rotation: number[][]) => Promise<DrawingReport | null>;
  plan: (request: PlanRequest, nowMs: number) => Promise<DaysPlan>;
}

const asItStands = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** To which parts it is joined, and by what: "B3: 4 pins"; what is left of one that stopped to what stands of it first. */
function joinsTo(part: DividedPart | undefined, { tag: own, rests }: PartView): string[] {
  const stump = rests > 1 ? `${cutTag(own)}r${rests - 1}` : cutTag(own);
  const joins = (part?.beside ?? []).map(({ tag, cut }) => {
    const made = part!.joins.filter((j) => j.to === tag && j.cut === cut);
    const kinds = new Map<string, number>();
    for (const j of made) kinds.set(j.kind, (kinds.get(j.kind) ?? 0) + 1);
    const by = [...kinds].map(([kind, n]) => countOf(n, kind)).join(', ');
    return `${tag}: ${by || 'glue alone'}`;
  });
  return rests > 0 ? [`${stump}, its stump: glue alone`, ...joins] : joins;
}

async function partOf(
  body: BodyView,
  part: PartView,
  made: DividedPart | undefined,
  { bedfuls, rateOf }: { bedfuls: Gathered['bedfuls']; rateOf: (printerId: string | null, name: string) => number },
  address: string,
  draw: BookWork['draw'],
): Promise<BookPart> {
  const pose = poseAfter(part.line, part.cursor);
  const posed = part.posed !== null && pose !== undefined ? takenOf(pose.report) : null;
  const drawing = await draw(part.mesh.hash, part.rotation);
  const size = drawing?.size ?? part.mesh.facts.size;
  const isOn = (p: BedfulPartView): boolean => p.modelId === body.id && p.meshHash === part.mesh.hash;
  const bedful = bedfuls.find((b) => b.parts.some(isOn));
  // on the printer that it goes on, which need not be the one that it was laid for
  const taken = bedful?.parts.find(isOn) ?? part.posed;
  const perHour = rateOf(bedful?.printerId ?? null, part.printer);
  const joins = joinsTo(made, part);
  const found = pose && posed ? (catalogue.pose.findings?.of(pose.params, pose.report) ?? []) : [];
  return {
    tag: part.tag,
    model: body.name,
    state: printStateWords[part.state],
    size,
    lies: posed ? liesHow[posed.school] : 'as it was cut',
    why: pose && posed ? whyOf(posed, pose.report.poses, inMm) : '',
    settings: [bedful?.settings || (settingsOf(part) ?? 'not laid yet'), heldBy(part)].filter(Boolean).join(', '),
    layers: posed?.layers ?? null,
    durationS: taken?.durationS ?? null,
    expectedS: taken ? expectedS(taken.durationS, perHour) : null,
    materialG: taken?.materialG ?? null,
    bedful: bedful?.number ?? null,
    printer: bedful?.printer ?? part.printer,
    joins,
    stops: stopsInForce(part).map((s) => stopLine(s, stopText(s), inMm)),
    advice: adviceForPart(body, part, posed, pose?.params.printer ?? {}, size),
    cautions: [...found, ...stopFindings(part)].map((f) => findingSentence(f)),
    drawing,
    address: `${address}/project/${body.projectId}/print?model=${body.id}&part=${encodeURIComponent(part.tag)}`,
  };
}

function stepsOf(body: BodyView): BookStep[] {
  const step = lastStepOf(body.line, body.cursor, catalogue.divide);
  if (!step) return [];
  const begun = body.parts.some((p) => isPrinted(p) || p.rests > 0);
  return jointsOf(body).map((joint, i) => ({
    model: body.name,
    no: i + 1,
    put: joint.parts.join(' + '),
    to: joint.from.join(', '),
    from: wayWords(joint.direction),
    // of a model of which nothing is printed it need not be said
    advice: adviceFor(joint, joinsOf(step.report, joint), begun ? waitsOf(joint, body) : []),
  }));
}

/** Cautions of the trade that apply, each once (TRADE: cautions). */
function cautionsOf(kinds: ReadonlySet<string>, steps: readonly BookStep[], largestMm: number): string[] {
  const out = [
    'Unattended or overnight only with working thermal protection and a smoke alarm; nothing flammable around.',
  ];
  if (kinds.has('resin'))
    out.push(
      'Uncured resin sensitises skin for life: nitrile gloves, eye protection, ventilation, no food near. Washing alcohol is highly flammable. Resin waste is cured before it is thrown away, by local rules.',
    );
  if (steps.length > 0)
    out.push(
      'Cyanoacrylate: ventilation, eyes, never on cotton or wool. Sanding dust: wet-sand, with a respirator. Solvent cements: outdoors, with a respirator.',
    );
  if (largestMm > 1000) out.push('Large pieces: mind weight and tipping; give it a frame.');
  out.push(
    'What a person stands on or under, or hangs over people, is work for a licensed professional under local codes. Product data sheets and local codes come before what is said here.',
  );
  return out;
}

/** The project's days among those of all, and what it alone would have bought; null where none of its bedfuls waits. */
async function planOf(
  { request, nowMs }: Gathered,
  index: number,
  ids: ReadonlySet<string>,
  plan: BookWork['plan'],
): Promise<DaysPlan | null> {
  const own = request.bedfuls.filter((b) => ids.has(b.id));
  if (own.length === 0) return null;
  const { name } = request.projects[index];
  const [all, alone] = await Promise.all([
    plan(request, nowMs),
    plan({ ...request, bedfuls: own, projects: [request.projects[index]] }, nowMs),
  ]);
  const { ready, readyP90, lateProbability } = all.projects[index];
  return {
    ...alone,
    days: all.days.filter((d) => ids.has(d.id)),
    bench: all.bench.filter((b) => b.project === name),
    projects: [all.projects[index]],
    ready,
    readyP90,
    lateProbability,
  };
}

/**
 * All that the build book of a project tells.
 *
 * @param address of the server that its pages are at, for the codes on the sheets
 * @throws Refusal `not-found`
 */
export async function gatherBook(
  library: Library,
  projectId: string,
  address: string,
  { draw, plan }: BookWork,
): Promise<Book> {
  const project = await library.projects.project(projectId);
  const views = await library.views.viewsOf(project.modelIds);
  const bodies = project.modelIds.flatMap((id) => {
    const view = views.get(id);
    return view && !(view instanceof Error) && view.aside === null ? [view] : [];
  });
  const days = await gatherDays(library);
  const bedfuls = days.bedfuls.filter((b) => b.projectId === projectId);
  const rateOf = (printerId: string | null, name: string): number => {
    const at = days.printers.findIndex((p) => (printerId === null ? p.profile.name === name : p.id === printerId));
    return rateBy(days.log, days.request.printers[at]?.name ?? '').perHour;
  };
  const settings = await library.workshop.settings();
  const models: Book['models'] = [];
  const parts: BookPart[] = [];
  const steps: BookStep[] = [];
  for (const body of bodies) {
    const divide = body.line.slice(0, body.cursor).findLast((s) => isStepOf(s, catalogue.divide));
    const report = divide && isStepOf(divide, catalogue.divide) ? divide.report : null;
    models.push({
      name: body.name,
      size: body.mesh.facts.size,
      drawing: await draw(body.mesh.hash, asItStands),
      map: report?.map ? mapLayout(report.map) : null,
    });
    const drawn = await Promise.all(
      body.parts.map((part) => partOf(body, part, madeOf(body, part.tag), { bedfuls, rateOf }, address, draw)),
    );
    parts.push(...drawn);
    steps.push(...stepsOf(body));
  }
  const at = days.projects.findIndex((p) => p.id === projectId);
  const ids = new Set(bedfuls.map((b) => b.id));
  const prices = new Map(days.printers.map((p) => [p.id, p.profile.pricePerKg]));
  return {
    title: project.name,
    note: project.note,
    madeOn: localTime(days.nowMs),
    address: `${address}/project/${projectId}`,
    models,
    parts,
    bedfuls,
    plan: at < 0 ? null : await planOf(days, at, ids, plan),
    dueOn: project.dueOn,
    cost: {
      amount: bedfuls.reduce((n, b) => n + (b.materialG / 1000) * (prices.get(b.printerId ?? '') ?? 0), 0),
      currency: settings.currency,
    },
    steps,
    cautions: [
      ...days.leftOut,
      ...cautionsOf(
        new Set(bedfuls.map((b) => b.kind)),
        steps,
        Math.max(0, ...models.flatMap((m) => [m.size.x, m.size.y, m.size.z])),
      ),
    ],
  };
}
