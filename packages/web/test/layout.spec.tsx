import { expect } from 'chai';
import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { findingsOfBody } from '@jasmorphe/contracts/reading/findings';
import { stageFinding } from '@jasmorphe/core/inspect/stageFinding';
import { gluedFaces, tipKey } from '@jasmorphe/contracts/reading/poses';
import { applyMat3, rotationToZ, type Mat3 } from '@jasmorphe/core/mesh/transform';
import { printingOf } from '@jasmorphe/core/planning/profileFields';
import type { SchoolPose } from '@jasmorphe/core/planning/pose/posesOf';
import type { PoseName } from '@jasmorphe/core/planning/pose/schools';
import { answers, fetchedStages, fireEvent, sent, show, store, type, waitFor } from './dom.tsx';
import { bodyOf, imported, partOf, printerOf, stepOf, xyz } from './things.ts';

const { stages } = await fetchedStages();
const { api } = await import('../src/app/api.ts');
const { partToLay } = await import('../src/stages/layout/partToLay.ts');
const { poseParams, printerOfPart } = await import('../src/stages/layout/poseParams.ts');
const { poseColumns, shownPoses } = await import('../src/stages/layout/poseColumns.ts');
const { liesSo } = await import('../src/project/Workbench.tsx');
const { upOfTurned } = await import('../src/stages/layout/turned.ts');
const { lineMovedBy } = await import('../src/ledger/lineMovedBy.ts');
const { pickPart, pickPoint } = await import('../src/bench/benchSlice.ts');

const long = printerOf('p1', { name: 'Long bed', bedMm: [250, 210, 220], pricePerKg: 31 });
const small = printerOf('p2', { name: 'Small bed' });
const vat = printerOf('p3', { name: 'Vat', kind: 'resin' });

const poseOf = (school: PoseName, up: [number, number, number], change: Partial<SchoolPose> = {}): SchoolPose => ({
  school,
  fits: true,
  up: xyz(...up),
  // JSON knows no -0
  rotation: rotationToZ(up).map((r) => r.map((c) => c + 0)),
  heightMm: 60,
  footMm2: 1200,
  tipDeg: 30,
  heldDeg: 30,
  overhangMm2: 0,
  supportMm3: 5000,
  toBedMm3: 5000,
  toPartMm3: 0,
  insideMm3: 0,
  bareMm2: 0,
  bridgedMm2: 0,
  scarMm2: 0,
  stepMm: 0.1,
  islands: 0,
  islandPlaces: [],
  maxPeelMm2: 1200,
  peelJumpMm2: 0,
  peelJumpAtMm: 0,
  cups: [],
  durationS: 36_000,
  materialG: 100,
  handS: 600,
  costS: 40_000,
  layers: 300,
  spacingMm: 0.2,
  lookedEveryMm: 0.2,
  ...change,
});

const best = poseOf('best', [0, 0, 1]);
const schools = [
  best,
  poseOf('flat', [1, 0, 0], { heightMm: 20, costS: 45_000 }),
  poseOf('lean', [0.6, 0, 0.8], { costS: 60_000 }),
  poseOf('low', [1, 0, 0], { heightMm: 20, costS: 45_000 }),
  poseOf('stand', [0, 1, 0], { costS: 50_000 }),
];
const report = (change: object = {}) => ({
  poses: schools,
  chosen: 'best',
  looked: 900,
  fits: true,
  kind: 'filament',
  ...change,
});
const taken = (pose: SchoolPose, kind = 'filament'): Partial<PartView> => {
  const { school, durationS, materialG, supportMm3 } = pose;
  const line = [
    stepOf('pose', { printer: printingOf(long.profile) }, report({ poses: [pose], chosen: school, looked: 1, kind })),
  ];
  return { line, cursor: 1, posed: { school, durationS, materialG, supportMm3 } };
};
const answering = (of: (params: Record<string, unknown>) => object = () => report()) => {
  // what was answered once is known: a test that is answered otherwise has a part of its own
  for (const tag of ['A1', 'A2', 'A3', 'A7'])
    answers.set(`POST /api/bodies/part-${tag}/previews`, ({ params }: { params: Record<string, unknown> }) =>
      stepOf('pose', params, of(params)),
    );
};
const at = (body: BodyView, printers = [long, small]) => {
  answers.set('GET /api/projects/p/kit', { batches: [] });
  const { Decision } = stages.layout;
  return show(<Decision body={body} printers={printers} onOpen={() => undefined} />);
};
const asked = () => sent.filter((s) => s.path.endsWith('/previews')).map((s) => (s.body as { params: object }).params);
const done = () => sent.filter((s) => s.method === 'POST' && s.path.endsWith('/steps'));
const button = (card: ReturnType<typeof at>, name: string | RegExp) =>
  card.getByRole('button', { name }) as HTMLButtonElement;

