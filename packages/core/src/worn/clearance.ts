import { MeshError } from '../run/MeshError.ts';
import { boundsOf, triangleCount, xyz, type TriMesh, type Vec3, type Xyz } from '../mesh/TriMesh.ts';
import { UnionFind } from '../mesh/UnionFind.ts';
import { sliceContext, type RunContext } from '../run/context.ts';
import { areaOf, triangleCentre } from '../mesh/measures.ts';
import type { ReferenceBody } from '../reference/ReferenceBody.ts';
import { placed, type Placement } from './Placement.ts';
import { reachMm, type WornBody } from './WornBody.ts';
import { factorThatFits } from './factorThatFits.ts';
import { insideSkin, INNER, normalsAround } from './insideSkin.ts';

export interface RegionClearance {
  name: string;
  leastMm: number;
  p05Mm: number;
  typicalMm: number;
  /** inside of the piece that lies over this region, mm2 */
  areaMm2: number;
}

export interface Contact {
  /** touch: the inside presses; through: the body stands out of the outer skin */
  kind: 'touch' | 'through';
  region: string;
  at: Xyz;
  areaMm2: number;
  /** how far the body stands into the piece, lining included for a touch, mm */
  deepestMm: number;
  spanMm: number;
}

export interface Clearance {
  /** lining taken off, mm */
  leastMm: number;
  p05Mm: number;
  typicalMm: number;
  regions: RegionClearance[];
  contacts: Contact[];
  /** share of the inside with less than the lining's room, percent */
  touchingPct: number;
  /** the piece times this just gives the clearance asked for at its narrowest place; null when none does */
  suggestedFactor: number | null;
  /** the point of the piece that stays when it is scaled by that */
  about: Xyz;
  /** where the body stands in the piece, mm; as asked, or where it settled */
  move: Xyz;
  insideAreaMm2: number;
}

/**
 * Divides triangles until their vertices lie no farther apart than `most`, so that figures taken at vertices hold for
 * coarse pieces too. Neighbours are not kept joined: only for measuring.
 */
function divided(mesh: TriMesh, most: number): TriMesh {
  const { positions: p, triangles } = mesh;
  const long = (a: number, b: number) =>
    (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2 > most * most;
  let any = false;
  for (let t = 0; t < triangles.length && !any; t += 3)
    any =
      long(triangles[t], triangles[t + 1]) ||
      long(triangles[t + 1], triangles[t + 2]) ||
      long(triangles[t + 2], triangles[t]);
  if (!any) return mesh;
  const points = Array.from(p);
  const middles = new Map<number, number>();
  const middle = (a: number, b: number): number => {
    const key = Math.min(a, b) * 2 ** 26 + Math.max(a, b);
    let m = middles.get(key);
    if (m === undefined) {
      m = points.length / 3;
      middles.set(key, m);
      for (let k = 0; k < 3; k++) points.push((points[3 * a + k] + points[3 * b + k]) / 2);
    }
    return m;
  };
  const length = (a: number, b: number) => {
    const x = points[3 * a] - points[3 * b];
    const y = points[3 * a + 1] - points[3 * b + 1];
    const z = points[3 * a + 2] - points[3 * b + 2];
    return Math.sqrt(x * x + y * y + z * z);
  };
  const out: number[] = [];
  const stack: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    stack.push(triangles[t], triangles[t + 1], triangles[t + 2]);
    while (stack.length > 0) {
      const c = stack.pop()!;
      const b = stack.pop()!;
      const a = stack.pop()!;
      const ab = length(a, b);
      const bc = length(b, c);
      const longest = Math.max(ab, bc, length(c, a));
      if (longest <= most) {
        out.push(a, b, c);
        continue;
      }
      // the same edge is halved in both its triangles, so no gaps open that a map would show
      const [u, v, w] = longest === ab ? [a, b, c] : longest === bc ? [b, c, a] : [c, a, b];
      const m = middle(u, v);
      stack.push(u, m, w, m, v, w);
    }
  }
  return { positions: Float32Array.from(points), triangles: Uint32Array.from(out) };
}

/** Coarse pieces are divided into about as many triangles before clearance is measured at their vertices. */
const enoughTriangles = 80_000;
const mostContacts = 12;

/** Numbers of the regions nearest to every triangle of a body. */
function regionOfTriangles(mesh: TriMesh, regions: ReferenceBody['regions']): Uint16Array {
  const out = new Uint16Array(triangleCount(mesh));
  for (let t = 0; t < out.length; t++) {
    const [x, y, z] = triangleCentre(mesh, t);
    let best = Infinity;
    regions.forEach(({ at }, r) => {
      const d = (at[0] - x) ** 2 + (at[1] - y) ** 2 + (at[2] - z) ** 2;
      if (d < best) {
        best = d;
        out[t] = r;
      }
    });
  }
  return out;
}

