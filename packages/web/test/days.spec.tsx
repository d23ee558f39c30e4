import { expect } from 'chai';
import type { BedfulPartView, BedfulView, DaysView } from '@jasmorphe/contracts/dayViews';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { localTime } from '@jasmorphe/core/planning/days/instants';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { whatIfs } from '@jasmorphe/core/planning/days/whatIfs';
import { answers, fireEvent, sent, show, store, type, waitFor, within } from './dom.tsx';
import { bodyOf } from './things.ts';

const { api } = await import('../src/app/api.ts');
const { handsOf } = await import('../src/days/handsOf.ts');
const { dayOf, homeOn, lanesOf, laterBy, movedBy, placeOf } = await import('../src/days/timeScale.ts');
const { default: DaysPage } = await import('../src/days/DaysPage.tsx');
const { BedfulAtMachine } = await import('../src/days/BedfulAtMachine.tsx');
const { BedfulsHere } = await import('../src/stages/print/BedfulsHere.tsx');
const { KeptBedfuls } = await import('../src/stages/layout/KeptBedfuls.tsx');
const { afterMove, placedOf, wouldClash } = await import('../src/stages/layout/beds.ts');

const friday = new Date(2026, 10, 27, 8).getTime();
const parts = [{ volumeMm3: 400_000, areaMm2: 60_000, heightMm: 120 }];
const request = (change: object = {}) =>
  parseParams(PlanRequest, {
    from: localTime(friday),
    printers: [{ name: 'Long bed', profile: { layerMm: 0.2 } }, { name: 'Small bed' }],
    bedfuls: [
      { name: 'Bedful 1', id: 'b1', project: 'Carnyx', on: [{ printer: 'Long bed', hours: 10 }], grams: 300, parts },
      { name: 'Bedful 2', id: 'b2', project: 'Carnyx', on: [{ printer: 'Long bed', hours: 12 }], grams: 400 },
      { name: 'Bedful 1', id: 'b3', project: 'Heron', on: [{ printer: 'Small bed', hours: 40 }], grams: 900 },
    ],
    projects: [
      { name: 'Carnyx', joints: 3, deadline: '2026-12-24' },
      { name: 'Heron', joints: 0 },
    ],
    spools: [{ name: 'Grey 1', leftG: 800 }],
    ...change,
  });
const part = (tag: string, change: Partial<BedfulPartView> = {}): BedfulPartView => ({
  partId: `${tag}-id`,
  tag,
  meshHash: `${tag}-mesh`,
  at: { x: 50, y: 50 },
  turnDeg: 0,
  heightMm: 60,
  durationS: 18_000,
  materialG: 150,
  path: 'M-20 -10h40v20h-40z',
  state: 'planned',
  trouble: null,
  ...change,
});
const bedful = (id: string, change: Partial<BedfulView> = {}): BedfulView => ({
  id,
  projectId: 'p1',
  modelId: 'model',
  number: 1,
  kind: 'filament',
  printerId: 'long',
  printer: 'Long bed',
  bedMm: [250, 210],
  parts: [part('A1'), part('A2', { at: { x: 150, y: 50 } })],
  settings: '0.20 mm layers',
  fillPct: 40,
  durationS: 36_000,
  materialG: 300,
  wantedAt: null,
  state: 'waiting',
  startedAt: null,
  ...change,
});
const viewOf = (change: Partial<DaysView> = {}): DaysView => ({
  now: localTime(friday),
  plan: planDays(request(), friday),
  bedfuls: [
    bedful('b1'),
    bedful('b2', { number: 2 }),
    bedful('b3', { projectId: 'p2', modelId: 'heron', printer: 'Small bed', printerId: 'small' }),
  ],
  projects: [
    { id: 'p1', name: 'Carnyx', dueOn: '2026-12-24', overdue: false, loose: ['C1', 'C2'] },
    { id: 'p2', name: 'Heron', dueOn: null, overdue: false, loose: [] },
  ],
  printers: [
    { id: 'long', name: 'Long bed', hours: 840, lifeH: 500, sinceH: 600 },
    { id: 'small', name: 'Small bed', hours: 12, lifeH: 0, sinceH: 0 },
  ],
  ...change,
});
const page = (view = viewOf()) => {
  store.dispatch(api.util.resetApiState());
  answers.set('GET /api/days', view);
  answers.set('GET /api/days/otherwise', { whatIfs: whatIfs(request(), view.plan, friday), curves: [] });
  answers.set('GET /api/settings', new HomeHours());
  return show(<DaysPage />);
};

