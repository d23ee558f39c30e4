import { expect } from 'chai';
import { quietContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { thicknessMap } from '@jasmorphe/core/mesh/thickness';
import { placeMesh, rotationToZ } from '@jasmorphe/core/mesh/transform';
import { boundsOf, sizeOf, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { operations } from '@jasmorphe/core/operations/runs';
import { thinnerPct } from '@jasmorphe/core/operations/thickness/thinnerPct';
import { fromSolid, withSolids, type Kernel } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, run, sphere } from './solids.ts';

const { thickness, thicken, whereabouts, sample, fit } = operations;
type Built = ReturnType<Kernel['Manifold']['sphere']>;
const made = (make: (kernel: Kernel) => Built): Promise<TriMesh> =>
  withSolids((kernel, keep) => fromSolid(keep(make(kernel))));
/** Turned, so that no wall lies along the grid. */
const askew = async (make: (kernel: Kernel) => Built) => placeMesh(await made(make), rotationToZ([0.2, 0.3, 0.9]));
const shell =
  (r: number, wall: number, n = 64) =>
  (k: Kernel) =>
    k.Manifold.sphere(r, n).subtract(k.Manifold.sphere(r - wall, n));

describe('thickness', () => {
  it('of a plate, a shell and a wedge agrees with their shape', async () => {
    const plate = (await run(thickness, await box(40, 30, 0.5), { min: 0.8 })).report;
    expect(plate.medianMm).closeTo(0.5, 1e-4);
    // all but the four rims: 2 x 1200 of 2 x 1200 + 70 mm2
    expect(plate.belowMinAreaPct).closeTo((100 * 2400) / 2470, 0.3);
    expect(plate.thinAreaMm2).closeTo(2400, 10);
    const ball = (await run(thickness, await made(shell(12, 0.4)), { min: 0.8 })).report;
    expect(ball.medianMm).closeTo(0.4, 0.002);
    // a right wedge 8 high and 30 long, measured down from its slope: along the normal, z / cos of the slope
    const wedge = await made((k) =>
      k.Manifold.hull([
        [0, 0, 0],
        [0, 20, 0],
        [30, 0, 0],
        [30, 20, 0],
        [0, 0, 8],
        [0, 20, 8],
      ]),
    );
    const w = (await run(thickness, wedge, { min: 0.8 })).report;
    expect(w.minMm).below(0.05);
    expect(w.places.length).equal(1);
    expect(w.places[0].at.x).above(26);
  });

  it('at another size thins and thickens with it, and so does the place that is told', async () => {
    const mesh = await made((k) =>
      k.Manifold.cube([40, 30, 10], true).add(k.Manifold.cube([20, 1, 12], true).translate([0, 0, 10])),
    );
    const whole = (await run(thickness, mesh, { min: 0.8 })).report;
    expect(whole.places).eql([]);
    const half = (await run(thickness, mesh, { min: 0.8, factor: 0.5 })).report;
    expect(half.places.length).equal(1);
    expect(half.places[0].leastMm).closeTo(0.5, 1e-3);
    // one side of the fin above the block, 20 x 11 at full size, at half size a quarter of that
    expect(half.places[0].areaMm2).closeTo(220 / 4, 3);
    expect(half.quantilesMm.length).equal(101);
    expect(thinnerPct(half.quantilesMm, 0.8)).closeTo(half.belowMinAreaPct!, 1.2);
    expect(thinnerPct(whole.quantilesMm, 1.6)).closeTo(half.belowMinAreaPct!, 1.2);
  });

  it('a map has one figure a triangle, and Infinity where an open skin has no far side', async () => {
    const ball = await made(shell(12, 0.4));
    const map = thicknessMap(ball);
    expect(map.length).equal(triangleCount(ball));
    expect(Math.max(...map)).below(0.41);
    const sheet: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 9, 0, 0, 0, 9, 0]),
      triangles: Uint32Array.from([0, 1, 2]),
    };
    expect(Array.from(thicknessMap(sheet, quietContext))).eql([Infinity]);
    expect((await run(thickness, sheet, {})).report.quantilesMm).eql([]);
  });
});

