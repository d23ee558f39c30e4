import type { ComponentType } from 'react';
import { isStepOf, type StepOf, type StepView } from '@jasmorphe/contracts/steps';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { stops, type Stop } from '@jasmorphe/core/operations/Description';
import type { LazyPart } from '../app/Boundary.tsx';
import type { ToolId } from '../tools/tools.ts';
import type { StudyId } from './size/studies.ts';

export const stageIds = stops;
export type StageId = Stop;

/** done: its step is in force; stale: its step is in the line and not in force; open: a decision waits; later: nothing to do yet. */
export type StageState = 'done' | 'attention' | 'stale' | 'open' | 'later';

/** A stop of the route as it stands: its one figure and its state. */
export interface StageStop {
  id: StageId;
  title: string;
  figure: string;
  state: StageState;
}

/** What else can be opened at a stop. */
export type Opened = ToolId | StudyId;

export interface StageProps {
  body: BodyView;
  printers: PrinterView[];
  onOpen: (id: Opened) => void;
}

/** What a stop has to do with parts: bench, table and keys go by it. */
export interface PartsHere {
  /** how far they stand apart on the bench at first: of the way that they can; together if left out */
  apart?: number;
  /** while a place of the model is asked for, it stands there in one piece */
  wholeWhileAsked?: true;
  /** the last column of the table tells how they lie; how their prints stand if left out */
  lies?: true;
  /** the part that the stop is about */
  inHand?: (body: Pick<BodyView, 'parts'>, picked: string | null) => PartView | undefined;
  /** that part's own line is taken back and redone by the keys */
  ownLine?: true;
  /** and so is what was said of its print */
  saysPrints?: true;
}

/** A stop of the route: everything that the page knows of it. */
export interface Stage {
  id: StageId;
  title: string;
  /** its figure and state on the route */
  stand: (body: BodyView, length: (mm: number) => string) => { figure: string; state: StageState };
  Decision: ComponentType<StageProps> | LazyPart<StageProps>;
  /** begins anew whenever the line changes, so that no field keeps a figure of an earlier state */
  fresh?: true;
  /** said where there are no findings */
  empty: string;
  /** what else can be done with the skin here, while it is in one piece */
  tools: readonly ToolId[];
  /** ways to look at what was decided */
  studies: readonly StudyId[];
  /** the bench and the table show parts where there are any; none at stops without it */
  parts?: PartsHere;
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

/** The step that a stop is about, as long as what it said of the skin holds. */
export function stepOfStage(body: BodyView, id: StageId): Standing<StepView> | null {
  const lead = Object.values(catalogue).find((d) => 'leads' in d && d.leads && d.stop === id);
  const found = lead ? ownStep<OperationName>(body, lead) : null;
  if (!found || !lead) return null;
  // after some steps the skin is another one, and what mending said of it no longer holds
  const reopened = body.line.slice(found.index + 1, body.cursor).some((s) => descriptionOf(s.operation).reopens);
  return lead.name === catalogue.mend.name && reopened ? null : (found as Standing<StepView>);
}

/** Done where its step is in force, out of date where it is not, open where there is none. */
export const stateOfStep = (own: Standing<unknown> | null): StageState =>
  own ? (own.inForce ? 'done' : 'stale') : 'open';
