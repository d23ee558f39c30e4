import { expect } from 'chai';
import type { BodyView } from '@jasmorphe/contracts/views';
import { descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { box } from '../../core/test/solids.ts';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, waitFor, within } from './dom.tsx';
import { served } from './display.ts';
import { dividedReport } from './divided.ts';
import { bodyOf, factsOf, imported, meshOf, partOf, printerOf, stepOf, xyz } from './things.ts';

const { clearBench, pickPart } = await import('../src/bench/benchSlice.ts');
const { previewApi } = await import('../src/app/previewApi.ts');
const { api } = await import('../src/app/api.ts');
const { stages } = await fetchedStages();

const printers = [printerOf('long', { name: 'Long bed', bedMm: [250, 210, 220] })];
const params = { bed: [60, 60, 60], margin: 3, join: 'pin', labels: true };
const divided = (change: Partial<BodyView> = {}): BodyView =>
  bodyOf({
    line: [imported(), stepOf('divide', params, dividedReport(), { inputs: ['bar'] })],
    cursor: 2,
    mesh: meshOf('bar', factsOf(20, 20, 60)),
    parts: ['A1', 'B1', 'C1'].map((tag) => partOf(tag)),
    ...change,
  });
const asked: { operation: OperationName; params: Record<string, unknown> }[] = [];
const card = async (body: BodyView) => {
  // what is cut is what came out of the step before
  served('import-mesh', await box(20, 30, 60));
  answers.set('POST /api/bodies/b/previews', (q: { operation: OperationName; params: object; ifKnown?: boolean }) => {
    const known = parseParams(descriptionOf(q.operation).params, q.params) as Record<string, unknown>;
    if (q.ifKnown) return null;
    asked.push({ operation: q.operation, params: known });
    return q.operation === 'divide' ? stepOf('divide', known, dividedReport(), { id: JSON.stringify(q.params) }) : null;
  });
  const { Decision } = stages.divide;
  return show(<Decision body={body} printers={printers} onOpen={() => undefined} />);
};
const done = () => sent.filter((s) => s.path.startsWith('/api/bodies/b/steps'));
const enabled = async (at: Awaited<ReturnType<typeof card>>) => {
  const button = await at.findByTestId('do', {}, patience);
  await waitFor(() => expect((button as HTMLButtonElement).disabled).equal(false), patience);
  return button;
};

beforeEach(() => {
  asked.length = 0;
  act(() => {
    store.dispatch(previewApi.util.resetApiState());
    store.dispatch(api.util.resetApiState());
    store.dispatch(clearBench());
  });
});

describe('a part of a divided model', () => {
  it('that is picked has its card at Divide; its neighbours are picked from there', async () => {
    const at = await card(divided());
    expect(at.queryByRole('region', { name: 'Part B1' })).equal(null);
    act(() => void store.dispatch(pickPart('part-B1')));
    const part = within(at.getByRole('region', { name: 'Part B1' }));
    part.getByText('Long bed');
    fireEvent.click(part.getByRole('button', { name: 'C1' }));
    expect(store.getState().bench.partId).equal('part-C1');
    at.getByRole('region', { name: 'Part C1' });
  });

  it('is merged with a neighbour: the other cuts are what is cut by hand', async () => {
    const at = await card(divided());
    act(() => void store.dispatch(pickPart('part-A1')));
    fireEvent.click(at.getByRole('button', { name: 'Merge, without cut 1' }));
    const own = await at.findByRole('list', { name: 'Own cuts' }, patience);
    expect(within(own).getAllByRole('listitem').length).equal(1);
    // of z 20 and z 40 the first is gone
    expect(own.textContent).match(/40\.0 mm/);
    // after a reload they are at hand at once
    at.unmount();
    const again = await card(divided());
    expect((await again.findByRole('list', { name: 'Own cuts' }, patience)).textContent).match(/40\.0 mm/);
  });

  it('is not merged over the only cut: without it nothing is cut', async () => {
    const report = dividedReport();
    const line = [imported(), stepOf('divide', params, { ...report, cuts: report.cuts.slice(0, 1) })];
    const at = await card(divided({ line }));
    act(() => void store.dispatch(pickPart('part-A1')));
    at.getByRole('region', { name: 'Part A1' });
    expect(at.queryByRole('button', { name: /^Merge/ })).equal(null);
  });

  it('keeps joins that were placed by hand, which are part of what is done; they are left to the program again', async () => {
    const at = await card(divided());
    act(() => void store.dispatch(pickPart('part-A1')));
    expect(store.getState().bench.pegs.length).above(0);
    fireEvent.click(at.getByRole('button', { name: 'Take join 1 away' }));
    await at.findByText('yours', { selector: '[aria-label=Joins] .quiet' }, patience);
    fireEvent.click(await enabled(at));
    await waitFor(() => expect(done().length).equal(1), patience);
    const places = (done()[0].body as { params: { joinPlaces: { at: number[] }[] } }).params.joinPlaces;
    expect(places.map((p) => p.at)).eql([[15, 10, 20]]);
    fireEvent.click(at.getByRole('button', { name: 'Place its joins automatically' }));
    await waitFor(
      () => expect(at.queryByText('yours', { selector: '[aria-label=Joins] .quiet' })).equal(null),
      patience,
    );
  });
});

describe('plans that are weighed by hand', () => {
  it('are asked for with what counts once a slider is let go', async () => {
    const at = await card(bodyOf({ mesh: meshOf('bar', factsOf(200, 200, 600)), line: [imported()] }));
    fireEvent.click(await at.findByRole('button', { name: 'Weigh it yourself' }, patience));
    const slider = at.getByLabelText('Little support');
    fireEvent.keyDown(slider, { key: 'End' });
    const weights = () => asked.flatMap((a) => (a.operation === 'cuts' && a.params.weights ? [a.params.weights] : []));
    await waitFor(() => expect(weights().at(-1)).eql({ parts: 0.5, seam: 0.5, support: 1, time: 0 }), patience);
  });

  it('a cut that is added goes level through the middle, and is in hand at once', async () => {
    const at = await card(bodyOf({ mesh: meshOf('bar', factsOf(20, 20, 60)), line: [imported()] }));
    fireEvent.click(await at.findByRole('button', { name: 'Add a cut' }, patience));
    const own = await at.findByRole('list', { name: 'Own cuts' }, patience);
    expect(own.textContent).match(/30\.0 mm/);
    expect(store.getState().bench.plane).deep.include({ normal: [0, 0, 1], offset: 30, at: [10, 10, 30] });
    fireEvent.click(at.getByRole('button', { name: 'Add a cut' }));
    await waitFor(() => expect(within(own).getAllByRole('listitem').length).equal(2), patience);
    fireEvent.click(at.getByRole('button', { name: 'Take cut 2 away' }));
    await waitFor(() => expect(within(own).getAllByRole('listitem').length).equal(1), patience);
    expect(store.getState().bench.plane, 'no cut is in hand').equal(null);
  });

  it('planes of the model itself are offered: one of symmetry is cut at a press', async () => {
    const at = await card(bodyOf({ mesh: meshOf('bar', factsOf(20, 20, 60, { min: xyz(0) })), line: [imported()] }));
    const mirrors = await at.findByRole('list', { name: 'Planes along z in which it is mirrored' }, patience);
    fireEvent.click(within(mirrors).getByRole('button', { name: 'Cut there' }));
    const own = await at.findByRole('list', { name: 'Own cuts' }, patience);
    expect(own.textContent).match(/30\.0 mm/);
  });
});
