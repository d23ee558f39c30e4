import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { cornerNormals, unitNormalsOf } from '../../mesh/measures.ts';
import { cross, dot, normalize, vec3 } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { fromSolid, toSolid, type Kernel, type Solid } from '../../solid/kernel.ts';
import { isMeshError } from '../../run/MeshError.ts';
import type { Bodies, Keep } from './bodies.ts';
import { rowsToZ } from './planeFrame.ts';
import type { PlaneCut } from './PlaneCut.ts';

/**
 * Height over the plane of a loop at u, v: mean value coordinates (Floater 2003), smooth within, and exact on the loop.
 *
 * @param ring u, v, w of the loop's corners
 */
function heightAt(ring: readonly Vec3[], u: number, v: number): number {
  const n = ring.length;
  let weights = 0;
  let heights = 0;
  const half = (i: number): number => {
    // tangent of half the angle under which a side is seen
    const [ax, ay] = [ring[i][0] - u, ring[i][1] - v];
    const j = (i + 1) % n;
    const [bx, by] = [ring[j][0] - u, ring[j][1] - v];
    const long = Math.hypot(ax, ay) * Math.hypot(bx, by);
    const sine = ax * by - ay * bx;
    const cosine = ax * bx + ay * by;
    return Math.abs(sine) < 1e-12 * long ? 0 : (long - cosine) / sine;
  };
  let before = half(n - 1);
  for (let i = 0; i < n; i++) {
    const r = Math.hypot(ring[i][0] - u, ring[i][1] - v);
    const next = half(i);
    if (r < 1e-9) return ring[i][2];
    const w = (before + next) / r;
    weights += w;
    heights += w * ring[i][2];
    before = next;
  }
  return Math.abs(weights) > 1e-12 ? heights / weights : ring.reduce((s, p) => s + p[2], 0) / n;
}

/** Corners of a loop in the frame of its cut, to the left around: along the plane, and over it; and what they enclose there. */
function ringOf({ normal, offset, loop }: PlaneCut): { ring: Vec3[]; areaMm2: number } {
  const rows = rowsToZ(normal);
  const ring = loop!.map((p): Vec3 => [dot(rows[0], p), dot(rows[1], p), dot(rows[2], p) - offset]);
  const signed = ring.reduce((s, p, i) => {
    const q = ring[(i + 1) % ring.length];
    return s + (p[0] * q[1] - q[0] * p[1]) / 2;
  }, 0);
  return { ring: signed < 0 ? ring.reverse() : ring, areaMm2: Math.abs(signed) };
}

/** How high the membrane of a cut along a loop lies over its plane at u, v, mm. */
export function membraneOver(cut: PlaneCut): (u: number, v: number) => number {
  const { ring } = ringOf(cut);
  return (u, v) => heightAt(ring, u, v);
}

/** Pieces that a membrane is made of, along the loop. */
const pieces = 100;

/** A membrane spanned in a loop: its corners, and those of its outline in order. */
interface Sheet {
  points: Vec3[];
  triangles: [number, number, number][];
  rim: number[];
}

