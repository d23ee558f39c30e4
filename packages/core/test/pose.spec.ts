import { expect } from 'chai';
import fc from 'fast-check';
import { createRequire } from 'node:module';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { normalize, placeMesh, rotationToZ, scaleMesh } from '@jasmorphe/core/mesh/transform';
import { mend } from '@jasmorphe/core/operations/mend/run';
import { simplify } from '@jasmorphe/core/operations/simplify/run';
import { pose } from '@jasmorphe/core/operations/pose/run';
import { takenOf, type PoseReport } from '@jasmorphe/core/operations/pose/describe';
import { whyOf } from '@jasmorphe/core/operations/pose/why';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { spreadRotations } from '@jasmorphe/core/planning/bedFit';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { printingOf } from '@jasmorphe/core/planning/profileFields';
import { cellFor, columnsOf } from '@jasmorphe/core/planning/pose/columns';
import { neighboursOf, startsInAir } from '@jasmorphe/core/planning/pose/minima';
import { lossOf } from '@jasmorphe/core/planning/pose/poseCost';
import { posedSkin, riseOf } from '@jasmorphe/core/planning/pose/PosedSkin';
import { footOf, tipDeg } from '@jasmorphe/core/planning/pose/stance';
import { stepsOf } from '@jasmorphe/core/planning/pose/StandIn';
import { rulesOf, supportUnder, underneath } from '@jasmorphe/core/planning/pose/underneath';
import { quietContext } from '@jasmorphe/core/run/context';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { figures } from '@jasmorphe/core/trade/figures';
import { inMm } from '@jasmorphe/core/words/numbers';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, hook, codeOf, moved, run, sphere, without } from './solids.ts';
import { spentMs } from './spent.ts';

const require = createRequire(import.meta.url);
const filament = parseParams(PrinterProfile, { name: 'f' });
const resin = parseParams(PrinterProfile, { name: 'r', kind: 'resin', layerMm: 0.1, bedMm: [200, 120, 220] });
const posed = async (mesh: TriMesh, params: object = {}): Promise<PoseReport> => (await run(pose, mesh, params)).report;
const solids = async () => (await loadKernel()).Manifold;
const underTo = (mesh: TriMesh, exact: number, share: number, profile = filament): void =>
  void expect(supportUnder(mesh, profile, quietContext)).closeTo(exact, share * exact);

/** A bowl standing on its foot: outer and inner half balls, open above. */
async function bowl(): Promise<TriMesh> {
  const M = await solids();
  const whole = M.sphere(30, 96).subtract(M.sphere(25, 96));
  return fromSolid(whole.trimByPlane([0, 0, -1], 0).translate([0, 0, 30]));
}

describe('columns through a solid', () => {
  it('have a way in for every way out, and hold the volume, however it lies', async () => {
    const M = await solids();
    const ring = fromSolid(
      M.cylinder(20, 40, 40, 48)
        .subtract(M.cylinder(20, 25, 25, 48))
        .subtract(M.cube([30, 9, 9])),
    );
    const turns = spreadRotations(400);
    fc.assert(
      fc.property(fc.nat(399), (i) => {
        const mesh = placeMesh(ring, turns[i]);
        const bounds = boundsOf(mesh);
        const { start, z, triangle, rises, nx, ny, cellMm } = columnsOf(
          mesh,
          bounds,
          cellFor(bounds, 160),
          quietContext,
        );
        let sum = 0;
        const wrong: number[] = [];
        for (let c = 0; c < nx * ny; c++) {
          let depth = 0;
          for (let k = start[c]; k < start[c + 1]; k++) {
            depth += rises[triangle[k]] ? -1 : 1;
            sum += rises[triangle[k]] ? z[k] : -z[k];
            if (k > start[c] && z[k] < z[k - 1]) wrong.push(c);
          }
          if (depth !== 0) wrong.push(c);
        }
        expect(wrong).eql([]);
        expect(sum * cellMm * cellMm).closeTo(volumeOf(mesh), 0.01 * volumeOf(mesh));
      }),
      { numRuns: 25 },
    );
  });
});

