import { expect } from 'chai';
import type { DaysView } from '@jasmorphe/contracts/dayViews';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { whatIfs } from '@jasmorphe/core/planning/days/whatIfs';
import { answers, fireEvent, sent, show, store, type, waitFor, within } from './dom.tsx';
import { bedful, friday, part, request, viewOf } from './dayThings.ts';
import { bodyOf } from './things.ts';

const { api } = await import('../src/app/api.ts');
const { handsOf } = await import('../src/days/handsOf.ts');
const { dayOf, homeOn, lanesOf, laterBy, movedBy, placeOf } = await import('../src/days/timeScale.ts');
const { default: DaysPage } = await import('../src/days/DaysPage.tsx');
const { Timeline } = await import('../src/days/Timeline.tsx');
const { DueProject } = await import('../src/days/DueProject.tsx');
const { BedfulAtMachine } = await import('../src/days/BedfulAtMachine.tsx');
const { BedfulsHere } = await import('../src/stages/print/BedfulsHere.tsx');
const { KeptBedfuls } = await import('../src/stages/layout/KeptBedfuls.tsx');

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
    getByText('2 of it are in none of these bedfuls');
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

  it('a bedful goes to the printer above or below; a refusal is told, and nothing has moved', async () => {
    const view = viewOf();
    const own = view.plan.days.find((d) => d.printer === 'Long bed')!;
    answers.set(`POST /api/bedfuls/${own.id}/move`, bedful('b9'));
    const { findAllByTestId } = page(view);
    const bars = await findAllByTestId('bar');
    const bar = bars.find((b) => b.title.startsWith(`${own.bedful}, Long bed`))!;
    // there is none above the first
    fireEvent.keyDown(bar, { key: 'ArrowUp' });
    fireEvent.keyDown(bar, { key: 'ArrowDown' });
    const moves = () => sent.filter((s) => s.path.endsWith('/move'));
    await waitFor(() => expect(moves().map((s) => s.body)).eql([{ printerId: 'small' }]));
    const refusal = {
      error: { code: 'cannot', message: 'The bed of Small bed does not take all of bedful 1.', hint: '' },
    };
    answers.set(`POST /api/bedfuls/${own.id}/move`, refusal);
    fireEvent.keyDown(bar, { key: 'ArrowDown' });
    await waitFor(() => expect(moves().length).equal(2));
    await waitFor(() => expect(store.getState().ui.notice?.text).match(/does not take all of bedful 1/));
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

describe('the timeline', () => {
  /** A plan of what a test says, drawn. */
  const drawn = (change: object, view: Partial<DaysView> = {}, days = 7) => {
    const plan = planDays(request(change), friday);
    const moved: [string, number][] = [];
    const chosen: (string | null)[] = [];
    const card = show(
      <Timeline
        view={viewOf({ plan, ...view })}
        home={new HomeHours()}
        days={days}
        chosen={null}
        onChoose={(id) => chosen.push(id)}
        onSend={() => undefined}
        onMove={(day, hours) => moved.push([day.bedful, hours])}
      />,
    );
    return { ...card, plan, moved, chosen };
  };
  const leftOf = (e: Element) => Number.parseFloat((e as HTMLElement).style.left);
  const widthOf = (e: Element) => Number.parseFloat((e as HTMLElement).style.width);

  it('draws bars to the hour: where printing starts, as long as it takes, behind each other on a printer', () => {
    const { container, getAllByTestId, plan } = drawn({});
    const perDay = 806 / 7;
    for (const bar of getAllByTestId('bar')) {
      const day = plan.days.find((d) => bar.title.startsWith(`${d.bedful}, ${d.printer}`))!;
      const hours = (Date.parse(day.startsAt!) - friday) / 3_600_000 + 8;
      expect(leftOf(bar), day.bedful).closeTo(118 + (hours / 24) * perDay, 0.01);
      expect(widthOf(bar)).closeTo((day.durationS / 86_400) * perDay, 0.01);
    }
    expect(container.querySelectorAll('.row .name b').length, 'two printers, the maker, what dries').equal(4);
    // the printer that decides has its line; what waits for somebody on another is a tail
    expect(container.querySelectorAll('.path').length).equal(1);
    const tail = container.querySelector('.tail');
    if (plan.days.some((d) => !d.decides)) expect(widthOf(tail!)).above(0);
  });

  it('marks weekends and the hours at home, and names fewer days where they are narrow', () => {
    const { container, unmount } = drawn({});
    const days = Array.from(container.querySelectorAll('.day'));
    expect(days.slice(0, 4).map((d) => d.querySelector('b')!.textContent)).eql([
      'Fri 27',
      'Sat 28',
      'Sun 29',
      'Mon 30',
    ]);
    expect(days.slice(0, 4).map((d) => d.className)).eql(['day', 'day weekend', 'day weekend', 'day']);
    const home = days[0].querySelector('.home')!;
    // 17 to 22 h of a day of 806 / 7 px
    expect(leftOf(home) / (806 / 7)).closeTo(17 / 24, 1e-6);
    expect(widthOf(home) / (806 / 7)).closeTo(5 / 24, 1e-6);
    unmount();
    const wide = drawn({}, {}, 28).container;
    expect(
      Array.from(wide.querySelectorAll('.day b'))
        .slice(0, 8)
        .map((d) => d.textContent),
    ).eql(['Fri 27', '28', '29', '30', '1', '2', '3', 'Fri 4']);
  });

  it('boxes what dries: resin after it is off, glue and filler behind the last part', () => {
    const { container } = drawn({
      printers: [{ name: 'Long bed' }, { name: 'Vat', kind: 'resin' }],
      bedfuls: [
        { name: 'Bedful 1', id: 'b1', project: 'Carnyx', on: [{ printer: 'Long bed', hours: 10 }], grams: 300 },
        { name: 'Bedful 7', id: 'b2', project: 'Carnyx', on: [{ printer: 'Vat', hours: 5 }], grams: 100 },
      ],
      projects: [{ name: 'Carnyx', joints: 3 }],
    });
    const said = Array.from(container.querySelectorAll('.wait')).map((w) => w.textContent);
    expect(said).contain('Carnyxglue dries').contain('Carnyxfiller dries');
    for (const box of Array.from(container.querySelectorAll('.wait')))
      expect(box.getAttribute('title')).match(/ until \w{3} \d+ /);
  });

  it('a bar that a spool does not hold for is to be settled; where no spool is listed nobody asked', () => {
    const short = drawn({});
    const marked = (bars: HTMLElement[]) => bars.filter((b) => b.classList.contains('toSettle')).length;
    expect(marked(short.getAllByTestId('bar'))).above(0);
    short.unmount();
    expect(marked(drawn({ spools: [] }).getAllByTestId('bar'))).equal(0);
  });

  it('arrows move by an hour, with shift by six, and a click picks', () => {
    const { getAllByTestId, moved, chosen } = drawn({});
    const [bar] = getAllByTestId('bar');
    fireEvent.keyDown(bar, { key: 'ArrowRight' });
    fireEvent.keyDown(bar, { key: 'ArrowLeft', shiftKey: true });
    fireEvent.keyDown(bar, { key: 'ArrowUp' });
    expect(moved.map(([, hours]) => hours)).eql([1, -6]);
    fireEvent.click(bar);
    expect(chosen.length).equal(1);
  });
});

describe('a project and its day', () => {
  const planned = { name: 'Carnyx', ready: '2026-12-20T18:00+00:00', lateProbability: 0.25 } as never;
  const project = (change: object = {}) => ({
    id: 'p1',
    name: 'Carnyx',
    dueOn: '2026-12-24',
    overdue: false,
    loose: [] as string[],
    ...change,
  });
  it('tells how sure the day is; a day that is past and parts on no bedful stand there', () => {
    const { getByText, queryByText, unmount } = show(<DueProject project={project()} planned={planned} />);
    getByText(/Ready on Sun 20 Dec, 18:00\. .*25 %|Ready on Sun 20 Dec, 18:00\. .*1 in 4|Ready on Sun 20 Dec/);
    expect(queryByText(/That day is past/)).equal(null);
    expect(getByText('Build book of Carnyx').getAttribute('href')).equal('/project/p1/book');
    unmount();
    const loose = Array.from({ length: 14 }, (_, i) => `C${i + 1}`);
    const past = show(
      <DueProject
        project={project({ overdue: true, loose })}
        planned={{ ...(planned as object), ready: null, lateProbability: null } as never}
      />,
    );
    past.getByText('That day is past.');
    const link = past.getByText('14 of it are in none of these bedfuls');
    expect(link.getAttribute('href')).equal('/project/p1/layout');
    // all of them, and no day
    expect(link.parentElement!.textContent).equal(
      `When Carnyx is ready nobody can tell. 14 of it are in none of these bedfuls: ${loose.join(', ')}.`,
    );
    expect(past.queryByText(/Ready on/)).equal(null);
    past.unmount();
    show(<DueProject project={project({ loose: ['C1'] })} planned={planned} />).getByText(
      '1 of it is in none of these bedfuls',
    );
  });
});

describe('a bedful at its printer', () => {
  it('is started as one; what changed since holds it up, and is named', async () => {
    const { getByRole, unmount } = show(<BedfulAtMachine bedful={bedful('b1')} />);
    fireEvent.click(getByRole('button', { name: 'Bedful 1 is started' }));
    await waitFor(() =>
      expect(sent.filter((s) => s.method === 'POST').map((s) => s.path)).eql(['/api/bedfuls/b1/start']),
    );
    unmount();
    const odd = bedful('b1', { parts: [part('A1', { trouble: 'relaid' }), part('A2')] });
    const held = show(<BedfulAtMachine bedful={odd} />);
    held.getByText(/A1 was laid otherwise since/);
    expect((held.getByRole('button', { name: 'Bedful 1 is started' }) as HTMLButtonElement).disabled).equal(true);
  });

  it('tells its hours by the log of its printer, and the order of what is printed one after the other', async () => {
    store.dispatch(api.util.resetApiState());
    answers.set('GET /api/days/hours', [
      { printerId: 'long', material: 'grey', factor: 3, low: 3, high: 3, prints: 4 },
      { printerId: 'long', material: '', factor: 1.1, low: 1, high: 1.2, prints: 7 },
    ]);
    const { findByTestId, getByText, unmount } = show(<BedfulAtMachine bedful={bedful('b1', { inTurn: true })} />);
    expect((await findByTestId('by-log')).textContent).equal('By its log 11.0 h, 9 of 10 within 10–12 h (7 prints)');
    getByText(/A1 → A2, one after the other/);
    unmount();
    // of the material that its colour is printed of, where that was printed often enough
    store.dispatch(api.util.resetApiState());
    answers.set('GET /api/spools', [{ id: 's1', materialId: 'm1', name: 'Grey 1', colour: 'slate', endedAt: null }]);
    answers.set('GET /api/materials', [{ id: 'm1', kind: 'filament', name: 'grey', stockG: 0 }]);
    const slate = show(<BedfulAtMachine bedful={bedful('b1', { colour: 'slate' })} />);
    await waitFor(() =>
      expect(slate.getByTestId('by-log').textContent).equal(
        'By its log 30.0 h, 9 of 10 within 30–30 h (4 prints of grey)',
      ),
    );
    slate.unmount();
    const done = show(<BedfulAtMachine bedful={bedful('b1', { state: 'done' })} />);
    expect(done.queryByTestId('by-log')).equal(null);
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
