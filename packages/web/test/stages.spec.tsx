import { expect } from 'chai';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { figures } from '@jasmorphe/core/trade/figures';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, type, waitFor } from './dom.tsx';
import { bodyOf, deviation, factsOf, imported, meshOf, printerOf, sound, stepOf, xyz } from './things.ts';

const { clearBench, dab, endStroke, holdBrush, mostDabs, showPainted } = await import('../src/bench/benchSlice.ts');
const { setPrinter } = await import('../src/app/uiSlice.ts');
const { stages } = await fetchedStages();
const { usualWall, wallsAround } = await import('../src/stages/hollow/HollowDecision.tsx');
const { ownMargins } = await import('../src/stages/divide/divideParams.ts');
const { settled, settledInMirror } = await import('../src/stages/divide/settled.ts');
const { cellsIn, roomsIn, advisedOf, areSameBeds, bedParams, bedsOf, bestFor, printerRows } =
  await import('../src/stages/divide/plans.ts');
const { leaned, leanOf, leanText, moved } = await import('../src/stages/divide/OwnCuts.tsx');
const { givenOf } = await import('../src/stages/mend/MendDecision.tsx');
const { previewApi } = await import('../src/app/previewApi.ts');

const opened: string[] = [];

/** Shows the decision of a stop. */
function at(stage: keyof typeof stages, body: BodyView, printers: PrinterView[] = []) {
  const { Decision } = stages[stage];
  return show(<Decision body={body} printers={printers} onOpen={(id) => opened.push(id)} />);
}

/** The server answers every question with a step whose report this makes of what was asked. */
function answering(report: (operation: OperationName, params: Record<string, unknown>) => object | null) {
  answers.set(
    'POST /api/bodies/b/previews',
    (asked: { operation: OperationName; params: object; ifKnown?: boolean }) => {
      // what is asked is what the operation accepts
      const params = parseParams(descriptionOf(asked.operation).params, asked.params) as Record<string, unknown>;
      const made = report(asked.operation, params);
      return made && !asked.ifKnown
        ? stepOf(asked.operation, params, made, { id: JSON.stringify(asked.params), outputs: ['made'] })
        : null;
    },
  );
}
const askedOf = (operation: OperationName) =>
  sent
    .filter((s) => s.path === '/api/bodies/b/previews')
    .map((s) => s.body as { operation: string; params: Record<string, unknown>; ifKnown?: boolean })
    .filter((b) => b.operation === operation);
const done = () => sent.filter((s) => s.path.startsWith('/api/bodies/b/steps'));
const button = (name: RegExp | string) => ({ name });

beforeEach(() => {
  opened.length = 0;
  store.dispatch(previewApi.util.resetApiState());
});

describe('Intake', () => {
  it('offers the units side by side; a guess that is right is made certain, and another is read anew', async () => {
    const card = at('intake', bodyOf({ line: [imported({ fileSize: xyz(1, 2, 3) })] }));
    for (const unit of [/^mm/, /^cm/, /^m$/, /^in/]) card.getByRole('button', button(unit));
    expect(card.queryByRole('button', button('ft'))).equal(null);
    // 3 units high: in inches that is 76.2 mm
    expect(card.getByRole('row', { name: /^Height/ }).textContent).equal(
      'Height3.0030.0300076.2'.replace('3000', '3\u2009000'),
    );
    fireEvent.click(card.getByRole('button', button(/^This is right/)));
    await waitFor(() => expect(done()[0].body).eql({ params: { unit: 'mm' }, dry: false }));
    fireEvent.click(card.getByRole('button', button('in')));
    fireEvent.click(card.getByRole('button', button(/^Take it as in/)));
    await waitFor(() => expect(done()[1].body).eql({ params: { unit: 'in' }, dry: false }));
  });

  it('tells what the file says of itself, and how its objects may be had the other way', async () => {
    const objects = [
      { name: 'hull', triangles: 8, colour: '#aa8866' },
      { name: 'mast', triangles: 4, colour: '#aa8866' },
    ];
    const words = { title: 'Boat', designer: 'Harrow Fen', licence: 'for members' };
    const card = at('intake', bodyOf({ line: [imported({ objects, words, fileUnit: 'mm', unitFrom: 'file' })] }));
    card.getByText('Boat');
    card.getByText('1 colour', { exact: false });
    card.getByText('The file states its unit: mm.', { exact: false });
    fireEvent.click(card.getByRole('button', button('Add each as a model too')));
    await waitFor(() =>
      expect(sent.at(-1)).eql({ method: 'POST', path: '/api/bodies/b/imports', body: { objects: 'apart' } }),
    );
  });
});

