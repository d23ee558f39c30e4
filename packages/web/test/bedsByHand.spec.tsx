import { laidPart, laidTogether } from '@jasmorphe/contracts/reading/laidPart';
import { expect } from 'chai';
import type { ReportOf } from '@jasmorphe/core/operations/catalogue';
import type { PlacedOnBed } from '@jasmorphe/core/planning/bedfuls/PlacedOnBed';
import { printingOf } from '@jasmorphe/core/planning/profileFields';
import { answers, fireEvent, sent, show, store, waitFor } from './dom.tsx';
import { bedful } from './dayThings.ts';
import { bodyOf, partOf, printerOf, stepOf, xyz } from './things.ts';

const { api } = await import('../src/app/api.ts');
const { default: ArrangeBeds } = await import('../src/stages/layout/ArrangeBeds.tsx');
const { BedDrawing } = await import('../src/stages/layout/BedDrawing.tsx');
const { Bedfuls } = await import('../src/stages/layout/Bedfuls.tsx');
const { printersFor, waitingParts } = await import('../src/stages/layout/bedfulParams.ts');
const { afterMove, drawnOf, placedOf, wouldClash } = await import('../src/stages/layout/beds.ts');

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
    // to the very edge, which the drawing passes by up to 2 mm
    expect(wouldClash(a1, { x: 17.9, y: 50 }, beds[0], 5)).equal(true);
    expect(wouldClash(a1, { x: 18.1, y: 50 }, beds[0], 5)).equal(false);
  });
});

const long = printerOf('long', { name: 'Long bed', bedMm: [250, 210, 220] });
const small = printerOf('small', { name: 'Small bed', bedMm: [180, 180, 180] });
const vat = printerOf('vat', { name: 'Vat', kind: 'resin' });
/** A part laid for a printer of filament, or of resin. */
const laid = (tag: string, change: object = {}, kind = 'filament') =>
  partOf(tag, {
    line: [stepOf('pose', { printer: printingOf(long.profile) }, { kind, poses: [{ up: xyz(0, 0, 1) }] })],
    cursor: 1,
    posed: { school: 'best', durationS: 18_000, materialG: 150, supportMm3: 0 },
    ...change,
  });
const parts = [laid('A1'), laid('A2'), laid('B1')];
const model = () => bodyOf({ id: 'model', modelId: 'model', parts });

/** The program's side: what was put stays, all else goes on a bed of its own; parts of 40 x 20 mm nearer than that overlap. */
const answered = ({ params }: { params: { placed?: PlacedOnBed[]; for: string } }) => {
  const put = params.placed ?? [];
  const rest = ['A1', 'A2', 'B1'].filter((tag) => !put.some((b) => b.parts.some((p) => p.tag === tag)));
  const beds = [
    ...put,
    ...rest.map((tag) => ({ printer: 'Long bed', parts: [{ tag, at: { x: 125, y: 105 }, turnDeg: 0 }] })),
  ];
  const bedfuls = beds.map((b) => ({
    printer: b.printer,
    bedMm: [250, 210],
    settings: '0.20 mm layers',
    fillPct: 20,
    durationS: 18_000 * b.parts.length,
    materialG: 150 * b.parts.length,
    expectedS: 19_000 * b.parts.length,
    parts: b.parts.map((p) => ({
      ...p,
      path: 'M-20 -10h40v20h-40z',
      clashes: b.parts.some((q) => q.tag !== p.tag && Math.abs(q.at.x - p.at.x) < 40 && Math.abs(q.at.y - p.at.y) < 20),
    })),
  }));
  return stepOf('bedfuls', params, { bedfuls, left: [], doneS: 54_000 }, { id: `step ${params.for} ${put.length}` });
};
const asked = () =>
  sent
    .filter((s) => s.path.endsWith('/previews'))
    .map((s) => (s.body as { params: { placed?: PlacedOnBed[] } }).params.placed)
    .at(-1);
const start = [
  drawnOf(bedful('b1')),
  drawnOf(bedful('b2', { printer: 'Small bed', bedMm: [180, 180], parts: [bedful('x').parts[0]] })),
].map((b, i) => (i === 0 ? b : { ...b, parts: b.parts.map((p) => ({ ...p, tag: 'B1' })) }));

