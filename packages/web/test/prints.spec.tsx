import { expect } from 'chai';
import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, type, waitFor } from './dom.tsx';
import { bodyOf, imported, jobOf, partOf, printerOf, stepOf, xyz } from './things.ts';

const { partInHand } = await import('../src/stages/print/partInHand.ts');
const { stages } = await fetchedStages();
const { clearBench, pickPart } = await import('../src/bench/benchSlice.ts');
const { previewApi } = await import('../src/app/previewApi.ts');

const printers = [printerOf('long', { name: 'Long bed', layerMm: 0.25, firstLayerMm: 0.3 })];
const logged = () => sent.filter((s) => s.path === '/api/projects/p/log' && s.method === 'POST').map((s) => s.body);
const withParts = (...parts: PartView[]): BodyView => bodyOf({ parts });
const at = (body: BodyView) => {
  const { Decision } = stages.print;
  return show(<Decision body={body} printers={printers} onOpen={() => undefined} />);
};
const button = (name: RegExp | string) => ({ name });

beforeEach(() => {
  act(() => void store.dispatch(clearBench()));
  store.dispatch(previewApi.util.resetApiState());
});

describe('the part in hand', () => {
  it('is the one picked, else what needs a hand most: stopped, printing, a rest, to print', () => {
    const parts = [
      partOf('A1', { state: 'printed' }),
      partOf('A2'),
      partOf('A3', { rests: 1 }),
      partOf('B1', { state: 'printing' }),
      partOf('B2', { state: 'failed', failedAtMm: 12 }),
    ];
    const order: string[] = [];
    for (let left = [...parts]; left.length > 0;) {
      const next = partInHand(bodyOf({ parts: left }), null)!;
      order.push(next.tag);
      left = left.filter((p) => p !== next);
    }
    expect(order).eql(['B2', 'B1', 'A3', 'A2', 'A1']);
    expect(partInHand(bodyOf({ parts }), 'part-A1')!.tag).equal('A1');
    expect(partInHand(bodyOf({ parts }), 'part-gone')!.tag).equal('B2');
    expect(partInHand(bodyOf(), null)).equal(undefined);
  });
});

describe('at the machine', () => {
  it('nothing to print is said, and what would make parts', () => {
    at(bodyOf()).getByText(/Divide the model into parts that fit a bed/);
  });

  it('a part to print is started, or set aside; its figures are those of its own mesh', async () => {
    const card = at(withParts(partOf('A1', { heightMm: 60 })));
    card.getByText('To print');
    // 50 x 40 x 60 mm
    card.getByText(/60\.0 mm high as it lies · 120 cm³, 149 g solid/);
    fireEvent.click(card.getByRole('button', button('It is started')));
    await waitFor(() => expect(logged()).eql([{ partId: 'part-A1', outcome: 'started' }]));
    fireEvent.click(card.getByRole('button', button('Set it aside')));
    await waitFor(() => expect(logged()[1]).eql({ partId: 'part-A1', outcome: 'aside' }));
    const links = card.getAllByRole('link').map((a) => a.getAttribute('href'));
    expect(links).eql(['/api/bodies/part-A1/export?format=3mf&pose=bed', '/api/bodies/part-A1/export?format=3mf']);
  });

  it('a print that is on looks right, or stopped at a height that the part has; nothing is prefilled', async () => {
    const card = at(withParts(partOf('A1', { state: 'printing' })));
    const stopped = () => card.getByRole('button', button(/^It stopped/)) as HTMLButtonElement;
    const field = card.getByLabelText('Or it stopped at, by calipers') as HTMLInputElement;
    expect([field.value, stopped().disabled, stopped().textContent]).eql(['', true, 'It stopped: give the height']);
    type(field, '61');
    await waitFor(() => expect(field.getAttribute('aria-invalid')).equal('true'));
    expect(stopped().disabled, 'higher than the part').equal(true);
    type(field, '1 in');
    await waitFor(() => expect(stopped().disabled).equal(false));
    expect(stopped().textContent).equal('It stopped at 25.4 mm');
    fireEvent.keyDown(field, { key: 'Enter' });
    await waitFor(() => expect(logged()).eql([{ partId: 'part-A1', outcome: 'failed', heightMm: 25.4 }]));
    fireEvent.click(card.getByRole('button', button('Looks right')));
    await waitFor(() => expect(logged()[1]).eql({ partId: 'part-A1', outcome: 'passed' }));
  });

  it('what is printed or set aside can be taken up again, and what was said last taken back', async () => {
    const card = at(withParts(partOf('A1', { state: 'aside', canUndoPrint: true })));
    fireEvent.click(card.getByRole('button', button('Take it up again')));
    await waitFor(() => expect(logged()).eql([{ partId: 'part-A1', outcome: 'again' }]));
    fireEvent.click(card.getByRole('button', button(/^Take that back/)));
    await waitFor(() => expect(sent.at(-1)!.path).match(/print\/undo|log|bodies|projects/));
    expect(sent.some((s) => s.method === 'POST' && s.path === '/api/bodies/part-A1/print/undo')).equal(true);
  });

  it('a rest says where it was cut and how it is glued; a part that does not fit says so', () => {
    const recut = stepOf(
      'recut',
      { printed: 20 },
      {
        cutAtMm: 19.8,
        layersKept: 99,
        remainingHeightMm: 40.2,
        remainingVolumeMm3: 80_000,
        contactAreaMm2: 2000,
        islandsAtCut: 1,
      },
    );
    const rest = at(withParts(partOf('A1r1', { rests: 1, line: [recut], cursor: 1 })));
    rest.getByText(/Cut at 19\.8 mm, 99 layers stand\. 40\.2 mm are left/);
    rest.unmount();
    const large = at(withParts(partOf('B1', { fits: false })));
    large.getByText('It does not fit the bed');
  });

  it('while the part is being worked on nothing is said of it', () => {
    const card = at(bodyOf({ parts: [partOf('A1')], busyJobId: 'j' }));
    for (const name of ['It is started', 'Set it aside'])
      expect((card.getByRole('button', button(name)) as HTMLButtonElement).disabled, name).equal(true);
  });
});