describe('the scale of days', () => {
  it('goes by the clock that is written, in whatever zone it is read', () => {
    expect(placeOf('2026-11-28T12:00+01:00', '2026-11-27T17:30+01:00')).equal(1.5);
    // the night on which the clock goes back is a day like any other
    expect(placeOf('2026-10-26T06:00+01:00', '2026-10-24T20:00+02:00')).equal(2.25);
    expect(dayOf(1, '2026-11-27T17:30+01:00')).eql({ name: 'Sat 28', weekend: true });
    expect(dayOf(4, '2026-11-27T17:30+01:00')).eql({ name: 'Tue 1', weekend: false });
    const hours = Object.assign(new HomeHours(), { weekdayFrom: '18:00', weekdayTo: '03:00' });
    expect(homeOn({ weekend: false }, hours)).eql([0.75, 1.125]);
    expect(homeOn({ weekend: true }, Object.assign(hours, { weekendTo: '09:00' }))).equal(null);
    expect(laterBy('2026-11-28T12:00+01:00', 1.1)).equal('2026-11-28T12:00:00.000Z');
  });

  it('a bedful that is moved goes on from where it is loaded or was wanted, so that hours nobody is there are passed', () => {
    const load = '2026-11-30T17:00Z';
    expect(movedBy(load, null, 1)).equal('2026-11-30T18:00:00.000Z');
    expect(movedBy(load, '2026-11-30T12:00Z', 1)).equal('2026-11-30T18:00:00.000Z');
    expect(movedBy(load, '2026-11-30T12:00Z', -1)).equal('2026-11-30T11:00:00.000Z');
  });

  it('labels lie in as few lanes as they need, none on another', () => {
    expect(
      lanesOf([
        { from: 0, to: 10 },
        { from: 5, to: 8 },
        { from: 9, to: 12 },
        { from: 11, to: 20 },
      ]),
    ).eql([0, 1, 1, 0]);
  });

  it('what hands do within the same while is said together', () => {
    const hands = handsOf(planDays(request(), friday));
    // two printers are loaded in one go, and one bed is changed in one; of two projects a number is not enough
    expect(hands[0].says).equal('load 2 Carnyx, 1 Heron');
    expect(hands.map((h) => h.says).join('\n')).match(/^off 2 Carnyx\b.*load 1 Carnyx$/m);
    expect(hands.map((h) => h.at)).eql(hands.map((h) => h.at).sort((a, b) => Date.parse(a) - Date.parse(b)));
  });
});

describe('the page of days', () => {
  it('draws each bedful on its printer, says when all is ready, what is on no bed and what to buy', async () => {
    const { findAllByTestId, getByText, getByRole, container } = page();
    const bars = await findAllByTestId('bar');
    expect(bars.length).equal(3);
    expect(bars[0].title).match(/^Bedful \d, Long bed: load Fri 27 Nov, 17:00/);
    getByText(/^Ready on .* if nothing fails; nine times of ten by/);
    getByText(/2 parts of Carnyx/);
    getByText(/Bedful \d of \w+ wants \d+ g more than is left/);
    expect(container.querySelector('.strip')!.textContent).match(/Grey 1.*To buy: filament/);
    getByText('240 of 500 h');
    await waitFor(() => within(getByRole('table', { name: 'What if' })).getByText('0.28 mm layers'));
  });

  it('a bedful is moved by an hour with the arrows, and left to the plan again', async () => {
    const view = viewOf();
    const { id, loadAt } = view.plan.days[0];
    view.bedfuls.find((b) => b.id === id)!.wantedAt = new Date(friday).toISOString();
    const { findAllByTestId, getByText, getByRole } = page(view);
    const [first] = await findAllByTestId('bar');
    fireEvent.keyDown(first, { key: 'ArrowRight' });
    await waitFor(() => expect(sent.at(-1)!.method === 'PATCH' || sent.some((s) => s.method === 'PATCH')).equal(true));
    const load = Date.parse(loadAt!);
    expect(sent.find((s) => s.method === 'PATCH')).deep.include({
      path: `/api/bedfuls/${id}`,
      body: { wantedAt: new Date(load + 3_600_000).toISOString() },
    });
    fireEvent.click(first);
    const picked = within(getByRole('region', { name: 'The bedful that is picked' }));
    picked.getByText(/Load it Fri 27 Nov, 17:00/);
    fireEvent.click(getByText('Leave its day to the plan'));
    await waitFor(() =>
      expect(sent.filter((s) => s.method === 'PATCH').map((s) => s.body)).deep.contain({ wantedAt: null }),
    );
  });

  it('teaches the next step where no bedful waits; a day that is past is said', async () => {
    const none = viewOf({ plan: planDays(request({ bedfuls: [] }), friday), bedfuls: [] });
    none.projects[0].overdue = true;
    const { findByText, getByText, queryByTestId } = page(none);
    await findByText(/No bedful waits/);
    getByText(/That day is past/);
    expect(queryByTestId('bar')).equal(null);
  });
});

