import { IsIn, IsOptional } from 'class-validator';
import { guessUnit, lengthUnits, mmPerUnit, type LengthUnit } from '../../formats/units.ts';
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
  unit: LengthUnit;
  /** where the unit comes from */
  unitFrom: 'file' | 'guess' | 'given';
  unitReason: string;
}

/** A file becomes a mesh in mm, corners with equal coordinates joined. */
export const importMesh: Operation<ImportParams, ImportReport> = {
  name: 'import',
  version: 1,
  summary: 'Reads an STL, OBJ, PLY or 3MF file',
  params: ImportParams,
  async run(_inputs, params, context) {
    const source = context.source;
    if (!source) throw new MeshError('bad-params', 'There is no file to import.', 'Choose one.');
    context.progress(0, 'Reading the file');
    const read = readMesh(source.bytes, context);
    const raw = boundsOf(read.mesh);
    const fileSize = sizeOf(raw);
    const largest = Math.max(...fileSize);
    if (!(largest > 0))
      throw new MeshError(
        'no-triangles',
        'All triangles of the file lie in one point.',
        'Export it again from the program that made it.',
      );
    let unit: LengthUnit;
    let unitFrom: ImportReport['unitFrom'];
    let unitReason: string;
    if (read.hasUnit) {
      unit = 'mm';
      unitFrom = 'file';
      unitReason = 'the file states its unit';
      if (params.unit !== 'auto' && params.unit !== 'mm') {
        unit = params.unit;
        unitFrom = 'given';
        unitReason = `taken as ${params.unit} although the file states its unit`;
      }
    } else if (params.unit === 'auto') {
      const guess = guessUnit(largest);
      unit = guess.unit;
      unitFrom = 'guess';
      unitReason = guess.reason;
    } else {
      unit = params.unit;
      unitFrom = 'given';
      unitReason = 'as you said';
    }
    const f = mmPerUnit[unit];
    const mesh = f === 1 ? read.mesh : weldExact(scaleMesh(read.mesh, [f, f, f]));
    if (!(largest * f < 1e7))
      throw new MeshError(
        'bad-number',
        `At ${unit} the model would be ${((largest * f) / 1e6).toPrecision(3)} km across.`,
        'Choose a smaller unit.',
        'unit',
      );
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
        unitFrom,
        unitReason,
      },
    };
  },
};
