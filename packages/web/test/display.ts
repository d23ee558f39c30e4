import { MeshoptEncoder } from 'meshoptimizer/encoder';
import { displayHeaderBytes, displayMagic, displayVertexBytes } from '@jasmorphe/contracts/displayMesh';
import { toCanonical } from '@jasmorphe/core/mesh/canonical';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { answers } from './dom.tsx';

/** The server has a mesh under a hash: what is asked of it is asked of the page's worker. */
export function served(hash: string, mesh: TriMesh): string {
  answers.set(`GET /api/meshes/${hash}`, toCanonical(mesh));
  return hash;
}

/** A mesh as the contract says that the browser gets it, packed here by hand. */
export async function displayOf(mesh: TriMesh, fullTriangles = mesh.triangles.length / 3): Promise<Uint8Array> {
  await MeshoptEncoder.ready;
  const n = mesh.positions.length / 3;
  const min = [0, 1, 2].map((k) => Math.min(...mesh.positions.filter((_, i) => i % 3 === k)));
  const size = [0, 1, 2].map((k) => Math.max(...mesh.positions.filter((_, i) => i % 3 === k)) - min[k]);
  const shares = new Uint16Array(4 * n);
  for (let v = 0; v < n; v++)
    for (let k = 0; k < 3; k++)
      shares[4 * v + k] = size[k] > 0 ? Math.round((65535 * (mesh.positions[3 * v + k] - min[k])) / size[k]) : 0;
  const vertices = MeshoptEncoder.encodeVertexBuffer(new Uint8Array(shares.buffer), n, displayVertexBytes);
  const corners = new Uint8Array(Uint32Array.from(mesh.triangles).buffer);
  const indices = MeshoptEncoder.encodeIndexBuffer(corners, mesh.triangles.length, 4);
  const bytes = new Uint8Array(displayHeaderBytes + vertices.length + indices.length);
  const head = new DataView(bytes.buffer);
  [displayMagic, n, mesh.triangles.length / 3, fullTriangles].forEach((x, i) => head.setUint32(4 * i, x, true));
  [...min, ...size].forEach((x, i) => head.setFloat32(16 + 4 * i, x, true));
  head.setUint32(40, vertices.length, true);
  head.setUint32(44, indices.length, true);
  bytes.set(vertices, displayHeaderBytes);
  bytes.set(indices, displayHeaderBytes + vertices.length);
  return bytes;
}
