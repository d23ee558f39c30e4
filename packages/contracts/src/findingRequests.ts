import { IsString, Length, MaxLength, MinLength } from 'class-validator';

/** A finding that is set aside, and why. By itself, since a page loads it first. */
export class DismissFinding {
  @IsString()
  @Length(1, 80)
  code: string;

  @IsString()
  @MinLength(3)
  @MaxLength(400)
  reason: string;
}
