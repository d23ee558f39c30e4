import { originOf, targetOf } from '../mesh/edges.ts';
import { findGround } from '../mesh/ground.ts';
import { loopLength, loopOrder, outOfPlane } from '../mesh/loops.ts';
import { mirrorPlane } from '../mesh/mirrorPlane.ts';
import { mostLines, mostPlaces, putLine, type Findings, type Surveyed } from './Finding.ts';

/** Open loops, the longest by themselves, and whether they are the seam of half a model. */
export function openings(m: Surveyed, out: Findings, scale: number): void {
  const { mesh, loops } = m;
  if (loops.length === 0) return;
  const p = mesh.positions;
  const lengths = loops.map((l) => loopLength(mesh, l));
  const order = loopOrder(lengths);
  const half = mirrorPlane(m.mesh, scale);
  order.slice(0, mostPlaces).forEach((i, place) => {
    const loop = loops[i];
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (const h of loop)
      for (let k = 0; k < 3; k++) {
        lo[k] = Math.min(lo[k], p[3 * originOf(mesh, h) + k]);
        hi[k] = Math.max(hi[k], p[3 * originOf(mesh, h) + k]);
      }
    const span = Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]);
    const off = outOfPlane(mesh, loop);
    const v = 3 * originOf(mesh, loop[0]);
    const lines: number[] = [];
    if (m.lines)
      for (let q = 0; q < loop.length; q += Math.ceil(loop.length / mostLines))
        putLine(lines, mesh, originOf(mesh, loop[q]), targetOf(mesh, loop[q]));
    out.add('open-loops', {
      severity: 'failure',
      count: loop.length,
      values: { place: place + 1, of: loops.length, lengthMm: lengths[i], bentMm: off <= 0.01 * span ? 0 : off },
      middle: [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2],
      at: [p[v], p[v + 1], p[v + 2]],
      spanMm: span,
      sure: 'counted',
      mends: ['stitch', 'wrap'],
      lengthMm: lengths[i],
      loop: place + 1,
      ...(m.lines ? { lines } : {}),
    });
  });
  if (loops.length > mostPlaces) {
    const rest = order.slice(mostPlaces);
    const v = 3 * originOf(mesh, loops[rest[0]][0]);
    const lines: number[] = [];
    if (m.lines)
      for (const i of rest)
        for (const h of loops[i])
          if (lines.length < 6 * mostLines) putLine(lines, mesh, originOf(mesh, h), targetOf(mesh, h));
    out.add('open-loops', {
      ofAll: true,
      severity: 'failure',
      count: rest.length,
      values: { more: rest.length, lengthMm: lengths[rest[0]] },
      at: [p[v], p[v + 1], p[v + 2]],
      spanMm: lengths[rest[0]],
      sure: 'counted',
      mends: ['stitch', 'wrap'],
      ...(m.lines ? { lines } : {}),
    });
  }
  if (half)
    out.add('half', {
      ofAll: true,
      severity: 'note',
      count: 1,
      values: { axis: half.axis, atMm: half.at },
      at: half.place,
      spanMm: scale / 2,
      sure: 'likely',
      mends: ['mirror'],
    });
}

/** A patch of what a scanned thing stood on. */
export function ground(m: Surveyed, out: Findings): void {
  const found = findGround(m.mesh);
  if (!found) return;
  const [a, b] = [...found.size].sort((x, y) => y - x);
  out.add('ground', {
    severity: 'attention',
    count: 1,
    values: { longMm: a, wideMm: b, flatMm: found.flatMm },
    at: found.at,
    spanMm: a,
    sure: 'likely',
    mends: ['crop'],
  });
}
