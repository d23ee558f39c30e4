import type { PrinterKind } from '../../params/checks.ts';

/*
 * What days are planned to be. Instants are local times with their zone, such as 2026-11-28T17:00+01:00; times are s,
 * masses g.
 */

/** A look at a print that runs. */
export interface PlannedLook {
  at: string;
  /** how far the print is then */
  share: number;
  /** somebody is there just then, rather than when they next come home */
  onTime: boolean;
}

/** A stop of a print: another colour, or something put in. */
export interface PlannedStop {
  /** when hands are at it */
  at: string;
  /** how far the print is then */
  share: number;
  says: string;
  /** how long it stands still before somebody comes */
  waitsS: number;
}

/** What a bedful takes from a spool. */
export interface PlannedDraw {
  spool: string;
  grams: number;
  /** when it begins to */
  at: string;
  /** somebody is there to change to it */
  attended: boolean;
}

/** A bedful on its day. All times are null where it finds none. */
export interface PlannedBedful {
  bedful: string;
  /** as it was given; empty where none was */
  id: string;
  project: string;
  printer: string;
  durationS: number;
  /** between which nine of ten lie, by what its printer logged of such prints; null while too few tell */
  likelyS: [number, number] | null;
  /** in the mean, with what fails */
  expectedS: number;
  loadAt: string | null;
  startsAt: string | null;
  endsAt: string | null;
  /** when somebody takes it off */
  offAt: string | null;
  /** of resin: when it is dried and cured */
  doneAt: string | null;
  running: boolean;
  /** the day on which all is ready hangs on it */
  decides: boolean;
  looks: PlannedLook[];
  stops: PlannedStop[];
  draws: PlannedDraw[];
  /** what no spool holds */
  shortG: number;
}

export interface PlannedBench {
  project: string;
  what: 'glue' | 'glue dries' | 'seams' | 'filler dries';
  from: string;
  to: string;
}

export type PlanNote =
  | { kind: 'no-time'; bedful: string; hours: number }
  | { kind: 'wish-missed'; bedful: string; hours: number }
  | { kind: 'short'; bedful: string; grams: number }
  | { kind: 'swap-alone'; bedful: string; spool: string }
  | { kind: 'unseen'; bedful: string }
  | { kind: 'stands-still'; bedful: string; says: string; hours: number }
  | { kind: 'late'; project: string }
  /** parts of a project that are on no bedful: no day can be told for it */
  | { kind: 'without'; project: string; parts: string[] };

/** How often a printer fails and how its hours compare with what was said, by its log. */
export interface PrinterRecord {
  printer: string;
  perHour: number;
  perHourLow: number;
  perHourHigh: number;
  /** prints and hours of the log; none: the rate is the usual one */
  prints: number;
  hours: number;
  /** true hours over hours said; null while too few prints tell */
  factor: number | null;
  factorLow: number | null;
  factorHigh: number | null;
}

export interface PlannedProject {
  project: string;
  /** parts that are on no bedful; while there are any it has no day */
  without: string[];
  /** when what is on bedfuls is printed; null: part of it finds no time */
  printed: string | null;
  /** null: part of it finds no time, or is on no bedful */
  ready: string | null;
  readyP90: string | null;
  deadline: string | null;
  /** share of courses in which it is late; null without a deadline */
  lateProbability: number | null;
  printS: number;
}

export interface DaysPlan {
  from: string;
  /** the first that there is */
  deadline: string | null;
  /** of those projects that are on bedfuls as a whole; null where none is */
  ready: string | null;
  /** in nine of ten courses of failures */
  readyP90: string | null;
  /** share of those in which anything is late; null without a deadline */
  lateProbability: number | null;
  printS: number;
  expectedS: number;
  /** a person's own hours: beds, resin, glue, seams */
  handsS: number;
  materialG: number;
  days: PlannedBedful[];
  bench: PlannedBench[];
  projects: PlannedProject[];
  spools: { name: string; usedG: number; leftG: number; endsAt: string | null }[];
  buy: { kind: PrinterKind; material: string; colour: string; grams: number; allowanceG: number }[];
  records: PrinterRecord[];
  notes: PlanNote[];
}
