import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { toCanonical } from '@jasmorphe/core/mesh/canonical';
import { cancelledError, quietContext } from '@jasmorphe/core/run/context';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { cavitiesOf, isSound } from '@jasmorphe/core/inspect/Inspection';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf, concatMeshes, flipMesh, sizeOf, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { layerBoundary } from '@jasmorphe/core/operations/recut/run';
import { descriptionOf, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import type { Operation } from '@jasmorphe/core/operations/Operation';
import { operations } from '@jasmorphe/core/operations/runs';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { fitInBed } from '@jasmorphe/core/planning/bedFit';
import type { DivideParams } from '@jasmorphe/core/operations/divide/describe';
import { estimatePiece, supportHaltsS } from '@jasmorphe/core/planning/estimate';
import { haltsS, trapezoidS, waysOf } from '@jasmorphe/core/planning/motion';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { fromSolid, loadKernel, toSolid } from '@jasmorphe/core/solid/kernel';
import { gramsPerMetre } from '@jasmorphe/core/trade/figures';
import { box, codeOf, moved, run, sphere, torus, without } from './solids.ts';

const require = createRequire(import.meta.url);
const { mend, size, hollow, divide, recut, export: exportOp, import: importOp } = operations;

/** Everything that mending promises. */
async function expectSound(mesh: TriMesh, what = ''): Promise<void> {
  const after = inspectMesh(mesh, { brief: true });
  expect(isSound(after), `${what}: ${JSON.stringify(after.findings.map((f) => f.key))}`).equal(true);
  toSolid(await loadKernel(), mesh).delete();
}

describe('mend', () => {
  it('leaves a sound solid bit for bit', async () => {
    const mesh = await sphere(10, 32);
    const { outputs, report } = await run(mend, mesh, {});
    expect(report.method).equal('stitch');
    expect(report.untouchedPct).equal(100);
    expect(report.deviation.maxMm).lessThan(1e-5);
    expect(volumeOf(outputs[0])).closeTo(volumeOf(mesh), 1e-9);
  });

  it('a cube that lost a face gets it back flat', async () => {
    const cube = await box(10, 10, 10);
    const { outputs } = await run(mend, without(cube, new Set([0, 1])), {});
    expect(volumeOf(outputs[0])).closeTo(1000, 1e-6);
  });

  it('unites overlapping boxes to the volume of inclusion and exclusion', async () => {
    const { outputs, report } = await run(
      mend,
      concatMeshes([await box(10, 10, 10), moved(await box(10, 10, 10), 6, 3, 2)]),
      {},
    );
    expect(report.method).equal('join');
    expect(volumeOf(outputs[0])).closeTo(2000 - 4 * 7 * 8, 1e-3);
    await expectSound(outputs[0]);
  });

  it('turns what is inside out, keeps a cavity, and unites a shell that is both turned and overlapping', async () => {
    const turned = await run(mend, flipMesh(await box(10, 10, 10)), {});
    expect(volumeOf(turned.outputs[0])).closeTo(1000, 1e-6);
    const cavity = await run(
      mend,
      concatMeshes([await box(10, 10, 10), flipMesh(moved(await box(4, 4, 4), 3, 3, 3))]),
      {},
    );
    expect(volumeOf(cavity.outputs[0])).closeTo(936, 1e-3);
    const both = await run(
      mend,
      concatMeshes([await box(10, 10, 10), flipMesh(moved(await box(10, 10, 10), 5, 0.5, 0.5))]),
      {},
    );
    expect(volumeOf(both.outputs[0])).closeTo(2000 - 5 * 9.5 * 9.5, 1e-2);
  });

  it('makes single triangles turned at random agree again', async () => {
    const mesh = await sphere(10, 24);
    const random = randomFrom(5);
    const triangles = mesh.triangles.slice();
    for (let t = 0; t < triangles.length; t += 3)
      if (random() < 0.2) [triangles[t], triangles[t + 1]] = [triangles[t + 1], triangles[t]];
    const { outputs } = await run(mend, { positions: mesh.positions, triangles }, {});
    expect(volumeOf(outputs[0])).closeTo(volumeOf(mesh), 1e-6);
  });

  it('separates boxes that share an edge or a corner', async () => {
    for (const z of [0, 10]) {
      const { outputs } = await run(
        mend,
        concatMeshes([await box(10, 10, 10), moved(await box(10, 10, 10), 10, 10, z)]),
        {},
      );
      await expectSound(outputs[0]);
      expect(volumeOf(outputs[0])).closeTo(2000, 1);
    }
  });

  it('drops crumbs and loose ground, or keeps them when asked', async () => {
    const crumb = moved(await sphere(0.05, 8), 30, 0, 0);
    const ground: TriMesh = {
      positions: Float32Array.from([-20, -20, -12, 20, -20, -12, 20, 20, -12.1, -20, 20, -12]),
      triangles: Uint32Array.from([0, 1, 2, 0, 2, 3]),
    };
    const dirty = concatMeshes([await sphere(10, 32), crumb, ground]);
    const clean = await run(mend, dirty, {});
    expect([clean.report.stitched.crumbsDropped, clean.report.stitched.sheetsDropped, clean.report.after.shells]).eql([
      1, 1, 1,
    ]);
    expect(
      (await run(mend, concatMeshes([await sphere(10, 32), crumb]), { keepCrumbs: true })).report.after.shells,
    ).equal(2);
  });

  it('defects of every kind at once, thirty times over', async () => {
    const once = async (seed: number) => {
      const random = randomFrom(seed);
      const pieces = [await sphere(10, 16), moved(await box(6, 7, 8), 12 * random(), 8 * random(), 3)];
      if (random() < 0.4) pieces.push(flipMesh(moved(torus(6, 2, 14, 9), 5, 0, 8)));
      const mesh = concatMeshes(pieces);
      const keep: number[] = [];
      for (let t = 0; t < triangleCount(mesh); t++) {
        if (random() < 0.03) continue;
        const c = [0, 1, 2].map((k) => mesh.triangles[3 * t + k]);
        keep.push(...(random() < 0.05 ? [c[1], c[0], c[2]] : c));
        if (random() < 0.02) keep.push(...c);
        if (random() < 0.02) keep.push(c[0], c[0], c[1]);
      }
      const { outputs } = await run(mend, { positions: mesh.positions, triangles: Uint32Array.from(keep) }, {});
      await expectSound(outputs[0], `seed ${seed}`);
    };
    // the numbers are the same at every run; a failure names its own
    await fc.assert(fc.asyncProperty(fc.nat(), once), { numRuns: 30, seed: 1 });
  }).timeout(240_000);

  it('says so when there is nothing to mend: one triangle, no area, a flat sheet', async () => {
    const one: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0]),
      triangles: Uint32Array.of(0, 1, 2),
    };
    expect(await codeOf(() => run(mend, one, {}))).equal('not-solid');
    expect(
      await codeOf(() => run(mend, { positions: new Float32Array(9), triangles: Uint32Array.of(0, 1, 2) }, {})),
    ).equal('not-solid');
    expect(await codeOf(() => run(mend, one, { method: 'glue' }))).equal('bad-params');
  });
});

