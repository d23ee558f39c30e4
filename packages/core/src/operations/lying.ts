import { IsOptional } from 'class-validator';
import { IsDirection, IsRotation } from '../params/checks.ts';
import { Param } from '../params/Param.ts';
import { IsPrinter, type PrinterProfile } from '../planning/PrinterProfile.ts';

/** Params of what is looked at on a printer's bed: on which, and how the part lies there. */
export class LyingParams {
  @Param('printer, settings and material; usual ones of filament if left out', { flag: null })
  @IsOptional()
  @IsPrinter()
  printer?: Partial<PrinterProfile>;

  @Param('direction of the model that is up')
  @IsOptional()
  @IsDirection()
  up: [number, number, number] = [0, 0, 1];

  @Param('rows of the rotation in which it lies, instead of what is up', { flag: null })
  @IsOptional()
  @IsRotation()
  rotation?: [[number, number, number], [number, number, number], [number, number, number]];
}