describe('a bedful at its printer', () => {
  it('is started as one; what changed since holds it up, and is named', async () => {
    const { getByRole, unmount } = show(<BedfulAtMachine bedful={bedful('b1')} />);
    fireEvent.click(getByRole('button', { name: 'Bedful 1 is started' }));
    await waitFor(() => expect(sent.at(-1)).deep.include({ method: 'POST', path: '/api/bedfuls/b1/start' }));
    unmount();
    const odd = bedful('b1', { parts: [part('A1', { trouble: 'relaid' }), part('A2')] });
    const held = show(<BedfulAtMachine bedful={odd} />);
    held.getByText(/A1 was laid otherwise since/);
    expect((held.getByRole('button', { name: 'Bedful 1 is started' }) as HTMLButtonElement).disabled).equal(true);
  });

  it('comes off as one: what stopped wants its height, hours and grams are told', async () => {
    answers.set('GET /api/spools', [{ id: 's1', materialId: 'm1', name: 'Grey 1', endedAt: null }]);
    answers.set('GET /api/materials', [{ id: 'm1', kind: 'filament' }]);
    store.dispatch(api.util.resetApiState());
    const printing = bedful('b1', {
      state: 'printing',
      parts: [part('A1', { state: 'printing' }), part('A2', { state: 'printing' })],
    });
    const { getByLabelText, getByRole, findByRole } = show(<BedfulAtMachine bedful={printing} />);
    getByRole('button', { name: 'It is off the bed, all looks right' });
    fireEvent.click(getByLabelText('A1'));
    const off = getByRole('button', { name: 'It is off the bed, 1 stopped' }) as HTMLButtonElement;
    expect(off.disabled, 'its height is not said yet').equal(true);
    type(getByLabelText('A1 stopped at, by calipers'), '12.5');
    type(getByLabelText('Hours that it took'), '9.5');
    await findByRole('option', { name: 'Grey 1' });
    fireEvent.change(getByLabelText('From the spool'), { target: { value: 's1' } });
    await waitFor(() => expect(off.disabled).equal(false));
    fireEvent.click(off);
    const ended = () => sent.find((s) => s.path === '/api/bedfuls/b1/end');
    await waitFor(() => expect(ended()).not.equal(undefined));
    expect(ended()!.body).eql({
      stopped: [{ tag: 'A1', heightMm: 12.5 }],
      hours: 9.5,
      taken: [{ spoolId: 's1', grams: 300 }],
    });
  });

  it('at Print the one that prints stands there, and the next of each other printer', async () => {
    store.dispatch(api.util.resetApiState());
    answers.set('GET /api/bodies/model/bedfuls', {
      canUndo: false,
      bedfuls: [
        bedful('b1', { state: 'printing', parts: [part('A1', { state: 'printing' })] }),
        bedful('b2', { number: 2 }),
        bedful('b3', { number: 3, printerId: 'small', printer: 'Small bed' }),
        bedful('b4', { number: 4, printerId: 'small', printer: 'Small bed' }),
      ],
    });
    const { findByRole, queryByRole } = show(<BedfulsHere body={bodyOf({ id: 'model', modelId: 'model' })} />);
    await findByRole('region', { name: 'Bedful 1' });
    await findByRole('region', { name: 'Bedful 3' });
    expect(queryByRole('region', { name: 'Bedful 2' }), 'its printer is at work').equal(null);
    expect(queryByRole('region', { name: 'Bedful 4' })).equal(null);
  });

  it('kept ones are listed with their state, taken apart, and put back as they were', async () => {
    const kept = {
      canUndo: true,
      bedfuls: [bedful('b1', { state: 'printing' }), bedful('b2', { number: 2, printerId: null })],
    };
    const { getByText, getAllByText } = show(<KeptBedfuls modelId="model" kept={kept} onArrange={() => undefined} />);
    getByText(/Its printer is gone/);
    expect(getAllByText('Take it apart').length, 'what was sent stays').equal(1);
    fireEvent.click(getByText('Take it apart'));
    await waitFor(() => expect(sent.at(-1)).deep.include({ method: 'DELETE', path: '/api/bedfuls/b2' }));
    fireEvent.click(getByText('Bedfuls as before'));
    await waitFor(() => expect(sent.at(-1)!.path).equal('/api/bodies/model/bedfuls/undo'));
  });
});

