import { expect } from 'chai';
import { Route, Routes, useLocation } from 'react-router';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import type { BodyView } from '@jasmorphe/contracts/views';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, waitFor, within } from './dom.tsx';
import { dividedReport } from './divided.ts';
import { kitOf, pieceOf } from './kitThings.ts';
import { bodyOf, factsOf, imported, jobOf, meshOf, partOf, stepOf } from './things.ts';

const { onKey } = await import('../src/app/keys.ts');
const { api } = await import('../src/app/api.ts');
const { AtStake } = await import('../src/app/AtStake.tsx');
const { KeysSheet } = await import('../src/app/KeysSheet.tsx');
const { LinkNote } = await import('../src/app/LinkNote.tsx');
const { setLink, setUnit } = await import('../src/app/uiSlice.ts');
const { clearBench, pickPart } = await import('../src/bench/benchSlice.ts');
const { default: KitPage } = await import('../src/kit/KitPage.tsx');
const { default: ProjectPage } = await import('../src/project/ProjectPage.tsx');
const { liesSo } = await import('../src/project/Workbench.tsx');

const bench = () => store.getState().bench;
const press = (key: string, change: object = {}) =>
  act(() => onKey(new KeyboardEvent('keydown', { key, bubbles: true, ...change })));
const Where = () => {
  const { pathname, search } = useLocation();
  return <output data-testid="where">{pathname + search}</output>;
};
const pages = (at: string) =>
  show(
    <>
      <Routes>
        <Route path="/" element={<p>the shelf</p>} />
        <Route path="/project/:projectId/kit" element={<KitPage />} />
        <Route path="/project/:projectId/:stage?" element={<ProjectPage />} />
      </Routes>
      <AtStake />
      <Where />
    </>,
    at,
  );
const lastOf = (method: string, path: string) => sent.filter((s) => s.method === method && s.path === path).at(-1);

const finding = (kind: string, change: object = {}) => ({
  kind,
  key: `${kind}@1`,
  severity: 'failure',
  count: 3,
  values: { loops: 1, lengthMm: 30, spanMm: 10, edges: 3 },
  at: [1, 2, 3],
  spanMm: 10,
  sure: 'counted',
  mends: ['stitch'],
  ...change,
});
/** A model with two things wrong with it. */
const torn = (change: Partial<BodyView> = {}) =>
  bodyOf({
    line: [imported()],
    mesh: meshOf(
      'torn',
      factsOf(100, 80, 60, {
        watertight: false,
        openEdges: 3,
        volumeMm3: null,
        findings: [finding('non-manifold-edges'), finding('duplicates', { severity: 'attention' })],
      }) as never,
    ),
    ...change,
  });
const parted = (change: Partial<BodyView> = {}) =>
  bodyOf({
    line: [imported(), stepOf('divide', {}, dividedReport())],
    cursor: 2,
    parts: [partOf('A1', { state: 'printing', canUndoPrint: true }), partOf('B1'), partOf('C1')],
    ...change,
  });
const serve = (body: BodyView, project: object = {}) => {
  answers.set('GET /api/projects/p', {
    id: 'p',
    name: 'Carnyx',
    note: 'war horn',
    licence: '',
    terms: 'unknown',
    modelIds: [body.id],
    models: [{ id: body.id, name: body.name }],
    ...project,
  });
  answers.set(`GET /api/bodies/${body.id}`, body);
};

before(async function () {
  this.timeout(30_000);
  await fetchedStages();
});
beforeEach(() =>
  act(() => {
    store.dispatch(api.util.resetApiState());
    store.dispatch(clearBench());
    store.dispatch(setLink('up'));
    store.dispatch(setUnit('mm'));
  }),
);

