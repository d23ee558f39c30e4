import { edgesOf, targetOf, twinsOf } from '../../mesh/edges.ts';
import { crossesOf } from '../../mesh/measures.ts';
import { normalize } from '../../mesh/transform.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { UnionFind } from '../../mesh/UnionFind.ts';
import { figures } from '../../trade/figures.ts';

/** A closed crease: where it runs, and how much skin it closes around. */
export interface CreaseLoop {
  /** its corners, closed from the last to the first */
  points: Vec3[];
  lengthMm: number;
  /** share of all skin on its smaller side */
  share: number;
}

/** Smaller pieces of skin are no pieces of a kit, as a share of all (our own judgement). */
const leastShare = 0.004;
/** How many loops are told, the largest pieces first. */
const most = 12;
/** How many loops are looked at, the longest first. */
const looked = 60;
/** Loops of more corners are no creases but noise. */
const mostCorners = 2000;

/**
 * Closed creases of a welded, closed mesh: the outlines of stretches of skin that no fold sharper than a crease crosses.
 * Where the shells of a kit were united their skins meet in such folds.
 *
 * @returns those of the largest stretches first
 */
export function creaseLoops(mesh: TriMesh): CreaseLoop[] {
  const n = triangleCount(mesh);
  const crosses = crossesOf(mesh);
  const { start, order, count } = edgesOf(mesh);
  const least = Math.cos((figures.creaseDeg.value * Math.PI) / 180);
  const normalOf = (t: number): Vec3 => normalize([crosses[3 * t], crosses[3 * t + 1], crosses[3 * t + 2]]);
  const stretches = new UnionFind(n);
  const folds: number[] = [];
  for (let e = 0; e < count; e++) {
    if (start[e + 1] - start[e] !== 2) continue;
    const a = (order[start[e]] / 3) | 0;
    const b = (order[start[e] + 1] / 3) | 0;
    const p = normalOf(a);
    const q = normalOf(b);
    if (p[0] * q[0] + p[1] * q[1] + p[2] * q[2] < least) folds.push(e);
    else stretches.union(a, b);
  }
  const area = new Map<number, number>();
  let all = 0;
  for (let t = 0; t < n; t++) {
    const own = Math.hypot(crosses[3 * t], crosses[3 * t + 1], crosses[3 * t + 2]) / 2;
    const root = stretches.find(t);
    area.set(root, (area.get(root) ?? 0) + own);
    all += own;
  }
  // the half-edges around each stretch that is large enough, by where they begin
  const around = new Map<number, Map<number, number>>();
  const branched = new Set<number>();
  const { triangles, positions } = mesh;
  for (const e of folds)
    for (let i = start[e]; i < start[e + 1]; i++) {
      const h = order[i];
      const root = stretches.find((h / 3) | 0);
      const other = stretches.find((order[start[e] + start[e + 1] - 1 - i] / 3) | 0);
      if (root === other || area.get(root)! < leastShare * all) continue;
      const next = around.get(root) ?? new Map<number, number>();
      around.set(root, next);
      if (next.has(triangles[h])) branched.add(root);
      next.set(triangles[h], h);
    }
  const loops: { points: Vec3[]; halfEdges: number[]; lengthMm: number }[] = [];
  const known = new Set<string>();
  for (const [root, next] of around) {
    if (branched.has(root)) continue;
    const seen = new Set<number>();
    for (const first of next.keys()) {
      if (seen.has(first)) continue;
      const halfEdges: number[] = [];
      let v = first;
      for (let h = next.get(v); h !== undefined && !seen.has(v); h = next.get(v)) {
        seen.add(v);
        halfEdges.push(h);
        v = targetOf(mesh, h);
      }
      if (v !== first || halfEdges.length < 3 || halfEdges.length > mostCorners) continue;
      const ids = halfEdges.map((h) => triangles[h]);
      const key = [...ids].sort((p, q) => p - q).join();
      if (known.has(key)) continue;
      known.add(key);
      const points = ids.map((i): Vec3 => [positions[3 * i], positions[3 * i + 1], positions[3 * i + 2]]);
      loops.push({ points, halfEdges, lengthMm: lengthOf(points) });
    }
  }
  loops.sort((p, q) => q.lengthMm - p.lengthMm);
  const out: CreaseLoop[] = [];
  for (const { points, halfEdges, lengthMm } of loops.slice(0, looked)) {
    const inside = skinInside(mesh, halfEdges, crosses);
    if (inside === null) continue;
    const share = Math.min(inside / all, 1 - inside / all);
    if (share >= leastShare) out.push({ points, lengthMm, share });
  }
  return out.sort((p, q) => q.share - p.share).slice(0, most);
}

/** Area of the skin that a loop closes around, at the side of its half-edges; null where it does not part the skin. */
function skinInside(mesh: TriMesh, loop: readonly number[], crosses: ArrayLike<number>): number | null {
  const twins = twinsOf(mesh);
  const fence = new Uint8Array(mesh.triangles.length);
  for (const h of loop) {
    fence[h] = 1;
    if (twins[h] >= 0) fence[twins[h]] = 1;
  }
  const seen = new Uint8Array(triangleCount(mesh));
  const waiting = loop.map((h) => (h / 3) | 0);
  for (const t of waiting) seen[t] = 1;
  let area = 0;
  while (waiting.length > 0) {
    const t = waiting.pop()!;
    area += Math.hypot(crosses[3 * t], crosses[3 * t + 1], crosses[3 * t + 2]) / 2;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      if (fence[h] || twins[h] < 0) continue;
      const other = (twins[h] / 3) | 0;
      if (seen[other]) continue;
      seen[other] = 1;
      waiting.push(other);
    }
  }
  return loop.some((h) => twins[h] >= 0 && seen[(twins[h] / 3) | 0]) ? null : area;
}

/** Length of a closed line, mm. */
export const lengthOf = (points: readonly Vec3[]): number =>
  points.reduce((n, p, i) => {
    const q = points[(i + 1) % points.length];
    return n + Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
  }, 0);
