import { triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { figures } from '../../trade/figures.ts';

/**
 * What a part covers of the bed, seen from above, in square cells: for each row, from the front, stretches of covered cells.
 *
 * Packed: row y has the stretches from `start[y]` to `start[y + 1]`; each is its first cell and the one behind its last.
 */
export interface Shadow {
  /** cells across and deep */
  nx: number;
  ny: number;
  cellMm: number;
  start: Uint32Array;
  runs: Int32Array;
  /** covered cells, and those of the longest stretch of each row */
  count: number;
  longest: Int32Array;
  /** about the vertical, radians */
  turn: number;
  /** where the middle of the mesh's box lies, in cells from the lower left corner */
  middle: [number, number];
  /** of the mesh's box, mm; and how many cells lie before it, to the left and to the front */
  box: [number, number];
  lead: [number, number];
  /** how far its brim or raft reaches beyond that box: left, front, right, back, mm */
  hold: [number, number, number, number];
}

/** Float32 rounding must not reach into the next cell, as a share of one. */
const hair = 1e-4;

/**
 * The shadow of a mesh on the bed, grown all round by half of the gap that is to lie between parts; its foot by a brim or
 * raft besides. A cell counts where any of it is covered.
 *
 * @param turn about the vertical, radians
 * @param holdMm how far a brim or raft reaches beyond the foot, mm
 */
export function shadowOf(mesh: TriMesh, turn: number, cellMm: number, growMm: number, holdMm: number = 0): Shadow {
  const { positions: p, triangles: t } = mesh;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const n = p.length / 3;
  const x = new Float64Array(n);
  const y = new Float64Array(n);
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let v = 0; v < n; v++) {
    x[v] = c * p[3 * v] - s * p[3 * v + 1];
    y[v] = s * p[3 * v] + c * p[3 * v + 1];
    x0 = Math.min(x0, x[v]);
    y0 = Math.min(y0, y[v]);
    x1 = Math.max(x1, x[v]);
    y1 = Math.max(y1, y[v]);
  }
  const grown = Math.ceil((growMm + holdMm) / cellMm - hair);
  const nx = Math.max(1, Math.ceil((x1 - x0) / cellMm - hair)) + 2 * grown;
  const ny = Math.max(1, Math.ceil((y1 - y0) / cellMm - hair)) + 2 * grown;
  const covered = new Uint8Array(nx * ny);
  for (let v = 0; v < n; v++) {
    x[v] = (x[v] - x0) / cellMm + grown;
    y[v] = (y[v] - y0) / cellMm + grown;
  }
  for (let i = 0; i < triangleCount(mesh); i++) cover(x, y, t[3 * i], t[3 * i + 1], t[3 * i + 2], covered, nx, ny);
  const hold: Shadow['hold'] = [0, 0, 0, 0];
  const grownTo = growMm > 0 ? grow(covered, nx, ny, growMm / cellMm) : covered;
  if (holdMm > 0) {
    const under = footOf(mesh, x, y, nx, ny);
    const foot = grow(under, nx, ny, (growMm + holdMm) / cellMm);
    const [i0, j0, wide, deep] = filled(under, nx, ny);
    const ends = [i0, j0, nx - i0 - wide, ny - j0 - deep].map((cells) => (cells - grown) * cellMm);
    ends.forEach((mm, k) => (hold[k] = Math.max(0, holdMm - Math.max(0, mm))));
    for (let k = 0; k < foot.length; k++) grownTo[k] |= foot[k];
  }
  // a brim that stays under what leans out takes no room beside it
  const [i0, j0, wide, deep] = holdMm > 0 ? filled(grownTo, nx, ny) : [0, 0, nx, ny];
  const whole = wide === nx && deep === ny;
  const cells = whole ? grownTo : cropped(grownTo, nx, i0, j0, wide, deep);
  return {
    ...runsOf(cells, wide, deep),
    nx: wide,
    ny: deep,
    cellMm,
    turn,
    middle: [grown + (x1 - x0) / cellMm / 2 - i0, grown + (y1 - y0) / cellMm / 2 - j0],
    box: [x1 - x0, y1 - y0],
    lead: [grown - i0, grown - j0],
    hold,
  };
}

/** Cells under the triangles that reach down into the first layer: no fewer than that layer covers. */
function footOf(
  { positions: p, triangles: t }: TriMesh,
  x: Float64Array,
  y: Float64Array,
  nx: number,
  ny: number,
): Uint8Array {
  let floor = Infinity;
  for (let k = 2; k < p.length; k += 3) floor = Math.min(floor, p[k]);
  const below = floor + figures.firstLayerMm.value;
  const out = new Uint8Array(nx * ny);
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    if (Math.min(p[3 * a + 2], p[3 * b + 2], p[3 * c + 2]) >= below) continue;
    // what is down there looks down as a rule
    cover(x, y, a, b, c, out, nx, ny);
    cover(x, y, a, c, b, out, nx, ny);
  }
  return out;
}

/** The box around covered cells: its first cell, and how many it is wide and deep. */
function filled(covered: Uint8Array, nx: number, ny: number): [number, number, number, number] {
  let [i0, j0, i1, j1] = [nx, ny, -1, -1];
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) {
      if (!covered[i + j * nx]) continue;
      if (i < i0) i0 = i;
      if (i > i1) i1 = i;
      if (j < j0) j0 = j;
      if (j > j1) j1 = j;
    }
  return i1 < 0 ? [0, 0, nx, ny] : [i0, j0, i1 - i0 + 1, j1 - j0 + 1];
}

