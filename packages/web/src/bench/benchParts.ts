import type { PartView } from '@jasmorphe/contracts/views';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';

/** A flag that stands at a finding. */
export interface BenchFlag {
  number: number;
  tone: 'failure' | 'attention' | 'note';
  at: [number, number, number];
  span: number;
  /** the part that it is about; empty where that is none in particular */
  tag: string;
  /** ends of segments that show the finding, x, y, z each */
  lines?: number[];
}

/** What the bench draws as one of several things: a part of a model, or a piece of a kit. */
export interface BenchPart {
  id: string;
  tag: string;
  state: PartView['state'];
  mesh: { hash: string; facts: Pick<Inspection, 'min' | 'max'> };
  /** how far it is moved from where its mesh stands, mm */
  move?: readonly [number, number, number];
  /** way in which it goes apart from the others, the farthest by one unit; straight out from the middle if left out */
  apart?: readonly [number, number, number];
  /** stays in its place when the others go apart */
  still?: boolean;
}