describe('Lay out', () => {
  afterEach(() => void store.dispatch(pickPart(null)));

  it('says what its hours come to with what fails, by the rate of the printer', async () => {
    store.dispatch(api.util.resetApiState());
    answering();
    answers.set('GET /api/days/rates', [
      { printerId: 'p1', perHour: 0.01, low: 0.004, high: 0.02, prints: 9, hours: 61 },
    ]);
    const card = at(bodyOf({ parts: [partOf('A1', { printer: 'Long bed' })] }));
    const { durationS } = best;
    const hours = (Math.exp((0.01 * durationS) / 3600) - 1) / 0.01;
    expect((await card.findByTestId('risk')).textContent).equal(
      `${hours.toFixed(1)} h expected with what fails and begins anew: 1 failure in 100 h (1 in 50 to 1 in 250), from 9 of its prints and 61 h`,
    );
  });

  it('begins with the first part that is not laid; what is printed needs no bed any more', () => {
    const parts = [partOf('A1', taken(best)), partOf('A2', { state: 'printed' }), partOf('A3')];
    expect(partToLay(bodyOf({ parts }), null)!.tag).equal('A3');
    expect(partToLay(bodyOf({ parts }), 'part-A1')!.tag).equal('A1');
    expect(stages.layout.stand(bodyOf({ parts }), String)).eql({ figure: '2 of 3 laid', state: 'open' });
    expect(stages.layout.stand(bodyOf({ parts: parts.slice(0, 2) }), String)).eql({
      figure: 'laid, 10.0 h',
      state: 'done',
    });
  });

  it('asks for the printer that the part was cut for, with the faces that are glued, and not for its price', () => {
    expect(printerOfPart({ printer: 'Small bed' }, [long, small], long)).equal(small);
    expect(printerOfPart({ printer: 'sold' }, [long, small], long)).equal(long);
    const cut = { normal: xyz(0, 0, 1), offset: 20, loop: null };
    const cuts = [cut, { ...cut, loop: [xyz(0), xyz(1), xyz(2)] }];
    const body = bodyOf({ line: [imported(), stepOf('divide', {}, { cuts, parts: [] })], cursor: 2 });
    const params = poseParams(gluedFaces(body), long);
    expect(params.unseen).eql([{ normal: [0, 0, 1], offset: 20 }]);
    expect(params.printer).include({ layerMm: 0.2 }).not.have.any.keys('name', 'pricePerKg', 'hoursRun');
  });

  it('shows each school once; leaning is for resin', () => {
    const names = (r: object) => shownPoses(r as never).map((p) => p.school);
    expect(names(report())).eql(['best', 'flat', 'low', 'stand']);
    expect(names(report({ kind: 'resin' }))).eql(['best', 'flat', 'lean', 'low', 'stand']);
    // what another school found as well is not said twice
    expect(names(report({ poses: [{ ...schools[1], school: 'best' }, ...schools.slice(1)] }))).eql([
      'flat',
      'low',
      'stand',
    ]);
  });

  it('a pose is looked at on the bench, chosen, and taken with the way that is up', async () => {
    answering();
    const card = at(bodyOf({ parts: [partOf('A1', { printer: 'Long bed' })] }));
    await card.findByText(/^It costs least in all/);
    expect(store.getState().bench.lie).deep.include({ partId: 'part-A1', rows: best.rotation });
    fireEvent.click(button(card, 'Lie low'));
    await waitFor(() => expect(store.getState().bench.lie!.rows).eql(schools[3].rotation));
    expect(card.getByRole('row', { name: /^Height/ }).textContent).equal('Height60 mm20 mm20 mm60 mm');
    fireEvent.click(button(card, /^Lay A1 so/));
    await waitFor(() => expect(done().length).equal(1));
    expect(done()[0].path).equal('/api/bodies/part-A1/steps');
    expect((done()[0].body as { params: object }).params).deep.include({
      up: [1, 0, 0],
      school: 'low',
      compare: false,
    });
    card.unmount();
    expect(store.getState().bench.lie).equal(null);
  });

  it('the pose that was taken stands out, and is not taken twice; its findings are not told twice', async () => {
    answering(() => report({ poses: schools.map((p) => ({ ...p, tipDeg: 3 })) }));
    const card = at(bodyOf({ parts: [partOf('A3', taken(schools[4]))] }));
    await card.findByText('taken');
    expect(button(card, /^A3 lies so/).disabled).equal(true);
    expect(store.getState().bench.studied).eql([]);
    fireEvent.click(button(card, 'Flat down'));
    await waitFor(() => expect(button(card, /^Lay A3 so/).disabled).equal(false));
    const studied = () => store.getState().bench.studied.map((f) => [f.kind, (f.values as { tag: string }).tag]);
    await waitFor(() => expect(studied()).eql([['topples', 'A3']]));
  });

  it('is turned by degrees, or laid on a face that is picked; what reaches beyond the bed is not taken', async () => {
    answering((params) =>
      params.up || params.face
        ? report({ poses: [poseOf('own', [0, 0.5, 0.866], { fits: !params.face })], chosen: 'own', looked: 1 })
        : report(),
    );
    const card = at(bodyOf({ parts: [partOf('A1')] }));
    await card.findByText(/^It costs least in all/);
    type(card.getByLabelText('Lean back'), '30');
    await card.findByRole('button', { name: 'By hand' });
    await waitFor(() => expect(asked().some((p) => 'up' in p)).equal(true));
    const up = (asked().find((p) => 'up' in p) as { up: number[] }).up;
    expect(up.map((c) => Number(c.toFixed(3)))).eql([0, -0.5, 0.866]);
    await waitFor(() => expect(button(card, /^Lay A1 so/).disabled).equal(false));
    fireEvent.click(button(card, /^Lay it on a face/));
    expect(store.getState().bench.asks).equal(1);
    store.dispatch(pickPoint([1, 2, 3]));
    await waitFor(() => expect(asked().at(-1)).deep.include({ face: [1, 2, 3] }));
    expect(store.getState().bench.asks).equal(0);
    await card.findByText(/^It reaches beyond the bed/);
    expect(button(card, /^Lay A1 so/).disabled).equal(true);
  });

  it('a lean that is typed before any pose is found is not lost: it is turned from how it lies', async () => {
    // no pose is found as long as this lasts
    answers.set('POST /api/bodies/part-A9/previews', () => null);
    const card = at(bodyOf({ parts: [partOf('A9')] }));
    const field = (await card.findByLabelText('Lean back')) as HTMLInputElement;
    card.getByText('Poses all round are being tried.');
    type(field, '30');
    await waitFor(() => expect(asked().some((p) => 'up' in p)).equal(true));
    const { up } = asked().find((p) => 'up' in p) as { up: number[] };
    expect(up.map((c) => Number(c.toFixed(3)))).eql([0, -0.5, 0.866]);
    expect(field.value).equal('30');
  });

  it('what divide and a pose tell of one part, that it is too large, is said once, with where it is', () => {
    const placed = stageFinding('too-large', 'failure', { tag: 'A1', overMm: 60 }, { name: 'A1', at: xyz(1, 2, 3) });
    const studied = [
      stageFinding('too-large', 'failure', { tag: 'A1' }),
      stageFinding('topples', 'attention', { tag: 'A1', tipDeg: 3 }),
      stageFinding('too-large', 'failure', { tag: 'B1' }),
    ];
    const told = findingsOfBody(bodyOf(), 'layout', [...studied, placed]);
    expect(told.map((f) => [f.kind, (f.values as { tag: string }).tag, Boolean(f.at)])).eql([
      ['too-large', 'B1', false],
      ['too-large', 'A1', true],
      ['topples', 'A1', false],
    ]);
  });

  it('how it lies by hand stands beside the schools on a later visit; for another printer it is laid anew', async () => {
    answering();
    const own = poseOf('own', [0, 0.6, 0.8], { heightMm: 77 });
    const card = at(bodyOf({ parts: [partOf('A7', taken(own))] }));
    await card.findByRole('button', { name: /^As it lies/ });
    expect(button(card, /^A7 lies so/).disabled).equal(true);
    expect(card.getByRole('row', { name: /^Height/ }).textContent).match(/77 mm$/);
    fireEvent.change(card.getByLabelText('Printer'), { target: { value: 'p2' } });
    await waitFor(() => expect(button(card, /^Lay A7 so/).disabled).equal(false));
    fireEvent.click(button(card, /^Lay A7 so/));
    await waitFor(() => expect(done().length).equal(1));
    expect((done()[0].body as { params: { up: number[] } }).params.up).eql([0, 0.6, 0.8]);
  });

  it('is fixed while a print of it stands on the bed', async () => {
    answering();
    const card = at(bodyOf({ parts: [partOf('A1', { state: 'printing' })] }));
    await card.findByText(/^A1 is on the bed as it lies/);
    await waitFor(() => expect(store.getState().bench.lie).not.equal(null));
    expect(button(card, /^Lay A1 so/).disabled).equal(true);
  });

  it('says why it cannot, and asks again for another printer', async () => {
    answers.set('POST /api/bodies/part-A2/previews', {
      error: { code: 'not-solid', message: 'The skin is open along 3 edges.', hint: 'Mend it first.' },
    });
    const card = at(bodyOf({ parts: [partOf('A2')] }), [long, small, vat]);
    await card.findByText('The skin is open along 3 edges.');
    answering(() => report({ kind: 'resin' }));
    fireEvent.change(card.getByLabelText('Printer'), { target: { value: 'p3' } });
    await card.findByRole('button', { name: 'Lean back' });
    expect((asked().at(-1) as { printer: object }).printer).include({ kind: 'resin' });
  });

  it('all that wait are laid at once, by printer; those on a bed or of a recut are left', async () => {
    answering();
    answers.set('POST /api/projects/p/batches', { id: 'x' });
    const parts = [
      partOf('A1', { printer: 'Long bed' }),
      partOf('A2', { printer: 'Small bed' }),
      partOf('A3', { printer: 'Long bed' }),
      partOf('A4', { state: 'printing' }),
      partOf('A5r1', { rests: 1 }),
      partOf('A6', taken(best)),
    ];
    const card = at(bodyOf({ parts }));
    fireEvent.click(button(card, /^Lay all 3 parts/));
    const batches = () => sent.filter((s) => s.path === '/api/projects/p/batches').map((s) => s.body as never);
    await waitFor(() => expect(batches().length).equal(2));
    expect(batches().map((b: { bodyIds: string[] }) => b.bodyIds)).eql([['part-A1', 'part-A3'], ['part-A2']]);
    expect(batches().map((b: { params: { compare: boolean } }) => b.params.compare)).eql([false, false]);
  });

  it('or those of all models of the project: what is laid for one printer is one work, whatever model it is of', async () => {
    store.dispatch(api.util.resetApiState());
    answering();
    answers.set('POST /api/projects/p/batches', { id: 'x' });
    answers.set('GET /api/projects/p', { id: 'p', models: [{ id: 'model' }, { id: 'wheel' }, { id: 'axle' }] });
    const glued = [{ normal: [0, 0, 1], offset: 20 }];
    const other = (id: string, own: object[]) => ({
      id,
      name: id,
      colour: '',
      whole: true,
      glued: own,
      parts: [partOf('A1', { id })],
    });
    answers.set('GET /api/projects/p/bedfuls', { models: [other('wheel', []), other('axle', glued)], bedfuls: [] });
    const body = bodyOf({ parts: [partOf('A1')], copies: 4, name: 'Carnyx' });
    const card = at(body);
    fireEvent.click(await card.findByRole('button', { name: 'Lay 3 parts of all models as found best' }));
    const batches = () =>
      sent
        .filter((s) => s.path === '/api/projects/p/batches')
        .map((s) => s.body as { bodyIds: string[]; params: { unseen?: object[] } });
    await waitFor(() => expect(batches().length).equal(2));
    expect(batches().map((b) => [b.bodyIds, b.params.unseen])).eql([
      [['part-A1', 'wheel'], undefined],
      [['axle'], glued],
    ]);
    // four of it are to be printed: as many pieces, asked for with the number that was seen
    answers.set('POST /api/bodies/model/twins', { ids: ['b', 'c', 'd'] });
    card.getByText(/4 of Carnyx are printed/);
    fireEvent.click(card.getByRole('button', { name: 'Make them 4 pieces' }));
    await waitFor(() => expect(sent.find((s) => s.path.endsWith('/twins'))?.body).eql({ copies: 4 }));
  });
});

