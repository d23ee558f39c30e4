import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import type { DrawingReport } from '@jasmorphe/core/operations/drawing/describe';
import type { MapLayout } from '@jasmorphe/core/operations/divide/mapSvg';
import type { Advice } from '@jasmorphe/core/planning/advice';

/** A part as its sheet tells of it. Lengths mm, times s, masses g. */
export interface BookPart {
  tag: string;
  model: string;
  state: string;
  /** as it lies */
  size: { x: number; y: number; z: number };
  lies: string;
  why: string;
  settings: string;
  layers: number | null;
  durationS: number | null;
  /** in the mean, with what fails and begins anew, by the rate of its printer */
  expectedS: number | null;
  materialG: number | null;
  /** bedful that it goes with; null while it is on none */
  bedful: number | null;
  printer: string;
  /** to which parts, and by what */
  joins: string[];
  /** when its print stops, and what is done then */
  stops: string[];
  advice: Advice[];
  /** what was found of it, in sentences */
  cautions: string[];
  drawing: DrawingReport | null;
  /** its page */
  address: string;
}

export interface BookStep {
  model: string;
  no: number;
  put: string;
  to: string;
  from: string;
  advice: string[];
}

/** A build book before it is set on paper. */
export interface Book {
  title: string;
  note: string;
  madeOn: string;
  address: string;
  models: {
    name: string;
    size: { x: number; y: number; z: number };
    drawing: DrawingReport | null;
    map: MapLayout | null;
  }[];
  parts: BookPart[];
  bedfuls: BedfulView[];
  /** of this project alone */
  plan: DaysPlan | null;
  dueOn: string | null;
  cost: { amount: number; currency: string };
  steps: BookStep[];
  /** what must be said of the trade, once */
  cautions: string[];
}