describe('sections in slabs', () => {
  it('of a cone with a round bore: frusta less what is bored out, the first and the last slab by their share', async () => {
    const M = await solids();
    const mesh = fromSolid(M.cylinder(40, 20, 0.001, 256).subtract(M.cylinder(30, 4, 4, 256)));
    const bounds = boundsOf(mesh);
    const slabs = 7;
    const columns = columnsOf(mesh, bounds, cellFor(bounds, 600), quietContext);
    const up: Vec3 = [0, 0, 1];
    const skin = posedSkin(mesh, []);
    const { areas } = underneath(
      skin,
      riseOf(skin, up),
      columns,
      { floor: 0, top: 40 },
      rulesOf(filament, [], slabs),
      (at) => at,
    );
    const bored = (z: number) => 16 * Math.min(z, 30);
    const below = (z: number) => Math.PI * ((400 * 40 * (1 - (1 - z / 40) ** 3)) / 3 - bored(z));
    const h = 40 / slabs;
    areas.forEach((a, i) => expect(a * h, `slab ${i}`).closeTo(below((i + 1) * h) - below(i * h), 0.01 * below(h)));
  });
});

describe('support under a solid (closed forms)', () => {
  it('of a table: its leaf by its height', async () => {
    const M = await solids();
    underTo(fromSolid(M.union([M.cube([4, 20, 30]), M.cube([24, 20, 2]).translate([0, 0, 30])])), 20 * 20 * 30, 1e-3);
  });

  it('of a T: under both arms', async () => {
    const M = await solids();
    const t = M.union([M.cube([20, 20, 50]).translate([-10, -10, 0]), M.cube([100, 20, 10]).translate([-50, -10, 50])]);
    underTo(fromSolid(t), 80 * 20 * 50, 1e-3);
  });

  it('of an arch: where its round leans out by more than 45 degrees', async () => {
    const M = await solids();
    const legs = M.cube([120, 30, 90])
      .translate([-60, 0, 0])
      .subtract(M.cube([80, 32, 20]).translate([-40, -1, -0.001]));
    const arch = legs.subtract(M.cylinder(32, 40, 40, 512).rotate([-90, 0, 0]).translate([0, -1, 20]));
    const c = 40 * Math.SQRT1_2;
    underTo(fromSolid(arch), 30 * (2 * 20 * c + c * Math.sqrt(1600 - c * c) + 1600 * Math.asin(c / 40)), 0.01);
  });

  it('of a leaning cylinder', async () => {
    const M = await solids();
    const [r, long, lean] = [10, 100, Math.PI / 3];
    const edge = Math.acos(Math.SQRT1_2 / Math.sin(lean));
    const exact =
      r *
      Math.sin(lean) *
      (long ** 2 * Math.cos(lean) * Math.sin(edge) +
        long * r * Math.sin(lean) * (2 * Math.sin(edge) - edge - Math.sin(edge) * Math.cos(edge)));
    underTo(fromSolid(M.cylinder(long, r, r, 720).rotate([0, 60, 0])), exact, 0.015);
  });

  it('is none where filament bridges between two sides; resin bridges nothing', async () => {
    const M = await solids();
    const gate = (wide: number) =>
      fromSolid(
        M.cube([60, 20, 30])
          .translate([-30, 0, 0])
          .subtract(M.cube([wide, 22, 20]).translate([-wide / 2, -1, -1])),
      );
    const most = figures.bridgeMm.value;
    expect(supportUnder(gate(most - 1), filament, quietContext)).equal(0);
    underTo(gate(most + 2), (most + 2) * 20 * 19, 0.02);
    underTo(gate(most - 1), (most - 1) * 20 * 19, 0.03, resin);
    // the roof of a hole that lies, and a leaf that is held at one side alone
    const hole = M.cube([40, 30, 20]).subtract(M.cylinder(32, 4, 4, 64).rotate([-90, 0, 0]).translate([20, -1, 10]));
    expect(supportUnder(fromSolid(hole), filament, quietContext)).equal(0);
    const shelf = M.union([M.cube([10, 20, 30]), M.cube([17, 20, 4]).translate([0, 0, 26])]);
    underTo(fromSolid(shelf), 7 * 20 * 26, 0.03);
  });

  it('skin that nobody looks at carries no marks, on the side that is painted alone', async () => {
    const M = (await loadKernel()).Manifold;
    // a plate of 2 mm on a post: 36 x 36 less the post is held up from below
    const table = fromSolid(
      M.cube([4, 4, 20])
        .translate([16, 16, 0])
        .add(M.cube([36, 36, 2]).translate([0, 0, 20])),
    );
    const scarOf = async (hidden: object[]) =>
      (await posed(table, { up: [0, 0, 1], printer: { overhangDeg: 45 }, hidden })).poses[0];
    const plain = await scarOf([]);
    expect(plain.scarMm2).above(900);
    // from below, far around: no mark is seen any more
    expect((await scarOf([{ at: [5, 5, 20], radiusMm: 60 }])).scarMm2).equal(0);
    // the same place from above is the other side of the plate: 2 mm off, and another skin
    const above = await scarOf([{ at: [5, 5, 22], radiusMm: 60 }]);
    expect(above.scarMm2).closeTo(plain.scarMm2, 1e-6);
    // steps are judged on what is seen: a level top has none, hidden or not
    expect(above.supportMm3).equal(plain.supportMm3);
    expect(await codeOf(() => scarOf([{ at: [1, 2], radiusMm: 5 }]))).equal('bad-params');
    expect(await codeOf(() => scarOf([{ at: [1, 2, 3], radiusMm: 0 }]))).equal('bad-params');
  });

  it('sets apart what stands in a shut cavity, and in boxes kept bare', async () => {
    const M = await solids();
    const shell = fromSolid(M.cube([60, 60, 60]).subtract(M.cube([40, 40, 40]).translate([10, 10, 10])));
    const [shut] = (await posed(shell, { up: [0, 0, 1] })).poses;
    expect(shut.supportMm3).equal(0);
    expect(shut.insideMm3).closeTo(40 ** 3, 0.01 * 40 ** 3);
    const table = fromSolid(M.union([M.cube([4, 20, 30]), M.cube([44, 20, 2]).translate([0, 0, 30])]));
    const bare = [{ min: [24, -1, 0], max: [60, 30, 40] }];
    const [part] = (await posed(table, { up: [0, 0, 1], bare })).poses;
    expect(part.supportMm3).closeTo(20 * 20 * 30, 0.02 * 12_000);
    expect(part.bareMm2).closeTo(20 * 20, 8);
    expect(part.toBedMm3 + part.toPartMm3).closeTo(part.supportMm3, 1e-6);
  });
});

