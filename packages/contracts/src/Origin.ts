import { IsOptional, IsString, MaxLength } from 'class-validator';

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
