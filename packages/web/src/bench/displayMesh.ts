import { crossesOf } from '@jasmorphe/core/mesh/measures';
import { MeshoptDecoder } from 'meshoptimizer/decoder';
import { BufferAttribute, BufferGeometry } from 'three';
import { displayHeaderBytes, displayMagic, displayVertexBytes } from '@jasmorphe/contracts/displayMesh';
import { hrefOf } from '../app/addresses.ts';

/** A display mesh ready to draw, with sharp edges kept sharp. */
export interface DisplayGeometry {
  geometry: BufferGeometry;
  /** the vertices, x, y, z, and the three of each triangle; the geometry has a copy of its own for every corner */
  positions: Float32Array;
  index: Uint32Array;
  triangles: number;
  fullTriangles: number;
}

/** Neighbouring facets that meet more steeply than this are drawn with an edge between them. */
const creaseCos = Math.cos((38 * Math.PI) / 180);

const cache = new Map<string, Promise<DisplayGeometry>>();
const mostKept = 160;

/** Fetches and decodes a display mesh; kept for the visit. */
export function loadDisplay(hash: string, budget: number): Promise<DisplayGeometry> {
  const key = `${hash}-${budget}`;
  let found = cache.get(key);
  if (!found) {
    found = fetchDisplay(hash, budget);
    found.catch(() => cache.delete(key));
    cache.set(key, found);
    if (cache.size > mostKept) cache.delete(cache.keys().next().value!);
  }
  return found;
}

async function fetchDisplay(hash: string, budget: number): Promise<DisplayGeometry> {
  const response = await fetch(hrefOf('GET /meshes/{hash}/display', { hash }, { budget: String(budget) }));
  if (!response.ok) throw new Error('The mesh cannot be shown.');
  const buffer = await response.arrayBuffer();
  const head = new DataView(buffer);
  if (head.getUint32(0, true) !== displayMagic) throw new Error('The mesh cannot be shown.');
  await MeshoptDecoder.ready;
  const vertices = head.getUint32(4, true);
  const triangles = head.getUint32(8, true);
  const box = [0, 1, 2, 3, 4, 5].map((i) => head.getFloat32(16 + 4 * i, true));
  const a = head.getUint32(40, true);
  const b = head.getUint32(44, true);
  const packed = new Uint8Array(vertices * displayVertexBytes);
  MeshoptDecoder.decodeVertexBuffer(
    packed,
    vertices,
    displayVertexBytes,
    new Uint8Array(buffer, displayHeaderBytes, a),
  );
  const indexBytes = new Uint8Array(triangles * 12);
  MeshoptDecoder.decodeIndexBuffer(indexBytes, triangles * 3, 4, new Uint8Array(buffer, displayHeaderBytes + a, b));
  const shares = new Uint16Array(packed.buffer);
  const positions = new Float32Array(3 * vertices);
  for (let v = 0; v < vertices; v++)
    for (let k = 0; k < 3; k++) positions[3 * v + k] = box[k] + (shares[4 * v + k] / 65535) * box[3 + k];
  const index = new Uint32Array(indexBytes.buffer);
  return {
    geometry: creased(positions, index),
    positions,
    index,
    triangles,
    fullTriangles: head.getUint32(12, true),
  };
}

/** Corners with their own normals: the mean of the facets around the vertex that lean less than the crease away. */
function creased(p: Float32Array, index: Uint32Array): BufferGeometry {
  const n = index.length;
  const facet = crossesOf({ positions: p, triangles: index });
  const first = new Uint32Array(p.length / 3 + 1);
  for (let i = 0; i < n; i++) first[index[i] + 1]++;
  for (let v = 1; v < first.length; v++) first[v] += first[v - 1];
  const around = new Uint32Array(n);
  const cursor = first.slice();
  for (let i = 0; i < n; i++) around[cursor[index[i]]++] = i - (i % 3);
  const positions = new Float32Array(3 * n);
  const normals = new Float32Array(3 * n);
  for (let i = 0; i < n; i++) {
    const v = index[i];
    const t = i - (i % 3);
    const fx = facet[t];
    const fy = facet[t + 1];
    const fz = facet[t + 2];
    const fl = Math.hypot(fx, fy, fz) || 1;
    let x = 0;
    let y = 0;
    let z = 0;
    for (let j = first[v]; j < first[v + 1]; j++) {
      const s = around[j];
      const sl = Math.hypot(facet[s], facet[s + 1], facet[s + 2]) || 1;
      if (fx * facet[s] + fy * facet[s + 1] + fz * facet[s + 2] < creaseCos * fl * sl) continue;
      x += facet[s];
      y += facet[s + 1];
      z += facet[s + 2];
    }
    const l = Math.hypot(x, y, z) || 1;
    for (let k = 0; k < 3; k++) positions[3 * i + k] = p[3 * v + k];
    normals[3 * i] = x / l;
    normals[3 * i + 1] = y / l;
    normals[3 * i + 2] = z / l;
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setAttribute('normal', new BufferAttribute(normals, 3));
  geometry.computeBoundingSphere();
  return geometry;
}
