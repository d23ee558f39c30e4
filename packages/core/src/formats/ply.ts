import { MeshError } from '../run/MeshError.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import type { RunContext } from '../run/context.ts';
import { ByteScanner } from './ByteScanner.ts';
import { GrowableIndices } from '../mesh/Growable.ts';
import { triangulatePolygon } from './polygon.ts';

type Scalar = 'int8' | 'uint8' | 'int16' | 'uint16' | 'int32' | 'uint32' | 'float32' | 'float64';
const scalars: Record<string, Scalar> = {
  char: 'int8',
  int8: 'int8',
  uchar: 'uint8',
  uint8: 'uint8',
  short: 'int16',
  int16: 'int16',
  ushort: 'uint16',
  uint16: 'uint16',
  int: 'int32',
  int32: 'int32',
  uint: 'uint32',
  uint32: 'uint32',
  float: 'float32',
  float32: 'float32',
  double: 'float64',
  float64: 'float64',
};
const widths: Record<Scalar, number> = {
  int8: 1,
  uint8: 1,
  int16: 2,
  uint16: 2,
  int32: 4,
  uint32: 4,
  float32: 4,
  float64: 8,
};

interface Property {
  name: string;
  type: Scalar;
  /** type of the length when the property is a list */
  list?: Scalar;
}

interface Element {
  name: string;
  count: number;
  properties: Property[];
}

type Format = 'ascii' | 'binary_little_endian' | 'binary_big_endian';

const again = 'Export it again from the program that made it.';

function readHeader(bytes: Uint8Array): { format: Format; elements: Element[]; body: number; line: number } {
  const scan = new ByteScanner(bytes);
  const elements: Element[] = [];
  let format: Format | undefined;
  scan.nextLine();
  for (;;) {
    if (scan.done)
      throw new MeshError('truncated', `The PLY header has no end_header (${bytes.length} bytes read).`, again);
    if (!scan.word()) {
      scan.nextLine();
      continue;
    }
    const line = scan.line;
    const words = [scan.text()];
    while (words.length < 6 && scan.word()) words.push(scan.text());
    const key = words[0].toLowerCase();
    if (key === 'format') {
      if (words[1] !== 'ascii' && words[1] !== 'binary_little_endian' && words[1] !== 'binary_big_endian')
        throw new MeshError(
          'bad-syntax',
          `Line ${line} names ${words.length > 1 ? `the format "${words[1]}", which is not` : 'no format; it wants'} one of PLY's three.`,
          again,
        );
      format = words[1];
    } else if (key === 'element') {
      const count = Number(words[2]);
      if (!Number.isInteger(count) || count < 0 || count > 2 ** 32)
        throw new MeshError(
          'bad-syntax',
          words[2] === undefined
            ? `Line ${line} says nothing of how many there are of "${words[1] ?? ''}".`
            : `Line ${line} gives "${words[2]}" as a count.`,
          again,
        );
      elements.push({ name: words[1].toLowerCase(), count, properties: [] });
    } else if (key === 'property') {
      const list = words[1] === 'list';
      const type = scalars[list ? words[3] : words[1]];
      const length = list ? scalars[words[2]] : undefined;
      const element = elements.at(-1);
      if (!type || (list && !length) || !element)
        throw new MeshError('bad-syntax', `Line ${line} is not a property this format knows.`, again);
      element.properties.push({ name: (list ? words[4] : words[2])?.toLowerCase() ?? '', type, list: length });
    } else if (key === 'end_header') {
      scan.nextLine();
      if (!format) throw new MeshError('bad-syntax', 'The PLY header names no format.', again);
      return { format, elements, body: scan.at, line: scan.line };
    }
    scan.nextLine();
  }
}

/** One value after another out of the body, whatever its coding. */
interface ValueSource {
  read(type: Scalar): number;
  where(): string;
  /** called after each row */
  endRow(): void;
}

function binarySource(bytes: Uint8Array, from: number, little: boolean): ValueSource {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let at = from;
  return {
    read(type) {
      const width = widths[type];
      if (at + width > bytes.length) throw new RangeError('end');
      const i = at;
      at += width;
      switch (type) {
        case 'int8':
          return view.getInt8(i);
        case 'uint8':
          return view.getUint8(i);
        case 'int16':
          return view.getInt16(i, little);
        case 'uint16':
          return view.getUint16(i, little);
        case 'int32':
          return view.getInt32(i, little);
        case 'uint32':
          return view.getUint32(i, little);
        case 'float32':
          return view.getFloat32(i, little);
        case 'float64':
          return view.getFloat64(i, little);
      }
    },
    where: () => `byte ${at}`,
    endRow() {},
  };
}

function textSource(bytes: Uint8Array, from: number, line: number): ValueSource {
  const scan = new ByteScanner(bytes);
  scan.at = from;
  scan.line = line;
  return {
    read() {
      if (!scan.wordAcross()) throw new RangeError('end');
      return scan.number();
    },
    where: () => `line ${scan.line}`,
    endRow() {
      while (scan.word());
    },
  };
}

/**
 * PLY, ASCII and binary of both endians, with any extra elements and properties; faces of any number of corners, and
 * triangle strips.
 *
 * @throws MeshError `bad-syntax`, `truncated`, `bad-number`, `bad-index`, `point-cloud`
 */