describe('size', () => {
  it('the worked values of the trade: 15.5 in x 400 % = 62 in, 15 cm x 3, 18 cm x 50 %; x4 is 64 times the material', async () => {
    const of = async (mm: number, params: object) => (await run(size, await box(mm, 10, 10), params)).report;
    expect((await of(15.5 * 25.4, { factor: 4 })).size.x / 25.4).closeTo(62, 1e-4);
    expect((await of(150, { factor: 3 })).size.x).closeTo(450, 1e-4);
    expect((await of(180, { factor: 0.5 })).size.x).closeTo(90, 1e-4);
    expect((await of(100, { factor: 4 })).volumeFactor).equal(64);
  });

  it('by a dimension, by a measured length, by axis', async () => {
    const mesh = await box(42, 20, 10);
    expect((await run(size, mesh, { axis: 'x', to: 900 })).report.factor.x).closeTo(900 / 42, 1e-5);
    expect((await run(size, mesh, { measured: 21, real: 450 })).report.size.x).closeTo(900, 1e-3);
    expect((await run(size, mesh, { stretch: [1, 1, 3] })).report.size.z).closeTo(30, 1e-4);
  });

  it('refuses zero, negative, NaN, absurd, none or two ways at once', async () => {
    const mesh = await box(1, 1, 1);
    for (const params of [
      { factor: 0 },
      { factor: -1 },
      { factor: NaN },
      { factor: 1e9 },
      {},
      { factor: 2, axis: 'x', to: 3 },
      { axis: 'x' },
      { measured: 5 },
      { axis: 'x', to: 1e7 },
      { factr: 2 },
    ])
      expect(await codeOf(() => run(size, mesh, params)), JSON.stringify(params)).equal('bad-params');
  });
});

