import { renderHook } from '@testing-library/react';
import { expect } from 'chai';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import type { JoinPlace } from '@jasmorphe/core/params/checks';
import type { TriMesh, Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box } from '../../core/test/solids.ts';
import { act, fireEvent, patience, show, store, type, waitFor, within, InForm } from './dom.tsx';
import { served } from './display.ts';
import { dividedReport } from './divided.ts';
import { xyz } from './things.ts';

const { clearBench, holdPlane, movePlane, pickPoint } = await import('../src/bench/benchSlice.ts');
const { default: AreaProfile } = await import('../src/stages/divide/AreaProfile.tsx');
const { Creases } = await import('../src/stages/divide/Creases.tsx');
const { OwnCuts } = await import('../src/stages/divide/OwnCuts.tsx');
const { PartCard } = await import('../src/stages/divide/PartCard.tsx');
const { facesOf } = await import('../src/stages/divide/usePegs.ts');
const { useHeldPlane } = await import('../src/stages/divide/useHeldPlane.ts');
const { WishSliders } = await import('../src/stages/divide/WishSliders.tsx');
const { default: LayersChart } = await import('../src/stages/layout/LayersChart.tsx');

const bench = () => store.getState().bench;
beforeEach(() => act(() => void store.dispatch(clearBench())));

describe('the card of a part', () => {
  interface Done {
    picked: string[];
    merged: number[];
    placed: [string, JoinPlace[]][];
    automatic: number;
  }
  const card = (tag: string, hand: JoinPlace[] = [], printer = '') => {
    const report = dividedReport();
    const part = report.parts.find((p) => p.tag === tag)!;
    const done: Done = { picked: [], merged: [], placed: [], automatic: 0 };
    const faces = facesOf(report, part, hand);
    const at = show(
      <PartCard
        part={part}
        density={1.24}
        printer={printer}
        faces={faces}
        kind="pin"
        onPick={(t) => done.picked.push(t)}
        onMerge={(cut) => done.merged.push(cut)}
        onPlaces={(face, places) => done.placed.push([face.to, places])}
        onAutomatic={faces.some((f) => f.own) ? () => void done.automatic++ : null}
      />,
    );
    return { at, done };
  };

  it('says its size, its mass by the material, how it lies, and on what it is printed', () => {
    const { at } = card('B1', [], 'Long bed');
    const section = within(at.getByRole('region', { name: 'Part B1' }));
    section.getByText(/20\.0 mm × 20\.0 mm × 20\.0 mm/);
    // 8 cm³ of 1.24 g/cm³
    section.getByText('9.9 g');
    section.getByText('20.0 mm high');
    section.getByText('Long bed');
    at.unmount();
    card('A1').at.getByText('—');
  });

  it('leads to its neighbours, and takes the cut to one of them away', () => {
    const { at, done } = card('B1');
    const besides = within(at.getByRole('list', { name: 'Neighbours' }));
    fireEvent.click(besides.getByRole('button', { name: 'C1' }));
    fireEvent.click(besides.getByRole('button', { name: 'Merge, without cut 1' }));
    expect([done.picked, done.merged]).eql([['C1'], [1]]);
  });

  it('takes a join away and adds one where there is room: the others of the face stay', () => {
    const { at, done } = card('A1');
    const joins = within(at.getByRole('list', { name: 'Joins' }));
    expect(joins.getAllByRole('listitem').length).equal(2);
    joins.getByText(/pin 6\.0 × 6\.0, 3\.00 mm beside/);
    fireEvent.click(joins.getByRole('button', { name: 'Take join 1 away' }));
    expect(done.placed[0][0]).equal('B1');
    expect(done.placed[0][1].map((p) => p.at[0])).eql([15]);
    fireEvent.click(at.getByRole('button', { name: 'Add a join to B1' }));
    const [, more] = done.placed[1];
    expect(more.length).equal(3);
    // not onto those that stand there
    for (const p of more.slice(0, 2)) expect(Math.hypot(...p.at.map((x, k) => x - more[2].at[k]))).above(8);
    at.getByText('Drag the pegs on the bench to move joins.');
    expect(at.queryByRole('button', { name: 'Place its joins automatically' })).equal(null);
  });

  it('joins placed by hand are told as yours, taken away, and left to the program again', () => {
    const hand: JoinPlace[] = [{ at: [5, 5, 20], kind: 'key', mm: 8 }];
    const { at, done } = card('A1', hand);
    const joins = within(at.getByRole('list', { name: 'Joins' }));
    expect(joins.getAllByRole('listitem').map((li) => li.textContent)).eql(['B1 square key 8.0 yours']);
    fireEvent.click(joins.getByRole('button', { name: 'Take the join to B1 away, 1' }));
    expect(done.placed).eql([['B1', []]]);
    fireEvent.click(at.getByRole('button', { name: 'Place its joins automatically' }));
    expect(done.automatic).equal(1);
    at.unmount();
    // a face that was kept free says so, and has nothing to take away
    const bare = card('A1', [{ at: [5, 5, 20], kind: 'none' }]).at;
    bare.getByText('no join', { exact: false });
    expect(bare.queryByRole('button', { name: /^Take/ })).equal(null);
  });
});

