import { expect } from 'chai';
import type { PlacedOnBed } from '@jasmorphe/core/planning/bedfuls/PlacedOnBed';
import { printingOf } from '@jasmorphe/core/planning/PrinterProfile';
import { answers, fireEvent, sent, show, store, waitFor } from './dom.tsx';
import { bedful } from './dayThings.ts';
import { bodyOf, partOf, printerOf, stepOf, xyz } from './things.ts';

const { api } = await import('../src/app/api.ts');
const { ArrangeBeds } = await import('../src/stages/layout/ArrangeBeds.tsx');
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
    expect(wouldClash(a1, { x: 19, y: 50 }, beds[0], 5)).equal(true);
    expect(wouldClash(a1, { x: 21, y: 50 }, beds[0], 5)).equal(false);
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
      <ArrangeBeds body={model()} parts={parts} printers={printers} start={start} onClose={() => closed++} />,
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
    expect(getAllByText('Fetch it as 3MF')[1].getAttribute('href')).match(/\/bedfuls\/step \w+ 0\/2$/);
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
    fireEvent.click(getByRole('button', { name: 'Move parts by hand' }));
    await findByRole('dialog');
    await findByText(/They are printed one after the other: the head has room/);
    await waitFor(() =>
      expect((sent.filter((s) => s.path.endsWith('/previews')).at(-1)!.body as { params: object }).params).include.keys(
        'inTurn',
        'placed',
      ),
    );
  });

  it('says why there is nothing to put on a bed', () => {
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
