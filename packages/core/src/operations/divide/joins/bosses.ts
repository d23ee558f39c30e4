import { treeOf } from '../../../mesh/Bvh.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../../../mesh/TriMesh.ts';
import { normalize, cross } from '../../../mesh/transform.ts';
import { spreadDirections } from '../../../planning/cuts/proxySolid.ts';
import { fromPlane } from '../../../planning/cuts/cutSolid.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import type { Ring } from '../../../section/rings.ts';
import { fromSolid, type Solid } from '../../../solid/kernel.ts';
import { place, type Lump } from '../contact.ts';
import { sidesOf } from '../../../planning/cuts/cutSolid.ts';
import { joinAt, skinMm, type Decided, type JoinWishes } from './decide.ts';
import { apartOf2, runInside, type Point } from './places.ts';
import { grown, prism, roundOutline, type Maker, type Outline } from './shapes.ts';
import type { Site } from './sites.ts';

const rays = spreadDirections(24);
/** Where less light than this comes in is inside a cavity (our own judgement; a plain skin sees a half). */
const darkShare = 0.2;

/** Share of all directions in which nothing of a mesh stands in the way. */
function lightAt(mesh: TriMesh, at: Vec3): number {
  const tree = treeOf(mesh);
  let open = 0;
  for (const [x, y, z] of rays)
    for (const way of [
      [x, y, z],
      [-x, -y, -z],
    ] as Vec3[])
      if (!tree.isBlocked(at, way, 0)) open++;
  return open / (2 * rays.length);
}

/** Is any of the air of a solid outside the skin of a mesh? */
export function comesOut({ keep }: Maker, mesh: TriMesh, air: Solid): boolean {
  for (const piece of air.decompose().map(keep)) {
    if (piece.volume() < 1e-3) continue;
    const skin = fromSolid(piece);
    const n = triangleCount(skin);
    const every = Math.max(1, Math.floor(n / 8));
    let light = 0;
    let looked = 0;
    const { positions: p, triangles: t } = skin;
    const at = (v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
    for (let i = 0; i < n; i += every) {
      const [a, b, c] = [at(t[3 * i]), at(t[3 * i + 1]), at(t[3 * i + 2])];
      const out = normalize(cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]));
      const inside = a.map((x, k) => (x + b[k] + c[k]) / 3 - 0.02 * out[k]) as unknown as Vec3;
      light += lightAt(mesh, inside);
      looked++;
    }
    if (looked > 0 && light / looked > darkShare) return true;
  }
  return false;
}

/** A boss: flesh for the part above and the part below, and the join in it. */
export interface Boss {
  join: Decided;
  up: Solid;
  down: Solid;
}

interface Footing {
  at: Point;
  /** way into the cavity */
  way: Point;
  wall: number;
}

/** Places along the inner edge of a wall, where a cavity begins. */
function footings(site: Site, cut: PlaneCut, mesh: TriMesh, spacing: number): Footing[] {
  const out: Footing[] = [];
  for (const ring of site.shared.toPolygons() as Ring[]) {
    let since = spacing / 2;
    ring.forEach(([x, y], i) => {
      const [u, v] = ring[(i + 1) % ring.length];
      const length = Math.hypot(u - x, v - y);
      if (length < 1e-9) return;
      const way: Point = [(v - y) / length, (x - u) / length];
      for (let d = spacing - since; d <= length; d += spacing) {
        const at: Point = [x + ((u - x) * d) / length, y + ((v - y) * d) / length];
        const seen = fromPlane(cut, at[0] + 0.3 * way[0], at[1] + 0.3 * way[1]);
        if (lightAt(mesh, seen) >= darkShare) continue;
        const inner: Point = [at[0] - 0.02 * way[0], at[1] - 0.02 * way[1]];
        const wall = runInside(site.shared, inner, Math.atan2(-way[1], -way[0]), 40);
        if (wall >= 1) out.push({ at, way, wall });
      }
      since = (since + length) % spacing;
    });
  }
  return out;
}

