import type { PrinterKind } from '@jasmorphe/core/params/checks';
import type { BedfulStop } from '@jasmorphe/core/planning/bedfuls/bedfulStops';
import type { CutCurve } from '@jasmorphe/core/planning/days/cutCurve';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import type { FailureRate } from '@jasmorphe/core/planning/days/failures';
import type { WhatIf } from '@jasmorphe/core/planning/days/whatIfs';
import type { PrintState } from '@jasmorphe/core/planning/printState';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import type { PartView } from './views.ts';

/** Why a part of a bedful that waits is not what it was any more. */
export type PartTrouble = 'gone' | 'changed' | 'relaid' | 'printing' | 'printed' | 'failed' | 'aside';

export interface BedfulPartView {
  partId: string;
  /** that it is of */
  modelId: string;
  /** with the name of its model before it where the bedful holds parts of several */
  tag: string;
  meshHash: string;
  /** middle of its box, from the front left corner of the bed, mm */
  at: { x: number; y: number };
  turnDeg: number;
  heightMm: number;
  durationS: number;
  materialG: number;
  /** its shadow as a path of rows, in mm from that middle, y to the back */
  path: string;
  /** of the print of that mesh */
  state: PrintState;
  /** null while it is as it was when the bedful was kept, or once that is on the bed */
  trouble: PartTrouble | null;
}

/** What goes on one bed in one go, as it was decided. */
export interface BedfulView {
  id: string;
  projectId: string;
  /** of its parts, or of the first that were put together */
  modelId: string;
  number: number;
  kind: 'filament' | 'resin';
  /** null: that printer is gone, or no longer printed with */
  printerId: string | null;
  printer: string;
  bedMm: [number, number];
  parts: BedfulPartView[];
  /** what the printer is set to for all of them; empty where nobody said */
  settings: string;
  /** colour or material of its model, in the maker's words; what lies on one bed has one */
  colour: string;
  /** of all its parts, as they lie now, from the bed up */
  stops: BedfulStop[];
  /** its parts are printed one after the other, in their order */
  inTurn: boolean;
  fillPct: number;
  durationS: number;
  materialG: number;
  wantedAt: string | null;
  state: 'waiting' | 'printing' | 'done';
  startedAt: string | null;
}

export interface BedfulsView {
  bedfuls: BedfulView[];
  /** the last arrangement can be taken back */
  canUndo: boolean;
}

/** A model with those of its parts that wait to be laid or for a bed. */
export interface LaidModelView {
  id: string;
  name: string;
  colour: string;
  /** it is in one piece */
  whole: boolean;
  /** cut faces of its parts, which nobody sees once they are glued */
  glued: PlaneCut[];
  parts: PartView[];
}

/** What of a project could be put on beds together, and how it was. */
export interface ProjectBedsView {
  models: LaidModelView[];
  bedfuls: BedfulView[];
}

/** A project as far as days are concerned. */
export interface DaysProject {
  id: string;
  name: string;
  dueOn: string | null;
  /** the day is past and it is not ready */
  overdue: boolean;
  /** all that is to be printed of it and is in none of the bedfuls that are planned, with how it stands: no day can be told while there is any */
  loose: string[];
}

/** Days of all printers and of their maker. */
export interface DaysView {
  now: string;
  plan: DaysPlan;
  bedfuls: BedfulView[];
  projects: DaysProject[];
  /** what could not be planned with, each in a sentence */
  leftOut: string[];
  printers: { id: string; name: string; kind: PrinterKind; hours: number; lifeH: number; sinceH: number }[];
}

/** How long prints of a printer take against what was said beforehand, by its log. */
export interface HoursByLog {
  printerId: string;
  /** that they were printed of; empty: whatever it was */
  material: string;
  /** true hours over hours said, and between which nine of ten lie */
  factor: number;
  low: number;
  high: number;
  prints: number;
}

/** How often a printer fails, by its log. */
export interface RateOfPrinter extends FailureRate {
  printerId: string;
}

export interface CurveOfProject {
  projectId: string;
  curve: CutCurve;
  /** of its parts in the mean, mm */
  pieceMm: number;
}

export interface DaysOtherwise {
  whatIfs: WhatIf[];
  curves: CurveOfProject[];
}

/** A table of a build book: heads with their units, and rows. */
export interface BookTableView {
  heads: string[];
  rows: (string | number | null)[][];
}

export type BookTablesView = Record<'parts' | 'bedfuls' | 'days' | 'shopping' | 'assembly', BookTableView>;