describe('own cuts', () => {
  const level = (offset: number, change: Partial<PlaneCut> = {}): PlaneCut => ({
    normal: [0, 0, 1],
    offset,
    ...change,
  });
  const listed = (cuts: PlaneCut[], change: Partial<Parameters<typeof OwnCuts>[0]> = {}) => {
    const told: PlaneCut[][] = [];
    const picked: (number | null)[] = [];
    const at = show(
      <InForm>
        <OwnCuts
          cuts={cuts}
          middle={[10, 10, 30]}
          picked={0}
          handles="move"
          longestMm={60}
          part={null}
          onHandles={() => undefined}
          onPick={(i) => picked.push(i)}
          onChange={(next) => told.push(next)}
          {...change}
        />
      </InForm>,
    );
    return { at, told, picked };
  };

  it('are moved and leaned by figures, about the middle of the model', () => {
    const { at, told } = listed([level(30)]);
    type(at.getByLabelText('At, mm'), '12.5');
    expect(told.at(-1)![0].offset).equal(12.5);
    type(at.getByLabelText('Leans'), '90');
    const [upright] = told.at(-1)!;
    expect(Math.abs(upright.normal[2])).below(1e-9);
    // it goes through the middle still
    const over = upright.normal.reduce((sum, n, k) => sum + n * [10, 10, 30][k], 0) - upright.offset;
    expect(over).closeTo(0, 1e-9);
  });

  it('one is kept to a part: through what is nearest to the middle of its box; to all it is by choice', () => {
    const { at, told } = listed([level(30)], { part: { min: xyz(0, 0, 20), size: xyz(20, 40, 20) } });
    fireEvent.change(at.getByLabelText('Cuts'), { target: { value: 'one' } });
    expect(told.at(-1)).eql([level(30, { through: [10, 20, 30] })]);
    at.unmount();
    const whole = listed([level(30, { through: [10, 20, 30] })]);
    expect(whole.at.getByRole('list', { name: 'Own cuts' }).textContent).match(/one part/);
    fireEvent.change(whole.at.getByLabelText('Cuts'), { target: { value: 'all' } });
    expect(whole.told.at(-1)).eql([level(30)]);
  });

  it('one is kept to a box about a place that is clicked, so far across as is said', () => {
    const { at, told } = listed([level(30)]);
    fireEvent.change(at.getByLabelText('Cuts'), { target: { value: 'box' } });
    at.getByText('Click the place on the model where it shall cut.');
    expect([bench().asks, bench().purpose]).eql([1, 'box']);
    act(() => void store.dispatch(pickPoint([4, 5, 30])));
    const [{ within: first }] = told.at(-1)!;
    [4, 5, 30].forEach((x, k) => expect((first!.min[k] + first!.max[k]) / 2).closeTo(x, 1e-9));
    // a quarter of the longest side
    expect(first!.max[0] - first!.min[0]).equal(15);
    at.unmount();
    const boxed = listed([level(30, { within: { min: [0, 0, 26], max: [8, 8, 34] } })]);
    type(boxed.at.getByLabelText('Box, across'), '20');
    expect(boxed.told.at(-1)![0].within).eql({ min: [-6, -6, 20], max: [14, 14, 40] });
    type(boxed.at.getByLabelText('Box, across'), '-3');
    expect(boxed.told.at(-1)![0].within, 'three less').eql({ min: [1.5, 1.5, 27.5], max: [6.5, 6.5, 32.5] });
    const before = boxed.told.length;
    type(boxed.at.getByLabelText('Box, across'), '0');
    expect(boxed.told.length, 'no box of less than nothing').equal(before);
  });

  it('a cut along a crease has nothing to set, and is taken away like any', () => {
    const loop: Vec3[] = [[0, 0, 5], [10, 0, 5], [10, 10, 6]]; // oxfmt-ignore
    const { at, told, picked } = listed([level(5, { loop }), level(9)]);
    at.getByText('along a crease');
    expect(at.queryByLabelText('Leans')).equal(null);
    fireEvent.click(at.getByRole('button', { name: 'Take cut 1 away' }));
    expect([told.at(-1), picked]).eql([[level(9)], [null]]);
    fireEvent.click(at.getByRole('button', { name: 'Cut 2' }));
    expect(picked.at(-1)).equal(1);
  });
});