describe('what a solid stands on', () => {
  it('foot and tip of a block; a round stands on the strip of its first layer', async () => {
    const [block] = (await posed(await box(40, 30, 80), { up: [0, 0, 1] })).poses;
    expect(block.footMm2).closeTo(1200, 1e-3);
    // middle of the flesh 40 up, 15 from the near side
    expect(block.tipDeg).closeTo((Math.atan2(15, 40) * 180) / Math.PI, 1e-3);
    const M = await solids();
    const rod = fromSolid(M.cylinder(100, 10, 10, 2000).rotate([0, 90, 0]));
    const { min } = boundsOf(rod);
    const rise = riseOf(posedSkin(rod, []), [0, 0, 1]);
    // chord of a circle at height h: 2 sqrt(2 r h - h²)
    const exact = 100 * 2 * Math.sqrt(2 * 10 * 0.2 - 0.04);
    expect(footOf(rod, rise, min[2] + 0.2).areaMm2).closeTo(exact, 0.02 * exact);
    expect(tipDeg([], [0, 0, 5], 0)).equal(-90);
    expect(tipDeg([0, 0, 10, 0, 0, 10], [20, 20, 5], 0)).below(0);
  });

  it('a tall part on a small foot is said to be knocked over easily, though support holds it, and that weighs', async () => {
    const M = await solids();
    // a mushroom: 216 mm high on a stem that is 3 mm across
    const stem = M.cylinder(60, 1.5, 1.5, 32);
    const cap = M.cylinder(156, 40, 40, 64).translate([0, 0, 60]);
    const mushroom = fromSolid(stem.add(cap));
    const report = await posed(mushroom, { up: [0, 0, 1] });
    const [up] = report.poses;
    expect(up.footMm2).below(8);
    // on the stem: 1.5 mm beside the middle of the flesh, about 138 mm up; with support the 40 mm of the cap
    expect(up.tipDeg).closeTo((Math.atan2(1.5, 138) * 180) / Math.PI, 0.1);
    expect(up.heldDeg).closeTo((Math.atan2(40, 138) * 180) / Math.PI, 1.5);
    const [found] = pose.findings!.of(parseParams(pose.params, {}), report);
    expect(findingSentence(found)).match(
      /216 mm high on a foot of 7\.\d mm², falls over when it leans by 1° without its support/,
    );
    const profile = parseParams(PrinterProfile, { name: 'p' });
    expect(lossOf({ ...up, seenMm2: 1 }, profile)).above(
      lossOf({ ...up, seenMm2: 1, tipDeg: up.heldDeg }, profile) + 0.05,
    );
    // upside down it stands, and is advised
    const { poses, chosen } = await posed(mushroom, {});
    expect([chosen, poses.find((p) => p.school === 'best')!.up.z < -0.9]).eql(['best', true]);
  });

  it('steps of a slope are a layer by the upright share of its normal (Dolenc and Mäkelä 1994)', async () => {
    const skin = posedSkin(placeMesh(await box(100, 100, 1e-3), rotationToZ(normalize([1, 0, 1]))), []);
    expect(stepsOf(skin, riseOf(skin, [0, 0, 1]), 0.2).stepMm).closeTo(0.2 * Math.SQRT1_2, 1e-3);
    const level = posedSkin(await box(100, 100, 1e-3), []);
    expect(stepsOf(level, riseOf(level, [0, 0, 1]), 0.2).stepMm).below(1e-5);
  });

  it('skin that is glued is not seen', async () => {
    const cube = await box(10, 10, 10);
    const skin = posedSkin(cube, [{ normal: [0, 0, 1], offset: 10 }]);
    expect(stepsOf(skin, riseOf(skin, [1, 0, 0]), 0.2).seenMm2).closeTo(500, 1e-3);
    // a plane that lies elsewhere hides nothing
    expect(posedSkin(cube, [{ normal: [0, 0, 1], offset: 9 }]).seen.every((s) => s === 1)).equal(true);
  });
});

