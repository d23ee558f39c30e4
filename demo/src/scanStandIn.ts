import { buildEdges, groupByLabel, shellsOf } from '@jasmorphe/core/mesh/edges';
import { triangleCentre } from '@jasmorphe/core/mesh/measures';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import {
  boundsOf,
  concatMeshes,
  sizeOf,
  subMesh,
  triangleCount,
  vertexCount,
  type TriMesh,
  type Vec3,
} from '@jasmorphe/core/mesh/TriMesh';
import { ellipsoid } from './shapes.ts';

export interface ScanFlaws {
  seed: number;
  /** largest displacement of the surface, mm */
  noiseMm: number;
  holes: number;
  /** radius of a hole, mm */
  holeMm: number;
  islands: number;
  /** leave a patch of the ground that the thing stood on */
  ground: boolean;
}

/** A clean model as a poor scan would give it: rough, with holes, floating islands and a patch of ground. */
export function scanStandIn(clean: TriMesh, flaws: ScanFlaws): TriMesh {
  const random = randomFrom(flaws.seed);
  const box = boundsOf(clean);
  const size = sizeOf(box);
  const scale = Math.hypot(...size);
  // smooth noise: a few waves of random direction, plus a little jitter a vertex
  const waves = Array.from({ length: 14 }, () => {
    const k = (8 + 22 * random()) / scale;
    const z = 2 * random() - 1;
    const a = 2 * Math.PI * random();
    const r = Math.sqrt(1 - z * z);
    return {
      d: [k * r * Math.cos(a), k * r * Math.sin(a), k * z],
      phase: 2 * Math.PI * random(),
      axis: Math.floor(3 * random()),
    };
  });
  const positions = clean.positions.slice();
  for (let v = 0; v < vertexCount(clean); v++) {
    const p = clean.positions.subarray(3 * v, 3 * v + 3);
    for (const w of waves)
      positions[3 * v + w.axis] +=
        (flaws.noiseMm / 6) * Math.sin(2 * Math.PI * (w.d[0] * p[0] + w.d[1] * p[1] + w.d[2] * p[2]) + w.phase);
    for (let k = 0; k < 3; k++) positions[3 * v + k] += (flaws.noiseMm / 8) * (2 * random() - 1);
  }
  const rough = { positions, triangles: clean.triangles };
  const centres: Vec3[] = Array.from({ length: flaws.holes }, () =>
    triangleCentre(rough, Math.floor(random() * triangleCount(rough))),
  );
  const radii = centres.map(() => flaws.holeMm * (0.5 + random()));
  const keep: number[] = [];
  for (let t = 0; t < triangleCount(rough); t++) {
    const c = triangleCentre(rough, t);
    if (!centres.some((h, i) => Math.hypot(c[0] - h[0], c[1] - h[1], c[2] - h[2]) < radii[i])) keep.push(t);
  }
  const pieces = [largestShell(subMesh(rough, keep))];
  for (let i = 0; i < flaws.islands; i++) {
    const r = (0.002 + 0.0022 * random()) * scale;
    const at = [0, 1, 2].map((k) => box.min[k] - 0.06 * size[k] + 1.12 * size[k] * random()) as unknown as Vec3;
    pieces.push(ellipsoid(at, [r, r * (0.5 + random()), r * 0.6], 5, 7));
  }
  if (flaws.ground) pieces.push(groundPatch(box.min[2] - 0.012 * scale, box, random));
  return concatMeshes(pieces);
}

/** The shell with the most triangles. */
export function largestShell(mesh: TriMesh): TriMesh {
  const { label, count } = shellsOf(mesh, buildEdges(mesh));
  return subMesh(
    mesh,
    groupByLabel(label, count).reduce((a, b) => (b.length > a.length ? b : a)),
  );
}

function groundPatch(z: number, box: { min: Vec3; max: Vec3 }, random: () => number): TriMesh {
  const n = 26;
  const points: number[] = [];
  const faces: number[] = [];
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) {
      const x = box.min[0] - 4 + ((box.max[0] - box.min[0] + 8) * i) / n;
      const y = box.min[1] - 4 + ((box.max[1] - box.min[1] + 8) * j) / n;
      points.push(x, y, z + 0.15 * (2 * random() - 1));
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const u = (i + 0.5) / n - 0.5;
      const v = (j + 0.5) / n - 0.5;
      if (Math.hypot(u, v) > 0.42 + 0.08 * random()) continue;
      const a = i * (n + 1) + j;
      faces.push(a, a + n + 1, a + n + 2, a, a + n + 2, a + 1);
    }
  return { positions: Float32Array.from(points), triangles: Uint32Array.from(faces) };
}