describe('where a model may be cut', () => {
  const table = async (): Promise<TriMesh> => {
    const { Manifold } = await loadKernel();
    return fromSolid(
      Manifold.cube([10, 10, 20])
        .translate([10, 10, 0])
        .add(Manifold.cube([30, 30, 5]).translate([0, 0, 20])),
    );
  };

  it('undersides and planes of symmetry are offered along the axis that is looked along, and cut there', async () => {
    const hash = served('table', await table());
    const cuts: PlaneCut[] = [];
    const at = show(<AreaProfile hash={hash} cuts={[]} onCut={(c) => cuts.push(c)} />);
    const flats = await at.findByRole('list', { name: 'Flats that begin along z' }, patience);
    // (30 x 30 - 10 x 10) x 20 mm³ of air under the top
    expect(flats.textContent).match(/A flat begins at z 20\.0 mm; a cut there saves 16\.0 cm³ of support/);
    fireEvent.click(within(flats).getByRole('button', { name: 'Cut there' }));
    expect(cuts[0].offset).closeTo(20, 1e-4);
    expect(cuts[0].normal).eql([0, 0, 1]);
    fireEvent.click(at.getByRole('button', { name: 'x' }));
    const mirrored = await at.findByRole('list', { name: 'Planes along x in which it is mirrored' }, patience);
    fireEvent.click(within(mirrored).getAllByRole('button', { name: 'Cut there' })[0]);
    expect(cuts[1].normal.map((x) => Math.abs(Math.round(x)))).eql([1, 0, 0]);
    expect(cuts[1].offset * cuts[1].normal[0]).closeTo(15, 0.01);
    expect(at.queryByRole('list', { name: 'Flats that begin along z' })).equal(null);
  });

  it('closed creases are looked at under the pointer, and cut along; the first few before the rest', async () => {
    const { Manifold } = await loadKernel();
    const drum = (x: number) => Manifold.cylinder(10, 8, 8, 64).translate([x, 0, 0]);
    const hash = served('drums', fromSolid(drum(0).add(drum(40)).add(drum(80))));
    const looked: (PlaneCut | null)[] = [];
    const cuts: PlaneCut[] = [];
    const at = show(<Creases hash={hash} onLook={(c) => looked.push(c)} onCut={(c) => cuts.push(c)} />);
    const list = await at.findByRole('list', { name: 'Closed creases' }, patience);
    expect(within(list).getAllByRole('listitem').length).equal(3);
    const more = at.getByRole('button', { name: /^\d+ more creases$/ });
    fireEvent.click(more);
    expect(within(list).getAllByRole('listitem').length).above(3);
    const [first] = within(list).getAllByRole('listitem');
    expect(first.textContent).match(/A crease of 50\.2 mm closes around/);
    fireEvent.mouseEnter(first);
    expect(looked.at(-1)!.loop!.length).above(30);
    fireEvent.mouseLeave(first);
    expect(looked.at(-1)).equal(null);
    fireEvent.click(within(first).getByRole('button', { name: 'Cut along it' }));
    expect(cuts[0].loop!.length).above(30);
    expect(looked.at(-1)).equal(null);
  });

  it('a model without any says nothing', async () => {
    const hash = served('plain', await box(10, 20, 30));
    const at = show(<Creases hash="never" onLook={() => undefined} onCut={() => undefined} />);
    expect(at.container.textContent).equal('');
    const profile = show(<AreaProfile hash={hash} cuts={[]} onCut={() => undefined} />);
    await profile.findByRole('list', { name: 'Planes along z in which it is mirrored' }, patience);
    expect(profile.queryByRole('list', { name: /^Flats/ })).equal(null);
  });
});