describe('hollow', () => {
  it('a cube and a sphere lose the cube and sphere inside, and the skin stays bit for bit', async () => {
    const cube = await box(40, 40, 40);
    const { outputs, report } = await run(hollow, cube, { wall: 4 });
    // the edges of the cavity are rounded by the grid: a little less than 32 cubed
    expect(report.cavities[0].volumeMm3 / 32 ** 3).within(0.99, 1);
    expect(report.wall.minMm).closeTo(4, 0.01);
    expect([...outputs[0].positions.slice(0, cube.positions.length)]).eql([...cube.positions]);
    expect(report.volumeMm3 + report.cavities[0].volumeMm3).closeTo(64_000, 0.5);
    expect(report.trappedMm3).closeTo(report.cavities[0].volumeMm3, 1);
    await expectSound(outputs[0]);
    const ball = await run(hollow, await sphere(20, 96), { wall: 3 });
    expect(ball.report.cavities[0].volumeMm3 / ((4 / 3) * Math.PI * 17 ** 3)).closeTo(1, 0.01);
    expect(ball.report.wall.medianMm).closeTo(3, 0.03);
  });

  it('saves what the trade says: a wall of 3.5 mm on 867 mL saves more than half', async () => {
    // a plain ball saves more than a figure with arms and folds (71 % there): the ball within it by its closed formula
    const r = Math.cbrt((867_000 * 3) / (4 * Math.PI));
    const { report } = await run(hollow, await sphere(r, 64), { wall: 3.5, detail: 2 });
    expect(report.savedPct).above(71);
    expect(report.savedPct).closeTo(100 * ((r - 3.5) / r) ** 3, 0.5);
  });

  it('two drains a cavity let the liquid out; plugs fit the holes', async () => {
    const { outputs, report } = await run(hollow, await box(40, 40, 40), {
      wall: 3,
      drains: 2,
      drain: 3.5,
      plugs: true,
    });
    expect(report.cavities[0].drains.length).equal(2);
    expect(report.trappedMm3).lessThan(0.03 * report.cavities[0].volumeMm3);
    expect(outputs.length).equal(3);
    expect(inspectMesh(outputs[0], { brief: true }).shells).equal(1);
    await expectSound(outputs[0]);
    for (const d of report.cavities[0].drains) expect(d.at.z).lessThan(4);
  });

  it('a drain that is as wide as the cavity is refused', async () => {
    const ball = await sphere(50, 48);
    for (const drain of [500, 94]) {
      const refused: unknown = await run(hollow, ball, { wall: 3, drains: 2, drain }).catch((e: unknown) => e);
      expect(isMeshError(refused) && `${refused.field}: ${refused.message}`).match(
        /^drain: .*as wide as the cavity that it is for: 9[34]\.\d mm/,
      );
    }
    expect((await run(hollow, ball, { wall: 3, drains: 2, drain: 20 })).report.cavities[0].drains.length).equal(2);
    expect(cavitiesOf(inspectMesh((await run(hollow, ball, { wall: 3 })).outputs[0])).count).equal(1);
    expect(cavitiesOf(inspectMesh(ball)).count).equal(0);
  });

  it('a dumb-bell stood on end drains only the lower bell without a hole above, and the way up matters', async () => {
    const kernel = await loadKernel();
    const bell = fromSolid(
      kernel.Manifold.union([
        kernel.Manifold.cube([20, 20, 20], true),
        kernel.Manifold.cube([20, 20, 20], true).translate([40, 0, 0]),
        kernel.Manifold.cube([30, 4, 4], true).translate([20, 0, 0]),
      ]),
    );
    const flat = await run(hollow, bell, { wall: 2.5, drains: 2 });
    expect(flat.report.cavities.length).equal(2);
    expect(flat.report.cavities.every((c) => c.drains.length === 2)).equal(true);
    const side = await run(hollow, bell, { wall: 2.5, drains: 2, up: [1, 0, 0] });
    for (const c of side.report.cavities)
      for (const d of c.drains) expect(Math.min(Math.abs(d.at.x + 7.5), Math.abs(d.at.x - 32.5))).lessThan(1.5);
  });

  it('opens a flat underside', async () => {
    const { outputs, report } = await run(hollow, await box(40, 40, 40), { wall: 4, openBase: true });
    expect(report.volumeMm3 / (64_000 - 32 * 32 * 36)).closeTo(1, 0.02);
    expect(report.trappedMm3).equal(0);
    expect(inspectMesh(outputs[0], { brief: true }).shells).equal(1);
    expect(await codeOf(async () => run(hollow, await sphere(10, 32), { wall: 1, openBase: true }))).equal('cannot');
  });

  it('refuses walls that leave nothing, open meshes, and detail beyond memory', async () => {
    expect(await codeOf(async () => run(hollow, await box(10, 10, 10), { wall: 6 }))).equal('cannot');
    expect(await codeOf(async () => run(hollow, without(await box(10, 10, 10), new Set([0])), { wall: 1 }))).equal(
      'not-solid',
    );
    expect(await codeOf(async () => run(hollow, await box(100, 100, 100), { wall: 1, detail: 0.01 }))).equal(
      'too-fine',
    );
    expect(await codeOf(async () => run(hollow, await box(10, 10, 10), { wall: 'thick' }))).equal('bad-params');
  });
});

