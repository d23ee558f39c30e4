import { edgesOf } from '../mesh/edges.ts';
import { crossesOf } from '../mesh/measures.ts';
import { nextHalfEdge, type TriMesh } from '../mesh/TriMesh.ts';
import { figures } from '../trade/figures.ts';
import type { Findings, Surveyed } from './Finding.ts';

/** How far the flats of a surface meant to be round stand off its curve. */
export interface Flats {
  /** edges beside which a flat is at least as deep as asked */
  edges: number;
  /** the deepest, mm */
  riseMm: number;
  /** width across of the facet there, mm */
  facetMm: number;
  /** where, mm */
  at: [number, number, number];
}

/**
 * Flats beside edges that are no creases, deeper than `leastMm`: the rise of an arc over the facet as its chord.
 *
 * @returns null when there is none
 */
export function flatsOf(mesh: TriMesh, leastMm: number): Flats | null {
  const edges = edgesOf(mesh);
  const { positions: p, triangles } = mesh;
  const normal = crossesOf(mesh);
  const least = Math.cos((figures.creaseDeg.value * Math.PI) / 180);
  let shown = 0;
  let worst = 0;
  let worstEdge = -1;
  let wide = 0;
  for (let e = 0; e < edges.count; e++) {
    const i = edges.start[e];
    if (edges.start[e + 1] - i !== 2) continue;
    const h = edges.order[i];
    const s = (h / 3) | 0;
    const t = (edges.order[i + 1] / 3) | 0;
    const ss = normal[3 * s] ** 2 + normal[3 * s + 1] ** 2 + normal[3 * s + 2] ** 2;
    const tt = normal[3 * t] ** 2 + normal[3 * t + 1] ** 2 + normal[3 * t + 2] ** 2;
    const st =
      normal[3 * s] * normal[3 * t] + normal[3 * s + 1] * normal[3 * t + 1] + normal[3 * s + 2] * normal[3 * t + 2];
    const cosine = st / Math.sqrt(ss * tt);
    if (!(cosine > least) || cosine > 0.9997) continue;
    const a = 3 * triangles[h];
    const b = 3 * triangles[nextHalfEdge(h)];
    const edge = Math.sqrt((p[b] - p[a]) ** 2 + (p[b + 1] - p[a + 1]) ** 2 + (p[b + 2] - p[a + 2]) ** 2);
    // the narrower of the two facets, across the edge: the rise of an arc over that chord
    const width = Math.sqrt(Math.min(ss, tt)) / edge;
    const rise = (width / 2) * Math.tan(Math.acos(Math.min(1, cosine)) / 4);
    if (rise < leastMm) continue;
    shown++;
    if (rise > worst) {
      worst = rise;
      worstEdge = h;
      wide = width;
    }
  }
  if (shown === 0) return null;
  const v = 3 * triangles[worstEdge];
  return { edges: shown, riseMm: worst, facetMm: wide, at: [p[v], p[v + 1], p[v + 2]] };
}

/** Edges of a surface meant to be round whose flats are deep enough to show at the present size. */
export function facets(m: Surveyed, out: Findings): void {
  const found = flatsOf(m.mesh, figures.facetMm.value);
  if (!found) return;
  out.add('facets', {
    ofAll: true,
    severity: 'attention',
    count: found.edges,
    values: { riseMm: found.riseMm, edges: found.edges },
    at: found.at,
    spanMm: 0,
    sure: 'likely',
    mends: ['refine'],
  });
}
