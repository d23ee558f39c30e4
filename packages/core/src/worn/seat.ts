import { newHit, treeOf } from '../mesh/Bvh.ts';
import type { RunContext } from '../mesh/context.ts';
import { sampleSurface } from '../mesh/deviation.ts';
import { triangleNormal } from '../mesh/measures.ts';
import { applyMat3 } from '../mesh/transform.ts';
import { boundsOf, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import type { WornBody } from './WornBody.ts';
import { placed, rotationOf, seenFromBody, type Placement } from './Placement.ts';

/** Points of the piece, and of the body, that are weighed. */
const piecePointsUsed = 300;
const bodyPointsUsed = 150;
/** What a millimetre of pressing counts against one of slack: not so much that a piece too small is not put on at all. */
const pressedWeight = 5;
/** Skin of the piece that lies farther out than this over the body does not cover it, mm. */
const coverReach = 150;
/** What a body that lies bare, or is covered from one side alone, counts against a millimetre of slack. */
const bareWeight = 80;
/** Share of the body that the piece shall lie close to: a mask covers half a head, a helmet most of it. */
const covered = 0.5;

/**
 * Where a body settles in a piece without being turned: the skin of the piece keeps its distance, and as much of the body as
 * it can cover lies as close as that allows, covered from all sides. Found by ever smaller steps from places spread through the piece.
 *
 * @param roomMm distance that the skin of the piece shall keep, lining included
 * @returns where the body is moved to
 */
export function seatIn(
  piece: TriMesh,
  body: WornBody,
  turnDeg: Placement['turnDeg'],
  roomMm: number,
  context: RunContext,
): Vec3 {
  const skin = sampleSurface(piece, piecePointsUsed, context.seed).points;
  const sampled = sampleSurface(body.mesh, bodyPointsUsed, context.seed);
  const flesh = sampled.points;
  const rows = rotationOf({ moveMm: [0, 0, 0], turnDeg });
  // outward at each of them, as the piece sees it
  const outward = Array.from(sampled.triangles, (t) => applyMat3(rows, triangleNormal(body.mesh, t)));
  const tree = treeOf(piece);
  const hit = newHit();
  const away = new Float64Array(flesh.length / 3);
  const cost = (moveMm: Vec3, weight = pressedWeight): number => {
    const p: Placement = { moveMm, turnDeg };
    let pressed = 0;
    for (let i = 0; i < skin.length; i += 3) {
      const q = seenFromBody(p, [skin[i], skin[i + 1], skin[i + 2]]);
      const gap = body.gap(q[0], q[1], q[2], hit);
      if (gap < roomMm) pressed += roomMm - gap;
    }
    let over = 0;
    const lean = [0, 0, 0];
    for (let i = 0; i < away.length; i++) {
      const q = placed(p, [flesh[3 * i], flesh[3 * i + 1], flesh[3 * i + 2]]);
      if (tree.firstHit(q, outward[i], 0) < coverReach) {
        over++;
        for (let k = 0; k < 3; k++) lean[k] += outward[i][k];
      }
      away[i] = tree.nearest(q[0], q[1], q[2], Infinity, hit).distance;
    }
    away.sort();
    let loose = 0;
    const near = Math.floor(covered * away.length);
    for (let i = 0; i < near; i++) loose += away[i];
    // what stands beside a piece is covered on one side alone
    const bare = (away.length - over + Math.hypot(lean[0], lean[1], lean[2])) / away.length;
    return (weight * pressed) / (skin.length / 3) + loose / near + bareWeight * bare;
  };
  const a = boundsOf(piece);
  const b = boundsOf(body.mesh);
  const size = [0, 1, 2].map((k) => a.max[k] - a.min[k]);
  const centreOfBody = placed({ moveMm: [0, 0, 0], turnDeg }, [
    (b.min[0] + b.max[0]) / 2,
    (b.min[1] + b.max[1]) / 2,
    (b.min[2] + b.max[2]) / 2,
  ]);
  const starts: { at: Vec3; cost: number }[] = [];
  for (const x of [0.3, 0.5, 0.7])
    for (const y of [0.2, 0.35, 0.5, 0.65, 0.8])
      for (const z of [0.1, 0.3, 0.5, 0.7, 0.9]) {
        context.checkCancelled();
        context.progress(starts.length / 150, 'Settling the body in the piece');
        const at: Vec3 = [
          a.min[0] + x * size[0] - centreOfBody[0],
          a.min[1] + y * size[1] - centreOfBody[1],
          a.min[2] + z * size[2] - centreOfBody[2],
        ];
        starts.push({ at, cost: cost(at) });
      }
  starts.sort((p, q) => p.cost - q.cost);
  /** Walks downhill by ever smaller steps along the axes. */
  const settle = (from: Vec3, first: number, last: number, weight?: number): { at: Vec3; cost: number } => {
    let at = from;
    let value = cost(at, weight);
    for (let step = first; step > last;) {
      context.checkCancelled();
      let better = false;
      for (let k = 0; k < 3; k++)
        for (const s of [step, -step]) {
          const next = at.map((v, j) => (j === k ? v + s : v)) as unknown as Vec3;
          const c = cost(next, weight);
          if (c < value) {
            at = next;
            value = c;
            better = true;
          }
        }
      if (!better) step *= 0.5;
    }
    return { at, cost: value };
  };
  let best = starts[0];
  const large = Math.max(...size);
  // a poor start may lie beside the best place: many are walked from, roughly
  for (const [i, start] of starts.slice(0, 14).entries()) {
    context.progress(0.5 + i / 28, 'Settling the body in the piece');
    const end = settle(start.at, 0.1 * large, 0.02 * large);
    if (end.cost < best.cost) best = end;
  }
  best = settle(best.at, 0.02 * large, 0.2);
  // where it is, without what pressing can be had out of
  return settle(best.at, 4, 0.2, 20 * pressedWeight).at;
}
