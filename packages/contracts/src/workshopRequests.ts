import {
  IsBoolean,
  IsIn,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { IsPercentBelow } from '@jasmorphe/core/params/checks';
import { IsDayOrNone } from '@jasmorphe/core/params/moments';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { referenceKinds, type ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';

/** A printer or a material, put out of use or taken back into it. */
export class Retire {
  /** No longer printed with; its log stays. */
  @IsBoolean()
  retired: boolean;
}

export class SaveMaterial {
  @IsString()
  @Length(1, 80)
  name: string;

  @IsIn(['filament', 'resin'])
  kind: 'filament' | 'resin';

  @IsNumber()
  @Min(0.1)
  @Max(30)
  densityGCm3: number;

  @IsNumber()
  @Min(0)
  @Max(1e6)
  pricePerKg: number;

  /** Grams beside the spools and bottles that are listed. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e6)
  stockG: number = 0;

  /** By which a print comes out smaller, %. */
  @IsOptional()
  @IsPercentBelow(50)
  shrinkagePct: number = 0;

  @IsOptional()
  @IsString()
  @MaxLength(2000)
  cautions: string = '';
}

/** A spool or a bottle. */
export class SaveSpool {
  @IsString()
  @Length(1, 60)
  materialId: string;

  @IsString()
  @Length(1, 80)
  name: string;

  @IsOptional()
  @IsString()
  @MaxLength(80)
  colour: string = '';

  /** With what it is wound on, or the bottle. */
  @IsNumber()
  @Min(0)
  @Max(1e5)
  grossG: number;

  @IsNumber()
  @Min(0)
  @Max(1e5)
  emptyG: number;

  /** A day, or nothing where it is not opened or nobody knows. */
  @IsOptional()
  @IsDayOrNone('2026-11-26')
  openedOn?: string;

  /** Where it is. */
  @IsOptional()
  @IsString()
  @MaxLength(120)
  whereabouts: string = '';

  /** Used up, or thrown away. */
  @IsOptional()
  @IsBoolean()
  ended: boolean = false;
}

/** A spool was weighed, or something was taken from it. */
export class AddSpoolEntry {
  @IsIn(['weighed', 'used'])
  kind: 'weighed' | 'used';

  /** gross where it was weighed */
  @IsNumber()
  @Min(0)
  @Max(1e5)
  grams: number;

  @IsOptional()
  @IsString()
  @MaxLength(400)
  note: string = '';
}

/** A body with its measures, for all projects. */
export class SaveBody {
  @IsString()
  @Length(1, 80)
  name: string;

  @IsIn(referenceKinds)
  kind: ReferenceKind;

  /** mm; those left out are the published median man's */
  @IsOptional()
  @IsObject()
  measures: Record<string, number> = {};
}

/** The maker's choices for all projects. */
export class Settings extends HomeHours {
  @IsOptional()
  @IsIn(['mm', 'in'])
  unit: 'mm' | 'in' = 'mm';

  /** Three letters of ISO 4217. */
  @IsOptional()
  @IsString()
  @Matches(/^[A-Z]{3}$/, { message: 'currency must be three capital letters such as EUR' })
  currency: string = 'EUR';

  @IsOptional()
  @IsIn(['a4', 'letter'])
  paper: 'a4' | 'letter' = 'a4';
}
