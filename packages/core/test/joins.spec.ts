import { expect } from 'chai';
import fc from 'fast-check';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf, concatMeshes, sizeOf, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { normalize } from '@jasmorphe/core/mesh/transform';
import { bodiesOf } from '@jasmorphe/core/repair/bodiesOf';
import type { DivideReport, DivideParams } from '@jasmorphe/core/operations/divide/describe';
import { fitGauge } from '@jasmorphe/core/operations/divide/fitGauge';
import { looseMeshes } from '@jasmorphe/core/operations/divide/joins/looseMesh';
import { wordOutline } from '@jasmorphe/core/operations/divide/tags';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { operations } from '@jasmorphe/core/operations/runs';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { fromSolid, loadKernel, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { figures } from '@jasmorphe/core/trade/figures';
import { boltSizes } from '@jasmorphe/core/trade/fasteners';
import { glyphs } from '@jasmorphe/core/words/glyphOutlines';
import { box, codeOf, run, sphere } from './solids.ts';

const { divide, hollow } = operations;

const cutAt = (z: number): { at: DivideParams['at'] } => ({ at: [{ axis: 'z', mm: z }] });
const parted = async (mesh: TriMesh, params: object): Promise<{ outputs: TriMesh[]; report: DivideReport }> =>
  run(divide, mesh, { bed: [400, 400, 400], ...params });

/** Volume that two meshes have in common, mm³. */
const common = (a: TriMesh, b: TriMesh, move: Vec3 = [0, 0, 0]): Promise<number> =>
  withSolids((kernel, keep) => {
    const moved = keep(keep(toSolid(kernel, b)).translate([...move]));
    return keep(keep(toSolid(kernel, a)).intersect(moved)).volume();
  });

/** Least distance between two meshes that do not meet, up to 5 mm. */
const gap = (a: TriMesh, b: TriMesh): Promise<number> =>
  withSolids((kernel, keep) => keep(toSolid(kernel, a)).minGap(keep(toSolid(kernel, b)), 5));

const area = (across: number): number => (48 / 2) * (across / 2) ** 2 * Math.sin((2 * Math.PI) / 48);

describe('joins', () => {
  it('a pin and its hole differ by exactly the clearance on all sides, by closed form', async () => {
    for (const clearance of [0.1, 0.25]) {
      const plain = await parted(await box(60, 60, 80), cutAt(40));
      const { report, outputs } = await parted(await box(60, 60, 80), { ...cutAt(40), join: 'key', clearance });
      const [below, above] = report.parts;
      expect(below.joins.map((j) => j.diameterMm)).eql([6, 5]);
      // square holes in circles of 6 and 5, grown by the clearance on each of the four sides and at the end
      const holes = [6, 5].reduce((v, d) => v + (d / Math.SQRT2 + 2 * clearance) ** 2 * (d + clearance), 0);
      const [withPins, withHoles] = below.joins[0].role === 'pin' ? [0, 1] : [1, 0];
      expect(plain.report.parts[withHoles].volumeMm3 - report.parts[withHoles].volumeMm3).closeTo(holes, 0.01);
      // pulled apart by as much as the clearance at the end, the sides stand off by the clearance
      const lifted = concatMeshes([outputs[withPins]]);
      for (let i = 2; i < lifted.positions.length; i += 3) lifted.positions[i] += (withPins === 0 ? -1 : 1) * clearance;
      expect(await gap(lifted, outputs[withHoles])).closeTo(clearance, 1e-3);
      expect(above.joins.map((j) => j.to)).eql(['A1', 'A1']);
    }
  });

  it('round holes take what their polygon of 48 sides has; a dowel fits in with half a millimetre to spare', async () => {
    const plain = await parted(await box(60, 60, 80), cutAt(40));
    const { report } = await parted(await box(60, 60, 80), { ...cutAt(40), join: 'dowel', clearance: 0.15 });
    const grown = (d: number): number => d + (2 * 0.15) / Math.cos(Math.PI / 48);
    const holes = [6, 5].reduce((v, d) => v + area(grown(d)) * (d + 0.15), 0);
    for (const i of [0, 1]) expect(plain.report.parts[i].volumeMm3 - report.parts[i].volumeMm3).closeTo(holes, 0.05);
    expect(report.loose.map((l) => [l.kind, l.acrossMm, l.count])).eql([
      ['dowel', 6, 1],
      ['dowel', 5, 1],
    ]);
    expect(report.loose[0].lengthMm).closeTo(2 * 6.15 - 0.5, 1e-9);
    const loose = await looseMeshes(report.loose);
    expect(loose.map((l) => l.name)).eql(['1 of dowel 6 x 11.8', '1 of dowel 5 x 9.8']);
    const [x, y] = sizeOf(boundsOf(loose[0].mesh));
    expect(x).closeTo(11.8, 1e-4);
    expect(y).closeTo(6 * Math.cos(Math.PI / 48), 1e-3);
  });

  it('every kind is made on slabs, leaves sound parts, and they slide together along the way of the order', async () => {
    for (const join of ['pin', 'key', 'dowel', 'square', 'tongue', 'dovetail', 'magnet', 'bolt', 'groove'] as const) {
      const { report, outputs } = await parted(await box(80, 60, 120), { ...cutAt(70), join, labels: true });
      expect(report.bareFaces, join).equal(0);
      expect(report.parts[0].joins.length, join).greaterThan(0);
      expect((report as DivideReport & { proof: { sound: boolean } }).proof.sound, join).equal(true);
      const [step] = report.order;
      const above = report.parts.findIndex((p) => p.tag === step.name);
      const { x, y, z } = step.direction;
      for (const d of [0, 1, 3, 6, 12, 25, 50, 100])
        expect(await common(outputs[1 - above], outputs[above], [-d * x, -d * y, -d * z]), `${join} ${d}`).lessThan(
          0.05,
        );
      // and dovetails hold: straight up they do not come apart
      if (join === 'dovetail') expect(await common(outputs[1 - above], outputs[above], [0, 0, 2])).greaterThan(1);
    }
  });

  it('joins that could not be made are said', async () => {
    // plates of 4 mm have no flesh for a screw and its nut
    const plate = await withSolids((kernel, keep) =>
      fromSolid(keep(keep(kernel.Manifold.cube([120, 40, 4])).add(keep(kernel.Manifold.cube([4, 40, 80]))))),
    );
    const { report } = await parted(plate, { cuts: [{ normal: [1, 0, 0], offset: 60 }], join: 'bolt' });
    expect([report.faces, report.bareFaces]).eql([1, 1]);
    const found = divide.findings!.of(
      parseParams(divide.params, { bed: [200, 200, 200], join: 'bolt' }),
      report as never,
    );
    expect(found.map((f) => [f.kind, f.severity])).deep.include(['faces-bare', 'attention']);
    expect(findingSentence(found.find((f) => f.kind === 'faces-bare')!)).match(
      /^The cut face has no room for .*: too little flesh there. Glue alone/,
    );
  });

  it('holes keep the skin that was asked for, wherever the flesh leans', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.tuple(fc.integer({ min: -5, max: 5 }), fc.integer({ min: -5, max: 5 }), fc.integer({ min: 3, max: 9 })),
        fc.integer({ min: -20, max: 20 }),
        async ([x, y, z], offset) => {
          const cut: PlaneCut = { normal: normalize([x, y, z]), offset };
          const ball = await sphere(40, 48);
          const { report, outputs } = await parted(ball, { cuts: [cut], join: 'dowel', clearance: 0.2 });
          for (const part of report.parts)
            for (const j of part.joins) {
              // the rim of the hole in its face is within the ball by the skin
              const from = Math.hypot(j.at.x, j.at.y, j.at.z);
              expect(from + j.diameterMm / 2 + 0.2 + 0.8).lessThan(40 + 1e-6);
              expect(j.wallMm).greaterThan(0.79);
            }
          for (const o of outputs) expect(bodiesOf(o).length).equal(1);
        },
      ),
      { numRuns: 8 },
    );
  });

  it('no wrong turn and no neighbour fits: four like columns have each their own pattern', async () => {
    const columns = await withSolids((kernel, keep) =>
      fromSolid(
        keep(
          kernel.Manifold.union([
            keep(kernel.Manifold.cube([200, 200, 20])),
            ...[0, 1, 2, 3].map((i) =>
              keep(keep(kernel.Manifold.cube([40, 40, 80])).translate([10 + 140 * (i % 2), 10 + 140 * (i >> 1), 10])),
            ),
          ]),
        ),
      ),
    );
    const { report } = await parted(columns, { ...cutAt(50), join: 'pin' });
    expect(report.parts.length).equal(5);
    const patterns = report.parts
      .filter((p) => p.joins.length === 2)
      .map(({ joins: [a, b] }) => Math.hypot(a.at.x - b.at.x, a.at.y - b.at.y, a.at.z - b.at.z));
    expect(patterns.length).equal(4);
    patterns.forEach((p, i) => patterns.slice(0, i).forEach((q) => expect(Math.abs(p - q)).greaterThan(0.6)));
    expect(report.mixable).eql([]);
    // and each goes on by itself: they touch the slab, not one another
    expect(report.order.map((s) => s.from.length)).eql([1, 2, 3, 4]);
    expect(report.order.every((s) => !s.name.includes('+'))).equal(true);
    // with only one place for each, all alike, it is said that they could be mixed up
    const alike = await parted(columns, {
      ...cutAt(50),
      joinPlaces: [0, 1, 2, 3].map((i) => ({ at: [30 + 140 * (i % 2), 30 + 140 * (i >> 1), 50], kind: 'pin' })),
    });
    expect(alike.report.mixable.length).greaterThan(3);
  });

  it('in a thin shell pins stand in bosses that stay inside', async () => {
    const shell = (await run(hollow, await box(120, 120, 120), { wall: 2.5, detail: 2.5 })).outputs[0];
    const { report, outputs } = await parted(shell, { ...cutAt(60.3), join: 'pin' });
    const joins = report.parts.flatMap((p) => p.joins);
    expect(joins.length).equal(4);
    expect(joins.every((j) => j.boss && j.diameterMm >= 4)).equal(true);
    for (const o of outputs) {
      const { min, max } = boundsOf(o);
      for (const k of [0, 1]) {
        expect(min[k]).greaterThan(-0.01);
        expect(max[k]).lessThan(120.01);
      }
    }
    const plain = await parted(shell, { ...cutAt(60.3) });
    report.parts.forEach((p, i) => expect(p.volumeMm3).greaterThan(plain.report.parts[i].volumeMm3));
    expect(await common(outputs[0], outputs[1])).lessThan(0.05);
  });

  it('a solid band gives a shell flesh for joins of every kind; outside nothing changes, and an opening stays', async () => {
    const shell = await withSolids(async ({ Manifold }, keep) =>
      fromSolid(
        keep(keep(Manifold.cube([120, 120, 120])).subtract(keep(Manifold.cube([114, 114, 114]).translate([3, 3, 3])))),
      ),
    );
    const bare = await parted(shell, { ...cutAt(60), join: 'tongue' });
    expect([bare.report.faces, bare.report.bareFaces, bare.report.bandMm3]).eql([1, 1, 0]);
    for (const [join, bandMm] of [
      ['tongue', 10],
      ['dovetail', 10],
      ['magnet', 10],
    ] as const) {
      const { report, outputs } = await parted(shell, { ...cutAt(60), join, bandMm });
      expect(report.bareFaces, join).equal(0);
      expect(
        report.parts.flatMap((p) => p.joins).every((j) => !j.boss),
        join,
      ).equal(true);
      expect(report.volumeError, join).lessThan(1e-6);
      for (const o of outputs) {
        const { min, max } = boundsOf(o);
        for (const k of [0, 1])
          expect(
            [min[k], max[k]].map((x) => Math.round(x * 100) / 100),
            join,
          ).eql([0, 120]);
        const { watertight, shells, selfIntersectingPairs } = inspectMesh(o, { brief: true });
        expect([watertight, shells, selfIntersectingPairs], join).eql([true, 1, 0]);
        // light comes through the middle of the cut: an upright ray there meets one wall alone
        let crossed = 0;
        for (let t = 0; t < o.triangles.length; t += 3) {
          const [a, b, c] = [0, 1, 2].map((k) => [0, 1].map((x) => o.positions[3 * o.triangles[t + k] + x] - 60.123));
          const turn = (p: number[], q: number[]) => Math.sign(p[0] * q[1] - p[1] * q[0]);
          if (turn(a, b) === turn(b, c) && turn(b, c) === turn(c, a)) crossed++;
        }
        expect(crossed, `${join} stays open`).equal(2);
      }
      expect(await common(outputs[0], outputs[1]), join).lessThan(0.05);
    }
    // screws want a way for the driver too: a shell in eight has them, not one that is closed behind each face
    const eight = { ...cutAt(60), at: (['x', 'y', 'z'] as const).map((axis) => ({ axis, mm: 60.2 })), join: 'bolt' };
    expect((await parted(shell, eight)).report.bareFaces).equal(12);
    const screwed = await parted(shell, { ...eight, bandMm: 22 });
    expect(screwed.report.bareFaces).lessThan(12);
    expect(screwed.report.loose.map((l) => l.kind)).include.members(['bolt', 'nut']);
    // straight as deep as the tongue reaches, then at 45 degrees: between a ring of the straight part and one a width deeper
    const { report } = await parted(shell, { ...cutAt(60), join: 'tongue', bandMm: 10, joinMm: 6, clearance: 0.2 });
    const straight = 6 + 0.2 + figures.joinSkinMm.value + 0.5;
    const ring = 114 ** 2 - 94 ** 2;
    expect(report.bandMm3).within(2 * ring * straight, 2 * ring * (straight + 10));
    // rails in the bands of a coarse ball in eight, where three cuts meet: every part stays one piece
    const ball = await withSolids(async ({ Manifold }, keep) =>
      fromSolid(keep(keep(Manifold.sphere(100, 48)).subtract(keep(Manifold.sphere(96, 48))))),
    );
    const railed = await run(divide, ball, { bed: [140, 140, 140], plan: 'auto', join: 'dovetail', bandMm: 10 });
    expect(railed.report.parts.flatMap((p) => p.joins).length).least(16);
    expect(railed.report.proof).include({ sound: true });
    expect(railed.report.proof!.volumeChange, 'nothing was taken out to make it sound').closeTo(0, 1e-9);
    for (const o of railed.outputs) {
      const { watertight, shells, selfIntersectingPairs } = inspectMesh(o, { brief: true });
      expect([watertight, shells, selfIntersectingPairs]).eql([true, 1, 0]);
    }
    // a cavity too narrow for two bands and an opening is left alone
    const { report: narrow } = await parted(shell, { ...cutAt(60), join: 'tongue', bandMm: 50 });
    expect(narrow.bandMm3).equal(0);
    expect(await codeOf(() => parted(shell, { ...cutAt(60), bandMm: -1 }))).equal('bad-params');
  });

  it('a part fits its bed with all of its rails, not with each alone', async () => {
    // quarters of 100 x 100 x 50: a rail stands 4.5 out of a side, and there is room for that on one side of the bed alone
    const { report } = await run(divide, await box(200, 200, 50), { bed: [105, 101, 60], join: 'dovetail' });
    expect(report.parts.length).equal(4);
    expect(report.parts.every((p) => p.fits)).equal(true);
    const rails = report.parts.map((p) => p.joins.filter((j) => j.role === 'pin').length);
    expect(rails.reduce((a, b) => a + b)).within(2, 4);
    expect(Math.max(...rails)).equal(1);
  });

  it('joins placed by hand stand where they are wanted; what cannot be is said; a face can be kept free', async () => {
    const own = await parted(await box(60, 60, 80), {
      ...cutAt(40),
      join: 'pin',
      joinPlaces: [
        { at: [20, 20, 40], kind: 'dowel', mm: 4 },
        { at: [1, 30, 40], kind: 'pin' },
        { at: [30, 30, 10], kind: 'pin' },
      ],
    });
    const [a] = own.report.parts;
    expect(a.joins.map((j) => [j.kind, j.diameterMm, j.at.x, j.at.y, j.own])).eql([['dowel', 4, 20, 20, true]]);
    expect(own.report.leftOut.map((l) => l.why).sort()).eql(['noFace', 'noRoom']);
    const free = await parted(await box(60, 60, 80), {
      ...cutAt(40),
      join: 'pin',
      joinPlaces: [{ at: [30, 30, 40], kind: 'none' }],
    });
    expect(free.report.parts[0].joins).eql([]);
  });

  it('places are offered on the face that both parts share, the middle first; a join added there is made', async () => {
    const mesh = await box(60, 40, 80);
    const { report } = await parted(mesh, { ...cutAt(30), join: 'none' });
    for (const [part, other] of [
      [report.parts[0], report.parts[1]],
      [report.parts[1], report.parts[0]],
    ]) {
      const [{ tag, rooms, areaMm2 }] = part.beside;
      expect([tag, areaMm2]).eql([other.tag, 60 * 40]);
      expect(rooms.length).within(2, 6);
      for (const { x, y, z } of rooms) {
        expect(z).closeTo(30, 1e-4);
        // as far from the outline as a place must have room
        expect(Math.min(x, y, 60 - x, 40 - y)).least(2);
      }
      // the roomiest place of a rectangle is on its middle line, half its breadth from three sides or two
      expect(Math.min(rooms[0].x, rooms[0].y, 60 - rooms[0].x, 40 - rooms[0].y)).closeTo(20, 1.5);
    }
    const [{ x, y, z }] = report.parts[0].beside[0].rooms;
    const made = await parted(mesh, { ...cutAt(30), join: 'pin', joinPlaces: [{ at: [x, y, z], kind: 'dowel' }] });
    expect(made.report.parts[0].joins.map((j) => [j.kind, Math.hypot(j.at.x - x, j.at.y - y) < 1e-3])).eql([
      ['dowel', true],
    ]);
    expect(made.report.leftOut).eql([]);
  });

  it('screws and nuts have the sizes of the standards', () => {
    // ISO 273 medium, ISO 4032 s and m max, ISO 4762 dk: handbook tables, from memory
    expect(boltSizes.map((b) => [b.name, b.hole, b.nutFlats, b.nutHeight, b.head])).eql([
      ['M3', 3.4, 5.5, 2.4, 5.5],
      ['M4', 4.5, 7, 3.2, 7],
      ['M5', 5.5, 8, 4.7, 8.5],
      ['M6', 6.6, 10, 5.2, 10],
    ]);
  });

  it('a fit gauge has a hole for each step, by closed form', async () => {
    const steps = [0.1, 0.3];
    const two = volumeOf(await fitGauge(steps));
    const one = volumeOf(await fitGauge([0.1, 0.1]));
    expect(bodiesOf(await fitGauge(steps)).length).equal(2);
    expect(two).greaterThan(0);
    expect(one).greaterThan(0);
    expect(await codeOf(() => fitGauge([]))).equal('bad-params');
    expect(await codeOf(() => fitGauge([9]))).equal('bad-params');
  });
});