describe('the page of a project', () => {
  it('opens at the first stop that is not done, with the model, its findings and its size', async () => {
    serve(torn());
    const at = pages('/project/p');
    await waitFor(() => expect(at.getByTestId('where').textContent).match(/^\/project\/p\/mend$/), patience);
    const findings = at.getByRole('complementary', { name: 'Findings' });
    within(findings).getByText('2 findings');
    within(findings).getByText('12 triangles');
    at.getByText('war horn');
    expect(document.title).match(/^Carnyx, /);
  });

  it('goes from stop to stop by key, keeping the model that the address names', async () => {
    serve(torn(), { modelIds: ['other', 'b'], models: [{ id: 'other', name: 'other' }, { id: 'b', name: 'b' }] }); // oxfmt-ignore
    answers.set('GET /api/projects/p/kit', {
      projectId: 'p',
      pieces: [],
      variants: [],
      batches: [],
      oddUnits: [],
      unit: null,
      moves: [],
      trouble: null,
      frame: { shared: true, reason: '' },
    });
    answers.set('GET /api/bodies/other', torn({ id: 'other', name: 'other' }));
    const at = pages('/project/p/intake?model=b');
    await at.findByRole('navigation', { name: 'Route' }, patience);
    press('3');
    await waitFor(() => expect(at.getByTestId('where').textContent).equal('/project/p/size?model=b'));
    const route = at.getByRole('navigation', { name: 'Route' });
    expect(within(route).getByRole('link', { current: 'step' }).textContent).match(/^Size/);
    // the other model is gone to by the list
    fireEvent.change(at.getByLabelText('Model'), { target: { value: 'other' } });
    await waitFor(() => expect(at.getByTestId('where').textContent).equal('/project/p/size?model=other'));
  });

  it('findings are walked through by the arrows in a circle, and let go', async () => {
    serve(torn());
    const at = pages('/project/p/mend');
    await at.findByText('2 findings', {}, patience);
    press('ArrowDown');
    expect(bench().finding).equal(1);
    press('ArrowDown');
    press('ArrowDown');
    expect(bench().finding).equal(1);
    press('ArrowUp');
    expect(bench().finding).equal(2);
    press('Escape');
    expect(bench().finding).equal(null);
    press('ArrowUp');
    expect(bench().finding, 'from the end').equal(2);
  });

  it('undo by key walks along the line of the model, never while something works on it', async () => {
    serve(torn({ canUndo: true, canRedo: true }));
    const at = pages('/project/p/mend');
    await at.findByText('2 findings', {}, patience);
    press('u');
    await waitFor(() => expect(lastOf('POST', '/api/bodies/b/undo')).not.equal(undefined));
    press('U', { shiftKey: true });
    await waitFor(() => expect(lastOf('POST', '/api/bodies/b/redo')).not.equal(undefined));
    at.unmount();
    sent.length = 0;
    act(() => void store.dispatch(api.util.resetApiState()));
    serve(torn({ canUndo: true, busyJobId: 'j' }));
    const busy = pages('/project/p/mend');
    await busy.findByText('2 findings', {}, patience);
    press('u');
    expect(lastOf('POST', '/api/bodies/b/undo')).equal(undefined);
  });

  it('at Print W takes back what was said of the part in hand, and U is the undo of the ledger there as everywhere', async () => {
    serve(parted({ canUndo: true }));
    const at = pages('/project/p/print');
    await at.findByText('A1', { selector: '.machine h2' }, patience);
    press('w');
    await waitFor(() => expect(sent.some((s) => s.path === '/api/bodies/part-A1/print/undo')).equal(true));
    expect(lastOf('POST', '/api/bodies/b/undo')).equal(undefined);
    press('u');
    await waitFor(() => expect(lastOf('POST', '/api/bodies/b/undo')).not.equal(undefined));
  });

  it('what would make prints of no use is asked about, and done only with that word', async () => {
    serve(parted({ canUndo: true }));
    const message = '1 part that is printed would be of no use: A1 (printed).';
    answers.set('POST /api/bodies/b/undo', ({ lose }: { lose: boolean }) =>
      lose ? parted() : { error: { code: 'prints-at-stake', message, hint: '' } },
    );
    const at = pages('/project/p/divide');
    const undo = await at.findByRole('button', { name: 'Undo' }, patience);
    fireEvent.click(undo);
    const asked = await at.findByTestId('prints-at-stake');
    expect(asked.textContent).include(message);
    fireEvent.click(within(asked).getByRole('button', { name: 'Leave it' }));
    expect(at.queryByTestId('prints-at-stake')).equal(null);
    fireEvent.click(undo);
    fireEvent.click(within(await at.findByTestId('prints-at-stake')).getByRole('button', { name: /all the same/ }));
    await waitFor(() => expect(lastOf('POST', '/api/bodies/b/undo')?.body).eql({ lose: true }));
    expect(at.queryByTestId('prints-at-stake')).equal(null);
  });

  it('a part that the address names is picked once, and the address is tidied', async () => {
    serve(parted());
    const at = pages('/project/p/print?part=C1&model=b');
    await waitFor(() => expect(bench().partId).equal('part-C1'), patience);
    await waitFor(() => expect(at.getByTestId('where').textContent).equal('/project/p/print?model=b'));
    act(() => void store.dispatch(pickPart('part-A1')));
    expect(bench().partId).equal('part-A1');
  });

  it('parts stand apart where that helps, and together elsewhere', async () => {
    serve(parted());
    const at = pages('/project/p/divide');
    await waitFor(() => expect(bench().explode).equal(0.5), patience);
    press('3');
    await waitFor(() => expect(bench().explode).equal(0));
    press('8');
    await waitFor(() => expect(bench().explode).equal(0.6));
    at.getByRole('navigation', { name: 'Route' });
  });

  it('a project that was open a moment ago opens as any other: its parts stand apart, and the one named is picked', async () => {
    serve(parted());
    const before = pages('/project/p/divide');
    await waitFor(() => expect(bench().explode).equal(0.5), patience);
    before.unmount();
    const at = pages('/project/p/divide?part=C1');
    await at.findByRole('gridcell', { name: 'C1' }, patience);
    await waitFor(() => expect(at.getByTestId('where').textContent).equal('/project/p/divide'));
    expect([bench().explode, bench().partId]).eql([0.5, 'part-C1']);
  });

  it('a tool or a study that the address names stands in the place of the question, and is closed', async () => {
    serve(torn());
    const at = pages('/project/p/mend?tool=crop');
    await at.findByText('What does not belong to the model?', {}, patience);
    fireEvent.click(at.getByRole('button', { name: 'Back to the decision' }));
    await waitFor(() => expect(at.getByTestId('where').textContent).equal('/project/p/mend'));
    fireEvent.click(await at.findByTestId('tool-foot', {}, patience));
    await waitFor(() => expect(at.getByTestId('where').textContent).equal('/project/p/mend?tool=foot'));
    at.unmount();
    // none of the tools cuts a model that is in parts
    act(() => void store.dispatch(api.util.resetApiState()));
    serve(parted());
    const cut = pages('/project/p/mend?tool=crop');
    await cut.findByRole('navigation', { name: 'Route' }, patience);
    expect(cut.queryByText('What does not belong to the model?')).equal(null);
  });

  it('work on the model is shown on the bench; work on another is not', async () => {
    serve(torn({ busyJobId: 'mine' }));
    answers.set('GET /api/jobs', [
      jobOf({ id: 'mine', title: 'Mend', bodyId: 'b', progress: 0.4 }),
      jobOf({ id: 'other', title: 'Hollow', bodyId: 'elsewhere' }),
    ]);
    const at = pages('/project/p/mend');
    const working = () => at.container.querySelector('.working')?.textContent;
    await waitFor(() => expect(working()).match(/Mend/), patience);
    expect(working()).not.match(/Hollow/);
  });

  it('a project without a model says how to begin, shows what is coming in, or can be taken off', async () => {
    serve(bodyOf(), { modelIds: [], models: [] });
    answers.set('DELETE /api/projects/p', { error: { code: 'busy', message: 'It is being read.', hint: '' } });
    const kept = pages('/project/p');
    fireEvent.click(await kept.findByRole('button', { name: 'Take this empty project off the shelf' }, patience));
    await waitFor(() => expect(lastOf('DELETE', '/api/projects/p')).not.equal(undefined), patience);
    await new Promise((r) => setTimeout(r, 50));
    expect(kept.getByTestId('where').textContent, 'refused: the page stays').match(/^\/project\/p/);
    kept.unmount();
    answers.set('DELETE /api/projects/p', {});
    const at = pages('/project/p');
    fireEvent.click(await at.findByRole('button', { name: 'Take this empty project off the shelf' }, patience));
    await at.findByText('the shelf', {}, patience);
    expect(lastOf('DELETE', '/api/projects/p')).not.equal(undefined);
    at.unmount();
    act(() => void store.dispatch(api.util.resetApiState()));
    answers.set(
      'GET /api/jobs',
      [1, 2, 3, 4, 5].map((n) => jobOf({ id: `${n}`, kind: 'import', title: `Read ${n}.stl`, bodyId: null })),
    );
    const busy = pages('/project/p');
    await busy.findByText('and 2 more', {}, patience);
    expect(busy.queryByRole('button', { name: /Take this empty project/ })).equal(null);
  });

  it('one that is not there is said in words, with the way to the shelf', async () => {
    answers.set('GET /api/projects/p', {
      error: { code: 'not-found', message: 'There is no such project.', hint: '' },
    });
    const at = pages('/project/p/mend');
    await at.findByText('There is no such project.', {}, patience);
    fireEvent.click(at.getByRole('link', { name: 'To the shelf' }));
    at.getByText('the shelf');
  });

  it('a part lies so whatever way round it is turned on the bed, and not where it leans', () => {
    const turned = (deg: number) => {
      const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
      return [[c, -s, 0], [s, c, 0], [0, 0, 1]]; // oxfmt-ignore
    };
    const leaning = (deg: number) => {
      const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
      return [[1, 0, 0], [0, c, -s], [0, s, c]]; // oxfmt-ignore
    };
    expect([turned(0), turned(90), leaning(0.2), leaning(1)].map((rows) => liesSo({ up: [0, 0, 1] }, rows))).eql([
      true,
      true,
      true,
      false,
    ]);
  });
});

