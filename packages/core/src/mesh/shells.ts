import { boxesByLabel, groupByLabel, shellsOf } from './edges.ts';
import { oncePerMesh } from './oncePerMesh.ts';
import { subMesh, vertexCount, type TriMesh } from './TriMesh.ts';

/**
 * The triangles of each label as a mesh of its own, in time that does not grow with the number of labels.
 *
 * @param wanted labels to give; all, if left out
 */
export function meshesByLabel(
  mesh: TriMesh,
  label: Uint32Array,
  count: number,
  wanted?: Uint8Array,
): (TriMesh | null)[] {
  const { positions: p, triangles } = mesh;
  const start = new Uint32Array(count + 1);
  for (let t = 0; t < label.length; t++) start[label[t] + 1]++;
  for (let s = 0; s < count; s++) start[s + 1] += start[s];
  const order = new Uint32Array(label.length);
  const cursor = start.slice();
  for (let t = 0; t < label.length; t++) order[cursor[label[t]]++] = t;
  const remap = new Int32Array(vertexCount(mesh)).fill(-1);
  const out: (TriMesh | null)[] = [];
  for (let s = 0; s < count; s++) {
    if (wanted && !wanted[s]) {
      out.push(null);
      continue;
    }
    const indices = new Uint32Array(3 * (start[s + 1] - start[s]));
    const used: number[] = [];
    for (let i = start[s]; i < start[s + 1]; i++)
      for (let k = 0; k < 3; k++) {
        const v = triangles[3 * order[i] + k];
        if (remap[v] < 0) {
          remap[v] = used.length;
          used.push(v);
        }
        indices[3 * (i - start[s]) + k] = remap[v];
      }
    const positions = new Float32Array(3 * used.length);
    used.forEach((v, i) => {
      for (let k = 0; k < 3; k++) positions[3 * i + k] = p[3 * v + k];
      remap[v] = -1;
    });
    out.push({ positions, triangles: indices });
  }
  return out;
}

/** Signed volume and area of each label's triangles, mm3 and mm2; volumes are of meaning where a label is closed. */
function measuresByLabel(
  mesh: TriMesh,
  label: Uint32Array,
  count: number,
): { volume: Float64Array; area: Float64Array } {
  const { positions: p, triangles: t } = mesh;
  const volume = new Float64Array(count);
  const area = new Float64Array(count);
  // about a corner of each shell, so that small shells far from the origin keep their digits
  const corner = new Int32Array(count).fill(-1);
  for (let i = 0; i < t.length; i += 3) {
    const s = label[i / 3];
    if (corner[s] < 0) corner[s] = 3 * t[i];
    const o = corner[s];
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    area[s] += 0.5 * Math.sqrt(nx * nx + ny * ny + nz * nz);
    volume[s] += (nx * (p[a] - p[o]) + ny * (p[a + 1] - p[o + 1]) + nz * (p[a + 2] - p[o + 2])) / 6;
  }
  return { volume, area };
}

/** Volume, area and bounds of each shell of a mesh, by the labels of `shellsOf`; worked out once. */
export const shellMeasures = oncePerMesh((mesh) => {
  const { label, count } = shellsOf(mesh);
  return { ...measuresByLabel(mesh, label, count), boxes: boxesByLabel(mesh, label, count) };
});

/** The shell with the most triangles. */
export function largestShell(mesh: TriMesh): TriMesh {
  const { label, count } = shellsOf(mesh);
  return subMesh(
    mesh,
    groupByLabel(label, count).reduce((a, b) => (b.length > a.length ? b : a)),
  );
}

/** Volume over area to the power of 1.5 below which a closed shell is a sheet lying upon itself. */
const flatShare = 1e-7;

/** Is a closed shell of this volume and area nothing but a sheet lying upon itself? */
export const isFlatShell = (volume: number, area: number): boolean => !(Math.abs(volume) > flatShare * area ** 1.5);
