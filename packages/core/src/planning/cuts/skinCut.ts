import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { CrumbRule } from './cutSolid.ts';
import { areasOf, cellsOf, ringsOf } from './faceCells.ts';
import { besideOf } from './sectionProfile.ts';
import type { Skin } from './Skin.ts';

/** What a plane makes of a skin: corners of the skin, then the points where it crosses edges, twice: below, then above. */
interface Clipped {
  corners: number;
  points: number;
  positions: Float32Array;
  /** corners of the triangles below and above, three each, and whence they come; -1 for the face of the cut */
  triangles: [number[], number[]];
  from: [number[], number[]];
  /** the areas of the cut, each by one of its points */
  faces: { point: number; areaMm2: number; first: [number, number]; end: [number, number] }[];
  heights: Float64Array;
}

/** Pieces nearer to the plane than this, as a share of the reach of the skin, are films that rounding left. */
const film = 1e-6;

/** Where a plane crosses a skin: the heights of its corners, the points, and the ends of the stretches between them. */
function crossed({ positions: p, triangles: t }: Skin, normal: Vec3, offset: number) {
  const n = p.length / 3;
  const heights = new Float64Array(n);
  for (let i = 0; i < n; i++)
    heights[i] = normal[0] * p[3 * i] + normal[1] * p[3 * i + 1] + normal[2] * p[3 * i + 2] - offset;
  const known = new Map<number, number>();
  const points: number[] = [];
  const pointOf = (a: number, b: number): number => {
    const [i, j] = a < b ? [a, b] : [b, a];
    const key = i * n + j;
    let at = known.get(key);
    if (at === undefined) {
      at = points.length / 3;
      known.set(key, at);
      const s = heights[i] / (heights[i] - heights[j]);
      for (let k = 0; k < 3; k++) points.push(p[3 * i + k] + s * (p[3 * j + k] - p[3 * i + k]));
    }
    return at;
  };
  const ends: number[] = [];
  const below: [number[], number[]] = [[], []];
  const above: [number[], number[]] = [[], []];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    // a corner on the plane counts as above
    const ups = (heights[a] >= 0 ? 1 : 0) + (heights[b] >= 0 ? 1 : 0) + (heights[c] >= 0 ? 1 : 0);
    if (ups === 0 || ups === 3) {
      const side = ups === 0 ? below : above;
      side[0].push(a, b, c);
      side[1].push(i / 3);
      continue;
    }
    const loneUp = ups === 1;
    const lone = heights[a] >= 0 === loneUp ? 0 : heights[b] >= 0 === loneUp ? 1 : 2;
    const l = t[i + lone];
    const m = t[i + ((lone + 1) % 3)];
    const o = t[i + ((lone + 2) % 3)];
    const q = pointOf(l, m);
    const r = pointOf(o, l);
    const own = loneUp ? above : below;
    const rest = loneUp ? below : above;
    own[0].push(l, n + q, n + r);
    own[1].push(i / 3);
    rest[0].push(n + q, m, o, n + q, o, n + r);
    rest[1].push(i / 3, i / 3);
    if (loneUp) ends.push(q, r);
    else ends.push(r, q);
  }
  return { heights, points, ends, below, above };
}

/** Cuts the triangles of a skin at a plane and closes both sides; null where it lies on one side. */
function clip(skin: Skin, normal: Vec3, offset: number): Clipped | null {
  const { heights, points, ends, below, above } = crossed(skin, normal, offset);
  if (ends.length === 0) return null;
  const corners = skin.positions.length / 3;
  const count = points.length / 3;
  const [u, v] = besideOf(normal);
  const flat = new Float64Array(2 * count);
  for (let i = 0; i < count; i++) {
    flat[2 * i] = u[0] * points[3 * i] + u[1] * points[3 * i + 1] + u[2] * points[3 * i + 2];
    flat[2 * i + 1] = v[0] * points[3 * i] + v[1] * points[3 * i + 1] + v[2] * points[3 * i + 2];
  }
  // the points of the upper side are others, so that the sides do not hang together
  for (let i = 0; i < above[0].length; i++) if (above[0][i] >= corners) above[0][i] += count;
  const faces = areasOf(flat, ringsOf(ends, count)).map(({ rings, areaMm2 }): Clipped['faces'][number] => {
    const first: [number, number] = [below[1].length, above[1].length];
    for (const [a, b, c] of cellsOf(flat, rings)) {
      below[0].push(corners + a, corners + b, corners + c);
      below[1].push(-1);
      above[0].push(corners + count + a, corners + count + c, corners + count + b);
      above[1].push(-1);
    }
    return { point: rings[0][0], areaMm2, first, end: [below[1].length, above[1].length] };
  });
  const positions = new Float32Array(3 * (corners + 2 * count));
  positions.set(skin.positions);
  positions.set(points, 3 * corners);
  positions.set(points, 3 * (corners + count));
  return {
    corners,
    points: count,
    positions,
    triangles: [below[0], above[0]],
    from: [below[1], above[1]],
    faces,
    heights,
  };
}

