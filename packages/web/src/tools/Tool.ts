import type { FindingKind } from '@jasmorphe/core/inspect/Finding';
import type { BodyView } from '@jasmorphe/contracts/views';
import { descriptionOf, type OperationName, type ParamsOf } from '@jasmorphe/core/operations/catalogue';
import { paramFact, type ParamFacts } from '@jasmorphe/core/params/facts';
import type { Speaker } from '@jasmorphe/core/words/numbers';
import type { BenchState } from '../bench/benchSlice.ts';

/** A figure of a tool that the maker may change. */
export interface ToolField {
  id: string;
  label: string;
  hint?: string;
  /** the param it stands for, by which it is checked; any number where there is none */
  param?: ParamFacts;
  /** of a number without a param; mm if left out */
  unit?: string;
  /** shown and sent until it is changed; none is left out */
  value: number | null;
}

/** One answer of a tool: what it is called and what it sends. Without params it cannot be worked out yet. */
export interface ToolOption<N extends OperationName = OperationName> {
  name: string;
  params: Partial<ParamsOf<N>> | null;
  /** what is missing */
  wants?: string;
}

/** What else can be done with a skin beside mending it, as a question with its answers side by side. */
export interface Tool<N extends OperationName = OperationName> {
  id: N;
  summary: string;
  question: string;
  lead: string;
  /** a place on the model may be picked */
  asksForPoint?: boolean;
  fields: (body: BodyView) => ToolField[];
  options: (body: BodyView, values: Record<string, number | null>, bench: BenchState, say: Speaker) => ToolOption<N>[];
  /** the answer to begin with */
  advised: (body: BodyView) => number;
}

/** Across the model's bounds, mm. */
export const diagonalOf = (body: BodyView): number => {
  const { x, y, z } = body.mesh.facts.size;
  return Math.hypot(x, y, z);
};

/** Two digits: what is proposed need not be exact. */
export const roughly = (x: number): number => Number(x.toPrecision(2));

/** A length that is proposed, with its two digits. */
export const roughText = (mm: number, { fine }: Speaker): string =>
  fine(mm, Math.max(0, 1 - Math.floor(Math.log10(mm))));

/** Was a finding of this kind made of the mesh on the bench? */
export const found = (body: BodyView, kind: FindingKind): boolean =>
  body.mesh.facts.findings.some((f) => f.kind === kind);

/**
 * A field that stands for one param of the tool's operation: its hint, limits and default are the param's own.
 *
 * @param change another hint; `empty` leaves it open until the maker has a figure of his own
 */
export function paramField<N extends OperationName>(
  operation: N,
  name: keyof ParamsOf<N> & string,
  label: string,
  change: { hint?: string; empty?: true } = {},
): ToolField {
  const param = paramFact(descriptionOf(operation).params, name);
  const value = change.empty ? null : ((param.standard as number | undefined) ?? null);
  return { id: name, label, hint: change.hint ?? param.help, param, value };
}
