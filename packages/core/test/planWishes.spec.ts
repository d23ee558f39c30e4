import { expect } from 'chai';
import fc from 'fast-check';
import { quietContext } from '@jasmorphe/core/run/context';
import { centreOf } from '@jasmorphe/core/mesh/measures';
import { operations } from '@jasmorphe/core/operations/runs';
import { placesOn, shareIn, type CleanPlace } from '@jasmorphe/core/planning/cuts/CleanBox';
import { makespanOn, sharesOf } from '@jasmorphe/core/planning/cuts/makespan';
import { judgeCuts, standInOf } from '@jasmorphe/core/planning/cuts/planCuts';
import { planeOf } from '@jasmorphe/core/planning/cuts/PlaneCut';
import {
  areOne,
  areTwins,
  mirroredPlane,
  mirrorsOf,
  pairedAfter,
  pairedIn,
  shareOfPaired,
} from '@jasmorphe/core/planning/cuts/symmetry';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { fromSolid, loadKernel, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, moved, run, sphere, torus, turned } from './solids.ts';

const { cuts, divide } = operations;

describe('core: wishes for a plan', function () {
  this.timeout(60_000);
  before(() => loadKernel());

  it('the middle of the flesh is that of the handbook: box, ball, half ball (3/8 r)', async () => {
    const near = (a: Vec3, b: Vec3, within: number) => a.forEach((x, k) => expect(x).closeTo(b[k], within));
    near(centreOf(moved(await box(10, 20, 30), 100, -50, 7)), [105, -40, 22], 1e-4);
    near(centreOf(await sphere(20, 24)), [0, 0, 0], 1e-4);
    const { outputs } = await run(divide, await sphere(20, 96), { bed: [50, 50, 30], at: [{ axis: 'z', mm: 0 }] });
    const upper = outputs.map((o) => centreOf(o)).sort((a, b) => b[2] - a[2])[0];
    // centroid of a hemisphere: 3 r / 8 (any handbook of statics)
    near(upper, [0, 0, 7.5], 0.05);
  });

  it('mirrors are found however a solid stands, and none where there are none', async () => {
    const bar = await box(20, 40, 90);
    expect(mirrorsOf(bar).map((m) => m.normal.map(Math.abs))).eql([
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]);
    expect(mirrorsOf(turned(bar))).length(3);
    expect(mirrorsOf(torus(80, 25, 40, 20)).length).least(3);
    // a wedge that leans two ways: the corner of a box, cut off by the plane through three corners
    const corner = {
      positions: Float32Array.of(0, 0, 0, 50, 0, 0, 0, 80, 0, 0, 0, 130),
      triangles: Uint32Array.of(0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3),
    };
    expect(mirrorsOf(corner)).eql([]);
  });

  it('an image of an image is the plane itself; a plane in the mirror is its own image', () => {
    const unit = fc
      .tuple(fc.double({ min: 0.1, max: 3, noNaN: true }), fc.double({ min: 0, max: 6, noNaN: true }))
      .map(([a, b]): Vec3 => [Math.sin(a) * Math.cos(b), Math.sin(a) * Math.sin(b), Math.cos(a)]);
    const plane = fc.record({ normal: unit, offset: fc.double({ min: -99, max: 99, noNaN: true }) });
    fc.assert(
      fc.property(plane, plane, (cut, mirror) => {
        const back = mirroredPlane(mirroredPlane(cut, mirror), mirror);
        back.normal.forEach((x, k) => expect(x).closeTo(cut.normal[k], 1e-9));
        expect(back.offset).closeTo(cut.offset, 1e-6);
        const own = mirroredPlane(mirror, mirror);
        // turned about, it is the same plane
        own.normal.forEach((x, k) => expect(x).closeTo(-mirror.normal[k], 1e-9));
        expect(own.offset).closeTo(-mirror.offset, 1e-6);
        expect(areOne(own, mirror, 1e-3)).equal(true);
        // on the other side of the origin it is another one
        expect(areOne({ ...mirror, offset: mirror.offset + 1 }, mirror, 0.5)).equal(false);
        expect(areOne({ ...mirror, offset: -mirror.offset }, mirror, 0.5)).equal(Math.abs(mirror.offset) < 0.25);
      }),
    );
  });

  it('parts pair off over a mirror by place and volume', () => {
    const mirror = { normal: [1, 0, 0] as Vec3, offset: 10 };
    const lump = (x: number, volumeMm3: number) => ({ centre: [x, 0, 0] as Vec3, volumeMm3 });
    expect(areTwins(lump(0, 100), lump(20, 102), mirror, 100)).equal(true);
    expect(areTwins(lump(0, 100), lump(20, 120), mirror, 100)).equal(false);
    expect(areTwins(lump(0, 100), lump(25, 100), mirror, 100)).equal(false);
    const three = [lump(0, 100), lump(20, 100), lump(50, 50)];
    expect(pairedIn(three, [mirror], 100)).eql([200]);
    expect(shareOfPaired([200], 250)).closeTo(0.8, 1e-12);
    expect(shareOfPaired([], 250)).equal(1);
    // kept up from cut to cut, it is what counting all pairs afresh gives
    const some = fc.array(fc.tuple(fc.integer({ min: 0, max: 10 }), fc.integer({ min: 1, max: 3 })), {
      minLength: 1,
      maxLength: 8,
    });
    fc.assert(
      fc.property(some, some, fc.nat(), (first, second, which) => {
        const mirrors = [mirror, { normal: [1, 0, 0] as Vec3, offset: 4 }];
        const parts = first.map(([x, v]) => lump(2 * x, 100 * v));
        const children = second.slice(0, 3).map(([x, v]) => lump(2 * x, 100 * v));
        const cut = parts[which % parts.length];
        const after = pairedAfter(pairedIn(parts, mirrors, 50), parts, cut, children, mirrors, 50);
        expect(after).eql(pairedIn([...parts.filter((p) => p !== cut), ...children], mirrors, 50));
      }),
    );
  });

  it('a plan that is to be mirrored cuts a dumbbell alike on both sides', async () => {
    const dumbbell = await withSolids(async (kernel, keep) => {
      const piece = (mesh: Parameters<typeof toSolid>[1]) => keep(toSolid(kernel, mesh));
      return fromSolid(
        keep(
          kernel.Manifold.union([
            piece(moved(await box(320, 30, 30), 0, 35, 35)),
            piece(await box(90, 100, 100)),
            piece(moved(await box(90, 100, 100), 230, 0, 0)),
          ]),
        ),
      );
    });
    const weights = { parts: 0.3, seam: 0.1, support: 0, time: 0, symmetry: 1 };
    const { report } = await run(cuts, dumbbell, { bed: [150, 120, 120], weights });
    expect(report.mirrored).closeTo(1, 1e-9);
    expect(report.fitting).equal(report.parts);
    const lopsided = await run(cuts, dumbbell, { bed: [150, 120, 120], cuts: [planeOf({ axis: 'x', mm: 100 })] });
    // one part is larger: neither has its twin lengthwise, both are their own across
    expect(lopsided.report.mirrored).closeTo(2 / 3, 1e-9);
    expect(
      await codeOf(() => run(cuts, dumbbell, { bed: [150, 120, 120], weights: { ...weights, symmetry: 2 } })),
    ).equal('bad-params');
    // weighed by a version that knew no symmetry
    const { symmetry: _, ...older } = weights;
    expect((await run(cuts, dumbbell, { bed: [150, 120, 120], weights: older })).report.parts).least(2);
  });

  it('a line through painted balls: chords by Pythagoras, overlaps once, the rest free', () => {
    const ball = (x: number, y: number, radiusMm: number): CleanPlace => ({ at: [x, y, 0], radiusMm });
    const along = (...places: CleanPlace[]) => shareIn(places, [0, 0, 0], [100, 0, 0]);
    expect(along(ball(50, 0, 10))).closeTo(0.2, 1e-12);
    // 6, 8, 10
    expect(along(ball(50, 6, 10))).closeTo(0.16, 1e-12);
    expect(along(ball(50, 10, 10))).equal(0);
    expect(along(ball(50, 0, 10), ball(55, 0, 10))).closeTo(0.25, 1e-12);
    expect(along(ball(0, 0, 10), ball(100, 0, 10))).closeTo(0.2, 1e-12);
    expect(along(ball(50, 0, 10), { min: [45, -1, -1], max: [70, 1, 1] })).closeTo(0.3, 1e-12);
    // a plane meets what comes nearer to it than its radius
    expect(placesOn([ball(50, 0, 10), ball(80, 0, 10)], [1, 0, 0], 58)).eql([ball(50, 0, 10)]);
  });

  it('painted skin is not cut, however many dabs it took', async () => {
    const bar = await box(300, 40, 40);
    const painted = Array.from({ length: 17 }, (_, i) => ({ at: [142 + i, 20, 40] as Vec3, radiusMm: 32 }));
    const { report } = await run(cuts, bar, { bed: [200, 50, 50], plan: 'clean', painted });
    expect(report.parts).equal(2);
    for (const c of report.cuts) expect(Math.abs(c.offset - 150), `cut at ${c.offset}`).least(39);
    for (const wrong of [[{ at: [0, 0, 0], radiusMm: 0 }], [{ at: [0, 0], radiusMm: 1 }], 'all', [{ at: [0, 0, 0] }]])
      expect(await codeOf(() => run(cuts, bar, { bed: [200, 50, 50], painted: wrong }))).equal('bad-params');
  });

  it('prints are shared among the printers that can take them; none is lost, and small cases are near the best', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3 }),
        fc.array(fc.tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 7 })), {
          minLength: 1,
          maxLength: 6,
        }),
        (printers, given) => {
          const prints = given.map(([durationS, mask]) => {
            const onto = Array.from({ length: printers }, (_, i) => i).filter((i) => (mask >> i) & 1);
            return { durationS, onto: onto.length > 0 ? onto : [0] };
          });
          const shares = sharesOf(prints, printers);
          expect(shares.reduce((n, s) => n + s.parts, 0)).equal(prints.length);
          expect(shares.reduce((n, s) => n + s.durationS, 0)).equal(prints.reduce((n, p) => n + p.durationS, 0));
          const free = new Array<number>(printers).fill(0);
          const best = (i: number): number =>
            i === prints.length
              ? Math.max(...free)
              : Math.min(
                  ...prints[i].onto.map((p) => {
                    free[p] += prints[i].durationS;
                    const all = best(i + 1);
                    free[p] -= prints[i].durationS;
                    return all;
                  }),
                );
          const made = makespanOn(prints, printers);
          const least = best(0);
          expect(made).least(least);
          // list scheduling is within twice the best where all take all (Graham 1969); bound jobs stay within it on these
          expect(made).most(2 * least);
        },
      ),
    );
  });

  it('each printer gets what fits it: one long bar for the long bed, short ones for either', async () => {
    const rooms: Vec3[] = [
      [310, 50, 50],
      [100, 50, 50],
    ];
    const { outputs } = await run(divide, await box(400, 40, 40), { bed: rooms[0], at: [{ axis: 'x', mm: 300 }] });
    expect(outputs).length(2);
    await withSolids(async (kernel, keep) => {
      const stand = await standInOf(kernel, keep, await box(400, 40, 40), rooms, quietContext);
      const { shares, allS, longestS } = judgeCuts(stand, [planeOf({ axis: 'x', mm: 300 })], { rooms, style: 'soon' });
      expect(shares.map((s) => s.parts)).eql([1, 1]);
      expect(shares[0].durationS).equal(longestS);
      expect(allS).equal(longestS);
    });
    const beds = [
      { name: 'long', bed: [310, 50, 50] },
      { name: 'short', bed: [100, 50, 50] },
    ];
    const { report } = await run(cuts, await box(400, 40, 40), { bed: [310, 50, 50], beds, plan: 'soon' });
    expect(report.printers.map((p) => p.name)).eql(['long', 'short']);
    expect(report.printers.reduce((n, p) => n + p.parts, 0)).equal(report.parts);
    expect(Math.max(...report.printers.map((p) => p.durationS))).closeTo(report.allS, 1e-6);
    expect((await run(cuts, await box(400, 40, 40), { bed: [310, 50, 50] })).report.printers).eql([]);
  });
});

