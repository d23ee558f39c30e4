import { MeshError } from '../run/MeshError.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import type { RunContext } from '../run/context.ts';
import { ByteScanner } from './ByteScanner.ts';
import { GrowableFloats, GrowableIndices } from '../mesh/Growable.ts';
import { triangulatePolygon } from './polygon.ts';

/**
 * Wavefront-style OBJ: vertices and faces of any number of corners, indices from 1 or, negative, counted back from
 * the last vertex; texture and normal indices, groups, materials and all other statements are passed over.
 *
 * @throws MeshError `bad-number`, `bad-index`, `bad-syntax`, `point-cloud`
 */
export function readObj(bytes: Uint8Array, context: RunContext): { mesh: TriMesh; groups: number } {
  const scan = new ByteScanner(bytes);
  const points = new GrowableFloats(Math.max(3072, bytes.length >> 5));
  const faces = new GrowableIndices(Math.max(3072, bytes.length >> 5));
  const face: number[] = [];
  const faceLines: number[] = [];
  let highest = -1;
  let highestLine = 0;
  let groups = 0;
  let lines = 0;
  let polygonsPending: { corners: number[]; line: number }[] = [];
  const flush = () => {
    for (const { corners, line } of polygonsPending) {
      const coords: number[] = [];
      for (const c of corners) {
        if (3 * c + 2 >= points.length) throw outOfRange(c + 1, line, points.length / 3);
        coords.push(points.data[3 * c], points.data[3 * c + 1], points.data[3 * c + 2]);
      }
      const cut = triangulatePolygon(coords);
      for (let i = 0; i < cut.length; i += 3) faces.push3(corners[cut[i]], corners[cut[i + 1]], corners[cut[i + 2]]);
    }
    polygonsPending = [];
  };
  while (!scan.done) {
    if ((++lines & 0xffff) === 0) context.checkCancelled();
    if (!scan.word()) {
      scan.nextLine();
      continue;
    }
    const line = scan.line;
    if (scan.is('v')) {
      const c = [0, 0, 0];
      for (let k = 0; k < 3; k++) {
        if (!scan.word())
          throw new MeshError(
            'bad-syntax',
            `The vertex at line ${line} has ${k} coordinates; it needs three.`,
            'Export it again from the program that made it.',
          );
        c[k] = Math.fround(scan.number());
        if (!Number.isFinite(c[k]))
          throw new MeshError(
            'bad-number',
            `"${scan.text().slice(0, 40)}" at line ${line} is not a finite number.`,
            'Export it again from the program that made it.',
          );
      }
      points.push3(c[0], c[1], c[2]);
    } else if (scan.is('f')) {
      face.length = 0;
      while (scan.word()) {
        if (bytes[scan.from] === 35) break;
        let i = scan.from;
        const negative = bytes[i] === 45;
        if (negative || bytes[i] === 43) i++;
        let value = 0;
        const first = i;
        for (; i < scan.to && bytes[i] >= 48 && bytes[i] <= 57; i++) value = value * 10 + bytes[i] - 48;
        if (i === first || (i < scan.to && bytes[i] !== 47))
          throw new MeshError(
            'bad-syntax',
            `"${scan.text().slice(0, 40)}" at line ${line} is not a corner of a face.`,
            'Export it again from the program that made it.',
          );
        const index = negative ? points.length / 3 - value : value - 1;
        if (value === 0 || index < 0) throw outOfRange(negative ? -value : value, line, points.length / 3);
        if (index > highest) {
          highest = index;
          highestLine = line;
        }
        face.push(index);
      }
      if (face.length < 3)
        throw new MeshError(
          'bad-syntax',
          `The face at line ${line} has ${face.length} corners; it needs three.`,
          'Export it again from the program that made it.',
        );
      if (face.length === 3) {
        if (polygonsPending.length > 0) flush();
        faces.push3(face[0], face[1], face[2]);
      } else {
        polygonsPending.push({ corners: face.slice(), line });
        if (polygonsPending.length > 4096 && highest < points.length / 3) flush();
      }
      faceLines[0] = line;
    } else if (scan.is('o') || scan.is('g')) groups++;
    while (scan.word());
    scan.nextLine();
  }
  if (highest >= points.length / 3) throw outOfRange(highest + 1, highestLine, points.length / 3);
  flush();
  if (faces.length === 0 && points.length > 0)
    throw new MeshError(
      'point-cloud',
      `The file holds ${points.length / 3} points and no faces: a point cloud.`,
      'Let the scanning program make a mesh of it first.',
    );
  return {
    mesh: { positions: points.taken(), triangles: faces.taken() },
    groups,
  };
}

const outOfRange = (index: number, line: number, count: number): MeshError =>
  new MeshError(
    'bad-index',
    `The face at line ${line} asks for vertex ${index}; the file has ${count}.`,
    'The file is cut off or was edited by hand. Export it again.',
  );

/** OBJ text of a mesh, coordinates with enough digits to read back the same float32. */
export function writeObj(mesh: TriMesh): Uint8Array {
  const parts: string[] = ['# millimetres\n'];
  const { positions: p, triangles: t } = mesh;
  for (let i = 0; i < p.length; i += 3) parts.push(`v ${digits(p[i])} ${digits(p[i + 1])} ${digits(p[i + 2])}\n`);
  for (let i = 0; i < t.length; i += 3) parts.push(`f ${t[i] + 1} ${t[i + 1] + 1} ${t[i + 2] + 1}\n`);
  return new TextEncoder().encode(parts.join(''));
}

/** Shortest of 9 significant digits: always enough for a float32 (IEEE 754, 5.12.2). */
export const digits = (x: number): string => String(Number(x.toPrecision(9)));
