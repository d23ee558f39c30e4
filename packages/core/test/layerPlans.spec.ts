import { expect } from 'chai';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { layers } from '@jasmorphe/core/operations/layers/run';
import type { LayersReport } from '@jasmorphe/core/operations/layers/describe';
import { stops } from '@jasmorphe/core/operations/stops/run';
import { tips } from '@jasmorphe/core/operations/tips/run';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { estimatePiece } from '@jasmorphe/core/planning/estimate';
import { layerUnder, pauseAt, topOfLayer } from '@jasmorphe/core/planning/layers/layerBounds';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { stopLine, stopText } from '@jasmorphe/core/trade/stopKinds';
import { inMm } from '@jasmorphe/core/words/numbers';
import { figures } from '@jasmorphe/core/trade/figures';
import { box, codeOf, run, sphere } from './solids.ts';

const profile = parseParams(PrinterProfile, { name: 'p', startS: 0, supports: false });
const looked = async (mesh: TriMesh, params: object = {}): Promise<LayersReport> =>
  (await run(layers, mesh, params)).report;
const sentences = (r: LayersReport): string[] =>
  layers.findings!.of(parseParams(layers.params, {}), r).map((f) => findingSentence(f, 'mm'));
const solids = async () => (await loadKernel()).Manifold;

describe('layers of a part', () => {
  it('have the areas of a cone by its formula, add up to its volume, and to the hours of the estimate', async () => {
    const M = await solids();
    const cone = fromSolid(M.cylinder(60, 30, 0, 400));
    const report = await looked(cone, { printer: { startS: 0, supports: false } });
    expect([report.layers, report.shown.length]).eql([300, 300]);
    for (const { zMm, areaMm2 } of report.shown.slice(0, -10))
      expect(areaMm2).closeTo(Math.PI * (30 * (1 - zMm / 60)) ** 2, 0.003 * Math.PI * 900);
    const volume = (Math.PI * 900 * 60) / 3;
    expect(report.shown.reduce((a, s) => a + s.areaMm2, 0) * 0.2).closeTo(volume, 0.003 * volume);
    const seconds = report.shown.reduce((a, s) => a + s.durationS, 0);
    expect(seconds).closeTo(estimatePiece(cone, profile).durationS, 1e-6 * seconds);
    expect([report.jumps, report.islands]).eql([[], []]);
  });

  it('are the printer’s own: the first as high as it is set, and tips are counted in them', async () => {
    const M = await solids();
    const printer = { firstLayerMm: 0.3, layerMm: 0.2 };
    const step = M.union([M.cube([20, 20, 10]), M.cube([30, 20, 4]).translate([0, 0, 10])]);
    const mesh = fromSolid(step);
    const report = await looked(mesh, { printer });
    // 0.3 + 0.2 n >= 14
    expect(report.layers).equal(1 + Math.ceil((14 - 0.3) / 0.2));
    expect(report.shown.slice(0, 3).map((l) => Number(l.zMm.toFixed(6)))).eql([0.15, 0.4, 0.6]);
    // layer 49 ends at 0.3 + 48 · 0.2 = 9.9; the middle of the next, at 10, counts as what is over it
    expect(report.jumps[0].layer).equal(49);
    const { report: listed } = await run(tips, mesh, { printer });
    expect(listed.tips.length).above(0);
    expect(listed.tips.every((t) => t.layer === 49)).equal(true);
  });

  it('jumps stand where they are, the largest first', async () => {
    const M = await solids();
    const steps = M.union([
      M.cube([40, 40, 10]),
      M.cube([10, 10, 30]),
      M.cube([30, 30, 5]).translate([0, 0, 20]),
      M.cube([20, 20, 5]).translate([0, 0, 15]),
    ]);
    const { jumps } = await looked(fromSolid(steps));
    expect(jumps.slice(0, 2).map((j) => [Math.round(j.zMm * 10) / 10, Math.round(j.byMm2)])).eql([
      [20.1, 500],
      [15.1, 300],
    ]);
  });

  it('a thin pin is laid too fast to set, a broad block is not; resin is never', async () => {
    const pin = await looked(await box(4, 4, 20));
    expect(pin.fast).length(1);
    expect(pin.fast[0]).deep.include({ fromLayer: 0, toLayer: 99, fromMm: 0, toMm: 20 });
    expect(pin.fast[0].leastS).below(figures.coolLayerS.value);
    expect(sentences(pin)[0]).match(/^Layers 1 to 100, from 0 mm to 20\.0 mm, are laid in as little as/);
    expect((await looked(await box(80, 80, 4))).fast).eql([]);
    expect((await looked(await box(4, 4, 20), { printer: { kind: 'resin', layerMm: 0.1 } })).fast).eql([]);
  });
});

