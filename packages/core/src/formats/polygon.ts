import earcut from 'earcut';
import { MeshError } from '../run/MeshError.ts';

/** Faces of more corners are refused: clipping ears takes time with their square where a face crosses itself. */
export const mostCorners = 4000;

/**
 * Cuts a polygon of 4 or more corners into triangles by clipping ears in the plane of its Newell normal. Falls back
 * to a fan when the polygon has no area.
 *
 * @param coords x, y, z per corner
 * @throws MeshError `cannot` for more corners than are taken
 * @returns corner numbers, three a triangle, turning the same way as the polygon
 */
export function triangulatePolygon(coords: ArrayLike<number>): number[] {
  const n = coords.length / 3;
  if (n === 3) return [0, 1, 2];
  if (n > mostCorners)
    throw new MeshError(
      'cannot',
      `A face has ${n} corners; at most ${mostCorners} are taken.`,
      'Have the program that made it export triangles.',
    );
  let nx = 0;
  let ny = 0;
  let nz = 0;
  for (let i = 0, j = n - 1; i < n; j = i++) {
    nx += (coords[3 * j + 1] - coords[3 * i + 1]) * (coords[3 * j + 2] + coords[3 * i + 2]);
    ny += (coords[3 * j + 2] - coords[3 * i + 2]) * (coords[3 * j] + coords[3 * i]);
    nz += (coords[3 * j] - coords[3 * i]) * (coords[3 * j + 1] + coords[3 * i + 1]);
  }
  const ax = Math.abs(nx);
  const ay = Math.abs(ny);
  const az = Math.abs(nz);
  const [u, v, sign] = az >= ax && az >= ay ? [0, 1, nz] : ax >= ay ? [1, 2, nx] : [2, 0, ny];
  const flat: number[] = [];
  for (let i = 0; i < n; i++) flat.push(coords[3 * i + u], coords[3 * i + v]);
  const out = sign === 0 ? [] : earcut(flat);
  if (out.length !== 3 * (n - 2)) {
    const fan: number[] = [];
    for (let i = 1; i + 1 < n; i++) fan.push(0, i, i + 1);
    return fan;
  }
  const [a, b, c] = out;
  const area =
    (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
    (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
  if (area * sign < 0) for (let i = 0; i < out.length; i += 3) [out[i + 1], out[i + 2]] = [out[i + 2], out[i + 1]];
  return out;
}
