import { newHit, treeOf } from '../mesh/Bvh.ts';
import { boundsOf, type TriMesh } from '../mesh/TriMesh.ts';
import type { RunContext } from '../run/context.ts';
import { starsOf } from '../mesh/edges.ts';
import { applyMat3 } from '../mesh/transform.ts';
import { piecePoints, rotationOf, type Placement } from './Placement.ts';
import { reachMm, type WornBody } from './WornBody.ts';

/** What a skin point is to the body. */
const OUTER = 0;
export const INNER = 1;
const UNSEEN = 2;

/** The inside of a piece around a body: signed distances of the piece's vertices to the body, mm, negative within it. */
export interface InsideSkin {
  /** per vertex of the piece: distance to the body, negative inside it; NaN where it is too far to matter */
  gap: Float32Array;
  /** 1 where the vertex belongs to the skin that faces the body */
  inner: Uint8Array;
  /** x, y, z of the vertices, as the body sees them */
  points: Float32Array;
  /** number of the triangle of the body that is nearest, or -1 */
  nearest: Int32Array;
}

/** Normals of vertices, by the areas around them, not of unit length. */
export function normalsAround(
  points: Float32Array,
  triangles: Uint32Array,
): { normals: Float32Array; area: Float32Array } {
  const normals = new Float32Array(points.length);
  const area = new Float32Array(points.length / 3);
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i];
    const b = 3 * triangles[i + 1];
    const c = 3 * triangles[i + 2];
    const ux = points[b] - points[a];
    const uy = points[b + 1] - points[a + 1];
    const uz = points[b + 2] - points[a + 2];
    const vx = points[c] - points[a];
    const vy = points[c + 1] - points[a + 1];
    const vz = points[c + 2] - points[a + 2];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const third = Math.hypot(nx, ny, nz) / 6;
    for (let k = 0; k < 3; k++) {
      const v = triangles[i + k];
      normals[3 * v] += nx;
      normals[3 * v + 1] += ny;
      normals[3 * v + 2] += nz;
      area[v] += third;
    }
  }
  return { normals, area };
}

/**
 * Which skin of a piece faces a body, and how far from the body it lies. A vertex faces the body when its normal points to
 * the nearest point of it from outside, or away from it from within, and when the way there is free of the piece itself.
 */
export function insideSkin(piece: TriMesh, body: WornBody, placement: Placement, context: RunContext): InsideSkin {
  const points = piecePoints(piece, placement);
  const n = points.length / 3;
  const { normals } = normalsAround(points, piece.triangles);
  // kept with the piece, wherever the body is put
  const own = treeOf(piece);
  const rows = rotationOf(placement);
  const box = boundsOf(body.mesh);
  const gap = new Float32Array(n).fill(NaN);
  const inner = new Uint8Array(n);
  const nearest = new Int32Array(n).fill(-1);
  const hit = newHit();
  // of the vertex last measured; the next one lies close by as a rule
  let lastGap = 0;
  let lx = Infinity;
  let ly = 0;
  let lz = 0;
  /** facing vertices whose way to the body is still to be looked along */
  const facing: number[] = [];
  const toBody = new Float32Array(3 * n);
  for (let v = 0; v < n; v++) {
    if ((v & 2047) === 0) {
      context.checkCancelled();
      context.progress((0.8 * v) / n, 'Measuring clearance');
    }
    const x = points[3 * v];
    const y = points[3 * v + 1];
    const z = points[3 * v + 2];
    const nx = normals[3 * v];
    const ny = normals[3 * v + 1];
    const nz = normals[3 * v + 2];
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
    const step = Math.sqrt((x - lx) ** 2 + (y - ly) ** 2 + (z - lz) ** 2);
    // gaps change by no more than the way gone: this skin turns its back to a body that it cannot reach
    if (step < 0.35 * lastGap) {
      const [qx, qy, qz] = hit.point;
      const dx = qx - x;
      const dy = qy - y;
      const dz = qz - z;
      if (dx * nx + dy * ny + dz * nz < -0.5 * length * Math.sqrt(dx * dx + dy * dy + dz * dz)) {
        gap[v] = lastGap - step;
        nearest[v] = hit.triangle;
        continue;
      }
    }
    const far = Math.hypot(
      Math.max(box.min[0] - x, 0, x - box.max[0]),
      Math.max(box.min[1] - y, 0, y - box.max[1]),
      Math.max(box.min[2] - z, 0, z - box.max[2]),
    );
    if (far > reachMm) continue;
    const signed = body.gap(x, y, z, hit, step < lastGap);
    const d = Math.abs(signed);
    if (!(d < reachMm)) continue;
    nearest[v] = hit.triangle;
    lastGap = signed;
    lx = x;
    ly = y;
    lz = z;
    const [qx, qy, qz] = hit.point;
    const towards = (qx - x) * nx + (qy - y) * ny + (qz - z) * nz;
    gap[v] = signed;
    if (signed < 0) inner[v] = towards < 0 ? INNER : OUTER;
    else if (towards > 0.15 * d * length) {
      inner[v] = UNSEEN;
      facing.push(v);
      toBody[3 * v] = qx - x;
      toBody[3 * v + 1] = qy - y;
      toBody[3 * v + 2] = qz - z;
    }
  }
  // whether the way is free is looked at for some; their neighbours with ways of their own see the same
  const free = (v: number): number =>
    own.isBlocked(
      [piece.positions[3 * v], piece.positions[3 * v + 1], piece.positions[3 * v + 2]],
      applyMat3(rows, [toBody[3 * v], toBody[3 * v + 1], toBody[3 * v + 2]]),
      1e-3,
      -1,
      0.999,
    )
      ? OUTER
      : INNER;
  const looked: number[] = [];
  const stride = facing.length > 40_000 ? 5 : 1;
  for (let i = 0; i < facing.length; i += stride) {
    if ((i & 1023) === 0) {
      context.checkCancelled();
      context.progress(0.8 + (0.2 * i) / facing.length, 'Looking from the body at the piece');
    }
    inner[facing[i]] = free(facing[i]);
    looked.push(facing[i]);
  }
  if (stride > 1) {
    const { start, list } = starsOf(piece);
    for (let i = 0; i < looked.length; i++) {
      const v = looked[i];
      for (let s = start[v]; s < start[v + 1]; s++) {
        const t = list[s];
        for (let k = 0; k < 3; k++) {
          const w = piece.triangles[3 * t + k];
          if (inner[w] !== UNSEEN) continue;
          inner[w] = inner[v];
          looked.push(w);
        }
      }
    }
  }
  for (const v of facing) if (inner[v] === UNSEEN) inner[v] = free(v);
  return { gap, inner, points, nearest };
}
