import { IsBoolean, IsIn, IsOptional } from 'class-validator';
import { by, finite, IsMm, printerKinds, type PrinterKind } from '../../params/checks.ts';
import { AreEach, IsPartOf } from '../../params/nested.ts';
import { IsPrinter, type PrinterProfile } from '../PrinterProfile.ts';
import { HomeHours } from './HomeHours.ts';

const IsAmount = (what: string, most: number) =>
  by('isAmount', (v) => finite(v) && v >= 0 && v <= most, `${what} from 0 to ${most}`, {
    type: 'number',
    minimum: 0,
    maximum: most,
  });
const mostLetters = 200;
const IsName = () =>
  by(
    'isName',
    (v) => typeof v === 'string' && v.length > 0 && v.length <= mostLetters,
    `a name of 1 to ${mostLetters} letters`,
    { type: 'string', minLength: 1, maxLength: mostLetters },
  );
const IsWords = () =>
  by('isWords', (v) => typeof v === 'string' && v.length <= mostLetters, `words of up to ${mostLetters} letters`, {
    type: 'string',
    maxLength: mostLetters,
  });
const IsCount = () =>
  by(
    'isCount',
    (v) => Number.isInteger(v) && (v as number) >= 0 && (v as number) <= 100_000,
    'a whole number from 0 to 100 000',
    { type: 'integer', minimum: 0, maximum: 100_000 },
  );
const AreNames = (most: number) =>
  by(
    'areNames',
    (v) =>
      Array.isArray(v) &&
      v.length <= most &&
      v.every((n) => typeof n === 'string' && n.length > 0 && n.length <= mostLetters),
    `up to ${most} names`,
    { type: 'array', items: { type: 'string', minLength: 1, maxLength: mostLetters }, maxItems: most },
  );
/** Hours of things that are printed one after the other. */
const IsTurns = () =>
  by(
    'isTurns',
    (v) => Array.isArray(v) && v.length <= 300 && v.every((h) => finite(h) && h > 0 && h <= 10_000),
    'up to 300 hours above 0 and up to 10 000',
    { type: 'array', items: { type: 'number', exclusiveMinimum: 0, maximum: 10_000 }, maxItems: 300 },
  );
const IsHours = () => IsAmount('hours', 10_000);
const IsGrams = () => IsAmount('grams', 1e6);

export class PlanPrinter {
  @IsName()
  name: string;

  @IsOptional()
  @IsIn(printerKinds)
  kind: PrinterKind = 'filament';

  /** Its settings, by which thicker layers and the like are judged. */
  @IsOptional()
  @IsPrinter()
  profile?: Partial<PrinterProfile>;
}

/** How long a bedful takes on a printer that it can be printed on. */
export class PlanHours {
  @IsName()
  printer: string;

  @IsHours()
  hours: number;
}

/** A part as far as other settings change its time and material. */
export class PlanPart {
  @IsAmount('mm³', 1e12)
  volumeMm3: number;

  @IsAmount('mm²', 1e12)
  areaMm2: number;

  @IsMm()
  heightMm: number;

  /** room under its overhangs */
  @IsOptional()
  @IsAmount('mm³', 1e12)
  columnsMm3: number = 0;
}

/** A part of another plan of cuts, by the box in which it would lie. */
export class PlanCutPiece extends PlanPart {
  @IsMm()
  wideMm: number;

  @IsMm()
  deepMm: number;
}

/** Another plan of cuts of a model: what days would be with it is told beside the plan. */
export class PlanCuts {
  /** What it is called, such as "Cleanest skin". */
  @IsName()
  name: string;

  /** That the model belongs to. */
  @IsOptional()
  @IsWords()
  project: string = '';

  /** Bedfuls that its present parts are on, by id or name; all of the project if left out. */
  @IsOptional()
  @AreNames(2000)
  instead: string[] = [];

  @AreEach(PlanCutPiece, 1, 300)
  pieces: PlanCutPiece[];

  /** Joints of the project then; by the number of pieces if left out. */
  @IsOptional()
  @IsCount()
  joints?: number;
}

/** Where a print stands still until a person has changed the colour or put something in. */
export class PlanStop {
  /** how much of its time is over then, 0 to 1 */
  @IsAmount('a share', 1)
  share: number;

