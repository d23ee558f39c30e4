import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import { lastStepOf, type StepOf } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf } from '@jasmorphe/core/words/numbers';
import type { PlanCuts } from '@jasmorphe/core/planning/days/PlanRequest';
import { isPlanStyle, planNames, planStyles } from '@jasmorphe/core/planning/cuts/styles';
import { isWaiting } from '@jasmorphe/core/planning/printState';
import type { Gathered } from './gatherDays.ts';
import type { Library } from '../store/Library.ts';

/** Planes as they are told apart, in whatever order they come. */
const planesOf = (cuts: readonly { normal: readonly number[]; offset: number }[]): string =>
  cuts
    .map(({ normal, offset }) => [...normal, offset].map((x) => x.toFixed(3)).join())
    .sort()
    .join(' ');

/** A plan for beds of other sizes says nothing of what would lie on these. */
const isForBeds = ({ params: { bed, beds } }: StepOf<'cuts'>, own: readonly BedfulView[]): boolean =>
  (beds ?? [{ bed }]).every((b) => own.some(({ bedMm }) => bedMm[0] === b.bed[0] && bedMm[1] === b.bed[1]));

/** Bedfuls of a model whose parts all wait on beds of their own; empty where one does not. */
function waitingOf(body: BodyView, bedfuls: readonly BedfulView[]): BedfulView[] {
  const own = bedfuls.filter((b) => b.state === 'waiting' && b.parts.every((p) => p.modelId === body.id));
  const on = new Set(own.flatMap((b) => b.parts.map((p) => p.meshHash)));
  const all = body.parts.length > 0 && body.parts.every((p) => isWaiting(p) && on.has(p.mesh.hash));
  return all ? own : [];
}

/**
 * Plans of cuts that were looked for beside the one each model is cut by: of each kind the last, of the very mesh that was
 * cut and for the beds that its bedfuls are on. Models of which a part was started, or is on no bedful, have none.
 */
export async function otherCutsOf(library: Library, gathered: Gathered): Promise<PlanCuts[]> {
  const { bodies, bedfuls, projects, request } = gathered;
  const planned = bedfuls.filter((b) => request.bedfuls.some((r) => r.id === b.id));
  const out: PlanCuts[] = [];
  for (const body of bodies) {
    const divide = lastStepOf(body.line, body.cursor, catalogue.divide);
    const own = waitingOf(body, planned);
    if (!divide || own.length === 0) continue;
    const project = request.projects[projects.findIndex((p) => p.id === body.projectId)].name;
    const known = new Set([
      planesOf(divide.report.cuts.map(({ normal: { x, y, z }, offset }) => ({ normal: [x, y, z], offset }))),
    ]);
    const plans = (await library.meshes.cutsOf(divide.inputs[0])).filter(
      (s) => s.report.fitting === s.report.parts && s.report.pieces.length > 0 && isForBeds(s, own),
    );
    for (const style of planStyles) {
      const found = plans.filter((s) => isPlanStyle(s.report.plan) && s.report.plan === style && !s.params.weights);
      const plan = found.find((s) => !s.params.quick) ?? found[0];
      if (!plan || known.has(planesOf(plan.report.cuts))) continue;
      known.add(planesOf(plan.report.cuts));
      const { pieces } = plan.report;
      // told apart by as much as it takes
      const of = [
        ...(projects.length > 1 ? [project] : []),
        ...(bodies.some((b) => b !== body && b.projectId === body.projectId) ? [body.name] : []),
      ].join(', ');
      const name = `${planNames[style].toLowerCase()}, ${countOf(pieces.length, 'part')}`;
      out.push({
        name: (of ? `${of}: ${name}` : name).slice(-200),
        project,
        instead: own.map((b) => b.id),
        pieces,
      });
    }
  }
  return out.slice(0, mostCuts);
}

/** Plans of cuts that are compared at most. */
const mostCuts = 8;
