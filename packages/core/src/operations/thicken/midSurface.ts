import { GrowableFloats } from '../../mesh/Growable.ts';
import { treeOf } from '../../mesh/Bvh.ts';
import type { RunContext } from '../../run/context.ts';
import { triangleNormal } from '../../mesh/measures.ts';
import { cross, dot, normalize, vec3 } from '../../mesh/transform.ts';
import { diagonalOf, triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { isWall, WallProbe } from '../../mesh/thickness.ts';

/** Where a wall that is too thin may grow. */
export const growSides = ['both', 'outward', 'inward'] as const;
export type GrowSide = (typeof growSides)[number];

/** Middles dip under the skin by this share of the wall where it is thick enough, so that what grows ends inside it. */
const dip = 0.06;
/** Pieces whose middles lie within this share of the thickness count as one. */
const sameShare = 0.1;
/** Pieces of even walls need not be smaller than this many thicknesses. */
const evenReach = 8;
/** Rays that tell which side of a wall is the open one. */
const looks = 14;

/** A triangle corner on its way through the recursion: x, y, z. */
type Corner = readonly [number, number, number];
const between = (a: Corner, b: Corner): Corner => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
const centreOf = (a: Corner, b: Corner, c: Corner): Corner => [
  (a[0] + b[0] + c[0]) / 3,
  (a[1] + b[1] + c[1]) / 3,
  (a[2] + b[2] + c[2]) / 3,
];
const apart = (a: Corner, b: Corner): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** Walks over the skin and gathers the middles of what lies under it. */
class MiddleWalk {
  private readonly tree;
  private readonly probe;
  /** rays begin so far off the skin, mm */
  private readonly start;
  private readonly out = new GrowableFloats();
  /** by place, size of the largest piece whose middle lies there */
  private readonly placed = new Map<string, number>();
  private work = 0;
  /** thin skin so far, both sides of walls counted */
  thinMm2 = 0;

  constructor(
    private readonly mesh: TriMesh,
    private readonly least: number,
    private readonly side: GrowSide,
    private readonly mostMm2: number,
    private readonly context: RunContext,
  ) {
    this.tree = treeOf(mesh);
    this.probe = new WallProbe(mesh);
    this.start = 1e-6 * diagonalOf(mesh);
  }

  /** Corners of the middles, loose triangles one after another. */
  middles(): Float32Array {
    return this.out.taken();
  }

  private free(from: Corner, d: Vec3): number {
    return this.tree.firstHit(from, d, this.start);
  }

  /** Does any skin that faces the other way lie within reach behind this piece? */
  private backed(a: Corner, b: Corner, c: Corner, normal: Vec3): boolean {
    const { mesh, least } = this;
    const { positions: p, triangles } = mesh;
    let found = false;
    const lo = [0, 1, 2].map((k) => Math.min(a[k], b[k], c[k]) - (normal[k] > 0 ? least : 0) - 1e-3 * least);
    const hi = [0, 1, 2].map((k) => Math.max(a[k], b[k], c[k]) + (normal[k] < 0 ? least : 0) + 1e-3 * least);
    this.tree.eachInBox(lo[0], lo[1], lo[2], hi[0], hi[1], hi[2], (t) => {
      if (found) return;
      // how deep under the plane of the piece its corners lie
      let shallow = Infinity;
      let deep = -Infinity;
      for (let k = 0; k < 3; k++) {
        const v = 3 * triangles[3 * t + k];
        const d = (a[0] - p[v]) * normal[0] + (a[1] - p[v + 1]) * normal[1] + (a[2] - p[v + 2]) * normal[2];
        shallow = Math.min(shallow, d);
        deep = Math.max(deep, d);
      }
      if (shallow < least && deep > 0 && dot(normal, triangleNormal(mesh, t)) < -0.1) found = true;
    });
    return found;
  }

  /** Takes a piece of triangle `t` as it is, or in halves. */
  piece(t: number, a: Corner, b: Corner, c: Corner, normal: Vec3): void {
    if ((++this.work & 255) === 0) this.context.checkCancelled();
    if (this.thinMm2 > this.mostMm2) return;
    const sides = [apart(a, b), apart(b, c), apart(c, a)];
    const longest = Math.max(...sides);
    if (longest > 0.7 * this.least) {
      if (!this.backed(a, b, c, normal)) return;
      if (longest < evenReach * this.least && this.even(t, a, b, c, normal)) return this.emit(t, a, b, c, normal);
      // across the longest side, so that slender triangles do not fall into crumbs
      const [u, v, w] = longest === sides[0] ? [a, b, c] : longest === sides[1] ? [b, c, a] : [c, a, b];
      const m = between(u, v);
      this.piece(t, u, m, w, normal);
      this.piece(t, m, v, w, normal);
      return;
    }
    this.emit(t, a, b, c, normal);
  }

  /** Thickness under a point where that is a wall; the sides of a blunt edge are none, however near its ridge. */
  private wallAt(t: number, x: number, y: number, z: number): number {
    const d = this.probe.at(x, y, z, t);
    return isWall(this.mesh, t, this.probe.far) ? d : Infinity;
  }

  /** Depth under a point of a piece, looked at a little towards its middle: near edges a ray would slip past the far side. */
  private depthAt(t: number, q: Corner, centre: Corner): number {
    const s = 0.02;
    return this.wallAt(t, q[0] + s * (centre[0] - q[0]), q[1] + s * (centre[1] - q[1]), q[2] + s * (centre[2] - q[2]));
  }

  /** Is this a wall of even thickness with no rim near, so that it need not be divided? */
  private even(t: number, a: Corner, b: Corner, c: Corner, normal: Vec3): boolean {
    const { least } = this;
    const centre = centreOf(a, b, c);
    const depth = this.wallAt(t, centre[0], centre[1], centre[2]);
    if (!(depth < least)) return false;
    for (const q of [a, b, c, between(a, b), between(b, c), between(c, a)]) {
      const d = this.depthAt(t, q, centre);
      if (!(Math.abs(d - depth) < 0.02 * least)) return false;
      // from the very rim no ray would meet it
      const m = vec3((k) => q[k] + 0.02 * (centre[k] - q[k]) - (d / 2) * normal[k]);
      if (Math.hypot(...this.inFromRims(m, normal)) > 1e-3 * least) return false;
    }
    return true;
  }

  /** Puts the middle under a piece on record, if the wall there is thin and has none yet. */
  private emit(t: number, a: Corner, b: Corner, c: Corner, normal: Vec3): void {
    const { least } = this;
    const centre = centreOf(a, b, c);
    const depth = this.wallAt(t, centre[0], centre[1], centre[2]);
    const { far } = this.probe;
    const depths = [a, b, c].map((q) => this.depthAt(t, q, centre));
    if (!(Math.min(depth, ...depths) < least)) return;
    this.thinMm2 +=
      Math.hypot(
        ...cross(
          vec3((k) => b[k] - a[k]),
          vec3((k) => c[k] - a[k]),
        ),
      ) / 2;
    // the far side of a wall of parallel sides has the same middle, and had its turn
    if (far >= 0 && far < t && dot(normal, triangleNormal(this.mesh, far)) < -0.999) return;
    const grows = this.side === 'both' ? 0 : this.sideOf(centre, depth, normal);
    const lower = (d: number): number => {
      if (!(d < least)) return (0.5 + dip) * least;
      return grows > 0 ? d - least / 2 : grows < 0 ? least / 2 : d / 2;
    };
    const half = Math.min(depth, least) / 2;
    const shift =
      grows === 0
        ? this.inFromRims(
            [centre[0] - half * normal[0], centre[1] - half * normal[1], centre[2] - half * normal[2]],
            normal,
          )
        : [0, 0, 0];
    const down = lower(depth);
    const key = [0, 1, 2]
      .map((k) => Math.round((centre[k] - down * normal[k] + shift[k]) / (sameShare * least)))
      .join();
    const longest = Math.max(apart(a, b), apart(b, c), apart(c, a));
    // around the axis of a rod the middles of all its facets fall together
    if (longest <= (this.placed.get(key) ?? 0)) return;
    this.placed.set(key, 1.1 * longest);
    [a, b, c].forEach((q, i) => {
      const d = lower(depths[i]);
      this.out.push3(q[0] - d * normal[0] + shift[0], q[1] - d * normal[1] + shift[1], q[2] - d * normal[2] + shift[2]);
    });
  }

  /** Which side grows: 1 the one that is looked at, -1 the far one, 0 both, because both lie equally open. */
  private sideOf(at: Corner, depth: number, normal: Vec3): number {
    const here = this.openness(at, normal);
    const there = this.openness(
      [at[0] - depth * normal[0], at[1] - depth * normal[1], at[2] - depth * normal[2]],
      [-normal[0], -normal[1], -normal[2]],
    );
    if (Math.abs(here - there) < 3) return 0;
    return here > there === (this.side === 'outward') ? 1 : -1;
  }

  /** How many of the rays from a point on the skin meet nothing. */
  private openness(at: Corner, normal: Vec3): number {
    const from: Corner = vec3((k) => at[k] + 2 * this.start * normal[k]);
    let open = 0;
    for (let i = 0; i < looks; i++) {
      // directions of a Fibonacci spiral, those on the side of the normal
      const z = 1 - (2 * i + 1) / (2 * looks);
      const a = Math.PI * (3 - Math.sqrt(5)) * i;
      const [u, v] = basis(normal);
      const r = Math.sqrt(1 - z * z);
      const d: Vec3 = vec3((k) => z * normal[k] + r * (Math.cos(a) * u[k] + Math.sin(a) * v[k]));
      if (!Number.isFinite(this.free(from, d))) open++;
    }
    return open;
  }

  /** How a middle must move within its wall so that what grows around it does not stand out over the rim. */
  private inFromRims(at: Corner, normal: Vec3): Vec3 {
    const [u, v] = basis(normal);
    const moved: [number, number, number] = [0, 0, 0];
    for (let i = 0; i < 4; i++) {
      const angle = (Math.PI * i) / 4;
      const d: Vec3 = vec3((k) => Math.cos(angle) * u[k] + Math.sin(angle) * v[k]);
      const ahead = this.free(at, d);
      const behind = this.free(at, [-d[0], -d[1], -d[2]]);
      const half = Math.min(this.least / 2, (ahead + behind) / 2);
      const s = ahead < half ? ahead - half : behind < half ? half - behind : 0;
      for (let k = 0; k < 3; k++) moved[k] += (s * d[k]) / 2;
    }
    return moved;
  }
}

/**
 * Middle of all walls thinner than `least`: triangles, loose and one on top of the other where both sides of a wall are
 * thin, such that everything within half of `least` of them makes the walls as thick as that. Skin triangles are halved
 * until they are no larger than `least`, where anything lies close enough behind them; each piece goes down to half the depth
 * under it. Near a rim it moves back from it, so that the rim stays where it is; in a rod it lies on the axis.
 *
 * @param mostMm2 thin skin, both sides of walls counted, beyond which it gives up
 * @returns null when there is more than that
 * @param side on which the wall grows: with `outward` the sheltered side of a wall stays, with `inward` the open one
 */
export function midSurface(
  mesh: TriMesh,
  least: number,
  side: GrowSide,
  mostMm2: number,
  context: RunContext,
): TriMesh | null {
  const { positions: p, triangles } = mesh;
  const n = triangleCount(mesh);
  const walk = new MiddleWalk(mesh, least, side, mostMm2, context);
  for (let t = 0; t < n; t++) {
    if ((t & 1023) === 0) {
      context.checkCancelled();
      context.progress(t / n, 'Looking for thin walls');
    }
    const corner = (k: number): Corner => {
      const v = 3 * triangles[3 * t + k];
      return [p[v], p[v + 1], p[v + 2]];
    };
    const normal = triangleNormal(mesh, t);
    if (normal[0] === 0 && normal[1] === 0 && normal[2] === 0) continue;
    if (walk.thinMm2 > mostMm2) return null;
    walk.piece(t, corner(0), corner(1), corner(2), normal);
  }
  if (walk.thinMm2 > mostMm2) return null;
  const positions = walk.middles();
  return { positions, triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) };
}

/** Two unit vectors square to a unit normal and to each other. */
function basis(normal: Vec3): [Vec3, Vec3] {
  const u = normalize(cross(Math.abs(normal[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0], normal));
  return [u, cross(normal, u)];
}
