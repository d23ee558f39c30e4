import { GrowableFloats, GrowableIndices } from '../mesh/Growable.ts';
import { subMesh, triangleCount, type TriMesh, type Vec3, countUp } from '../mesh/TriMesh.ts';

/**
 * The part of a mesh, open or closed, with n . p >= offset. Triangles that the plane passes through are cut, neighbours
 * alike; the cut stays open. Triangles wholly on the kept side stay bit for bit.
 *
 * @returns the mesh, and flags of the vertices that lie on the cut
 */
export function clipMesh(mesh: TriMesh, normal: Vec3, offset: number): { mesh: TriMesh; onCut: Uint8Array } {
  const { positions: p, triangles } = mesh;
  const n = p.length / 3;
  const height = new Float64Array(n);
  let reach = 0;
  for (let v = 0; v < n; v++) {
    height[v] = normal[0] * p[3 * v] + normal[1] * p[3 * v + 1] + normal[2] * p[3 * v + 2] - offset;
    if (Math.abs(height[v]) > reach) reach = Math.abs(height[v]);
  }
  // a vertex this near lies on the plane: a cut beside it would round to the same place
  for (let v = 0; v < n; v++) if (Math.abs(height[v]) < 3e-7 * (reach + Math.abs(offset))) height[v] = 0;
  const points = new GrowableFloats(p.length + 3072);
  points.data.set(p);
  points.length = p.length;
  const faces = new GrowableIndices(triangles.length + 3072);
  const onEdge = new Map<number, number>();
  const cutAt = (a: number, b: number): number => {
    if (a > b) [a, b] = [b, a];
    const key = a * 0x4000000 + b;
    const known = onEdge.get(key);
    if (known !== undefined) return known;
    const s = height[a] / (height[a] - height[b]);
    const v = points.length / 3;
    points.push3(
      p[3 * a] + s * (p[3 * b] - p[3 * a]),
      p[3 * a + 1] + s * (p[3 * b + 1] - p[3 * a + 1]),
      p[3 * a + 2] + s * (p[3 * b + 2] - p[3 * a + 2]),
    );
    onEdge.set(key, v);
    return v;
  };
  for (let t = 0; t < triangleCount(mesh); t++) {
    const c = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
    const kept = c.map((v) => height[v] >= 0);
    const count = kept.filter(Boolean).length;
    if (count === 3) faces.push3(c[0], c[1], c[2]);
    else if (count === 1) {
      const k = kept.indexOf(true);
      const [a, b, d] = [c[k], c[(k + 1) % 3], c[(k + 2) % 3]];
      if (height[a] > 0) faces.push3(a, cutAt(a, b), cutAt(a, d));
    } else if (count === 2) {
      const k = kept.indexOf(false);
      const [a, b, d] = [c[k], c[(k + 1) % 3], c[(k + 2) % 3]];
      const q = height[b] > 0 ? cutAt(a, b) : b;
      const r = height[d] > 0 ? cutAt(a, d) : d;
      if (q !== b) faces.push3(q, b, d);
      if (r !== d) faces.push3(q, d, r);
    }
  }
  const whole = { positions: points.taken(), triangles: faces.taken() };
  const out = subMesh(whole, countUp(triangleCount(whole)));
  // sub-meshes keep the order of vertices: the ones on the cut come last, beside those that lay on the plane
  const onCut = new Uint8Array(out.positions.length / 3);
  const used = new Uint8Array(points.length / 3);
  for (const v of whole.triangles) used[v] = 1;
  let next = 0;
  for (let v = 0; v < used.length; v++) if (used[v]) onCut[next++] = v >= n || height[v] === 0 ? 1 : 0;
  return { mesh: out, onCut };
}
