import { IsIn, IsNumber, IsOptional, IsString, Length, Matches, Max, MaxLength, Min } from 'class-validator';
import { IsMm } from '@jasmorphe/core/params/checks';
import { IsMoment } from '@jasmorphe/core/params/moments';
import { AreEach } from '@jasmorphe/core/params/nested';

/** Bedfuls that were worked out are what is to be done. */
export class KeepBedfuls {
  /** the step that worked them out */
  @IsString()
  @Matches(/^[0-9a-f]{64}$/, { message: 'stepId must be the id of a step' })
  stepId: string;
}

/** When a bedful is wanted. */
export class ChangeBedful {
  /** not to be started before; null leaves it to the plan */
  @IsOptional()
  @IsMoment()
  wantedAt?: string | null = null;
}

export class MoveBedful {
  /** the printer that it goes to */
  @IsString()
  @Length(1, 100)
  printerId: string;

  /** not to be started before; left out, it is wanted when it was */
  @IsOptional()
  @IsMoment()
  wantedAt?: string | null;
}

/** A part of a bedful that stopped. */
export class StoppedPart {
  @IsString()
  @Length(1, 40)
  tag: string;

  /** where it stopped, above the bed */
  @IsMm()
  heightMm: number;
}

/** What was taken from a spool or bottle. */
export class TakenFrom {
  @IsString()
  @Length(1, 60)
  spoolId: string;

  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(0)
  @Max(1e6)
  grams: number;
}

/** A bedful is off the bed: what came of it. */
export class EndBedful {
  /** how long it really took, or ran until it stopped */
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(0)
  @Max(10_000)
  hours?: number;

  /** parts that stopped; all others look right */
  @IsOptional()
  @AreEach(StoppedPart, 0, 300)
  stopped: StoppedPart[] = [];

  @IsOptional()
  @AreEach(TakenFrom, 0, 20)
  taken: TakenFrom[] = [];

  @IsOptional()
  @IsString()
  @MaxLength(2000)
  note: string = '';

  /** when it was; now if left out */
  @IsOptional()
  @IsMoment()
  at?: string;
}

export class BookQuery {
  /** as the settings say if left out */
  @IsOptional()
  @IsIn(['a4', 'letter'])
  paper?: 'a4' | 'letter';
}
