import {
  Matches,
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { lengthUnits, type LengthUnit } from '@jasmorphe/core/formats/units';
import { IsLengthMm, IsMm, IsTriple } from '@jasmorphe/core/params/checks';
import { IsDayOrNone, IsMoment } from '@jasmorphe/core/params/moments';
import { placeKinds, type PlaceKind } from '@jasmorphe/core/trade/placeKinds';
import { referenceKinds, type ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import { printOutcomes, type PrintOutcome } from '@jasmorphe/core/planning/printState';
import { exportFormats, type ExportFormat } from '@jasmorphe/core/formats/exportFormats';
import { Provenance } from './Origin.ts';
import { stops, type Stop } from '@jasmorphe/core/operations/Description';
import { descriptionOf, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';

/** Operations that may stand in a line after its first step. */
export const lineOperations = operationNames.filter((n) => {
  const { makes, lays, stays } = descriptionOf(n);
  return lays || stays || makes === 'skin' || makes === 'parts';
});

/** Operations that may be worked out without adding them: those, studies, and test pieces. */
export const previewOperations = operationNames.filter((n) => {
  const { takes, study, lays, stays, makes } = descriptionOf(n);
  return takes !== 'file' && (study || lays || stays || makes !== 'nothing');
});

export class CreateProject {
  @IsString()
  @Length(1, 120)
  name: string;

  @IsOptional()
  @IsString()
  @MaxLength(2000)
  note: string = '';
}

export class ChangeProject extends Provenance {
  @IsOptional()
  @IsString()
  @Length(1, 120)
  name?: string;

  @IsOptional()
  @IsString()
  @MaxLength(2000)
  note?: string;

  /** Day by which it is to be ready to paint, such as 2026-12-18; empty: none. */
  @IsOptional()
  @IsDayOrNone('2026-12-18')
  dueOn?: string;

  /** Out of sight, and all kept. */
  @IsOptional()
  @IsBoolean()
  archived?: boolean;
}

export class CopyProject {
  /** "... (copy)" if left out */
  @IsOptional()
  @IsString()
  @Length(1, 120)
  name?: string;
}

export class RemoveQuery {
  /** yes: for good, without the thirty days */
  @IsOptional()
  @IsIn(['yes', 'no'])
  forever: 'yes' | 'no' = 'no';
}

/** Something was ticked off on the bench. */
export class TickQuery {
  /** yes: though a part of the joint is not off the bed yet */
  @IsOptional()
  @IsIn(['yes', 'no'])
  anyway: 'yes' | 'no' = 'no';

  /** when it was done; now if left out */
  @IsOptional()
  @IsMoment()
  at?: string;
}

/** Something happened, or did not after all. */
export class SaidWhen {
  /** when it was; now if left out */
  @IsOptional()
  @IsMoment()
  at?: string;
}

export class PackQuery {
  /** yes: files that may not be passed on are for oneself alone; ask: only whether that must be said */
  @IsOptional()
  @IsIn(['yes', 'no', 'ask'])
  word: 'yes' | 'no' | 'ask' = 'no';
}

export class BackupRequest {
  /** Folder on the machine that the server runs on; one beside the data folder if left out. */
  @IsOptional()
  @IsString()
  @Length(1, 1000)
  folder?: string;
}

export class RestoreRequest {
  /** Folder of a backup, on the machine that the server runs on. */
  @IsString()
  @Length(1, 1000)
  folder: string;

  /** Goes on without files that are missing from the backup, or damaged there. */
  @IsOptional()
  @IsBoolean()
  anyway: boolean = false;
}

/** Fields beside the file of an upload. */
export class UploadOptions {
  @IsOptional()
  @IsIn([...lengthUnits, 'auto'])
  unit: LengthUnit | 'auto' = 'auto';

  /** Where the model came from and on what terms. */
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  licence: string = '';

  /** Objects that a 3MF keeps apart: each a model of its own, or all as one. */
  @IsOptional()
  @IsIn(['apart', 'together'])
  objects: 'apart' | 'together' = 'apart';
}

/** The file of a model once more, read in another way. */
export class ImportAgain {
  @IsIn(['apart', 'together'])
  objects: 'apart' | 'together';
}

/** A change of a line. */
export class Losing {
  /** It is done although prints come to be of no use by it; without this word such a change is refused. */
  @IsOptional()
  @IsBoolean()
  lose: boolean = false;
}

/** Undo or redo of a line. */
export class MoveLine extends Losing {}

export class RunOperation extends Losing {
  @IsIn(lineOperations)
  operation: OperationName;

  @IsOptional()
  @IsObject()
  params: Record<string, unknown> = {};

  /** Works out what would follow, and what it would do to printed parts, without changing anything. */
  @IsOptional()
  @IsBoolean()
  dry: boolean = false;
}

/** Names that pages give themselves. */
export const pageIds = /^[\w-]{8,60}$/;

export class PreviewOperation {
  @IsIn(previewOperations)
  operation: OperationName;

  @IsOptional()
  @IsObject()
  params: Record<string, unknown> = {};

  /** On the mesh as it was after so many steps of the line; after those in force if left out. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(10_000)
  after?: number;

  /** Answers only if it was worked out before: 204 if it was not. */
  @IsOptional()
  @IsBoolean()
  ifKnown: boolean = false;

  /** The page that looks at it: the preview is ended when no page does any more. One that no page asked for runs to its end. */
  @IsOptional()
  @Matches(pageIds)
  page?: string;
}

/** What a page looks at, and nothing else, from now on. */
export class LookAt {
  /** Jobs of previews. */
  @IsArray()
  @ArrayMaxSize(200)
  @IsString({ each: true })
  @MaxLength(60, { each: true })
  jobs: string[];
}

/** A body of measures to size by. */
export class CreateReference {
  @IsIn(referenceKinds)
  kind: ReferenceKind;

  /** mm; those left out are the published median man's */
  @IsOptional()
  @IsObject()
  measures: Record<string, number> = {};

  @IsOptional()
  @IsString()
  @Length(1, 80)
  name?: string;
}

export class ChangeReference {
  @IsOptional()
  @IsString()
  @Length(1, 80)
  name?: string;

  /** Where it stands in the model, mm. */
  @IsOptional()
  @IsTriple()
  move?: [number, number, number];

  /** Degrees about x, then y, then z. */
  @IsOptional()
  @IsTriple()
  turn?: [number, number, number];

  @IsOptional()
  @IsMm()
  liningMm?: number;

  @IsOptional()
  @IsMm()
  wantMm?: number;
}

/** A room, bench, door or boot; what is left out sets no limit. */
export class SavePlace {
  @IsString()
  @Length(1, 80)
  name: string;

  @IsIn(placeKinds)
  kind: PlaceKind;

  @IsOptional()
  @IsLengthMm()
  widthMm?: number;

  @IsOptional()
  @IsLengthMm()
  depthMm?: number;

  @IsOptional()
  @IsLengthMm()
  heightMm?: number;
}

export class EditStep extends Losing {
  @IsObject()
  params: Record<string, unknown>;

  /** Works out what would follow, and what it would do to printed parts, without changing anything. */
  @IsOptional()
  @IsBoolean()
  dry: boolean = false;
}

export class MoveCursor extends Losing {
  /** how many steps of the line are in force */
  @IsInt()
  @Min(1)
  @Max(10_000)
  cursor: number;
}

export class FindingsQuery {
  /** The stop at which they matter; those of the mesh alone if left out. */
  @IsOptional()
  @IsIn(stops)
  stop?: Stop;
}

/** Which fit gauge is wanted. */
export class GaugeQuery {
  /** gaps on each side, mm, with commas between them; 0.05 to 0.4 if left out */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  steps?: string;
}

/** A bedful as a file. */
export class BedfulFileQuery {
  @IsOptional()
  @IsIn(['3mf'])
  format = '3mf' as const;

  /** yes: files that may not be passed on are for oneself alone */
  @IsOptional()
  @IsIn(['yes', 'no'])
  word: 'yes' | 'no' = 'no';
}

export class ExportQuery {
  @IsOptional()
  @IsIn(exportFormats)
  format: ExportFormat = '3mf';

  /** parts: each in a file or object of its own where there are any; whole: the model in one piece; loose: what is printed apart for the joins, always 3MF. */
  @IsOptional()
  @IsIn(['parts', 'whole', 'loose'])
  what: 'parts' | 'whole' | 'loose' = 'parts';

  /** tags of the parts that are wanted, with commas between them; all if left out */
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  only?: string;

  /** model: parts as they stand in the model; bed: each as it lies on the printer, with its lowest point at 0. */
  @IsOptional()
  @IsIn(['model', 'bed'])
  pose: 'model' | 'bed' = 'model';

  /** a part as it lies, with struts under its support tips as an object of their own: that stand on the bed alone, or on the part too where nothing else reaches; always 3MF. */
  @IsOptional()
  @IsIn(['bed', 'part'])
  struts?: 'bed' | 'part';

  /** own: a model at the file's own size, as it was before it was sized. */
  @IsOptional()
  @IsIn(['now', 'own'])
  size: 'now' | 'own' = 'now';

  /** yes: a file that may not be passed on is for oneself alone */
  @IsOptional()
  @IsIn(['yes', 'no'])
  word: 'yes' | 'no' = 'no';
}

export class CreateLogEntry {
  @IsString()
  @MaxLength(60)
  partId: string;

  @IsOptional()
  @IsString()
  @MaxLength(60)
  printerId?: string;

  @IsIn(printOutcomes)
  outcome: PrintOutcome;

  /** The spool or bottle that its material was taken from. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  spoolId?: string;

  /** The entry that this one takes back, where the outcome is "withdrawn". */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  correctsId?: string;

  /** Where it stopped, mm above the bed. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e5)
  heightMm?: number;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e7)
  durationS?: number;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e7)
  materialG?: number;

  @IsOptional()
  @IsString()
  @MaxLength(2000)
  note: string = '';

  @IsOptional()
  @IsMoment()
  at?: string;
}