describe('what starts in mid-air', () => {
  it('a hanging peg, by its lowest point and by the layers', async () => {
    const mesh = await hook();
    const [found] = (await posed(mesh, { up: [0, 0, 1] })).poses;
    expect(found.islands).equal(1);
    expect(found.islandPlaces[0].areaMm2).closeTo(36, 1e-3);
    expect(found.islandPlaces[0].at.z).within(25, 25.5);
    const skin = posedSkin(mesh, []);
    const rise = riseOf(skin, [0, 0, 1]);
    const heights = mesh.positions.filter((_, i) => i % 3 === 2);
    const tilt = new Float32Array(heights.length);
    mesh.triangles.forEach((v, h) => (tilt[v] += rise[Math.floor(h / 3)] * skin.areas[Math.floor(h / 3)]));
    expect(startsInAir(neighboursOf(mesh), heights, tilt, 0.2, 1e-3)).equal(1);
  });
});

describe('cups', () => {
  const cupsOf = async (mesh: TriMesh, up: Vec3) =>
    (await posed(mesh, { up, printer: printingOf(resin) })).poses[0].cups;

  it('a bowl is one whichever way it lies flat, and none on its side or with a hole at its lowest', async () => {
    const mesh = await bowl();
    const half = (2 / 3) * Math.PI * 25 ** 3;
    for (const up of [
      [0, 0, 1],
      [0, 0, -1],
    ] as Vec3[]) {
      const cups = await cupsOf(mesh, up);
      expect(cups.map((c) => c.volumeMm3)).length(1);
      expect(cups[0].volumeMm3).closeTo(half, 0.02 * half);
    }
    expect(await cupsOf(mesh, [1, 0, 0])).eql([]);
    const M = await solids();
    const drained = fromSolid(
      M.sphere(30, 96)
        .subtract(M.sphere(25, 96))
        .trimByPlane([0, 0, -1], 0)
        .subtract(M.cylinder(40, 3, 3, 24).translate([0, 0, -40]))
        .rotate([180, 0, 0]),
    );
    // mouth down: the hole is at the top, so the hollow is shut off all the same until it is reached
    expect(await cupsOf(drained, [0, 0, 1])).length(1);
    const low = fromSolid(
      M.sphere(30, 96)
        .subtract(M.sphere(25, 96))
        .trimByPlane([0, 0, 1], 0)
        .subtract(M.cube([80, 6, 4]).translate([0, -3, -1])),
    );
    // a notch in the rim that stands on the bed lets the resin out
    expect(await cupsOf(low, [0, 0, 1])).eql([]);
  });
});

