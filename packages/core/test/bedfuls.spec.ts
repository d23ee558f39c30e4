import { expect } from 'chai';
import { areaD, EndType, FillRule, inflatePathsD, intersectD, JoinType, type PathsD } from 'clipper2-ts';
import fc from 'fast-check';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { identity3 } from '@jasmorphe/core/mesh/transform';
import { bedfuls } from '@jasmorphe/core/operations/bedfuls/run';
import { figures } from '@jasmorphe/core/trade/figures';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { bedfulsOf, type BedfulFigures, type LyingPart } from '@jasmorphe/core/planning/bedfuls/bedfulsOf';
import { layPart } from '@jasmorphe/core/planning/bedfuls/layPart';
import { bedfulS, expectedInTurnS, expectedS } from '@jasmorphe/core/planning/bedfuls/packBeds';
import { placeOnBed } from '@jasmorphe/core/planning/bedfuls/placeOnBed';
import { shadowOf } from '@jasmorphe/core/planning/bedfuls/Shadow';
import { flatFit } from '@jasmorphe/core/planning/bedFit';
import { roomBeside } from '@jasmorphe/core/planning/room';
import { pose } from '@jasmorphe/core/operations/pose/run';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { printingOf } from '@jasmorphe/core/planning/profileFields';
import { quietContext } from '@jasmorphe/core/run/context';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, run, sphere } from './solids.ts';
import { spentMs } from './spent.ts';

type Outline = [number, number][];

/** Failures an hour where no log tells. */
const usual = figures.failuresPerH.value;

const printerOf = (x: number, y: number, change: object = {}): PrinterProfile =>
  parseParams(PrinterProfile, { name: 'p', bedMm: [x, y, 200], marginMm: 0, ...change });
const plate = async (outline: Outline, high = 3): Promise<TriMesh> =>
  fromSolid((await loadKernel()).CrossSection.ofPolygons([outline]).extrude(high));
const part = (mesh: TriMesh, printers = 1, durationS = 3600): LyingPart => ({
  mesh,
  rotations: Array.from({ length: printers }, () => identity3),
  durationS: Array.from({ length: printers }, () => durationS),
  materialG: Array.from({ length: printers }, () => 10),
  heightMm: Array.from({ length: printers }, () => sizeOf(boundsOf(mesh))[2]),
});

/** An outline where its plate was put: turned about the middle of its turned box, as `placeOnBed` says. */
function placed(outline: Outline, { at, turnDeg }: BedfulFigures['parts'][number]): PathsD {
  const a = (turnDeg * Math.PI) / 180;
  const turned = outline.map(([x, y]) => [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)]);
  const middle = [0, 1].map((k) => {
    const all = turned.map((p) => p[k]);
    return (Math.min(...all) + Math.max(...all)) / 2;
  });
  return [turned.map(([x, y]) => ({ x: x - middle[0] + at.x, y: y - middle[1] + at.y }))];
}
const sharedMm2 = (a: PathsD, b: PathsD): number =>
  intersectD(a, b, FillRule.NonZero, 6).reduce((sum, path) => sum + Math.abs(areaD(path)), 0);

describe('shadows', () => {
  it('cover what lies under a part and no cell more, where it lies along the cells', async () => {
    const { count, nx, ny } = shadowOf(await box(20, 10, 5), 0, 0.5, 0);
    expect([count, nx, ny]).eql([800, 40, 20]);
    const ball = shadowOf(await sphere(20, 128), 0, 0.5, 0);
    expect(ball.count * 0.25).within(Math.PI * 400, Math.PI * 400 * 1.05);
    // grown by a gap: a rectangle with round corners
    const grown = shadowOf(await box(20, 10, 5), 0, 0.5, 3);
    expect(grown.count * 0.25).within(200 + 2 * 3 * 30 + Math.PI * 9 - 8, 200 + 2 * 3 * 30 + Math.PI * 9 + 25);
  });
});