/** Bosses that are tried on one face before it is given up. */
const mostTried = 10;

/**
 * Up to two bosses in the cavity of a shell, on walls too thin for a pin, each half on either part, with a join in it.
 * They lean on the wall at 45 degrees, stay in the cell of their part and never come out of the skin.
 *
 * @param mesh the whole model
 */
export function decideBosses(
  maker: Maker,
  site: Site,
  lumps: readonly Lump[],
  cuts: readonly PlaneCut[],
  mesh: TriMesh,
  { kind, clearance, widest }: JoinWishes,
): Boss[] {
  const { keep, kernel } = maker;
  const cut = cuts[site.cut];
  const found: Boss[] = [];
  const sizes = kind === 'magnet' ? [6, 6] : [5, 4];
  const depthOf = (across: number): number => (kind === 'magnet' ? 2 : across);
  const spots = footings(site, cut, mesh, 6);
  let tried = 0;
  while (spots.length > 0 && found.length < 2 && tried++ < mostTried) {
    const across = Math.min(sizes[found.length], widest);
    const radius = across / 2 + clearance + skinMm;
    // the farthest from those found, else the first
    const score = (s: Footing): number => Math.min(...found.map((f) => apartOf2(f.join.at, s.at)), Infinity);
    const next = found.length === 0 ? 0 : spots.reduce((b, s, i) => (score(s) > score(spots[b]) ? i : b), 0);
    const [spot] = spots.splice(next, 1);
    if (score(spot) < 4 * radius) continue;
    const off = Math.max(0, radius + 0.2 - spot.wall);
    const at: Point = [spot.at[0] + off * spot.way[0], spot.at[1] + off * spot.way[1]];
    const root: Point = [spot.at[0] - (spot.wall / 2) * spot.way[0], spot.at[1] - (spot.wall / 2) * spot.way[1]];
    const depth = depthOf(across);
    const height = depth + clearance + skinMm;
    const disc = grown(maker, roundOutline(2 * radius, false), 0);
    const foot = keep(grown(maker, roundOutline(0.8 * Math.min(spot.wall, 2 * radius), false), 0).translate(root));
    const outline = keep(kernel.CrossSection.hull([keep(disc.translate(at)), foot]));
    const tip = height + apartOf2(at, root) + radius;
    const half = (way: 1 | -1, lump: Lump): Solid | null => {
      const post = prism(maker, outline, -1e-3, height, way);
      const lean = keep(
        kernel.Manifold.hull([
          prism(maker, outline, height - 0.1, height, way),
          prism(maker, keep(new kernel.CrossSection([smallAt(root)])), tip - 0.1, tip, way),
        ]),
      );
      let boss = keep(post.add(lean));
      boss = place(keep, boss, cut, 0, 0);
      for (const side of sidesOf(lump)) {
        const { normal, offset } = cuts[Math.abs(side) - 1];
        const s = Math.sign(side);
        boss = keep(boss.trimByPlane([s * normal[0], s * normal[1], s * normal[2]], s * offset));
      }
      if (comesOut(maker, mesh, keep(boss.subtract(lump.solid)))) return null;
      const hole = place(keep, prism(maker, disc, 1e-2, height, way), cut, at[0], at[1]);
      const flesh = keep(boss.add(lump.solid));
      return keep(flesh.intersect(hole)).volume() > 0.99 * hole.volume() ? boss : null;
    };
    const up = half(1, lumps[site.above]);
    const down = up && half(-1, lumps[site.below]);
    if (!up || !down) continue;
    found.push({
      join: joinAt(site, kind, at, { across, depth, wallMm: skinMm, boss: true }),
      up,
      down,
    });
  }
  if (found.length === 1 && kind !== 'magnet') found[0].join.keyed = true;
  return found;
}

const smallAt = ([x, y]: Point): Outline => [
  [x - 0.1, y - 0.1],
  [x + 0.1, y - 0.1],
  [x, y + 0.1],
];