describe('thicken', () => {
  it('a plate becomes as thick as asked and grows by no more than half of what was missing a side', async () => {
    const plate = await askew((k) => k.Manifold.cube([40, 30, 0.4], true));
    const { outputs, report } = await run(thicken, plate, { min: 0.8 });
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
    expect(report.volumeMm3 / (40 * 30 * 0.8)).closeTo(1, 0.015);
    expect(report.thinBeforePct).above(97);
    expect(report.thinAfterPct).below(1);
    expect(report.deviation.maxMm).below(0.2 + 0.1);
  }).timeout(60_000);

  it('a hollow ball grows both ways, outward or inward, by closed form', async () => {
    const ball = await askew(shell(6, 1));
    const volume = (outer: number, inner: number) => (4 / 3) * Math.PI * (outer ** 3 - inner ** 3);
    for (const [side, outer, inner] of [
      ['both', 6.5, 4.5],
      ['outward', 7, 5],
      ['inward', 6, 4],
    ] as const) {
      const { outputs, report } = await run(thicken, ball, { min: 2, side });
      expect(report.volumeMm3 / volume(outer, inner), side).closeTo(1, 0.01);
      expect(Math.max(...sizeOf(boundsOf(outputs[0]))) / (2 * outer), side).closeTo(1, 0.004);
      expect(report.thinAfterPct, side).below(1);
    }
  }).timeout(120_000);

  it('a fin and a rod grow, and the block that they stand on keeps its triangles bit for bit', async () => {
    const mesh = await askew((k) =>
      k.Manifold.cube([40, 30, 10], true)
        .add(k.Manifold.cube([20, 0.5, 15], true).translate([0, -8, 10]))
        .add(k.Manifold.cylinder(14, 0.3, 0.3, 16).translate([0, 8, 4])),
    );
    const { outputs, report } = await run(thicken, mesh, { min: 0.8 });
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
    expect(report.thinAfterPct).below(0.6);
    expect(report.thinAfterPct).below(report.thinBeforePct / 15);
    // fin 20 x 12.5 grows by 0.3, rod of 9 mm from 0.6 to 0.8 across
    const grown = 20 * 12.5 * 0.3 + 9 * Math.PI * (0.4 ** 2 - 0.3 ** 2);
    expect(report.addedMm3 / grown).within(0.85, 1.2);
    const keyOf = (m: TriMesh, t: number) =>
      [0, 1, 2]
        .map((k) => m.positions.subarray(3 * m.triangles[3 * t + k], 3 * m.triangles[3 * t + k] + 3).join())
        .sort()
        .join('|');
    const after = new Set(Array.from({ length: triangleCount(outputs[0]) }, (_, t) => keyOf(outputs[0], t)));
    // everything but what touches the fin and the rod: five sides of the block
    const kept = Array.from({ length: triangleCount(mesh) }, (_, t) => keyOf(mesh, t)).filter((key) => after.has(key));
    expect(kept.length).least(10);
  }).timeout(120_000);

  it('says so when nothing is thin, nearly all is, or there is no inside', async () => {
    const ball = await sphere(10, 24);
    expect(await codeOf(() => run(thicken, ball, { min: 0.8 }))).equal('cannot');
    expect(await codeOf(async () => run(thicken, { ...ball, triangles: ball.triangles.slice(3) }, {}))).equal(
      'not-solid',
    );
    expect(await codeOf(async () => run(thicken, await made(shell(900, 0.4)), { min: 0.8 }))).equal('too-fine');
    for (const bad of [{ min: 0 }, { min: -1 }, { min: NaN }, { side: 'up' }])
      expect(await codeOf(() => run(thicken, ball, bad)), JSON.stringify(bad)).equal('bad-params');
  }).timeout(60_000);
});

