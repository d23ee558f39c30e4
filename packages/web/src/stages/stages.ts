import { isStepOf, type StepOf, type StepView } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { stops, type Stop } from '@jasmorphe/core/operations/Description';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { countOf, whole } from '@jasmorphe/core/words/numbers';

export const stageIds = stops;
export type StageId = Stop;

export const stageNames: Record<StageId, string> = {
  intake: 'Intake',
  mend: 'Mend',
  size: 'Size',
  hollow: 'Hollow',
  divide: 'Divide',
  layout: 'Lay out',
  print: 'Print',
  finish: 'Finish',
};

/** done: its step is in force; stale: its step is in the line and not in force; open: a decision waits; later: nothing to do yet. */
export type StageState = 'done' | 'attention' | 'stale' | 'open' | 'later';

export interface StageStop {
  id: StageId;
  figure: string;
  state: StageState;
}

/** Where a step stands in its line. */
export interface Standing<S> {
  step: S;
  index: number;
  inForce: boolean;
}

/** The step of an operation: the last one in force, or the last one of the line. */
export function ownStep<N extends OperationName>(body: BodyView, operation: { name: N }): Standing<StepOf<N>> | null {
  let found: Standing<StepOf<N>> | null = null;
  body.line.forEach((step, index) => {
    const inForce = index < body.cursor;
    if (isStepOf(step, operation) && (inForce || !found?.inForce)) found = { step, index, inForce };
  });
  return found;
}

/** The step of a stage, as long as what it said of the skin holds. */
export function stepOfStage(body: BodyView, id: StageId): Standing<StepView> | null {
  const lead = Object.values(catalogue).find((d) => 'leads' in d && d.leads && d.stop === id);
  const found = lead ? ownStep<OperationName>(body, lead) : null;
  if (!found || !lead) return null;
  // after some steps the skin is another one, and what mending said of it no longer holds
  const reopened = body.line.slice(found.index + 1, body.cursor).some((s) => descriptionOf(s.operation).reopens);
  return lead.name === catalogue.mend.name && reopened ? null : (found as Standing<StepView>);
}

/** Each stop of the route with its one figure and its state. */
export function routeOf(body: BodyView, length: (mm: number) => string): StageStop[] {
  const facts = body.mesh.facts;
  const largest = Math.max(facts.size.x, facts.size.y, facts.size.z);
  const printed = body.parts.filter((p) => p.state === 'printed').length;
  const failed = body.parts.filter((p) => p.state === 'failed').length;
  return stageIds.map((id) => {
    const own = stepOfStage(body, id);
    const state: StageState = own ? (own.inForce ? 'done' : 'stale') : 'open';
    switch (id) {
      case 'intake':
        return { id, figure: body.sourceName, state };
      case 'mend': {
        if (own?.inForce && isStepOf(own.step, catalogue.mend)) {
          const { after, sound } = own.step.report;
          return { id, figure: `${whole(after.openEdges)} open edges`, state: sound ? 'done' : 'attention' };
        }
        const figure =
          facts.openLoops > 0
            ? `${whole(facts.openLoops)} open loops`
            : (facts.selfIntersectingPairs ?? 0) > 0
              ? `${whole(facts.selfIntersectingPairs!)} crossings`
              : `${whole(facts.openEdges)} open edges`;
        return { id, figure, state: own ? 'stale' : isSound(facts) ? 'done' : 'attention' };
      }
      case 'size':
        return { id, figure: length(largest), state };
      case 'hollow':
        return {
          id,
          figure: own && isStepOf(own.step, catalogue.hollow) ? `wall ${length(own.step.params.wall)}` : 'solid',
          state: own ? state : 'open',
        };
      case 'divide':
        return {
          id,
          figure: own && isStepOf(own.step, catalogue.divide) ? countOf(own.step.report.parts.length, 'part') : 'whole',
          state,
        };
      case 'layout':
        return {
          id,
          figure: body.parts.length > 0 ? `${whole(body.parts.length)} to lay out` : '—',
          state: body.parts.length > 0 ? 'open' : 'later',
        };
      case 'print':
        return {
          id,
          figure: body.parts.length > 0 ? `${printed} of ${body.parts.length} printed` : '—',
          state:
            failed > 0
              ? 'attention'
              : body.parts.length > 0
                ? printed === body.parts.length
                  ? 'done'
                  : 'open'
                : 'later',
        };
      case 'finish':
        return { id, figure: printed > 0 ? `${printed} to finish` : '—', state: printed > 0 ? 'open' : 'later' };
    }
  });
}