describe('packing', () => {
  it('never overlaps, keeps its gap, its bed and its keep-outs (clipper2)', async () => {
    const shapes: Outline[] = [
      [
        [0, 0],
        [40, 0],
        [40, 12],
        [12, 12],
        [12, 40],
        [0, 40],
      ],
      [
        [0, 0],
        [50, 0],
        [25, 30],
      ],
      [
        [0, 0],
        [30, 0],
        [30, 30],
        [20, 30],
        [20, 10],
        [10, 10],
        [10, 30],
        [0, 30],
      ],
      [
        [0, 5],
        [20, 0],
        [45, 8],
        [30, 22],
        [6, 25],
      ],
      [
        [0, 0],
        [60, 0],
        [60, 8],
        [0, 8],
      ],
    ];
    const meshes = await Promise.all(shapes.map((s) => plate(s)));
    const keepOuts = [{ min: [0, 0] as [number, number], max: [18, 25] as [number, number] }];
    const printer = printerOf(120, 110, { keepOuts, marginMm: 4 });
    const keptOut: PathsD = [
      [
        { x: 0, y: 0 },
        { x: 18, y: 0 },
        { x: 18, y: 25 },
        { x: 0, y: 25 },
      ],
    ];
    fc.assert(
      fc.property(
        fc.array(fc.nat(shapes.length - 1), { minLength: 1, maxLength: 14 }),
        fc.constantFrom(0, 2, 5),
        (which, apart) => {
          const { bedfuls, left } = bedfulsOf(
            which.map((i) => part(meshes[i])),
            [printer],
            'fewest',
            quietContext,
            { apartMm: apart },
          );
          expect(left).eql([]);
          expect(bedfuls.flatMap((b) => b.parts.map((p) => p.part)).sort((a, b) => a - b)).eql([...which.keys()]);
          for (const { parts } of bedfuls) {
            const outlines = parts.map((p) => placed(shapes[which[p.part]], p));
            for (const [i, a] of outlines.entries()) {
              for (const { x, y } of a[0]) {
                expect(x).within(4 - 1e-3, 116 + 1e-3);
                expect(y).within(4 - 1e-3, 106 + 1e-3);
              }
              expect(sharedMm2(a, keptOut)).below(1e-3);
              for (const b of outlines.slice(0, i)) {
                expect(sharedMm2(a, b)).below(1e-3);
                const around = inflatePathsD(b, Math.max(0, apart - 0.02), JoinType.Round, EndType.Polygon);
                expect(sharedMm2(a, around)).below(1e-3);
              }
            }
          }
        },
      ),
      { numRuns: 6 },
    );
  });

  // unlike squares that fill a rectangle without a gap: the best that is known, and that there is
  const perfect: [string, number, number, number[]][] = [
    [
      '21 in one of 112 (Duijvestijn 1978)',
      112,
      112,
      [2, 4, 6, 7, 8, 9, 11, 15, 16, 17, 18, 19, 24, 25, 27, 29, 33, 35, 37, 42, 50],
    ],
    ['9 in 33 × 32 (Moroń 1925)', 33, 32, [1, 4, 7, 8, 9, 10, 14, 15, 18]],
    ['10 in 65 × 47 (Moroń 1925)', 65, 47, [3, 5, 6, 11, 17, 19, 22, 23, 24, 25]],
  ];
  for (const [name, wide, deep, sides] of perfect)
    it(`reaches nine tenths of the best: unlike squares, ${name}`, async () => {
      expect(sides.reduce((a, s) => a + s * s, 0)).equal(wide * deep);
      const parts = await Promise.all(sides.map(async (s) => part(await box(s, s, 3))));
      // cells are half a millimetre: a bed of whole cells on which they are nine tenths of the room
      const room = printerOf(wide, Math.floor((2 * deep) / 0.9) / 2);
      const { bedfuls } = bedfulsOf(parts, [room], 'fewest', quietContext, { apartMm: 0 });
      expect(bedfuls.length).equal(1);
      expect(bedfuls[0].fillPct).above(90);
    });

  it('what fits by the search of `fit` is always placed: to the edge, beside keep-outs, askew; and is kept there', async () => {
    const put = (mesh: TriMesh, printer: PrinterProfile) => {
      const { bedfuls, left } = bedfulsOf([part(mesh)], [printer], 'fewest', quietContext);
      const again = bedfulsOf([part(mesh)], [printer], 'fewest', quietContext, { placed: bedfuls });
      return { bedfuls, left, clashes: again.bedfuls.flatMap((b) => b.clashes) };
    };
    // all but the last two millimetres of a bed
    const whole = put(await box(240, 203, 50), printerOf(244, 204, { marginMm: 0.5 }));
    expect([whole.left, whole.clashes, whole.bedfuls.length]).eql([[], [], 1]);
    const mm = fc.integer({ min: 40, max: 300 });
    await fc.assert(
      fc.asyncProperty(
        fc.tuple(mm, mm),
        fc.tuple(mm, mm),
        fc.double({ min: 0, max: 5, noNaN: true }),
        fc.boolean(),
        fc.double({ min: 0.97, max: 1, noNaN: true }),
        async ([x, y], [wide, deep], marginMm, corner, share) => {
          const keepOuts = corner ? [{ min: [0, 0], max: [x / 4, y / 5] }] : [];
          const printer = printerOf(x, y, { marginMm, keepOuts });
          const room = roomBeside(printer.bedMm, marginMm, printer.keepOuts);
          const plain = await box(wide, deep, 20);
          const scaled = (by: number): Float32Array => plain.positions.map((p, k) => (k % 3 === 2 ? p : p * by));
          const flat = (points: Float32Array): number => flatFit(points, [room[0], room[1], 1e9]).value;
          // as large as it may be, or a little less
          const mesh = { ...plain, positions: scaled(flat(plain.positions) * share) };
          expect(flat(mesh.positions)).least(1 - 1e-5);
          const { left, clashes, bedfuls } = put(mesh, printer);
          expect([left, clashes], JSON.stringify({ x, y, wide, deep, marginMm, corner, share })).eql([[], []]);
          const { min, max } = boundsOf(placeOnBed(mesh, identity3, bedfuls[0].parts[0]));
          for (const k of [0, 1]) {
            expect(min[k]).least(marginMm - 0.01);
            expect(max[k]).most([x, y][k] - marginMm + 0.01);
          }
        },
      ),
      { numRuns: 60, seed: 3 },
    );
  });

  it('nests true shapes: L pieces lie in one another, which their boxes could not', async () => {
    const l: Outline = [
      [0, 0],
      [60, 0],
      [60, 20],
      [20, 20],
      [20, 60],
      [0, 60],
    ];
    const mesh = await plate(l);
    const parts = Array.from({ length: 4 }, () => part(mesh));
    // four boxes of 60 want 120 x 120; as L they want less
    const { bedfuls } = bedfulsOf(parts, [printerOf(82, 170)], 'fewest', quietContext, { apartMm: 0 });
    expect(bedfuls.map((b) => b.parts.length)).eql([4]);
  });

  it('parts are turned as it is allowed: any way, by quarters, or not at all', async () => {
    // a bar of 100 by 10 lies on a bed of 80 by 80 aslant alone, on one of 30 by 110 by a quarter alone
    const bar = part(await box(100, 10, 5));
    const turnsOn = (x: number, y: number, turn?: 'any' | 'quarter' | 'none') => {
      const { bedfuls, left } = bedfulsOf([bar], [printerOf(x, y)], 'fewest', quietContext, { turn, apartMm: 0 });
      return left.length > 0 ? 'left' : Math.round(bedfuls[0].parts[0].turnDeg) % 180;
    };
    expect([turnsOn(80, 80), turnsOn(80, 80, 'quarter'), turnsOn(80, 80, 'none')]).eql([45, 'left', 'left']);
    expect([turnsOn(30, 110), turnsOn(30, 110, 'quarter'), turnsOn(30, 110, 'none')]).eql([90, 90, 'left']);
    expect(turnsOn(110, 30, 'none')).equal(0);
    expect(await codeOf(() => parseParams(bedfuls.params, { printers: [{ name: 'a' }], turn: 'twice' }))).equal(
      'bad-params',
    );
  });

  it('parts of other settings lie on other beds, also by hand', async () => {
    const slab = await box(20, 20, 3);
    const parts = ['fine', 'coarse', 'fine', 'coarse'].map((settings) => ({ ...part(slab), settings }));
    for (const aim of ['fewest', 'soonest', 'least-lost'] as const) {
      const { bedfuls } = bedfulsOf(parts, [printerOf(100, 100)], aim, quietContext);
      for (const b of bedfuls) expect(new Set(b.parts.map((p) => parts[p.part].settings)).size, aim).equal(1);
      expect(bedfuls.flatMap((b) => b.parts).length).equal(4);
    }
    const put = [0, 1, 2].map((i) => ({ part: i, at: { x: 20 + 30 * i, y: 20 }, turnDeg: 0 }));
    const { bedfuls } = bedfulsOf(parts, [printerOf(100, 100)], 'fewest', quietContext, {
      apartMm: 4,
      placed: [{ printer: 0, parts: put }],
    });
    expect(bedfuls[0].clashes).eql([1]);
  });

  it('what was put by hand stays where it is; what overlaps or reaches out is told, all else goes elsewhere', async () => {
    const slab = await box(40, 40, 3);
    const parts = Array.from({ length: 4 }, () => part(slab));
    const put = (x: number, y: number, turnDeg = 0) => ({ at: { x, y }, turnDeg });
    const of = (on: readonly ReturnType<typeof put>[], change: object = {}) =>
      bedfulsOf(parts, [printerOf(100, 100, change)], 'fewest', quietContext, {
        apartMm: 4,
        placed: [{ printer: 0, parts: on.map((p, i) => ({ part: i, ...p })) }],
      }).bedfuls;
    const [first, ...others] = of([put(25, 25), put(75, 25)]);
    expect(first.parts.map((p) => p.at)).eql([
      { x: 25, y: 25 },
      { x: 75, y: 25 },
    ]);
    expect(first.clashes).eql([]);
    expect(others.flatMap((b) => b.parts.map((p) => p.part))).eql([2, 3]);
    const clashes = (...on: Parameters<typeof of>) => of(...on)[0].clashes;
    // four millimetres apart are kept, less are not; cells are half a millimetre
    expect(clashes([put(25, 25), put(69.5, 25)])).eql([]);
    expect(clashes([put(25, 25), put(67.5, 25)])).eql([1]);
    expect(clashes([put(10, 25), put(75, 25)])).eql([0]);
    // a diagonal of 56 mm is no side of 40
    expect(clashes([put(25, 25), put(75, 25, 45)])).eql([1]);
    expect(clashes([put(50, 50)], { keepOuts: [{ min: [60, 60], max: [70, 70] }] })).eql([0]);
    // what it packs itself it takes again as it is
    const {
      bedfuls: [packed],
    } = bedfulsOf(parts, [printerOf(100, 100)], 'fewest', quietContext);
    const {
      bedfuls: [again],
    } = bedfulsOf(parts, [printerOf(100, 100)], 'fewest', quietContext, { placed: [packed] });
    expect(again).eql(packed);
  });

  it('stands on the bed where it says: mesh and figures agree', async () => {
    const mesh = await plate([
      [0, 0],
      [40, 0],
      [40, 12],
      [12, 12],
      [12, 40],
      [0, 40],
    ]);
    const { bedfuls } = bedfulsOf([part(mesh)], [printerOf(100, 100, { marginMm: 3 })], 'fewest', quietContext);
    const on = placeOnBed(mesh, identity3, bedfuls[0].parts[0]);
    const { min, max } = boundsOf(on);
    expect(min[2]).closeTo(0, 1e-6);
    expect(Math.min(min[0], min[1])).within(3 - 1e-3, 3.6);
    expect([(min[0] + max[0]) / 2, (min[1] + max[1]) / 2].map((c) => c.toFixed(3))).eql(
      [bedfuls[0].parts[0].at.x, bedfuls[0].parts[0].at.y].map((c) => c.toFixed(3)),
    );
  });
});