  @IsOptional()
  @IsWords()
  says: string = '';
}

export class PlanBedful {
  @IsName()
  name: string;

  /** By which the plan names it again, where names are not enough. */
  @IsOptional()
  @IsWords()
  id: string = '';

  /** What it belongs to. */
  @IsOptional()
  @IsWords()
  project: string = '';

  /** Printers that it can be printed on. */
  @AreEach(PlanHours, 1, 20)
  on: PlanHours[];

  @IsGrams()
  grams: number;

  @IsOptional()
  @IsWords()
  material: string = '';

  @IsOptional()
  @IsWords()
  colour: string = '';

  /** Not before, such as 2026-11-28T17:30. */
  @IsOptional()
  @IsWords()
  wantedAt: string = '';

  /** On the bed of the first of its printers since then. */
  @IsOptional()
  @IsWords()
  startedAt: string = '';

  @IsOptional()
  @AreEach(PlanPart, 0, 300)
  parts: PlanPart[] = [];

  @IsOptional()
  @AreEach(PlanStop, 0, 50)
  stops: PlanStop[] = [];

  /** Hours of each part, in their order, where they are printed one after the other: what fails spoils that one alone. */
  @IsOptional()
  @IsTurns()
  turns: number[] = [];
}

/** What bedfuls belong to, and what comes behind the last of them. */
export class PlanProject {
  @IsName()
  name: string;

  /** Ready to paint by; that of the plan if left out. A day alone means its end. */
  @IsOptional()
  @IsWords()
  deadline: string = '';

  @IsOptional()
  @IsCount()
  joints: number = 0;

  /** Of the joints those that take slow glue. */
  @IsOptional()
  @IsCount()
  slow: number = 0;

  /** Longest side of the whole; with that of its parts it says where cutting pays. */
  @IsOptional()
  @IsMm()
  sizeMm: number = 0;

  /** Longest side of its parts in the mean. */
  @IsOptional()
  @IsMm()
  pieceMm: number = 0;

  @IsOptional()
  @IsCount()
  pieces: number = 0;

  /** Parts of it that are on none of the bedfuls: while there are any, nobody can tell when it is ready. */
  @IsOptional()
  @AreNames(10_000)
  without: string[] = [];
}

export class PlanSpool {
  @IsName()
  name: string;

  @IsOptional()
  @IsIn(printerKinds)
  kind: PrinterKind = 'filament';

  @IsOptional()
  @IsWords()
  material: string = '';

  @IsOptional()
  @IsWords()
  colour: string = '';

  @IsGrams()
  leftG: number;
}

/** A print of the log: how long it took, or ran until it failed. */
export class PlanLogEntry {
  @IsName()
  printer: string;

  @IsHours()
  hours: number;

  /** Said beforehand; 0 where nothing was. */
  @IsOptional()
  @IsHours()
  saidHours: number = 0;

  @IsOptional()
  @IsBoolean()
  failed: boolean = false;

  /** That it was printed of; nobody said if left out. */
  @IsOptional()
  @IsWords()
  material: string = '';
}

/** What days are planned from. */
export class PlanRequest {
  /** From when on; now if left out. */
  @IsOptional()
  @IsWords()
  from: string = '';

  /** Ready to paint by, whatever has no deadline of its own; none if left out. A day alone means its end. */
  @IsOptional()
  @IsWords()
  deadline: string = '';

  @IsOptional()
  @IsPartOf(HomeHours)
  home: Partial<HomeHours> = {};

  @AreEach(PlanPrinter, 0, 50)
  printers: PlanPrinter[];

  @AreEach(PlanBedful, 0, 2000)
  bedfuls: PlanBedful[];

  @IsOptional()
  @AreEach(PlanProject, 0, 1000)
  projects: PlanProject[] = [];

  @IsOptional()
  @AreEach(PlanSpool, 0, 1000)
  spools: PlanSpool[] = [];

  @IsOptional()
  @AreEach(PlanLogEntry, 0, 20_000)
  log: PlanLogEntry[] = [];

  /** Other plans of cuts that are compared. */
  @IsOptional()
  @AreEach(PlanCuts, 0, 20)
  otherCuts: PlanCuts[] = [];
}