describe('a cut that is held on the bench', () => {
  const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
  const model = { middle: [5, 10, 15] as Vec3, size: [10, 20, 30] as Vec3, rooms: [] };
  const held = (hash: string, first: PlaneCut | null, handles: 'move' | 'turn' = 'move') => {
    const told: PlaneCut[] = [];
    const hook = renderHook(
      ({ cut }: { cut: PlaneCut | null }) => useHeldPlane(hash, cut, handles, model, (c) => void told.push(c)),
      { wrapper, initialProps: { cut: first } },
    );
    return { told, ...hook };
  };

  it('is put where it is, through the middle of the model, and goes when it is let go', () => {
    const { rerender } = held('none', { normal: [0, 0, 1], offset: 20 });
    expect(bench().plane).eql({ normal: [0, 0, 1], offset: 20, at: [5, 10, 20], handles: 'move' });
    rerender({ cut: { normal: [1, 0, 0], offset: 2 } });
    expect(bench().plane!.at).eql([2, 10, 15]);
    rerender({ cut: null });
    expect(bench().plane).equal(null);
  });

  it('drawn near to the middle of a box it settles in its plane of symmetry; far from anything it stays', async () => {
    const hash = served('held', await box(10, 20, 30));
    const { told } = held(hash, { normal: [0, 0, 1], offset: 20 });
    act(() => void store.dispatch(movePlane({ normal: [0, 0, 1], offset: 15.2, at: [5, 10, 15.2] })));
    await waitFor(() => expect(told.length).equal(2), patience);
    expect(told[0]).eql({ normal: [0, 0, 1], offset: 15.2 });
    expect(told[1].offset).closeTo(15, 0.01);
    told.length = 0;
    act(() => void store.dispatch(movePlane({ normal: [0, 0, 1], offset: 22, at: [5, 10, 22] })));
    await waitFor(() => expect(told).eql([{ normal: [0, 0, 1], offset: 22 }]), patience);
    await new Promise((r) => setTimeout(r, 60));
    expect(told.length).equal(1);
  });

  it('what it is kept to goes along', async () => {
    const within = { min: [0, 0, 0] as Vec3, max: [5, 5, 5] as Vec3 };
    const { told } = held('none', { normal: [0, 0, 1], offset: 20, through: [1, 2, 20], within });
    expect(bench().plane!.at).eql([1, 2, 20]);
    act(() => void store.dispatch(movePlane({ normal: [0, 0, 1], offset: 18, at: [1, 2, 18] })));
    await waitFor(() => expect(told).eql([{ normal: [0, 0, 1], offset: 18, through: [1, 2, 18], within }]), patience);
  });

  it('another that puts its plane away leaves nothing behind', () => {
    const { unmount } = held('none', { normal: [0, 0, 1], offset: 20 });
    unmount();
    expect(bench().plane).equal(null);
    act(() => void store.dispatch(holdPlane(null)));
  });
});

describe('what counts in a plan', () => {
  it('is drawn as it goes, and told when it is let go', () => {
    const told: object[] = [];
    const at = show(
      <WishSliders value={{ parts: 1, seam: 0.5, support: 0, time: 0 }} onChange={(w) => told.push(w)} />,
    );
    const slider = at.getByLabelText('Clean skin');
    expect((slider as HTMLInputElement).value).equal('0.5');
    fireEvent.change(slider, { target: { value: '0.75' } });
    at.getByText('0.75');
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    expect(told.at(-1)).deep.include({ parts: 1 });
    expect((told.at(-1) as { seam: number }).seam).closeTo(0.8, 1e-9);
  });
});

describe('the chart of the layers', () => {
  it('is a picture with a name; it stands with nothing found as well', () => {
    const shown = Array.from({ length: 20 }, (_, i) => ({ zMm: 0.2 * (i + 1), areaMm2: 100 + i }));
    const report = { shown, fast: [], islands: [] };
    const at = show(<LayersChart report={report as never} at={3} onLook={() => undefined} />);
    at.getByRole('figure', { name: 'Area of the layers by height' });
    const more = {
      ...report,
      fast: [{ fromLayer: 3, fromMm: 0.6, toMm: 1.2 }],
      islands: [{ zMm: 2 }],
    };
    at.unmount();
    show(<LayersChart report={more as never} at={99} onLook={() => undefined} />).getByText('Area of the layers, cm²');
  });
});