describe('the print log', () => {
  const entry = (id: string, outcome: string, change: object = {}) => ({
    id,
    projectId: 'p',
    modelId: 'b',
    partId: 'part-A1',
    meshHash: 'm',
    tag: 'A1',
    printerId: null,
    outcome,
    heightMm: null,
    durationS: null,
    materialG: null,
    note: '',
    correctsId: null,
    withdrawn: false,
    canTakeBack: false,
    at: '2026-11-20T18:30:00.000Z',
    ...change,
  });

  it('tells what happened to the parts of this model, and of such as are gone; a wrong word is taken back by another', async () => {
    act(() => void store.dispatch(previewApi.util.resetApiState()));
    answers.set('GET /api/projects/p', { id: 'p', name: 'Carnyx', modelIds: ['b', 'another'], models: [] });
    answers.set('GET /api/projects/p/log', [
      entry('3', 'failed', { heightMm: 17.3, note: 'Spool ran out', canTakeBack: true }),
      entry('2', 'withdrawn', { correctsId: '1' }),
      entry('1', 'passed', { withdrawn: true }),
      entry('0', 'started', { modelId: 'another' }),
      entry('-1', 'passed', { modelId: 'removed' }),
    ]);
    const card = at(withParts(partOf('A1')));
    await waitFor(() => card.getByText(/stopped at 17\.3 mm/));
    card.getByText('Spool ran out');
    const rows = card.getByRole('region', { name: 'Print log' }).querySelectorAll('li');
    expect(Array.from(rows).map((r) => r.className)).eql(['failed', 'withdrawn', 'passed']);
    expect(rows[2].textContent).contain('of a piece that was removed');
    expect(rows[1].textContent).contain('taken back');
    expect(card.queryByRole('button', button('Take back: A1 looks right'))).equal(null);
    fireEvent.click(card.getByRole('button', button('Take back: A1 stopped')));
    await waitFor(() => expect(logged()).eql([{ partId: 'part-A1', outcome: 'withdrawn', correctsId: '3' }]));
  });
});