describe('the pose of a part', () => {
  it('a plate lies on its broad side, whatever way it comes', async () => {
    const plate = placeMesh(await box(60, 40, 8), rotationToZ(normalize([1, 2, 3])));
    const report = await posed(plate);
    expect(report.fits).equal(true);
    const best = takenOf(report);
    expect(best.heightMm).closeTo(8, 1e-2);
    expect(best.footMm2).closeTo(2400, 1);
    for (const school of ['flat', 'low'] as const)
      expect(report.poses.find((p) => p.school === school)!.heightMm).closeTo(8, 1e-2);
    const lean = report.poses.find((p) => p.school === 'lean')!;
    const tilt = (Math.acos(lean.up.x * best.up.x + lean.up.y * best.up.y + lean.up.z * best.up.z) * 180) / Math.PI;
    expect(tilt).within(figures.leanLeastDeg.value - 0.1, figures.leanMostDeg.value + 0.1);
  });

  it('a T lies on its side, and says why', async () => {
    const M = await solids();
    const t = M.union([M.cube([20, 20, 50]).translate([-10, -10, 0]), M.cube([100, 20, 10]).translate([-50, -10, 50])]);
    const report = await posed(fromSolid(t));
    const best = takenOf(report);
    expect(Math.abs(best.up.y)).closeTo(1, 1e-3);
    expect(best.supportMm3).equal(0);
    expect(whyOf(best, report.poses, inMm)).match(/^It costs least in all: .* of printing/);
  });

  it('a rabbit sits (scan of the package bunny); no other school costs less, and each is best at its own', async () => {
    const scan = require('bunny') as { positions: number[][]; cells: number[][] };
    const raw = { positions: Float32Array.from(scan.positions.flat()), triangles: Uint32Array.from(scan.cells.flat()) };
    const tolerance = 0.004 * Math.max(...sizeOf(boundsOf(raw)));
    const whole = (await run(simplify, (await run(mend, raw, {})).outputs[0], { tolerance })).outputs[0];
    const factor = 120 / Math.max(...sizeOf(boundsOf(whole)));
    const { poses, chosen, looked } = await posed(scaleMesh(whole, [factor, factor, factor]));
    const of = Object.fromEntries(poses.map((p) => [p.school, p]));
    expect(chosen).equal('best');
    expect(looked).above(500);
    // its feet are at the lowest y of the scan
    expect(of.best.up.y).above(0.98);
    for (const p of poses) {
      expect(p.costS).least(of.best.costS);
      expect(p.heightMm).least(of.low.heightMm);
      expect(p.handS + 0.02 * p.costS).least(of.stand.handS + 0.02 * of.stand.costS);
    }
  });

  it('goes onto the face that is picked, or the way that is told, and does not search then', async () => {
    const wedge = await box(50, 40, 30);
    const report = await posed(wedge, { face: [50, 20, 15] });
    expect(report).deep.include({ chosen: 'own', looked: 1, fits: true });
    expect(report.poses[0].up.x).closeTo(-1, 1e-6);
    expect(report.poses[0].heightMm).closeTo(50, 1e-3);
    const [told] = (await posed(wedge, { up: [0, 2, 0], school: 'flat' })).poses;
    expect([told.school, told.up.y]).eql(['flat', 1]);
  });

  it('one school alone is what all together give', async () => {
    const mesh = await hook();
    const all = await posed(mesh);
    const [low] = (await posed(mesh, { school: 'low', compare: false })).poses;
    expect(low.heightMm).closeTo(all.poses.find((p) => p.school === 'low')!.heightMm, 0.05);
    expect(await posed(mesh)).eql(all);
  });

  it('what fits aslant alone is laid aslant; what fits in no pose says so', async () => {
    const printer = { bedMm: [100, 100, 100], marginMm: 0 };
    const rod = await posed(await box(150, 4, 4), { printer, compare: false });
    expect(rod.fits).equal(true);
    expect(takenOf(rod).fits).equal(true);
    const long = await posed(moved(await box(300, 4, 4), 5, 5, 5), { printer, compare: false });
    expect(long.fits).equal(false);
    const found = pose.findings!.of(parseParams(pose.params, {}), long);
    expect(found.map((f) => f.kind)).include('too-large');
    const out = await posed(await box(90, 4, 4), { printer: { bedMm: [100, 100, 50], marginMm: 0 }, up: [1, 0, 0] });
    const told = pose.findings!.of(parseParams(pose.params, {}), out).map((f) => findingSentence(f, 'mm'));
    expect(told.join()).match(/reaches beyond the bed as it lies/);
  });

  it('a post that is hardly held is told', async () => {
    const post = await posed(await box(6, 6, 120), { up: [0, 0, 1] });
    const told = pose.findings!.of(parseParams(pose.params, {}), post).map((f) => findingSentence(f, 'mm'));
    expect(told.join()).match(/falls over when it leans by 3°/);
  });

  it('resin by its layers: time goes with the height alone', async () => {
    const block = await box(20, 30, 60);
    const [high] = (await posed(block, { up: [0, 0, 1], printer: printingOf(resin) })).poses;
    const [flat] = (await posed(block, { up: [1, 0, 0], printer: printingOf(resin) })).poses;
    const perLayer = resin.exposureS + resin.liftS;
    expect(high.durationS - flat.durationS).closeTo(perLayer * ((60 - 20) / resin.layerMm), 1e-6);
    expect(flat.maxPeelMm2).closeTo(1800, 0.5);
  });
});

