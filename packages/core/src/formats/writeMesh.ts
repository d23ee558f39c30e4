import { type ExportFormat, exportFormats } from './exportFormats.ts';
import { MeshError } from '../run/MeshError.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { writeObj } from './obj.ts';
import { writePly } from './ply.ts';
import { writeBinaryStl } from './stl.ts';
import { writeThreeMf, type FileWords } from './threeMf.ts';

/** The mesh as a file of the format given; coordinates in mm. Words of the work go where the format has room for them. */
export function writeMesh(
  mesh: TriMesh,
  format: ExportFormat,
  name = 'part',
  words: Partial<FileWords> = {},
): Uint8Array {
  switch (format) {
    case 'stl':
      return writeBinaryStl(mesh);
    case 'obj':
      return writeObj(mesh);
    case 'ply':
      return writePly(mesh);
    case '3mf':
      return writeThreeMf([{ name, mesh }], words);
  }
}

/**
 * The format that a file name asks for.
 *
 * @throws MeshError `bad-params` for any other ending
 */
export function formatOfName(name: string): ExportFormat {
  const ending = /\.([^./\\]+)$/.exec(name)?.[1]?.toLowerCase();
  const format = exportFormats.find((f) => f === ending);
  if (!format)
    throw new MeshError(
      'bad-params',
      `"${name}" does not end in .stl, .obj, .ply or .3mf.`,
      'The ending of the output file picks its format.',
    );
  return format;
}