describe('bedfuls of parts by their meshes', () => {
  const told = (tag: string, mesh: TriMesh, change: object = {}) => ({
    tag,
    mesh: '0'.repeat(64),
    rotation: identity3,
    heightMm: sizeOf(boundsOf(mesh))[2],
    durationS: 7200,
    materialG: 40,
    ...change,
  });
  const planned = async (meshes: TriMesh[], params: object) =>
    (await bedfuls.run([meshes[0], ...meshes], parseParams(bedfuls.params, params), quietContext)).report;

  it('tell tags, hours and expected hours, and are drawn as large as they are', async () => {
    const meshes = [await box(40, 30, 10), await box(20, 20, 250)];
    const printers = [{ name: 'Long bed', bedMm: [120, 100, 200] }];
    const parts = [told('A1', meshes[0]), told('A2', meshes[1])];
    const report = await planned(meshes, { printers, parts });
    expect(report.left).eql(['A2']);
    const [bedful] = report.bedfuls;
    expect([bedful.printer, bedful.bedMm, bedful.durationS, bedful.materialG]).eql(['Long bed', [120, 100], 7200, 40]);
    expect(bedful.expectedS).closeTo(expectedS(7200, usual), 1e-9);
    // by the rate of the printer itself where that is known
    const failures = [{ printer: 'Long bed', perHour: 0.05 }];
    expect((await planned(meshes, { printers, parts, failures })).bedfuls[0].expectedS).closeTo(
      (3600 * Math.expm1(0.05 * 2)) / 0.05,
      1e-6,
    );
    for (const perHour of [0, -1, 2, NaN])
      expect(await codeOf(() => planned(meshes, { printers, parts, failures: [{ printer: 'x', perHour }] }))).equal(
        'bad-params',
      );
    expect(report.doneS).equal(7200 + figures.changeBedS.value);
    const rows = [...bedful.parts[0].path.matchAll(/M(\S+) (\S+)h(\S+)v2h/g)].map((m) => m.slice(1).map(Number));
    expect(rows.reduce((sum, [, , wide]) => sum + 2 * wide, 0)).equal(1200);
    expect(bedfuls.findings!.of(parseParams(bedfuls.params, { printers }), report).map((f) => f.kind)).eql(['off-bed']);
    expect(await planned([meshes[0]], { printers })).deep.include({ bedfuls: [], left: [], doneS: 0 });
  });

  it('are refused without printers, with two of one name, and with parts that say too little', async () => {
    const mesh = await box(10, 10, 10);
    const one = { name: 'p' };
    for (const params of [
      {},
      { printers: [] },
      { printers: [one, one] },
      { printers: [{ name: 'p', layerMm: 0 }] },
      { printers: [one], parts: [{ tag: 'A1' }] },
      { printers: [one], parts: [told('', mesh)] },
      { printers: [one], parts: [told('A1', mesh, { durationS: -1 })] },
      {
        printers: [one],
        parts: [
          told('A1', mesh, {
            rotation: [
              [2, 0, 0],
              [0, 1, 0],
              [0, 0, 1],
            ],
          }),
        ],
      },
    ])
      expect(await codeOf(() => planned([mesh], params)), JSON.stringify(params)).equal('bad-params');
  });
});

