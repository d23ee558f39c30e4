import { mostCounted } from '../mesh/crossingCount.ts';
import { crossingSegment } from '../mesh/crossingSegment.ts';
import { vec3 } from '../mesh/transform.ts';
import { triangleCentre } from '../mesh/measures.ts';
import type { Crossings } from '../mesh/selfIntersections.ts';
import { UnionFind } from '../mesh/UnionFind.ts';
import { mostLines, mostPlaces, short, type Findings, type Surveyed } from './Finding.ts';
import type { Shells } from './shellFindings.ts';

/** Crossing triangles by place: those that cross each other or share a corner belong together. */
export function crossingPlaces(m: Surveyed, crossings: Crossings, out: Findings, shells: Shells): void {
  const { mesh } = m;
  const { count: crossingCount, pairs } = crossings;
  if (crossingCount === 0) return;
  const { positions: p, triangles } = mesh;
  const number = new Map<number, number>();
  const list: number[] = [];
  for (const t of pairs)
    if (!number.has(t)) {
      number.set(t, list.length);
      list.push(t);
    }
  const sets = new UnionFind(list.length);
  for (let i = 0; i < pairs.length; i += 2) sets.union(number.get(pairs[i])!, number.get(pairs[i + 1])!);
  const atVertex = new Map<number, number>();
  list.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const v = triangles[3 * t + k];
      const other = atVertex.get(v);
      if (other === undefined) atVertex.set(v, i);
      else sets.union(other, i);
    }
  });
  const { label, count } = sets.labels();
  const groups = Array.from({ length: count }, () => ({
    pairs: 0,
    triangles: 0,
    length: 0,
    lo: [Infinity, Infinity, Infinity],
    hi: [-Infinity, -Infinity, -Infinity],
    at: [0, 0, 0] as [number, number, number],
    shells: new Set<number>(),
    lines: [] as number[],
  }));
  list.forEach((t, i) => {
    const g = groups[label[i]];
    g.triangles++;
    g.shells.add(m.shells.label[t]);
  });
  for (let i = 0; i < pairs.length; i += 2) {
    const g = groups[label[number.get(pairs[i])!]];
    const seg = crossingSegment(mesh, pairs[i], pairs[i + 1]);
    if (g.pairs++ === 0) {
      const c = triangleCentre(mesh, pairs[i]);
      for (let k = 0; k < 3; k++) g.at[k] = seg ? (seg[k] + seg[3 + k]) / 2 : c[k];
    }
    if (seg) g.length += Math.hypot(seg[0] - seg[3], seg[1] - seg[4], seg[2] - seg[5]);
    if (seg && m.lines && g.lines.length < 6 * mostLines) for (let q = 0; q < 6; q++) g.lines.push(short(seg[q]));
    for (const t of [pairs[i], pairs[i + 1]])
      for (let c = 0; c < 3; c++)
        for (let k = 0; k < 3; k++) {
          const x = p[3 * triangles[3 * t + c] + k];
          g.lo[k] = Math.min(g.lo[k], x);
          g.hi[k] = Math.max(g.hi[k], x);
        }
  }
  const span = (g: (typeof groups)[number]) => Math.hypot(...[0, 1, 2].map((k) => g.hi[k] - g.lo[k]));
  groups.sort((a, b) => b.length - a.length || b.pairs - a.pairs);
  for (const g of groups.slice(0, mostPlaces)) {
    const names = [...g.shells].map((s) => shells.place[s]).sort((a, b) => a - b);
    const sizesMm = names
      .filter((i) => i >= 0)
      .slice(0, 2)
      .map((i) => Math.max(shells.list[i].size.x, shells.list[i].size.y, shells.list[i].size.z));
    out.add('crossings', {
      severity: 'failure',
      count: g.pairs,
      values: { shells: g.shells.size, sizesMm, triangles: g.triangles, lengthMm: g.length },
      middle: vec3((k) => (g.lo[k] + g.hi[k]) / 2),
      at: g.at,
      spanMm: span(g),
      sure: 'counted',
      mends: ['join', 'wrap'],
      lengthMm: g.length,
      ...(m.lines ? { lines: g.lines } : {}),
    });
  }
  const rest = groups.slice(mostPlaces);
  const unlisted = crossingCount - pairs.length / 2;
  if (rest.length > 0 || unlisted > 0) {
    const n = rest.reduce((sum, g) => sum + g.pairs, 0) + unlisted;
    const at = rest[0] ?? groups[0];
    out.add('crossings', {
      ofAll: true,
      severity: 'failure',
      count: n,
      values: { more: n, places: Math.max(1, rest.length), atLeast: crossingCount >= mostCounted },
      at: at.at,
      spanMm: span(at),
      sure: 'counted',
      mends: ['join', 'wrap'],
      ...(m.lines ? { lines: rest.flatMap((g) => g.lines).slice(0, 6 * mostLines) } : {}),
    });
  }
}
