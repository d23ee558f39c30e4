import { GrowableFloats } from '../../mesh/Growable.ts';
import { edgesOf, originOf, targetOf } from '../../mesh/edges.ts';
import { nextHalfEdge, triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { splitEdges } from '../../mesh/splitEdges.ts';
import { UnionFind } from '../../mesh/UnionFind.ts';

/** A corner whose normal leans more than this from a facet at it is a tip: 50 degrees. */
const tipCosine = Math.cos((50 * Math.PI) / 180);

/**
 * One round of refinement: every edge that stands off its curve by more than the tolerance is halved, and the new point
 * set on the curve. Over smooth edges the curve is that of point-normal triangles (Vlachos et al. 2001); along creases
 * it is the cubic through the crease's own corners. Old vertices stay bit for bit, and flats stay as they are.
 *
 * @param creaseDeg edges folded more sharply than this are creases
 * @returns the mesh, how many edges were halved, and how far the farthest of them stood off, mm
 */
export function refineOnce(
  mesh: TriMesh,
  toleranceMm: number,
  creaseDeg: number,
): { mesh: TriMesh; halved: number; worstMm: number } {
  const { positions: p, triangles } = mesh;
  const edges = edgesOf(mesh);
  const n = triangleCount(mesh);
  const normal = new Float64Array(3 * n);
  const corner = new Float64Array(9 * n);
  const v = (h: number, k: number) => p[3 * triangles[h] + k];
  for (let t = 0; t < n; t++)
    for (let k = 0; k < 3; k++) {
      const [i, j] = [(k + 1) % 3, (k + 2) % 3];
      normal[3 * t + k] =
        (v(3 * t + 1, i) - v(3 * t, i)) * (v(3 * t + 2, j) - v(3 * t, j)) -
        (v(3 * t + 1, j) - v(3 * t, j)) * (v(3 * t + 2, i) - v(3 * t, i));
    }
  const length = (o: number) => Math.hypot(normal[o], normal[o + 1], normal[o + 2]);
  const least = Math.cos((creaseDeg * Math.PI) / 180);
  const fans = new UnionFind(3 * n);
  const crease = new Uint8Array(edges.count);
  for (let e = 0; e < edges.count; e++) {
    const i = edges.start[e];
    crease[e] = 1;
    if (edges.start[e + 1] - i !== 2) continue;
    const [g, h] = [edges.order[i], edges.order[i + 1]];
    if (originOf(mesh, g) === originOf(mesh, h)) continue;
    const s = 3 * ((g / 3) | 0);
    const t = 3 * ((h / 3) | 0);
    const cosine =
      (normal[s] * normal[t] + normal[s + 1] * normal[t + 1] + normal[s + 2] * normal[t + 2]) / (length(s) * length(t));
    if (!(cosine > least)) continue;
    crease[e] = 0;
    fans.union(g, nextHalfEdge(h));
    fans.union(nextHalfEdge(g), h);
  }
  // normals a smooth fan of corners shares, weighted by angle
  for (let h = 0; h < 3 * n; h++) {
    const t = 3 * ((h / 3) | 0);
    const a = nextHalfEdge(h);
    const b = nextHalfEdge(a);
    const l = length(t);
    if (!(l > 0)) continue;
    const u = [0, 1, 2].map((k) => v(a, k) - v(h, k));
    const w = [0, 1, 2].map((k) => v(b, k) - v(h, k));
    const d = (u[0] * w[0] + u[1] * w[1] + u[2] * w[2]) / (Math.hypot(...u) * Math.hypot(...w));
    const angle = Math.acos(Math.max(-1, Math.min(1, d)));
    const root = fans.find(h);
    for (let k = 0; k < 3; k++) corner[3 * root + k] += (angle * normal[t + k]) / l;
  }
  for (let h = 0; h < 3 * n; h++) {
    if (fans.parent[h] !== h) continue;
    const l = Math.hypot(corner[3 * h], corner[3 * h + 1], corner[3 * h + 2]) || 1;
    for (let k = 0; k < 3; k++) corner[3 * h + k] /= l;
  }
  // at tips no one normal stands for the facets around: nothing is bent there
  const tip = new Uint8Array(3 * n);
  for (let h = 0; h < 3 * n; h++) {
    const t = 3 * ((h / 3) | 0);
    const root = fans.find(h);
    const o = 3 * root;
    const along = normal[t] * corner[o] + normal[t + 1] * corner[o + 1] + normal[t + 2] * corner[o + 2];
    if (!(along > tipCosine * length(t))) tip[root] = 1;
  }
  // along a crease the way on is given by the two creases that meet at a vertex
  const ends = new Map<number, number[]>();
  for (let e = 0; e < edges.count; e++)
    if (crease[e]) {
      const h = edges.order[edges.start[e]];
      for (const [x, y] of [
        [originOf(mesh, h), targetOf(mesh, h)],
        [targetOf(mesh, h), originOf(mesh, h)],
      ]) {
        const list = ends.get(x);
        if (list) list.push(y);
        else ends.set(x, [y]);
      }
    }
  /** unit tangent of the crease at vertex x on its way to y */
  const tangent = (x: number, y: number): number[] => {
    const others = (ends.get(x) ?? []).filter((z) => z !== y);
    const on = [0, 1, 2].map((k) => p[3 * y + k] - p[3 * x + k]);
    const l = Math.hypot(...on);
    const straight = on.map((d) => d / l);
    if (others.length !== 1) return straight;
    const back = [0, 1, 2].map((k) => p[3 * x + k] - p[3 * others[0] + k]);
    const bl = Math.hypot(...back);
    const turn = straight.reduce((s, d, k) => s + (d * back[k]) / bl, 0);
    if (!(turn > least)) return straight;
    // chords weighted by the other's length: the tangent of the circle through three points
    const sum = straight.map((d, k) => d / l + back[k] / bl / bl);
    const sl = Math.hypot(...sum);
    return sum.map((d) => d / sl);
  };
  const points = new GrowableFloats(p.length + 3072);
  points.data.set(p);
  points.length = p.length;
  const half = new Int32Array(3 * n).fill(-1);
  let halved = 0;
  let worstMm = 0;
  for (let e = 0; e < edges.count; e++) {
    const h = edges.order[edges.start[e]];
    const a = originOf(mesh, h);
    const b = targetOf(mesh, h);
    const d = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]);
    let off: number[];
    if (crease[e]) {
      const l = Math.hypot(...d);
      const ta = tangent(a, b);
      const tb = tangent(b, a);
      // Hermite: middle + (tangent at a, tangent at b away from it) * chord / 8
      off = [0, 1, 2].map((k) => ((ta[k] + tb[k]) * l) / 8);
    } else {
      const ra = fans.find(h);
      const rb = fans.find(nextHalfEdge(h));
      if (tip[ra] || tip[rb]) continue;
      const [na, nb] = [3 * ra, 3 * rb];
      const wa = d[0] * corner[na] + d[1] * corner[na + 1] + d[2] * corner[na + 2];
      const wb = d[0] * corner[nb] + d[1] * corner[nb + 1] + d[2] * corner[nb + 2];
      off = [0, 1, 2].map((k) => (-wa * corner[na + k] + wb * corner[nb + k]) / 8);
    }
    const rise = Math.hypot(...off);
    if (!(rise > toleranceMm)) continue;
    worstMm = Math.max(worstMm, rise);
    halved++;
    const m = points.length / 3;
    points.push3(
      (p[3 * a] + p[3 * b]) / 2 + off[0],
      (p[3 * a + 1] + p[3 * b + 1]) / 2 + off[1],
      (p[3 * a + 2] + p[3 * b + 2]) / 2 + off[2],
    );
    for (let i = edges.start[e]; i < edges.start[e + 1]; i++) half[edges.order[i]] = m;
  }
  if (halved === 0) return { mesh, halved, worstMm };
  const positions = points.taken();
  return { mesh: { positions, triangles: splitEdges(triangles, positions, half) }, halved, worstMm };
}