/** The membrane of a loop; null where the loop folds over itself as seen across its plane. */
function spanned(kernel: Kernel, keep: Keep, cut: PlaneCut): Sheet | null {
  const { normal, offset } = cut;
  const rows = rowsToZ(normal);
  const { ring, areaMm2 } = ringOf(cut);
  const flat = keep(new kernel.CrossSection([ring.map(([u, v]): [number, number] => [u, v])], 'NonZero'));
  if (flat.numContour() !== 1 || Math.abs(flat.area() - areaMm2) > 0.01 * areaMm2) return null;
  const { min, max } = flat.bounds();
  const step = (2 * (max[0] - min[0] + max[1] - min[1])) / pieces;
  // the underside of a refined slab is the membrane laid flat
  const slab = fromSolid(keep(keep(flat.extrude(step)).refineToLength(step)));
  const number = new Map<number, number>();
  const points: Vec3[] = [];
  const triangles: [number, number, number][] = [];
  const level = 1e-6 * step;
  for (let t = 0; t < slab.triangles.length; t += 3) {
    const ids = [0, 1, 2].map((i) => slab.triangles[t + i]);
    if (ids.some((v) => Math.abs(slab.positions[3 * v + 2]) > level)) continue;
    const own = ids.map((v) => {
      const known = number.get(v);
      if (known !== undefined) return known;
      const [u, w] = [slab.positions[3 * v], slab.positions[3 * v + 1]];
      const high = offset + heightAt(ring, u, w);
      points.push(vec3((k) => rows[0][k] * u + rows[1][k] * w + rows[2][k] * high));
      number.set(v, points.length - 1);
      return points.length - 1;
    });
    // it faces down; turned, it faces along the normal
    triangles.push([own[0], own[2], own[1]]);
  }
  const next = new Map<number, number>();
  const pairs = new Set(triangles.flatMap(([a, b, c]) => [`${a} ${b}`, `${b} ${c}`, `${c} ${a}`]));
  for (const [a, b, c] of triangles)
    for (const [p, q] of [
      [a, b],
      [b, c],
      [c, a],
    ])
      if (!pairs.has(`${q} ${p}`)) next.set(p, q);
  const [first] = next.keys();
  const rim = [first];
  for (let v = next.get(first); v !== undefined && v !== first && rim.length <= next.size; v = next.get(v)) rim.push(v);
  return rim.length === next.size && rim.length >= 3 ? { points, triangles, rim } : null;
}

/** Mean way out of the skin at each corner of a loop: of the triangles that meet there, or else of the nearest. */
function waysOut(skin: TriMesh, loop: readonly Vec3[]): Vec3[] {
  const keyOf = (x: number, y: number, z: number): string => `${Math.fround(x)} ${Math.fround(y)} ${Math.fround(z)}`;
  const wanted = new Map(loop.map((p, i) => [keyOf(...(p as [number, number, number])), i]));
  const sums = loop.map((): Vec3 => [0, 0, 0]);
  const normals = unitNormalsOf(skin);
  const corners = cornerNormals(skin, normals);
  const { positions: p } = skin;
  for (let v = 0; v < p.length; v += 3) {
    const i = wanted.get(keyOf(p[v], p[v + 1], p[v + 2]));
    if (i !== undefined) sums[i] = vec3((k) => sums[i][k] + corners[v + k]);
  }
  const tree = treeOf(skin);
  return sums.map((s, i) => {
    if (Math.hypot(...s) > 1e-9) return normalize(s);
    const [x, y, z] = loop[i];
    const { triangle: t } = tree.nearest(x, y, z, Infinity, newHit());
    return [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]];
  });
}

/** The way out at a point of a loop, between its two nearest corners. */
function wayAt(loop: readonly Vec3[], ways: readonly Vec3[], point: Vec3): Vec3 {
  let best = 0;
  let share = 0;
  let nearest = Infinity;
  loop.forEach((a, i) => {
    const b = loop[(i + 1) % loop.length];
    const d = vec3((k) => b[k] - a[k]);
    const s = Math.max(
      0,
      Math.min(
        1,
        dot(
          vec3((k) => point[k] - a[k]),
          d,
        ) / (dot(d, d) || 1),
      ),
    );
    const far = Math.hypot(...[0, 1, 2].map((k) => point[k] - a[k] - s * d[k]));
    if (far >= nearest) return;
    nearest = far;
    best = i;
    share = s;
  });
  const [a, b] = [ways[best], ways[(best + 1) % ways.length]];
  return normalize(vec3((k) => (1 - share) * a[k] + share * b[k]));
}

/**
 * Two thin walls that share a membrane, one on either side of it. The membrane goes on past its loop into the open, between
 * the skins that meet there, so that a wall never takes flesh of the other side. Null where they are no solids.
 */
