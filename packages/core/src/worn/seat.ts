import { newHit, treeOf } from '../mesh/Bvh.ts';
import type { RunContext } from '../run/context.ts';
import { sampleSurface } from '../mesh/deviation.ts';
import { triangleNormal } from '../mesh/measures.ts';
import { applyMat3, transpose, type Mat3 } from '../mesh/transform.ts';
import { boundsOf, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { DistanceGrid } from './DistanceGrid.ts';
import type { WornBody } from './WornBody.ts';
import { placed, rotationOf, type Placement } from './Placement.ts';

/** Points of the piece, and of the body, that are weighed. */
const piecePointsUsed = 300;
const bodyPointsUsed = 150;
/** What a millimetre of pressing counts against one of slack: not so much that a piece too small is not put on at all. */
const pressedWeight = 5;
/** Skin of the piece that lies farther out than this over the body does not cover it, mm. */
const coverReach = 150;
/** What a body that lies bare, or is covered from one side alone, counts against a millimetre of slack. */
const bareWeight = 80;
/** Share that distances to the piece may be out by when a seat is weighed. */
const roughly = 0.02;
/** Share of the body that the piece shall lie close to: a mask covers half a head, a helmet most of it. */
const covered = 0.5;

/** Rounds of steps a walk may take; it takes some tens unless it slides along a trough. */
const mostStrides = 150;
/** Starts that are walked from, and ends of those walks that are settled in closely. */
const walked = 14;
const closely = 4;
/** Walks that keep this much more than the room asked for come to places that others pass by, mm. */
const moreRoom = 8;
/** What a millimetre that the narrowest corner falls short counts against one of slack. */
const shortWeight = 3;
const phase = 'Settling the body in the piece';
/** A seat is eased by no more than this, mm: farther, and a body would leave a piece that is too small for it. */
const easedBy = 8;
const cornersUsed = 30_000;

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
  const rows = rotationOf({ moveMm: [0, 0, 0], turnDeg });
  const back = transpose(rows);
  // both turned beforehand: the piece as the body sees it, the body as the piece does; only moves remain
  const skin = turned(back, sampleSurface(piece, piecePointsUsed, context.seed).points);
  const sampled = sampleSurface(body.mesh, bodyPointsUsed, context.seed);
  const flesh = turned(rows, sampled.points);
  // outward at each of them, as the piece sees it
  const outward = Array.from(sampled.triangles, (t) => applyMat3(rows, triangleNormal(body.mesh, t)));
  const tree = treeOf(piece);
  const hit = newHit();
  const away = new Float64Array(flesh.length / 3);
  // rough walks ask grids
  const bodyGrid = new DistanceGrid(body.mesh, (x, y, z) => body.gap(x, y, z, hit));
  const pieceHit = newHit();
  const looseAt = (x: number, y: number, z: number) =>
    tree.nearest(x, y, z, Infinity, pieceHit, pieceHit.triangle, roughly).distance;
  const pieceGrid = new DistanceGrid(piece, looseAt);
  /** What a place costs; or some figure of at least `enough`, once it is clear that it costs that much. */
  const cost = (moveMm: Vec3, weight: number, exact: boolean, roomMm: number, enough = Infinity): number => {
    const [mx, my, mz] = applyMat3(back, moveMm);
    const share = weight / (skin.length / 3);
    let sum = 0;
    for (let i = 0; i < skin.length && sum < enough; i += 3) {
      const x = skin[i] - mx;
      const y = skin[i + 1] - my;
      const z = skin[i + 2] - mz;
      const gap = exact ? body.gap(x, y, z, hit) : bodyGrid.at(x, y, z);
      if (gap < roomMm) sum += share * (roomMm - gap);
    }
    if (sum >= enough) return sum;
    let over = 0;
    const lean = [0, 0, 0];
    for (let i = 0; i < away.length; i++) {
      const q: Vec3 = [flesh[3 * i] + moveMm[0], flesh[3 * i + 1] + moveMm[1], flesh[3 * i + 2] + moveMm[2]];
      if (!tree.isBlocked(q, outward[i], 0, -1, coverReach)) continue;
      over++;
      for (let k = 0; k < 3; k++) lean[k] += outward[i][k];
    }
    // what stands beside a piece is covered on one side alone
    sum += (bareWeight * (away.length - over + Math.hypot(lean[0], lean[1], lean[2]))) / away.length;
    if (sum >= enough) return sum;
    for (let i = 0; i < away.length; i++) {
      const x = flesh[3 * i] + moveMm[0];
      const y = flesh[3 * i + 1] + moveMm[1];
      const z = flesh[3 * i + 2] + moveMm[2];
      away[i] = exact ? looseAt(x, y, z) : pieceGrid.at(x, y, z);
    }
    away.sort();
    const near = Math.floor(covered * away.length);
    for (let i = 0; i < near; i++) sum += away[i] / near;
    return sum;
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
        context.progress(starts.length / 150, phase);
        const at: Vec3 = [
          a.min[0] + x * size[0] - centreOfBody[0],
          a.min[1] + y * size[1] - centreOfBody[1],
          a.min[2] + z * size[2] - centreOfBody[2],
        ];
        starts.push({ at, cost: cost(at, pressedWeight, false, roomMm) });
      }
  starts.sort((p, q) => p.cost - q.cost);
  /** Walks downhill by ever smaller steps along the axes. */
  const settle = (from: Vec3, first: number, last: number, weight: number, room: number): Vec3 => {
    let at = from;
    let value = cost(at, weight, false, room);
    for (let step = first, strides = 0; step > last && strides < mostStrides; strides++) {
      context.checkCancelled();
      let better = false;
      for (let k = 0; k < 3; k++)
        for (const s of [step, -step]) {
          const next = at.map((v, j) => (j === k ? v + s : v)) as unknown as Vec3;
          const c = cost(next, weight, false, room, value);
          if (c < value) {
            at = next;
            value = c;
            better = true;
          }
        }
      if (!better) step *= 0.5;
    }
    return at;
  };
  // a piece may be a crumb beside the body, or the body beside the piece: steps suit the larger
  const large = Math.max(...size, ...[0, 1, 2].map((k) => b.max[k] - b.min[k]));
  // a poor start may lie beside the best place: many are walked from, roughly, with the room asked for and with more
  const ends: { at: Vec3; cost: number }[] = [];
  const walks = starts.slice(0, walked);
  for (const more of [0, moreRoom])
    for (const start of walks) {
      context.progress(0.5 + (0.3 * ends.length) / (2 * walked), phase);
      const at = settle(start.at, 0.1 * large, 0.02 * large, pressedWeight, roomMm + more);
      ends.push({ at, cost: cost(at, pressedWeight, false, roomMm) });
    }
  ends.sort((p, q) => p.cost - q.cost);
  // the few best of them that lie apart are settled in closely, and the one is taken that keeps its distance best
  const tried: Vec3[] = [];
  let best: { at: Vec3; cost: number } | null = null;
  for (const end of ends) {
    if (tried.length === closely) break;
    if (tried.some((t) => Math.hypot(...t.map((x, k) => x - end.at[k])) < 0.05 * large)) continue;
    context.progress(0.8 + (0.2 * tried.length) / closely, phase);
    tried.push(end.at);
    const close = settle(end.at, 0.02 * large, 1, pressedWeight, roomMm);
    // where it is, without what pressing can be had out of
    const firm = settle(close, 2, 0.4, 20 * pressedWeight, roomMm);
    const { at, room } = eased(piece, body, bodyGrid, { moveMm: firm, turnDeg }, roomMm, context);
    const all = cost(at, pressedWeight, true, roomMm) + shortWeight * Math.max(0, roomMm - room);
    if (!best || all < best.cost) best = { at, cost: all };
  }
  return best!.at;
}