describe('the ways that stand side by side', () => {
  const columnsOf = (change: Partial<Parameters<typeof poseColumns>[0]> = {}) =>
    poseColumns({ report: report() as never, taken: null, byHand: undefined, picked: null, ...change });
  const ids = (c: ReturnType<typeof columnsOf>) => c.columns.map((k) => k.id);
  const own = poseOf('own', [0, 0.6, 0.8]);

  it('are none before anything is known, and the schools with the best advised after that', () => {
    expect(columnsOf({ report: null })).eql({ columns: [], advised: -1, standing: -1 });
    const plain = columnsOf();
    expect([ids(plain), plain.advised, plain.standing]).eql([['best', 'flat', 'low', 'stand'], 0, -1]);
  });

  it('make room for what is turned by hand and for how it lies: the costliest gives way, never the one picked', () => {
    // stand costs most
    expect(ids(columnsOf({ byHand: null }))).eql(['best', 'flat', 'low', 'own']);
    expect(ids(columnsOf({ byHand: null, picked: 'stand' })))
      .include('stand')
      .length(4);
    const both = columnsOf({ byHand: poseOf('own', [0.6, 0, 0.8]), taken: own });
    expect(ids(both).slice(-2)).eql(['kept', 'own']);
    expect(both.columns.length).equal(4);
    expect(both.standing).equal(2);
    // what is turned to how it lies already is one column, marked as taken
    const again = columnsOf({ byHand: own, taken: own });
    expect([ids(again).at(-1), again.columns.at(-1)!.taken, ids(again).includes('kept')]).eql(['own', true, false]);
    // a school that was taken is marked where it stands
    expect(columnsOf({ taken: schools[4] }).standing).equal(3);
  });

  it('a part lies so when the same is up, whichever way it is turned about the vertical', () => {
    const part = { up: [0, 0.6, 0.8] as [number, number, number] };
    const rows = rotationToZ([0, 0.6, 0.8]);
    expect(liesSo(part, rows)).equal(true);
    expect(liesSo(part, [rows[1].map((c) => -c), rows[0], rows[2]])).equal(true);
    expect(liesSo(part, rotationToZ([0, 0.62, 0.78]))).equal(false);
  });
});