function wallsOf(
  kernel: Kernel,
  keep: Keep,
  { points, triangles, rim }: Sheet,
  ways: readonly Vec3[],
  over: number,
): { plus: Solid; minus: Solid } | null {
  const all = [...points];
  const faces = [...triangles];
  const outer = rim.map((v, i) => {
    all.push(vec3((k) => points[v][k] + over * ways[i][k]));
    return all.length - 1;
  });
  rim.forEach((v, i) => {
    const j = (i + 1) % rim.length;
    // the rim runs with the membrane at its left
    faces.push([v, outer[i], outer[j]], [v, outer[j], rim[j]]);
  });
  const normals = all.map((): Vec3 => [0, 0, 0]);
  for (const [a, b, c] of faces) {
    const n = cross(
      vec3((k) => all[b][k] - all[a][k]),
      vec3((k) => all[c][k] - all[a][k]),
    );
    for (const v of [a, b, c]) normals[v] = vec3((k) => normals[v][k] + n[k]);
  }
  const unit = normals.map(normalize);
  const wall = (side: 1 | -1): Solid => {
    const m = all.length;
    const positions = new Float32Array(6 * m);
    all.forEach((p, i) => {
      for (let k = 0; k < 3; k++) {
        positions[3 * i + k] = p[k];
        positions[3 * (m + i) + k] = p[k] + side * over * unit[i][k];
      }
    });
    const list: number[] = [];
    const put = (a: number, b: number, c: number): void => void (side > 0 ? list.push(a, b, c) : list.push(a, c, b));
    for (const [a, b, c] of faces) {
      put(a, c, b);
      put(m + a, m + b, m + c);
    }
    outer.forEach((a, i) => {
      const b = outer[(i + 1) % outer.length];
      put(a, b, m + b);
      put(a, m + b, m + a);
    });
    return keep(toSolid(kernel, { positions, triangles: Uint32Array.from(list) }));
  };
  try {
    return { plus: wall(1), minus: wall(-1) };
  } catch (error) {
    if (isMeshError(error)) return null;
    throw error;
  }
}

/** How far a membrane goes over its loop and how thick its walls are, as shares of the loop's width; less where that nicks what is near. */
const tries = [0.012, 0.004, 0.0012];

/** Volumes that differ by less are the same, relative. */
const same = 1e-6;

/** The two sides of a body that is cut along a loop, each in its bodies; null where the loop does not part it. */
export function cutAlong(
  kernel: Kernel,
  keep: Keep,
  bodies: Bodies,
  solid: Solid,
  cut: PlaneCut,
): { above: Solid[]; below: Solid[] } | null {
  const loop = cut.loop!;
  const wide = Math.max(
    ...[0, 1, 2].map((k) => Math.max(...loop.map((p) => p[k])) - Math.min(...loop.map((p) => p[k]))),
  );
  const sheet = spanned(kernel, keep, cut);
  if (!sheet) return null;
  const corners = waysOut(fromSolid(solid), loop);
  const ways = sheet.rim.map((v) => wayAt(loop, corners, sheet.points[v]));
  const whole = solid.volume();
  for (const share of tries) {
    const walls = wallsOf(kernel, keep, sheet, ways, share * wide);
    if (!walls) continue;
    // what rounding leaves where skins lie along the membrane is of no account
    const on = (side: Solid, other: Solid): Solid[] =>
      bodies(keep(solid.subtract(other))).filter(
        (b) => b.volume() > same * share * whole && keep(b.intersect(side)).volume() > 0,
      );
    const above = on(walls.plus, walls.minus);
    const below = on(walls.minus, walls.plus);
    // a crumb is where the membrane nicked what is near
    if (above.length !== 1 || below.length !== 1) continue;
    const sum = [...above, ...below].reduce((v, s) => v + s.volume(), 0);
    if (Math.abs(sum - whole) <= same * whole) return { above, below };
  }
  return null;
}