/** Regions of a body of which nothing is known: by the six sides of its box. */
export function regionsOfBox(mesh: TriMesh): ReferenceBody['regions'] {
  const { min, max } = boundsOf(mesh);
  const c: Vec3 = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  return [
    { name: 'top', at: [c[0], c[1], max[2]] },
    { name: 'front', at: [c[0], min[1], c[2]] },
    { name: 'back', at: [c[0], max[1], c[2]] },
    { name: 'left side', at: [max[0], c[1], c[2]] },
    { name: 'right side', at: [min[0], c[1], c[2]] },
    { name: 'below', at: [c[0], c[1], min[2]] },
  ];
}

/** Numbers in the order of their values. */
function sortedBy(list: ArrayLike<number>, value: Float32Array): Uint32Array {
  if (list.length > 2 ** 21) return Uint32Array.from(list).sort((a, b) => value[a] - value[b]);
  // value and number packed into one float64 each sort much faster than by a comparing function
  const keys = new Float64Array(list.length);
  const ordered = new Uint32Array(2 * list.length);
  const bits = new Float32Array(1);
  const word = new Uint32Array(bits.buffer);
  for (let i = 0; i < list.length; i++) {
    bits[0] = value[list[i]];
    // floats in the order of integers
    const key = word[0] & 0x80000000 ? ~word[0] >>> 0 : (word[0] | 0x80000000) >>> 0;
    keys[i] = key * 2 ** 21 + (i & 0x1fffff);
  }
  keys.sort();
  for (let i = 0; i < keys.length; i++) ordered[i] = list[keys[i] % 2 ** 21];
  return ordered.subarray(0, list.length);
}

/** Values with weights, by quantiles of the weight. */
function quantilesOf(order: ArrayLike<number>, value: Float32Array, weight: Float32Array): (q: number) => number {
  const sums = new Float64Array(order.length);
  let total = 0;
  for (let i = 0; i < order.length; i++) sums[i] = total += weight[order[i]];
  return (q) => {
    let [lo, hi] = [0, order.length - 1];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (sums[mid] < q * total) lo = mid + 1;
      else hi = mid;
    }
    return order.length > 0 ? value[order[lo]] : 0;
  };
}

/**
 * How much room a piece leaves around a body: signed distances from the body to the skin of the piece that faces it.
 *
 * @param regions of the body, by name
 * @param liningMm padding inside the piece, taken off every figure
 * @param wantedMm clearance that the suggested factor is to leave
 * @throws MeshError `cannot` where nothing of the piece is around the body
 */
export function clearanceOf(
  piece: TriMesh,
  body: WornBody,
  placement: Placement,
  regions: ReferenceBody['regions'],
  liningMm: number,
  wantedMm: number,
  context: RunContext,
): Clearance {
  const mesh = divided(piece, Math.max(0.5, 2 * Math.sqrt(areaOf(piece) / enoughTriangles)));
  const { gap, inner, points, nearest } = insideSkin(mesh, body, placement, sliceContext(context, 0, 0.6));
  const { area } = normalsAround(points, mesh.triangles);
  const found: number[] = [];
  for (let v = 0; v < gap.length; v++) if (inner[v] === INNER && !Number.isNaN(gap[v])) found.push(v);
  if (found.length < 3)
    throw new MeshError(
      'cannot',
      `Nothing of the piece is around the body: no skin faces it within ${reachMm} mm.`,
      'Move the body into the piece.',
      'placement',
    );
  const inside = Array.from(sortedBy(found, gap));
  const home = regionOfTriangles(body.mesh, regions);
  const regionAt = (v: number) => home[nearest[v]];
  const at = quantilesOf(inside, gap, area);
  const byRegion: number[][] = regions.map(() => []);
  for (const v of inside) byRegion[regionAt(v)].push(v);
  const sum = (list: number[]) => list.reduce((total, v) => total + area[v], 0);
  const insideAreaMm2 = sum(inside);
  const touching = inside.filter((v) => gap[v] < liningMm);
  const contacts = contactsOf(mesh, gap, inner, liningMm, (list, kind) => {
    let deepest = list[0];
    for (const v of list) if (gap[v] < gap[deepest]) deepest = v;
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (const v of list)
      for (let k = 0; k < 3; k++) {
        lo[k] = Math.min(lo[k], points[3 * v + k]);
        hi[k] = Math.max(hi[k], points[3 * v + k]);
      }
    const p: Vec3 = [points[3 * deepest], points[3 * deepest + 1], points[3 * deepest + 2]];
    return {
      kind,
      region: regions[regionAt(deepest)].name,
      at: xyz(placed(placement, p)),
      areaMm2: sum(list),
      deepestMm: (kind === 'touch' ? liningMm : 0) - gap[deepest],
      spanMm: Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]),
    };
  });
  // the part of the body that the piece is around stays where it is when the piece is scaled
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const v of inside) {
    const c = triangleCentre(body.mesh, nearest[v]);
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k], c[k]);
      high[k] = Math.max(high[k], c[k]);
    }
  }
  const centre: Vec3 = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2];
  const about = placed(placement, centre);
  const wanted = liningMm + wantedMm;
  const factor = factorThatFits(points, inside, gap, 1, body, centre, wanted, context);
  // what was clear of the body, and stays nearly as large, goes on facing it with the same skin
  const plain = at(0) > 0 && factor !== null && factor > 0.8 && factor < 1.25;
  return {
    leastMm: at(0) - liningMm,
    p05Mm: at(0.05) - liningMm,
    typicalMm: at(0.5) - liningMm,
    regions: byRegion.flatMap((list, r) => {
      if (list.length === 0) return [];
      const q = quantilesOf(list, gap, area);
      return [
        {
          name: regions[r].name,
          leastMm: q(0) - liningMm,
          p05Mm: q(0.05) - liningMm,
          typicalMm: q(0.5) - liningMm,
          areaMm2: sum(list),
        },
      ];
    }),
    contacts,
    touchingPct: (100 * sum(touching)) / insideAreaMm2,
    suggestedFactor:
      plain || factor === null
        ? factor
        : provenFactor(
            mesh,
            body,
            placement,
            about,
            factor,
            wanted,
            (gaps, skin, at) => factorThatFits(points, skin, gaps, at, body, centre, wanted, context),
            context,
          ),
    about: xyz(about),
    move: xyz(placement.moveMm),
    insideAreaMm2,
  };
}

