import { expect } from 'chai';
import type { BodyView } from '@jasmorphe/contracts/views';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { inMm } from '@jasmorphe/core/words/numbers';
import { nozzlesMm } from '@jasmorphe/core/trade/figures';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, type, waitFor } from './dom.tsx';
import { bodyOf, deviation, factsOf, imported, jobOf, partOf, printerOf, referenceOf, stepOf, xyz } from './things.ts';

const { default: StudyDecision } = await import('../src/stages/size/StudyDecision.tsx');
const { StudyList } = await import('../src/stages/size/StudyList.tsx');
const { stages } = await fetchedStages();
const { finerNozzle, wallsRows } = await import('../src/stages/size/wallsRows.ts');
const { clearanceRows } = await import('../src/stages/size/clearanceRows.ts');
const { sizeRows } = await import('../src/stages/size/sizeRows.ts');
const { clearBench } = await import('../src/bench/benchSlice.ts');
const { previewApi } = await import('../src/app/previewApi.ts');
const { api } = await import('../src/app/api.ts');

const mm = (x: number) => `${Number(x.toFixed(2))} mm`;
const button = (name: RegExp | string) => ({ name });
let closed = 0;

const printers = [printerOf('long', { name: 'Long bed', bedMm: [250, 210, 220], nozzleMm: 0.4 })];
const study = (name: 'walls' | 'places' | 'sample' | 'body', body: BodyView) =>
  show(<StudyDecision study={name} body={body} printers={printers} onClose={() => closed++} />);

/** Reports by operation; the server makes a step of each. */
function answering(reports: Partial<Record<OperationName, object | ((params: Record<string, unknown>) => object)>>) {
  answers.set('POST /api/bodies/b/previews', (asked: { operation: OperationName; params: Record<string, unknown> }) => {
    const report = reports[asked.operation];
    const made = typeof report === 'function' ? (report as (p: object) => object)(asked.params) : report;
    return made ? stepOf(asked.operation, asked.params, made, { id: JSON.stringify(asked) }) : null;
  });
}

/** A skin of which a share is thinner than each thickness: evenly from 0 to `mostMm`. */
const thicknessTo = (mostMm: number, change: object = {}) => ({
  minMm: 0.3,
  p01Mm: 0.4,
  quantilesMm: Array.from({ length: 101 }, (_, i) => (i / 100) * mostMm),
  thinAreaMm2: 2000,
  places: [],
  flats: null,
  ...change,
});

beforeEach(() => {
  closed = 0;
  answers.set('GET /api/projects/p', {
    id: 'p',
    models: [{ id: 'b', name: 'carnyx' }],
    terms: 'unknown',
    licence: '',
    source: {},
  });
  act(() => void store.dispatch(clearBench()));
  store.dispatch(api.util.resetApiState());
  store.dispatch(previewApi.util.resetApiState());
});