describe('the recut desk', () => {
  const stopped = () => withParts(partOf('A1', { state: 'failed', failedAtMm: 20, up: [0, 1, 0] }));
  const report = (printed: number, backOff: number) => ({
    cutAtMm: printed - backOff,
    layersKept: Math.floor((printed - backOff) / 0.25),
    remainingHeightMm: 60 - printed + backOff,
    remainingVolumeMm3: 2000 * (60 - printed + backOff),
    // ten layers lower the face is twice as broad
    contactAreaMm2: backOff > 2 ? 4000 : 2000,
    islandsAtCut: 1,
  });
  const answering = () =>
    answers.set('POST /api/bodies/part-A1/previews', (asked: { params: { printed: number; backOff: number } }) =>
      stepOf('recut', asked.params, report(asked.params.printed, asked.params.backOff), {
        id: JSON.stringify(asked.params),
      }),
    );

  it("cuts there or some layers lower, by the printer's own layers and along what was up; the broader face is advised", async () => {
    answering();
    const card = at(stopped());
    await waitFor(() => card.getByText('Lower down the face is broader and glues better.'), patience);
    const asked = sent.filter((s) => s.path.endsWith('/previews')).map((s) => (s.body as { params: object }).params);
    expect(asked).eql(
      [0, 0.5, 2.5].map((backOff) => ({ printed: 20, layer: 0.25, firstLayer: 0.3, backOff, up: [0, 1, 0] })),
    );
    expect(card.getByRole('row', { name: /^Cut at/ }).textContent).equal('Cut at20.0 mm19.5 mm17.5 mm');
    expect(card.getByRole('row', { name: /^Mass, solid/ }).textContent).match(/99 g/);
    fireEvent.click(card.getByRole('button', button('10 lower')));
    fireEvent.click(card.getByRole('button', button(/^Recut A1/)));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/part-A1/steps')!.body).deep.include({
        operation: 'recut',
        params: asked[2],
      }),
    );
  });

  it('below the first layer nothing can be kept; the other answers are there', async () => {
    answering();
    const card = at(withParts(partOf('A1', { state: 'failed', failedAtMm: 0.1 })));
    card.getByText(/Not even the first layer stands/);
    expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(true);
    for (const [name, outcome] of [
      ['Print it again', 'again'],
      ['Take it as it is', 'passed'],
      ['Set it aside', 'aside'],
    ]) {
      fireEvent.click(card.getByRole('button', button(name)));
      await waitFor(() => expect(logged().at(-1)).eql({ partId: 'part-A1', outcome }));
    }
    expect(sent.some((s) => s.path.endsWith('/previews'))).equal(false);
  });

  it('another height is measured by calipers, never higher than the part', async () => {
    answering();
    const card = at(stopped());
    const field = card.getByLabelText('Stands, by calipers');
    type(field, '61');
    await waitFor(() => expect(field.getAttribute('aria-invalid')).equal('true'));
    expect((card.getByTestId('do') as HTMLButtonElement).disabled).equal(true);
    type(field, '30');
    await waitFor(
      () => expect(card.getByRole('row', { name: /^Cut at/ }).textContent).equal('Cut at30.0 mm29.5 mm27.5 mm'),
      patience,
    );
  });
});

describe('jobs on screen', () => {
  it('say how far they are and how long yet, once that is more than a guess', async () => {
    const { JobLine, secondsLeft } = await import('../src/jobs/JobsTray.tsx');
    const begun = Date.parse('2026-11-20T10:00:00.000Z');
    expect(secondsLeft(jobOf({ progress: 0.25 }), begun + 10_000)).closeTo(30, 1e-9);
    expect(secondsLeft(jobOf({ progress: 0.01 }), begun + 10_000)).equal(null);
    expect(secondsLeft(jobOf({ progress: 0.5 }), begun + 500), 'hardly begun').equal(null);
    expect(secondsLeft(jobOf({ progress: 0.5, state: 'queued' }), begun + 10_000)).equal(null);
    const line = show(<JobLine job={jobOf({ progress: 0.42, phase: 'Cutting' })} />);
    line.getByText('42 %');
    line.getByText(/^Cutting/);
    fireEvent.click(line.getByRole('button', button('Cancel')));
    await waitFor(() => expect(sent.at(-1)).deep.include({ method: 'POST', path: '/api/jobs/j/cancel' }));
    line.unmount();
    const failed = show(
      <JobLine
        job={jobOf({
          state: 'failed',
          endedAt: 'now',
          error: { code: 'cannot', message: 'It is open.', hint: 'Mend it.' },
        })}
      />,
    );
    failed.getByText('It is open. Mend it.');
    expect(failed.queryByRole('button')).equal(null);
  });

  it('a stop that was done is on the route with its figure, whatever it is', () => {
    const line = [imported(), stepOf('size', { factor: 2 }, { factor: xyz(2), before: xyz(1), size: xyz(2), oval: 1 })];
    const body = bodyOf({ line, cursor: 1 });
    const mm = (x: number) => `${x} mm`;
    expect(stages.size.stand(body, mm)).eql({ figure: '100 mm', state: 'stale' });
    expect(stages.size.stand({ ...body, cursor: 2 }, mm).state).equal('done');
    expect(stages.print.stand(bodyOf({ parts: [partOf('A1', { state: 'failed' })] }), mm)).eql({
      figure: '0 of 1 printed',
      state: 'attention',
    });
    expect(stages.layout.stand(bodyOf(), mm)).eql({ figure: '—', state: 'later' });
  });

  it('a part that is picked on the bench is the one in hand', async () => {
    const card = at(withParts(partOf('A1'), partOf('A2')));
    act(() => void store.dispatch(pickPart('part-A2')));
    await waitFor(() => card.getByRole('heading', { name: 'A2' }));
  });
});