describe('the page of a kit', () => {
  const opened = async (view: KitView) => {
    serve(bodyOf());
    answers.set('GET /api/projects/p/kit', view);
    const at = pages('/project/p/kit');
    await at.findByRole('region', { name: 'Pieces of the kit' }, patience);
    return at;
  };

  it('says why the bench shows it so, and reads all in one unit at a press', async () => {
    const at = await opened(
      kitOf([pieceOf('axle'), pieceOf('bed')], {
        unit: { unit: 'mm', reason: 'most of its pieces would be of a likely size' } as never,
        oddUnits: ['axle'],
      }),
    );
    at.getByText('Shown as the files place them: they stand in one frame.');
    fireEvent.click(at.getByRole('button', { name: 'Read all in mm' }));
    await waitFor(() =>
      expect(sent.some((s) => s.method === 'POST' && s.path === '/api/projects/p/kit/unit')).equal(true),
    );
  });

  it('all is done to the pieces that are printed; where none is, there is nothing to do', async () => {
    const at = await opened(kitOf([pieceOf('axle', { aside: 'another is printed' })]));
    expect((at.getByRole('button', { name: 'Do to all …' }) as HTMLButtonElement).disabled).equal(true);
    at.getByText('Every piece is set aside');
  });

  it('chosen pieces are removed for good after a second press alone; all are offered the same', async () => {
    const at = await opened(kitOf([pieceOf('axle'), pieceOf('bed')]));
    await at.findByText('axle', {}, patience);
    at.getByRole('button', { name: 'Do to all …' });
    fireEvent.click(at.getAllByRole('checkbox')[1]);
    await at.findByRole('button', { name: 'Do to 1 piece …' }, patience);
    fireEvent.click(at.getByRole('button', { name: 'Remove …' }));
    at.getByText('A removed piece does not come back.');
    fireEvent.click(at.getByRole('button', { name: 'Keep' }));
    expect(sent.filter((s) => s.method === 'DELETE')).eql([]);
    fireEvent.click(at.getByRole('button', { name: 'Remove …' }));
    fireEvent.click(at.getByRole('button', { name: 'Remove 1 piece for good' }));
    await waitFor(() => expect(sent.filter((s) => s.method === 'DELETE').map((s) => s.path)).eql(['/api/bodies/axle']));
    await at.findByRole('button', { name: 'Do to all …' }, patience);
  });

  it('what is asked to be done is asked about all that is printed, and nothing is done by opening it', async () => {
    const at = await opened(kitOf([pieceOf('axle'), pieceOf('bed', { aside: 'another is printed' })]));
    fireEvent.click(at.getByRole('button', { name: 'Do to all …' }));
    const dialog = await at.findByRole('dialog', {}, patience);
    expect(dialog.textContent).match(/1 piece/);
    expect(sent.filter((s) => s.method === 'POST')).eql([]);
  });

  it('is left to words where the server refuses it', async () => {
    serve(bodyOf());
    answers.set('GET /api/projects/p/kit', { error: { code: 'gone', message: 'It cannot be read.', hint: 'Ask the doctor.' } }); // oxfmt-ignore
    const at = pages('/project/p/kit');
    await at.findByText('It cannot be read.', {}, patience);
    at.getByText('Ask the doctor.', { exact: false });
  });
});

