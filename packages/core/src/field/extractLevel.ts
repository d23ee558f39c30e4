import type { RunContext } from '../run/context.ts';
import { GrowableFloats, GrowableIndices } from '../mesh/Growable.ts';
import type { Box3, TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { block, FieldBlock, side, type Field } from './FieldBlock.ts';

/** corners 0, a, a|b, 7 of each tetrahedron, ordered so that its volume is positive */
const tetrahedra = [
  [0, 1, 3, 7],
  [0, 3, 2, 7],
  [0, 2, 6, 7],
  [0, 6, 4, 7],
  [0, 4, 5, 7],
  [0, 5, 1, 7],
];

/** A vertex keeps so many steps of float32 away from a grid point. */
const roundings = 256;

/**
 * Grid that covers `box` with a margin of two cells.
 *
 * @param through a point that is to be a grid point; if left out, an odd one, which keeps flats off the grid's own planes
 */
function gridOver(
  box: Box3,
  cell: number,
  through: Vec3 = box.min.map((x) => x - 2.3217 * cell) as unknown as Vec3,
): { origin: [number, number, number]; blocks: [number, number, number] } {
  const origin = box.min.map((x, k) => through[k] - cell * Math.ceil((through[k] - x) / cell + 2.3217 - 1e-9)) as [
    number,
    number,
    number,
  ];
  const blocks = [0, 1, 2].map((k) =>
    Math.max(1, Math.ceil((box.max[k] - box.min[k] + 4.6 * cell) / (cell * block))),
  ) as [number, number, number];
  return { origin, blocks };
}

/**
 * The zero level of a field as a closed mesh, by marching tetrahedra (Doi and Koide 1991) over the blocks that the
 * level can pass through. Every edge of the grid has one vertex at most, and each tetrahedron at most two triangles,
 * so the result is 2-manifold and free of crossings by construction. Vertices stay away from grid points by 0.2 % of an
 * edge, or by as much as rounding to float32 needs so that the small triangles there keep their shape.
 *
 * @param cell edge of a grid cube, mm
 * @param through a point that is to be a grid point
 */
export function extractLevel(field: Field, box: Box3, cell: number, context: RunContext, through?: Vec3): TriMesh {
  const { origin, blocks } = gridOver(box, cell, through);
  const sampled = new FieldBlock(field, cell);
  const { values } = sampled;
  const points = new GrowableFloats();
  const faces = new GrowableIndices();
  const vertexOf = new Map<number, number>();
  const strideY = blocks[0] * block + 1;
  const strideZ = strideY * (blocks[1] * block + 1);
  const corner = new Float64Array(8);
  const reachMm = Math.max(...box.min.map(Math.abs), ...box.max.map(Math.abs));
  const least = Math.min(0.05, Math.max(0.002, (roundings * reachMm * 2 ** -23) / cell));
  let visited = 0;
  const list = blocksNear(field, origin, blocks, cell, context);
  for (const n of list) {
    const bx = n % blocks[0];
    const by = Math.floor(n / blocks[0]) % blocks[1];
    const bz = Math.floor(n / (blocks[0] * blocks[1]));
    if ((++visited & 15) === 0) {
      context.checkCancelled();
      context.progress(visited / list.length, 'Working through the distance field');
    }
    const at = [bx, by, bz].map((n, k) => origin[k] + n * block * cell);
    const onRim =
      bx === 0 || by === 0 || bz === 0 || bx === blocks[0] - 1 || by === blocks[1] - 1 || bz === blocks[2] - 1;
    const whole = sampled.sideOf(at[0], at[1], at[2]);
    if (whole < 0 || (whole > 0 && !onRim)) continue;
    sampled.fill(at[0], at[1], at[2]);
    if (onRim) closeRim(values, [bx, by, bz], blocks, -1e-2 * cell);
    if (values.every((v) => v <= 0) || values.every((v) => v > 0)) continue;
    for (let k = 0; k < block; k++)
      for (let j = 0; j < block; j++)
        for (let x = 0; x < block; x++) {
          let mask = 0;
          for (let c = 0; c < 8; c++) {
            corner[c] = values[x + (c & 1) + side * (j + ((c >> 1) & 1) + side * (k + (c >> 2)))];
            if (corner[c] > 0) mask |= 1 << c;
          }
          if (mask === 0 || mask === 255) continue;
          const base = bx * block + x + strideY * (by * block + j) + strideZ * (bz * block + k);
          const vertex = (a: number, b: number): number => {
            const lo = a & b;
            const hi = a | b;
            const from = base + (lo & 1) + strideY * ((lo >> 1) & 1) + strideZ * (lo >> 2);
            const key = from * 8 + (hi ^ lo);
            let v = vertexOf.get(key);
            if (v !== undefined) return v;
            v = points.length / 3;
            vertexOf.set(key, v);
            const s = Math.min(1 - least, Math.max(least, corner[lo] / (corner[lo] - corner[hi])));
            const gx = bx * block + x;
            const gy = by * block + j;
            const gz = bz * block + k;
            const d = hi ^ lo;
            points.push3(
              origin[0] + (gx + (lo & 1) + (d & 1) * s) * cell,
              origin[1] + (gy + ((lo >> 1) & 1) + ((d >> 1) & 1) * s) * cell,
              origin[2] + (gz + (lo >> 2) + (d >> 2) * s) * cell,
            );
            return v;
          };
          for (const tet of tetrahedra) {
            const [p, q, r, s] = tet;
            const inside =
              (corner[p] > 0 ? 1 : 0) | (corner[q] > 0 ? 2 : 0) | (corner[r] > 0 ? 4 : 0) | (corner[s] > 0 ? 8 : 0);
            switch (inside) {
              case 1:
                faces.push3(vertex(p, q), vertex(p, r), vertex(p, s));
                break;
              case 14:
                faces.push3(vertex(p, q), vertex(p, s), vertex(p, r));
                break;
              case 2:
                faces.push3(vertex(q, p), vertex(q, s), vertex(q, r));
                break;
              case 13:
                faces.push3(vertex(q, p), vertex(q, r), vertex(q, s));
                break;
              case 4:
                faces.push3(vertex(r, p), vertex(r, q), vertex(r, s));
                break;
              case 11:
                faces.push3(vertex(r, p), vertex(r, s), vertex(r, q));
                break;
              case 8:
                faces.push3(vertex(s, p), vertex(s, r), vertex(s, q));
                break;
              case 7:
                faces.push3(vertex(s, p), vertex(s, q), vertex(s, r));
                break;
              case 3:
                quad(faces, vertex(p, r), vertex(p, s), vertex(q, s), vertex(q, r));
                break;
              case 12:
                quad(faces, vertex(p, r), vertex(q, r), vertex(q, s), vertex(p, s));
                break;
              case 5:
                quad(faces, vertex(p, q), vertex(r, q), vertex(r, s), vertex(p, s));
                break;
              case 10:
                quad(faces, vertex(p, q), vertex(p, s), vertex(r, s), vertex(r, q));
                break;
              case 9:
                quad(faces, vertex(p, q), vertex(p, r), vertex(s, r), vertex(s, q));
                break;
              case 6:
                quad(faces, vertex(p, q), vertex(s, q), vertex(s, r), vertex(p, r));
                break;
            }
          }
        }
  }
  return { positions: points.taken(), triangles: faces.taken() };
}

/**
 * Blocks that the level can pass through, in order, and those on the rim of the grid that are not all outside. Halves the
 * grid again and again and drops what lies wholly on one side, so that a small body in a large box costs little.
 */
function blocksNear(
  field: Field,
  origin: readonly number[],
  blocks: readonly number[],
  cell: number,
  context: RunContext,
): Float64Array {
  const out: number[] = [];
  const width = block * cell;
  const stack = [[0, 0, 0, ...blocks]];
  for (let tries = 0; stack.length > 0; tries++) {
    if ((tries & 1023) === 0) context.checkCancelled();
    const range = stack.pop()!;
    const span = [0, 1, 2].map((k) => range[k + 3] - range[k]);
    const k = span.indexOf(Math.max(...span));
    if (span[k] === 1) {
      out.push(range[0] + blocks[0] * (range[1] + blocks[1] * range[2]));
      continue;
    }
    // inside may end away from any surface, so nothing can be said of many blocks at once
    if (field.closed && span[k] <= 64) {
      const half = (width * Math.hypot(...span)) / 2;
      const middle = [0, 1, 2].map((c) => origin[c] + (width * (range[c] + range[c + 3])) / 2) as [
        number,
        number,
        number,
      ];
      const d = field.distance(...middle, Math.abs(field.depth) + 2 * half);
      const v = (field.inside(...middle) ? d : -d) - field.depth;
      const onRim = [0, 1, 2].some((c) => range[c] === 0 || range[c + 3] === blocks[c]);
      if (v < -half || (v > half && !onRim)) continue;
    }
    const mid = range[k] + (span[k] >> 1);
    const low = [...range];
    const high = [...range];
    low[k + 3] = mid;
    high[k] = mid;
    stack.push(high, low);
  }
  return Float64Array.from(out).sort();
}

function quad(faces: GrowableIndices, a: number, b: number, c: number, d: number): void {
  faces.push3(a, b, c);
  faces.push3(a, c, d);
}

/** The outermost grid points count as outside, so that the level always closes. */
function closeRim(values: Float64Array, at: number[], blocks: number[], outside: number): void {
  for (let i = 0; i < values.length; i++) {
    const place = [i % side, Math.floor(i / side) % side, Math.floor(i / (side * side))];
    if (place.some((p, k) => at[k] * block + p === 0 || at[k] * block + p === blocks[k] * block))
      values[i] = Math.min(values[i], outside);
  }
}
