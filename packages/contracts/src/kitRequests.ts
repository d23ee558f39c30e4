import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { Provenance } from './Origin.ts';
import { Losing, previewOperations } from './requests.ts';

/** Most pieces of one kit. */
export const mostPieces = 500;

export class ChangePiece extends Provenance {
  @IsOptional()
  @IsString()
  @Length(1, 120)
  name?: string;

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(1000)
  copies?: number;

  /** Colour or material. */
  @IsOptional()
  @IsString()
  @MaxLength(80)
  colour?: string;

  /** Set aside: it stays, and is neither sized, divided nor printed with the kit. */
  @IsOptional()
  @IsBoolean()
  aside?: boolean;

  @IsOptional()
  @IsString()
  @MaxLength(400)
  reason?: string;
}

/** Most pieces that one is made into. */
export const mostCopies = 100;

/** One piece that several are printed of becomes as many pieces. */
export class MakeTwins {
  /** How many were to be printed of it as it was seen, so that no second press makes as many again. */
  @IsInt()
  @Min(2)
  @Max(mostCopies)
  copies: number;
}

const Ids = (): PropertyDecorator => (target, key) => {
  IsArray()(target, key);
  ArrayMinSize(1)(target, key);
  ArrayMaxSize(mostPieces)(target, key);
  IsString({ each: true })(target, key);
};

/** One of the forms of a thing is printed; the others are set aside. */
export class ChooseVariant {
  @Ids()
  ids: string[];

  /** the one that is printed; all of them if left out */
  @IsOptional()
  @IsString()
  chosen?: string;
}

/** One operation on many pieces. */
export class RunBatch {
  /** One that stands in a line; studies too where it is dry. */
  @IsIn(previewOperations)
  operation: OperationName;

  @IsOptional()
  @IsObject()
  params: Record<string, unknown> = {};

  @Ids()
  bodyIds: string[];

  /** Works out what each would give, without changing anything. */
  @IsOptional()
  @IsBoolean()
  dry: boolean = false;
}

/** A file that was uploaded and offered as a version. */
export class AddVersion {
  @IsString()
  @Matches(/^[0-9a-f]{64}$/, { message: 'sourceHash must be the SHA-256 of a file that was uploaded' })
  sourceHash: string;

  @IsString()
  @Length(1, 500)
  fileName: string;
}

/** A new version of a piece's file: its line replays on it. */
export class NewVersion extends AddVersion {
  /** It is done although prints come to be of no use by it; without this word such a change is refused. */
  @IsOptional()
  @IsBoolean()
  lose: boolean = false;
}

/** A batch is taken back. */
export class UndoBatch extends Losing {}

export class CreateNote {
  @IsString()
  @Length(1, 20_000)
  text: string;

  /** The piece or part that it is of; the whole project if left out. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  bodyId?: string;
}

/** Fields beside a photo. */
export class PhotoFields {
  @IsOptional()
  @IsString()
  @MaxLength(20_000)
  text: string = '';

  @IsOptional()
  @IsString()
  @MaxLength(60)
  bodyId?: string;
}

export class ChangeAttachment {
  @IsString()
  @MaxLength(20_000)
  text: string;
}
