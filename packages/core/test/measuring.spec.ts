import { expect } from 'chai';
import { circleThrough, fitCircle } from '@jasmorphe/core/measuring/circle';
import { girthAt } from '@jasmorphe/core/measuring/girth';
import { measureOn } from '@jasmorphe/core/measuring/measure';
import { averageReadings } from '@jasmorphe/core/measuring/readings';
import { fromSolid, withSolids, type Kernel } from '@jasmorphe/core/solid/kernel';
import type { TriMesh, Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { placeMesh } from '@jasmorphe/core/mesh/transform';
import { randomFrom } from '@jasmorphe/core/mesh/random';

type Built = ReturnType<Kernel['Manifold']['sphere']>;
const made = (make: (kernel: Kernel) => Built): Promise<TriMesh> =>
  withSolids((kernel, keep) => fromSolid(keep(make(kernel))));

/** Perimeter of an ellipse: Ramanujan 1914, second formula; its error is below 1e-8 for these axes. */
function ellipse(a: number, b: number): number {
  const h = ((a - b) / (a + b)) ** 2;
  return Math.PI * (a + b) * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h)));
}

const codeOf = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    return (error as { code?: string }).code ?? String(error);
  }
  return 'nothing';
};

describe('measuring on a model', () => {
  it('finds the circle through three points of a known one', () => {
    const random = randomFrom(3);
    for (let i = 0; i < 50; i++) {
      const r = 10 ** (4 * random() - 1);
      const c: Vec3 = [100 * random(), -50 * random(), 9];
      const turn = 6.28 * random();
      // a tilted circle: x' = cos, y' = sin in a plane whose axes are at right angles
      const on = (a: number): Vec3 => [
        c[0] + r * Math.cos(a) * Math.cos(turn),
        c[1] + r * Math.cos(a) * Math.sin(turn),
        c[2] + r * Math.sin(a),
      ];
      const found = circleThrough(on(0.1 + random()), on(2 + random()), on(4 + random()));
      expect(found.diameterMm / (2 * r)).closeTo(1, 1e-9);
      for (let k = 0; k < 3; k++) expect(found.centre[k]).closeTo(c[k], 1e-8 * (r + 100));
      expect(Math.abs(found.normal[2])).below(1e-9);
    }
    expect(codeOf(() => circleThrough([0, 0, 0], [1, 1, 1], [3, 3, 3]))).equal('bad-params');
    expect(codeOf(() => circleThrough([0, 0, 0], [0, 0, 0], [3, 3, 1]))).equal('bad-params');
  });

  it('fits a circle to part of an arc, and says how far points stand off it', () => {
    const arc = Array.from({ length: 9 }, (_, i) => [40 * Math.cos(0.2 * i) + 7, 40 * Math.sin(0.2 * i) - 3, 5]).flat();
    const found = fitCircle(arc);
    expect(found.diameterMm).closeTo(80, 1e-6);
    expect(found.centre[0]).closeTo(7, 1e-6);
    expect(found.outOfRoundMm).below(1e-6);
    expect(fitCircle(arc.map((v, i) => (i === 12 ? v + 1 : v))).outOfRoundMm).within(0.3, 1);
  });

  it('reads the diameter of a picked rim: a bored block and an open tube', async () => {
    const block = await made((k) =>
      k.Manifold.cube([60, 40, 20], true).subtract(k.Manifold.cylinder(30, 8, 8, 96, true)),
    );
    // corners of the bore lie on the circle (manifold's cylinder is inscribed)
    expect(measureOn(block, 'rim', [[8.2, 0.5, 10]]).lengthMm).closeTo(16, 1e-4);
    expect(measureOn(block, 'rim', [[0.3, 7.7, -9.6]]).lengthMm).closeTo(16, 1e-4);
    expect(codeOf(() => measureOn(block, 'rim', [[30, 20, 9]]))).equal('cannot');
    const tube = await made((k) => k.Manifold.cylinder(50, 25, 25, 48, false));
    const open: TriMesh = {
      positions: tube.positions,
      // without its lids
      triangles: Uint32Array.from(
        Array.from({ length: tube.triangles.length / 3 }, (_, t) => [...tube.triangles.subarray(3 * t, 3 * t + 3)])
          .filter((c) => new Set(c.map((v) => tube.positions[3 * v + 2])).size > 1)
          .flat(),
      ),
    };
    expect(measureOn(open, 'rim', [[24, 3, 49]]).lengthMm).closeTo(50, 1e-4);
    const ball = await made((k) => k.Manifold.sphere(20, 96));
    expect(codeOf(() => measureOn(ball, 'rim', [[20, 0, 0]]))).equal('cannot');
  });

  it('girth of an ellipse agrees with Ramanujan, upright and leaning', async () => {
    const column = await made((k) => k.Manifold.cylinder(400, 1, 1, 720, true).scale([97, 76, 1]));
    // a polygon of n corners in a circle is short by (pi / n)^2 / 6 of the whole
    const polygon = (Math.PI / 720) ** 2 / 6;
    expect(measureOn(column, 'girth', [[97, 0, 30]]).lengthMm / ellipse(97, 76)).closeTo(1 - polygon, 1e-6);
    // a plane leaning by 40 degrees about x stretches y by 1 / cos
    const lean = (40 * Math.PI) / 180;
    const g = girthAt(column, [0, 76, 0], [0, Math.sin(lean), Math.cos(lean)]);
    expect(g.tapeMm / ellipse(97, 76 / Math.cos(lean))).closeTo(1, 2e-5);
    // and by three points in that plane
    const point = (x: number, y: number): Vec3 => [x, y, (76 - y) * Math.tan(lean)];
    const three = measureOn(column, 'girth', [point(0, 76), point(97, 0), point(-97, 0)]).lengthMm;
    expect(three / g.tapeMm).closeTo(1, 1e-6);
  });

  it('a tape spans hollows, takes the part that was picked, and works far from the origin', async () => {
    // a cross of two bars: the tape is the octagon around it, the skin goes into the corners
    const cross = await made((k) => k.Manifold.cube([100, 20, 50], true).add(k.Manifold.cube([20, 100, 50], true)));
    const g = girthAt(cross, [50, 0, 1], [0, 0, 1]);
    expect(g.tapeMm).closeTo(4 * 20 + 4 * Math.hypot(40, 40), 1e-3);
    expect(g.skinMm).closeTo(4 * 20 + 8 * 40, 1e-3);
    const two = await made((k) =>
      k.Manifold.cylinder(80, 10, 10, 360, true).add(k.Manifold.cylinder(80, 15, 15, 360, true).translate([100, 0, 0])),
    );
    const far = placeMesh(
      two,
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ],
      [5000, 0, 0],
    );
    expect(measureOn(far, 'girth', [[4990, 0, 3]]).lengthMm).closeTo(20 * Math.PI, 0.02);
    expect(measureOn(far, 'girth', [[5115, 0, 3]]).lengthMm).closeTo(30 * Math.PI, 0.02);
    expect(codeOf(() => measureOn(far, 'girth', [[5115, 0, 300]]))).equal('cannot');
  });

  it('refuses points that fall together, too few of them, and what is no number', () => {
    const none: TriMesh = { positions: new Float32Array(0), triangles: new Uint32Array(0) };
    expect(
      measureOn(none, 'points', [
        [0, 0, 0],
        [3, 4, 12],
      ]).lengthMm,
    ).equal(13);
    expect(
      measureOn(
        none,
        'axis',
        [
          [0, 0, 0],
          [3, 4, 12],
        ],
        1,
      ).lengthMm,
    ).equal(4);
    expect(
      codeOf(() =>
        measureOn(none, 'points', [
          [1, 2, 3],
          [1, 2, 3],
        ]),
      ),
    ).equal('bad-params');
    expect(
      codeOf(() =>
        measureOn(
          none,
          'axis',
          [
            [1, 2, 3],
            [9, 2, 3],
          ],
          2,
        ),
      ),
    ).equal('bad-params');
    expect(codeOf(() => measureOn(none, 'circle', [[1, 2, 3]]))).equal('bad-params');
    expect(
      codeOf(() =>
        measureOn(none, 'points', [
          [1, 2, 3],
          [NaN, 2, 3],
        ]),
      ),
    ).equal('bad-params');
  });
});

