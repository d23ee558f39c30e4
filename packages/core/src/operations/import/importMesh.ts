import { IsIn, IsInt, IsOptional, Max, Min } from 'class-validator';
import type { FileWords } from '../../formats/threeMf.ts';
import { guessUnit, lengthUnits, mmPerStatedUnit, type LengthUnit, type StatedUnit } from '../../formats/units.ts';
import { readMesh, type MeshFormat } from '../../formats/readMesh.ts';
import { MeshError } from '../../mesh/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, triangleCount, vertexCount, xyz, type Xyz } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import type { Operation } from '../Operation.ts';

export class ImportParams {
  /** Unit of the file's numbers; `auto` takes the file's own, or guesses from the size. */
  @IsOptional()
  @IsIn([...lengthUnits, 'auto'])
  unit: LengthUnit | 'auto' = 'auto';

  /** Only this object of a file that keeps several apart, counted from 0; all together if left out. */
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

const unitNames: Record<StatedUnit, string> = {
  micron: 'micron',
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  in: 'inch',
  ft: 'foot',
};

/** A file becomes a mesh in mm, corners with equal coordinates joined. */
export const importMesh: Operation<ImportParams, ImportReport> = {
  name: 'import',
  version: 2,
  summary: 'Reads an STL, OBJ, PLY or 3MF file',
  params: ImportParams,
  async run(_inputs, params, context) {
    const source = context.source;
    if (!source) throw new MeshError('bad-params', 'There is no file to import.', 'Choose one.');
    context.progress(0, 'Reading the file');
    const read = readMesh(source.bytes, context, params.object);
    const raw = boundsOf(read.mesh);
    const fileSize = sizeOf(raw);
    const largest = Math.max(...fileSize);
    if (!(largest > 0))
      throw new MeshError(
        'no-triangles',
        'All triangles of the file lie in one point.',
        'Export it again from the program that made it.',
      );
    let unit: StatedUnit;
    let unitFrom: ImportReport['unitFrom'];
    let unitReason: string;
    if (read.unit && params.unit === 'auto') {
      unit = read.unit;
      unitFrom = 'file';
      unitReason = `the file states its unit, ${unitNames[unit]}`;
    } else if (params.unit === 'auto') {
      const guess = guessUnit(largest);
      unit = guess.unit;
      unitFrom = 'guess';
      unitReason = guess.reason;
    } else {
      unit = params.unit;
      unitFrom = 'given';
      unitReason = read.unit ? `as you said, though the file states ${unitNames[read.unit]}` : 'as you said';
    }
    const f = mmPerStatedUnit[unit];
    if (!(largest * f < 1e7))
      throw new MeshError(
        'bad-number',
        `At ${unit} the model would be ${((largest * f) / 1e6).toPrecision(3)} km across.`,
        'Choose a smaller unit.',
        'unit',
      );
    const mesh = f === 1 ? read.mesh : weldExact(scaleMesh(read.mesh, [f, f, f]));
    context.progress(1, 'Imported');
    return {
      outputs: [mesh],
      report: {
        format: read.format,
        bytes: source.bytes.length,
        groups: read.groups,
        triangles: triangleCount(mesh),
        verticesRead: read.vertices,
        vertices: vertexCount(mesh),
        fileSize: xyz(fileSize),
        size: xyz(sizeOf(boundsOf(mesh))),
        unit,
        fileUnit: read.unit,
        objects: read.objects.map((o) => ({ name: o.name, triangles: triangleCount(o.mesh), colour: o.colour })),
        words: read.words,
        notes: read.notes,
        unitFrom,
        unitReason,
      },
    };
  },
};
