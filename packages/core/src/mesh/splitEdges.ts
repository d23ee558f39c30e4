import { GrowableIndices } from './Growable.ts';

/**
 * Triangles divided at points on their edges, in two, three or four as edges ask for it; neighbours fit if they agree.
 *
 * @param half vertex put on each half-edge, -1 for none
 * @param positions of the old vertices and the new ones; the shorter diagonal is taken where there is a choice
 */
export function splitEdges(triangles: Uint32Array, positions: Float32Array, half: Int32Array): Uint32Array {
  const faces = new GrowableIndices(2 * triangles.length + 3072);
  const at = (x: number, k: number) => positions[3 * x + k];
  const far = (x: number, y: number) => Math.hypot(at(x, 0) - at(y, 0), at(x, 1) - at(y, 1), at(x, 2) - at(y, 2));
  for (let t = 0; t < triangles.length / 3; t++) {
    const c = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
    const m = [half[3 * t], half[3 * t + 1], half[3 * t + 2]];
    const count = m.filter((x) => x >= 0).length;
    if (count === 0) faces.push3(c[0], c[1], c[2]);
    else if (count === 3) {
      faces.push3(c[0], m[0], m[2]);
      faces.push3(m[0], c[1], m[1]);
      faces.push3(m[2], m[1], c[2]);
      faces.push3(m[0], m[1], m[2]);
    } else if (count === 1) {
      const k = m.findIndex((x) => x >= 0);
      faces.push3(c[k], m[k], c[(k + 2) % 3]);
      faces.push3(m[k], c[(k + 1) % 3], c[(k + 2) % 3]);
    } else {
      // the whole side runs from a to b, opposite corner q lies between the two halved ones
      const k = m.findIndex((x) => x < 0);
      const [a, b, q] = [c[k], c[(k + 1) % 3], c[(k + 2) % 3]];
      const [mb, ma] = [m[(k + 1) % 3], m[(k + 2) % 3]];
      faces.push3(ma, mb, q);
      if (far(a, mb) < far(b, ma)) {
        faces.push3(a, b, mb);
        faces.push3(a, mb, ma);
      } else {
        faces.push3(a, b, ma);
        faces.push3(b, mb, ma);
      }
    }
  }
  return faces.taken();
}
