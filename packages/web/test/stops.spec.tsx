import { expect } from 'chai';
import { findingsOfBody } from '@jasmorphe/contracts/reading/findings';
import { adviceForPart } from '@jasmorphe/contracts/reading/partAdvice';
import { stopsInForce, stopsOf } from '@jasmorphe/contracts/reading/stops';
import type { PartView } from '@jasmorphe/contracts/views';
import type { PrintStop, StopWish } from '@jasmorphe/core/planning/layers/StopWish';
import { printingOf } from '@jasmorphe/core/planning/profileFields';
import { answers, fireEvent, sent, show, store, type, waitFor, within, InForm } from './dom.tsx';
import { bedful, part as bedfulPart } from './dayThings.ts';
import { bodyOf, factsOf, meshOf, partOf, printerOf, stepOf, xyz } from './things.ts';

const { StopsOfPart } = await import('../src/stages/layout/StopsOfPart.tsx');
const { AdviceOfPart } = await import('../src/stages/layout/AdviceOfPart.tsx');
const { BareAndHidden } = await import('../src/stages/layout/BareAndHidden.tsx');
const { useBare } = await import('../src/stages/layout/useBare.ts');
const { AtTheMachine } = await import('../src/stages/print/AtTheMachine.tsx');
const { BedfulAtMachine } = await import('../src/days/BedfulAtMachine.tsx');
const { laidLines } = await import('../src/bench/useLaid.ts');
const { acrossOf, grown } = await import('../src/bench/boxes.ts');
const { api } = await import('../src/app/api.ts');
const { dab, endStroke, pickPoint } = await import('../src/bench/benchSlice.ts');

const long = printerOf('long', { name: 'Long bed' });
const rotation = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const stop = (change: Partial<PrintStop> = {}): PrintStop => ({
  what: 'colour',
  words: 'brass',
  wish: 0,
  afterLayer: 62,
  atMm: 12.6,
  share: 0.41,
  standsOutMm: null,
  trouble: null,
  ...change,
});
const wish = (change: Partial<StopWish> = {}): StopWish => ({
  what: 'colour',
  mm: 12.7,
  highMm: 0,
  words: 'brass',
  ...change,
});
const report = (stops: PrintStop[]) => ({
  stops,
  rotation,
  heightMm: 60,
  layerMm: 0.2,
  firstLayerMm: 0.2,
  layers: 300,
});
const pose = (params: object = {}) =>
  stepOf(
    'pose',
    { printer: printingOf(long.profile), ...params },
    {
      kind: 'filament',
      chosen: 'own',
      looked: 1,
      fits: true,
      poses: [{ school: 'own', up: xyz(0, 0, 1), tipDeg: 40, cups: [], islands: 0, fits: true }],
    },
  );
/** A part that was laid, with stops that were kept. */
const stopped = (stops: PrintStop[], change: Partial<PartView> = {}) =>
  partOf('B3', {
    line: [pose(), stepOf('stops', { stops: stops.map(() => wish()) }, report(stops), { inputs: ['mesh-B3'] })],
    cursor: 2,
    posed: { school: 'own', durationS: 36_000, materialG: 100, supportMm3: 0 },
    ...change,
  });
const laid = (tag = 'B3') => partOf(tag, { line: [pose()], cursor: 1 });