/** A body that came of a cut: its roots are those of the groups of corners that hang together. */
interface Piece {
  side: 0 | 1;
  roots: Set<number>;
  volumeMm3: number;
  box: Float64Array;
}

const longestOf = (box: Float64Array): number => Math.max(box[1] - box[0], box[3] - box[2], box[5] - box[4]);

/** The root of every corner, by the triangles that join them. */
function groupsOf({ positions, triangles }: Clipped): Int32Array {
  const group = new Int32Array(positions.length / 3);
  for (let i = 0; i < group.length; i++) group[i] = i;
  const rootOf = (i: number): number => {
    while (group[i] !== i) i = group[i] = group[group[i]];
    return i;
  };
  for (const t of triangles)
    for (let i = 0; i < t.length; i += 3) {
      const a = rootOf(t[i]);
      group[rootOf(t[i + 1])] = a;
      group[rootOf(t[i + 2])] = a;
    }
  for (let i = 0; i < group.length; i++) group[i] = rootOf(i);
  return group;
}

/** The bodies on either side; films are left out, and cavities where they could be of several bodies. */
function piecesOf(clipped: Clipped, group: Int32Array): [Piece[], Piece[]] {
  const { positions: p, corners, heights } = clipped;
  let reach = 0;
  for (const h of heights) reach = Math.max(reach, Math.abs(h));
  const onSide = (side: 0 | 1): Piece[] => {
    const found = new Map<number, Piece & { farthest: number }>();
    const t = clipped.triangles[side];
    for (let i = 0; i < t.length; i += 3) {
      const root = group[t[i]];
      let piece = found.get(root);
      if (!piece) {
        const box = Float64Array.of(Infinity, -Infinity, Infinity, -Infinity, Infinity, -Infinity);
        piece = { side, roots: new Set([root]), volumeMm3: 0, box, farthest: 0 };
        found.set(root, piece);
      }
      const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
      piece.volumeMm3 +=
        (p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
          p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
          p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])) /
        6;
      for (let k = 0; k < 3; k++) {
        const at = t[i + k];
        if (at < corners) piece.farthest = Math.max(piece.farthest, Math.abs(heights[at]));
        for (let x = 0; x < 3; x++) {
          const w = p[3 * at + x];
          if (w < piece.box[2 * x]) piece.box[2 * x] = w;
          if (w > piece.box[2 * x + 1]) piece.box[2 * x + 1] = w;
        }
      }
    }
    const all = [...found.values()].filter((one) => one.farthest > film * reach);
    const outer = all.filter((one) => one.volumeMm3 > 0);
    if (outer.length === 1)
      for (const cavity of all)
        if (cavity !== outer[0]) {
          for (const root of cavity.roots) outer[0].roots.add(root);
          outer[0].volumeMm3 += cavity.volumeMm3;
        }
    return outer;
  };
  return [onSide(0), onSide(1)];
}

