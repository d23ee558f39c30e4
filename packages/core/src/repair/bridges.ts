import { OPEN, openEdgesOf, openLoops, originOf, targetOf, twinsOf } from '../mesh/edges.ts';
import { nextHalfEdge, type TriMesh } from '../mesh/TriMesh.ts';

/** An open fan of triangles at a vertex: its open half-edges that leave the vertex and that arrive there. */
export interface OpenFan {
  leaves: number;
  arrives: number;
}

/** Fans whose normals lean more than this from their mean are sheets that only touch: cosine. */
const leastAlong = 0.35;

/**
 * Fans of one skin that meet at a vertex with gaps between them: holes that touch in a corner. Closing each gap makes
 * the vertex whole again, so it need not be cut apart.
 *
 * @returns for each fan, the one that follows it counter-clockwise across a gap; null when the fans overlap, as sheets
 * do that only touch
 */
export function bridgedFans(mesh: TriMesh, vertex: number, fans: OpenFan[]): Int32Array | null {
  const { positions: p, triangles } = mesh;
  const normals = fans.map((fan) => {
    const n = [0, 0, 0];
    // the triangles at both ends of the fan stand for it
    for (const h of [fan.leaves, fan.arrives]) {
      const t = h - (h % 3);
      const c = (k: number, i: number) => p[3 * triangles[t + k] + i];
      for (let i = 0; i < 3; i++) {
        const [j, k] = [(i + 1) % 3, (i + 2) % 3];
        n[i] += (c(1, j) - c(0, j)) * (c(2, k) - c(0, k)) - (c(1, k) - c(0, k)) * (c(2, j) - c(0, j));
      }
    }
    const l = Math.hypot(n[0], n[1], n[2]);
    return l > 0 ? n.map((x) => x / l) : n;
  });
  const sum = [0, 1, 2].map((k) => normals.reduce((s, n) => s + n[k], 0));
  const l = Math.hypot(sum[0], sum[1], sum[2]);
  if (!(l > 0)) return null;
  const up = sum.map((x) => x / l);
  if (normals.some((n) => n[0] * up[0] + n[1] * up[1] + n[2] * up[2] < leastAlong)) return null;
  const axis = Math.abs(up[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const u = [up[1] * axis[2] - up[2] * axis[1], up[2] * axis[0] - up[0] * axis[2], up[0] * axis[1] - up[1] * axis[0]];
  const w = [up[1] * u[2] - up[2] * u[1], up[2] * u[0] - up[0] * u[2], up[0] * u[1] - up[1] * u[0]];
  const angle = (other: number) => {
    const d = [0, 1, 2].map((k) => p[3 * other + k] - p[3 * vertex + k]);
    return Math.atan2(d[0] * w[0] + d[1] * w[1] + d[2] * w[2], d[0] * u[0] + d[1] * u[1] + d[2] * u[2]);
  };
  const turn = (x: number) => ((x % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const list = fans.map((fan, i) => ({
    i,
    from: angle(targetOf(mesh, fan.leaves)),
    to: angle(originOf(mesh, fan.arrives)),
  }));
  list.sort((a, b) => a.from - b.from || a.i - b.i);
  const follows = new Int32Array(fans.length);
  for (let k = 0; k < list.length; k++) {
    const next = list[(k + 1) % list.length];
    // each fan ends before the next begins
    if (turn(list[k].to - list[k].from) >= turn(next.from - list[k].from)) return null;
    follows[list[k].i] = next.i;
  }
  return follows;
}

/**
 * Open loops as holes are: where holes touch in a corner, each is a loop of its own. A loop that would pass a vertex
 * twice turns within its fan there instead; such vertices are listed, and want cutting apart.
 */
export function holesOf(mesh: TriMesh): { loops: Uint32Array[]; pinched: Set<number> } {
  const twin = twinsOf(mesh);
  const pinched = new Set<number>();
  const open = openEdgesOf(mesh);
  const next = new Map<number, number>();
  for (let i = 0; i < open.list.length; i++) {
    const v = originOf(mesh, open.list[i]);
    if (open.first[v] !== i || open.after[i] < 0) continue;
    const fans: OpenFan[] = [];
    let sides = 0;
    for (let e = i; e >= 0; e = open.after[e]) {
      const h = open.list[e];
      sides++;
      // round the fan, from the half-edge that leaves to the one that arrives
      let g = before(h);
      for (let turns = 0; twin[g] >= 0 && turns < 1e5; turns++) g = before(twin[g]);
      if (twin[g] === OPEN) fans.push({ leaves: h, arrives: g });
    }
    const follows = fans.length === sides ? bridgedFans(mesh, v, fans) : null;
    if (!follows) pinched.add(v);
    else fans.forEach((fan, i) => next.set(fan.arrives, fans[follows[i]].leaves));
  }
  for (;;) {
    const loops = openLoops(mesh, next);
    if (next.size === 0) return { loops, pinched };
    const twice = new Set<number>();
    for (const loop of loops) {
      const seen = new Set<number>();
      for (const h of loop) {
        const v = originOf(mesh, h);
        if (seen.has(v)) twice.add(v);
        seen.add(v);
      }
    }
    let changed = false;
    for (const h of [...next.keys()])
      if (twice.has(targetOf(mesh, h))) {
        next.delete(h);
        pinched.add(targetOf(mesh, h));
        changed = true;
      }
    if (!changed) return { loops, pinched };
  }
}

const before = (h: number): number => nextHalfEdge(nextHalfEdge(h));
