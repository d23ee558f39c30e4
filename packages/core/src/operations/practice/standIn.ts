import { treeOf } from '../../mesh/Bvh.ts';
import type { RunContext } from '../../run/context.ts';
import { triangleCentre, triangleNormal } from '../../mesh/measures.ts';
import { randomFrom } from '../../mesh/random.ts';
import { largestShell } from '../../mesh/shells.ts';
import {
  boundsOf,
  concatMeshes,
  sizeOf,
  subMesh,
  triangleCount,
  vertexCount,
  type TriMesh,
  type Vec3,
} from '../../mesh/TriMesh.ts';

/** What a scanner and its software do to a model. Lengths in mm. */
export interface ScanFlaws {
  seed: number;
  /** largest displacement of the surface */
  noiseMm: number;
  holes: number;
  /** radius of a hole */
  holeMm: number;
  /** loose crumbs floating about */
  islands: number;
  /** leave a patch of the ground that the thing stood on */
  ground: boolean;
  /** leave out what a camera walked round the thing, looking slightly down, does not see from at least this many of its places */
  seenFrom: number;
  /** leave out walls thinner than this, as cables and spokes are lost */
  thinMm: number;
  /** share of the triangles that face the wrong way */
  flips: number;
}

/** Camera places a round, on three rounds of different height. */
const placesAround = 12;
const elevations = [0.1, 0.55, 1.0];

/** A clean model as a poor scan would give it: rough, with holes, floating islands and a patch of ground. */
export function scanStandIn(clean: TriMesh, flaws: ScanFlaws, context?: RunContext): TriMesh {
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
  const lost = unseen(clean, flaws, context);
  const keep: number[] = [];
  for (let t = 0; t < triangleCount(rough); t++) {
    const c = triangleCentre(rough, t);
    if (!lost[t] && !centres.some((h, i) => Math.hypot(c[0] - h[0], c[1] - h[1], c[2] - h[2]) < radii[i])) keep.push(t);
  }
  const seen = keep.length > 0 ? largestShell(subMesh(rough, keep)) : rough;
  const turned = seen.triangles.slice();
  if (flaws.flips > 0)
    for (let t = 0; t < turned.length; t += 3)
      if (random() < flaws.flips) [turned[t + 1], turned[t + 2]] = [turned[t + 2], turned[t + 1]];
  const pieces: TriMesh[] = [{ positions: seen.positions, triangles: turned }];
  for (let i = 0; i < flaws.islands; i++) {
    const r = (0.002 + 0.0022 * random()) * scale;
    const at = [0, 1, 2].map((k) => box.min[k] - 0.06 * size[k] + 1.12 * size[k] * random()) as unknown as Vec3;
    pieces.push(crumb(at, [r, r * (0.5 + random()), r * 0.6]));
  }
  if (flaws.ground) pieces.push(groundPatch(box.min[2] - 0.012 * scale, box, random));
  return concatMeshes(pieces);
}

/** Flags of the triangles that too few camera places see, or that belong to walls too thin to be caught. */
function unseen(mesh: TriMesh, flaws: ScanFlaws, context?: RunContext): Uint8Array {
  const n = triangleCount(mesh);
  const lost = new Uint8Array(n);
  if (flaws.seenFrom <= 0 && flaws.thinMm <= 0) return lost;
  const tree = treeOf(mesh);
  const { min, max } = boundsOf(mesh);
  const scale = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const cameras: Vec3[] = [];
  if (flaws.seenFrom > 0)
    for (const up of elevations)
      for (let i = 0; i < placesAround; i++) {
        const a = (2 * Math.PI * (i + up)) / placesAround;
        cameras.push([
          (min[0] + max[0]) / 2 + 1.6 * scale * Math.cos(up) * Math.cos(a),
          (min[1] + max[1]) / 2 + 1.6 * scale * Math.cos(up) * Math.sin(a),
          (min[2] + max[2]) / 2 + 1.6 * scale * Math.sin(up),
        ]);
      }
  const start = 1e-6 * scale;
  for (let t = 0; t < n; t++) {
    if ((t & 255) === 0) {
      context?.checkCancelled();
      context?.progress(t / n, 'Walking round with the camera');
    }
    const c = triangleCentre(mesh, t);
    const normal = triangleNormal(mesh, t);
    let seen = 0;
    for (const camera of cameras) {
      const d: Vec3 = [camera[0] - c[0], camera[1] - c[1], camera[2] - c[2]];
      const l = Math.hypot(...d);
      // glancing views give no points
      if ((normal[0] * d[0] + normal[1] * d[1] + normal[2] * d[2]) / l < 0.2) continue;
      if (!tree.isBlocked(c, [d[0] / l, d[1] / l, d[2] / l], start, t)) seen++;
      if (seen >= flaws.seenFrom) break;
    }
    if (seen < flaws.seenFrom) lost[t] = 1;
    else if (flaws.thinMm > 0 && tree.isBlocked(c, [-normal[0], -normal[1], -normal[2]], start, t, flaws.thinMm))
      lost[t] = 1;
  }
  return lost;
}

/** A small closed lump. */
function crumb(centre: Vec3, half: Vec3): TriMesh {
  const steps = 5;
  const sides = 7;
  const points: number[] = [];
  const faces: number[] = [];
  for (let i = 1; i < steps; i++)
    for (let j = 0; j < sides; j++) {
      const a = (Math.PI * i) / steps;
      const b = (2 * Math.PI * j) / sides;
      points.push(
        centre[0] + half[0] * Math.sin(a) * Math.cos(b),
        centre[1] + half[1] * Math.sin(a) * Math.sin(b),
        centre[2] - half[2] * Math.cos(a),
      );
      const v = (i - 1) * sides + j;
      const w = (i - 1) * sides + ((j + 1) % sides);
      if (i + 1 < steps) faces.push(v, w, w + sides, v, w + sides, v + sides);
    }
  const low = points.length / 3;
  points.push(centre[0], centre[1], centre[2] - half[2], centre[0], centre[1], centre[2] + half[2]);
  const last = (steps - 2) * sides;
  for (let j = 0; j < sides; j++) {
    const k = (j + 1) % sides;
    faces.push(low, k, j, low + 1, last + j, last + k);
  }
  return { positions: Float32Array.from(points), triangles: Uint32Array.from(faces) };
}

function groundPatch(z: number, box: { min: Vec3; max: Vec3 }, random: () => number): TriMesh {
  const n = 26;
  const points: number[] = [];
  const faces: number[] = [];
  const scale = Math.hypot(box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]);
  const margin = 0.07 * scale;
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) {
      const x = box.min[0] - margin + ((box.max[0] - box.min[0] + 2 * margin) * i) / n;
      const y = box.min[1] - margin + ((box.max[1] - box.min[1] + 2 * margin) * j) / n;
      points.push(x, y, z + 0.0025 * scale * (2 * random() - 1));
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
