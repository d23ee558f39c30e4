import { IsIn, IsObject, IsOptional, IsString, MaxLength } from 'class-validator';
import { licenceIds, type LicenceId } from '@jasmorphe/core/trade/licences';

/** Where a work came from. */
export class Origin {
  @IsOptional()
  @IsString()
  @MaxLength(200)
  from?: string;

  @IsOptional()
  @IsString()
  @MaxLength(200)
  by?: string;

  @IsOptional()
  @IsString()
  @MaxLength(500)
  address?: string;

  @IsOptional()
  @IsString()
  @MaxLength(40)
  date?: string;
}

/** Where a project or a piece came from, and on what terms. */
export class Provenance {
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  licence?: string;

  @IsOptional()
  @IsIn(licenceIds)
  terms?: LicenceId;

  @IsOptional()
  @IsObject()
  source?: Origin;
}