describe('several readings', () => {
  it('averages factors and lets a bad reading stand out', () => {
    // 42 mm on the model is 900 mm in life, read four times, and one slip
    const good = [42, 42.2, 41.9, 42.1].map((measured) => ({ measured, real: 900 }));
    const calm = averageReadings(good);
    expect(calm.without).equal(null);
    expect(calm.factor).closeTo(21.4, 0.05);
    // sample standard deviation of 900/42, 900/42.2, 900/41.9, 900/42.1 over their mean, worked by hand
    expect(calm.spreadPct).closeTo(0.307, 0.002);
    const slipped = averageReadings([...good, { measured: 48, real: 900 }]);
    expect(slipped.each.map((e) => e.suspect)).eql([false, false, false, false, true]);
    expect(slipped.each[4].offPct).closeTo(12.4, 0.1);
    expect(slipped.without!.factor).closeTo(calm.factor, 1e-12);
    const [a, b] = averageReadings([
      { measured: 10, real: 100 },
      { measured: 10, real: 120 },
    ]).each;
    expect([a.suspect, b.suspect]).eql([true, true]);
  });

  it('refuses none, and lengths of nothing', () => {
    expect(codeOf(() => averageReadings([]))).equal('bad-params');
    for (const r of [
      { measured: 0, real: 3 },
      { measured: 3, real: -1 },
      { measured: NaN, real: 3 },
      { measured: 3, real: Infinity },
    ])
      expect(codeOf(() => averageReadings([r]))).equal('bad-params');
  });
});