describe('rows of the size', () => {
  const basis = {
    before: xyz(10, 20, 30),
    facts: factsOf(10, 20, 30) as never,
    thick: thicknessTo(10, { flats: { riseMm: 0.1, facetMm: 2 } }) as never,
    done: undefined,
    hollowed: false,
    hollow: null,
    resin: false,
    density: 1.24,
    least: 0.8,
    grown: 1,
    length: mm,
    say: inMm,
  };
  const cells = (rows: ReturnType<typeof sizeRows>, label: string) => rows.find((r) => r.label === label)!.cells;

  it('lengths grow with the factor, material with its cube (closed formulas)', () => {
    const rows = sizeRows(basis, [[1, 1, 1], [2, 2, 2], null]);
    expect(cells(rows, 'Height')).eql(['30 mm', '60 mm', null]);
    // 10 x 20 x 30 mm is 6 cm3; twice as large it is 48
    expect(cells(rows, 'Volume, solid')).eql(['6.0 cm³', '48.0 cm³', null]);
    expect(cells(rows, 'Mass, solid')).eql(['7.4 g', '60 g', null]);
    expect(rows.at(-1)!.cells).eql(['×1.00', '×8.00', null]);
    expect(cells(rows, '1 mm of wall is')).eql(['1 mm', '2 mm', null]);
    // thickness is spread evenly to 10 mm: 0.8 mm is 8 % of it, at twice the size 4 %
    expect(cells(rows, 'Skin too thin')).eql(['8.0 %', '4.0 %', null]);
    expect(cells(rows, 'Flats stand off')).eql(['0.1 mm', '0.2 mm', null]);
    // the thinnest is what the findings say, and what all but one in a hundred are over stands apart
    expect(cells(rows, 'Thinnest wall')).eql(['0.4 mm', '0.8 mm', null]);
    const found = { kind: 'thin-walls', values: { leastMm: 0.07, areaMm2: 3 } };
    const thin = sizeRows({ ...basis, facts: { ...factsOf(10, 20, 30), findings: [found] } as never }, [[2, 2, 2]]);
    expect([cells(thin, 'Thinnest wall'), cells(thin, 'of 99 % of the skin')]).eql([['0.14 mm'], ['0.8 mm']]);
  });

  it('a stretch knows no walls; a hollow that replays keeps its wall, and its shell is skin times wall', () => {
    const hollow = { wall: 2, report: { volumeMm3: 4000 } as never };
    const rows = sizeRows({ ...basis, hollow }, [
      [1, 2, 1],
      [2, 2, 2],
    ]);
    expect(cells(rows, 'Thinnest wall')[0]).equal('—');
    expect(cells(rows, 'Wall, hollow')).eql(['2 mm', '2 mm']);
    // 2 x (10x20 + 20x30 + 30x10) = 2200 mm2, four times as much at twice the size, 2 mm thick
    expect(cells(rows, 'Material, hollow')[1]).equal('≈ 17.6 cm³');
    const same = { ...basis, hollow, done: { factor: xyz(2) } as never };
    expect(cells(sizeRows(same, [[2, 2, 2]]), 'Material, hollow')).eql(['4.0 cm³']);
  });

  it('nothing is known of an open skin but its size', () => {
    const open = { ...basis, facts: { ...factsOf(10, 20, 30), volumeMm3: null } as never, thick: null };
    const rows = sizeRows(open, [[3, 3, 3]]);
    expect([cells(rows, 'Volume, solid'), cells(rows, 'Mass, solid'), cells(rows, 'Flats stand off')]).eql([
      ['—'],
      ['—'],
      ['—'],
    ]);
    expect(cells(rows, 'Width')).eql(['30 mm']);
  });
});