describe('Mend', () => {
  const report = (method: string, ok: boolean, change: object = {}) => ({
    method,
    taut: false,
    parts: [{ method, shells: 2, triangles: 12 }],
    before: factsOf(10, 10, 10, { openLoops: 2 }),
    after: factsOf(10, 10, 10),
    deviation,
    patches: null,
    buriedPct: 3,
    volumeChangePct: -0.5,
    sizeChange: xyz(0, 0, 0.2),
    untouchedPct: 99,
    stitched: { holesFilled: 2, crumbsDropped: 1, sheetsDropped: 1 },
    sound: ok,
    reason: `${method} it is.`,
    ...change,
  });
  const broken = () =>
    bodyOf({
      mesh: meshOf('m', factsOf(10, 10, 10, { openLoops: 2, openEdges: 8, watertight: false, volumeMm3: null })),
    });

  it('works all ways out and advises the first that is sound; its rows are those of the operation', async () => {
    answering((_, p) => report(String(p.method), p.method !== 'stitch' || p.taut === true));
    const card = at('mend', broken());
    await waitFor(() => card.getByText('Tight is advised.'), patience);
    expect(askedOf('mend').map((a) => [a.params.method, a.params.taut ?? false])).eql([
      ['stitch', false],
      ['stitch', true],
      ['join', false],
      ['wrap', false],
    ]);
    const labels = catalogue.mend.words.rows!.filter((r) => !r.when).map((r) => r.label);
    for (const label of labels) card.getByRole('rowheader', { name: label });
    // what holds only where holes were closed by patches is left out
    expect(card.queryByRole('rowheader', { name: 'Patches reach' })).equal(null);
    expect(card.getByRole('row', { name: /^Valid solid/ }).textContent).equal('Valid solidnoyesyesyes');
    expect(card.getByRole('row', { name: /^Dropped/ }).textContent).equal('Dropped2222');
    fireEvent.click(card.getByRole('button', button(/^Stitch with tight patches/)));
    await waitFor(() =>
      expect(done()[0].body).deep.include({ operation: 'mend', params: { method: 'stitch', taut: true } }),
    );
  });

  it('a figure that was given goes with every way that heeds it, and with no other', async () => {
    answering((_, p) => report(String(p.method), true));
    const card = at('mend', broken());
    await waitFor(() => card.getByText('Stitch is advised.'), patience);
    type(card.getByLabelText('Close gaps up to'), '0.3');
    type(card.getByLabelText('Detail of a wrap'), '2');
    await waitFor(() => expect(askedOf('mend').length).equal(8), patience);
    const later = askedOf('mend').slice(4);
    expect(later.map((a) => a.params.closeGaps)).eql([0.3, 0.3, 0.3, 0.3]);
    expect(later.map((a) => a.params.detail)).eql([undefined, undefined, undefined, 2]);
    expect(givenOf('join', { detail: 2, grow: 1, keepCrumbs: false, loops: [1] })).eql({ loops: [1] });
  });

  it('loops are chosen one by one, and what stays open is said', async () => {
    answering((_, p) => report(String(p.method), true));
    const card = at('mend', broken());
    // two loops, none of them among the findings: they go together
    fireEvent.click(card.getByLabelText('the other 2'));
    await waitFor(() => expect(askedOf('mend').some((a) => (a.params.loops as number[])?.length === 0)).equal(false));
    fireEvent.click(card.getByLabelText('the other 2'));
    expect((card.getByLabelText('the other 2') as HTMLInputElement).checked).equal(true);
  });

  it('what is closed already needs nothing; what is mended shows what came out and may go another way', async () => {
    answering(() => null);
    const closed = at('mend', bodyOf());
    closed.getByText('Nothing to mend.');
    closed.unmount();
    const mended = bodyOf({
      line: [imported(), stepOf('mend', { method: 'join', closeGaps: 0.2 }, report('join', true))],
      cursor: 2,
    });
    const card = at('mend', mended);
    card.getByText('Join.');
    card.getByText('taken');
    expect((card.getByRole('button', button(/^Join instead/)) as HTMLButtonElement).disabled).equal(true);
    fireEvent.click(card.getByRole('button', button('Wrap')));
    fireEvent.click(card.getByRole('button', button(/^Wrap instead/)));
    await waitFor(() =>
      expect(done()[0]).eql({
        method: 'PUT',
        path: '/api/bodies/b/steps/1',
        body: { params: { method: 'wrap', closeGaps: 0.2 }, dry: false },
      }),
    );
  });
});