const turned = (rows: Mat3, points: Float32Array): Float32Array => {
  const out = new Float32Array(points.length);
  for (let i = 0; i < points.length; i += 3) out.set(applyMat3(rows, [points[i], points[i + 1], points[i + 2]]), i);
  return out;
};

/** A seat moved a little, for as long as that gives the narrowest corner of the piece more room, up to what is wanted. */
function eased(
  piece: TriMesh,
  body: WornBody,
  grid: DistanceGrid,
  seat: Placement,
  roomMm: number,
  context: RunContext,
): { at: Vec3; room: number } {
  const hit = newHit();
  const back = transpose(rotationOf(seat));
  const p = turned(back, piece.positions);
  const gapAt = (v: number, [mx, my, mz]: Vec3) => body.gap(p[v] - mx, p[v + 1] - my, p[v + 2] - mz, hit);
  // only those that can come nearer than is wanted, narrowest first
  const near: { v: number; gap: number; triangle: number }[] = [];
  const before = applyMat3(back, seat.moveMm);
  const [bx, by, bz] = before;
  const stride = 3 * Math.max(1, Math.ceil(p.length / 3 / cornersUsed));
  for (let v = 0; v < p.length; v += stride) {
    if (v % (512 * stride) === 0) context.checkCancelled();
    // most of a piece is nowhere near
    if (body.isSteady && grid.least(p[v] - bx, p[v + 1] - by, p[v + 2] - bz) >= roomMm + easedBy) continue;
    const gap = gapAt(v, before);
    if (gap < roomMm + easedBy) near.push({ v, gap, triangle: hit.triangle });
  }
  near.sort((a, b) => a.gap - b.gap);
  const least = (moveMm: Vec3, over: number): number => {
    const gone = Math.hypot(...moveMm.map((x, k) => x - seat.moveMm[k]));
    const moved = applyMat3(back, moveMm);
    let value = Infinity;
    for (const corner of near) {
      // a gap changes by no more than the way gone; and no better than what there is is no use
      if (corner.gap - gone >= value || value <= over) break;
      hit.triangle = corner.triangle;
      value = Math.min(value, gapAt(corner.v, moved));
    }
    return value;
  };
  let at = seat.moveMm;
  let room = least(at, -Infinity);
  for (let step = easedBy / 2; step > 0.05 && room < roomMm;) {
    context.checkCancelled();
    let found = false;
    for (let d = 0; d < 27; d++) {
      const way = [(d % 3) - 1, (((d / 3) | 0) % 3) - 1, ((d / 9) | 0) - 1];
      const length = Math.hypot(...way);
      if (length === 0) continue;
      const next = at.map((x, k) => x + (step * way[k]) / length) as unknown as Vec3;
      if (Math.hypot(...next.map((x, k) => x - seat.moveMm[k])) > easedBy) continue;
      const value = least(next, room);
      if (value <= room) continue;
      at = next;
      room = value;
      found = true;
    }
    if (!found) step /= 2;
  }
  return { at, room };
}