describe('the size card', () => {
  const fit = { fits: true, pose: { rotation: [] }, largestFactor: 2.2, flatFactor: 2 };
  const card = (body: BodyView) => {
    const opened: string[] = [];
    const { Decision } = stages.size;
    return { opened, ...show(<Decision body={body} printers={printers} onOpen={(id) => opened.push(id)} />) };
  };

  it('opens on the longest side; a figure that is typed is done as it was typed', async () => {
    answering({ fit, thickness: thicknessTo(10) });
    const shown = card(bodyOf());
    type(shown.getByLabelText('Shall be'), '1.75 m');
    await waitFor(() => shown.getByRole('button', button('×17.5')));
    await waitFor(
      () => expect(shown.getByRole('row', { name: /^Width/ }).textContent).equal('Width100.01\u2009750220.0'),
      patience,
    );
    fireEvent.click(shown.getByRole('button', button(/^Size to 1.750 mm/)));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/b/steps')!.body).eql({
        operation: 'size',
        params: { axis: 'x', to: 1750 },
        dry: false,
      }),
    );
  });

  it('shrinkage is made up for on top, and the file says what it measures then', async () => {
    answering({ fit, thickness: thicknessTo(10) });
    const shown = card(bodyOf());
    type(shown.getByLabelText('Shrinkage, %'), '20');
    await waitFor(() =>
      shown.getByText(/In the file it measures 125\.0 mm, so that it is 100\.0 mm once it has shrunk/),
    );
    fireEvent.click(shown.getByTestId('do'));
    await waitFor(() =>
      expect((sent.find((s) => s.path === '/api/bodies/b/steps')!.body as { params: object }).params).eql({
        axis: 'x',
        to: 100,
        shrinkage: 20,
      }),
    );
  });

  it('by a factor, by a ratio, stretched, or filling the bed: each sends its own figures', async () => {
    answering({ fit, thickness: thicknessTo(10) });
    const shown = card(bodyOf());
    const by = (way: string) => fireEvent.change(shown.getByLabelText('By'), { target: { value: way } });
    by('factor');
    type(shown.getByLabelText('Factor'), '400%');
    await waitFor(() => shown.getByRole('button', button(/^Size to 400\.0 mm/)));
    by('ratio');
    type(shown.getByLabelText('Ratio, such as 1:6'), '1:10');
    type(shown.getByLabelText('The original measures'), '2 m');
    await waitFor(() => shown.getByRole('button', button(/^Size to 200\.0 mm/)));
    by('stretch');
    type(shown.getByLabelText('Along z'), 'x3');
    await waitFor(() => shown.getByText('Rounds become oval'));
    shown.getByRole('button', button('Stretched'));
    by('bed');
    await waitFor(() => shown.getByRole('button', button(/^Size to 220\.0 mm/)), patience);
    by('body');
    shown.getByText('Nobody is held against it yet.');
    fireEvent.click(shown.getByRole('button', button('Hold it against a body')));
    expect(shown.opened).eql(['body']);
  });

  it('what is very small wants finer layers', async () => {
    answering({ fit, thickness: thicknessTo(10) });
    const shown = card(bodyOf());
    type(shown.getByLabelText('Shall be'), '20');
    await waitFor(() => shown.getByText(/Below half size take finer layers/));
  });
});

describe('walls', () => {
  it("the widest nozzle below one's own that loses next to nothing is found; the finest, where all lose", () => {
    const ladder = [...nozzlesMm].sort((a, b) => a - b);
    const [finest] = ladder;
    // everything is thicker than the lines of any nozzle but the own
    const fine = thicknessTo(100) as never;
    const own = ladder.at(-1)!;
    expect(finerNozzle(thicknessTo(1000) as never, own)).equal(ladder.at(-2));
    expect(finerNozzle(thicknessTo(0.1) as never, own)).equal(finest);
    expect(nozzlesMm).include(finerNozzle(fine, own));
  });

  it('three ways out stand side by side, each with what it still loses', () => {
    const rows = wallsRows({
      walls: thicknessTo(10) as never,
      thick: { thinBeforePct: 8, thinAfterPct: 0.1, thinAreaAfterMm2: 20, addedMm3: 1500, deviation } as never,
      least: 0.8,
      nozzleMm: 0.4,
      finer: 0.2,
      say: { ...inMm, length: mm },
    });
    const cells = Object.fromEntries(rows.map((r) => [r.label, r.cells]));
    expect(cells['Least wall']).eql(['0.4 mm', '0.8 mm', '0.4 mm']);
    expect(cells['Still too thin']).eql(['4.0 %', '0.1 %', '4.0 %']);
    // 20 cm2 of skin counted on both sides is 10 of wall, half of it with the finer nozzle
    expect(cells['Area lost']).eql(['5.0 cm²', '0.10 cm²', '10.0 cm²']);
    expect(cells['Material added']).eql(['none', '1.5 cm³', 'none']);
  });

  it('are thickened from their card, with the side that was chosen', async () => {
    const thick = {
      thinBeforePct: 8,
      thinAfterPct: 0.1,
      thinAreaAfterMm2: 20,
      addedMm3: 1500,
      deviation,
      note: 'Grown.',
    };
    answering({ thickness: thicknessTo(10), thicken: thick });
    const card = study('walls', bodyOf());
    await waitFor(
      () => expect(card.getByRole('row', { name: /^Still too thin/ }).textContent).match(/0\.1 %/),
      patience,
    );
    fireEvent.change(card.getByLabelText('Walls grow'), { target: { value: 'outward' } });
    fireEvent.click(card.getByRole('button', button('Thicken')));
    await waitFor(() => card.getByText('Grown.'), patience);
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/b/steps')!.body).deep.include({
        operation: 'thicken',
        params: { min: 0.8, side: 'outward' },
      }),
    );
    await waitFor(() => expect(closed).equal(1));
  });
});

