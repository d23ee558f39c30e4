import { edgesOf } from '../mesh/edges.ts';
import { triangleCount, type TriMesh } from '../mesh/TriMesh.ts';

/**
 * Turns triangles over so that neighbours agree across every edge with exactly two sides. Each patch keeps the way
 * that most of its triangles already face. Patches that cannot agree (one-sided strips) keep a seam of disagreement.
 *
 * @returns the mesh and how many triangles were turned
 */
export function makeConsistent(mesh: TriMesh): { mesh: TriMesh; turned: number } {
  const n = triangleCount(mesh);
  const { triangles } = mesh;
  const { order, start, count } = edgesOf(mesh);
  const across = new Int32Array(3 * n).fill(-1);
  let disagree = false;
  for (let e = 0; e < count; e++) {
    const i = start[e];
    if (start[e + 1] - i !== 2) continue;
    across[order[i]] = order[i + 1];
    across[order[i + 1]] = order[i];
    if (triangles[order[i]] === triangles[order[i + 1]]) disagree = true;
  }
  if (!disagree) return { mesh, turned: 0 };
  const flip = new Uint8Array(n);
  const seen = new Uint8Array(n);
  const queue = new Uint32Array(n);
  let turned = 0;
  for (let first = 0; first < n; first++) {
    if (seen[first]) continue;
    let head = 0;
    let tail = 0;
    let flipped = 0;
    queue[tail++] = first;
    seen[first] = 1;
    while (head < tail) {
      const t = queue[head++];
      flipped += flip[t];
      for (let k = 0; k < 3; k++) {
        const g = across[3 * t + k];
        if (g < 0) continue;
        const s = (g / 3) | 0;
        if (seen[s]) continue;
        const same = triangles[3 * t + k] === triangles[g] ? 1 : 0;
        flip[s] = flip[t] ^ same;
        seen[s] = 1;
        queue[tail++] = s;
      }
    }
    const other = flipped * 2 > tail ? 1 : 0;
    for (let i = 0; i < tail; i++) {
      flip[queue[i]] ^= other;
      turned += flip[queue[i]];
    }
  }
  if (turned === 0) return { mesh, turned };
  const out = triangles.slice();
  for (let t = 0; t < n; t++)
    if (flip[t]) {
      out[3 * t + 1] = triangles[3 * t + 2];
      out[3 * t + 2] = triangles[3 * t + 1];
    }
  return { mesh: { positions: mesh.positions, triangles: out }, turned };
}
