import { expect } from 'chai';
import fc from 'fast-check';
import { quietContext } from '@jasmorphe/core/run/context';
import { centreOf } from '@jasmorphe/core/mesh/measures';
import { operations } from '@jasmorphe/core/operations/runs';
import { placesOn, shareIn, type CleanPlace } from '@jasmorphe/core/planning/cuts/CleanBox';
import { necksOf } from '@jasmorphe/core/planning/cuts/necks';
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
import { figures } from '@jasmorphe/core/trade/figures';
import { roughDurationS } from '@jasmorphe/core/planning/estimate';
import { usualProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { CutsReport } from '@jasmorphe/core/operations/cuts/describe';
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
        fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 3, maxLength: 3 }),
        (printers, given, slower) => {
          const alike = slower.slice(0, printers).every((s) => s === slower[0]);
          const prints = given.map(([s, mask]) => {
            const onto = Array.from({ length: printers }, (_, i) => i).filter((i) => (mask >> i) & 1);
            return { durationsS: slower.slice(0, printers).map((by) => s * by), onto: onto.length > 0 ? onto : [0] };
          });
          const shares = sharesOf(prints, printers);
          expect(shares.reduce((n, s) => n + s.parts, 0)).equal(prints.length);
          // every share is made of its own printer's times
          shares.forEach((s, i) => expect(s.durationS % slower[i]).equal(0));
          if (alike)
            expect(shares.reduce((n, s) => n + s.durationS, 0)).equal(prints.reduce((n, p) => n + p.durationsS[0], 0));
          const free = new Array<number>(printers).fill(0);
          const best = (i: number): number =>
            i === prints.length
              ? Math.max(...free)
              : Math.min(
                  ...prints[i].onto.map((p) => {
                    free[p] += prints[i].durationsS[p];
                    const all = best(i + 1);
                    free[p] -= prints[i].durationsS[p];
                    return all;
                  }),
                );
          const made = makespanOn(prints, printers);
          const least = best(0);
          expect(made).least(least);
          // list scheduling is within twice the best where all take all (Graham 1969); bound jobs stay within it on these.
          // On printers that are not alike it is within their number (Ibarra and Kim 1977)
          expect(made).most((alike ? 2 : Math.max(2, printers)) * least);
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

  it('necks are places to cut: found between the planes looked at, and cut there', async () => {
    // areas of a body of revolution with its waist at 73.2, along a parabola of the area: the lowest point is known
    const waist = 73.2;
    const areaAt = (z: number): number => 300 + 0.5 * (z - waist) ** 2;
    fc.assert(
      fc.property(fc.integer({ min: 8, max: 40 }), fc.double({ min: 0.1, max: 0.9, noNaN: true }), (planes, shift) => {
        const offsets = Float64Array.from({ length: planes }, (_, i) => (200 * (i + shift)) / planes);
        const { known, between } = necksOf({ offsets, areaMm2: offsets.map(areaAt) });
        expect(known.length + between.length).equal(1);
        expect([...known, ...between][0]).closeTo(waist, 0.2 * (200 / planes) + 1e-9);
        for (const at of between) expect(at).closeTo(waist, 1e-6);
      }),
    );
    const straight = Float64Array.of(0, 1, 2, 3, 4);
    expect(necksOf({ offsets: straight, areaMm2: Float64Array.of(5, 5, 5, 5, 5) })).eql({ known: [], between: [] });
    expect(necksOf({ offsets: straight, areaMm2: Float64Array.of(5, 4, 3, 2, 1) }), 'a spire has none').eql({
      known: [],
      between: [],
    });
    expect(necksOf({ offsets: straight, areaMm2: Float64Array.of(5, 5, 4, 5, 5) }), 'hardly narrower').eql({
      known: [],
      between: [],
    });
    // the same body: a plan for shortest seams takes its waist, wherever that lies between the even planes
    const turnedUp = await withSolids(async ({ CrossSection, Manifold }, keep) => {
      const rim = Array.from({ length: 101 }, (_, i): [number, number] => [Math.sqrt(areaAt(2 * i) / Math.PI), 2 * i]);
      const profile = keep(new CrossSection([[[0, 0], ...rim, [0, 200]]]));
      return fromSolid(keep(Manifold.revolve(profile, 64)));
    });
    const { report } = await run(cuts, turnedUp, { bed: [150, 150, 150], plan: 'clean' });
    expect(report.cuts.length).equal(1);
    expect(Math.abs(report.cuts[0].normal[2])).closeTo(1, 1e-9);
    expect(Math.abs(report.cuts[0].offset)).closeTo(waist, 1);
  });

  it("hours go by each printer's own nozzle, layer and kind", async () => {
    const bar = await box(400, 40, 40);
    const bed = [110, 50, 50];
    const of = async (settings: object): Promise<CutsReport> => (await run(cuts, bar, { bed, ...settings })).report;
    // walls and infill are laid in lines as wide and high as the nozzle, until the hot end melts no faster: closed form
    const piece = { volumeMm3: 100 * 40 * 40, areaMm2: 4 * 100 * 40 + 2 * 40 * 40, heightMm: 40, columnsMm3: 0 };
    const fine = usualProfile('filament', undefined, 0.2);
    expect([fine.layerMm, fine.lineWidthMm, fine.nozzleMm]).eql([0.1, 0.225, 0.2]);
    const byHand = ({ nozzle, mostFlow }: { nozzle: number; mostFlow: number }): number => {
      const wide = (0.45 / 0.4) * nozzle;
      const line = wide * (nozzle / 2);
      const walls = piece.areaMm2 * 3 * wide;
      const laid =
        walls / Math.min(50 * line, mostFlow) + (0.15 * (piece.volumeMm3 - walls)) / Math.min(80 * line, mostFlow);
      // a tenth of travel and retraction, and what halts add
      return 300 + 1.1 * (1 + figures.haltsShare.value) * laid;
    };
    for (const nozzle of [0.2, 0.4, 0.8])
      expect(roughDurationS(piece, usualProfile('filament', undefined, nozzle)), `${nozzle} mm`).closeTo(
        byHand({ nozzle, mostFlow: 12 }),
        1e-6,
      );
    const usual = await of({});
    expect((await of({ nozzle: 0.4 })).allS, 'the usual nozzle').equal(usual.allS);
    expect((await of({ nozzle: 0.8 })).allS).below(0.7 * usual.allS);
    expect((await of({ nozzle: 0.2 })).allS).above(2 * usual.allS);
    // of two beds alike, the one with the wide nozzle takes more of the parts, and is done about as soon
    const beds = [
      { name: 'fine', bed, nozzle: 0.4 },
      { name: 'wide', bed, nozzle: 0.8 },
    ];
    const { report } = await run(cuts, bar, { bed, beds });
    const [few, many] = report.printers;
    expect(many.parts).above(few.parts);
    expect(report.allS).below(
      (await run(cuts, bar, { bed, beds: beds.map((b) => ({ ...b, nozzle: 0.4 })) })).report.allS,
    );
    // resin beside filament: its hours are of its layers
    const mixed = await run(cuts, bar, { bed, beds: [beds[0], { name: 'vat', bed, kind: 'resin', layer: 0.05 }] });
    const vat = mixed.report.printers[1];
    expect((vat.durationS - vat.parts * (300 + 5 * 27.5)) / (2.5 + 8), 'whole layers').closeTo(
      Math.round((vat.durationS - vat.parts * (300 + 5 * 27.5)) / (2.5 + 8)),
      1e-6,
    );
    for (const bad of [
      { kind: 'clay' },
      { margin: -1 },
      { nozzle: 0 },
      { nozzle: -1 },
      { layer: '1' },
      { colour: 'red' },
    ])
      expect(await codeOf(() => run(cuts, bar, { bed, beds: [{ ...beds[0], ...bad }] })), JSON.stringify(bad)).equal(
        'bad-params',
      );
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