function cropped(covered: Uint8Array, nx: number, i0: number, j0: number, wide: number, deep: number): Uint8Array {
  const out = new Uint8Array(wide * deep);
  for (let j = 0; j < deep; j++) out.set(covered.subarray((j0 + j) * nx + i0, (j0 + j) * nx + i0 + wide), j * wide);
  return out;
}

/** Marks the cells that a triangle covers any part of: by the separating axes of the triangle and of the cell. */
function cover(
  x: Float64Array,
  y: Float64Array,
  a: number,
  b: number,
  c: number,
  covered: Uint8Array,
  nx: number,
  ny: number,
): void {
  const area = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
  // what looks down is under what looks up, and what stands upright under its rim
  if (!(area > 0)) return;
  const i0 = Math.max(0, Math.floor(Math.min(x[a], x[b], x[c]) + hair));
  const i1 = Math.min(nx - 1, Math.ceil(Math.max(x[a], x[b], x[c]) - hair) - 1);
  const j0 = Math.max(0, Math.floor(Math.min(y[a], y[b], y[c]) + hair));
  const j1 = Math.min(ny - 1, Math.ceil(Math.max(y[a], y[b], y[c]) - hair) - 1);
  for (let j = j0; j <= j1; j++)
    for (let i = i0; i <= i1; i++) {
      const k = i + j * nx;
      if (covered[k]) continue;
      if (reaches(x, y, a, b, i, j) && reaches(x, y, b, c, i, j) && reaches(x, y, c, a, i, j)) covered[k] = 1;
    }
}

/** Does any corner of a cell lie to the left of an edge? */
function reaches(x: Float64Array, y: Float64Array, a: number, b: number, i: number, j: number): boolean {
  const dx = x[b] - x[a];
  const dy = y[b] - y[a];
  // the corner that lies farthest to the left
  const px = dy < 0 ? i + 1 : i;
  const py = dx > 0 ? j + 1 : j;
  return dx * (py - y[a]) - dy * (px - x[a]) > hair * (Math.abs(dx) + Math.abs(dy));
}

/** Grows covered cells by a distance, in cells, all round. */
function grow(covered: Uint8Array, nx: number, ny: number, by: number): Uint8Array {
  const out = covered.slice();
  const reach = Math.ceil(by - hair);
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) {
      if (!covered[i + j * nx]) continue;
      // what lies within cells that are covered all round grows nowhere
      if (i > 0 && j > 0 && i < nx - 1 && j < ny - 1)
        if (
          covered[i - 1 + j * nx] &&
          covered[i + 1 + j * nx] &&
          covered[i + (j - 1) * nx] &&
          covered[i + (j + 1) * nx]
        )
          continue;
      for (let v = -reach; v <= reach; v++) {
        const w = Math.floor(Math.sqrt(Math.max(0, (by + 1) ** 2 - Math.max(0, Math.abs(v) - 1) ** 2)) + hair);
        const far = Math.min(reach, w);
        if (j + v < 0 || j + v >= ny) continue;
        for (let u = Math.max(0, i - far); u <= Math.min(nx - 1, i + far); u++) out[u + (j + v) * nx] = 1;
      }
    }
  return out;
}

function runsOf(covered: Uint8Array, nx: number, ny: number): Pick<Shadow, 'start' | 'runs' | 'count' | 'longest'> {
  const start = new Uint32Array(ny + 1);
  const runs: number[] = [];
  const longest = new Int32Array(ny);
  let count = 0;
  for (let j = 0; j < ny; j++) {
    start[j] = runs.length / 2;
    for (let i = 0; i < nx; i++) {
      if (!covered[i + j * nx]) continue;
      const from = i;
      while (i < nx && covered[i + j * nx]) i++;
      runs.push(from, i);
      count += i - from;
      longest[j] = Math.max(longest[j], i - from);
    }
  }
  start[ny] = runs.length / 2;
  return { start, runs: Int32Array.from(runs), count, longest };
}

/** Do two shadows cover the same cells? A part that is alike from several sides need not be tried turned to all of them. */
export const isSameShadow = (a: Shadow, b: Shadow): boolean =>
  a.nx === b.nx &&
  a.ny === b.ny &&
  a.count === b.count &&
  a.runs.length === b.runs.length &&
  a.runs.every((x, i) => x === b.runs[i]) &&
  a.start.every((x, i) => x === b.start[i]);

/** A shadow as a path of rows for drawing, in mm from the middle of its mesh's box, y to the back. */
export function pathOf({ ny, start, runs, cellMm, middle }: Shadow): string {
  const mm = (cells: number): number => Number((cells * cellMm).toFixed(1));
  let out = '';
  for (let y = 0; y < ny; y++)
    for (let r = start[y]; r < start[y + 1]; r++) {
      const wide = mm(runs[2 * r + 1] - runs[2 * r]);
      out += `M${mm(runs[2 * r] - middle[0])} ${mm(y - middle[1])}h${wide}v${mm(1)}h${-wide}z`;
    }
  return out;
}