describe('tags of parts', () => {
  it('are read back from the engraved face, the right way round, and no other sign is likelier', async () => {
    const { outputs, report } = await parted(await box(60, 60, 80), { ...cutAt(40), labels: true, labelMm: 12 });
    const kernel = await loadKernel();
    for (const [i, into, below] of [
      [0, -0.3, true],
      [1, 0.3, false],
    ] as const)
      await withSolids((_, keep) => {
        // what is engraved: a section under the letters less one through them, as it is seen from outside
        const solid = keep(toSolid(kernel, outputs[i]));
        const cut = keep(keep(solid.slice(40 + 3 * into)).subtract(keep(solid.slice(40 + into))));
        const seen = below ? cut : keep(cut.mirror([1, 0]));
        // tag and neighbour are 2.6 letters high with the arrow over them, and the tag begins 0.7 under its top
        const { min, max } = seen.bounds();
        const high = (max[1] - min[1]) / 2.6;
        const band = keep(keep(kernel.CrossSection.square([200, high])).translate([min[0] - 50, max[1] - 1.7 * high]));
        const tag = keep(seen.intersect(band));
        const at = tag.bounds();
        const likeness = (word: string, mirrored: boolean): number => {
          const flat = wordOutline({ kernel, keep }, word, high);
          const own = mirrored ? keep(flat.mirror([1, 0])) : flat;
          const b = own.bounds();
          const laid = keep(own.translate([at.min[0] - b.min[0], at.min[1] - b.min[1]]));
          return keep(laid.intersect(tag)).area() / keep(laid.add(tag)).area();
        };
        const name = report.parts[i].tag;
        const signs = Object.keys(glyphs).map((sign) => ({ sign, like: likeness(sign + name.slice(1), false) }));
        signs.sort((p, q) => q.like - p.like);
        expect(signs[0].sign).equal(name[0]);
        expect(signs[0].like).greaterThan(0.97);
        expect(signs[1].like).lessThan(0.9);
        expect(likeness(name, true)).lessThan(0.9);
      });
  });

  it('stay with their parts when a cut elsewhere changes, and those of printed parts are not given again', async () => {
    const bar = await box(40, 40, 300);
    const cuts = (at: number[]): object => ({ at: at.map((mm) => ({ axis: 'z', mm })) });
    const before = (await parted(bar, cuts([100, 200]))).report.parts;
    const names = (spent: string[]) =>
      before.map(({ tag, plain: { min, size, volumeMm3 } }) => ({
        tag,
        min: [min.x, min.y, min.z],
        size: [size.x, size.y, size.z],
        volumeMm3,
        ...(spent.includes(tag) && { spent: true }),
      }));
    expect(before.map((p) => p.tag)).eql(['A1', 'B1', 'C1']);
    // the middle one is cut again: the top one would be called D1 now, and stays C1
    const after = (await parted(bar, { ...cuts([100, 150, 200]), names: names([]) })).report.parts;
    const top = after.find((p) => p.min.z > 199)!;
    expect(top.tag).equal('C1');
    expect(after.find((p) => p.min.z < 1)!.tag).equal('A1');
    expect(new Set(after.map((p) => p.tag)).size).equal(4);
    // B1 was printed, and is gone: nothing else is called so
    const spent = (await parted(bar, { ...cuts([100, 150, 200]), names: names(['B1']) })).report.parts;
    expect(spent.map((p) => p.tag)).not.include('B1');
  });
});
