import { expect } from 'chai';
import { Bvh, newHit } from '@jasmorphe/core/mesh/Bvh';
import { triangleCentre, triangleNormal } from '@jasmorphe/core/mesh/measures';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { triangleCount, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { torus } from './solids.ts';

// A search through all triangles stands against the tree: plain formulas of its own, nothing shared with it.

const corner = (mesh: TriMesh, t: number, k: number): Vec3 => {
  const v = 3 * mesh.triangles[3 * t + k];
  return [mesh.positions[v], mesh.positions[v + 1], mesh.positions[v + 2]];
};
const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const times = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const along = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Where a line meets a triangle, as a share of its direction: plane first, then the three sides; null beside it. */
function meets(mesh: TriMesh, t: number, from: Vec3, way: Vec3): number | null {
  const [a, b, c] = [0, 1, 2].map((k) => corner(mesh, t, k));
  const n = times(minus(b, a), minus(c, a));
  const slope = along(n, way);
  if (slope === 0) return null;
  const s = along(n, minus(a, from)) / slope;
  const at: Vec3 = [from[0] + s * way[0], from[1] + s * way[1], from[2] + s * way[2]];
  for (const [p, q] of [
    [a, b],
    [b, c],
    [c, a],
  ])
    if (along(times(minus(q, p), minus(at, p)), n) < 0) return null;
  return s;
}

function firstOf(mesh: TriMesh, from: Vec3, way: Vec3, beyond: number, skip: number): number {
  let best = Infinity;
  for (let t = 0; t < triangleCount(mesh); t++) {
    if (t === skip) continue;
    const s = meets(mesh, t, from, way);
    if (s !== null && s > beyond && s < best) best = s;
  }
  return best;
}

/** Distance to a segment, for the distance to a triangle. */
function toSegment(x: Vec3, a: Vec3, b: Vec3): number {
  const ab = minus(b, a);
  const s = Math.min(1, Math.max(0, along(minus(x, a), ab) / along(ab, ab)));
  return Math.hypot(...minus(x, [a[0] + s * ab[0], a[1] + s * ab[1], a[2] + s * ab[2]]));
}

function toTriangle(mesh: TriMesh, t: number, x: Vec3): number {
  const [a, b, c] = [0, 1, 2].map((k) => corner(mesh, t, k));
  const n = times(minus(b, a), minus(c, a));
  const inside = meets(mesh, t, x, n) !== null;
  return inside
    ? Math.abs(along(n, minus(x, a))) / Math.hypot(...n)
    : Math.min(toSegment(x, a, b), toSegment(x, b, c), toSegment(x, c, a));
}

function distanceOf(mesh: TriMesh, x: Vec3): number {
  let best = Infinity;
  for (let t = 0; t < triangleCount(mesh); t++) best = Math.min(best, toTriangle(mesh, t, x));
  return best;
}

const stretched = (mesh: TriMesh, by: Vec3): TriMesh => ({
  positions: mesh.positions.map((x, i) => x * by[i % 3]),
  triangles: mesh.triangles,
});

/** Small loose triangles in a box. */
function confetti(count: number, size: Vec3, seed: number): TriMesh {
  const random = randomFrom(seed);
  const positions = new Float32Array(9 * count);
  for (let t = 0; t < count; t++) {
    const at = size.map((s) => s * random());
    for (let i = 0; i < 9; i++) positions[9 * t + i] = at[i % 3] + 2 * random() - 1;
  }
  return { positions, triangles: Uint32Array.from({ length: 3 * count }, (_, i) => i) };
}

// few triangles are sorted by the surface-area heuristic, many along a curve: both kinds, and lengthy ones too
const subjects: [string, TriMesh][] = [
  ['a ring', torus(20, 6, 40, 24)],
  ['a ring of 6 000 triangles', torus(20, 6, 75, 40)],
  ['a long thin thing of 6 000', stretched(torus(20, 6, 75, 40), [40, 1, 0.3])],
  ['loose triangles', confetti(900, [60, 60, 60], 5)],
  ['6 000 loose triangles in a slab', confetti(6_000, [150, 20, 3], 6)],
];

describe('trees against a search through all triangles', () => {
  for (const [name, mesh] of subjects)
    it(name, () => {
      const tree = new Bvh(mesh);
      const random = randomFrom(11);
      const lo = [0, 1, 2].map((k) => mesh.positions.reduce((m, x, i) => (i % 3 === k ? Math.min(m, x) : m), Infinity));
      const hi = [0, 1, 2].map((k) =>
        mesh.positions.reduce((m, x, i) => (i % 3 === k ? Math.max(m, x) : m), -Infinity),
      );
      const anywhere = (): Vec3 =>
        [0, 1, 2].map((k) => lo[k] + (1.4 * random() - 0.2) * (hi[k] - lo[k])) as unknown as Vec3;
      const size = Math.hypot(...minus(hi as unknown as Vec3, lo as unknown as Vec3));
      for (let i = 0; i < 25; i++) {
        const x = anywhere();
        const slow = distanceOf(mesh, x);
        const hit = tree.nearest(...x, Infinity, newHit());
        expect(hit.distance).closeTo(slow, 1e-6 * size);
        expect(Math.hypot(...minus(x, hit.point))).closeTo(hit.distance, 1e-9 * size);
        expect(toTriangle(mesh, hit.triangle, x)).closeTo(slow, 1e-6 * size);
        // a rough answer is never too near, and too far by no more than the share allowed
        const rough = tree.nearest(...x, Infinity, newHit(), -1, 0.1).distance;
        expect(rough).within(slow * (1 - 1e-6), 1.1 * slow * (1 + 1e-6) + 1e-9);
        // a poor guess changes nothing; a limit below the distance finds nothing
        expect(tree.nearest(...x, Infinity, newHit(), (i * 97) % triangleCount(mesh)).distance).closeTo(
          hit.distance,
          1e-9 * size,
        );
        expect(tree.nearest(...x, 0.99 * slow, newHit()).triangle).equal(-1);
        expect([tree.isWithin(...x, 1.001 * slow), tree.isWithin(...x, 0.999 * slow)]).eql([true, false]);
      }
    }).timeout(180_000);

  for (const [name, mesh] of subjects)
    it(`rays through ${name}`, () => {
      const tree = new Bvh(mesh);
      const random = randomFrom(12);
      let met = 0;
      for (let i = 0; i < 60; i++) {
        const t = Math.floor(random() * triangleCount(mesh));
        const from = triangleCentre(mesh, t);
        // inward from the skin, and straight along the axes, where a box's sides lie in the ray
        const n = triangleNormal(mesh, t);
        const ways: Vec3[] = [
          [-n[0], -n[1], -n[2]],
          [1, 0, 0],
          [0, -1, 0],
          [0, 0, 1],
          [0, -0, -1],
        ];
        const way = ways[i % ways.length];
        const slow = firstOf(mesh, from, way, 1e-6, t);
        const fast = tree.firstHit(from, way, 1e-6, t);
        if (slow === Infinity) expect(fast, `${name} ${i}`).equal(Infinity);
        else {
          met++;
          expect(fast, `${name} ${i}`).closeTo(slow, 1e-5 * slow + 1e-6);
          expect(meets(mesh, tree.lastHit, from, way)).closeTo(fast, 1e-5 * slow + 1e-6);
        }
      }
      expect(met).above(3);
    }).timeout(180_000);

  it('a box and a plane find every triangle that they meet', () => {
    for (const [name, mesh] of subjects) {
      const tree = new Bvh(mesh);
      const random = randomFrom(13);
      for (let i = 0; i < 6; i++) {
        const c = triangleCentre(mesh, Math.floor(random() * triangleCount(mesh)));
        const r = 0.5 + 6 * random();
        const found = new Set<number>();
        tree.eachInBox(c[0] - r, c[1] - r, c[2] - r, c[0] + r, c[1] + r, c[2] + r, (t) => found.add(t));
        const n: Vec3 = [random() - 0.5, random() - 0.5, random() - 0.5];
        const crossed = new Set<number>();
        tree.eachAcrossPlane(...n, along(n, c), (t) => crossed.add(t));
        for (let t = 0; t < triangleCount(mesh); t++) {
          const p = [0, 1, 2].map((k) => corner(mesh, t, k));
          if (p.some((q) => q.every((x, k) => Math.abs(x - c[k]) <= r))) expect(found.has(t), name).equal(true);
          const sides = p.map((q) => along(n, q) - along(n, c));
          if (Math.min(...sides) < -1e-3 && Math.max(...sides) > 1e-3) expect(crossed.has(t), name).equal(true);
        }
        // and not much else
        expect(crossed.size).below(0.7 * triangleCount(mesh));
      }
    }
  }).timeout(180_000);

  it('holds triangles that all lie at one point, and none at all', () => {
    const stack: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0]),
      triangles: Uint32Array.from({ length: 3 * 30_000 }, (_, i) => i % 3),
    };
    const tree = new Bvh(stack);
    expect(tree.nearest(0.2, 0.2, 5, Infinity, newHit()).distance).closeTo(5, 1e-9);
    expect(tree.firstHit([0.2, 0.2, 5], [0, 0, -1], 0)).closeTo(5, 1e-9);
    const nothing = new Bvh({ positions: new Float32Array(0), triangles: new Uint32Array(0) });
    expect(nothing.nearest(0, 0, 0, Infinity, newHit()).distance).equal(Infinity);
    expect(nothing.firstHit([0, 0, 0], [1, 0, 0], 0)).equal(Infinity);
    expect(nothing.isWithin(0, 0, 0, 1e9)).equal(false);
  });
});
