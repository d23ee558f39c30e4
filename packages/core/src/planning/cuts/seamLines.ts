import type { Bvh } from '../../mesh/Bvh.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { cutSegments } from '../../section/cut.ts';
import type { CleanBox } from './CleanBox.ts';
import { heightOver, type PlaneCut } from './PlaneCut.ts';

/** A half-space: where the height over the plane has the sign given. */
interface Side {
  cut: PlaneCut;
  above: boolean;
}

/** The sides of earlier cuts on which a point lies, of those cuts that went through its part. */
function cellOf(cuts: readonly PlaneCut[], before: number, point: Vec3): Side[] {
  const sides: Side[] = [];
  for (let i = 0; i < before; i++) {
    const cut = cuts[i];
    // a cut through one part leaves alone what an earlier cut had parted from it
    if (cut.through && !sides.every((s) => heightOver(s.cut, cut.through!) >= 0 === s.above)) continue;
    if (cut.through && !cellOf(cuts, i, cut.through).every((s) => heightOver(s.cut, point) >= 0 === s.above)) continue;
    sides.push({ cut, above: heightOver(cut, point) >= 0 });
  }
  return sides;
}

const closedLine = (loop: readonly Vec3[]): Float32Array =>
  Float32Array.from(loop.flatMap((p, i) => [...p, ...loop[(i + 1) % loop.length]]));

/** Segments that begin in a box. */
function inBox(lines: Float32Array, { min, max }: CleanBox): Float32Array {
  const out: number[] = [];
  for (let s = 0; s < lines.length; s += 6)
    if ([0, 1, 2].every((k) => lines[s + k] >= min[k] && lines[s + k] <= max[k])) out.push(...lines.slice(s, s + 6));
  return Float32Array.from(out);
}

/**
 * The lines in which cuts meet a skin, one after another, each only as far as it goes: six numbers a segment.
 *
 * @param tree of the mesh: only triangles near each plane are looked at
 */
export function seamLines(mesh: TriMesh, cuts: readonly PlaneCut[], tree: Bvh): Float32Array[] {
  return cuts.map((cut, i) => {
    if (cut.loop) return closedLine(cut.loop);
    const whole = cutSegments(mesh, cut.normal, cut.offset, tree);
    const all = cut.within ? inBox(whole, cut.within) : whole;
    if (!cut.through) return all;
    const sides = cellOf(cuts, i, cut.through);
    const out: number[] = [];
    for (let s = 0; s < all.length; s += 6) {
      let from = 0;
      let to = 1;
      for (const { cut: other, above } of sides) {
        const a = heightOver(other, [all[s], all[s + 1], all[s + 2]]) * (above ? 1 : -1);
        const b = heightOver(other, [all[s + 3], all[s + 4], all[s + 5]]) * (above ? 1 : -1);
        if (a < 0 && b < 0) from = to = 2;
        else if (a < 0) from = Math.max(from, a / (a - b));
        else if (b < 0) to = Math.min(to, a / (a - b));
      }
      if (from >= to) continue;
      for (const share of [from, to])
        for (let k = 0; k < 3; k++) out.push(all[s + k] + share * (all[s + 3 + k] - all[s + k]));
    }
    return Float32Array.from(out);
  });
}
