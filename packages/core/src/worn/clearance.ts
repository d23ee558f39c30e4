import { newHit, treeOf, type Bvh, type NearestHit } from '../mesh/Bvh.ts';
import type { RunContext } from '../mesh/context.ts';
import { starsOf, twinsOf } from '../mesh/edges.ts';
import { applyMat3, cross, dot } from '../mesh/transform.ts';
import { MeshError } from '../mesh/MeshError.ts';
import { areaOf, triangleCentre, triangleNormal } from '../mesh/measures.ts';
import { boundsOf, triangleCount, xyz, type TriMesh, type Vec3, type Xyz } from '../mesh/TriMesh.ts';
import { UnionFind } from '../mesh/UnionFind.ts';
import { windingOf, type WindingTree } from '../mesh/WindingTree.ts';
import type { ReferenceBody } from '../reference/ReferenceBody.ts';
import { piecePoints, placed, rotationOf, type Placement } from './Placement.ts';

/** Skin farther from the body than this is not around it, mm. */
const reachMm = 400;

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

/** What a skin point is to the body. */
const OUTER = 0;
const INNER = 1;
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
function normalsAround(points: Float32Array, triangles: Uint32Array): { normals: Float32Array; area: Float32Array } {
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
    for (const v of [a, b, c]) {
      normals[v] += nx;
      normals[v + 1] += ny;
      normals[v + 2] += nz;
      area[v / 3] += third;
    }
  }
  return { normals, area };
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
  const middles = new Map<string, number>();
  const middle = (a: number, b: number): number => {
    const key = a < b ? `${a},${b}` : `${b},${a}`;
    let m = middles.get(key);
    if (m === undefined) {
      m = points.length / 3;
      middles.set(key, m);
      for (let k = 0; k < 3; k++) points.push((points[3 * a + k] + points[3 * b + k]) / 2);
    }
    return m;
  };
  const length = (a: number, b: number) =>
    Math.hypot(
      points[3 * a] - points[3 * b],
      points[3 * a + 1] - points[3 * b + 1],
      points[3 * a + 2] - points[3 * b + 2],
    );
  const out: number[] = [];
  const stack: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    stack.push(triangles[t], triangles[t + 1], triangles[t + 2]);
    while (stack.length > 0) {
      const c = stack.pop()!;
      const b = stack.pop()!;
      const a = stack.pop()!;
      const sides = [length(a, b), length(b, c), length(c, a)];
      const longest = Math.max(...sides);
      if (longest <= most) {
        out.push(a, b, c);
        continue;
      }
      // the same edge is halved in both its triangles, so no gaps open that a map would show
      const [u, v, w] = longest === sides[0] ? [a, b, c] : longest === sides[1] ? [b, c, a] : [c, a, b];
      const m = middle(u, v);
      stack.push(u, m, w, m, v, w);
    }
  }
  return { positions: Float32Array.from(points), triangles: Uint32Array.from(out) };
}

/** A body that pieces are held against, prepared once. */
export class WornBody {
  readonly tree: Bvh;
  private readonly winding: WindingTree | null;
  private readonly twin: Int32Array;
  /** of vertices, weighted by the angles of the triangles around them */
  private readonly corner: Float32Array;

  /** @param sound is it closed and free of crossings? Then its sides decide what is inside, else the winding number. */
  constructor(
    readonly mesh: TriMesh,
    sound: boolean,
  ) {
    this.tree = treeOf(mesh);
    this.winding = sound ? null : windingOf(mesh);
    this.twin = twinsOf(mesh);
    this.corner = sound ? angleNormals(mesh) : new Float32Array(0);
  }

  /**
   * Is a point within the body? Told by the side of what is nearest: a face, or the sum of the normals at an edge, or at a
   * corner their sum weighted by angles, which is right for any closed mesh (Bærentzen and Aanæs 2005).
   *
   * @param hit what of the body is nearest to it
   */
  within(x: number, y: number, z: number, hit: NearestHit): boolean {
    if (this.winding) return this.winding.at(x, y, z) > 0.5;
    const { triangles, positions: p } = this.mesh;
    const t = hit.triangle;
    const [qx, qy, qz] = hit.point;
    let n: readonly number[] = triangleNormal(this.mesh, t);
    // distance of the nearest point from each side, as a share of the triangle's height there
    const shares = [0, 1, 2].map((k) => {
      const a = 3 * triangles[3 * t + k];
      const b = 3 * triangles[3 * t + ((k + 1) % 3)];
      const c = 3 * triangles[3 * t + ((k + 2) % 3)];
      return sideArea(p, a, b, qx, qy, qz) / sideArea(p, a, b, p[c], p[c + 1], p[c + 2]);
    });
    const near = [0, 1, 2].filter((k) => shares[k] < 1e-5);
    if (near.length === 1) {
      const other = this.twin[3 * t + near[0]];
      if (other >= 0) {
        const m = triangleNormal(this.mesh, (other / 3) | 0);
        n = [n[0] + m[0], n[1] + m[1], n[2] + m[2]];
      }
    } else if (near.length > 1) {
      // two sides that meet in a corner: side k runs from corner k to k + 1
      const k = near.includes(0) && near.includes(1) ? 1 : near.includes(1) ? 2 : 0;
      const v = 3 * triangles[3 * t + k];
      n = [this.corner[v], this.corner[v + 1], this.corner[v + 2]];
    }
    return (x - qx) * n[0] + (y - qy) * n[1] + (z - qz) * n[2] < 0;
  }