describe('the dialog in which beds are arranged', () => {
  const opened = (printers = [long]) => {
    store.dispatch(api.util.resetApiState());
    answers.set('POST /api/bodies/model/previews', answered);
    let closed = 0;
    const card = show(
      <ArrangeBeds
        body={model()}
        parts={parts.map(laidPart)}
        printers={printers}
        start={start}
        onClose={() => closed++}
      />,
    );
    const keep = () => card.getByRole('button', { name: /Keep these bedfuls|Looking at it/ }) as HTMLButtonElement;
    const settled = () => waitFor(() => expect(keep().textContent).equal('Keep these bedfuls'));
    return { ...card, keep, settled, closed: () => closed };
  };
  const placeOf = (tag: string) =>
    asked()!
      .flatMap((b) => b.parts)
      .find((p) => p.tag === tag);

  it('arrows shift by a millimetre, with shift by ten, brackets turn; the program is asked with what was put', async () => {
    const { settled, getByRole } = opened();
    await settled();
    expect(asked()!.map((b) => [b.printer, b.parts.map((p) => p.tag)])).eql([
      ['Long bed', ['A1', 'A2']],
      ['Small bed', ['B1']],
    ]);
    const part = () => getByRole('button', { name: /^A1/ });
    fireEvent.keyDown(part(), { key: 'ArrowRight' });
    fireEvent.keyDown(part(), { key: 'ArrowDown', shiftKey: true });
    fireEvent.keyDown(part(), { key: '[' });
    await waitFor(() => expect(placeOf('A1')).deep.include({ at: { x: 51, y: 40 }, turnDeg: 15 }));
    fireEvent.keyDown(part(), { key: 'x' });
    await settled();
    expect(placeOf('A1')).deep.include({ at: { x: 51, y: 40 }, turnDeg: 15 });
  });

  it('what overlaps is named and cannot be kept; one step back makes it good', async () => {
    const { settled, getByRole, findByText, queryByText, keep } = opened();
    await settled();
    const back = () => getByRole('button', { name: 'One step back' }) as HTMLButtonElement;
    expect(back().disabled).equal(true);
    // by 70 mm, onto its neighbour
    for (let i = 0; i < 7; i++)
      fireEvent.keyDown(getByRole('button', { name: /^A1/ }), { key: 'ArrowRight', shiftKey: true });
    await findByText(/A1, A2 overlap or reach beyond the bed/);
    expect(keep().disabled).equal(true);
    getByRole('button', { name: 'A1, overlaps or reaches out' });
    for (let i = 0; i < 7; i++) fireEvent.click(back());
    await settled();
    expect(queryByText(/overlap or reach beyond/)).equal(null);
    expect([keep().disabled, back().disabled]).eql([false, true]);
  });

  it('Escape closes it where nothing was moved, and asks first where something was', async () => {
    const { settled, getByRole, getByText, closed } = opened();
    await settled();
    const escape = () => fireEvent.keyDown(getByRole('dialog'), { key: 'Escape' });
    fireEvent.keyDown(getByRole('button', { name: /^A1/ }), { key: 'ArrowRight' });
    escape();
    getByText('What you moved is not kept.');
    expect(closed()).equal(0);
    fireEvent.click(getByRole('button', { name: 'Go on' }));
    fireEvent.click(getByRole('button', { name: 'One step back' }));
    escape();
    expect(closed()).equal(1);
  });

  it('a part that is picked is turned, sent to another bed or one of its own, or left to the program', async () => {
    const { settled, getByRole, getByLabelText } = opened();
    await settled();
    const tagsAsked = () => asked()!.map((b) => b.parts.map((p) => p.tag));
    fireEvent.keyDown(getByRole('button', { name: 'A2' }), { key: 'Enter' });
    fireEvent.click(getByRole('button', { name: 'Turn right' }));
    await waitFor(() => expect(placeOf('A2')!.turnDeg).equal(345));
    const to = (value: string) => fireEvent.change(getByLabelText('goes to'), { target: { value } });
    await settled();
    to('new');
    await waitFor(() => expect(tagsAsked()).eql([['A1'], ['B1'], ['A2']]));
    await settled();
    to('0');
    await waitFor(() => expect(tagsAsked()).eql([['A1', 'A2'], ['B1']]));
    await settled();
    to('any');
    await waitFor(() => expect(tagsAsked()).eql([['A1'], ['B1']]));
    await settled();
    getByRole('group', { name: /^Bed 3, Long bed/ });
  });

  it('a bed goes to another printer; what is kept is the very plan that was looked at, and a refusal leaves the dialog', async () => {
    const { settled, getAllByLabelText, keep, closed } = opened([long, small]);
    await settled();
    fireEvent.change(getAllByLabelText('on')[0], { target: { value: 'Small bed' } });
    await waitFor(() => expect(asked()!.map((b) => b.printer)).eql(['Small bed', 'Small bed']));
    await settled();
    answers.set('POST /api/bodies/model/bedfuls', {
      error: { code: 'conflict', message: 'A1 is on a bed.', hint: '' },
    });
    fireEvent.click(keep());
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/model/bedfuls' && s.method === 'POST')!.body).eql({
        stepId: 'step fewest 2',
      }),
    );
    await waitFor(() => expect(keep().disabled).equal(false));
    expect(closed()).equal(0);
    answers.set('POST /api/bodies/model/bedfuls', { bedfuls: [], canUndo: true });
    fireEvent.click(keep());
    await waitFor(() => expect(closed()).equal(1));
  });
});