describe('places', () => {
  const places = [
    { id: 'boot', name: 'Hatchback', kind: 'lie', widthMm: 1000, depthMm: 700, heightMm: 600 },
    { id: 'door', name: 'Hall door', kind: 'pass', widthMm: 800, depthMm: null, heightMm: 2000 },
  ];
  const verdict = (name: string, fits: boolean) => ({
    name,
    way: 'lie',
    fits,
    largestFactor: fits ? 2 : 0.8,
    parts: null,
  });

  it('each says whether the whole goes there; what does not is named, and what to do', async () => {
    answers.set('GET /api/places', places);
    answering({ whereabouts: { places: [verdict('Hatchback', false), verdict('Hall door', true)] } });
    const card = study('places', bodyOf());
    await waitFor(() => card.getByText(/^Hatchback: not whole\. What must travel stays dismountable/), patience);
    expect(card.getByRole('row', { name: /^Hatchback/ }).querySelector('strong')!.textContent).equal('no, 80 %');
    expect(card.getByRole('row', { name: /^Hall door/ }).textContent).equal('Hall dooryes');
  });

  it('are added, changed and removed by the class that the server checks them by', async () => {
    answers.set('GET /api/places', places);
    answers.set('POST /api/places', (p: object) => ({ id: 'new', ...p }));
    answering({ whereabouts: { places: places.map((p) => verdict(p.name, true)) } });
    const card = study('places', bodyOf({ parts: [partOf('A1')] }));
    await waitFor(() => card.getByText('It stands and passes everywhere named here.'), patience);
    expect((card.getByTestId('do') as HTMLButtonElement).disabled, 'nothing was typed yet').equal(true);
    type(card.getByLabelText('Name'), 'Shed');
    type(card.getByLabelText('Height'), '2.1 m');
    await waitFor(() => expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(false));
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() =>
      expect(sent.find((s) => s.method === 'POST' && s.path === '/api/places')!.body).eql({
        name: 'Shed',
        kind: 'lie',
        heightMm: 2100,
      }),
    );
    fireEvent.change(card.getByLabelText('Place'), { target: { value: 'door' } });
    await waitFor(() => expect((card.getByLabelText('Name') as HTMLInputElement).value).equal('Hall door'));
    // what is passed through has no depth
    expect(card.queryByLabelText('Depth')).equal(null);
    fireEvent.click(card.getByRole('button', button('Remove this place')));
    await waitFor(() => expect(sent.some((s) => s.method === 'DELETE' && s.path === '/api/places/door')).equal(true));
  });
});

describe('a test piece', () => {
  it('is a copy or a region; the region wants a click, and what is made is opened', async () => {
    answering({
      sample: (p) => ({ kind: p.at ? 'region' : 'small', factor: 0.6, size: xyz(60), volumeMm3: 1000, sharePct: 0.5 }),
    });
    answers.set('POST /api/bodies/b/samples', jobOf({ id: 's', kind: 'sample' }));
    const card = study('sample', bodyOf());
    await waitFor(() => card.getByText('×0.600'), patience);
    fireEvent.click(card.getByRole('button', button('A region')));
    card.getByText(/Click the model where the region shall be/);
    expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(true);
    fireEvent.click(card.getByRole('button', button('Small copy')));
    type(card.getByLabelText('Longest side of the copy'), '40');
    await waitFor(() => expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(false));
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() => expect(sent.find((s) => s.path === '/api/bodies/b/samples')!.body).eql({ largest: 40 }));
  });
});

