import { expect } from 'chai';
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { readThreeMf } from '@jasmorphe/core/formats/threeMf';
import { quietContext } from '@jasmorphe/core/run/context';
import { cli } from './cli.ts';

const require = createRequire(import.meta.url);
const cube = require.resolve('stl-models/polytopes/cube.bin.stl');
const gear = require.resolve('stl-models/objects/gearwheel.bin.stl');

/** The scan of the package bunny in metres, with five holes in it. */
function openScan(): Uint8Array {
  const { positions, cells } = require('bunny') as { positions: number[][]; cells: number[][] };
  const spots = [0, 300, 700, 1100, 1500].map((v) => positions[v]);
  const open = cells.filter(
    (c) => !spots.some((s) => c.some((v) => Math.hypot(...s.map((x, k) => x - positions[v][k])) < 0.4)),
  );
  return writeBinaryStl({
    positions: Float32Array.from(positions.flat(), (x) => x / 100),
    triangles: Uint32Array.from(open.flat()),
  });
}

let folder: string;
let scan: string;
const out = (name: string) => join(folder, name);
const wordsOf = (name: string) => readThreeMf(readFileSync(out(name)), quietContext).words;

async function report<T = Record<string, never>>(
  ...args: string[]
): Promise<T & { elapsedMs: number; peakMemoryMb: number }> {
  const answer = await cli(...args, '--json');
  expect(answer.code, answer.error).equal(0);
  expect(answer.out.trim().split('\n').length).equal(1);
  return JSON.parse(answer.out) as T & { elapsedMs: number; peakMemoryMb: number };
}

