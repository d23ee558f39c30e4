import type { BodyView, StepView } from '@jasmorphe/contracts/views';
import type { DivideReport } from '@jasmorphe/core/operations/divide/divide';
import type { MendReport } from '@jasmorphe/core/operations/mend/mend';
import type { OperationName } from '@jasmorphe/core/operations/registry';
import { isSound } from '@jasmorphe/core/mesh/inspect';
import { countOf, whole } from '../app/figures.ts';

export const stageIds = ['intake', 'mend', 'size', 'hollow', 'divide', 'layout', 'print', 'finish'] as const;
export type StageId = (typeof stageIds)[number];

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

const operationOfStage: Partial<Record<StageId, OperationName>> = {
  intake: 'import',
  mend: 'mend',
  size: 'size',
  hollow: 'hollow',
  divide: 'divide',
};

/** done: its step is in force; stale: its step is in the line and not in force; open: a decision waits; later: nothing to do yet. */
export type StageState = 'done' | 'attention' | 'stale' | 'open' | 'later';

export interface StageStop {
  id: StageId;
  figure: string;
  state: StageState;
}

/** After these the skin is another one, and what mending said of it no longer holds. */
const reopening: OperationName[] = ['crop', 'mirror', 'refine', 'scan'];

/** The step of a stage: the last one in force, or the last one of the line. */
export function stepOfStage(body: BodyView, id: StageId): { step: StepView; index: number; inForce: boolean } | null {
  const operation = operationOfStage[id];
  if (!operation) return null;
  let found = -1;
  body.line.forEach((s, i) => {
    if (s.operation === operation && (i < body.cursor || found < 0 || found >= body.cursor)) found = i;
  });
  if (id === 'mend' && body.line.slice(found + 1, body.cursor).some((s) => reopening.includes(s.operation)))
    return null;
  return found < 0 ? null : { step: body.line[found], index: found, inForce: found < body.cursor };
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
        if (own?.inForce) {
          const after = (own.step.report as MendReport).after;
          return {
            id,
            figure: `${whole(after.openEdges)} open edges`,
            state: (own.step.report as MendReport).sound ? 'done' : 'attention',
          };
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
          figure: own ? `wall ${length((own.step.params as { wall: number }).wall)}` : 'solid',
          state: own ? state : 'open',
        };
      case 'divide':
        return { id, figure: own ? countOf((own.step.report as DivideReport).parts.length, 'part') : 'whole', state };
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