describe('on a body', () => {
  const clearance = (leastMm: number, change: object = {}) => ({
    body: 'head',
    leastMm,
    p05Mm: leastMm + 1,
    typicalMm: 6,
    touchingPct: leastMm < 0 ? 12 : 0,
    regions: [
      { name: 'brow', leastMm, p05Mm: leastMm + 1, typicalMm: 6 },
      { name: 'chin', leastMm: 9, p05Mm: 10, typicalMm: 12 },
    ],
    places: [],
    contacts: [],
    suggestedFactor: 1.08,
    about: xyz(0, 0, 10),
    move: xyz(1, 2, 3),
    sight: {
      both: { leftDeg: 40, rightDeg: 42, upDeg: 20, downDeg: 15, freePct: 30 },
      bare: { freePct: 60 },
    },
    openings: [
      { ahead: true, areaMm2: 500 },
      { ahead: false, areaMm2: 900 },
    ],
    breathOfWindpipes: 2,
    ...change,
  });

  it('rows say what a head sees and breathes through; other bodies have none of that', () => {
    const rows = clearanceRows([clearance(-2) as never, null], mm, true);
    const cells = Object.fromEntries(rows.map((r) => [r.label, r.cells]));
    expect(cells['Least room']).eql(['-2 mm', null]);
    expect(cells['Sees left, right']).eql(['40°, 42°', null]);
    expect(cells['Field of view']).eql(['50 %', null]);
    expect(cells['Breath ahead'], 'openings behind do not count').eql(['5.0 cm²', null]);
    expect(clearanceRows([clearance(1) as never], mm, false).length).equal(4);
  });

  it('says whether it goes on, what would make it, and where it is narrowest; sizing keeps the body in its place', async () => {
    answering({ clearance: (p) => clearance(p.factor ? 2 : -2) });
    const card = study('body', bodyOf({ references: [referenceOf({ move: [1, 2, 3] })] }));
    await waitFor(
      () => card.getByText(/With its lining it does not go on: narrowest at the brow\. ×1\.080 would leave 2\.00 mm/),
      patience,
    );
    card.getByText('Openings ahead of the mouth are small');
    await waitFor(
      () => expect(card.getByRole('row', { name: /^Least room/ }).textContent).equal('Least room\u22122.00 mm2.00 mm'),
      patience,
    );
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/b/steps')!.body).deep.include({
        operation: 'size',
        params: { factor: 1.08 },
      }),
    );
    // what was 10 mm above the origin is 10.8 mm above it in the larger model
    await waitFor(() => {
      const { body } = sent.find((s) => s.method === 'PATCH' && s.path === '/api/references/r')!;
      const [x, y, z] = (body as { move: number[] }).move;
      expect([x, y]).eql([1, 2]);
      expect(z).closeTo(3.8, 1e-9);
    });
  });

  it('a first body is made of published measures, corrected by what was measured', async () => {
    const card = study('body', bodyOf());
    card.getByText('For whom is it?');
    fireEvent.click(card.getByRole('button', button('Large')));
    type(card.getByLabelText('Girth, above the brows'), '58 cm');
    await waitFor(() => expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(false));
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() => {
      const { body } = sent.find((s) => s.path === '/api/bodies/b/references')!;
      expect(body).deep.include({ kind: 'head' });
      expect((body as { measures: { girth: number } }).measures.girth).equal(580);
    });
    fireEvent.change(card.getByLabelText('Body'), { target: { value: 'hand' } });
    await waitFor(() => card.getByRole('button', button(/^Hold it against a hand/)));
  });

  it('all ways to look at a size are listed at its stop, and at no other', () => {
    const opened: string[] = [];
    const list = show(<StudyList studies={stages.size.studies} onOpen={(id) => opened.push(id)} />);
    for (const id of stages.size.studies) fireEvent.click(list.getByTestId(`study-${id}`));
    expect(opened).eql(['body', 'walls', 'places', 'sample']);
    for (const stage of Object.values(stages)) if (stage.id !== 'size') expect(stage.studies, stage.id).eql([]);
    expect(imported().operation).equal('import');
  });
});