describe('support tips of a part', () => {
  const tipAt = (x: number, size: string, reason: string) => ({
    at: xyz(x, 2, 3),
    layer: 10 * x,
    zMm: 2 * x,
    size,
    reason,
    areaMm2: 36,
    overPart: x === 3,
    strut: null,
  });
  const tips = [tipAt(1, 'stout', 'island'), tipAt(2, 'fine', 'edge'), tipAt(3, 'fine', 'overhang')];
  const own = (tipsDone: string[] = []) => bodyOf({ id: 'part-A4', kind: 'part', tipsDone });
  const keyOf = (x: number, tag = 'A4') => tipKey(`mesh-${tag}`, xyz(x, 2, 3));

  beforeEach(() => {
    for (const tag of ['A4', 'A5'])
      answers.set(
        `POST /api/bodies/part-${tag}/previews`,
        ({ operation, params }: { operation: 'tips' | 'pose'; params: object }) =>
          operation === 'tips'
            ? stepOf('tips', params, { tips, rotation: best.rotation, liftMm: 0, struts: null })
            : stepOf('pose', params, report()),
      );
  });

  it('are counted by size, stepped through from the bed up, and ticked off', async () => {
    answers.set('GET /api/bodies/part-A4', own());
    answers.set(`PUT /api/bodies/part-A4/tips/${keyOf(2)}`, own());
    const card = at(bodyOf({ parts: [partOf('A4')] }));
    fireEvent.click(await card.findByRole('button', { name: /^Step through where/ }));
    await card.findByText('3 tips: 2 fine, 1 stout');
    expect(card.getByTestId('tip').textContent).equal(
      'Tip 1 of 3 stout, starts in mid-air; layer 11, 2.00 mm up. 3 not looked at yet.',
    );
    fireEvent.click(button(card, 'Next'));
    await waitFor(() => expect(card.getByTestId('tip').textContent).match(/^Tip 2 of 3 fine, overhang ends free/));
    expect(store.getState().bench.tips).deep.include({ at: 1, above: 1, layerMm: 0.2 });
    fireEvent.click(button(card, 'Tick off'));
    await waitFor(() => expect(sent.some((s) => s.method === 'PUT' && s.path.endsWith(keyOf(2)))).equal(true));
    fireEvent.click(button(card, 'One layer up'));
    expect(store.getState().bench.tips!.above).equal(2);
    fireEvent.click(button(card, 'Back'));
    fireEvent.click(button(card, 'Back'));
    await waitFor(() => expect(card.getByTestId('tip').textContent).match(/^Tip 3 of 3 .* over the part itself/));
    fireEvent.click(button(card, 'Close the list'));
    await waitFor(() => expect(store.getState().bench.tips).equal(null));
  });

  it('those that were looked at stay so; a file with struts is there once the part lies so', async () => {
    answers.set('GET /api/bodies/part-A5', { ...own([1, 3].map((x) => keyOf(x, 'A5'))), id: 'part-A5' });
    const card = at(bodyOf({ parts: [partOf('A5', taken(best))] }));
    fireEvent.click(await card.findByRole('button', { name: /^Step through where/ }));
    await waitFor(() => expect(card.getByTestId('tip').textContent).match(/1 not looked at yet/));
    expect(button(card, 'Looked at').getAttribute('aria-pressed')).equal('true');
    const files = () => card.queryAllByRole('link').map((a) => a.getAttribute('href'));
    expect(files()).eql(['bed', 'part'].map((way) => `/api/bodies/part-A5/export?format=3mf&pose=bed&struts=${way}`));
    fireEvent.click(button(card, 'Flat down'));
    await waitFor(() => expect(files()).eql([]));
  });
});