describe('divide', () => {
  it('parts fit, lose nothing, and are sound', async () => {
    const mesh = scaleMesh(torus(40, 15, 80, 40), [2, 2, 2]);
    const { outputs, report } = await run(divide, mesh, { bed: [90, 90, 60] });
    expect(report.volumeError).lessThan(1e-6);
    expect(report.parts.every((p) => p.fits)).equal(true);
    for (const part of outputs) {
      await expectSound(part);
      const s = [...sizeOf(boundsOf(part))].sort((a, b) => a - b);
      expect(s[0] <= 60.01 && s[1] <= 90.01 && s[2] <= 90.01).equal(true);
    }
    expect(new Set(report.parts.map((p) => p.tag)).size).equal(report.parts.length);
  });

  it('areas of the cuts by closed form; own cuts; levels get letters', async () => {
    const { report } = await run(divide, await box(30, 20, 10), {
      bed: [100, 100, 100],
      at: [
        { axis: 'z', mm: 4 },
        { axis: 'x', mm: 10 },
      ],
    });
    expect(report.cuts.map((c) => Math.round(c.areaMm2))).eql([200, 600]);
    expect(report.parts.map((p) => p.tag)).eql(['A1', 'A2', 'B1', 'B2']);
    expect(report.parts.map((p) => Math.round(p.volumeMm3))).eql([800, 1600, 1200, 2400]);
  });

  it('lays the bed the way that needs the fewest cells', async () => {
    const long = await box(100, 200, 50);
    expect((await run(divide, long, { bed: [210, 110, 60], plan: 'grid' })).report.parts.length).equal(2);
    expect((await run(divide, long, { bed: [210, 110, 60], plan: 'auto' })).report.parts.length).equal(1);
  });

  it('pins stand on one side and holes wait on the other; dowels take from both; nothing breaks through', async () => {
    const mesh = await box(60, 30, 30);
    const plain = await run(divide, mesh, { bed: [31, 31, 31] });
    for (const join of ['pin', 'key', 'dowel', 'magnet']) {
      const { outputs, report } = await run(divide, mesh, { bed: [40, 40, 40], join, clearance: 0.15 });
      expect(report.parts.length).equal(2);
      expect(
        report.parts.every((p) => p.joins.length === 2),
        join,
      ).equal(true);
      const [a, b] = report.parts.map((p, i) => p.volumeMm3 - plain.report.parts[i].volumeMm3);
      if (join === 'pin') {
        // pins of 6 and 5 across and as high, their last 0.4 mm drawn in by as much, and holes 0.15 wider all round
        // (closed form, less the facets)
        const drawn = (d: number): number => 1 - 0.8 / d;
        const pin = (d: number): number =>
          Math.PI * (d / 2) ** 2 * (d - 0.4 + (0.4 * (1 + drawn(d) + drawn(d) ** 2)) / 3);
        expect(a).closeTo(pin(6) + pin(5), 2);
        expect(b).closeTo(-Math.PI * (3.15 ** 2 * 6.15 + 2.65 ** 2 * 5.15), 3);
      }
      if (join === 'dowel' || join === 'magnet') expect(a < 0 && b < 0, join).equal(true);
      for (const o of outputs) await expectSound(o, join);
    }
  });

  it('keeps a cavity in the part around it, cut or not', async () => {
    const hollowed = concatMeshes([await box(40, 40, 40), flipMesh(moved(await box(20, 20, 20), 10, 10, 10))]);
    const whole = await run(divide, hollowed, { bed: [50, 50, 50] });
    expect(whole.report.parts.map((p) => Math.round(p.volumeMm3))).eql([64_000 - 8000]);
    const cut = await run(divide, hollowed, { bed: [50, 50, 50], at: [{ axis: 'z', mm: 35 }] });
    expect(cut.report.parts.map((p) => Math.round(p.volumeMm3))).eql([35 * 1600 - 8000, 5 * 1600]);
    expect(cut.report.volumeError).lessThan(1e-6);
  });

  it('engraves tags without breaking the part', async () => {
    const tagged = async (labels: Partial<DivideParams>) => {
      const params = { bed: [40, 40, 40] as [number, number, number], labels: true, ...labels };
      const { outputs, report } = await run(divide, await box(60, 30, 30), params);
      for (const o of outputs) await expectSound(o);
      return 27_000 - report.parts[0].volumeMm3;
    };
    const once = await tagged({ labelMm: 4, labelDepthMm: 0.4 });
    // letters twice as high cover four times as much; twice as deep they take twice as much
    expect((await tagged({ labelMm: 8, labelDepthMm: 0.4 })) / once).closeTo(4, 0.02);
    expect((await tagged({ labelMm: 4, labelDepthMm: 0.8 })) / once).closeTo(2, 0.02);
  });

  it('refuses beds without room, cuts that miss, and too many parts', async () => {
    const mesh = await box(100, 100, 100);
    expect(await codeOf(() => run(divide, mesh, { bed: [50, 50, 0] }))).equal('bad-params');
    expect(await codeOf(() => run(divide, mesh, { bed: [10, 10, 10], margin: 5 }))).equal('bad-params');
    expect(await codeOf(() => run(divide, mesh, { bed: [1, 1, 1] }))).equal('bad-params');
    expect(await codeOf(() => run(divide, mesh, { bed: [60, 60, 60], maxParts: 3 }))).equal('cannot');
    expect(await codeOf(() => run(divide, mesh, { bed: [60, 60, 60], at: [{ axis: 'z', mm: 200 }] }))).equal(
      'bad-params',
    );
    expect(await codeOf(() => run(divide, mesh, { bed: [60, 60, 60], at: [{ axis: 'w', mm: 20 }] }))).equal(
      'bad-params',
    );
  });
});

