import { expect } from 'chai';
import fc from 'fast-check';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { normalize } from '@jasmorphe/core/mesh/transform';
import { operations } from '@jasmorphe/core/operations/runs';
import type { DivideReport } from '@jasmorphe/core/operations/divide/describe';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { fromSolid, loadKernel, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { run, torus } from './solids.ts';

const { cuts: plans, divide, hollow } = operations;

/** A tube along a closed line that winds about a ring: a torus knot of `p` turns about the axis and `q` about the ring. */
function knot(p: number, q: number, big: number, small: number, tube: number, n: number, m: number): TriMesh {
  const at = (t: number): Vec3 => {
    const r = big + small * Math.cos(q * t);
    return [r * Math.cos(p * t), r * Math.sin(p * t), small * Math.sin(q * t)];
  };
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    const t = (2 * Math.PI * i) / n;
    const [a, b] = [at(t), at(t + 1e-4)];
    const along = normalize([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
    const radial = normalize([Math.cos(p * t), Math.sin(p * t), 0]);
    const up = radial.map((x, k) => x - along[k] * along.reduce((s, y, j) => s + y * radial[j], 0));
    const u = normalize(up as unknown as Vec3);
    const v: Vec3 = [
      along[1] * u[2] - along[2] * u[1],
      along[2] * u[0] - along[0] * u[2],
      along[0] * u[1] - along[1] * u[0],
    ];
    for (let j = 0; j < m; j++) {
      const [c, s] = [Math.cos((2 * Math.PI * j) / m), Math.sin((2 * Math.PI * j) / m)];
      positions.push(...a.map((x, k) => x + tube * (c * u[k] + s * v[k])));
      const next = ((i + 1) % n) * m;
      const [e, f] = [i * m + j, i * m + ((j + 1) % m)];
      const [g, h] = [next + j, next + ((j + 1) % m)];
      triangles.push(e, f, h, e, h, g);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

/** Each step joins two that are each in one, and in the end all is: for `n` parts `n - 1` steps, whatever their order. */
function putTogether({ parts, order }: DivideReport, what: string): void {
  const whole = new Map(parts.map((p) => [p.tag, [p.tag]]));
  for (const { name, from } of order) {
    const put = name.split('+');
    for (const some of [put, from])
      expect([...whole.get(some[0])!].sort(), `${what}: ${name} on ${from.join()}`).eql([...some].sort());
    const now = [...put, ...from];
    expect(new Set(now).size).equal(now.length);
    for (const tag of now) whole.set(tag, now);
  }
  expect([order.length, new Set([...whole.values()].map((w) => w.join())).size], what).eql([parts.length - 1, 1]);
}

describe('the order of assembly', function () {
  this.timeout(120_000);
  const shapes: [string, () => Promise<TriMesh>][] = [
    ['a ring', async () => torus(60, 14, 64, 24)],
    ['a hollow ring', async () => (await run(hollow, torus(60, 14, 48, 20), { wall: 3, detail: 2 })).outputs[0]],
    ['a knot', async () => knot(2, 3, 60, 26, 9, 160, 16)],
    [
      'a hollow knot',
      async () => (await run(hollow, knot(2, 3, 60, 26, 9, 120, 14), { wall: 2.5, detail: 1.5 })).outputs[0],
    ],
    [
      'a grid of bars',
      async () =>
        withSolids((kernel, keep) =>
          fromSolid(
            keep(
              kernel.Manifold.union(
                [0, 1, 2].flatMap((i) =>
                  [
                    [120, 10, 10, 0, 55 * i, 0],
                    [10, 120, 10, 55 * i, 0, 0],
                    [10, 10, 90, 55 * i, 55 * i, 0],
                  ].map(([x, y, z, ...to]) =>
                    keep(keep(kernel.Manifold.cube([x, y, z])).translate(to as unknown as Vec3)),
                  ),
                ),
              ),
            ),
          ),
        ),
    ],
  ];
  for (const [what, make] of shapes)
    it(`of ${what} takes n - 1 steps for n parts, each on to what is there, and what is said to come off does`, async () => {
      const mesh = await make();
      const kernel = await loadKernel();
      const { min } = boundsOf(mesh);
      const size = sizeOf(boundsOf(mesh));
      const angle = fc.double({ min: -1, max: 1, noNaN: true });
      const cut = fc.record({
        n: fc.tuple(angle, angle, angle).filter((n) => Math.hypot(...n) > 0.2),
        at: fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0.2, max: 0.8, noNaN: true }))),
        one: fc.boolean(),
      });
      let steps = 0;
      let stuck = 0;
      await fc.assert(
        fc.asyncProperty(fc.array(cut, { minLength: 1, maxLength: 5 }), async (chosen) => {
          const cuts: PlaneCut[] = chosen.map(({ n, at, one }) => {
            const normal = normalize(n);
            const through = at.map((share, k) => min[k] + share * size[k]) as unknown as Vec3;
            const offset = normal.reduce((s, x, k) => s + x * through[k], 0);
            return { normal, offset, ...(one ? { through } : {}) };
          });
          const { outputs, report } = await run(divide, mesh, { bed: [200, 200, 200], cuts, join: 'none' });
          putTogether(report, what);
          // what is drawn before it is cut are the parts that there will be
          const planned = (await run(plans, mesh, { bed: [200, 200, 200], cuts })).report;
          expect([planned.picture.parts.length, planned.parts], what).eql([report.parts.length, report.parts.length]);
          steps += report.order.length;
          stuck += report.interlocked.length;
          const solids = new Map(report.parts.map((p, i) => [p.tag, toSolid(kernel, outputs[i])]));
          for (const { name, from, direction: d } of report.order) {
            if (report.interlocked.includes(name)) continue;
            const moving = kernel.Manifold.union(name.split('+').map((t) => solids.get(t)!));
            const standing = kernel.Manifold.union(from.map((t) => solids.get(t)!));
            for (const back of [0.5, 4, 12, 30, 80])
              expect(
                moving
                  .translate([-back * d.x, -back * d.y, -back * d.z])
                  .intersect(standing)
                  .volume(),
                `${name} on ${from.join()} from ${back}`,
              ).most(2 + 2e-3 * Math.min(moving.volume(), standing.volume()));
          }
        }),
        { numRuns: 10, seed: 7 },
      );
      // most of what is cut comes off: a search that finds nothing would pass all else
      expect(stuck, `${stuck} of ${steps}`).most(0.2 * steps);
    });

  it('of what several planes part, with dovetails, is one by one along the slide', async () => {
    const mesh = await withSolids((kernel, keep) =>
      fromSolid(
        keep(
          kernel.Manifold.union([
            keep(kernel.Manifold.cube([200, 60, 30])),
            ...[0, 1, 2].map((i) => keep(keep(kernel.Manifold.cube([40, 60, 100])).translate([80 * i, 0, 20]))),
          ]),
        ),
      ),
    );
    const cuts: PlaneCut[] = [{ normal: [0, 0, 1], offset: 60 }];
    const { report } = await run(divide, mesh, { bed: [300, 300, 300], cuts, join: 'dovetail' });
    putTogether(report, 'slides');
    expect(report.order.length).equal(3);
  });
});