describe('stops that are kept with a part', () => {
  it('hold while it lies so; laid otherwise, cut anew or in other layers they lapse, and that is a finding', () => {
    const part = stopped([stop(), stop({ afterLayer: null, atMm: null, share: null, trouble: 'above' })]);
    expect(stopsInForce(part).map((s) => s.afterLayer)).eql([62]);
    expect(stopsOf(laid())).equal(null);
    expect(stopsOf({ ...part, cursor: 1 }), 'taken back').equal(null);
    const turned = {
      ...part,
      rotation: [
        [0, 1, 0],
        [-1, 0, 0],
        [0, 0, 1],
      ],
    };
    const cut = { ...part, mesh: { ...part.mesh, hash: 'the rest' } };
    const thick = { ...part, line: [pose({ printer: { layerMm: 0.3 } }), part.line[1]] };
    const anew = { ...part, line: [...part.line, pose({ printer: { layerMm: 0.3 } })], cursor: 3 };
    for (const other of [turned, cut, thick, anew]) {
      expect(stopsOf(other)!.lapsed).equal(true);
      expect(stopsInForce(other)).eql([]);
      const found = findingsOfBody(bodyOf({ parts: [other] }), 'layout');
      expect(found.map((f) => f.kind)).contain('stops-lapsed');
      expect(findingsOfBody(bodyOf({ parts: [other] }), 'print').map((f) => f.kind)).contain('stops-lapsed');
      expect(findingsOfBody(bodyOf({ parts: [other] }), 'divide').map((f) => f.kind)).not.contain('stops-lapsed');
    }
    const found = findingsOfBody(bodyOf({ parts: [part] }), 'layout').filter((f) => f.kind === 'no-stop');
    expect(found.map((f) => f.values)).eql([{ tag: 'B3', what: 'colour', trouble: 'above' }]);
    const printed = { ...turned, state: 'printed' as const };
    expect(findingsOfBody(bodyOf({ parts: [printed] }), 'layout').map((f) => f.kind)).not.contain('stops-lapsed');
  });

  const card = (part: PartView, change: object = {}) => {
    store.dispatch(api.util.resetApiState());
    answers.set(`POST /api/bodies/${part.id}/previews`, ({ params }: { params: { stops: StopWish[] } }) =>
      stepOf(
        'stops',
        params,
        report(
          params.stops.map((w, i) =>
            w.what === 'insert'
              ? stop({ what: 'insert', words: w.words, wish: i, afterLayer: 80, atMm: 16.2, standsOutMm: w.highMm - 5 })
              : stop({ words: w.words, wish: i }),
          ),
        ),
      ),
    );
    return show(
      <StopsOfPart
        part={part}
        drafts={part.id}
        rotation={rotation}
        printer={undefined}
        taken
        fixed={false}
        {...change}
      />,
    );
  };
  const button = (at: ReturnType<typeof card>, name: string | RegExp) =>
    at.getByRole('button', { name }) as HTMLButtonElement;

  it('are added by height, told at once, and kept by a press', async () => {
    const at = card(laid('C1'));
    fireEvent.click(button(at, 'Stop for another colour, or to put something in'));
    expect(button(at, 'Add the stop').disabled).equal(true);
    type(at.getByLabelText('Which'), 'brass');
    type(at.getByLabelText('At height'), '12.7');
    fireEvent.click(button(at, 'Add the stop'));
    await at.findByText('After layer 63, 12.6 mm up: another colour, brass, 41 % in');
    fireEvent.click(button(at, 'Keep these stops'));
    await waitFor(() => expect(sent.some((s) => s.path === '/api/bodies/part-C1/steps')).equal(true));
    expect(sent.find((s) => s.path === '/api/bodies/part-C1/steps')!.body).deep.include({
      operation: 'stops',
      params: { rotation, stops: [{ what: 'colour', words: 'brass', highMm: 0, mm: 12.7 }] },
    });
  });

  it('are added by a place of the bench; what is put in says whether the head clears it', async () => {
    const at = card(laid('C2'));
    fireEvent.click(button(at, 'Stop for another colour, or to put something in'));
    fireEvent.change(at.getByLabelText('Stop for'), { target: { value: 'insert' } });
    type(at.getByLabelText('How high it is'), '3');
    fireEvent.click(button(at, 'Pick the hollow on the bench'));
    button(at, 'Click into the hollow …');
    expect(store.getState().bench).include({ purpose: 'stop', asks: 1 });
    store.dispatch(pickPoint([1, 2, 3]));
    await at.findByText(/put something in, 41 % in; the head clears it by 2\.00 mm/);
    expect(store.getState().bench.asks).equal(0);
    const asked = sent.filter((s) => s.path.endsWith('/previews')).at(-1)!.body as { params: { stops: StopWish[] } };
    expect(asked.params.stops).eql([{ what: 'insert', words: '', highMm: 3, at: [1, 2, 3] }]);
    fireEvent.click(button(at, 'Take away: put something in'));
    await waitFor(() => expect(at.queryByRole('list', { name: 'Stops of this print' })).equal(null));
    expect(at.queryByRole('button', { name: /^Keep/ }), 'none were kept, and none are').equal(null);
  });

  it('that lapsed are worked out anew and wait for a press; kept ones can be given up; not before it lies so', async () => {
    const lapsed = card(
      stopped([stop()], {
        id: 'part-C3',
        rotation: [
          [0, 1, 0],
          [-1, 0, 0],
          [0, 0, 1],
        ],
      }),
    );
    lapsed.getByText(/B3 lies otherwise, or was cut anew, since its stops were kept/);
    await lapsed.findByText(/^After layer 63/);
    expect(button(lapsed, 'Keep these stops').disabled).equal(false);
    lapsed.unmount();
    const held = card(stopped([stop()], { id: 'part-C4' }));
    held.getByText('1 stop kept');
    await held.findByText(/^After layer 63/);
    expect(held.queryByRole('button', { name: /^Keep/ })).equal(null);
    fireEvent.click(button(held, 'Take away: another colour, brass'));
    fireEvent.click(button(held, 'Keep none'));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/api/bodies/part-C4/steps')?.body).deep.include({
        params: { rotation, stops: [] },
      }),
    );
    held.unmount();
    const before = card(stopped([stop()], { id: 'part-C5', mesh: { ...partOf('x').mesh } }), { taken: false });
    await before.findByText(/^After layer 63/);
    expect(button(before, 'Lay it so first, then keep the stops').disabled).equal(true);
  });

  it('stand at the machine until the part is off the bed', () => {
    const told = stopped([stop()]);
    const { getByTestId, unmount } = show(
      <AtTheMachine part={told} body={bodyOf({ parts: [told] })} printers={[long]} />,
    );
    within(getByTestId('stops')).getByText('after layer 63, 12.6 mm up: another colour, brass');
    unmount();
    const brimmed = { ...told, line: [pose({ printer: { brimMm: 8 } }), told.line[1]] };
    const held = show(<AtTheMachine part={brimmed} body={bodyOf({ parts: [brimmed] })} printers={[long]} />);
    held.getByText('It was laid out with a brim of 8 mm.');
    held.unmount();
    const done = stopped([stop()], { state: 'printed' });
    const after = show(<AtTheMachine part={done} body={bodyOf({ parts: [done] })} printers={[long]} />);
    expect(after.queryByTestId('stops')).equal(null);
    after.unmount();
    const stops = [{ afterLayer: 62, atMm: 12.6, share: 0.3, says: 'A1 another colour, brass' }];
    const whole = show(<BedfulAtMachine bedful={bedful('b1', { stops, parts: [bedfulPart('A1')] })} />);
    within(whole.getByTestId('stops')).getByText('after layer 63, 12.6 mm up: A1 another colour, brass');
  });
});

