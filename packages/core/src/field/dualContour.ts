import { GrowableIndices } from '../formats/Growable.ts';
import type { RunContext } from '../mesh/context.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { normalsOf, type EdgeHits, type ScannedBody } from './scanConvert.ts';

/** Corners of the twelve edges of a cell: corner c stands at (c & 1, (c >> 1) & 1, c >> 2). Four along x, y and z each. */
const cellEdges: [number, number][] = [
  [0, 1],
  [2, 3],
  [4, 5],
  [6, 7],
  [0, 2],
  [1, 3],
  [4, 6],
  [5, 7],
  [0, 4],
  [1, 5],
  [2, 6],
  [3, 7],
];
/** corners of the six sides, in walking order */
const cellSides = [
  [0, 2, 6, 4],
  [1, 3, 7, 5],
  [0, 1, 5, 4],
  [2, 3, 7, 6],
  [0, 1, 3, 2],
  [4, 5, 7, 6],
];

/**
 * For each of the 256 ways to be inside at eight corners, the patch of skin that each crossed edge belongs to: edges
 * are joined across the sides of the cell, inside corners that face each other across a side being kept apart.
 */
const patchOf = ((): Int8Array => {
  const table = new Int8Array(256 * 12).fill(-1);
  const edgeOf = (a: number, b: number) =>
    cellEdges.findIndex(([c, d]) => (c === a && d === b) || (c === b && d === a));
  for (let mask = 1; mask < 255; mask++) {
    const parent = Array.from({ length: 12 }, (_, i) => i);
    const find = (i: number): number => (parent[i] === i ? i : find(parent[i]));
    const isIn = (c: number) => (mask >> c) & 1;
    for (const s of cellSides) {
      const crossed = [0, 1, 2, 3].filter((i) => isIn(s[i]) !== isIn(s[(i + 1) % 4]));
      const join = (i: number, j: number) =>
        (parent[find(edgeOf(s[i], s[(i + 1) % 4]))] = find(edgeOf(s[j], s[(j + 1) % 4])));
      if (crossed.length === 2) join(crossed[0], crossed[1]);
      else if (crossed.length === 4)
        // the two edges at each inside corner belong together
        for (let i = 0; i < 4; i++) if (isIn(s[i])) join((i + 3) % 4, i);
    }
    const names = new Map<number, number>();
    cellEdges.forEach(([a, b], e) => {
      if (isIn(a) === isIn(b)) return;
      const root = find(e);
      if (!names.has(root)) names.set(root, names.size);
      table[12 * mask + e] = names.get(root)!;
    });
  }
  return table;
})();

/**
 * The skin of a scanned body by dual contouring (Ju et al. 2002) with one vertex for each patch of skin in a cell
 * (Nielson 2004), so that thin walls and near skins stay manifold. A vertex lies where the planes of the source's
 * triangles at the crossed edges meet, in the sense of least squares: flats, creases and corners come out as they were.
 *
 * @param source the mesh that was scanned
 * @returns a closed mesh; where relief is finer than a cell its triangles can cross, so test it
 */
export function dualContour(body: ScannedBody, source: TriMesh, context: RunContext): TriMesh {
  const { counts, inside, origin, cell } = body;
  const stride = [1, counts[0], counts[0] * counts[1]];
  const skin = new Skin(body, source);
  for (let axis = 0; axis < 3; axis++) {
    context.checkCancelled();
    context.progress(0.25 * axis, 'Building the new skin');
    const step = stride[axis];
    const last = inside.length - step;
    for (let from = 0; from < last; from += 1 << 22) {
      context.checkCancelled();
      const to = Math.min(last, from + (1 << 22));
      for (let e = from; e < to; e++) if (inside[e] !== inside[e + step]) skin.cross(axis, e);
    }
  }
  context.progress(0.8, 'Placing the new skin on the old');
  const positions = new Float32Array(3 * skin.vertices);
  const at = new Float64Array(3);
  for (let i = 0; i < skin.vertices; i++) {
    placeVertex(skin.sums, 13 * i, at);
    for (let k = 0; k < 3; k++) positions[3 * i + k] = origin[k] + cell * (skin.base.data[3 * i + k] + at[k]);
  }
  const mesh = { positions, triangles: skin.faces.data.slice(0, skin.faces.length) };
  turnDiagonals(mesh);
  return mesh;
}

/** The new skin while it grows: vertices with the sums that will place them, and quads as two triangles each. */
class Skin {
  /** per vertex: sums of n n' (6), n (n.p) (3), p (3), count (1), in cells from the cell's lower corner */
  sums = new Float64Array(13 << 14);
  /** lower corner of each vertex's cell */
  readonly base = new GrowableIndices(3 << 14);
  readonly faces = new GrowableIndices(3 << 15);
  vertices = 0;
  private readonly cells = new CellTable();
  private readonly normal: Float32Array;
  private readonly cursor = [0, 0, 0];
  private readonly at = new Float64Array(3);
  private readonly g = new Int32Array(3);
  private readonly quad = new Uint32Array(4);