describe('heights by slope', () => {
  it('an upright wall takes the thickest layers that the nozzle lays; time goes with their number', async () => {
    const { variable } = await looked(await box(60, 60, 40));
    const thick = 0.28;
    expect(variable!.zones).eql([{ fromMm: 0, toMm: 40, layerMm: thick }]);
    expect(thick).most(0.75 * 0.4);
    // neither speed is held back by the melt at these heights, so seconds go with the number of layers
    expect(variable!.durationS / variable!.evenS).closeTo(0.2 / thick, 0.01);
  });

  it('a ball is thin where it leans and thick at its belt, and no step is higher than wished', async () => {
    const { variable } = await looked(await sphere(30, 128));
    const at = (mm: number) => variable!.zones.find((z) => z.fromMm <= mm && mm < z.toMm)!.layerMm;
    expect(at(30)).above(at(50)).least(at(58));
    expect(variable!.zones[0].fromMm).equal(0);
    for (const [i, z] of variable!.zones.entries()) expect(z.toMm).equal(variable!.zones[i + 1]?.fromMm ?? 60);
    // thinnest layers of the nozzle are 0.12 mm: nearly level skin cannot have lower steps (Dolenc and Mäkelä 1994)
    expect(variable!.stepMm).most(Math.max(0.12, 0.2 * Math.SQRT1_2) + 1e-9);
    expect(variable!.stepMm).below(variable!.evenStepMm);
  });
});

