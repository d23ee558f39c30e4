import { IsIn, IsOptional, IsString, MaxLength } from 'class-validator';
import { exportFormats, mediaTypes, writeMesh, type ExportFormat } from '../../formats/writeMesh.ts';
import { inspectMesh, isSound } from '../../mesh/inspect.ts';
import { triangleCount } from '../../mesh/TriMesh.ts';
import { layOnBed } from '../../planning/partPose.ts';
import { IsRotation } from '../checks.ts';
import type { Operation } from '../Operation.ts';

export class ExportParams {
  @IsOptional()
  @IsIn(exportFormats)
  format: ExportFormat = '3mf';

  @IsOptional()
  @IsString()
  @MaxLength(120)
  name: string = 'part';

  /** Rows of a rotation: the mesh is turned so, with its lowest corner at 0, 0, 0. */
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

/** A mesh becomes a file. The mesh itself stays as it is. */
export const exportMesh: Operation<ExportParams, ExportReport> = {
  name: 'export',
  version: 1,
  summary: 'Writes an STL, OBJ, PLY or 3MF file',
  params: ExportParams,
  async run([mesh], params, context) {
    context.progress(0, 'Writing the file');
    const name = safeFileName(params.name);
    const laid = params.rotation ? layOnBed(mesh, params.rotation) : mesh;
    const bytes = writeMesh(laid, params.format, name);
    const inspection = inspectMesh(laid, { skipSelfIntersections: true, brief: true });
    return {
      outputs: [],
      report: {
        format: params.format,
        triangles: triangleCount(mesh),
        shells: inspection.shells,
        bytes: bytes.length,
        sound: isSound(inspection),
      },
      files: [{ name: `${name}.${params.format}`, mediaType: mediaTypes[params.format], bytes }],
    };
  },
};

/** A name that is safe on any disk: no folders, no control characters, never empty. */
export function safeFileName(name: string): string {
  const last = name.split(/[/\\]/).at(-1) ?? '';
  const clean = [...last]
    .filter((c) => c >= ' ' && c !== '\u007f' && !'<>:"|?*'.includes(c))
    .join('')
    .replace(/^\.+/, '')
    .trim();
  return clean.slice(0, 100) || 'part';
}