  constructor(
    private readonly body: ScannedBody,
    source: TriMesh,
  ) {
    this.normal = normalsOf(source);
  }

  /** Adds the quad around grid edge `e`, whose ends lie on two sides of the skin. Edges of an axis must come in order. */
  cross(axis: number, e: number): void {
    const { at, g, quad, cursor } = this;
    const { counts, inside } = this.body;
    const nx = counts[0];
    const sz = nx * counts[1];
    const line = Math.floor(e / nx);
    g[0] = e - line * nx;
    g[2] = Math.floor(line / counts[1]);
    g[1] = line - g[2] * counts[1];
    if (g[axis] === counts[axis] - 1) return;
    const hits = this.body.hits[axis];
    let c = cursor[axis];
    while (c < hits.edge.length && hits.edge[c] < e) c++;
    cursor[axis] = c;
    const leaves = inside[e] === 1;
    const hit = pickHit(hits, c, e, leaves);
    at[0] = g[0];
    at[1] = g[1];
    at[2] = g[2];
    let px = 0;
    let py = 0;
    let pz = 0;
    if (hit >= 0) {
      at[axis] += hits.along[hit];
      const t = 3 * hits.triangle[hit];
      px = this.normal[t];
      py = this.normal[t + 1];
      pz = this.normal[t + 2];
    } else at[axis] += this.body.winding ? halfway(this.body, at, axis, leaves) : 0.5;
    const u = (axis + 1) % 3;
    const v = (axis + 2) % 3;
    const su = u === 0 ? 1 : u === 1 ? nx : sz;
    const sv = v === 0 ? 1 : v === 1 ? nx : sz;
    for (let c = 0; c < 4; c++) {
      const du = c === 1 || c === 2 ? 0 : 1;
      const dv = c >= 2 ? 0 : 1;
      const lower = (du << u) | (dv << v);
      const cellAt = e - du * su - dv * sv;
      const next = cellAt + nx;
      const above = cellAt + sz;
      const far = next + sz;
      const mask =
        inside[cellAt] |
        (inside[cellAt + 1] << 1) |
        (inside[next] << 2) |
        (inside[next + 1] << 3) |
        (inside[above] << 4) |
        (inside[above + 1] << 5) |
        (inside[far] << 6) |
        (inside[far + 1] << 7);
      const vertex = this.vertexOf(cellAt, patchOf[12 * mask + edgeNumber[8 * axis + lower]], lower);
      quad[c] = vertex;
      const { sums } = this;
      const base = this.base.data;
      const o = 13 * vertex;
      const x = at[0] - base[3 * vertex];
      const y = at[1] - base[3 * vertex + 1];
      const z = at[2] - base[3 * vertex + 2];
      const d = px * x + py * y + pz * z;
      sums[o] += px * px;
      sums[o + 1] += px * py;
      sums[o + 2] += px * pz;
      sums[o + 3] += py * py;
      sums[o + 4] += py * pz;
      sums[o + 5] += pz * pz;
      sums[o + 6] += px * d;
      sums[o + 7] += py * d;
      sums[o + 8] += pz * d;
      sums[o + 9] += x;
      sums[o + 10] += y;
      sums[o + 11] += z;
      sums[o + 12]++;
    }
    const second = leaves ? quad[1] : quad[3];
    const fourth = leaves ? quad[3] : quad[1];
    this.faces.push3(quad[0], second, quad[2]);
    this.faces.push3(quad[0], quad[2], fourth);
  }

  private vertexOf(cellAt: number, patch: number, lower: number): number {
    const slot = this.cells.slot(cellAt, patch);
    const known = this.cells.value[slot];
    if (known >= 0) return known;
    const { g } = this;
    const vertex = this.vertices++;
    this.cells.value[slot] = vertex;
    this.base.push3(g[0] - (lower & 1), g[1] - ((lower >> 1) & 1), g[2] - (lower >> 2));
    if (13 * this.vertices > this.sums.length) {
      const more = new Float64Array(2 * this.sums.length);
      more.set(this.sums);
      this.sums = more;
    }
    return vertex;
  }
}

/** Number of the cell edge along an axis whose lower end is a corner: 8 entries an axis. */
const edgeNumber = ((): Int8Array => {
  const table = new Int8Array(24).fill(-1);
  cellEdges.forEach(([a, b], e) => {
    table[8 * Math.log2(a ^ b) + a] = e;
  });
  return table;
})();

/** Of the crossings on a grid edge, the outermost that goes the way wanted; -1 if there is none. */
function pickHit(hits: EdgeHits, from: number, edge: number, leaves: boolean): number {
  let found = -1;
  for (let i = from; i < hits.edge.length && hits.edge[i] === edge; i++)
    if ((hits.leaving[i] === 1) === leaves) {
      found = i;
      if (!leaves) break;
    }
  return found;
}

