import { expect } from 'chai';
import { operations } from '@jasmorphe/core/operations/runs';
import { fitPoints } from '@jasmorphe/core/planning/bedFit';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { box, codeOf, run } from './solids.ts';

const { size } = operations;
const reportOf = async (dims: [number, number, number], params: object) =>
  (await run(size, await box(...dims), params)).report;

describe('ways to a size', () => {
  it('a ratio of a stated original: 1:6 of 1.75 m, along the longest side or a named one', async () => {
    expect((await reportOf([3, 4, 10], { ratio: 1 / 6, original: 1750 })).size.z).closeTo(1750 / 6, 1e-4);
    expect((await reportOf([3, 4, 10], { ratio: 1 / 6, original: 1750, axis: 'x' })).size.x).closeTo(1750 / 6, 1e-4);
    for (const params of [
      { ratio: 2 },
      { original: 5 },
      { ratio: 2, original: 5, factor: 3 },
      { ratio: 0, original: 5 },
    ])
      expect(await codeOf(() => reportOf([1, 1, 1], params)), JSON.stringify(params)).equal('bad-params');
  });

  it('several readings are averaged, and their spread is told', async () => {
    const { factor, averaged } = await reportOf([10, 10, 10], {
      readings: [
        { measured: 10, real: 100 },
        { measured: 20, real: 204 },
      ],
    });
    expect(factor.x).closeTo(10.1, 1e-9);
    expect(averaged!.spreadPct).closeTo((100 * Math.hypot(0.1, 0.1)) / 10.1, 1e-6);
    for (const readings of [
      [],
      [{ measured: 0, real: 1 }],
      [{ measured: 1 }],
      'none',
      [null],
      [{ measured: 1, real: 1, extra: 1 }],
    ])
      expect(await codeOf(() => reportOf([1, 1, 1], { readings })), JSON.stringify(readings)).equal('bad-params');
  });

  it('a stretch says how oval rounds become', async () => {
    const r = await reportOf([10, 10, 10], { stretch: [1, 1.5, 3] });
    expect(r.oval).equal(3);
    expect((await reportOf([10, 10, 10], { factor: 3 })).oval).equal(1);
  });

  it('shrinkage comes on top, so that what has cooled is of the size asked for', async () => {
    // a part that shrinks by 2 % must be made 1 / 0.98 as large (closed form)
    const r = await reportOf([10, 20, 50], { axis: 'z', to: 100, shrinkage: 2, shrinkageZ: 0.5 });
    expect(r.size.z).closeTo(100 / 0.995, 1e-3);
    expect(r.size.x).closeTo(20 / 0.98, 1e-3);
    expect(r.cooled.z).closeTo(100, 1e-3);
    expect(r.cooled.x).closeTo(20, 1e-3);
    for (const shrinkage of [-1, 50, NaN])
      expect(await codeOf(() => reportOf([1, 1, 1], { factor: 1, shrinkage })), String(shrinkage)).equal('bad-params');
  });

  it('fills a bed: a stick lies from corner to corner, with its margin and its shrinkage inside', async () => {
    const bed = [200, 200, 200];
    expect((await reportOf([0.001, 0.001, 10], { bed })).size.z).closeTo(200 * Math.sqrt(3), 0.35);
    // a cube can be turned no larger than it lies
    expect((await reportOf([10, 10, 10], { bed })).size.x).closeTo(200, 0.2);
    expect((await reportOf([10, 10, 10], { bed, margin: 10 })).size.x).closeTo(180, 0.2);
    const shrunk = await reportOf([10, 10, 10], { bed, shrinkage: 2 });
    expect(shrunk.size.x).closeTo(200, 0.2);
    expect(shrunk.cooled.x).closeTo(196, 0.2);
    expect(await codeOf(() => reportOf([1, 1, 1], { bed, margin: 100 }))).equal('bad-params');
    expect(await codeOf(() => reportOf([1, 1, 1], { factor: 2, margin: 1 }))).equal('bad-params');
  });

  it('what it makes fits, and a thousandth more does not', async () => {
    const mesh = await box(30, 90, 140);
    const bed = [100, 120, 110] as [number, number, number];
    const { outputs } = await run(size, mesh, { bed });
    const made = sizeOf(boundsOf(outputs[0]));
    expect(fitPoints(outputs[0].positions, bed).fits).equal(true);
    expect(
      fitPoints(
        outputs[0].positions.map((v) => 1.001 * v),
        bed,
      ).fits,
    ).equal(false);
    expect(made[2]).greaterThan(120);
  });
});