describe('bedfuls at Lay out', () => {
  it('takes parts that are laid for the kind of printer and wait, and each printer once', () => {
    const all = [
      ...parts,
      laid('C1', { state: 'printing' }),
      laid('C2', { state: 'aside' }),
      laid('C3', {}, 'resin'),
      partOf('C4'),
    ];
    expect(waitingParts(all, 'filament').map((p) => p.tag)).eql(['A1', 'A2', 'B1']);
    expect(waitingParts(all, 'resin').map((p) => p.tag)).eql(['C3']);
    const twin = printerOf('twin', { name: 'Long bed' });
    const old = { ...printerOf('old', { name: 'Old bed' }), retiredAt: '2026-01-01' };
    expect(printersFor([long, twin, small, old, vat], 'filament').map((p) => p.id)).eql(['long', 'small']);
  });

  it('shows three ways, draws the one that is picked, and keeps it by a press', async () => {
    store.dispatch(api.util.resetApiState());
    answers.set('POST /api/bodies/model/previews', answered);
    const out = { ...model(), parts: [...parts, partOf('C4')] };
    const { getByRole, findAllByRole, getByText, getAllByText } = show(
      <Bedfuls body={out} printers={[long, small, vat]} />,
    );
    fireEvent.click(getByRole('button', { name: 'What goes on which bed?' }));
    expect((await findAllByRole('img', { name: /^Long bed from above/ })).length).equal(3);
    getByText(/3 parts as they lie, on Long bed, Small bed\..*1 part not laid for filament yet is left out/);
    expect(getAllByText('Fetch it as 3MF')[1].getAttribute('href')).match(/\/bedfuls\/step%20\w+%200\/2$/);
    fireEvent.click(getByRole('button', { name: 'Keep these bedfuls' }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/model/bedfuls' && s.method === 'POST')?.body).eql({
        stepId: 'step fewest 0',
      }),
    );
    await waitFor(() => getByRole('button', { name: 'What goes on which bed?' }));
  });

  it('one after the other is asked for, told with arrows, and arranged by hand with room for the head', async () => {
    store.dispatch(api.util.resetApiState());
    answers.set('POST /api/bodies/model/previews', (body: { params: { for: string; inTurn?: boolean } }) => {
      const step = answered(body) as { report: { bedfuls: { parts: { tag: string }[]; inTurn: boolean }[] } };
      const [first, second] = step.report.bedfuls;
      if (body.params.inTurn && second) {
        first.parts.push(...step.report.bedfuls.splice(1, 1)[0].parts);
        for (const b of step.report.bedfuls) b.inTurn = b.parts.length > 1;
      }
      return step;
    });
    const { getByRole, findByText, findByRole, getByLabelText } = show(<Bedfuls body={model()} printers={[long]} />);
    fireEvent.click(getByRole('button', { name: 'What goes on which bed?' }));
    fireEvent.click(await waitFor(() => getByLabelText('One after the other')));
    await findByText(/A1 → A2/);
    const last = sent.filter((s) => s.path.endsWith('/previews')).at(-1)!.body as { params: object };
    expect(last.params).include({ inTurn: true });
    fireEvent.change(getByLabelText('Parts are turned'), { target: { value: 'none' } });
    await waitFor(() =>
      expect((sent.filter((s) => s.path.endsWith('/previews')).at(-1)!.body as { params: object }).params).include({
        inTurn: true,
        turn: 'none',
      }),
    );
    fireEvent.click(await findByRole('button', { name: 'Move parts by hand' }));
    await findByRole('dialog');
    await findByText(/They are printed one after the other: the head has room/);
    await waitFor(() =>
      expect((sent.filter((s) => s.path.endsWith('/previews')).at(-1)!.body as { params: object }).params).include.keys(
        'inTurn',
        'turn',
        'placed',
      ),
    );
  });

  it('parts of all models of the project share beds where that is wished for, each by the name of its model', async () => {
    store.dispatch(api.util.resetApiState());
    const bell = bodyOf({ id: 'bell', modelId: 'bell', name: 'Bell', parts: [laid('A1', { id: 'bell-a1' })] });
    answers.set('GET /api/projects/p', {
      id: 'p',
      models: [
        { id: 'model', name: 'Carnyx' },
        { id: 'bell', name: 'Bell' },
      ],
    });
    const shared = bedful('b1', {
      parts: [
        { ...bedful('x').parts[0], partId: parts[0].id, tag: 'Horn A1' },
        { ...bedful('x').parts[1], partId: 'bell-a1', modelId: 'bell', tag: 'Bell A1' },
      ],
    });
    const alone = bedful('b2', { number: 2, parts: [{ ...shared.parts[1] }] });
    answers.set('GET /api/projects/p/bedfuls', {
      models: [{ ...model(), name: 'Carnyx' }, bell],
      bedfuls: [shared, alone],
    });
    answers.set('GET /api/bodies/model/bedfuls', { bedfuls: [], canUndo: false });
    const onOne = ({ params }: { params: { parts: { tag: string }[]; placed?: PlacedOnBed[] } }) => {
      const step = answered({ params: { for: 'fewest', placed: params.placed } });
      const [first] = (step.report as ReportOf<'bedfuls'>).bedfuls;
      const path = 'M-1 -1h2v2h-2z';
      first.parts = params.parts.map(({ tag }) => ({ ...first.parts[0], tag, path, clashes: false }));
      return { ...step, report: { ...step.report, bedfuls: [first] } };
    };
    answers.set('POST /api/bodies/model/previews', onOne);
    const last = () =>
      sent.filter((s) => s.path.endsWith('/previews')).at(-1)!.body as {
        params: { parts: { tag: string; of?: object }[]; placed?: PlacedOnBed[] };
      };
    const card = show(<Bedfuls body={{ ...model(), name: 'Carnyx' }} printers={[long]} />);
    fireEvent.click(card.getByRole('button', { name: 'What goes on which bed?' }));
    const wish = await waitFor(() => card.getByLabelText('With the other models of this project'));
    // until it is wished for they are by themselves
    await waitFor(() => expect(last().params.parts.map((p) => p.tag)).eql(['A1', 'A2', 'B1']));
    fireEvent.click(wish);
    await card.findByText(/4 parts of 2 models as they lie/);
    await card.findByText(/Carnyx A1, Carnyx A2, Carnyx B1, Bell A1/);
    expect(last().params.parts.at(-1)).deep.include({ of: { model: 'bell', part: 'bell-a1', tag: 'A1' } });
    card.unmount();
    // what shares a bed already is moved by hand together, each part by how it is called now
    store.dispatch(api.util.resetApiState());
    answers.set('GET /api/bodies/model/bedfuls', { bedfuls: [shared], canUndo: false });
    const again = show(<Bedfuls body={{ ...model(), name: 'Carnyx' }} printers={[long]} />);
    await again.findByText(/Horn A1, Bell A1/);
    await again.findByText('1 bedful of this project holds parts of its other models alone.');
    fireEvent.click(again.getByRole('button', { name: 'Plan them anew' }));
    await again.findByText(/4 parts of 2 models/);
    fireEvent.click(again.getAllByRole('button', { name: 'Move parts by hand' })[0]);
    await again.findByRole('dialog');
    // the plan that is worked out anew may be asked for meanwhile
    const placed = () =>
      sent
        .filter((s) => s.path.endsWith('/previews'))
        .map((s) => (s.body as ReturnType<typeof last>).params.placed)
        .findLast((p) => p !== undefined);
    await waitFor(() => expect(placed()?.[0].parts.map((p) => p.tag)).eql(['Carnyx A1', 'Bell A1']));
  });

  it('tags of several models are told apart, whatever those are called; colours are kept apart', () => {
    const of = (id: string, name: string, colour = '') => ({ id, name, colour, parts: [laid('A1'), laid('A2')] });
    expect(laidTogether([of('a', 'Horn')]).map((p) => [p.tag, p.of])).eql([
      ['A1', undefined],
      ['A2', undefined],
    ]);
    const long = 'A carnyx with the head of a boar and a moving tongue';
    const laidAll = laidTogether([of('a', 'Horn'), of('b', 'Horn'), of('c', long), of('d', long)]);
    const tags = laidAll.map((p) => p.tag);
    expect(new Set(tags).size).equal(8);
    expect(tags.slice(0, 4)).eql(['Horn A1', 'Horn A2', 'Horn 2 A1', 'Horn 2 A2']);
    expect(tags.every((t) => t.length <= 40)).equal(true);
    expect(new Set(laidAll.map((p) => p.settings)).size).equal(1);
    // what is in one piece has the name of its model alone
    const whole = { ...of('e', 'Wheel'), parts: [laid('A1')], whole: true };
    expect(
      laidTogether([whole, { ...whole, id: 'f', name: 'Wheel 2' }, of('a', 'Horn')]).map((p) => [p.tag, p.of!.tag]),
    ).eql([
      ['Wheel', 'A1'],
      ['Wheel 2', 'A1'],
      ['Horn A1', 'A1'],
      ['Horn A2', 'A2'],
    ]);
    const [slate, plain] = laidTogether([of('a', 'Horn', 'slate'), of('b', 'Bell')]).filter((_, i) => i % 2 === 0);
    expect([slate.settings, plain.settings].map((s) => s!.split(', ').at(-1))).eql(['slate', 'no colour said']);
    expect(laidTogether([of('a', 'Horn', 'slate'), { ...of('b', 'Bell'), parts: [] }])[0].of).equal(undefined);
  });

  it('says why there is nothing to put on a bed', () => {
    store.dispatch(api.util.resetApiState());
    const { getByRole, getByText, unmount } = show(
      <Bedfuls body={bodyOf({ parts: [partOf('A1')] })} printers={[long]} />,
    );
    fireEvent.click(getByRole('button', { name: 'What goes on which bed?' }));
    getByText(/No part that is laid for filament waits/);
    unmount();
    const bare = show(<Bedfuls body={model()} printers={[]} />);
    fireEvent.click(bare.getByRole('button', { name: 'What goes on which bed?' }));
    bare.getByText(/No printer is there/);
  });

  it('a bed is drawn from above, its front at the foot', () => {
    const { getByRole } = show(<BedDrawing bed={drawnOf(bedful('b1'))} />);
    const drawing = getByRole('img', { name: 'Long bed from above: A1, A2' });
    expect(Array.from(drawing.querySelectorAll('g')).map((g) => g.getAttribute('transform'))).eql([
      'translate(50 160)',
      'translate(150 160)',
    ]);
  });
});