  /**
   * Signed distance, mm: negative within; `reachMm` where the body is farther.
   *
   * @param outside it is known to be outside
   */
  gap(x: number, y: number, z: number, hit: NearestHit, outside = false): number {
    const d = this.tree.nearest(x, y, z, reachMm, hit, hit.triangle).distance;
    if (!(d < reachMm)) return reachMm;
    return !outside && this.within(x, y, z, hit) ? -d : d;
  }
}

/** Twice the area of the triangle over side a-b and a point. */
function sideArea(p: Float32Array, a: number, b: number, x: number, y: number, z: number): number {
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = x - p[a];
  const vy = y - p[a + 1];
  const vz = z - p[a + 2];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
}

/** Normals of vertices, each triangle's weighted by its angle there. */
function angleNormals(mesh: TriMesh): Float32Array {
  const { positions: p, triangles } = mesh;
  const out = new Float32Array(p.length);
  for (let t = 0; t < triangleCount(mesh); t++) {
    const n = triangleNormal(mesh, t);
    for (let k = 0; k < 3; k++) {
      const a = 3 * triangles[3 * t + k];
      const b = 3 * triangles[3 * t + ((k + 1) % 3)];
      const c = 3 * triangles[3 * t + ((k + 2) % 3)];
      const u: Vec3 = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const v: Vec3 = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
      const angle = Math.atan2(Math.hypot(...cross(u, v)), dot(u, v));
      for (let r = 0; r < 3; r++) out[a + r] += angle * n[r];
    }
  }
  return out;
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
    own.firstHit(
      [piece.positions[3 * v], piece.positions[3 * v + 1], piece.positions[3 * v + 2]],
      applyMat3(rows, [toBody[3 * v], toBody[3 * v + 1], toBody[3 * v + 2]]),
      1e-3,
    ) < 0.999
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

/** Coarse pieces are divided into about as many triangles before clearance is measured at their vertices. */
const enoughTriangles = 80_000;
/** Factors looked at for the one that just fits. */
const leastFactor = 0.1;
const mostContacts = 12;
const mostFactor = 20;

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
  const { gap, inner, points, nearest } = insideSkin(mesh, body, placement, context);
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
    suggestedFactor: factorThatFits(points, inside, gap, body, centre, liningMm + wantedMm, context),
    about: xyz(placed(placement, centre)),
    move: xyz(placement.moveMm),
    insideAreaMm2,
  };
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

/**
 * The factor about `centre` at which the narrowest place leaves `wanted`, by halving. A point moves by no more than
 * |f - 1| times its distance from the centre, so only those that could become the narrowest are measured again.
 */
function factorThatFits(
  points: Float32Array,
  /** narrowest first */
  inside: number[],
  gap: Float32Array,
  body: WornBody,
  centre: Vec3,
  wanted: number,
  context: RunContext,
): number | null {
  const hit = newHit();
  const away = (v: number) =>
    Math.hypot(points[3 * v] - centre[0], points[3 * v + 1] - centre[1], points[3 * v + 2] - centre[2]);
  const gapAt = (v: number, f: number) =>
    body.gap(
      centre[0] + f * (points[3 * v] - centre[0]),
      centre[1] + f * (points[3 * v + 1] - centre[1]),
      centre[2] + f * (points[3 * v + 2] - centre[2]),
      hit,
    );
  let active = inside.slice(0, 400);
  const least = (f: number): number => {
    let best = Infinity;
    for (const v of active) best = Math.min(best, gapAt(v, f));
    return best;
  };
  for (let round = 0; round < 6; round++) {
    let [lo, hi] = [leastFactor, mostFactor];
    if (least(hi) < wanted) return null;
    if (least(lo) > wanted) return null;
    while (hi - lo > 1e-5 * hi) {
      context.checkCancelled();
      const mid = Math.sqrt(lo * hi);
      if (least(mid) < wanted) lo = mid;
      else hi = mid;
    }
    // is any point outside the list narrower there?
    const worse: number[] = [];
    const held = new Set(active);
    for (const v of inside)
      if (!held.has(v) && gap[v] - Math.abs(hi - 1) * away(v) < wanted - 1e-3 && gapAt(v, hi) < wanted - 1e-3)
        worse.push(v);
    if (worse.length === 0) return hi;
    active = [...active, ...worse.slice(0, 1500)];
  }
  return null;
}