describe('what a choice of bedfuls is best at', () => {
  it('hours: filament part by part with one start, resin by its highest; failures by formula', () => {
    const filament = printerOf(200, 200, { startS: 300 });
    expect(bedfulS([1300, 2300, 900], filament)).equal(1300 + 2300 + 900 - 600);
    expect(bedfulS([1300, 2300, 900], printerOf(200, 200, { kind: 'resin' }))).equal(2300);
    // trade: (e^(rt) - 1) / r; one 52 h print against three of 18 h at one failure in 60 h
    const hours = (h: number) => expectedS(3600 * h, 1 / 60) / 3600;
    expect(hours(52)).closeTo(60 * (Math.exp(52 / 60) - 1), 1e-9);
    expect(3 * hours(18)).below(hours(52));
  });

  it('fewest fills beds, least lost parts them, soonest shares them out', async () => {
    const cube = await box(40, 40, 20);
    const one = [printerOf(200, 200)];
    const long = (n: number, printers = 1): LyingPart[] =>
      Array.from({ length: n }, () => part(cube, printers, 20 * 3600));
    const few = bedfulsOf(long(12), one, 'fewest', quietContext).bedfuls;
    expect(few.length).equal(1);
    const safe = bedfulsOf(long(12), one, 'least-lost', quietContext).bedfuls;
    expect(safe.length).above(3);
    const lostOf = (all: BedfulFigures[]): number => all.reduce((s, b) => s + expectedS(b.durationS, usual), 0);
    expect(lostOf(safe)).below(0.6 * lostOf(few));
    const two = [printerOf(200, 200), { ...printerOf(120, 120), name: 'q' }];
    const soon = bedfulsOf(long(12, 2), two, 'soonest', quietContext).bedfuls;
    const load = [0, 1].map((p) => soon.filter((b) => b.printer === p).reduce((s, b) => s + b.durationS, 0));
    expect(Math.max(...load)).below(0.6 * (load[0] + load[1]));
  });

  it('what fits no bed is left, and the others go on', async () => {
    const parts = [part(await box(300, 10, 10)), part(await box(50, 50, 50)), part(await box(20, 20, 250))];
    const { bedfuls, left } = bedfulsOf(parts, [printerOf(200, 200)], 'fewest', quietContext);
    expect(left.sort()).eql([0, 2]);
    expect(bedfuls.map((b) => b.parts.map((p) => p.part))).eql([[1]]);
  });

  it('one that fits nowhere spoils no aim: keep-outs in the way, hours that are none', async () => {
    const keepOuts = [{ min: [90, 0] as [number, number], max: [110, 200] as [number, number] }];
    const cube = await box(40, 40, 20);
    const wide = part(await box(120, 100, 10), 1, 20 * 3600);
    const parts = [wide, ...Array.from({ length: 8 }, () => part(cube, 1, 20 * 3600)), part(await box(300, 9, 9))];
    for (const aim of ['fewest', 'soonest', 'least-lost'] as const) {
      const { bedfuls, left } = bedfulsOf(parts, [printerOf(200, 200, { keepOuts })], aim, quietContext);
      expect(left, aim).eql([0, 9]);
      expect(bedfuls.flatMap((b) => b.parts.map((p) => p.part)).sort(), aim).eql([1, 2, 3, 4, 5, 6, 7, 8]);
      if (aim === 'least-lost') expect(bedfuls.length).above(2);
    }
  });

  it('parts are laid for each printer by themselves', async () => {
    const rod = await box(150, 8, 8);
    const laid = await layPart(rod, [printerOf(200, 200), printerOf(100, 100)], 'best', quietContext);
    expect(laid.rotations[0]![2].map(Math.abs)[0]).below(0.01);
    expect(laid.heightMm[0]).closeTo(8, 0.01);
    // on the small bed it stands
    expect(laid.heightMm[1]).above(100);
    const asItIs = await layPart(rod, [printerOf(200, 200)], null, quietContext);
    expect(asItIs.rotations[0]).eql(identity3);
  });
});

