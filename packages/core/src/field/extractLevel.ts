import type { RunContext } from '../mesh/context.ts';
import { GrowableFloats, GrowableIndices } from '../formats/Growable.ts';
import type { Box3, TriMesh } from '../mesh/TriMesh.ts';

/** A body whose skin is moved: the level lies where the depth under the surface is `depth` (negative: outside it). */
export interface Field {
  /** Unsigned distance to the surface, mm, or `limit` where nothing lies nearer. */
  distance(x: number, y: number, z: number, limit: number): number;
  inside(x: number, y: number, z: number): boolean;
  depth: number;
  /** Does inside end nowhere but at the surface? Then signs need not be worked out anew at every point. */
  closed: boolean;
}

const unknown = 2;
const block = 8;
const side = block + 1;
/** corners 0, a, a|b, 7 of each tetrahedron, ordered so that its volume is positive */
const tetrahedra = [
  [0, 1, 3, 7],
  [0, 3, 2, 7],
  [0, 2, 6, 7],
  [0, 6, 4, 7],
  [0, 4, 5, 7],
  [0, 5, 1, 7],
];

/** Grid that covers `box` with a margin of two cells. */
export function gridOver(
  box: Box3,
  cell: number,
): { origin: [number, number, number]; blocks: [number, number, number] } {
  // an odd shift keeps the flats of a model off the grid's own planes
  const origin = box.min.map((x) => x - 2.3217 * cell) as [number, number, number];
  const blocks = [0, 1, 2].map((k) =>
    Math.max(1, Math.ceil((box.max[k] - box.min[k] + 4.6 * cell) / (cell * block))),
  ) as [number, number, number];
  return { origin, blocks };
}

/**
 * The zero level of a field as a closed mesh, by marching tetrahedra (Doi and Koide 1991) over the blocks that the
 * level can pass through. Every edge of the grid has one vertex at most, and each tetrahedron at most two triangles,
 * so the result is 2-manifold and free of crossings by construction. Vertices stay 0.2 % of an edge away from grid
 * points, so that none coincide.
 *
 * @param cell edge of a grid cube, mm
 */
export function extractLevel(field: Field, box: Box3, cell: number, context: RunContext): TriMesh {
  const { origin, blocks } = gridOver(box, cell);
  const half = (block * cell * Math.sqrt(3)) / 2;
  const values = new Float64Array(side * side * side);
  const exact = new Float64Array(values.length);
  const away = new Float64Array(values.length);
  const within = new Uint8Array(values.length);
  // an edge of a tetrahedron is at most sqrt(3) cells long, so only values below that are ever interpolated
  const needed = field.closed ? 1.75 * cell : Infinity;
  const reachOf = Math.abs(field.depth) + 2 * half + 4 * cell;
  const points = new GrowableFloats();
  const faces = new GrowableIndices();
  const vertexOf = new Map<number, number>();
  const strideY = blocks[0] * block + 1;
  const strideZ = strideY * (blocks[1] * block + 1);
  const total = blocks[0] * blocks[1] * blocks[2];
  const corner = new Float64Array(8);
  let visited = 0;
  for (let bz = 0; bz < blocks[2]; bz++)
    for (let by = 0; by < blocks[1]; by++)
      for (let bx = 0; bx < blocks[0]; bx++) {
        if ((++visited & 15) === 0) {
          context.checkCancelled();
          context.progress(visited / total, 'Working through the distance field');
        }
        const cx = origin[0] + (bx + 0.5) * block * cell;
        const cy = origin[1] + (by + 0.5) * block * cell;
        const cz = origin[2] + (bz + 0.5) * block * cell;
        const onRim =
          bx === 0 || by === 0 || bz === 0 || bx === blocks[0] - 1 || by === blocks[1] - 1 || bz === blocks[2] - 1;
        const side0 = blockSide(field, cx, cy, cz, half);
        if (side0 < 0 || (side0 > 0 && !onRim)) continue;
        let positive = 0;
        for (let k = 0, i = 0; k < side; k++)
          for (let j = 0; j < side; j++)
            for (let x = 0; x < side; x++, i++) {
              const gx = bx * block + x;
              const gy = by * block + j;
              const gz = bz * block + k;
              const px = origin[0] + gx * cell;
              const py = origin[1] + gy * cell;
              const pz = origin[2] + gz * cell;
              const near = x > 0 ? i - 1 : j > 0 ? i - side : k > 0 ? i - side * side : -1;
              const sure = near >= 0 ? Math.abs(exact[near]) - cell : 0;
              if (sure > needed) {
                // too far from the level for its value to matter: a bound of the right sign will do
                exact[i] = Math.sign(exact[near]) * sure;
                away[i] = away[near] + cell;
                within[i] = exact[i] > 0 === field.depth >= 0 ? (exact[i] > 0 ? 1 : 0) : unknown;
                if (field.depth === 0) within[i] = exact[i] > 0 ? 1 : 0;
              } else {
                // a neighbour bounds the distance, and gives the sign where the surface is farther than it
                const bound = near >= 0 ? away[near] + cell * 1.001 : Infinity;
                const d = field.distance(px, py, pz, Math.min(reachOf, bound));
                away[i] = d;
                within[i] =
                  field.closed && near >= 0 && d > cell && within[near] !== unknown
                    ? within[near]
                    : field.inside(px, py, pz)
                      ? 1
                      : 0;
                exact[i] = (within[i] ? d : -d) - field.depth;
              }
              const v = exact[i];
              // the outermost grid points count as outside, so that the level always closes
              const rim =
                gx === 0 ||
                gy === 0 ||
                gz === 0 ||
                gx === blocks[0] * block ||
                gy === blocks[1] * block ||
                gz === blocks[2] * block;
              values[i] = rim ? Math.min(v, -1e-2 * cell) : v;
              if (values[i] > 0) positive++;
            }
        if (positive === 0 || positive === values.length) continue;
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
                const s = Math.min(0.998, Math.max(0.002, corner[lo] / (corner[lo] - corner[hi])));
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

function quad(faces: GrowableIndices, a: number, b: number, c: number, d: number): void {
  faces.push3(a, b, c);
  faces.push3(a, c, d);
}

/** 1 where a whole block is inside the level, -1 where it is outside, 0 where the level may pass through it. */
function blockSide(field: Field, x: number, y: number, z: number, half: number): number {
  const d = field.distance(x, y, z, Math.abs(field.depth) + 2 * half);
  const inside = field.inside(x, y, z);
  if (!field.closed) {
    // inside may end in the middle of a hole, away from any surface
    const r = half / Math.sqrt(3);
    for (let c = 0; c < 8; c++)
      if (field.inside(x + (c & 1 ? r : -r), y + (c & 2 ? r : -r), z + (c & 4 ? r : -r)) !== inside) return 0;
  }
  const v = (inside ? d : -d) - field.depth;
  return Math.abs(v) <= half ? 0 : Math.sign(v);
}