describe('recut', () => {
  it('cuts on the layer boundary at or below what stands: 47.3 mm at 0.2 mm is 236 layers, 47.2 mm', async () => {
    const { outputs, report } = await run(recut, await box(20, 30, 100), { printed: 47.3 });
    expect([report.layersKept, Number(report.cutAtMm.toFixed(6))]).eql([236, 47.2]);
    expect(report.remainingVolumeMm3).closeTo(20 * 30 * 52.8, 0.1);
    expect(report.contactAreaMm2).closeTo(600, 1e-3);
    expect(boundsOf(outputs[0]).min[2]).closeTo(47.2, 1e-5);
  });

  it('takes the first layer, the back-off and the way up into account', async () => {
    expect(layerBoundary(10, 0.2, 0.3)).eql({ layers: 49, at: 0.3 + 48 * 0.2 });
    expect(layerBoundary(0.6, 0.2, 0.2).layers).equal(3);
    const { report } = await run(recut, await box(20, 30, 100), { printed: 8, up: [-1, 0, 0], backOff: 1 });
    expect(report.cutAtMm).closeTo(7, 1e-9);
    expect(report.remainingVolumeMm3).closeTo(13 * 3000, 0.1);
  });

  it('counts the separate areas of the cut', async () => {
    const kernel = await loadKernel();
    const bridge = fromSolid(
      kernel.Manifold.union([
        kernel.Manifold.cube([10, 10, 30]),
        kernel.Manifold.cube([10, 10, 30]).translate([40, 0, 0]),
        kernel.Manifold.cube([50, 10, 5]).translate([0, 0, 30]),
      ]),
    );
    expect((await run(recut, bridge, { printed: 20 })).report.islandsAtCut).equal(2);
  });

  it('refuses readings that leave nothing on either side', async () => {
    const mesh = await box(10, 10, 10);
    for (const printed of [10, 12, 0.1, -1, 0])
      expect(await codeOf(() => run(recut, mesh, { printed })), String(printed)).equal('bad-params');
  });
});