describe('what cannot be posed', () => {
  it('is refused with what to try', async () => {
    const cube = await box(10, 10, 10);
    expect(await codeOf(() => posed(without(cube, new Set([3]))))).equal('not-solid');
    expect(await codeOf(() => posed({ ...cube, triangles: cube.triangles.slice().reverse() }))).equal('not-solid');
    expect(await codeOf(() => posed(cube, { up: [0, 0, 0] }))).equal('bad-params');
    expect(await codeOf(() => posed(cube, { school: 'upside' }))).equal('bad-params');
    expect(await codeOf(() => posed(cube, { printer: { bedMm: [10, 10, 10], marginMm: 6 } }))).equal('bad-params');
    for (const [printer, says] of [
      [{ layerMm: -1 }, /"Layer, mm" must be/],
      [{ nozle: 1 }, /there is no field "nozle"/],
      [7, /it is no object/],
    ] as const)
      expect(() => parseParams(pose.params, { printer })).throws(MeshError, says);
  });

  it('a cancel ends the search at once', async () => {
    const mesh = await sphere(40, 120);
    let looks = 0;
    const context = {
      ...quietContext,
      checkCancelled() {
        if (++looks > 40) throw new MeshError('cancelled', 'Cancelled.');
      },
    };
    const start = spentMs();
    expect(await codeOf(() => pose.run([mesh], parseParams(pose.params, {}), context))).equal('cancelled');
    expect(spentMs() - start).below(2000);
  });
});
