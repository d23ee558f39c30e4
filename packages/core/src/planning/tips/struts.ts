import { treeOf, type Bvh } from '../../mesh/Bvh.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { cross, dot, identity3, normalize, rotationToZ, transpose, type Mat3 } from '../../mesh/transform.ts';
import type { RunContext } from '../../run/context.ts';
import { fromSolid, withSolids, type Kernel, type Solid } from '../../solid/kernel.ts';
import { figures } from '../../trade/figures.ts';
import { filamentTips, resinTips, type TipForm, type TipSize } from '../../trade/tipSizes.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import type { Tip } from './findTips.ts';

/** One strut: from its tip over its neck down to where it stands. */
export interface Strut {
  /** number of its tip */
  tip: number;
  /** sunk end within the part, place where the head meets the shaft, and foot */
  head: Vec3;
  neck: Vec3;
  foot: Vec3;
  tipMm: number;
  shaftMm: number;
  /** it stands on the part itself, sunk into it by so much, mm */
  onPart: boolean;
  footSunkMm: number;
}

/** A bar between two struts that are tall. */
export interface Brace {
  from: Vec3;
  to: Vec3;
  acrossMm: number;
}

export interface Scaffold {
  struts: Strut[];
  braces: Brace[];
  /** numbers of tips that no straight strut reaches */
  unreached: number[];
}

/** Room between a shaft and the part, mm. */
const clearMm = 0.4;
/** Shafts lean by no more than this off the upright (they print without support), in steps and to so many sides. */
const leans = [0, 10, 20, 30, 40].map((d) => (d * Math.PI) / 180);
const sides = 12;
/** Heads lean by no more. */
const headLean = Math.PI / 4;
/** So far below a tip its own skin is left behind, mm. */
const leaveMm = 0.01;
/** Rays along a shaft beside its middle. */
const rays = 6;
/** A strut taller than this share of its shaft is held by its neighbours, at such heights, where they are near (our own judgement). */
const slender = 14;
const braceEveryMm = 18;
const braceReachMm = 16;
const mostBraces = 2;
/** Corners of round bodies. */
const corners = 10;
/** Edges of their union that are shorter are drawn together: float32 does not tell their ends apart for sure, mm. */
const finestMm = 0.005;
/** Feet and the raft that joins them. */
const padMm = 0.6;
const padWider = 2.2;
const stripMm = 2;
const stripReachMm = 30;