/** Corners of a box about the origin. */
const corners = (s: number[]): Float32Array =>
  Float32Array.from(
    [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [0, 1, 2].map((k) => (i & (1 << k) ? s[k] / 2 : -s[k] / 2))),
  );

/**
 * Largest scale of a box in a bed by brute force: extents of a turned box are sums of |m| s, tried on a fine grid of all
 * turns (angles about z, y, z) and then on ever finer grids around the best forty of them.
 */
function exhaustive(s: number[], bed: number[]): number {
  const value = (a: number, b: number, c: number): number => {
    const [ca, sa, cb, sb, cc, sc] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b), Math.cos(c), Math.sin(c)];
    const x =
      Math.abs(ca * cb * cc - sa * sc) * s[0] + Math.abs(ca * cb * sc + sa * cc) * s[1] + Math.abs(ca * sb) * s[2];
    const y =
      Math.abs(sa * cb * cc + ca * sc) * s[0] + Math.abs(sa * cb * sc - ca * cc) * s[1] + Math.abs(sa * sb) * s[2];
    const z = Math.abs(sb * cc) * s[0] + Math.abs(sb * sc) * s[1] + Math.abs(cb) * s[2];
    return Math.min(bed[0] / x, bed[1] / y, bed[2] / z);
  };
  const step = Math.PI / 72;
  // the forty best of all, the best first
  const seen: [number, number, number, number][] = [];
  for (let a = 0; a < Math.PI; a += step)
    for (let b = 0; b <= Math.PI / 2 + 1e-9; b += step)
      for (let c = 0; c < Math.PI; c += step) {
        const v = value(a, b, c);
        if (seen.length === 40 && v <= seen[39][0]) continue;
        const at = seen.findIndex((s) => s[0] < v);
        seen.splice(at < 0 ? seen.length : at, 0, [v, a, b, c]);
        seen.length = Math.min(40, seen.length);
      }
  let best = 0;
  for (const [, a0, b0, c0] of seen) {
    let at = [a0, b0, c0];
    let top = value(a0, b0, c0);
    for (let h = step; h > 1e-6; h *= 0.55) {
      const [a, b, c] = at;
      for (let i = -3; i <= 3; i++)
        for (let j = -3; j <= 3; j++)
          for (let k = -3; k <= 3; k++) {
            const v = value(a + (i * h) / 3, b + (j * h) / 3, c + (k * h) / 3);
            if (v > top) {
              top = v;
              at = [a + (i * h) / 3, b + (j * h) / 3, c + (k * h) / 3];
            }
          }
    }
    best = Math.max(best, top);
  }
  return best;
}

describe('the largest that fits a bed', () => {
  it('agrees with exhaustive search on random boxes to 0.1 %', () => {
    const random = randomFrom(21);
    let turned = 0;
    for (let i = 0; i < 14; i++) {
      const s = [5 + 60 * random(), 20 + 80 * random(), 40 + 160 * random()];
      const bed = [100 + 200 * random(), 100 + 200 * random(), 100 + 200 * random()];
      const found = fitPoints(corners(s), bed as [number, number, number]).largestFactor;
      const want = exhaustive(s, bed);
      expect(found / want, `${s.join(' x ')} in ${bed.join(' x ')}`).greaterThan(1 - 1e-3);
      // a scale that is reached is a scale that fits, so more than the brute force found is no error
      expect(found / want).lessThan(1.01);
      const straight = [...bed].sort((p, q) => p - q).map((b, k) => b / [...s].sort((p, q) => p - q)[k]);
      if (found > 1.002 * Math.min(...straight)) turned++;
    }
    expect(turned, 'boxes that fit larger when turned').greaterThan(3);
  }).timeout(240_000);
});