describe('one after the other', () => {
  const printer = () => printerOf(200, 120, { headRadiusMm: 40, headHeightMm: 25, startS: 300, name: 'p' });
  const blocks = async (heights: readonly number[]): Promise<LyingPart[]> =>
    Promise.all(heights.map(async (high) => part(await box(20, 20, high), 1, 3600 * high)));

  it('the head has room between parts, all but the last are under its carriage, and the lowest is first (clipper2)', async () => {
    const outline: Outline = [
      [0, 0],
      [20, 0],
      [20, 20],
      [0, 20],
    ];
    const parts = await blocks([5, 60, 20, 24, 26, 10]);
    const { bedfuls: found, left } = bedfulsOf(parts, [printer()], 'fewest', quietContext, { inTurn: true });
    expect(left).eql([]);
    for (const { parts: on, inTurn } of found) {
      expect(inTurn).equal(on.length > 1);
      const heights = on.map((p) => parts[p.part].heightMm[0]);
      expect(heights).eql([...heights].sort((a, b) => a - b));
      expect(heights.slice(0, -1).every((h) => h <= 25)).equal(true);
      for (const [i, a] of on.entries())
        for (const b of on.slice(0, i)) {
          const near = inflatePathsD(placed(outline, a), 40 - 0.01, JoinType.Round, EndType.Polygon);
          expect(sharedMm2(near, placed(outline, b))).equal(0);
        }
    }
    // two are higher than the carriage: no bed takes both
    expect(found.length).least(2);
    // side by side all six go on one bed
    expect(bedfulsOf(parts, [printer()], 'fewest', quietContext).bedfuls.length).equal(1);
  });

  it('what fails spoils one part alone: expected hours are those of each by itself', async () => {
    const parts = await blocks([10, 20]);
    const [own] = bedfulsOf(parts, [printer()], 'fewest', quietContext, { inTurn: true }).bedfuls;
    expect(own.durationS).equal(36_000 + 72_000 - 300);
    // the first as if alone; the other without making ready, and as if alone where it fails
    const r = figures.failuresPerH.value / 3600;
    const fails = 1 - Math.exp(-r * (72_000 - 300));
    expect(own.expectedS).closeTo(expectedS(36_000, usual) + fails / r + fails * expectedS(72_000, usual), 1e-6);
    const [beside] = bedfulsOf(parts, [printer()], 'fewest', quietContext).bedfuls;
    expect(beside.expectedS).closeTo(expectedS(108_000 - 300, usual), 1e-6);
    expect(beside.expectedS).above(own.expectedS);
    const resin = [printerOf(200, 120, { kind: 'resin' })];
    expect(bedfulsOf(parts, resin, 'fewest', quietContext, { inTurn: true }).bedfuls[0].inTurn).equal(false);
  });

  it('what was put by hand nearer than the head, or two that are too high, is marked', async () => {
    const parts = await blocks([10, 40, 50]);
    const at = (part: number, x: number) => ({ part, at: { x, y: 60 }, turnDeg: 0 });
    const put = (...on: ReturnType<typeof at>[]) =>
      bedfulsOf(parts, [printer()], 'fewest', quietContext, { placed: [{ printer: 0, parts: on }], inTurn: true })
        .bedfuls[0];
    expect(put(at(0, 30), at(1, 100)).clashes).eql([]);
    expect(put(at(0, 30), at(1, 75)).clashes).eql([1]);
    expect(put(at(1, 30), at(2, 130)).clashes).eql([1, 2]);
  });
});