describe('what is kept bare, and skin that nobody sees', () => {
  const box = { min: [0, 0, 0] as [number, number, number], max: [4, 4, 4] as [number, number, number] };
  /** The card of a part, as the decision holds it. */
  function Held({ taken }: { taken?: object }) {
    const bare = useBare('a part', taken ? (pose(taken) as never) : undefined);
    return (
      <>
        <InForm>
          <BareAndHidden longestMm={100} of={bare} />
        </InForm>
        <output>{JSON.stringify([bare.params, bare.asTaken])}</output>
      </>
    );
  }
  const told = (at: ReturnType<typeof show>) =>
    JSON.parse(at.container.querySelector('output')!.textContent) as [
      { bare?: (typeof box)[]; hidden?: object[] },
      boolean,
    ];

  it('a place is picked on the bench, drawn, made larger, and let go', async () => {
    const at = show(<Held />);
    expect(told(at)).eql([{}, true]);
    fireEvent.click(at.getByRole('button', { name: 'Keep a place bare of support' }));
    expect(store.getState().bench.purpose).equal('bare');
    store.dispatch(pickPoint([50, 0, 10]));
    await waitFor(() => expect(told(at)[0].bare).eql([{ min: [40, -10, 0], max: [60, 10, 20] }]));
    expect(told(at)[1]).equal(false);
    expect(store.getState().bench.marks.map((m) => m.length)).eql([72]);
    type(at.getByLabelText('Kept bare, 1'), '30');
    await waitFor(() => expect(acrossOf(told(at)[0].bare![0])).equal(30));
    fireEvent.click(at.getByRole('button', { name: 'Let support into place 1' }));
    expect(told(at)).eql([{}, true]);
    at.unmount();
    expect(store.getState().bench.marks).eql([]);
  });

  it('begins with those of the pose that was taken; skin is painted stroke by stroke and wiped', async () => {
    const spot = { at: [1, 2, 3], radiusMm: 5 };
    const at = show(<Held taken={{ bare: [box], hidden: [spot] }} />);
    expect(told(at)).eql([{ bare: [box], hidden: [spot] }, true]);
    fireEvent.click(at.getByRole('button', { name: 'Paint skin that nobody sees' }));
    store.dispatch(dab([20, 0, 0]));
    expect(told(at)[0].hidden!.length, 'a stroke counts when it is done').equal(1);
    store.dispatch(endStroke());
    await waitFor(() => expect(told(at)[0].hidden!.length).equal(2));
    fireEvent.click(at.getByRole('button', { name: 'Take all paint off' }));
    await waitFor(() => expect(told(at)).eql([{ bare: [box] }, false]));
  });

  it('lines are drawn where the part lies; a box that is made larger keeps its middle', () => {
    const onto = ([x, y, z]: [number, number, number]): [number, number, number] => [z, y, -x];
    expect(laidLines([1, 2, 3, 4, 5, 6], { onto })).eql([3, 2, -1, 6, 5, -4]);
    expect(grown(box, 10)).eql({ min: [-3, -3, -3], max: [7, 7, 7] });
  });
});