describe('layers of a part', () => {
  const layersOf = () => ({
    kind: 'filament',
    layerMm: 0.2,
    heightMm: 2,
    layers: 10,
    shown: Array.from({ length: 10 }, (_, layer) => ({
      layer,
      zMm: 0.2 * layer + 0.1,
      areaMm2: 100 * (layer + 1),
      perimeterMm: 40,
      durationS: layer < 4 ? 5 : 60,
    })),
    maxAreaMm2: 1000,
    jumps: [],
    islands: [],
    fast: [{ fromLayer: 0, toLayer: 3, fromMm: 0, toMm: 0.8, leastS: 5 }],
    variable: {
      zones: [{ fromMm: 0, toMm: 2, layerMm: 0.28 }],
      durationS: 300,
      evenS: 420,
      stepMm: 0.1,
      evenStepMm: 0.12,
    },
    pauses: [],
    inserts: [],
  });

  it('are gone through on the bench, with what is too fast, and other heights', async () => {
    answers.set(
      'POST /api/bodies/part-A6/previews',
      ({ operation, params }: { operation: 'layers' | 'pose'; params: object }) =>
        operation === 'layers' ? stepOf('layers', params, layersOf()) : stepOf('pose', params, report()),
    );
    answers.set('GET /api/bodies/part-A6', bodyOf({ id: 'part-A6', kind: 'part' }));
    const card = at(bodyOf({ parts: [partOf('A6')] }));
    fireEvent.click(await card.findByRole('button', { name: 'Look through the layers' }));
    await card.findByText('10 layers, the largest 10.0 cm²');
    expect(card.getByTestId('layer').textContent).match(/^Layer 6 of 10 1\.10 mm up: 6\.0 cm²/);
    await waitFor(() => expect(store.getState().bench.upTo!.mm).closeTo(1.2, 1e-9));
    fireEvent.change(card.getByRole('slider', { name: 'Layer' }), { target: { value: 0 } });
    await waitFor(() => expect(card.getByTestId('layer').textContent).match(/^Layer 1 of 10/));
    card.getByText(/^Too fast to set: 0\.00 mm to 0\.80 mm|^Too fast to set: 0 mm/);
    card.getByText(/^Heights by slope: 2\.0 min less|^Heights by slope: 2 min less/);
    fireEvent.click(button(card, 'Close the layers'));
    await waitFor(() => expect(store.getState().bench.upTo).equal(null));
  });
});