/** Where the winding number passes a half on an edge that no triangle crosses, by halving five times. */
function halfway(body: ScannedBody, at: Float64Array, axis: number, leaves: boolean): number {
  const { origin, cell } = body;
  let lo = 0;
  let hi = 1;
  const p = [0, 1, 2].map((k) => origin[k] + cell * at[k]);
  for (let i = 0; i < 5; i++) {
    const half = (lo + hi) / 2;
    const x = p[axis] + half * cell;
    const isIn = body.winding!.at(axis === 0 ? x : p[0], axis === 1 ? x : p[1], axis === 2 ? x : p[2]) > 0.5;
    if (isIn === leaves) lo = half;
    else hi = half;
  }
  return (lo + hi) / 2;
}

/** Least squares of the planes, held lightly at the middle of their points and within the cell; fills `out` in cells. */
function placeVertex(s: Float64Array, o: number, out: Float64Array): void {
  const n = s[o + 12];
  const mx = s[o + 9] / n;
  const my = s[o + 10] / n;
  const mz = s[o + 11] / n;
  const hold = 0.003 * n;
  const a = s[o] + hold;
  const b = s[o + 1];
  const c = s[o + 2];
  const d = s[o + 3] + hold;
  const e = s[o + 4];
  const f = s[o + 5] + hold;
  const rx = s[o + 6] - (s[o] * mx + b * my + c * mz);
  const ry = s[o + 7] - (b * mx + s[o + 3] * my + e * mz);
  const rz = s[o + 8] - (c * mx + e * my + s[o + 5] * mz);
  const A = d * f - e * e;
  const B = c * e - b * f;
  const C = b * e - c * d;
  const det = a * A + b * B + c * C;
  const x = mx + (A * rx + B * ry + C * rz) / det;
  const y = my + (B * rx + (a * f - c * c) * ry + (b * c - a * e) * rz) / det;
  const z = mz + (C * rx + (b * c - a * e) * ry + (a * d - b * b) * rz) / det;
  const rim = 0.005;
  out[0] = Math.min(1 - rim, Math.max(rim, x));
  out[1] = Math.min(1 - rim, Math.max(rim, y));
  out[2] = Math.min(1 - rim, Math.max(rim, z));
}

/** Cuts each quad, which stands as two triangles in a row, along the diagonal that folds it less. */
function turnDiagonals(mesh: { positions: Float32Array; triangles: Uint32Array }): void {
  const { positions: p, triangles: t } = mesh;
  const n = new Float64Array(6);
  const face = (a: number, b: number, c: number, o: number): void => {
    const ux = p[3 * b] - p[3 * a];
    const uy = p[3 * b + 1] - p[3 * a + 1];
    const uz = p[3 * b + 2] - p[3 * a + 2];
    const vx = p[3 * c] - p[3 * a];
    const vy = p[3 * c + 1] - p[3 * a + 1];
    const vz = p[3 * c + 2] - p[3 * a + 2];
    n[o] = uy * vz - uz * vy;
    n[o + 1] = uz * vx - ux * vz;
    n[o + 2] = ux * vy - uy * vx;
  };
  const fold = (): number =>
    (n[0] * n[3] + n[1] * n[4] + n[2] * n[5]) /
    Math.sqrt((n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) * (n[3] * n[3] + n[4] * n[4] + n[5] * n[5]) || 1);
  for (let i = 0; i < t.length; i += 6) {
    const a = t[i];
    const b = t[i + 1];
    const c = t[i + 2];
    const d = t[i + 5];
    face(a, b, c, 0);
    face(a, c, d, 3);
    const along = fold();
    face(a, b, d, 0);
    face(b, c, d, 3);
    if (fold() > along + 1e-6) {
      t[i + 2] = d;
      t[i + 3] = b;
      t[i + 4] = c;
    }
  }
}

/** Vertices by cell and patch, four patches a cell at most: open addressing, -1 where no vertex stands yet. */
class CellTable {
  private keys = new Uint32Array(1 << 16).fill(0xffffffff);
  value = new Int32Array(1 << 16).fill(-1);
  private used = 0;

  slot(cell: number, patch: number): number {
    const key = 4 * cell + patch;
    if (2 * this.used > this.keys.length) this.grow();
    const { keys } = this;
    const mask = keys.length - 1;
    let s = (Math.imul(key, 0x9e3779b1) >>> 8) & mask;
    while (keys[s] !== key) {
      if (keys[s] === 0xffffffff) {
        keys[s] = key;
        this.used++;
        break;
      }
      s = (s + 1) & mask;
    }
    return s;
  }

  private grow(): void {
    const { keys, value } = this;
    this.keys = new Uint32Array(4 * keys.length).fill(0xffffffff);
    this.value = new Int32Array(4 * keys.length).fill(-1);
    this.used = 0;
    for (let i = 0; i < keys.length; i++)
      if (keys[i] !== 0xffffffff) this.value[this.slot(Math.floor(keys[i] / 4), keys[i] & 3)] = value[i];
  }
}