export function readPly(bytes: Uint8Array, context: RunContext): { mesh: TriMesh; format: Format } {
  const { format, elements, body, line } = readHeader(bytes);
  const source =
    format === 'ascii' ? textSource(bytes, body, line) : binarySource(bytes, body, format === 'binary_little_endian');
  let positions = new Float32Array(0);
  const faces = new GrowableIndices();
  let sawFaces = false;
  for (const element of elements) {
    const { properties } = element;
    // nothing is written of such elements, however many the header counts
    if (properties.length === 0) continue;
    const smallest = properties.reduce((n, p) => n + (format === 'ascii' ? 2 : widths[p.list ?? p.type]), 0);
    if (element.count * smallest > bytes.length - body + 2)
      throw new MeshError(
        'truncated',
        `The header promises ${element.count} of ${element.name}; the ${bytes.length - body} bytes that follow cannot hold them.`,
        'The file is cut off. Fetch it again.',
      );
    const at = [
      properties.findIndex((p) => p.name === 'x'),
      properties.findIndex((p) => p.name === 'y'),
      properties.findIndex((p) => p.name === 'z'),
    ];
    const isVertex = element.name === 'vertex';
    if (isVertex) {
      if (positions.length > 0)
        throw new MeshError(
          'bad-syntax',
          'The header counts vertices twice: which of them the faces mean nobody can tell.',
          again,
        );
      if (at.some((i) => i < 0))
        throw new MeshError('bad-syntax', 'The vertices of this PLY have no x, y and z.', again);
      positions = new Float32Array(3 * element.count);
    }
    const isStrip = element.name === 'tristrips';
    const indices = properties.findIndex((p) => p.list && /^vert(ex|ices)?_?ind(ex|ices)$/.test(p.name));
    const isFace = (element.name === 'face' || isStrip) && indices >= 0;
    if (isFace && element.count > 0) sawFaces = true;
    const corners: number[] = [];
    for (let row = 0; row < element.count; row++) {
      if ((row & 0xffff) === 0) context.checkCancelled();
      try {
        for (let q = 0; q < properties.length; q++) {
          const property = properties[q];
          if (property.list) {
            const length = source.read(property.list);
            if (!(length >= 0 && length <= 1e8))
              throw new MeshError(
                'bad-number',
                `A list of ${element.name} ${row} has length ${length} (${source.where()}).`,
                again,
              );
            const wanted = isFace && q === indices;
            if (wanted) corners.length = 0;
            for (let i = 0; i < length; i++) {
              const value = source.read(property.type);
              if (wanted) corners.push(value);
            }
          } else {
            const value = source.read(property.type);
            if (!isVertex) continue;
            const k = q === at[0] ? 0 : q === at[1] ? 1 : q === at[2] ? 2 : -1;
            if (k < 0) continue;
            if (!Number.isFinite(Math.fround(value)))
              throw new MeshError(
                'bad-number',
                `Vertex ${row} has a coordinate that is not a finite number (${source.where()}).`,
                again,
              );
            positions[3 * row + k] = value;
          }
        }
        source.endRow();
      } catch (error) {
        if (error instanceof RangeError)
          throw new MeshError(
            'truncated',
            `The file ends in ${element.name} ${row} of ${element.count} (${source.where()}).`,
            'The file is cut off. Fetch it again.',
          );
        throw error;
      }
      if (!isFace) continue;
      const limit = positions.length / 3;
      for (const c of corners)
        if (!Number.isInteger(c) || c >= limit || (c < 0 && !(isStrip && c === -1)))
          throw new MeshError(
            'bad-index',
            `Face ${row} asks for vertex ${c}; the file has ${limit} (${source.where()}).`,
            again,
          );
      if (isStrip) addStrip(corners, faces);
      else if (corners.length === 3) faces.push3(corners[0], corners[1], corners[2]);
      else if (corners.length > 3) {
        const coords: number[] = [];
        for (const c of corners) coords.push(positions[3 * c], positions[3 * c + 1], positions[3 * c + 2]);
        const cut = triangulatePolygon(coords);
        for (let i = 0; i < cut.length; i += 3) faces.push3(corners[cut[i]], corners[cut[i + 1]], corners[cut[i + 2]]);
      }
    }
  }
  if (!sawFaces && positions.length > 0)
    throw new MeshError(
      'point-cloud',
      `The file holds ${positions.length / 3} points and no faces: a point cloud.`,
      'Let the scanning program make a mesh of it first.',
    );
  return { mesh: { positions, triangles: faces.taken() }, format };
}

function addStrip(corners: number[], faces: GrowableIndices): void {
  let run = 0;
  for (let i = 0; i < corners.length; i++) {
    if (corners[i] < 0) {
      run = 0;
      continue;
    }
    run++;
    if (run < 3) continue;
    const [a, b, c] = [corners[i - 2], corners[i - 1], corners[i]];
    if (run % 2 === 1) faces.push3(a, b, c);
    else faces.push3(b, a, c);
  }
}

/** Binary little-endian PLY of a mesh. */
export function writePly(mesh: TriMesh): Uint8Array {
  const v = mesh.positions.length / 3;
  const t = mesh.triangles.length / 3;
  const header = new TextEncoder().encode(
    `ply\nformat binary_little_endian 1.0\ncomment millimetres\nelement vertex ${v}\nproperty float x\nproperty float y\nproperty float z\nelement face ${t}\nproperty list uchar int vertex_indices\nend_header\n`,
  );
  const bytes = new Uint8Array(header.length + 12 * v + 13 * t);
  bytes.set(header);
  const view = new DataView(bytes.buffer);
  let at = header.length;
  for (let i = 0; i < mesh.positions.length; i++, at += 4) view.setFloat32(at, mesh.positions[i], true);
  for (let i = 0; i < mesh.triangles.length; i += 3) {
    view.setUint8(at++, 3);
    for (let k = 0; k < 3; k++, at += 4) view.setUint32(at, mesh.triangles[i + k], true);
  }
  return bytes;
}