/** Puts crumbs of one side back to the body of the other that they touch most. */
function putBack(from: Piece[], to: Piece[], clipped: Clipped, group: Int32Array, rule: CrumbRule): [Piece[], Piece[]] {
  const largest = Math.max(0, ...from.map((f) => f.volumeMm3), ...to.map((o) => o.volumeMm3));
  const { corners, points, faces } = clipped;
  const stay: Piece[] = [];
  for (const piece of from) {
    const crumb = longestOf(piece.box) < rule.longestMm && piece.volumeMm3 < rule.share * largest;
    let best: Piece | null = null;
    let most = 0;
    if (crumb)
      for (const other of to) {
        let area = 0;
        for (const face of faces) {
          const [down, up] = [group[corners + face.point], group[corners + points + face.point]];
          if ((piece.roots.has(down) && other.roots.has(up)) || (piece.roots.has(up) && other.roots.has(down)))
            area += face.areaMm2;
        }
        if (area > most) {
          most = area;
          best = other;
        }
      }
    if (!best) {
      stay.push(piece);
      continue;
    }
    for (const root of piece.roots) best.roots.add(root);
    best.volumeMm3 += piece.volumeMm3;
    for (let k = 0; k < 6; k += 2) {
      best.box[k] = Math.min(best.box[k], piece.box[k]);
      best.box[k + 1] = Math.max(best.box[k + 1], piece.box[k + 1]);
    }
  }
  return [stay, to];
}

/** The skin of a body; where a crumb was put back, the face between the two is gone. */
function skinOfPiece(piece: Piece, clipped: Clipped, group: Int32Array, skin: Skin): Skin {
  const { corners, points, positions, triangles, from, faces } = clipped;
  const inside = faces.map(
    (f) => piece.roots.has(group[corners + f.point]) && piece.roots.has(group[corners + points + f.point]),
  );
  const both = inside.includes(true);
  const number = new Int32Array(positions.length / 3).fill(-1);
  const whence: number[] = [];
  const out: number[] = [];
  const seen: number[] = [];
  for (const side of [0, 1] as const) {
    const t = triangles[side];
    for (let i = 0; i < t.length; i += 3) {
      if (!piece.roots.has(group[t[i]])) continue;
      const source = from[side][i / 3];
      if (both && source < 0 && faces.some((f, j) => inside[j] && i / 3 >= f.first[side] && i / 3 < f.end[side]))
        continue;
      for (let k = 0; k < 3; k++) {
        let at = t[i + k];
        // the two sides of a body that was put together share their points
        if (both && at >= corners + points) at -= points;
        if (number[at] < 0) {
          number[at] = whence.length;
          whence.push(at);
        }
        out.push(number[at]);
      }
      seen.push(source < 0 ? 0 : skin.seen[source]);
    }
  }
  const own = new Float32Array(3 * whence.length);
  whence.forEach((at, i) => {
    for (let k = 0; k < 3; k++) own[3 * i + k] = positions[3 * at + k];
  });
  return {
    positions: own,
    triangles: Uint32Array.from(out),
    seen: Float32Array.from(seen),
    volumeMm3: piece.volumeMm3,
  };
}

/**
 * The two sides of a closed skin at a plane, each in its bodies and closed again: what `cutBody` makes of a solid, for
 * judging, in a fraction of the time. Faces are closed by ear clipping; crumbs are put back.
 *
 * @param normal of unit length
 * @returns null where it is not cut
 */
export function cutSkin(
  skin: Skin,
  normal: Vec3,
  offset: number,
  rule: CrumbRule,
): { above: Skin[]; below: Skin[] } | null {
  const clipped = clip(skin, normal, offset);
  if (!clipped) return null;
  const group = groupsOf(clipped);
  let [below, above] = piecesOf(clipped, group);
  [above, below] = putBack(above, below, clipped, group, rule);
  [below, above] = putBack(below, above, clipped, group, rule);
  if (below.length === 0 || above.length === 0) return null;
  const skins = (pieces: Piece[]): Skin[] => pieces.map((piece) => skinOfPiece(piece, clipped, group, skin));
  return { above: skins(above), below: skins(below) };
}

/** The rings of the section of a closed skin at a plane, in space; outlines to the left about the normal. */
export function sectionRings(skin: Skin, normal: Vec3, offset: number): Vec3[][] {
  const { points, ends } = crossed(skin, normal, offset);
  return ringsOf(ends, points.length / 3).map((ring) =>
    ring.map((i): Vec3 => [points[3 * i], points[3 * i + 1], points[3 * i + 2]]),
  );
}
