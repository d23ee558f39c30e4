import { whole } from '../../words/numbers.ts';
import { Param } from '../../params/Param.ts';
import { IsIn, IsOptional, IsString, MaxLength } from 'class-validator';
import { exportFormats, type ExportFormat } from '../../formats/exportFormats.ts';
import { IsRotation } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export class ExportParams {
  @Param('format of the file')
  @IsOptional()
  @IsIn(exportFormats)
  format: ExportFormat = '3mf';

  @Param('name of the piece within it')
  @IsOptional()
  @IsString()
  @MaxLength(120)
  name: string = 'part';

  @Param('title of the work, for a 3MF')
  @IsOptional()
  @IsString()
  @MaxLength(240)
  title: string = '';

  @Param('who designed it, for a 3MF')
  @IsOptional()
  @IsString()
  @MaxLength(240)
  designer: string = '';

  @Param('its licence terms, for a 3MF')
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  licence: string = '';

  @Param('rows of a rotation: the mesh is turned so, with its lowest corner at 0, 0, 0', { flag: null })
  @IsOptional()
  @IsRotation()
  rotation?: number[][];
}

export interface ExportReport {
  format: ExportFormat;
  triangles: number;
  shells: number;
  bytes: number;
  sound: boolean;
}

export const description = describe<'export', ExportParams, ExportReport>({
  name: 'export',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: null,
  shows: 'nothing',
  params: ExportParams,
  words: {
    summary: 'Writes an STL, OBJ, PLY or 3MF file',
    title: 'Export',
    done: 'Exported',
    button: 'Fetch',
    rows: [
      { label: 'Format', of: (r) => r.format },
      { label: 'Triangles', of: (r) => whole(r.triangles) },
      { label: 'Shells', of: (r) => whole(r.shells) },
      { label: 'Valid solid', of: (r) => (r.sound ? 'yes' : 'no') },
    ],
  },
});
