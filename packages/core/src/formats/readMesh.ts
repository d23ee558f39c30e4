import { quietContext, type RunContext } from '../run/context.ts';
import { MeshError } from '../run/MeshError.ts';
import { concatMeshes, vertexCount, type TriMesh } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';
import { readObj } from './obj.ts';
import { readPly } from './ply.ts';
import { isExactBinaryStl, readAsciiStl, readBinaryStl } from './stl.ts';
import { readThreeMf, type FileWords, type ThreeMfObject } from './threeMf.ts';
import type { StatedUnit } from './units.ts';

export type MeshFormat = 'stl-binary' | 'stl-ascii' | 'obj' | 'ply' | '3mf';

export interface ReadResult {
  /** welded exactly; in the file's own unit */
  mesh: TriMesh;
  format: MeshFormat;
  /** the unit that the file states; null where the format has none */
  unit: StatedUnit | null;
  /** solids, groups or objects found */
  groups: number;
  vertices: number;
  /** objects of the file by name, where the format keeps them apart */
  objects: ThreeMfObject[];
  words: FileWords | null;
  /** what was odd about the file and did not hinder reading it */
  notes: string[];
}

const starts = (bytes: Uint8Array, text: string, at = 0): boolean => {
  if (bytes.length < at + text.length) return false;
  for (let i = 0; i < text.length; i++) {
    let c = bytes[at + i];
    if (c >= 65 && c <= 90) c += 32;
    if (c !== text.charCodeAt(i)) return false;
  }
  return true;
};

/** Text in UTF-16 (by its mark, or by the zero bytes of plain letters) or with a UTF-8 mark, as plain UTF-8. */
function plainText(bytes: Uint8Array): Uint8Array {
  if (starts(bytes, '\xef\xbb\xbf')) return bytes.subarray(3);
  const little =
    (bytes[0] === 0xff && bytes[1] === 0xfe) ||
    (bytes.length > 8 && bytes[1] === 0 && bytes[3] === 0 && bytes[5] === 0 && bytes[0] > 8 && bytes[2] > 8);
  const big =
    (bytes[0] === 0xfe && bytes[1] === 0xff) ||
    (bytes.length > 8 && bytes[0] === 0 && bytes[2] === 0 && bytes[4] === 0 && bytes[1] > 8 && bytes[3] > 8);
  if (!little && !big) return bytes;
  return new TextEncoder().encode(new TextDecoder(little ? 'utf-16le' : 'utf-16be').decode(bytes));
}

/** Is a byte one that no text holds? */
const isControl = (c: number): boolean => c < 9 || (c > 13 && c < 32) || c === 127;

/** Which format the bytes are, by what they hold and never by the file's name; null when none fits. */
export function sniffFormat(bytes: Uint8Array): MeshFormat | null {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5)) return '3mf';
  if (starts(bytes, 'ply') && (bytes[3] === 10 || bytes[3] === 13)) return 'ply';
  if (isExactBinaryStl(bytes) && (bytes.length > 84 || !starts(bytes, 'solid'))) return 'stl-binary';
  const head = bytes.subarray(0, 1 << 16);
  const controls = head.filter(isControl).length;
  if (controls > 0) return bytes.length >= 84 && controls > head.length / 50 ? 'stl-binary' : null;
  const text = new TextDecoder('latin1').decode(head);
  if (/^\s*solid\b/i.test(text) || /^\s*facet\s+normal\b/im.test(text)) return 'stl-ascii';
  if (
    /^[ \t]*v[ \t]+[-+.\d]/m.test(text) ||
    (/^[ \t]*(mtllib|f|o|g)[ \t]+\S/m.test(text) && /^[ \t]*(v|f)[ \t]/m.test(text))
  )
    return 'obj';
  return null;
}

/** Does the file say in which unit its numbers are? Only one of the formats does. */
export const statesUnit = (bytes: Uint8Array): boolean => sniffFormat(bytes) === '3mf';

/** Most vertices and triangles a mesh may have: indices and half-edges must stay below 2^31. */
const mostTriangles = 100_000_000;

/**
 * Reads a mesh file of any supported format and welds it exactly.
 *
 * @param object only this one of the file's objects, from 0; all together if left out
 * @throws MeshError with what was found and where
 */
export function readMesh(source: Uint8Array, context: RunContext = quietContext, object?: number): ReadResult {
  if (source.length === 0)
    throw new MeshError('empty-file', 'The file is empty (0 bytes).', 'Copy or download it again.');
  const bytes = plainText(source);
  const format = sniffFormat(bytes);
  const control = format === null && starts(bytes, 'solid') ? bytes.findIndex(isControl) : -1;
  if (control >= 0)
    throw new MeshError(
      'bad-syntax',
      `The file begins like an ASCII STL, but byte ${control} is the control character 0x${bytes[control].toString(16).padStart(2, '0')}, which no text holds.`,
      'It was damaged on the way, or is a binary STL of the wrong length. Fetch it again.',
    );
  if (format === null)
    throw new MeshError(
      'unknown-format',
      `This is not an STL, OBJ, PLY or 3MF file: it begins with "${preview(bytes)}".`,
      'Jasmorphe looks at what is inside, not at the name. Export the model as one of these four.',
    );
  let mesh: TriMesh;
  let groups = 1;
  let unit: StatedUnit | null = null;
  let objects: ThreeMfObject[] = [];
  let words: FileWords | null = null;
  const notes: string[] = [];
  switch (format) {
    case 'stl-binary':
      if (looksLikeText(bytes))
        throw new MeshError(
          'unknown-format',
          `The file is text but no ASCII STL: it begins with "${preview(bytes)}".`,
          '',
        );
      mesh = readBinaryStl(bytes, context);
      break;
    case 'stl-ascii': {
      const ascii = readAsciiStl(bytes, context);
      ({ mesh, solids: groups } = ascii);
      if (!ascii.ended)
        notes.push(
          'The file ends without the "endsolid" that closes an ASCII STL: it may have been cut off. All that is there was read.',
        );
      break;
    }
    case 'obj':
      ({ mesh, groups } = readObj(bytes, context));
      break;
    case 'ply':
      ({ mesh } = readPly(bytes, context));
      break;
    case '3mf':
      ({ objects, unit, words } = readThreeMf(bytes, context));
      groups = objects.length;
      if (object !== undefined && !objects[object])
        throw new MeshError(
          'bad-params',
          `The file has ${groups} ${groups === 1 ? 'object' : 'objects'}; there is no number ${object + 1}.`,
          '',
          'object',
        );
      mesh = object === undefined ? concatMeshes(objects.map((o) => o.mesh)) : objects[object].mesh;
      break;
  }
  if (mesh.triangles.length === 0)
    throw new MeshError(
      'no-triangles',
      'The file was read to its end and holds no triangles.',
      'Export it again, with the body selected.',
    );
  if (mesh.triangles.length / 3 > mostTriangles)
    throw new MeshError(
      'cannot',
      `The file holds ${mesh.triangles.length / 3} triangles; at most ${mostTriangles} are taken.`,
      'Simplify it first.',
    );
  const read = vertexCount(mesh);
  const welded = format.startsWith('stl') ? mesh : weldExact(mesh);
  return { mesh: welded, format, unit, groups: Math.max(1, groups), vertices: read, objects, words, notes };
}

const looksLikeText = (bytes: Uint8Array): boolean => bytes.subarray(0, 512).every((c) => c >= 9 && c < 127);

const preview = (bytes: Uint8Array): string =>
  Array.from(bytes.subarray(0, 24), (c) => (c >= 32 && c < 127 ? String.fromCharCode(c) : '·')).join('');