describe('command line', () => {
  before(() => {
    scan = join(mkdtempSync(join(tmpdir(), 'jasmorphe-scan-')), 'scan.stl');
    writeFileSync(scan, openScan());
  });
  after(() => rmSync(dirname(scan), { recursive: true, force: true }));

  it('the doctor says what is missing of a data folder, mends what it can, and empties the trash on request', async () => {
    const { problems } = await report<{ problems: { code: string }[] }>('doctor', '--data', folder);
    expect(problems.map((p) => p.code)).eql(['no-database']);
    const { startServer } = await import('@jasmorphe/server/startServer');
    const server = await startServer({ dataFolder: folder, port: 0 });
    const busy = await cli('doctor', '--data', folder, '--mend');
    expect([busy.code, busy.error]).satisfy(([code, error]: [number, string]) => code === 1 && /in use by/.test(error));
    await server.blobs.put('meshes', new Uint8Array([1, 2, 3]));
    const { value } = await server.blobs.list('meshes').next();
    const { name } = value as { name: string };
    await server.blobs.discard('meshes', name);
    await server.stop();
    expect(await report('doctor', '--data', folder, '--mend', '--empty-trash')).deep.include({
      problems: [],
      deleted: 1,
    });
  });

  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-cli-'));
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('every command gives the keys it promises', async () => {
    writeFileSync(out('printer.json'), JSON.stringify({ name: 'Long bed', bedMm: [250, 210, 220] }));
    const keys: [string[], string][] = [
      [
        ['inspect', gear],
        'triangles vertices shells openEdges openLoops nonManifoldEdges nonManifoldVertices inconsistentEdges selfIntersectingPairs degenerateTriangles duplicateTriangles watertight areaMm2 volumeMm3 size min max findings',
      ],
      [['mend', gear, '-o', out('m.stl')], 'method before after deviation volumeChangePct'],
      [
        ['crop', gear, '-o', out('c.stl'), '--box', '-50,-50,0,50,50,1'],
        'trianglesBefore trianglesAfter size strays ground',
      ],
      [
        ['foot', gear, '-o', out('f.stl'), '--height', '0.5'],
        'heightMm contactAreaMm2 proposed choices removedVolumeMm3',
      ],
      [
        ['refine', gear, '-o', out('fine.stl'), '--tolerance', '0.05'],
        'chordErrorBeforeMm chordErrorAfterMm trianglesAfter deviation selfIntersectingPairs',
      ],
      [
        ['simplify', gear, '-o', out('light.stl'), '--tolerance', '0.1'],
        'trianglesBefore trianglesAfter deviation sound',
      ],
      [['mirror', gear, '-o', out('whole.stl'), '--at', 'z=0'], 'axis atMm seamVertices openEdges size'],
      [['practice', gear, '-o', out('dirty.stl'), '--severity', '0.3', '--no-ground'], 'flaws after'],
      [['size', gear, '-o', out('s.3mf'), '--factor', '2'], 'factor before size volumeFactor cooled oval'],
      [['measure', gear, '--at', '0,0,0', '--at', '3,4,0'], 'lengthMm says lines'],
      [['sample', gear, '-o', out('t.stl'), '--largest', '10'], 'kind factor size volumeMm3 sharePct'],
      [
        ['reference', '-o', out('head.stl'), '--kind', 'head', '--measure', 'girth=572'],
        'kind measures landmarks size source',
      ],
      [['whereabouts', gear, '--lie', '100x100x100', '--pass', '760x-'], 'places'],
      [
        ['hollow', gear, '-o', out('h.stl'), '--wall', '1', '--detail', '0.6', '--plugs', out('plugs'), '--drain', '1'],
        'wall cavities solidVolumeMm3 volumeMm3 savedPct trappedMm3',
      ],
      [['divide', gear, '-o', out('parts'), '--bed', '30x30x30', '--margin', '1'], 'parts cuts volumeError'],
      [
        ['recut', gear, '-o', out('r.ply'), '--printed', '2'],
        'cutAtMm layersKept remainingHeightMm remainingVolumeMm3 contactAreaMm2 islandsAtCut',
      ],
      [['fit', gear, '--bed', '30x30x30'], 'fits pose largestFactor flatFactor'],
      [['pose', gear, '--up', '0,0,1', '--printer', out('printer.json')], 'poses chosen looked fits kind findings'],
      [
        ['layers', gear, '--pause', '1'],
        'kind layerMm heightMm layers shown maxAreaMm2 jumps islands fast variable pauses inserts findings',
      ],
      [
        ['stops', gear, '--colour', '1=brass', '--insert', '0,0,1', '--other', '0.5'],
        'stops rotation heightMm layerMm firstLayerMm layers findings',
      ],
      [['tips', gear, '--printer', out('printer.json')], 'tips rotation liftMm struts findings'],
      [['sections', gear, '--layer', '0.2'], 'layers totalAreaMm2 totalPerimeterMm maxAreaMm2 islands'],
      [
        ['estimate', gear, '--printer', out('printer.json')],
        'durationS materialG materialMl filamentM cost supportVolumeMm3 byPhase',
      ],
      [['thickness', gear, '--min', '1'], 'minMm p01Mm p05Mm medianMm belowMinAreaPct'],
      [['deviation', gear, gear], 'maxMm p95Mm meanMm aToB bToA spacingMm'],
      [['convert', gear, '-o', out('c.obj')], 'triangles shells'],
    ];
    for (const [args, names] of keys)
      expect(await report(...args), args[0]).include.all.keys(...names.split(' '), 'elapsedMs', 'peakMemoryMb');
    expect(readdirSync(out('parts')).every((f) => /^[A-Z]+\d+\.3mf$/.test(f))).equal(true);
    expect(readdirSync(out('plugs')).length).greaterThan(0);
  });

  it('holds a piece against a body, thickens it, and tests where it goes', async () => {
    await report('reference', '-o', out('head.stl'), '--measure', 'girth=570', '--measure', 'height=230');
    // the head itself, 10 % larger, as a scan of a piece around the head that was imported as another scan
    await report('size', out('head.stl'), '-o', out('around.stl'), '--factor', '+10%');
    const found = await report<{ body: string; suggestedFactor: number; typicalMm: number }>(
      'clearance',
      out('head.stl'),
      out('around.stl'),
    );
    expect(found.body).equal('scan');
    const both = await cli('clearance', out('head.stl'), out('around.stl'), '--kind', 'head', '--json');
    expect([both.code, (JSON.parse(both.out) as { error: { code: string } }).error.code]).eql([1, 'bad-params']);
    await report('size', cube, '-o', out('plate.stl'), '--stretch', 'x=20,y=15,z=0.25');
    const thin = await report<{ belowMinAreaPct: number; places: unknown[] }>(
      'thickness',
      out('plate.stl'),
      '--min',
      '0.8',
    );
    expect(thin.belowMinAreaPct).above(95);
    const { addedMm3 } = await report<{ addedMm3: number }>('thicken', out('plate.stl'), '-o', out('plate2.stl'));
    // 40 x 30 mm from 0.5 to 0.8 mm
    expect(addedMm3 / (1200 * 0.3)).closeTo(1, 0.05);
    const { places } = await report<{ places: { fits: boolean }[] }>(
      'places',
      out('plate.stl'),
      '--lie',
      '45x31x1',
      '--stand',
      '-x-x0.4',
    );
    expect(places.map((p) => p.fits)).eql([false, true]);
  });

  it('what is written as 3MF says what the work is', async () => {
    const said = ['--title', 'Gear <2>', '--designer', 'the Fen guild', '--licence', 'CC BY 4.0'];
    expect((await cli('convert', gear, '-o', out('said.3mf'), ...said)).code).equal(0);
    expect(wordsOf('said.3mf')).eql({ title: 'Gear <2>', designer: 'the Fen guild', licence: 'CC BY 4.0' });
    expect((await cli('convert', gear, '-o', out('plain.3mf'))).code).equal(0);
    expect(wordsOf('plain.3mf')).eql({ title: 'plain', designer: '', licence: '' });
  });

  it('goes from an open scan in metres to printable parts', async () => {
    await report('mend', scan, '--unit', 'm', '-o', out('1.stl'));
    const sized = await report<{ size: { z: number } }>('size', out('1.stl'), '-o', out('2.stl'), '--to', 'z=60');
    expect(sized.size.z).closeTo(60, 1e-4);
    // the other ways, in the words that makers use (worked by hand)
    const size = async (...more: string[]) =>
      (await report<{ size: { x: number } }>('size', cube, '-o', out('3.stl'), ...more)).size.x;
    expect(await size('--to', 'x=15 1/2 in')).closeTo(393.7, 1e-3);
    expect(await size('--ratio', '1:6', '--original', '1.75 m')).closeTo(1750 / 6, 1e-3);
    expect(await size('--factor', '+5%')).closeTo(1.05 * (await size('--factor', 'x1')), 1e-3);
    expect(await size('--reading', '2=30', '--reading', '1cm=16cm')).closeTo(31, 1e-3);
    expect(await size('--fill-bed', '100x120x140', '--margin', '5')).closeTo(90, 0.2);
    expect(await size('--to', 'x=98', '--shrinkage', '2')).closeTo(100, 1e-3);
    await report('hollow', out('2.stl'), '-o', out('3.stl'), '--wall', '3');
    const divided = await report<{ parts: { file: string; fits: boolean }[]; volumeError: number }>(
      'divide',
      out('3.stl'),
      '-o',
      out('parts'),
      '--bed',
      '75x75x75',
      '--join',
      'pin',
      '--labels',
    );
    expect(divided.volumeError).lessThan(1e-6);
    expect(divided.parts.length).greaterThan(1);
    for (const part of divided.parts) {
      expect(part.fits).equal(true);
      const found = await report<{ watertight: boolean; selfIntersectingPairs: number }>('inspect', part.file);
      expect([found.watertight, found.selfIntersectingPairs]).eql([true, 0]);
    }
  }).timeout(120_000);

  it('plans cuts for beds by name, compares plans and cuts the first; the order goes together again', async () => {
    const beds = ['--bed', 'small=35x35x25', '--bed', 'long=50x35x25,nozzle=0.8'];
    const plan = await report<{ parts: number; cuts: unknown[]; seenSeamMm: number; plan: string }>(
      'cuts',
      gear,
      ...beds,
      '--plan',
      'clean',
    );
    expect([plan.plan, plan.cuts.length > 0]).eql(['clean', true]);
    const divided = await report<{
      parts: { name: string; printer: string; fits: boolean }[];
      plans: { plan: string; parts: number }[];
      order: { name: string; from: string[] }[];
      cuts: { through: object | null }[];
      volumeError: number;
      planMs: number;
      partsMs: number;
    }>(
      'divide',
      gear,
      '-o',
      out('planned'),
      ...beds,
      '--plan',
      'clean,fewest',
      '--keep-clean',
      '0,0,0:1,1,1',
      '--keep-clean',
      '0,0,0:2',
    );
    expect(divided.plans.map((p) => p.plan)).eql(['clean', 'fewest']);
    expect(divided.parts.length).equal(divided.plans[0].parts);
    expect(divided.parts.every((p) => p.fits && ['small', 'long'].includes(p.printer))).equal(true);
    expect(divided.volumeError).lessThan(1e-6);
    expect(divided.planMs > 0 && divided.partsMs > 0).equal(true);
    const put = divided.order.flatMap((o) => [...o.name.split('+'), ...o.from]);
    expect([...new Set(put)].sort()).eql(divided.parts.map((p) => p.name).sort());
    const told = await cli('divide', gear, '-o', out('again'), '--bed', '60x60x60', '--plan', 'fewest');
    expect(told.out).match(/Fewest {2}1 /);
    // hours go by the nozzle, said of the bed or of all
    const hours = async (...more: string[]): Promise<number> =>
      (await report<{ longestS: number }>('cuts', gear, '--quick', ...more)).longestS;
    const wide = await hours('--bed', '60x60x60,nozzle=0.8,layer=0.4');
    expect(wide).equal(await hours('--bed', '60x60x60', '--nozzle', '0.8', '--layer', '0.4'));
    expect(wide).lessThan(await hours('--bed', '60x60x60'));
    expect(await hours('--bed', '60x60x60,margin=2')).equal(await hours('--bed', '60x60x60', '--margin', '2'));
    for (const bad of [
      '60x60x60,nozzle=wide',
      '60x60x60,nozzle=0',
      '60x60x60,margin=-1',
      '60x60x60,hue=red',
      '60x60x60,kind=clay',
    ])
      expect((await cli('cuts', gear, '--bed', bad)).code, bad).equal(2);
  }).timeout(60_000);

  it('tells joins and order without writing, keeps names, places joins by hand, and makes a fit gauge', async () => {
    const bed = ['--bed', '60x60x60', '--at', 'z=30'];
    const big = out('big.stl');
    await report('size', cube, '-o', out('whole.stl'), '--to', 'x=50');
    await report('move', out('whole.stl'), '-o', big, '--on-bed');
    const told = await report<{
      joins: { part: string; to: string; kind: string }[];
      loose: { count: number }[];
      faces: number;
    }>(...['joins', big, ...bed, '--join', 'dowel']);
    expect(told.joins.length).greaterThan(1);
    expect(told.loose.reduce((n, l) => n + l.count, 0)).equal(told.joins.length);
    const order = await report<{ order: { name: string; from: string[]; glueMm2: number }[] }>('order', big, ...bed);
    expect(order.order.map((o) => [o.name, o.from])).eql([['B1', ['A1']]]);
    expect(order.order[0].glueMm2).greaterThan(10);
    const first = await report<object>('divide', big, '-o', out('named'), ...bed, '--join', 'dowel');
    expect(readdirSync(out('named/loose')).filter((f) => /dowel/.test(f)).length).greaterThan(0);
    writeFileSync(out('named.json'), JSON.stringify(first));
    // cut lower as well, the upper part would be called C1 now: it stays B1
    const again = await report<{ parts: { name: string; min: { z: number } }[] }>(
      ...['divide', big, '-o', out('renamed'), '--bed', '60x60x60', '--at', 'z=15', '--at', 'z=30'],
      ...['--names', out('named.json')],
    );
    expect(again.parts.find((p) => p.min.z > 29.9)!.name).equal('B1');
    const hand = await report<{ leftOut: { why: string }[] }>('joins', big, ...bed, '--join-at', '0,0,90=dowel');
    expect(hand.leftOut.map((l) => l.why)).eql(['noFace']);
    const gauge = await report<{ steps: { mm: number; holeMm: number }[]; pinMm: number }>(
      ...['gauge', '-o', out('gauge.stl'), '--steps', '0.1,0.2'],
    );
    expect(gauge.steps.map((s) => s.holeMm - gauge.pinMm).map((x) => x.toFixed(2))).eql(['0.20', '0.40']);
    const wrong = await cli('gauge', '-o', out('no.stl'), '--steps', '7');
    expect([wrong.code, existsSync(out('no.stl'))]).eql([1, false]);
    // a plan is kept, and cut as it was made
    const plan = await report<{ cuts: unknown[]; parts: number }>('cuts', big, '--bed', '60x60x30');
    writeFileSync(out('plan.json'), JSON.stringify(plan));
    const cut = await report<{ parts: unknown[] }>(
      ...['divide', big, '-o', out('kept'), '--bed', '60x60x30', '--cuts', out('plan.json')],
    );
    expect(cut.parts.length).equal(plan.parts);
    const none = await cli('divide', big, '-o', out('none'), '--bed', '30x30x30', '--cuts', out('named.stl'));
    expect(none.code).equal(2);
    const weighed = await cli('cuts', big, '--bed', '30x30x30', '--weigh', 'seam=2');
    expect(weighed.code).equal(2);
  }).timeout(60_000);

  it('a first plan is told quickly, is cut from its file, and says what it compared', async () => {
    await report('size', cube, '-o', out('block.stl'), '--to', 'x=100');
    const bed = ['--bed', '60x60x60'];
    const first = await report<{ parts: number; fitting: number; looked: number; cuts: unknown[] }>(
      ...['cuts', out('block.stl'), ...bed, '--quick'],
    );
    expect([first.parts, first.fitting]).eql([8, 8]);
    const full = await report<{ looked: number }>('cuts', out('block.stl'), ...bed);
    expect(first.looked).lessThan(full.looked);
    writeFileSync(out('first.json'), JSON.stringify(first));
    const made = await report<{ parts: { fits: boolean }[] }>(
      ...['divide', out('block.stl'), '-o', out('blocks'), ...bed, '--cuts', out('first.json')],
    );
    expect(made.parts.map((p) => p.fits)).eql(new Array(8).fill(true));
    const told = await cli('cuts', out('block.stl'), ...bed, '--quick');
    expect(told.out).match(/Fewest: best of \d+ ways to cut compared/);
  });

  it('lays a part by schools, tells why, and writes it as it lies', async () => {
    type Told = { poses: { school: string; up: { x: number; y: number; z: number }; heightMm: number; why: string }[] };
    const told = await report<Told & { chosen: string }>('pose', gear, '--school', 'low', '-o', out('lying.stl'));
    expect(told.poses.map((p) => p.school)).eql(['best', 'flat', 'lean', 'low', 'stand']);
    expect(told.chosen).equal('low');
    const keys = 'school up heightMm footMm2 overhangMm2 supportMm3 islands maxPeelMm2 durationS why';
    for (const pose of told.poses) expect(pose).include.keys(keys.split(' '));
    const low = told.poses[3];
    expect(low.why).match(/^It lies as low as it goes/);
    const lying = await report<{ size: { z: number }; min: { z: number } }>('inspect', out('lying.stl'));
    expect(lying.size.z).closeTo(low.heightMm, 1e-3);
    expect(lying.min.z).closeTo(0, 1e-3);
    const people = await cli('pose', gear, '--up', '0,0,1', '--bare', '0,0,0:1,1,1');
    expect(people.out).match(/Pose +By hand/);
    const wrong = await cli('pose', gear, '--bare', '0,0,0:5', '-o', out('no.stl'));
    expect([wrong.code, existsSync(out('no.stl'))]).eql([1, false]);
    expect((await cli('pose', gear, '--unseen', out('none.json'))).code).equal(2);
  });

  it('puts files on beds, one printer or several, and writes each bedful with its parts in their places', async () => {
    type Told = {
      bedfuls: {
        printer: string;
        parts: { file: string; at: { x: number; y: number }; turnDeg: number; up: object }[];
        fillPct: number;
        durationS: number;
        materialG: number;
        file: string;
      }[];
      unplaced: { file: string; message: string }[];
    };
    writeFileSync(out('long.json'), JSON.stringify({ name: 'Long bed', bedMm: [60, 40, 60] }));
    writeFileSync(out('small.json'), JSON.stringify({ name: 'Small bed', bedMm: [45, 45, 60], marginMm: 1 }));
    writeFileSync(out('half.stl'), readFileSync(cube).subarray(0, 300));
    const files = [gear, cube, gear, out('half.stl')];
    const args = [...files, '--as-it-lies', '--printer', out('long.json')];
    const told = await report<Told>('bedfuls', ...args, '--printer', out('small.json'), '-o', out('beds'));
    expect(told.unplaced.map((u) => u.file)).eql([out('half.stl')]);
    expect(told.bedfuls.flatMap((b) => b.parts.map((p) => p.file)).sort()).eql([cube, gear, gear].sort());
    for (const b of told.bedfuls) {
      expect(b).include.keys('printer', 'parts', 'fillPct', 'durationS', 'materialG', 'file');
      for (const p of b.parts) expect(p).include.keys('file', 'at', 'turnDeg', 'up');
    }
    expect(readdirSync(out('beds')).sort()).eql(told.bedfuls.map((b) => b.file).sort());
    const [first] = told.bedfuls;
    const { min, size, shells } = await report<
      Record<'min' | 'size', { x: number; y: number; z: number }> & { shells: number }
    >('inspect', out(`beds/${first.file}`));
    expect(shells).least(first.parts.length);
    const [wide, deep, margin] = first.printer === 'Long bed' ? [60, 40, 3] : [45, 45, 1];
    expect(Math.min(min.x, min.y)).least(margin - 1e-3);
    expect([min.x + size.x <= wide - margin + 1e-3, min.y + size.y <= deep - margin + 1e-3]).eql([true, true]);
    const four = await report<Told>('bedfuls', gear, '--copies', '4', '--printer', out('long.json'), '-o', out('four'));
    expect(four.bedfuls.flatMap((b) => b.parts.map((p) => p.file))).eql([gear, gear, gear, gear]);
    const named = four.bedfuls.flatMap((b) =>
      readThreeMf(readFileSync(join(out('four'), b.file)), quietContext).objects.map((o) => o.name),
    );
    const plainName = basename(gear).replace(/\.[^.]+$/, '');
    expect(named.sort()).eql([plainName, `${plainName} 2`, `${plainName} 3`, `${plainName} 4`]);
    expect((await cli('bedfuls', gear, '--copies', '0', '--printer', out('long.json'))).error).match(
      /between 1 and 100/,
    );
    const none = await cli('bedfuls', gear, '--as-it-lies', '--printer', out('tiny.json'), '-o', out('no'));
    expect([none.code, existsSync(out('no'))]).eql([1, false]);
    const twice = await cli('bedfuls', gear, '--printer', out('long.json'), '--printer', out('long.json'));
    expect(twice.error).match(/Two printers have one name/);
  });

  it('lists support tips, and writes struts beside the part', async () => {
    type Told = { tips: { at: object; layer: number; size: string; reason: string }[]; struts: { count: number } };
    writeFileSync(out('resin.json'), JSON.stringify({ name: 'Vat', kind: 'resin', layerMm: 0.1 }));
    const args = [gear, '--printer', out('resin.json'), '--up', '1,0,1', '--struts'];
    const told = await report<Told>('tips', ...args, '-o', out('struts.3mf'));
    for (const tip of told.tips) expect(tip).include.keys('at', 'layer', 'size', 'reason');
    expect(told.tips.some((t) => t.reason === 'island')).equal(true);
    expect(told.struts.count).above(0);
    const { shells, watertight } = await report<{ shells: number; watertight: boolean }>('inspect', out('struts.3mf'));
    expect([shells > 1, watertight]).eql([true, true]);
    const none = await cli('tips', gear, '-o', out('none.stl'));
    expect([none.code, existsSync(out('none.stl'))]).eql([1, false]);
  });

  it('closes the loops asked for and leaves the others, crops, mends and gives a foot', async () => {
    const found = await report<{ findings: { code: string; loop?: number; lengthMm?: number }[]; openLoops: number }>(
      'inspect',
      scan,
      '--unit',
      'm',
    );
    const loops = found.findings.filter((f) => f.loop).map((f) => f.loop!);
    expect(loops).eql([1, 2, 3, 4, 5]);
    const some = await report<{ after: { openLoops: number }; sound: boolean }>(
      ...['mend', scan, '--unit', 'm', '-o', out('some.stl'), '--loops', '1,3'],
    );
    expect(some.after.openLoops).equal(3);
    expect(some.sound).equal(false);
    await report('mend', out('some.stl'), '-o', out('whole.stl'));
    const foot = await report<{ heightMm: number }>('foot', out('whole.stl'), '-o', out('foot.stl'));
    expect(foot.heightMm).greaterThan(0);
    expect((await report<{ watertight: boolean }>('inspect', out('foot.stl'))).watertight).equal(true);
  }).timeout(60_000);

  it('an inch is 25.4 mm', async () => {
    const { size } = await report<{ size: { x: number } }>('inspect', cube, '--unit', 'in');
    expect(size.x).closeTo(50.8, 1e-5);
  });

  it('exits with 1 and one JSON error when it cannot be done, and leaves nothing at the output', async () => {
    writeFileSync(out('letter.stl'), 'Dear reader, this is no mesh.');
    for (const [args, code] of [
      [['inspect', out('none.stl')], 'cannot'],
      [['inspect', out('letter.stl')], 'unknown-format'],
      [['hollow', cube, '-o', out('x.stl'), '--wall', '9'], 'cannot'],
      [['size', cube, '-o', out('x.stl'), '--factor', '0'], 'bad-params'],
      [['size', cube, '-o', out('x.step'), '--factor', '2'], 'bad-params'],
      [['divide', cube, '-o', out('x'), '--bed', '1x1x1', '--max-parts', '2'], 'cannot'],
      [['recut', cube, '-o', out('x.stl'), '--printed', '5'], 'bad-params'],
      [['crop', cube, '-o', out('x.stl'), '--box', '50,50,50,60,60,60'], 'nothing-left'],
      [['crop', cube, '-o', out('x.stl'), '--box', '1,2,3'], 'usage'],
      [['joins', cube, '--bed', '20x20x20'], 'bad-params'],
      [['mirror', cube, '-o', out('x.stl')], 'no-seam'],
      [['foot', cube, '-o', out('x.stl'), '--height', '99'], 'nothing-left'],
      [['scan', cube, '-o', out('x.stl'), '--severity', '2'], 'bad-params'],
      [['simplify', cube, '-o', out('x.stl'), '--triangles', '10', '--tolerance', '1'], 'bad-params'],
      [['convert', cube, '-o', join(folder, 'no/such/folder/x.stl')], 'cannot'],
      [['estimate', cube, '--printer', out('none.json')], 'bad-params'],
    ] as const) {
      const answer = await cli(...args, '--json');
      expect(answer.code, args.join(' ')).equal(code === 'usage' ? 2 : 1);
      const { error } = JSON.parse(answer.out) as { error: { code: string; message: string } };
      expect(error.code, args.join(' ')).equal(code);
      expect(answer.error).contains(error.message);
    }
    expect(readdirSync(folder)).eql(['letter.stl']);
  });

  it('points at the help of the command that was misunderstood, by its present name, or at all of it', async () => {
    expect((await cli('cuts', cube)).error).match(/--bed .* not specified\nSee jasmorphe help cuts\.\n$/);
    expect((await cli('scan', cube, '--mud')).error).match(/See jasmorphe help practice\.\n$/);
    expect((await cli('hollo', cube)).error).match(/See jasmorphe --help\.\n$/);
  });

  it('keeps what stood at the output when it fails', async () => {
    writeFileSync(out('kept.stl'), 'old');
    expect((await cli('hollow', cube, '-o', out('kept.stl'), '--wall', '9')).code).equal(1);
    expect(readFileSync(out('kept.stl'), 'utf8')).equal('old');
    expect((await cli('size', cube, '-o', out('kept.stl'), '--factor', '2')).code).equal(0);
    expect(readFileSync(out('kept.stl')).length).equal(84 + 600);
  });

  it('exits with 2 for wrong usage', async () => {
    for (const args of [
      ['inspect'],
      ['melt', cube],
      ['size', cube, '--factor', '2'],
      ['size', cube, '-o', out('x.stl'), '--factor', 'two'],
      ['divide', cube, '-o', out('x'), '--bed', '10x10'],
      ['divide', cube, '-o', out('x'), '--bed', 'a=10x10x10', '--bed', '20x20x20'],
      ['divide', cube, '-o', out('x'), '--bed', '10x10x10', '--plan', 'fewest,best'],
      ['cuts', cube, '--bed', '10x10x10', '--keep-clean', '0,0,0'],
      ['cuts', cube, '--bed', '10x10x10', '--keep-clean', '0,0,0:-2'],
      ['mend', cube, '-o', out('x.stl'), '--method', 'glue'],
      ['inspect', cube, '--colour'],
    ]) {
      const answer = await cli(...args);
      expect(answer.code, args.join(' ')).equal(2);
      expect(answer.error).not.equal('');
    }
    expect(existsSync(out('x.stl'))).equal(false);
    expect((await cli('--help')).code).equal(0);
  });

  it('warns when a file without a unit is hardly in mm, and never guesses by itself', async () => {
    const answer = await cli('inspect', scan);
    expect(answer.code).equal(0);
    expect(answer.error).match(/taken as mm, though m looks likelier/);
  });
});