/** A factor leaves just the room asked for when what it leaves, measured anew, lies so near to that, mm. */
const shortByMm = 0.05;
const looseByMm = 0.5;

/**
 * A factor of the piece about a point of the bench, proved by measuring the scaled piece anew: other skin may face the body
 * then. The factor that the new skin asks for is tried next, a few times.
 *
 * @param fit the factor that a skin of the piece asks for: gaps, vertices with the narrowest first, and the factor they were
 *   measured at
 * @returns null when none of those tried leaves just that
 */
function provenFactor(
  piece: TriMesh,
  body: WornBody,
  placement: Placement,
  about: Vec3,
  first: number,
  wanted: number,
  fit: (gap: Float32Array, skin: number[], at: number) => number | null,
  context: RunContext,
): number | null {
  let factor = first;
  for (let round = 0; round < 4; round++) {
    const scaled: TriMesh = {
      positions: piece.positions.map((x, i) => about[i % 3] + factor * (x - about[i % 3])),
      triangles: piece.triangles,
    };
    const { gap, inner } = insideSkin(
      scaled,
      body,
      placement,
      sliceContext(context, 0.6 + 0.1 * round, 0.7 + 0.1 * round),
    );
    const skin: number[] = [];
    let least = Infinity;
    for (let v = 0; v < gap.length; v++)
      if (inner[v] === INNER && !Number.isNaN(gap[v])) {
        skin.push(v);
        if (gap[v] < least) least = gap[v];
      }
    // out of reach altogether
    if (skin.length === 0) return null;
    if (least >= wanted - shortByMm && least <= wanted + looseByMm) return factor;
    const next = fit(gap, Array.from(sortedBy(skin, gap)), factor);
    if (next === null || Math.abs(next / factor - 1) < 1e-4) return null;
    factor = next;
  }
  return null;
}

/** Places where the body has no room or stands out, worst first. */
function contactsOf(
  mesh: TriMesh,
  gap: Float32Array,
  inner: Uint8Array,
  liningMm: number,
  describe: (list: number[], kind: Contact['kind']) => Contact,
): Contact[] {
  const kindOf = (v: number): Contact['kind'] | null =>
    inner[v] === INNER ? (gap[v] < liningMm ? 'touch' : null) : gap[v] < 0 ? 'through' : null;
  const sets = new UnionFind(gap.length);
  const { triangles } = mesh;
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = triangles[t + k];
      const b = triangles[t + ((k + 1) % 3)];
      const kind = kindOf(a);
      if (kind && kind === kindOf(b)) sets.union(a, b);
    }
  const groups = new Map<number, number[]>();
  for (let v = 0; v < gap.length; v++) {
    if (!kindOf(v)) continue;
    const root = sets.find(v);
    const list = groups.get(root);
    if (list) list.push(v);
    else groups.set(root, [v]);
  }
  const found = [...groups.values()]
    .map((list) => describe(list, kindOf(list[0])!))
    .sort((a, b) => (a.kind === b.kind ? b.areaMm2 - a.areaMm2 : a.kind === 'through' ? -1 : 1));
  // beside a large contact its crumbs say nothing more
  const largest = Math.max(0, ...found.map((c) => c.areaMm2));
  return found.filter((c) => c.areaMm2 > 0.02 * largest).slice(0, mostContacts);
}