describe('Hollow', () => {
  const report = (wall: number) => ({
    wall: { minMm: 0.9 * wall, p05Mm: wall, medianMm: wall },
    cavities: [{ volumeMm3: 1000, drains: [] }],
    solidVolumeMm3: 480_000,
    volumeMm3: 1000 * wall,
    savedPct: 100 - wall,
    trappedMm3: 5000,
    detailMm: 0.5,
    plugs: 0,
    proof: sound,
  });
  const filament = printerOf('long', { name: 'Long bed', kind: 'filament' });
  const resin = printerOf('vat', { name: 'Vat', kind: 'resin' });

  it('begins with the usual wall for size and material (common practice), one thinner and one thicker beside it', () => {
    expect(usualWall(false, 900).of).equal('a large filament shell');
    expect([usualWall(false, 900).mm, usualWall(false, 100).mm]).eql([
      figures.shellWallMm.value,
      figures.largeResinWallMm.value,
    ]);
    expect(figures.shellWallMm.value).within(8, 12);
    expect(usualWall(true, 900).mm).equal(usualWall(true, 50).mm);
    expect(wallsAround(3)).eql([2.1, 3, 4.2]);
    expect(wallsAround(0.333)).eql([0.233, 0.333, 0.466]);
  });

  it('what is hollow already is not called solid', () => {
    const shells = [
      { volumeMm3: 480_000, inside: null },
      { volumeMm3: -120_000, inside: 0 },
    ];
    const facts = factsOf(100, 80, 60, { volumeMm3: 360_000, shells: 2, shellList: shells });
    const body = bodyOf({ mesh: meshOf('m', facts) });
    at('hollow', body, [filament]).getByText(/It has 1 hollow of 120 cm³ in it already; its material is 360 cm³/);
    expect(stages.hollow.stand(body, String).figure).equal('1 hollow in it');
    expect(stages.hollow.stand(bodyOf(), String).figure).equal('solid');
  });

  it('estimates at once by skin times wall, and works all three out when asked', async () => {
    answering((_, p) => report(Number(p.wall)));
    const card = at('hollow', bodyOf(), [filament]);
    const [thin, usual, thick] = wallsAround(usualWall(false, 100).mm);
    const { areaMm2, volumeMm3 } = factsOf(100, 80, 60);
    const saved = (wall: number) => `≈ ${Math.round(100 * (1 - Math.min(volumeMm3, areaMm2 * wall) / volumeMm3))} %`;
    expect(card.getByRole('row', { name: /^Saved/ }).textContent).equal(
      `Saved${saved(thin)}${saved(usual)}${saved(thick)}`,
    );
    await new Promise((r) => setTimeout(r, 500));
    expect(askedOf('hollow')).eql([]);
    fireEvent.click(card.getByRole('button', button('Work all three out')));
    await waitFor(() => card.getByText(`${(100 - usual).toFixed(1)} %`), patience);
    expect(askedOf('hollow').map((a) => a.params.wall)).eql([thin, usual, thick]);
    // nothing runs out of filament
    expect(askedOf('hollow')[0].params.drains).equal(0);
    fireEvent.click(card.getByRole('button', button(/^Hollow to/)));
    await waitFor(() => expect(done()[0].body).deep.include({ operation: 'hollow' }));
    expect((done()[0].body as { params: object }).params).deep.include({ wall: usual, drains: 0, openBase: false });
  });

  it("resin wants drains in every cavity and says what would be trapped; a wall of one's own is the middle one", async () => {
    act(() => void store.dispatch(setPrinter({ projectId: '', id: 'vat' })));
    answering((_, p) => report(Number(p.wall)));
    const card = at('hollow', bodyOf(), [filament, resin]);
    expect((card.getByLabelText('Drains a cavity') as HTMLInputElement).value).equal('2');
    card.getByText(/Uncured resin sensitises skin/);
    type(card.getByLabelText('Wall'), '2.5');
    await waitFor(() => card.getByRole('button', button(/^Hollow to 2\.50 mm/)));
    type(card.getByLabelText('Drains a cavity'), '0');
    await waitFor(() => expect(card.queryByLabelText('Drain across')).equal(null));
    act(() => void store.dispatch(setPrinter({ projectId: '', id: 'long' })));
  });

  it('once it is hollowed it says what was saved and trapped, and another wall keeps what the card does not show', async () => {
    answering(() => null);
    const line = [imported(), stepOf('hollow', { wall: 3, drains: 0, drain: 4, detail: 0.4, plugs: true }, report(3))];
    const card = at('hollow', bodyOf({ line }), [filament]);
    card.getByText('97 % saved.');
    expect(card.getByRole('row', { name: /^Thinnest wall/ }).textContent).equal('Thinnest wall—2.70 mm—');
    expect((card.getByRole('button', button(/instead/)) as HTMLButtonElement).disabled).equal(true);
    fireEvent.click(card.getByRole('button', button('4.20 mm')));
    fireEvent.click(card.getByRole('button', button(/^Hollow to 4\.20 mm instead/)));
    await waitFor(() =>
      expect(done()[0].body).eql({
        params: { detail: 0.4, plugs: true, wall: 4.2, drain: 4, drains: 0, openBase: false },
        dry: false,
      }),
    );
  });

  it('what is open has no inside to take out', () => {
    const open = bodyOf({
      mesh: meshOf('m', factsOf(10, 10, 10, { openEdges: 3, watertight: false, volumeMm3: null })),
    });
    const card = at('hollow', open, [filament]);
    card.getByText(/must be closed before there is an inside/);
    expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(true);
  });
});