describe('bedfuls', () => {
  it('are asked for the parts that wait as they lie, three ways side by side, and drawn with a file each', async () => {
    const asks: { for: string; parts: { tag: string }[]; printers: { name: string }[] }[] = [];
    answering();
    answers.set('POST /api/bodies/b/previews', ({ params }: { params: (typeof asks)[number] }) => {
      asks.push(params);
      const bedful = {
        printer: 'Long bed',
        bedMm: [250, 210],
        parts: params.parts.map((p, i) => ({
          tag: p.tag,
          at: { x: 40 + 60 * i, y: 30 },
          turnDeg: 0,
          path: 'M-5 -5h10v2h-10z',
        })),
        fillPct: 41.6,
        durationS: 36_000,
        materialG: 200,
        expectedS: 38_000,
      };
      const n = params.for === 'least-lost' ? 2 : 1;
      return stepOf('bedfuls', params, {
        bedfuls: Array(n).fill(bedful),
        left: params.for === 'soonest' ? ['A2'] : [],
        doneS: 40_000,
      });
    });
    const parts = [
      partOf('A1', taken(best)),
      partOf('A2', taken(best)),
      partOf('A3'),
      partOf('A4', { ...taken(best), state: 'printing' }),
      partOf('A5', taken(best, 'resin')),
    ];
    const card = at(bodyOf({ parts }), [long, small, vat]);
    fireEvent.click(await card.findByRole('button', { name: 'What goes on which bed?' }));
    card.getByText(
      '2 parts as they lie, on Long bed, Small bed. 2 parts not laid for filament yet are left out. On another printer than it was laid for a part keeps its settings, and its hours go by the speeds of that one.',
    );
    await card.findByText(/42 % full/);
    expect(asks.map((a) => a.for).sort()).eql(['fewest', 'least-lost', 'soonest']);
    expect(asks[0].parts.map((p) => p.tag)).eql(['A1', 'A2']);
    expect(asks[0].printers.map((p) => p.name)).eql(['Long bed', 'Small bed']);
    card.getByRole('img', { name: 'Long bed from above: A1, A2' });
    fireEvent.click(button(card, 'Least lost'));
    await waitFor(() => expect(card.getAllByRole('link', { name: 'Fetch it as 3MF' }).length).equal(2));
    fireEvent.click(button(card, 'Soonest'));
    await card.findByText('No bed takes A2');
  });

  it('say what is missing: parts that are laid, or a printer', async () => {
    answering();
    const none = at(bodyOf({ parts: [partOf('A1')] }));
    fireEvent.click(await none.findByRole('button', { name: 'What goes on which bed?' }));
    none.getByText('No part that is laid for filament waits for a bed.');
    none.unmount();
    const bare = at(bodyOf({ parts: [partOf('A1', taken(best))] }), []);
    fireEvent.click(await bare.findByRole('button', { name: 'What goes on which bed?' }));
    bare.getByText(/^No printer is there/);
  });
});