describe('import and export', () => {
  const source = (bytes: Uint8Array, params = {}) =>
    importOp.run([], parseParams(importOp.params, params), {
      ...quietContext,
      source: { name: 'x.stl', mediaType: '', bytes },
    });

  it('an inch file is 25.4 times as large', async () => {
    const bytes = readFileSync(require.resolve('stl-models/polytopes/unitCube.binary.stl'));
    expect((await source(bytes, { unit: 'in' })).report.size.x).closeTo(25.4, 1e-5);
  });

  it('exports what it was given, and a name cannot leave its folder', async () => {
    const { files } = await run(exportOp, await box(1, 2, 3), { format: 'stl', name: '../../etc/passwd' });
    expect(files![0].name).equal('passwd.stl');
    expect(files![0].bytes.length).equal(84 + 12 * 50);
  });
});

describe('all operations', () => {
  /** Params for a ball of radius 10 about the origin; what is made of a file or of measures alone is tried elsewhere. */
  const cases: Record<Exclude<OperationName, 'import' | 'reference'>, object> = {
    drawing: {},
    crop: { min: [-20, -20, 0], max: [20, 20, 20] },
    mend: {},
    mirror: { axis: 'z', at: 0 },
    foot: { height: 2 },
    refine: { tolerance: 0.05 },
    simplify: { tolerance: 0.3 },
    practice: { severity: 0.3, seed: 3 },
    size: { factor: 2 },
    move: { by: [1, 2, 3], turn: [10, 20, 30] },
    thicken: { min: 25 },
    hollow: { wall: 1, drains: 2 },
    divide: { bed: [15, 15, 15], join: 'pin' },
    pose: { up: [0, 0, 1] },
    tips: {},
    layers: { pauses: [5] },
    stops: { stops: [{ what: 'colour', mm: 5 }] },
    bedfuls: { printers: [{ name: 'p' }] },
    recut: { printed: 7.3 },
    export: { format: '3mf' },
    sample: { largest: 5 },
    fit: { bed: [15, 15, 15] },
    measure: {
      kind: 'points',
      at: [
        [10, 0, 0],
        [-10, 0, 0],
      ],
    },
    thickness: { min: 2 },
    clearance: { kind: 'head' },
    traits: {},
    cuts: { bed: [15, 15, 15], plan: 'clean' },
    whereabouts: { places: [{ name: 'box', kind: 'lie', widthMm: 30, depthMm: 30, heightMm: 15 }] },
  };
  const tried = Object.entries(cases) as [keyof typeof cases, object][];

  it('are tried here, each one but those that need no mesh', () => {
    const need = operationNames.filter((n) => descriptionOf(n).takes === 'mesh');
    expect(Object.keys(cases).sort()).eql(need.sort());
  });

  for (const [name, params] of tried)
    it(`${name}: the same bytes and the same report for the same input, or the same refusal`, async () => {
      const operation = operations[name] as unknown as Operation<object, unknown>;
      const ball = await sphere(10, 24);
      const once = async () => {
        try {
          const {
            outputs,
            report,
            files = [],
          } = await operation.run([{ ...ball }], parseParams(operation.params, params), quietContext);
          const bytes = [...outputs.map(toCanonical), ...files.map((f) => f.bytes)];
          return { bytes: bytes.map((b) => Buffer.from(b).toString('base64')), report };
        } catch (error) {
          // a slip of the program is no refusal
          expect(isMeshError(error), String(error)).equal(true);
          return { refused: (error as Error).message };
        }
      };
      expect(await once()).eql(await once());
    }).timeout(60_000);

  it('stop when cancelled: those that take long look whether they are', async () => {
    const context = {
      ...quietContext,
      checkCancelled() {
        throw cancelledError();
      },
    };
    const mesh = await sphere(10, 32);
    for (const name of [
      'mend',
      'refine',
      'simplify',
      'practice',
      'thicken',
      'hollow',
      'divide',
      'thickness',
      'clearance',
    ] as const) {
      const operation = operations[name] as unknown as Operation<object, unknown>;
      const code = await codeOf(() =>
        operation.run([{ ...mesh }], parseParams(operation.params, cases[name]), context),
      );
      expect(code, name).equal('cancelled');
    }
  }).timeout(60_000);
});