describe('core: plans beside exhaustive search', function () {
  this.timeout(120_000);
  before(() => loadKernel());

  /** Cells of a small grid in connected pieces, each as a list of `x + 5 y`. */
  function pieces(cells: readonly number[]): number[][] {
    const left = new Set(cells);
    const out: number[][] = [];
    for (const first of cells) {
      if (!left.delete(first)) continue;
      const piece = [first];
      for (const c of piece)
        for (const n of [c % 5 < 4 ? c + 1 : -1, c % 5 > 0 ? c - 1 : -1, c + 5, c - 5])
          if (left.delete(n)) piece.push(n);
      out.push(piece.sort((a, b) => a - b));
    }
    return out;
  }

  /** Fewest parts by straight cuts along the grid, each through one piece, into pieces within two by two cells: all ways tried. */
  function fewest(piece: readonly number[], known = new Map<string, number>()): number {
    const key = piece.join();
    const told = known.get(key);
    if (told !== undefined) return told;
    const xs = piece.map((c) => c % 5);
    const ys = piece.map((c) => Math.floor(c / 5));
    const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    let best = x1 - x0 < 2 && y1 - y0 < 2 ? 1 : Infinity;
    const cut = (below: (c: number) => boolean): void => {
      const parts = [...pieces(piece.filter(below)), ...pieces(piece.filter((c) => !below(c)))];
      best = Math.min(
        best,
        parts.reduce((n, p) => n + fewest(p, known), 0),
      );
    };
    if (best > 1) {
      for (let x = x0 + 1; x <= x1; x++) cut((c) => c % 5 < x);
      for (let y = y0 + 1; y <= y1; y++) cut((c) => Math.floor(c / 5) < y);
    }
    known.set(key, best);
    return best;
  }

  it('never more parts than the best of all guillotine cuts of small shapes of squares', async () => {
    const shape = fc.uniqueArray(fc.integer({ min: 0, max: 24 }), { minLength: 9, maxLength: 16 });
    let tried = 0;
    await fc.assert(
      fc.asyncProperty(shape, async (cells) => {
        const [largest] = pieces(cells).sort((a, b) => b.length - a.length);
        if (largest.length < 6) return;
        tried++;
        const mesh = await withSolids((kernel, keep) =>
          Promise.resolve(
            fromSolid(
              keep(
                kernel.Manifold.union(
                  largest.map((c) =>
                    keep(keep(kernel.Manifold.cube([40, 40, 30])).translate([40 * (c % 5), 40 * Math.floor(c / 5), 0])),
                  ),
                ),
              ),
            ),
          ),
        );
        const { report } = await run(cuts, mesh, { bed: [80.5, 80.5, 31] });
        expect(report.fitting).equal(report.parts);
        expect(report.parts, largest.join()).most(fewest(largest));
        // nor fewer than the volume allows
        expect(report.parts).least(Math.ceil((largest.length * 40 * 40 * 30) / (80.5 * 80.5 * 31)));
      }),
      { numRuns: 14, seed: 11 },
    );
    expect(tried).greaterThan(7);
  });
});