describe('the brim of a part', () => {
  it('is that of its printer until it is said; the pose is asked for and laid with it, and kept with the part', async () => {
    answering(() => report());
    answers.set('POST /api/bodies/part-A8/previews', ({ params }: { params: Record<string, unknown> }) =>
      stepOf('pose', params, report()),
    );
    const brimmed = printerOf('p1', { name: 'Long bed', brimMm: 3 });
    const card = at(bodyOf({ parts: [partOf('A8')] }), [brimmed]);
    const field = () => card.getByLabelText('Brim') as HTMLInputElement;
    await waitFor(() => expect(button(card, /^Lay A8 so/).disabled).equal(false));
    expect(field().value).equal('3.00 mm');
    type(field(), '8');
    const brimOf = (params: object) => (params as { printer?: { brimMm?: number } }).printer?.brimMm;
    await waitFor(() => expect(asked().map(brimOf)).contain(8));
    await waitFor(() => expect(button(card, /^Lay A8 so/).disabled).equal(false));
    fireEvent.click(button(card, /^Lay A8 so/));
    await waitFor(() => expect(done().length).equal(1));
    expect(brimOf((done()[0].body as { params: object }).params)).equal(8);
    card.unmount();
    // laid without one it has none, whatever the printer's own is by now
    const bare = at(bodyOf({ parts: [partOf('A9', taken(best))] }), [brimmed]);
    expect((bare.getByLabelText('Brim') as HTMLInputElement).value).equal('0.00 mm');
    bare.unmount();
    const resin = at(bodyOf({ parts: [partOf('A8')] }), [vat]);
    expect(resin.queryByLabelText('Brim')).equal(null);
  });
});