describe('planning', () => {
  it('a long stick fits a cube from corner to corner: sqrt(3) times its edge', async () => {
    const fit = await fitInBed(await box(0.01, 0.01, 100), [100, 100, 100]);
    expect(fit.largestFactor).closeTo(Math.sqrt(3), 2e-3);
    expect(fit.flatFactor).closeTo(1, 1e-4);
  });

  it('a plank fits a square bed along its diagonal (closed form)', async () => {
    // turned by 45 degrees a plank a x b needs (a + b) / sqrt(2) on both sides
    const fit = await fitInBed(await box(200, 20, 300), [180, 180, 300.1]);
    expect(fit.flatFactor).closeTo(Math.min((180 * Math.SQRT2) / 220, 300.1 / 300), 1e-3);
    expect(fit.fits).equal(true);
  });

  it('never says less than it does for a box as it stands', async () => {
    const random = randomFrom(9);
    for (let i = 0; i < 6; i++) {
      const s = [10 + 90 * random(), 10 + 90 * random(), 10 + 90 * random()] as const;
      const fit = await fitInBed(await box(...s), [100, 100, 100]);
      expect(fit.largestFactor).least(100 / Math.max(...s) - 1e-6);
    }
  }).timeout(60_000);

  it('1.75 mm filament of 1.24 g/cm3 weighs 2.98 g a metre; a solid block weighs its volume', async () => {
    expect(gramsPerMetre(1.75, 1.24)).closeTo(2.98, 0.005);
    const profile = parseParams(PrinterProfile, {
      name: 'solid',
      infillPct: 100,
      supports: false,
      startS: 0,
      travelPct: 0,
      wallSpeedMmS: 60,
      infillSpeedMmS: 60,
      maxFlowMm3S: 500,
    });
    const e = estimatePiece(await box(50, 40, 20), profile);
    expect(e.materialG).closeTo(40 * 1.24, 0.02);
    expect(e.filamentM).closeTo(e.materialG / 2.98, 0.05);
    // flow of the trade: 0.45 x 0.2 x 60 = 5.4 mm3/s
    expect(e.byPhase.walls + e.byPhase.fill).closeTo(40_000 / 5.4, 2);
    // each of four sides, three times a layer, begins and ends at rest: v/a more; so does each line of the filling,
    // which are as long as the mean chord of a rectangle, pi A / P (Crofton)
    const inner = 50 * 40 - 180 * 3 * 0.45;
    const lines = inner / 0.45 / ((Math.PI * inner) / 180);
    expect(e.byPhase.halts).closeTo(100 * (3 * 4 + lines) * (60 / 1500), 1);
    expect(e.durationS).closeTo(40_000 / 5.4 + e.byPhase.halts, 2);
    expect(e.energyKWh).closeTo((120 * e.durationS) / 3.6e6, 1e-9);
    // a head that is 500 h old when it is worn out
    const worn = estimatePiece(await box(50, 40, 20), parseParams(PrinterProfile, { ...profile, partLifeH: 500 }));
    expect(worn.wearPct).closeTo(e.durationS / 3600 / 5, 1e-9);
    const slow = estimatePiece(await box(50, 40, 20), parseParams(PrinterProfile, { ...profile, minLayerS: 200 }));
    expect(slow.durationS).closeTo(100 * 200, 1e-6);
  });

  it('speeds up and slows down by the trapezoid; short ways are never run at full speed', async () => {
    // a handbook's: 100 mm at 50 mm/s and 1000 mm/s²: 2 s and 0.05 s; 1 mm of it: 2 sqrt(1/1000)
    expect(trapezoidS(100, 50, 1000)).closeTo(2.05, 1e-12);
    expect(trapezoidS(1, 50, 1000)).closeTo(2 * Math.sqrt(1 / 1000), 1e-12);
    expect(trapezoidS(2.5, 50, 1000)).closeTo(0.1, 1e-12);
    expect(haltsS(10, 100, 50, 1000)).closeTo(0.5, 1e-12);
    // a block of support, 40 x 40 x 50 mm at 15 %: lines of the mean chord of a square, pi/4 of its side, v/a each
    const printer = { layerMm: 0.2, lineWidthMm: 0.45, supportPct: 15, infillSpeedMmS: 60, maxFlowMm3S: 500 };
    const support = Object.assign(new PrinterProfile(), printer, { accelerationMmS2: 1500 });
    const chord = (Math.PI / 4) * 40;
    expect(supportHaltsS(80_000, 50, support)).closeTo(250 * ((1600 * 0.15) / 0.45 / chord) * (60 / 1500), 1e-6);
    expect(supportHaltsS(0, 50, support)).equal(0);
    const ways = async (mesh: TriMesh) => {
      let n = 0;
      sweepLayers(mesh, 5, [0, 0, 1], quietContext, (section) => (n = Math.max(n, waysOf(section))));
      return n;
    };
    expect(await ways(await box(20, 10, 20))).equal(4);
    const { Manifold } = await loadKernel();
    expect(await ways(fromSolid(Manifold.cylinder(20, 10, 10, 128)))).equal(1);
    expect(await ways(fromSolid(Manifold.cylinder(20, 10, 10, 6)))).equal(6);
  });

  it('support under a table is the room under it', async () => {
    const kernel = await loadKernel();
    const table = fromSolid(
      kernel.Manifold.union([
        kernel.Manifold.cube([4, 20, 30]),
        kernel.Manifold.cube([24, 20, 2]).translate([0, 0, 30]),
      ]),
    );
    const e = estimatePiece(table, parseParams(PrinterProfile, { name: 'x', supportPct: 100 }));
    expect(e.supportVolumeMm3).closeTo(20 * 20 * 30, 1);
  });

  it('resin takes its layers, whatever lies in them', async () => {
    const profile = parseParams(PrinterProfile, {
      name: 'r',
      kind: 'resin',
      layerMm: 0.05,
      startS: 0,
      supports: false,
      exposureS: 2,
      bottomExposureS: 30,
      bottomLayers: 5,
      liftS: 8,
    });
    const one = estimatePiece(await box(10, 10, 10), profile);
    const wide = estimatePiece(await box(100, 60, 10), profile);
    expect(one.durationS)
      .equal(wide.durationS)
      .equal(5 * 30 + 195 * 2 + 200 * 8);
    expect(wide.materialMl / one.materialMl).closeTo(60, 1e-6);
    // over three layers the light falls from 30 s by quarters of 28
    const eased = estimatePiece(
      await box(10, 10, 10),
      parseParams(PrinterProfile, { ...profile, transitionLayers: 3 }),
    );
    expect(eased.durationS - one.durationS).closeTo(21 + 14 + 7, 1e-9);
  });
});