const plus = (a: Vec3, b: Vec3, s: number): Vec3 => [a[0] + s * b[0], a[1] + s * b[1], a[2] + s * b[2]];
const between = (a: Vec3, b: Vec3): Vec3 => [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
const lengthOf = (v: Vec3): number => Math.hypot(v[0], v[1], v[2]);

/** Is a straight bar of that radius clear of the part all along? */
function isClear(tree: Bvh, from: Vec3, to: Vec3, radius: number): boolean {
  const way = between(from, to);
  if (!(lengthOf(way) > 0)) return true;
  if (tree.isBlocked(from, way, 0, -1, 1)) return false;
  const aside = normalize(cross(Math.abs(way[0]) < 0.8 * lengthOf(way) ? [1, 0, 0] : [0, 1, 0], way));
  const beside = normalize(cross(way, aside));
  for (let i = 0; i < rays; i++) {
    const a = (2 * Math.PI * i) / rays;
    const start = plus(plus(from, aside, radius * Math.cos(a)), beside, radius * Math.sin(a));
    if (tree.isBlocked(start, way, 0, -1, 1)) return false;
  }
  return true;
}

/** How deep an end is sunk into the part along a way, mm: as deep as is usual, and through no thin wall. */
function sunkInto(tree: Bvh, at: Vec3, way: Vec3): number {
  const flesh = tree.firstHit(plus(at, way, 1e-3), way, 1e-3);
  return Math.min(figures.tipSunkMm.value, flesh / 2);
}

/** Ways for a head to leave the skin, straight out first where that points down enough, ever more upright. */
function headWays(normal: Vec3): Vec3[] {
  const down: Vec3 = [0, 0, -1];
  const tilt = Math.acos(Math.min(1, Math.max(-1, -normal[2])));
  if (tilt < 1e-3) return [down];
  const level = normalize([normal[0], normal[1], 0]);
  const most = Math.min(tilt, headLean);
  return [most, most / 2, 0].map((lean): Vec3 => [
    level[0] * Math.sin(lean),
    level[1] * Math.sin(lean),
    -Math.cos(lean),
  ]);
}

/** Ways for a shaft to go down: upright first, then ever more aslant. */
const shaftWays: Vec3[] = leans.flatMap((lean) =>
  Array.from({ length: lean === 0 ? 1 : sides }, (_, i): Vec3 => {
    const a = (2 * Math.PI * i) / sides;
    return [Math.sin(lean) * Math.cos(a), Math.sin(lean) * Math.sin(a), -Math.cos(lean)];
  }),
);

const formsOf = ({ kind }: Pick<PrinterProfile, 'kind'>): Record<TipSize, TipForm> =>
  kind === 'resin' ? resinTips : filamentTips;

/**
 * Straight struts to the bed under every tip, or to the part where that is allowed and nothing else goes; steered clear
 * of the part, and braced where they are tall.
 *
 * @param bedZ height of the bed, in the mesh's coordinates
 */
export function layStruts(
  mesh: TriMesh,
  tips: readonly Tip[],
  profile: PrinterProfile,
  bedZ: number,
  onPart: boolean,
  context: RunContext,
): Scaffold {
  const tree = treeOf(mesh);
  const forms = formsOf(profile);
  const struts: Strut[] = [];
  const unreached: number[] = [];
  tips.forEach((tip, i) => {
    if ((i & 31) === 0) {
      context.checkCancelled();
      context.progress((0.5 * i) / tips.length, 'Laying struts');
    }
    const { tipMm, shaftMm } = forms[tip.size];
    const radius = shaftMm / 2 + clearMm;
    const room = tip.at[2] - bedZ;
    const found = headWays(tip.normal).some((way) => {
      const head = plus(tip.at, way, -sunkInto(tree, tip.at, plus([0, 0, 0], way, -1)));
      const long = Math.min(1.5 * shaftMm + 0.5, 0.6 * room);
      const neck = plus(tip.at, way, long);
      // the skin itself is left at the tip; from a little below the head is to be clear
      const from = Math.min(0.3, long / 2);
      // in a gap that is narrower the head would go on into the other side
      if (tree.firstHit(plus(tip.at, way, leaveMm), way, 0) < from) return false;
      if (!isClear(tree, plus(tip.at, way, from), neck, tipMm / 2)) return false;
      for (const down of shaftWays) {
        const reach = (neck[2] - bedZ) / -down[2];
        const foot = plus(neck, down, reach);
        if (!isClear(tree, neck, foot, radius)) continue;
        struts.push({ tip: i, head, neck, foot, tipMm, shaftMm, onPart: false, footSunkMm: 0 });
        return true;
      }
      if (!onPart) return false;
      const drop = tree.firstHit(neck, [0, 0, -1], 1e-3);
      if (!(drop < neck[2] - bedZ)) return false;
      const foot: Vec3 = [neck[0], neck[1], neck[2] - drop];
      // its foot is drawn in: only the middle need be clear of what it stands on
      if (drop > 2 * shaftMm && !isClear(tree, neck, plus(foot, [0, 0, 1], shaftMm), radius)) return false;
      const footSunkMm = sunkInto(tree, foot, [0, 0, -1]);
      struts.push({ tip: i, head, neck, foot, tipMm, shaftMm, onPart: true, footSunkMm });
      return true;
    });
    if (!found) unreached.push(i);
  });
  return { struts, braces: bracesOf(tree, struts, context), unreached };
}

/** Bars between tall struts and their nearest neighbours, aslant at half a right angle where there is room. */
function bracesOf(tree: Bvh, struts: readonly Strut[], context: RunContext): Brace[] {
  const out: Brace[] = [];
  const upright = struts.filter(
    (s) => Math.hypot(s.neck[0] - s.foot[0], s.neck[1] - s.foot[1]) < 0.5 * (s.neck[2] - s.foot[2]),
  );
  const done = new Set<string>();
  upright.forEach((s, i) => {
    if ((i & 31) === 0) {
      context.checkCancelled();
      context.progress(0.5 + (0.2 * i) / upright.length, 'Bracing struts');
    }
    const tall = s.neck[2] - s.foot[2];
    if (tall < slender * s.shaftMm) return;
    const beside = upright
      .map((o, k) => ({ o, k, far: Math.hypot(o.foot[0] - s.foot[0], o.foot[1] - s.foot[1]) }))
      .filter(({ k, far }) => k !== i && far < braceReachMm && far > s.shaftMm)
      .sort((a, b) => a.far - b.far)
      .slice(0, mostBraces);
    for (const { o, k, far } of beside) {
      const key = i < k ? `${i},${k}` : `${k},${i}`;
      if (done.has(key)) continue;
      done.add(key);
      const low = Math.max(s.foot[2], o.foot[2]);
      const high = Math.min(s.neck[2], o.neck[2]);
      const acrossMm = 0.8 * Math.min(s.shaftMm, o.shaftMm);
      const at = ({ foot, neck }: Strut, z: number): Vec3 =>
        plus(foot, between(foot, neck), (z - foot[2]) / (neck[2] - foot[2]));
      for (let z = low + braceEveryMm / 2; z + far < high; z += braceEveryMm) {
        const [from, to] = [at(s, z), at(o, z + far)];
        if (isClear(tree, from, to, acrossMm / 2 + clearMm)) out.push({ from, to, acrossMm });
      }
    }
  });
  return out;
}

/** Each bar is turned about itself by another angle (the golden one), so that corners of two never fall together. */
const spinDeg = 137.508;
/** Balls have corners too: so much larger, they cover those of the bars that meet in them. */
const knuckleWider = 1.15;

/** Bodies that struts are made of; what comes on the way is let go of with them. */
class Parts {
  readonly made: Solid[] = [];

  constructor(
    private readonly kernel: Kernel,
    private readonly keep: (solid: Solid) => Solid,
  ) {}

  /** A body, spun and brought to its place; intermediate bodies are kept to be let go of. */
  private place(solid: Solid, at: Vec3, rows: Mat3 = identity3): void {
    const [x, y, z] = transpose(rows);
    const spun = this.keep(this.keep(solid).rotate([0, 0, this.made.length * spinDeg]));
    this.made.push(
      this.keep(
        spun.transform([x[0], y[0], z[0], 0, x[1], y[1], z[1], 0, x[2], y[2], z[2], 0, at[0], at[1], at[2], 1]),
      ),
    );
  }

  /** A round bar, thicker or thinner towards its end. */
  bar(from: Vec3, to: Vec3, fromMm: number, toMm: number): void {
    const way = between(from, to);
    const rod = this.kernel.Manifold.cylinder(lengthOf(way), fromMm / 2, toMm / 2, corners);
    this.place(rod, from, rotationToZ(normalize(way)));
  }

  /** A ball where bars meet, so that no corner sticks out. */
  knuckle(at: Vec3, acrossMm: number): void {
    this.place(this.kernel.Manifold.sphere((knuckleWider * acrossMm) / 2, corners), at);
  }

  /** The broad end of a shaft on the bed. */
  pad(at: Vec3, shaftMm: number): void {
    this.place(this.kernel.Manifold.cylinder(padMm, (padWider * shaftMm) / 2, shaftMm / 2, 2 * corners), at);
  }

  /** A strip of the raft. */
  strip([px, py]: Vec3, [qx, qy]: Vec3, bedZ: number): void {
    const long = Math.hypot(qx - px, qy - py);
    if (!(long > 1e-6)) return;
    const strip = this.keep(this.kernel.Manifold.cube([long, stripMm, padMm]));
    const middle = this.keep(strip.translate([0, -stripMm / 2, 0]));
    const turned = this.keep(middle.rotate([0, 0, (Math.atan2(qy - py, qx - px) * 180) / Math.PI]));
    this.made.push(this.keep(turned.translate([px, py, bedZ])));
  }
}

/** Pairs of feet that strips of the raft join: a shortest tree over those that are near (Prim 1957). */
function stripsOf(feet: readonly Vec3[]): [number, number][] {
  const out: [number, number][] = [];
  const best = feet.map(() => ({ far: Infinity, to: -1 }));
  const left = new Set(feet.keys());
  let at = 0;
  while (left.delete(at) && left.size > 0) {
    let next = -1;
    for (const k of left) {
      const far = Math.hypot(feet[k][0] - feet[at][0], feet[k][1] - feet[at][1]);
      if (far < best[k].far) best[k] = { far, to: at };
      if (next < 0 || best[k].far < best[next].far) next = k;
    }
    if (best[next].far <= stripReachMm) out.push([best[next].to, next]);
    at = next;
  }
  return out;
}

/**
 * The struts as one body with their feet on a raft; it overlaps the part by the sunk ends of its tips alone.
 *
 * @param bedZ height of the bed, in the struts' coordinates
 */
export async function strutBody({ struts, braces }: Scaffold, bedZ: number, context: RunContext): Promise<TriMesh> {
  return withSolids((kernel, keep) => {
    const parts = new Parts(kernel, keep);
    for (const { head, neck, foot, tipMm, shaftMm, onPart, footSunkMm } of struts) {
      parts.bar(head, neck, tipMm, shaftMm);
      parts.knuckle(neck, shaftMm);
      if (onPart) {
        // drawn in at its foot, so that it breaks off there
        const drawn = plus(foot, [0, 0, 1], Math.min(1.5 * shaftMm, 0.6 * (neck[2] - foot[2])));
        parts.bar(neck, drawn, shaftMm, shaftMm);
        parts.bar(drawn, plus(foot, [0, 0, -1], footSunkMm), shaftMm, tipMm);
        continue;
      }
      // a little beyond the bed, where all of it is cut level
      parts.bar(neck, plus(foot, normalize(between(neck, foot)), shaftMm), shaftMm, shaftMm);
      parts.pad([foot[0], foot[1], bedZ], shaftMm);
    }
    for (const { from, to, acrossMm } of braces) parts.bar(from, to, acrossMm, acrossMm);
    const feet = struts.filter((s) => !s.onPart).map((s) => s.foot);
    for (const [a, b] of stripsOf(feet)) parts.strip(feet[a], feet[b], bedZ);
    context.checkCancelled();
    context.progress(0.8, 'Joining struts');
    if (parts.made.length === 0) return { positions: new Float32Array(), triangles: new Uint32Array() };
    const whole = keep(keep(kernel.Manifold.union(parts.made)).trimByPlane([0, 0, 1], bedZ));
    return fromSolid(keep(whole.simplify(finestMm)));
  });
}

/** How much of all struts there is, mm³: bars and heads, overlaps not taken off. */
export const strutVolume = ({ struts, braces }: Scaffold): number =>
  struts.reduce((sum, s) => {
    const [r, R] = [s.tipMm / 2, s.shaftMm / 2];
    const head = (Math.PI / 3) * lengthOf(between(s.head, s.neck)) * (r * r + r * R + R * R);
    return sum + head + Math.PI * R * R * lengthOf(between(s.neck, s.foot));
  }, 0) + braces.reduce((sum, b) => sum + (Math.PI / 4) * b.acrossMm ** 2 * lengthOf(between(b.from, b.to)), 0);

/** Angle of a bar off the upright, degrees. */
export const leanOf = (from: Vec3, to: Vec3): number =>
  (Math.acos(Math.abs(dot(normalize(between(from, to)), [0, 0, 1]))) * 180) / Math.PI;