describe('a pose in hand', () => {
  it('leans as its top goes: what is up then is what the turned part has on top', () => {
    const rows = rotationToZ([0.3, -0.5, 0.8]);
    expect(upOfTurned(rows, 0, 0).map((c) => Number(c.toFixed(3)))).eql(rows[2].map((c) => Number(c.toFixed(3))));
    // turned about the bed's x by 20 degrees the old top leans to y by as much
    const up = upOfTurned(rows, 20, 0);
    const onBed = applyMat3(rotationToZ(up), rows[2] as never);
    expect((Math.acos(onBed[2]) * 180) / Math.PI).closeTo(20, 1e-3);
    const flat = upOfTurned(rotationToZ([0, 0, 1]) as Mat3, 0, 90);
    expect(flat.map((c) => Math.round(c))).eql([-1, 0, 0]);
  });

  it('is undone before the steps of the model', () => {
    const model = bodyOf({ canUndo: true, canRedo: true });
    const part = bodyOf({ id: 'part', canUndo: true, canRedo: false });
    expect(lineMovedBy(model, part, 'undo')).equal(part);
    expect(lineMovedBy(model, part, 'redo')).equal(model);
    expect(lineMovedBy(model, undefined, 'undo')).equal(model);
    expect(lineMovedBy(bodyOf({ canUndo: false }), undefined, 'undo')).equal(null);
  });
});