describe('Divide', () => {
  const report = (parts: number, change: object = {}) => ({
    parts: Array.from({ length: parts }, (_, i) => ({
      tag: `A${i + 1}`,
      volumeMm3: 10,
      size: xyz(30),
      min: xyz(0),
      fits: true,
      pose: { rotation: [] },
      heightMm: 30,
      footMm2: 900,
      joins: [{}, {}],
      plain: { min: xyz(0), size: xyz(30), volumeMm3: 10 },
      beside: [],
    })),
    order: [],
    loose: [],
    mixable: [],
    interlocked: [],
    leftOut: [],
    faces: 0,
    bareFaces: 0,
    cuts: [{ axis: 'z', normal: xyz(0, 0, 1), offset: 30, areaMm2: 5000 }],
    volumeError: 0,
    reason: 'Even cells.',
    proof: sound,
    ...change,
  });
  const printers = [
    printerOf('small', { name: 'Small', bedMm: [60, 60, 60] }),
    printerOf('large', { name: 'Large', bedMm: [300, 300, 300] }),
    printerOf('third', { name: 'Third', bedMm: [100, 100, 100] }),
    printerOf('fourth', { name: 'Fourth', bedMm: [90, 90, 90] }),
  ];

  /** What a plan of that style comes to. */
  const planOf = (plan: string, change: { parts?: number; [field: string]: unknown } = {}) => ({
    plan,
    cuts: [{ normal: [0, 0, 1], offset: 30, through: [5, 5, 30] }],
    parts: 4,
    fitting: change.parts ?? 4,
    seamMm: 500,
    seenSeamMm: 400,
    supportMm3: 9000,
    longestS: 7200,
    allS: 36_000,
    slivers: 0,
    looked: 100,
    grid: false,
    misfits: [],
    mirrored: null,
    printers: [],
    picture: { wide: 10, high: 10, parts: [[[0, 0, 10, 0, 10, 10]]] },
    ...change,
  });
  const found = (plan: string, change: Record<string, unknown>) =>
    planOf(plan, change) as never as Parameters<typeof bestFor>[1][number];

  it('each plan stands where it is best, whichever search found it; one that does not fit stands nowhere', () => {
    const few = found('fewest', { parts: 3, seenSeamMm: 420 });
    const clean = found('clean', { parts: 3, seenSeamMm: 300 });
    const quick = found('soon', { parts: 6, allS: 30_000, supportMm3: 100 });
    const misfit = found('support', { parts: 2, fitting: 1, supportMm3: 0 });
    const all = [few, clean, quick, misfit, null];
    expect(bestFor('fewest', all)).equal(clean);
    expect(bestFor('clean', all)).equal(clean);
    expect(bestFor('support', all)).equal(quick);
    expect(bestFor('soon', all)).equal(quick);
    expect(bestFor('soon', [null, misfit])).equal(misfit);
    expect(bestFor('soon', [null])).equal(null);
    const best = { fewest: clean, clean, support: quick, soon: quick };
    expect(advisedOf(best)?.style).equal('clean');
    expect(advisedOf({ ...best, clean: null })).equal(null);
    expect(
      advisedOf({ ...best, fewest: few, clean: found('clean', { parts: 4, seenSeamMm: 300 }) })?.style,
      'a third more',
    ).equal('fewest');
    expect(
      advisedOf({
        ...best,
        fewest: found('fewest', { parts: 8 }),
        clean: found('clean', { parts: 9, seenSeamMm: 200 }),
      })?.why,
    ).equal('1 part more than the fewest, and 50 % less seam that shows.');
  });

  it('what each printer prints stands in a row of its own, whatever their names', () => {
    const two = found('fewest', {
      printers: [
        { name: 'Long bed', parts: 2, durationS: 90_000 },
        { name: 'Small bed', parts: 1, durationS: 0 },
      ],
    });
    // 90 000 s are 25 hours; one that prints nothing is told too
    const rows = printerRows([two, null, found('clean', {})]);
    expect(rows.map((r) => r.label)).eql(['On Long bed', 'On Small bed']);
    expect(rows[0].cells).eql(['25.0 h', null, null]);
    expect(rows[1].cells[0]).match(/^0/);
    expect(printerRows([found('soon', {})])).eql([]);
  });

  it('beds go by name where there are several, or something stands on one', () => {
    const [small, large] = printers;
    expect(bedParams([])).eql({ bed: [220, 220, 250], kind: 'filament' });
    const usual = { kind: 'filament', layer: small.profile.layerMm, nozzle: 0.4 } as const;
    expect(bedParams([small])).eql({ bed: [60, 60, 60], ...usual });
    expect(bedParams([small, large]).beds).eql([
      { name: 'Small', bed: [60, 60, 60], ...usual },
      { name: 'Large', bed: [300, 300, 300], ...usual },
    ]);
    const resin = { ...large, profile: { ...large.profile, kind: 'resin' as const, layerMm: 0.05 } };
    expect(bedParams([small, resin]).beds?.[1]).eql({
      name: 'Large',
      bed: [300, 300, 300],
      kind: 'resin',
      layer: 0.05,
    });
    // a divide of before that said nothing of nozzles is for the same printers
    const { nozzle: _, ...before } = bedParams([small]);
    expect(areSameBeds(before, bedParams([small]))).equal(true);
    const wide = { ...small, profile: { ...small.profile, nozzleMm: 0.8 } };
    expect(areSameBeds(before, bedParams([wide]))).equal(false);
    expect(areSameBeds(bedsOf(bedParams([small, resin])), bedParams([small, resin]))).equal(true);
    const shy = { ...small, profile: { ...small.profile, marginMm: 10 } };
    expect(bedParams([shy]).beds).eql([{ name: 'Small', bed: [60, 60, 60], ...usual, margin: 10 }]);
    expect(roomsIn(bedParams([shy]), 3)).eql([[40, 40, 50]]);
    expect(areSameBeds(bedParams([small]), bedParams([shy]))).equal(false);
    expect(ownMargins(bedParams([shy, large]).beds, (mm) => `${mm} mm`)).equal(
      'Small keeps its own 10 mm free at the edge.',
    );
    expect(ownMargins(undefined, String)).equal('');
    const keepOuts = [{ min: [0, 0] as [number, number], max: [5, 5] as [number, number] }];
    const clip = { ...small, profile: { ...small.profile, keepOuts } };
    expect(bedParams([clip]).beds).eql([{ name: 'Small', bed: [60, 60, 60], ...usual, keepOuts }]);
    expect(cellsIn([100, 80, 60], roomsIn({ bed: [300, 300, 300] }, 0))).equal(1);
    expect(cellsIn([100, 80, 60], roomsIn({ bed: [60, 60, 60] }, 0))).equal(4);
    expect(cellsIn([100, 80, 60], roomsIn({ bed: [5, 5, 5] }, 3)), 'no room is left').equal(Infinity);
  });

  it('a plane is moved along its normal and leaned about the point by which it is known', () => {
    const cut = { normal: [0, 0, 1], offset: 30, through: [5, 5, 30] } as const;
    expect(moved(cut, 40)).eql({ normal: [0, 0, 1], offset: 40, through: [5, 5, 40] });
    const upright = leaned(cut, { tilt: 90, turn: 0 }, [0, 0, 0]);
    expect(upright.normal).eql([1, 0, 0]);
    expect(upright.offset, 'it passes through the point still').equal(5);
    expect(leanText(upright.normal)).equal('across x');
    const aslant = leaned(cut, { tilt: 30, turn: 90 }, [0, 0, 0]);
    expect(leanOf(aslant.normal)).eql({ tilt: 30, turn: 90 });
    expect(leanText(aslant.normal)).equal('30° towards 90°');
    // without a point, about where the middle of the model stands over it
    const free = leaned({ normal: [0, 0, 1], offset: 30 }, { tilt: 90, turn: 0 }, [7, 8, 9]);
    expect(free).eql({ normal: [1, 0, 0], offset: 7 });
  });

  it('a plane that is let go settles at a flat, in the middle, or whole beds from an end', () => {
    const reach = { from: -50, size: 500 };
    const rooms: Vec3[] = [[214, 180, 600]];
    // 50 mm under the end, 214 from either end, twice 180
    for (const [at, to] of [
      [203, 200],
      [166, 164],
      [234, 236],
      [312, 310],
      [90, 90],
      [118, 120],
    ])
      expect(settled(at, reach, [120], rooms), `${at}`).equal(to);
    expect(settled(166, reach, [166.5], rooms), 'a flat that is nearer').equal(166.5);
    expect(settled(449.9, reach, [450], []), 'never at an end').equal(449.9);
  });

  it('a plane let go near to a mirror of the model settles in it; turned into it only where it was turned', () => {
    const lean = (deg: number): [number, number, number] => [
      Math.cos((deg * Math.PI) / 180),
      0,
      Math.sin((deg * Math.PI) / 180),
    ];
    const mirror = { normal: lean(30), offset: 12 };
    const held = { middle: [0, 0, 0], longest: 500 } as const;
    const at = (normal: [number, number, number], offset: number, turned: boolean) =>
      settledInMirror({ normal, offset }, [mirror], held, turned);
    expect(at(lean(30), 15, false)).eql(mirror);
    expect(at(lean(30), 19, false), 'more than 6 mm off').equal(null);
    expect(at(lean(32), 12, true)).eql(mirror);
    expect(at(lean(32), 12, false), 'it leans so because it was turned so').equal(null);
    expect(at(lean(34), 12, true)).equal(null);
    const back = at([-mirror.normal[0], 0, -mirror.normal[2]], -12.5, false);
    expect(back?.offset, 'it keeps the way it faces').equal(-12);
    expect(back?.normal[0]).closeTo(-mirror.normal[0], 1e-12);
  });

  it('four plans are asked for by one press and stand side by side; the one chosen is cut as it was planned', async () => {
    answering((operation, p) =>
      operation === 'cuts'
        ? planOf(p.plan as string, { parts: p.plan === 'fewest' ? 3 : 4, seenSeamMm: p.plan === 'clean' ? 100 : 400 })
        : report(4),
    );
    const card = at('divide', bodyOf(), printers);
    card.getByText('Four plans are made side by side');
    expect(
      askedOf('cuts').every((a) => a.ifKnown),
      'nothing is worked out unasked',
    ).equal(true);
    fireEvent.click(card.getByRole('button', button(/^Plan the cuts/)));
    await waitFor(() => expect(card.getByRole('row', { name: /^Parts/ }).textContent).equal('Parts3433'), patience);
    card.getByText(/400 ways to cut looked at in all/);
    card.getByText('Fewest is advised.');
    expect(askedOf('cuts').at(-1)!.params).deep.include({ bed: [60, 60, 60], margin: 3 });
    fireEvent.click(card.getByRole('button', button('Cleanest')));
    fireEvent.change(card.getByLabelText('Joins'), { target: { value: 'none' } });
    await waitFor(() => expect(card.queryByLabelText('Gap a side')).equal(null));
    fireEvent.click(card.getByRole('button', button(/^Cut into 4/)));
    await waitFor(() => expect(done().length).equal(1));
    expect((done()[0].body as { params: object }).params).deep.include({
      bed: [60, 60, 60],
      plan: 'clean',
      join: 'none',
      labels: true,
    });
  });

  it('a first plan stands there while the four are sought, and is cut as it stands', async () => {
    answering((operation, p) =>
      operation !== 'cuts' ? report(5) : p.quick ? planOf('fewest', { parts: 5, looked: 12 }) : null,
    );
    const card = at('divide', bodyOf(), printers);
    fireEvent.click(card.getByRole('button', button(/^Plan the cuts/)));
    await waitFor(() => expect(card.getByRole('row', { name: /^Parts/ }).textContent).equal('Parts5555'), patience);
    const asked = askedOf('cuts').filter((a) => !a.ifKnown);
    expect(asked[0].params, 'the first to be asked').deep.include({ plan: 'fewest', quick: true });
    expect(asked.filter((a) => a.params.quick).length).equal(1);
    card.getByText(/12 ways to cut looked at/);
    fireEvent.click(card.getByRole('button', button('Cleanest')));
    fireEvent.click(card.getByRole('button', button(/^Cut into 5/)));
    await waitFor(() => expect(done().length).equal(1));
    const { params } = done()[0].body as { params: { plan: string; cuts?: unknown[] } };
    expect([params.plan, params.cuts]).eql(['fewest', planOf('fewest', {}).cuts]);
  });

  it('skin painted on the bench is asked to stay clean; rubbed out or wiped off it is not', async () => {
    answering((operation, p) => (operation === 'cuts' ? planOf(p.plan as string, {}) : report(4)));
    const card = at('divide', bodyOf(), printers);
    const bench = () => store.getState().bench;
    const stroke = (...dabs: [number, number, number][]) =>
      act(() => {
        for (const d of dabs) store.dispatch(dab(d));
        store.dispatch(endStroke());
      });
    stroke([1, 1, 1]);
    expect(bench().painted, 'no brush in hand').eql([]);
    fireEvent.click(card.getByRole('button', button('Paint skin clean')));
    const { radiusMm } = bench().brush!;
    // dabs closer than half the brush are one
    stroke([0, 0, 0], [0.1 * radiusMm, 0, 0], [radiusMm, 0, 0], [2 * radiusMm, 0, 0]);
    await waitFor(() => card.getByRole('button', button('Rub out')));
    expect(bench().painted.map((s) => s.at[0] / radiusMm)).eql([0, 1, 2]);
    fireEvent.click(card.getByRole('button', button(/^Plan the cuts/)));
    await waitFor(() => expect(askedOf('cuts').at(-1)!.params.painted).eql(bench().painted), patience);
    fireEvent.click(card.getByRole('button', button('Rub out')));
    expect(bench().brush!.wipes).equal(true);
    stroke([2.5 * radiusMm, 0, 0]);
    expect(bench().painted.length).equal(2);
    await waitFor(() => expect(askedOf('cuts').at(-1)!.params.painted).eql(bench().painted), patience);
    fireEvent.click(card.getByRole('button', button('Take all paint off')));
    await waitFor(() => expect(bench().painted).eql([]));
    await waitFor(() => expect(askedOf('cuts').at(-1)!.params).not.property('painted'), patience);
    // what is in hand outlives a reload, and is gone when it was taken back
    fireEvent.click(card.getByRole('button', button('Paint skin clean')));
    stroke([9, 9, 9]);
    card.unmount();
    const again = at('divide', bodyOf(), printers);
    await waitFor(() => expect(bench().painted.map((s) => s.at)).eql([[9, 9, 9]]));
    again.unmount();
    const other = at('divide', bodyOf({ id: 'c' }), printers);
    expect(bench().painted, 'of another model').eql([]);
    other.unmount();
    expect(bench().brush, 'the brush is laid down where nobody paints').equal(null);
  });

  it('a printer that keeps its own margin is told, and asked for so; printers picked outlive a reload', async () => {
    answering((operation, p) => (operation === 'cuts' ? planOf(p.plan as string, {}) : report(4)));
    const shy = printerOf('shy', { name: 'Shy', bedMm: [200, 200, 200], marginMm: 12 });
    const card = at('divide', bodyOf(), [shy, printers[1]]);
    const field = () => card.queryByLabelText('Edge kept free');
    await waitFor(() => card.getByText(/^Shy keeps its own 12\.0 mm free/));
    expect(field(), 'it is asked for none of the printers in use').equal(null);
    fireEvent.click(card.getByRole('button', { name: 'Large' }));
    await waitFor(() => expect(field()).not.equal(null));
    fireEvent.click(card.getByRole('button', button(/^Plan the cuts/)));
    await waitFor(
      () =>
        expect((askedOf('cuts').at(-1)!.params.beds as { margin?: number }[]).map((b) => b.margin ?? null)).eql([
          12,
          null,
        ]),
      patience,
    );
    card.unmount();
    const again = at('divide', bodyOf(), [shy, printers[1]]);
    for (const name of ['Shy', 'Large'])
      expect(again.getByRole('button', { name }).getAttribute('aria-pressed'), name).equal('true');
    again.unmount();
    sessionStorage.clear();
  });

  it('no more dabs are kept than a plan takes', () => {
    store.dispatch(showPainted([]));
    store.dispatch(holdBrush({ radiusMm: 1, wipes: false }));
    for (let i = 0; i < mostDabs + 5; i++) store.dispatch(dab([2 * i, 0, 0]));
    const { painted } = store.getState().bench;
    expect(painted.length).equal(mostDabs);
    expect(parseParams(catalogue.cuts.params, { bed: [9, 9, 9], painted }).painted).eql(painted);
    store.dispatch(clearBench());
    expect(store.getState().bench.painted).eql([]);
  });

  it('a plan is changed by hand: its cuts are judged at once, moved, taken away, and cut so', async () => {
    answering((operation, p) =>
      operation === 'cuts'
        ? planOf(
            p.cuts ? 'own' : (p.plan as string),
            p.cuts ? { parts: 2, fitting: 1, misfits: [{ at: xyz(1, 2, 3), overMm: 11 }] } : {},
          )
        : report(4),
    );
    const card = at('divide', bodyOf(), printers);
    fireEvent.click(card.getByRole('button', button(/^Plan the cuts/)));
    fireEvent.click(await card.findByRole('button', button('Change these cuts by hand'), patience));
    await waitFor(() => card.getByRole('row', { name: /^Too long by/ }), patience);
    expect(store.getState().bench.studied.map((f) => f.kind)).eql(['too-large']);
    fireEvent.click(card.getByRole('button', button('Cut 1')));
    type(card.getByLabelText('At, mm'), '42');
    await waitFor(
      () => expect(askedOf('cuts').at(-1)!.params.cuts).eql([{ normal: [0, 0, 1], offset: 42, through: [5, 5, 42] }]),
      patience,
    );
    fireEvent.click(await card.findByRole('button', button(/^Cut so, into 2/), patience));
    await waitFor(() => expect(done().length).equal(1));
    expect((done()[0].body as { params: object }).params).deep.include({
      cuts: [{ normal: [0, 0, 1], offset: 42, through: [5, 5, 42] }],
    });
    fireEvent.click(card.getByRole('button', button('Take cut 1 away')));
    await waitFor(() => expect(card.queryByRole('button', button('Cut 1'))).equal(null));
  });

  it('a change behind printed parts is asked about first: what would be lost is read before it is done', async () => {
    answering(() => null);
    const line = [imported(), stepOf('divide', { bed: [60, 60, 60], margin: 3, join: 'pin', labels: true }, report(4))];
    const parts = [{ tag: 'A1', state: 'printed', rests: 0 }] as never;
    const asked = { ...stepOf('divide', {}, {}), id: 'dry' };
    answers.set('PUT /api/bodies/b/steps/1', asked);
    const card = at('divide', bodyOf({ line, parts }), printers);
    fireEvent.click(card.getByLabelText('Tags on cut faces'));
    await waitFor(() => expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(false));
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() => card.getByText(/Working out what this does to the parts that are printed/));
    expect(done().map((d) => (d.body as { dry: boolean }).dry)).eql([true]);
    fireEvent.click(card.getByRole('button', button('Leave it')));
    expect(card.queryByText(/Working out what this does/)).equal(null);
  });

  it('cuts that were given by axis stay when something else is changed', async () => {
    answering(() => null);
    const at5 = [{ axis: 'z', mm: 5 }];
    const line = [
      imported(),
      stepOf('divide', { bed: [60, 60, 60], margin: 3, join: 'pin', labels: true, at: at5 }, report(2)),
    ];
    const card = at('divide', bodyOf({ line }), printers);
    fireEvent.click(card.getByLabelText('Tags on cut faces'));
    await waitFor(() => expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(false));
    fireEvent.click(card.getByTestId('do'));
    await waitFor(() => expect(done().length).equal(1));
    expect((done()[0].body as { params: object }).params).deep.include({ at: at5, labels: false });
  });

  it('slivers and parts that do not fit stand out', () => {
    answering(() => null);
    const cut = report(2);
    cut.parts[0].size = xyz(4);
    cut.parts[1].fits = false;
    const params = { bed: [60, 60, 60], margin: 3, join: 'pin', labels: true };
    const card = at('divide', bodyOf({ line: [imported(), stepOf('divide', params, cut)] }), printers);
    card.getByText(/1 is a sliver under 15 mm/);
    expect(card.getByRole('row', { name: /^Fit the bed/ }).querySelector('strong')!.textContent).equal('1');
  });
});

describe('the later stops', () => {
  it('say what they will need, and what is there already', () => {
    const layout = at('layout', bodyOf());
    layout.getByText('There are no parts yet');
    layout.unmount();
    const finish = at('finish', bodyOf());
    finish.getByText('It is whole: nothing has to be put together.');
    finish.getByText(/dust of resin/);
  });
});