describe('beds by hand', () => {
  const drawn = (tag: string, x: number) => ({
    tag,
    at: { x, y: 50 },
    turnDeg: 0,
    path: 'M-20 -10h40v20h-40z',
    clashes: false,
  });
  const beds = [
    { printer: 'Long bed', bedMm: [250, 210] as [number, number], parts: [drawn('A1', 50), drawn('A2', 150)] },
    { printer: 'Small bed', bedMm: [180, 180] as [number, number], parts: [drawn('B1', 90)] },
  ];
  const tags = (list: readonly { parts: { tag: string }[] }[]) => list.map((b) => b.parts.map((p) => p.tag));
  it('parts are shifted, turned, sent from bed to bed or wherever they go; an empty bed is gone', () => {
    expect(afterMove(beds, { kind: 'shift', tag: 'A1', by: { x: -3, y: 4 } })[0].parts[0].at).eql({ x: 47, y: 54 });
    expect(afterMove(beds, { kind: 'turn', tag: 'A1', byDeg: -15 })[0].parts[0].turnDeg).equal(345);
    const put = afterMove(beds, { kind: 'put', tag: 'A1', bed: 1, at: { x: 40, y: 40 } });
    expect(tags(put)).eql([['A2'], ['B1', 'A1']]);
    expect(put[1].parts[1].at).eql({ x: 40, y: 40 });
    expect(tags(afterMove(beds, { kind: 'send', tag: 'B1', to: 0 }))).eql([['A1', 'A2', 'B1']]);
    expect(tags(afterMove(beds, { kind: 'send', tag: 'A2', to: 'new' }))).eql([['A1'], ['B1'], ['A2']]);
    expect(tags(afterMove(beds, { kind: 'send', tag: 'B1', to: null }))).eql([['A1', 'A2']]);
    expect(tags(afterMove(beds, { kind: 'send', tag: 'Z9', to: 0 }))).eql(tags(beds));
    expect(placedOf(afterMove(beds, { kind: 'send', tag: 'B1', to: null }))[0]).deep.include({ printer: 'Long bed' });
  });

  it('what would overlap or reach out is seen while it is dragged', () => {
    const [a1] = beds[0].parts;
    // the neighbour begins at 130 mm: with 5 mm between them and 2 mm of drawing the middle may come to 107
    expect(wouldClash(a1, { x: 106, y: 50 }, beds[0], 5)).equal(false);
    expect(wouldClash(a1, { x: 108, y: 50 }, beds[0], 5)).equal(true);
    expect(wouldClash(a1, { x: 108, y: 80 }, beds[0], 5)).equal(false);
    expect(wouldClash(a1, { x: 19, y: 50 }, beds[0], 5)).equal(true);
    expect(wouldClash(a1, { x: 21, y: 50 }, beds[0], 5)).equal(false);
  });
});
