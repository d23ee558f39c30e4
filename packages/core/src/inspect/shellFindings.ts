import { diagonalOfLabel } from '../mesh/edges.ts';
import { meshesByLabel, shellMeasures } from '../mesh/shells.ts';
import { countUp, triangleCount, xyz, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { windingOf } from '../mesh/WindingTree.ts';
import type { Findings, Surveyed, ShellFacts } from './Finding.ts';

/** A shell smaller than this share of the whole diagonal counts as a crumb (common practice). */
export const crumbShare = 0.02;
const mostShells = 50;

export interface Shells {
  list: ShellFacts[];
  /** place in the list of each label, -1 beyond its end */
  place: Int32Array;
}

/** Crumbs, buried skins, shells inside out, and bodies that stand apart. */
export function shellFindings(m: Surveyed, pairs: number[], out: Findings, scale: number): Shells {
  const { mesh, shells, twin } = m;
  const { label, count } = shells;
  const none = { list: [], place: new Int32Array(count).fill(-1) };
  if (triangleCount(mesh) === 0) return none;
  const { volume, boxes } = shellMeasures(mesh);
  const triangles = new Uint32Array(count);
  const open = new Uint8Array(count);
  for (let t = 0; t < label.length; t++) triangles[label[t]]++;
  for (let h = 0; h < twin.length; h++) if (twin[h] < 0) open[label[(h / 3) | 0]] = 1;
  const centre = (s: number): Vec3 =>
    [0, 1, 2].map((k) => (boxes[6 * s + k] + boxes[6 * s + 3 + k]) / 2) as unknown as Vec3;
  const spans = Float64Array.from({ length: count }, (_, s) => diagonalOfLabel(boxes, s));
  const span = (s: number) => spans[s];
  const order = countUp(count).sort((a, b) => spans[b] - spans[a] || a - b);
  const named = Array.from(order.subarray(0, mostShells));
  const place = new Int32Array(count).fill(-1);
  named.forEach((s, i) => (place[s] = i));
  const list: ShellFacts[] = named.map((s) => ({
    triangles: triangles[s],
    size: xyz([0, 1, 2].map((k) => boxes[6 * s + 3 + k] - boxes[6 * s + k]) as unknown as Vec3),
    at: xyz(centre(s)),
    closed: !open[s],
    volumeMm3: open[s] ? null : volume[s],
    inside: null,
    crosses: [],
  }));
  const crossed = new Map<number, Set<number>>();
  for (let i = 0; i < pairs.length; i += 2) {
    const a = place[label[pairs[i]]];
    const b = place[label[pairs[i + 1]]];
    if (a < 0 || b < 0 || a === b) continue;
    for (const [x, y] of [
      [a, b],
      [b, a],
    ]) {
      const set = crossed.get(x);
      if (set) set.add(y);
      else crossed.set(x, new Set([y]));
    }
  }
  for (const [i, set] of crossed) list[i].crosses = [...set].sort((x, y) => x - y);
  if (count === 1) return { list, place };
  const limit = crumbShare * scale;
  let crumbs = 0;
  let crumb = -1;
  for (const s of order) if (span(s) < limit && crumbs++ === 0) crumb = s;
  // nesting, among the shells that are named
  const wanted = new Uint8Array(count);
  for (const s of named) wanted[s] = 1;
  let meshes: (TriMesh | null)[] | null = null;
  let cavities = 0;
  named.forEach((s, i) => {
    // crumbs go anyway: where they lie is not worth a tree of the largest shell
    if (span(s) < limit) return;
    for (let j = i - 1; j >= 0; j--) {
      const home = named[j];
      if (open[home]) continue;
      if (
        ![0, 1, 2].every(
          (k) => boxes[6 * home + k] <= boxes[6 * s + k] && boxes[6 * home + 3 + k] >= boxes[6 * s + 3 + k],
        )
      )
        continue;
      if (list[i].crosses.includes(j)) continue;
      meshes ??= meshesByLabel(mesh, label, count, wanted);
      const q = meshes[s]!.positions;
      if (Math.abs(windingOf(meshes[home]!).at(q[0], q[1], q[2])) < 0.5) continue;
      list[i].inside = j;
      break;
    }
    if (open[s]) return;
    const home = list[i].inside;
    if (home !== null) {
      const outward = volume[s] > 0 === volume[named[home]] > 0;
      if (!outward) cavities++;
      else
        out.add('buried', {
          severity: 'failure',
          count: triangles[s],
          values: { spanMm: span(s) },
          at: centre(s),
          spanMm: span(s),
          sure: 'counted',
          mends: ['join'],
        });
    } else if (volume[s] < 0 && m.volume !== null && m.volume > 0)
      out.add('inside-out', {
        severity: 'failure',
        count: triangles[s],
        values: { spanMm: span(s) },
        at: centre(s),
        spanMm: span(s),
        sure: 'counted',
        mends: ['stitch'],
      });
  });
  if (crumbs > 0)
    out.add('crumbs', {
      ofAll: true,
      severity: 'attention',
      count: crumbs,
      values: { crumbs, underMm: limit },
      at: centre(crumb),
      spanMm: span(crumb),
      sure: 'counted',
      mends: ['stitch'],
    });
  const big = count - crumbs - cavities;
  if (big > 1)
    out.add('shells', {
      ofAll: true,
      severity: 'attention',
      count: big,
      values: { shells: big },
      at: centre(order[Math.min(big, count) - 1]),
      spanMm: span(order[Math.min(big, count) - 1]),
      sure: 'counted',
      mends: ['join'],
    });
  return { list, place };
}
