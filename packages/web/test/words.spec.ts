import type { Finding, FindingKind } from '@jasmorphe/core/inspect/Finding';
import { keyOf } from '@jasmorphe/core/inspect/findingKeys';
import { stageFinding } from '@jasmorphe/core/inspect/stageFinding';
import { expect } from 'chai';
import './dom.tsx';
import { bodyOf, factsOf, partOf, stepOf } from './things.ts';
import type { BodyView, MeshView, PartView, StepView } from '@jasmorphe/contracts/views';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { operationOf } from '@jasmorphe/core/operations/runs';
import { cividis } from '../src/bench/cividis.ts';
import { toolIds, tools, type ToolId } from '../src/tools/tools.ts';
import { fixed, inMm, lengthText, massText, secondsText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import { stepFigure, stepTitle } from '../src/ledger/stepWords.ts';
import { findingsOf } from '../src/project/findingsOf.ts';
import { clearanceParams } from '../src/stages/size/clearanceParams.ts';
import { stepOfStage } from '../src/stages/Stage.ts';
import { routeOf } from '../src/stages/stages.ts';

const facts = (change: Partial<Inspection> = {}): Inspection =>
  factsOf(10, 10, 10, { shellList: [], ...change }) as unknown as Inspection;
const mesh = (change: Partial<Inspection> = {}): MeshView => ({
  hash: 'aa',
  triangles: 12,
  vertices: 8,
  bytes: 1,
  facts: facts(change),
});
const step = (operation: string, report: unknown, params: Record<string, unknown> = {}): StepView =>
  stepOf(operation, params, report as object, { id: operation, outputs: [] });
const part = (tag: string, change: Partial<PartView> = {}): PartView =>
  partOf(tag, { id: `id-${tag}`, mesh: mesh(), heightMm: 50, ...change });
const body = (line: StepView[], change: Partial<BodyView> = {}): BodyView =>
  bodyOf({
    id: 'm',
    modelId: 'm',
    name: 'horn',
    sourceName: 'horn.obj',
    line,
    cursor: line.length,
    canUndo: false,
    mesh: mesh(),
    ...change,
  });
const mm = (v: number) => `${v} mm`;
/** Says lengths as they are. */
const plain = { ...inMm, length: mm };
const imported = step('import', { unitFrom: 'guess', unit: 'm', unitReason: '1.75 across', notes: [] });

describe('figures as they are shown', () => {
  it('have a real minus, thin spaces in thousands and no minus before zero', () => {
    expect(whole(1234567)).equal('1\u2009234\u2009567');
    expect(fixed(-12.345, 1)).equal('\u221212.3');
    expect(fixed(-0.001, 1)).equal('0.0');
    expect(whole(999)).equal('999');
  });

  it('lengths change with the unit; an inch is 25.4 mm', () => {
    expect(lengthText(900, 'mm')).equal('900.0 mm');
    expect(lengthText(1750, 'mm')).equal('1\u2009750 mm');
    expect(lengthText(25.4, 'in')).equal('1.00 in');
    expect(lengthText(0.2, 'in', false)).equal('0.008');
  });

  it('volumes in cm3, masses in g or kg, times in what fits', () => {
    expect(volumeText(255_000)).equal('255 cm³');
    expect(volumeText(1500)).equal('1.5 cm³');
    expect([massText(2.98), massText(335), massText(15_420)]).eql(['3.0 g', '335 g', '15.42 kg']);
    expect([secondsText(2.34), secondsText(42), secondsText(600), secondsText(52.5 * 3600)]).eql([
      '2.3 s',
      '42 s',
      '10 min',
      '52.5 h',
    ]);
  });
});

describe('the route', () => {
  it('says of a fresh import what must be mended, and what waits', () => {
    const stops = routeOf(
      body([imported], { mesh: mesh({ openEdges: 9, openLoops: 2, watertight: false, volumeMm3: null }) }),
      mm,
    );
    expect(stops.map((s) => s.state)).eql(['done', 'attention', 'open', 'open', 'open', 'later', 'later', 'later']);
    expect(stops[1].figure).equal('2 open loops');
    expect(stops[0].figure).equal('horn.obj');
  });

  it('never calls a mend done that is not sound', () => {
    const broken = step('mend', {
      sound: false,
      after: facts({ openEdges: 3 }),
      method: 'stitch',
      deviation: { maxMm: 0 },
    });
    expect(routeOf(body([imported, broken]), mm)[1]).include({ state: 'attention', figure: '3 open edges' });
    const good = step('mend', { sound: true, after: facts(), method: 'stitch', deviation: { maxMm: 0 } });
    expect(routeOf(body([imported, good]), mm)[1].state).equal('done');
  });

  it('marks steps beyond the cursor as out of date', () => {
    const line = [imported, step('size', { factor: { x: 2, y: 2, z: 2 } }), step('hollow', {}, { wall: 3 })];
    const stops = routeOf(body(line, { cursor: 2 }), mm);
    expect([stops[2].state, stops[3].state]).eql(['done', 'stale']);
    expect(stopFigure(stops, 'hollow')).equal('wall 3 mm');
  });

  it('finds the last step of a stage that is in force', () => {
    const line = [imported, step('size', { n: 1 }), step('size', { n: 2 }), step('size', { n: 3 })];
    expect(stepOfStage(body(line, { cursor: 3 }), 'size')).include({ index: 2, inForce: true });
    expect(stepOfStage(body(line, { cursor: 1 }), 'size')).include({ inForce: false });
    expect(stepOfStage(body(line), 'print')).equal(null);
  });

  it('counts prints, and asks for attention where one stopped', () => {
    const parts = [part('A1', { state: 'printed' }), part('A2', { state: 'failed', failedAtMm: 47.3 }), part('B1')];
    const divided = step('divide', { parts: [{}, {}, {}], order: [] });
    const stops = routeOf(body([imported, divided], { parts }), mm);
    expect(stops.find((s) => s.id === 'print')).include({ figure: '1 of 3 printed', state: 'attention' });
    expect(stopFigure(stops, 'divide')).equal('3 parts');
  });
});

const stopFigure = (stops: ReturnType<typeof routeOf>, id: string) => stops.find((s) => s.id === id)!.figure;

describe('findings', () => {
  const found = (kind: FindingKind, severity: 'failure' | 'attention' | 'note'): Finding => ({
    kind: 'said-before',
    key: keyOf(kind, { x: 1, y: 2, z: 3 }, 4),
    severity,
    count: 1,
    values: { text: `${kind}.` },
    at: { x: 1, y: 2, z: 3 },
    spanMm: 4,
    sure: 'counted' as const,
    mends: [],
  });

  it('are numbered worst first, with those set aside at the end', () => {
    const b = body([imported], {
      mesh: mesh({ findings: [found('half', 'note'), found('open-loops', 'failure'), found('crumbs', 'attention')] }),
      dismissals: [{ code: found('open-loops', 'failure').key, reason: 'half of a mirrored model', at: '' }],
    });
    const list = findingsOf(b, 'mend', 'mm');
    expect(list.map((f) => [f.number, f.message, f.aside?.reason ?? null])).eql([
      [1, 'crumbs.', null],
      [2, 'half.', null],
      [3, 'open-loops.', 'half of a mirrored model'],
    ]);
    expect(list[0].at).eql([1, 2, 3]);
  });

  it('say at intake that the unit was guessed, and nowhere else', () => {
    expect(findingsOf(body([imported]), 'intake', 'mm').map((f) => f.message)).eql([
      'The file states no unit. m was taken: 1.75 across.',
    ]);
    expect(findingsOf(body([imported]), 'mend', 'mm')).eql([]);
  });

  it('name parts that do not fit, slivers, and prints that stopped', () => {
    const place = { min: { x: 0, y: 0, z: 0 }, joins: [] };
    const divided = step('divide', {
      parts: [
        { tag: 'A1', fits: false, size: { x: 300, y: 10, z: 10 }, ...place },
        { tag: 'A2', fits: true, size: { x: 5, y: 4, z: 3 }, ...place },
      ],
      leftOut: [],
      mixable: [],
      interlocked: [],
    });
    const stopped = part('A2', { state: 'failed', failedAtMm: 47.3 });
    const list = findingsOf(body([imported, divided], { parts: [part('A1'), stopped] }), 'divide', 'mm');
    expect(list.map((f) => f.severity)).eql(['failure', 'failure', 'attention']);
    expect(list.map((f) => f.message).join(' '))
      .match(/A1 does not fit/)
      .match(/1 part is a sliver under 15 mm: A2/)
      .match(/A2 stopped at 47.3 mm. Decide/);
    const recut = part('A2r1', { rests: 1, line: [step('recut', {})], cursor: 1 });
    expect(
      findingsOf(body([imported, divided], { parts: [part('A1'), recut] }), 'print', 'mm')
        .map((f) => f.message)
        .join(' '),
    ).match(/A2r1, the rest of a part that stopped, waits to be printed/);
  });
});

describe('the ledger', () => {
  it('gives each step its one figure', () => {
    expect(stepFigure(step('import', { triangles: 412_806 }), plain)).equal('412\u2009806');
    expect(stepFigure(step('mend', { method: 'join', deviation: { maxMm: 0.08 } }), plain)).equal('join, dev 0.08 mm');
    expect(stepFigure(step('size', { factor: { x: 21.43, y: 21.43, z: 21.43 } }), plain)).equal('×21.4');
    expect(stepFigure(step('size', { factor: { x: 1, y: 1, z: 3 } }), plain)).equal('×1.00 1.00 3.00');
    expect(stepFigure(step('hollow', {}, { wall: 9 }), plain)).equal('9 mm');
    expect(stepFigure(step('divide', { parts: Array(12) }), plain)).equal('12 parts');
    expect(stepFigure(step('recut', { cutAtMm: 47.2 }), plain)).equal('at 47.2 mm');
  });
});

describe('tools', () => {
  const bench = (change: object = {}) =>
    ({ section: null, points: [], ...change }) as unknown as Parameters<(typeof tools)['crop']['options']>[2];
  const valuesOf = (id: ToolId, b: BodyView, change: Record<string, number | null> = {}) => ({
    ...Object.fromEntries(tools[id].fields(b).map((f) => [f.id, f.value])),
    ...change,
  });
  const b = body([imported]);

  it('every answer that can be worked out sends what its operation accepts', () => {
    for (const id of toolIds)
      for (const option of tools[id].options(b, valuesOf(id, b), bench(), inMm))
        if (option.params) parseParams(operationOf(id).params, option.params);
        else expect(option.wants, `${id} ${option.name}`).match(/\.$/);
  });

  it('crop takes the box once it is changed, else the section, and the picked piece once there is a point', () => {
    const of = (change: Record<string, number>, state: object) =>
      tools.crop.options(b, valuesOf('crop', b, change), bench(state), inMm);
    expect(of({}, {}).map((o) => o.params !== null)).eql([true, true, false, false]);
    expect(of({}, { points: [[1, 2, 3]] })[2].params).eql({ keep: 'picked', at: [1, 2, 3] });
    expect(of({ maxz: 4 }, {})[3].params).eql({ min: [0, 0, 0], max: [10, 10, 4] });
    // the bench takes away what stands towards the viewer: above along x and z, below along y
    expect(of({}, { section: { axis: 0, share: 0.25 } })[3].params).eql({ normal: [-1, 0, 0], offset: -2.5 });
    expect(of({}, { section: { axis: 1, share: 0.25 } })[3].params).eql({ normal: [0, 1, 0], offset: 2.5 });
  });

  it('the ground is advised where one was found', () => {
    expect(tools.crop.advised(b)).equal(1);
    const onGround = body([imported], {
      mesh: mesh({
        findings: [
          {
            kind: 'ground',
            key: 'ground@0,0,0~1',
            severity: 'attention',
            count: 1,
            values: { longMm: 1, wideMm: 1, flatMm: 0 },
            at: { x: 0, y: 0, z: 0 },
            spanMm: 1,
            sure: 'likely',
            mends: ['crop'],
          },
        ],
      }),
    });
    expect(tools.crop.advised(onGround)).equal(0);
  });

  it('after a crop what mending said no longer holds, after a foot it does', () => {
    const step = (operation: StepView['operation']) => ({ ...imported, operation }) as StepView;
    expect(stepOfStage(body([imported, step('mend'), step('foot')]), 'mend')!.inForce).equal(true);
    expect(stepOfStage(body([imported, step('mend'), step('crop')]), 'mend')).equal(null);
  });
});

describe('the colour map', () => {
  it('runs from dark blue to yellow, lighter all the way, and clips', () => {
    // luminance of cividis rises evenly: Nunez, Anderton and Renslow 2018
    const light = Array.from({ length: 33 }, (_, i) => cividis(i / 32)).map(
      ([r, g, b]) => 0.2126 * r + 0.7152 * g + 0.0722 * b,
    );
    for (let i = 1; i < light.length; i++) expect(light[i]).greaterThan(light[i - 1]);
    expect(cividis(0)[2]).greaterThan(cividis(0)[0]);
    expect(cividis(1)[0]).greaterThan(0.9);
    expect([cividis(-3), cividis(7)]).eql([cividis(0), cividis(1)]);
  });
});

describe('sizing in words', () => {
  it('names what steps did, in the past tense, whatever the operation', () => {
    expect(
      (['import', 'size', 'thicken', 'crop', 'divide', 'simplify', 'sample', 'recut'] as const).map(stepTitle),
    ).eql(['Imported', 'Sized', 'Thickened', 'Cropped', 'Divided', 'Simplified', 'Cut as a test piece', 'Recut']);
    const thick = step('thicken', { minMm: 0.8 });
    expect(stepFigure(thick, plain)).equal('to 0.8 mm');
    // a study never stands in a line, and has no figure there
    expect(stepFigure(step('fit', {}), plain)).equal('');
  });

  it('puts what a study found among the findings, worst first, numbered for the bench', () => {
    const at = { x: 1, y: 2, z: 3 };
    const studied = [
      stageFinding('thin-place', 'attention', { leastMm: 0.4, areaMm2: 50, underMm: 0.8 }, { at, spanMm: 9 }),
      stageFinding(
        'contact',
        'failure',
        { through: true, region: 'brow', deepestMm: 2, areaMm2: 120 },
        { at, spanMm: 4 },
      ),
    ];
    const list = findingsOf(body([step('import', { unitFrom: 'file', notes: [] })]), 'size', 'mm', studied);
    expect(list.map((f) => [f.number, f.message])).eql([
      [1, 'The body comes through the skin at the brow, by 2.00 mm, over 1.20 cm².'],
      [2, 'A wall of 0.40 mm over 0.50 cm² is thinner than 0.80 mm.'],
    ]);
    const aside = body([], { dismissals: [{ code: studied[1].key, reason: 'it is soft there', at: '' }] });
    expect(findingsOf(aside, 'size', 'mm', studied).at(-1)).deep.include({
      aside: { code: studied[1].key, reason: 'it is soft there', at: '' },
    });
  });

  it('says the guessed unit at Intake and again at Size, and not after a test piece was cut', () => {
    const guessed = body([step('import', { unitFrom: 'guess', unit: 'in', unitReason: '7 across', notes: [] })]);
    for (const stage of ['intake', 'size'] as const)
      expect(findingsOf(guessed, stage, 'mm').map((f) => f.key)).eql(['unit-guess#in']);
    expect(findingsOf(guessed, 'hollow', 'mm')).eql([]);
    expect(findingsOf(body([step('sample', {})]), 'size', 'mm')).eql([]);
  });

  it('keeps a body in its place while the model is scaled about its origin', () => {
    const r = {
      id: 'r',
      name: 'a head',
      kind: 'head' as const,
      measures: { girth: 560 },
      landmarks: {},
      meshHash: 'cc',
      move: [10, 20, 30] as [number, number, number],
      turn: [0, 0, 5] as [number, number, number],
      liningMm: 8,
      wantMm: 2,
    };
    // about the origin a point p goes to f p; the body that stood there goes along by (f - 1) p
    const params = clearanceParams(r, r, 1.5, [10, 0, -4]);
    expect(params).eql({
      kind: 'head',
      measures: { girth: 560 },
      move: [15, 20, 28],
      turn: [0, 0, 5],
      lining: 8,
      want: 2,
      factor: 1.5,
    });
    expect(clearanceParams({ ...r, kind: 'scan' }, r))
      .include({ scan: 'cc' })
      .and.not.have.property('kind');
  });
});
