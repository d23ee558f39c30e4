import { MeshError } from '../run/MeshError.ts';
import type { TriMesh } from './TriMesh.ts';

/*
 * Canonical bytes of a mesh; its SHA-256 is the mesh's identity.
 *
 *   0  8 bytes  "JMESH\0\0\1"
 *   8  uint32   vertices V, little-endian
 *  12  uint32   triangles T
 *  16  12 V     float32 x, y, z
 *   .. 12 T     uint32 corner indices
 */
const magic = [0x4a, 0x4d, 0x45, 0x53, 0x48, 0, 0, 1];
const headerBytes = 16;

export function toCanonical(mesh: TriMesh): Uint8Array {
  const bytes = new Uint8Array(headerBytes + 4 * (mesh.positions.length + mesh.triangles.length));
  bytes.set(magic);
  const head = new Uint32Array(bytes.buffer, 8, 2);
  head[0] = mesh.positions.length / 3;
  head[1] = mesh.triangles.length / 3;
  new Float32Array(bytes.buffer, headerBytes, mesh.positions.length).set(mesh.positions);
  new Uint32Array(bytes.buffer, headerBytes + 4 * mesh.positions.length).set(mesh.triangles);
  return bytes;
}

/**
 * Views the bytes as a mesh without copying where alignment allows.
 *
 * @throws MeshError `truncated` when the length does not match the header
 */
export function fromCanonical(bytes: Uint8Array): TriMesh {
  const whole = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice();
  if (whole.length < headerBytes || magic.some((m, i) => whole[i] !== m))
    throw new MeshError(
      'truncated',
      'A stored mesh does not begin with its mark; the file is damaged.',
      'Undo, or import the source again.',
    );
  const head = new Uint32Array(whole.buffer, whole.byteOffset + 8, 2);
  const [v, t] = head;
  if (whole.length !== headerBytes + 12 * (v + t))
    throw new MeshError(
      'truncated',
      `A stored mesh should hold ${headerBytes + 12 * (v + t)} bytes and holds ${whole.length}.`,
      'Undo, or import the source again.',
    );
  return {
    positions: new Float32Array(whole.buffer, whole.byteOffset + headerBytes, 3 * v),
    triangles: new Uint32Array(whole.buffer, whole.byteOffset + headerBytes + 12 * v, 3 * t),
  };
}