describe('what holds on every page', () => {
  it('the sheet of keys opens and closes by its key, and names each once', async () => {
    const at = show(<KeysSheet />);
    fireEvent.keyDown(document.body, { key: '?', shiftKey: true });
    const sheet = await at.findByRole('dialog', { name: 'Keys' });
    const rows = within(sheet).getAllByRole('row');
    expect(rows.length).above(15);
    expect(new Set(rows.map((r) => r.textContent)).size).equal(rows.length);
    fireEvent.keyDown(sheet, { key: '?' });
    await waitFor(() => expect(at.queryByRole('dialog')).equal(null), patience);
  });

  it('lengths change between mm and inches by a key, but not while a text is typed', () => {
    const at = show(
      <>
        <KeysSheet />
        <input aria-label="words" />
      </>,
    );
    fireEvent.keyDown(document.body, { key: 'm' });
    expect(store.getState().ui.unit).equal('in');
    fireEvent.keyDown(at.getByLabelText('words'), { key: 'm' });
    expect(store.getState().ui.unit).equal('in');
    fireEvent.keyDown(document.body, { key: 'm', ctrlKey: true });
    expect(store.getState().ui.unit).equal('in');
    fireEvent.keyDown(document.body, { key: 'm' });
    expect(store.getState().ui.unit).equal('mm');
  });

  it('a server that is not heard is told at once; a newer page is offered, and not the one that is open', async () => {
    let page = 'one';
    answers.set('GET /api/health', () => ({ up: true, name: 'Jasmorphe', problems: [], page }));
    const at = show(<LinkNote />);
    await waitFor(() => expect(sent.some((s) => s.path === '/api/health')).equal(true));
    expect(at.queryByTestId('new-version')).equal(null);
    page = 'two';
    act(() => void store.dispatch(api.util.invalidateTags(['Health'])));
    await at.findByTestId('new-version', {}, patience);
    act(() => void store.dispatch(setLink('down')));
    at.getByTestId('link-down');
    expect(at.queryByTestId('new-version')).equal(null);
    act(() => void store.dispatch(setLink('up')));
    at.getByTestId('new-version');
  });
});