describe('hours in turn', () => {
  it('are never more than side by side, and no less than without a failure, however short the parts', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 301, max: 200_000, noNaN: true }), { minLength: 1, maxLength: 8 }),
        (times) => {
          const profile = Object.assign(new PrinterProfile(), { startS: 300 });
          const turned = expectedInTurnS(times, profile, usual);
          expect(turned).least(bedfulS(times, profile) - 1e-6);
          expect(turned).most(expectedS(bedfulS(times, profile), usual) * (1 + 1e-9));
          expect(expectedInTurnS(times, profile, 0)).closeTo(bedfulS(times, profile), 1e-6);
        },
      ),
    );
  });
});

describe('brims and rafts', () => {
  const laid = async (change: object) =>
    (
      await run(pose, await box(40, 20, 10), {
        up: [0, 0, 1],
        printer: { startS: 0, travelPct: 0, accelerationMmS2: 1e5, ...change },
      })
    ).report.poses[0];

  it('are laid and weighed: an outline grown all round (Steiner 1840), at the speed of walls', async () => {
    const profile = new PrinterProfile();
    const plain = await laid({});
    const brim = await laid({ brimMm: 8 });
    // 2 (40 + 20) 8 + pi 8² mm², one first layer high
    const brimMm3 = (120 * 8 + Math.PI * 64) * profile.firstLayerMm;
    const g = (mm3: number): number => (mm3 / 1000) * figures.filamentDensityGCm3.value;
    expect(brim.materialG - plain.materialG).closeTo(g(brimMm3), 0.01 * g(brimMm3));
    const flow = Math.min(profile.wallSpeedMmS * profile.lineWidthMm * profile.layerMm, profile.maxFlowMm3S);
    expect(brim.durationS - plain.durationS).closeTo(brimMm3 / flow, (0.01 * brimMm3) / flow);
    const raft = await laid({ raftMm: 2 });
    const raftMm3 = (800 + 120 * 2 + Math.PI * 4) * figures.raftLayers.value * profile.layerMm;
    expect(raft.materialG - plain.materialG).closeTo(g(raftMm3), 0.01 * g(raftMm3));
    // resin has struts and a raft of its own
    const resin = await laid({ kind: 'resin', brimMm: 8 });
    expect(resin.materialG).equal((await laid({ kind: 'resin' })).materialG);
  });

  it('keep their room on the bed', async () => {
    const blocks = [await box(40, 40, 10), await box(40, 40, 10)].map((mesh) => ({ ...part(mesh), holdMm: 8 }));
    // 40 + 8 + 5 + 8 + ... : two with brims want 2 (40 + 16) + 5 mm
    const beds = (x: number, parts: LyingPart[]) =>
      bedfulsOf(parts, [printerOf(x, 58)], 'fewest', quietContext).bedfuls;
    expect(beds(118.5, blocks).length).equal(1);
    expect(beds(114, blocks).length).equal(2);
    expect(
      beds(
        88,
        blocks.map((b) => ({ ...b, holdMm: 0 })),
      ).length,
    ).equal(1);
    const [{ parts: on }] = beds(118.5, blocks);
    expect(Math.abs(on[0].at.x - on[1].at.x)).least(40 + 16 + 5 - 1e-6);
    expect(on.every((p) => p.at.x >= 28 - 1e-6 && p.at.y >= 28 - 1e-6)).equal(true);
  });

  it('take room around the foot alone: under what leans out there is room enough', async () => {
    const { Manifold } = await loadKernel();
    const leaf = Manifold.cube([60, 60, 4]).translate(0, 0, 30);
    const table = (x: number, y: number) =>
      fromSolid(Manifold.union(leaf, Manifold.cube([10, 10, 31]).translate(x, y, 0)));
    const sizeOfShadow = (mesh: TriMesh, holdMm: number): number[] => {
      const { nx, ny, count, middle } = shadowOf(mesh, 0, 0.5, 0, holdMm);
      return [nx / 2, ny / 2, count / 4, ...middle.map((m) => m / 2)];
    };
    // in the middle the brim stays under the leaf; in a corner it reaches 8 mm beyond two sides of it
    expect(sizeOfShadow(table(25, 25), 8)).eql([60, 60, 3600, 30, 30]);
    const [wide, deep, mm2, x, y] = sizeOfShadow(table(0, 0), 8);
    expect([wide, deep, x, y]).eql([68, 68, 38, 38]);
    // an outline of 10 by 10 grown by 8 (Steiner 1840), less the 18 by 18 of it that lie under the leaf; cells round it up
    expect(mm2 - 3600).within(100 + 40 * 8 + Math.PI * 64 - 18 * 18, 1.06 * (100 + 40 * 8 + Math.PI * 64) - 18 * 18);
    // two with a post in the middle lie as near as without a brim
    const two = [0, 1].map(() => ({ ...part(table(25, 25)), holdMm: 8 }));
    const { bedfuls } = bedfulsOf(two, [printerOf(127, 62)], 'fewest', quietContext);
    expect(bedfuls.length).equal(1);
  });

  it('what could never lie on the bed is answered at once: gaps, heads and parts of a kilometre', async () => {
    const small = part(await box(20, 20, 10));
    const huge = part(await box(1e6, 8e5, 10));
    const began = spentMs();
    const far = bedfulsOf([small, huge], [printerOf(100, 100)], 'fewest', quietContext, { apartMm: 1e6 });
    expect([far.bedfuls.length, far.left]).eql([1, [1]]);
    const head = printerOf(100, 100, { headRadiusMm: 1e6 });
    expect(bedfulsOf([small, small], [head], 'fewest', quietContext, { inTurn: true }).bedfuls.length).equal(2);
    const by = [{ printer: 0, parts: [{ part: 1, at: { x: 50, y: 50 }, turnDeg: 10 }] }];
    expect(
      bedfulsOf([small, huge], [printerOf(100, 100)], 'fewest', quietContext, { placed: by }).bedfuls[0].clashes,
    ).eql([1]);
    expect(spentMs() - began).below(5000);
    const wide = { name: 'p', brimMm: 51 };
    expect(() => parseParams(PrinterProfile, wide)).throw(/^"Brim, mm"/);
  });

  it('are no setting of old poses: a printer without them is what it was', () => {
    const p = new PrinterProfile();
    expect(printingOf(p)).not.have.any.keys('brimMm', 'raftMm');
    expect(printingOf(Object.assign(new PrinterProfile(), { brimMm: 5 }))).include({ brimMm: 5 });
  });
});
