import { MeshError } from '../run/MeshError.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { weldSoup } from '../mesh/weld.ts';
import type { RunContext } from '../run/context.ts';
import { ByteScanner } from './ByteScanner.ts';
import { GrowableFloats } from '../mesh/Growable.ts';
import { triangulatePolygon } from './polygon.ts';

const headerBytes = 84;
const recordBytes = 50;

/** Does the length agree with the triangle count that a binary STL states at byte 80? */
export function isExactBinaryStl(bytes: Uint8Array): boolean {
  if (bytes.length < headerBytes) return false;
  const stated = new DataView(bytes.buffer, bytes.byteOffset, bytes.length).getUint32(80, true);
  return headerBytes + recordBytes * stated === bytes.length;
}

/**
 * Binary STL: 80 bytes of header, a count, 50 bytes a triangle, little-endian. Stored normals and attributes are not
 * used.
 *
 * @throws MeshError `truncated`, `wrong-count`, `bad-number`
 */
export function readBinaryStl(bytes: Uint8Array, context: RunContext): TriMesh {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < headerBytes)
    throw new MeshError(
      'truncated',
      `A binary STL begins with 84 bytes; this file has ${bytes.length}.`,
      'Copy or download the file again.',
    );
  const stated = view.getUint32(80, true);
  const room = (bytes.length - headerBytes) / recordBytes;
  if (stated > room)
    throw new MeshError(
      'truncated',
      `The file says ${stated} triangles at byte 80 but ends at byte ${bytes.length}, in triangle ${Math.floor(room) + 1}.`,
      'It was probably cut off while copying or downloading. Fetch it again.',
    );
  // a few bytes of padding after the last record are common; a whole record more is not
  if (stated + 1 <= room)
    throw new MeshError(
      'wrong-count',
      `The file says ${stated} triangles at byte 80, and there are ${bytes.length - headerBytes - recordBytes * stated} bytes more after the last of them (room for ${Math.floor(room)} in all).`,
      'Export it again from the program that made it.',
    );
  const soup = new Float32Array(9 * stated);
  let at = headerBytes + 12;
  let out = 0;
  for (let t = 0; t < stated; t++, at += recordBytes) {
    if ((t & 0xffff) === 0) context.checkCancelled();
    for (let k = 0; k < 36; k += 4) soup[out++] = view.getFloat32(at + k, true);
  }
  for (let i = 0; i < soup.length; i++)
    if (!(Math.abs(soup[i]) < Infinity)) {
      const t = Math.floor(i / 9);
      throw new MeshError(
        'bad-number',
        `Triangle ${t + 1} has a coordinate that is ${soup[i] !== soup[i] ? 'not a number' : 'infinite'} (byte ${headerBytes + recordBytes * t + 12 + 4 * (i % 9)}).`,
        'Export it again from the program that made it.',
      );
    }
  return weldSoup(soup);
}

/**
 * ASCII STL, read word by word: several solids, any spacing and case, line ends of all kinds, missing or broken
 * normals, and loops of more than three corners.
 *
 * @returns `ended` is false when the last solid is not closed by its `endsolid`
 *
 * @throws MeshError `bad-syntax`, `bad-number`, `truncated`
 */
export function readAsciiStl(
  bytes: Uint8Array,
  context: RunContext,
): { mesh: TriMesh; solids: number; ended: boolean } {
  const scan = new ByteScanner(bytes);
  const soup = new GrowableFloats(Math.max(3072, bytes.length >> 5));
  let solids = 0;
  let facets = 0;
  let loop: number[] = [];
  let inLoop = false;
  let words = 0;
  let ended = true;
  const close = () => {
    if (loop.length < 9)
      throw new MeshError(
        'bad-syntax',
        `Facet ${facets} (line ${scan.line}) has ${loop.length / 3} corners; it needs three.`,
        'Export it again from the program that made it.',
      );
    if (loop.length === 9) {
      soup.push3(loop[0], loop[1], loop[2]);
      soup.push3(loop[3], loop[4], loop[5]);
      soup.push3(loop[6], loop[7], loop[8]);
    } else for (const c of triangulatePolygon(loop)) soup.push3(loop[3 * c], loop[3 * c + 1], loop[3 * c + 2]);
    loop = [];
    inLoop = false;
  };
  while (scan.wordAcross()) {
    if ((++words & 0xffff) === 0) context.checkCancelled();
    if (scan.is('vertex')) {
      if (!inLoop)
        throw new MeshError(
          'bad-syntax',
          `A vertex stands outside a facet at line ${scan.line}.`,
          'Export it again from the program that made it.',
        );
      for (let k = 0; k < 3; k++) {
        const line = scan.line;
        if (!scan.wordAcross()) throw cutOff(scan, facets);
        const x = Math.fround(scan.number());
        if (!Number.isFinite(x))
          throw new MeshError(
            'bad-number',
            `"${scan.text().slice(0, 40)}" at line ${line} (facet ${facets}) is not a finite number.`,
            'Export it again from the program that made it.',
          );
        loop.push(x);
      }
    } else if (scan.is('facet')) {
      if (inLoop)
        throw new MeshError(
          'bad-syntax',
          `Facet ${facets} is not closed before the next begins at line ${scan.line}.`,
          'Export it again from the program that made it.',
        );
      facets++;
      inLoop = true;
    } else if (scan.is('endfacet')) {
      if (inLoop) close();
    } else if (scan.is('solid')) {
      solids++;
      ended = false;
      scan.nextLine();
    } else if (scan.is('endsolid')) {
      if (inLoop) close();
      ended = true;
      scan.nextLine();
    } else if (!scan.is('outer') && !scan.is('loop') && !scan.is('endloop') && !scan.is('normal')) {
      if (inLoop && loop.length === 0) continue;
      throw new MeshError(
        'bad-syntax',
        `"${scan.text().slice(0, 40)}" at line ${scan.line} is not a word of an ASCII STL.`,
        'Is it another kind of file, renamed?',
      );
    }
  }
  if (inLoop) throw cutOff(scan, facets);
  return { mesh: weldSoup(soup.taken()), solids, ended };
}

const cutOff = (scan: ByteScanner, facets: number): MeshError =>
  new MeshError(
    'truncated',
    `The file ends in the middle of facet ${facets}, at line ${scan.line}.`,
    'It was probably cut off while copying or downloading. Fetch it again.',
  );

/** Binary STL of a mesh, with normals from the corners. */
export function writeBinaryStl(mesh: TriMesh): Uint8Array {
  const { positions: p, triangles } = mesh;
  const n = triangles.length / 3;
  const bytes = new Uint8Array(headerBytes + recordBytes * n);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode('Binary STL, millimetres'));
  view.setUint32(80, n, true);
  for (let t = 0, at = headerBytes; t < n; t++, at += recordBytes) {
    const a = 3 * triangles[3 * t];
    const b = 3 * triangles[3 * t + 1];
    const c = 3 * triangles[3 * t + 2];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    view.setFloat32(at, nx / length, true);
    view.setFloat32(at + 4, ny / length, true);
    view.setFloat32(at + 8, nz / length, true);
    for (let k = 0; k < 3; k++) {
      view.setFloat32(at + 12 + 4 * k, p[a + k], true);
      view.setFloat32(at + 24 + 4 * k, p[b + k], true);
      view.setFloat32(at + 36 + 4 * k, p[c + k], true);
    }
  }
  return bytes;
}