describe('pauses', () => {
  it('stop on the boundary at or under the height, never above it, nor outside the part', () => {
    const printer = { ...profile, firstLayerMm: 0.3, layerMm: 0.2 };
    for (const [asked, layer, at] of [
      [0.3, 0, 0.3],
      [0.49, 0, 0.3],
      [0.5, 1, 0.5],
      [12.5, 61, 12.5],
      [12.69, 61, 12.5],
    ]) {
      const pause = pauseAt(asked, 40, printer)!;
      expect([pause.afterLayer, Number(pause.atMm.toFixed(6))]).eql([layer, at]);
    }
    expect([pauseAt(0.2, 40, printer), pauseAt(41, 40, printer)]).eql([null, null]);
    for (let layer = 0; layer < 500; layer++) expect(layerUnder(topOfLayer(layer, printer), printer)).equal(layer);
  });

  it('a nut goes in before its roof begins; one that is too high would be hit by the head', async () => {
    const M = await solids();
    const pocket = fromSolid(M.cube([20, 20, 20]).subtract(M.cube([8, 8, 5.1]).translate([6, 6, 8])));
    const at = [[10, 10, 10]];
    const [fits] = (await looked(pocket, { inserts: at, insertHeight: 4 })).inserts;
    expect(fits!.floorMm).closeTo(8, 1e-5);
    expect(fits!.roofMm).closeTo(13.1, 1e-5);
    expect(fits!.atMm).closeTo(13, 1e-6);
    expect(fits!.standsOutMm).closeTo(-1, 1e-4);
    const high = await looked(pocket, { inserts: at, insertHeight: 5.05 });
    expect(high.inserts[0]!.standsOutMm).closeTo(0.05, 1e-4);
    expect(sentences(high).join()).match(/stands out by/);
    const bowl = fromSolid(M.cube([20, 20, 20]).subtract(M.cube([8, 8, 20]).translate([6, 6, 8])));
    const open = await looked(bowl, {
      inserts: [
        [10, 10, 10],
        [2, 2, 2],
      ],
    });
    expect(open.inserts[0]).deep.include({ roofMm: null, atMm: null, standsOutMm: null });
    expect(open.inserts[1]).equal(null);
  });

  it('are kept by height or place, in order, with how much of the print is over then', async () => {
    const M = await solids();
    // a block of 20 x 20 x 20, and on it one of 10 x 10 x 20
    const tower = fromSolid(M.cube([20, 20, 20]).add(M.cube([10, 10, 20]).translate([5, 5, 20])));
    const printer = { startS: 0, layerMm: 0.2, firstLayerMm: 0.2, walls: 1, infillPct: 100, accelerationMmS2: 1e5 };
    const { report } = await run(stops, tower, {
      printer,
      stops: [
        { what: 'other', at: [5, 10, 30], words: 'look' },
        { what: 'colour', mm: 20.1, words: 'brass' },
        { what: 'colour', mm: 0.05 },
        { what: 'other', mm: 80 },
        { what: 'other' },
      ],
    });
    expect(report.stops.map((s) => [s.wish, s.afterLayer, s.trouble])).eql([
      [1, 99, null],
      [0, 149, null],
      [2, null, 'before-first'],
      [3, null, 'above'],
      [4, null, 'no-place'],
    ]);
    const [brass, look] = report.stops;
    expect([brass.atMm, look.atMm].map((mm) => Number(mm!.toFixed(6)))).eql([20, 30]);
    // solid all through: time goes by flesh, 8000 mm³ under the first and 2000 over it
    expect(brass.share!).closeTo(0.8, 0.01);
    expect(look.share!).closeTo(0.9, 0.01);
    expect(stopLine({ afterLayer: 99, atMm: 20 }, stopText(brass), inMm)).equal(
      'after layer 100, 20.0 mm up: another colour, brass',
    );
    // the same place, laid on its side, is another height
    const side = await run(stops, tower, { up: [1, 0, 0], stops: [{ what: 'colour', at: [12, 10, 10] }] });
    expect(side.report.stops[0].atMm!).closeTo(12, 0.21);
  });

  it('what is put in may be picked on the ground of the hollow, its wall, or in the air', async () => {
    const M = await solids();
    const pocket = fromSolid(M.cube([20, 20, 20]).subtract(M.cube([8, 8, 5.1]).translate([6, 6, 8])));
    const stopsAt = async (at: number[], highMm = 4) =>
      (await run(stops, pocket, { stops: [{ what: 'insert', at, highMm, words: 'nut' }] })).report;
    for (const at of [
      [10, 10, 8],
      [6, 10, 10],
      [10, 10, 10],
    ]) {
      const [stop] = (await stopsAt(at)).stops;
      expect(stop.atMm!, at.join()).closeTo(13, 1e-6);
      expect(stop.standsOutMm!).closeTo(-1, 1e-4);
    }
    const high = await stopsAt([10, 10, 9], 5.05);
    const found = stops.findings!.of(parseParams(stops.params, {}), high).map((f) => findingSentence(f, 'mm'));
    expect(found.join()).match(/^What is put in stands out by 0.05/);
    expect((await stopsAt([1e300, 0, 1e308])).stops[0].trouble).equal('no-place');
    // on the outer skin there is no hollow, nor does anything close over it
    const outside = await stopsAt([20, 10, 10]);
    expect(outside.stops[0].trouble).equal('stays-open');
    expect((await stopsAt([2, 2, 2])).stops[0].trouble).equal('no-hollow');
    const said = stops.findings!.of(parseParams(stops.params, {}), outside).map((f) => findingSentence(f, 'mm'));
    expect(said[0]).equal('A stop (put something in) comes to nothing: nothing closes over it: it goes in afterwards.');
  });

  it('what is no height is refused', async () => {
    const wrong = (wish: object) => codeOf(async () => run(stops, await box(10, 10, 10), { stops: [wish] }));
    expect(await wrong({ what: 'paint', mm: 5 })).equal('bad-params');
    expect(await wrong({ what: 'colour', mm: -5 })).equal('bad-params');
    expect(await wrong({ what: 'colour', at: [1, 2] })).equal('bad-params');
    expect(await wrong({ what: 'colour', mm: 5, words: 'x'.repeat(61) })).equal('bad-params');
    expect(
      await codeOf(async () => run(stops, await box(10, 10, 10), { stops: Array(21).fill({ what: 'other', mm: 1 }) })),
    ).equal('bad-params');
    const cube = await box(10, 10, 10);
    expect(await codeOf(() => looked(cube, { pauses: [-1] }))).equal('bad-params');
    expect(await codeOf(() => looked(cube, { pauses: Array(21).fill(1) }))).equal('bad-params');
    expect(await codeOf(() => looked(cube, { inserts: [[1, 2]] }))).equal('bad-params');
  });
});