describe('what is set for a part', () => {
  const pose0 = { footMm2: 100, supportMm3: 2000, heightMm: 200 } as never;
  const divided = (beside: object[]) =>
    bodyOf({
      line: [
        stepOf(
          'divide',
          {},
          { parts: [{ tag: 'B3', beside, footMm2: 100, pose: { rotation: partOf('B3').rotation } }], cuts: [] },
        ),
      ],
      cursor: 1,
    });

  it('is told with its reason: brim for what is tall, gaps of support, walls next to joints; of a rest as of its part', () => {
    const part = partOf('B3');
    const told = adviceForPart(divided([{ tag: 'A1', cut: 0 }]), part, pose0, {});
    expect(told.map((a) => a.text.split(/[:,]/)[0])).eql([
      'Brim of about 8 mm',
      'Support',
      '10 layers next to each joint',
    ]);
    // with a brim it is no news; the rest of B3 is glued where B3 is
    const rest = adviceForPart(divided([{ tag: 'A1', cut: 0 }]), { ...part, tag: 'B3r1' }, pose0, { brimMm: 6 });
    expect(rest[0].text).match(/^Slower, and lift the nozzle/);
    expect(rest.length).equal(3);
    expect(adviceForPart(divided([]), { ...part, tag: 'B30' }, null, {})).eql([]);
    // not laid yet it stands where its divide put it, and what is left of it on the face of the cut; turned since, nobody knows
    const high = { ...part, heightMm: 90, mesh: meshOf('mesh-B3', factsOf(50, 40, 90)) };
    const feet = (of: object) => adviceForPart(divided([]), { ...high, ...of }, null, {}).map((a) => a.reason);
    expect(feet({})).eql(['90 mm on a foot of 100 mm²: tall thin parts get knocked over']);
    const recut = stepOf('recut', { printed: 9, up: [0, 0, 1] }, { contactAreaMm2: 64 }, { outputs: ['rest'] });
    expect(feet({ tag: 'B3r1', line: [recut], cursor: 1, mesh: meshOf('rest', factsOf(50, 40, 80)) })).eql([
      '80 mm on a foot of 64 mm²: tall thin parts get knocked over',
    ]);
    const onItsSide = [
      [1, 0, 0],
      [0, 0, -1],
      [0, 1, 0],
    ];
    expect(feet({ rotation: onItsSide })).eql([]);
    const { getByRole, unmount } = show(<AdviceOfPart advice={told} />);
    expect(getByRole('region', { name: 'Advice' }).textContent).match(/knocked over/);
    unmount();
    expect(show(<AdviceOfPart advice={[]} />).container.textContent).equal('');
  });

  it('long thin parts want a brim as they lie, which the box in the model does not tell', () => {
    const flat = { ...(pose0 as object), footMm2: 40_000, heightMm: 5, supportMm3: 0, size: xyz(300, 20, 5) } as never;
    expect(adviceForPart(divided([]), partOf('B3'), flat, {}).map((a) => a.reason)).eql([
      'long thin parts lift at their ends',
    ]);
    expect(adviceForPart(divided([]), partOf('B3'), flat, { brimMm: 8 })).eql([]);
    expect(adviceForPart(divided([]), partOf('B3'), flat, { kind: 'resin' })).eql([]);
  });
});