describe('places', () => {
  const place = (kind: string, widthMm: number | null, depthMm: number | null, heightMm: number | null) => ({
    name: kind,
    kind,
    widthMm,
    depthMm,
    heightMm,
  });

  it('the worked case of the trade: 62 in of model does not stand where 46 in of ceiling is left, and lies in a car', async () => {
    const model = await box(20 * 25.4, 16 * 25.4, 62 * 25.4);
    const { report } = await run(whereabouts, model, {
      places: [place('stand', null, null, 46 * 25.4), place('lie', 900, 1600, 600), place('pass', 600, null, 1900)],
    });
    expect(report.places.map((p) => p.fits)).eql([false, true, true]);
    expect(report.places[0].largestFactor).closeTo(46 / 62, 1e-6);
  });

  it('a pole passes a door lengthwise however long, a plank through its diagonal; what stands may only be turned', async () => {
    const pole = await box(50, 50, 4000);
    const of = async (mesh: TriMesh, p: object, factor = 1) =>
      (await run(whereabouts, mesh, { places: [p], factor })).report.places[0];
    expect((await of(pole, place('pass', 760, null, 1980))).fits).equal(true);
    expect((await of(pole, place('stand', null, null, 2300))).fits).equal(false);
    // a plate 900 x 900 x 10 passes 760 x 500 edgewise along the diagonal: sqrt(760^2 + 500^2) = 910, less its thickness
    expect((await of(await box(900, 10, 900), place('pass', 760, null, 500))).fits).equal(true);
    expect((await of(await box(915, 10, 915), place('pass', 760, null, 500))).fits).equal(false);
    // turned by 45 degrees a square of side s needs s sqrt 2: no gain; a thin one gains
    expect((await of(await box(120, 1, 10), place('stand', 90, 90, null))).fits).equal(true);
    expect((await of(await box(100, 100, 10), place('stand', 99, 99, null))).fits).equal(false);
    expect((await of(await box(100, 100, 10), place('stand', 99, 99, null), 0.98)).fits).equal(true);
  });

  it('parts are tested by themselves', async () => {
    const model = await box(300, 300, 2000);
    const parts = [await box(300, 300, 1000), await box(300, 300, 700), await box(300, 300, 1500)];
    const run2 = operations.whereabouts.run(
      [model, ...parts],
      { places: [place('lie', 400, 1100, 400)], factor: 1, parts: [] } as never,
      quietContext,
    );
    expect((await run2).report.places[0].parts).eql({ fit: 2, of: 3, misfits: [2] });
  });

  it('refuses places without a size, a name or a known kind', async () => {
    const mesh = await box(1, 1, 1);
    for (const p of [
      place('stand', null, null, null),
      place('fly', 1, 1, 1),
      place('lie', -1, 1, 1),
      { name: 'x' },
      { ...place('lie', 1, 1, 1), name: '' },
    ])
      expect(await codeOf(() => run(whereabouts, mesh, { places: [p] })), JSON.stringify(p)).equal('bad-params');
    expect(await codeOf(() => run(whereabouts, mesh, { places: [] }))).equal('bad-params');
    expect((await run(fit, await box(10, 20, 30), { bed: [40, 40, 40] })).report.fits).equal(true);
  });
});

describe('test pieces', () => {
  it('a small copy, or a region at full size with its cuts closed', async () => {
    const mesh = await box(100, 200, 400);
    const small = await run(sample, mesh, { largest: 60 });
    expect(small.report.size.z).closeTo(60, 1e-4);
    expect(small.report.sharePct).closeTo(100 * 0.15 ** 3, 1e-4);
    const region = await run(sample, mesh, { at: [100, 200, 400], across: 50 });
    expect(region.report.volumeMm3).closeTo(25 ** 3, 0.1);
    expect(isSound(inspectMesh(region.outputs[0], { brief: true }))).equal(true);
    for (const bad of [{}, { largest: 3, at: [0, 0, 0], across: 3 }, { at: [0, 0, 0] }, { across: 4 }, { largest: 0 }])
      expect(await codeOf(() => run(sample, mesh, bad)), JSON.stringify(bad)).equal('bad-params');
    expect(await codeOf(() => run(sample, mesh, { at: [900, 0, 0], across: 3 }))).equal('cannot');
    const open = { ...mesh, triangles: mesh.triangles.slice(3) };
    expect(await codeOf(() => run(sample, open, { at: [1, 1, 1], across: 3 }))).equal('not-solid');
  });
});
