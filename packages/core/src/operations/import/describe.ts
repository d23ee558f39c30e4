import { stageFinding } from '../../inspect/stageFinding.ts';
import { whole, sizeText } from '../../words/numbers.ts';
import { Param } from '../../params/Param.ts';
import { IsIn, IsInt, IsOptional, Max, Min } from 'class-validator';
import type { FileWords } from '../../formats/threeMf.ts';
import { lengthUnits, type LengthUnit, type StatedUnit } from '../../formats/units.ts';
import type { MeshFormat } from '../../formats/readMesh.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { describe } from '../Description.ts';

export class ImportParams {
  @Param("unit of the file's numbers; auto takes the file's own, or guesses from the size", {
    says: (u: string) => (u === 'auto' ? null : `taken as ${u}`),
  })
  @IsOptional()
  @IsIn([...lengthUnits, 'auto'])
  unit: LengthUnit | 'auto' = 'auto';

  @Param('only this object of a file that keeps several apart, counted from 0; all together if left out', {
    says: (n: number) => `object ${whole(n + 1)} of the file`,
  })
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(100_000)
  object?: number;
}

export interface ImportReport {
  format: MeshFormat;
  bytes: number;
  groups: number;
  triangles: number;
  verticesRead: number;
  vertices: number;
  /** size as the numbers stand in the file */
  fileSize: Xyz;
  size: Xyz;
  unit: StatedUnit;
  /** what the file itself states, whatever was taken; null where it states none */
  fileUnit: StatedUnit | null;
  /** objects that the file keeps apart; one or none means that it is a single piece */
  objects: { name: string; triangles: number; colour: string | null }[];
  /** what the file says of itself */
  words: FileWords | null;
  /** what was odd about the file and did not hinder reading it */
  notes: string[];
  /** where the unit comes from */
  unitFrom: 'file' | 'guess' | 'given';
  unitReason: string;
}

export const description = describe<'import', ImportParams, ImportReport>({
  name: 'import',
  version: 2,
  makes: 'model',
  takes: 'file',
  stop: 'intake',
  leads: true,
  shows: 'skin',
  params: ImportParams,
  kept: (r) => ({ fileUnit: null, objects: [], words: null, notes: [], ...r }) as ImportReport,
  findings: {
    at: ['intake', 'size'],
    of: (_, r) => [
      ...r.notes.map((text) => stageFinding('file-note', 'attention', { text }, { name: text })),
      ...(r.unitFrom === 'guess'
        ? [
            stageFinding(
              'unit-guess',
              'attention',
              { unit: r.unit, reason: r.unitReason },
              { name: r.unit, sure: 'likely' },
            ),
          ]
        : []),
    ],
  },
  words: {
    summary: 'Reads an STL, OBJ, PLY or 3MF file',
    title: 'Import',
    done: 'Imported',
    button: 'This is right',
    figure: (_, r) => whole(r.triangles),
    rows: [
      { label: 'Format', of: (r) => r.format },
      { label: 'Triangles', of: (r) => whole(r.triangles) },
      { label: 'Size', of: (r, { length }) => sizeText(r.size, length) },
      {
        label: 'Unit',
        of: (r) =>
          `${r.unit}, ${r.unitFrom === 'file' ? 'as the file states' : r.unitFrom === 'given' ? 'as given' : `guessed: ${r.unitReason}`}`,
      },
    ],
    says: (r) => r.notes.join(' '),
    fileWord: '',
  },
});
