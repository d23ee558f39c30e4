import { expect } from 'chai';
import { useState } from 'react';
import type { PlacedBody } from '../src/bench/benchSlice.ts';
import { box } from '../../core/test/solids.ts';
import { act, fireEvent, patience, show, store, type, waitFor, InForm } from './dom.tsx';
import { served } from './display.ts';
import { referenceOf } from './things.ts';

const { clearBench, pickPoint } = await import('../src/bench/benchSlice.ts');
const { LandmarkPairs } = await import('../src/stages/size/LandmarkPairs.tsx');
const { Readings } = await import('../src/stages/size/Readings.tsx');
type Taken = Parameters<typeof Readings>[0]['readings'];

const bench = () => store.getState().bench;
const pick = (...points: [number, number, number][]) =>
  act(() => points.forEach((p) => void store.dispatch(pickPoint(p))));

beforeEach(() => act(() => void store.dispatch(clearBench())));

describe('lengths measured on the bench', () => {
  /** Held as the size card holds them. */
  const readings = (hash: string, scale = 1, first: Taken = []) => {
    const held = { now: first };
    const Held = () => {
      const [list, setList] = useState<Taken>(first);
      return (
        <InForm>
          <Readings
            hash={hash}
            scale={scale}
            readings={list}
            onChange={(next) => {
              held.now = next;
              setList(next);
            }}
          />
        </InForm>
      );
    };
    return { at: show(<Held />), held };
  };
  const brick = async (hash: string) => served(hash, await box(10, 20, 30));

  it('are taken between two points on the full mesh; what is said of one is a first guess for the next', async () => {
    const { at, held } = readings(await brick('read'));
    expect(bench().asks).equal(2);
    at.getByText('Click 2 points on the model.');
    pick([0, 10, 15]);
    at.getByText('1 of 2 points.');
    pick([10, 10, 15]);
    await waitFor(() => expect(held.now.length).equal(1), patience);
    expect([held.now[0].measured, held.now[0].real]).eql([10, 10]);
    expect(bench().points).eql([]);
    await waitFor(() => expect(bench().marks.length).equal(1));
    // in truth it is three times as long: so is whatever is measured next
    type(at.getByLabelText('Reading 1 in truth'), '30');
    expect(held.now[0].real).equal(30);
    pick([5, 0, 15], [5, 20, 15]);
    await waitFor(() => expect(held.now.length).equal(2), patience);
    expect(held.now[1].measured).closeTo(20, 1e-5);
    expect(held.now[1].real).closeTo(60, 1e-4);
    at.getByText(/Average ×3\.000, spread 0\.0 %\./);
  });

  it('of a model that was sized are those of the model before', async () => {
    const { held } = readings(await brick('sized'), 2);
    pick([0, 10, 15], [10, 10, 15]);
    await waitFor(() => expect(held.now.length).equal(1), patience);
    expect([held.now[0].measured, held.now[0].real]).eql([5, 10]);
  });

  it('a girth asks for one point and goes square to an axis; another axis is another tape', async () => {
    const { at, held } = readings(await brick('girth'));
    fireEvent.change(at.getByLabelText('Measure'), { target: { value: 'girth' } });
    at.getByText('Click a point on the model.');
    pick([0, 10, 15]);
    await waitFor(() => expect(held.now.length).equal(1), patience);
    // 2 (10 + 20)
    expect(held.now[0].measured).closeTo(60, 1e-3);
    fireEvent.change(at.getByLabelText('Tape square to'), { target: { value: 'x' } });
    pick([5, 0, 15]);
    await waitFor(() => expect(held.now.length).equal(2), patience);
    expect(held.now[1].measured).closeTo(100, 1e-3);
  });

  it('what cannot be measured is said in words, and the next try begins anew', async () => {
    const { at, held } = readings(await brick('line'));
    fireEvent.change(at.getByLabelText('Measure'), { target: { value: 'circle' } });
    pick([0, 0, 0], [0, 0, 10], [0, 0, 20]);
    await waitFor(() => expect(at.queryByText(/Click 3 points|of 3 points/)).equal(null), patience);
    expect(held.now).eql([]);
    expect(bench().points).eql([]);
    fireEvent.change(at.getByLabelText('Measure'), { target: { value: 'points' } });
    pick([0, 10, 15], [10, 10, 15]);
    await waitFor(() => expect(held.now.length).equal(1), patience);
    at.getByText('Click 2 points on the model.');
  });

  it('one that stands out is marked, told apart from the rest, and dropped', () => {
    const taken = (measured: number, real: number): Taken[number] => ({ measured, real, says: '', lines: [] });
    const { at, held } = readings('none', 1, [taken(10, 30), taken(20, 60), taken(10, 30.1), taken(10, 45)]);
    expect(at.getAllByText(/% off/).length).equal(1);
    at.getByText(/Without what stands out: ×3\.0/);
    fireEvent.click(at.getByRole('button', { name: 'Drop reading 4' }));
    expect(held.now.length).equal(3);
    expect(at.queryByText(/% off/)).equal(null);
  });

  it('nothing is asked for, and nothing drawn, once the card is gone', () => {
    const { at } = readings('none', 1, [{ measured: 1, real: 1, says: '', lines: [0, 0, 0, 1, 1, 1] }]);
    expect([bench().asks, bench().marks.length]).eql([2, 1]);
    at.unmount();
    expect([bench().asks, bench().marks.length]).eql([0, 0]);
  });
});

describe('a body that is laid on a model by pairs of points', () => {
  const placedAt = (change: Partial<PlacedBody> = {}): PlacedBody => ({
    id: 'r',
    hash: 'head',
    move: [0, 0, 0],
    turn: [0, 0, 0],
    handles: null,
    ...change,
  });
  const pairs = (landmarks: Record<string, [number, number, number]>, mine = placedAt()) => {
    const placed: Pick<PlacedBody, 'move' | 'turn'>[] = [];
    const at = show(
      <LandmarkPairs reference={referenceOf({ landmarks })} mine={mine} place={(next) => placed.push(next)} />,
    );
    const take = (landmark: string, point: [number, number, number]) => {
      fireEvent.change(at.getByLabelText('Pair a landmark'), { target: { value: landmark } });
      pick(point);
    };
    return { at, placed, take };
  };

  it('by one it is moved there and not turned', () => {
    const { at, placed, take } = pairs({ nose: [0, -90, 20] });
    fireEvent.change(at.getByLabelText('Pair a landmark'), { target: { value: 'nose' } });
    at.getByText('Click where the nose shall be on the model.');
    expect([bench().asks, bench().asksOn]).eql([1, 'model']);
    take('nose', [5, -80, 30]);
    expect(bench().asks).equal(0);
    fireEvent.click(at.getByRole('button', { name: 'Lay 1 pair on each other' }));
    expect(placed).eql([{ move: [5, 10, 10], turn: [0, 0, 0] }]);
  });

  it('by three it is turned as well: a quarter about the vertical comes back', () => {
    const { at, placed, take } = pairs({ nose: [0, -90, 0], ear: [80, 0, 0], crown: [0, 0, 120] });
    // each turned by 90 degrees about z, and moved by (1, 2, 3)
    take('nose', [90 + 1, 0 + 2, 3]);
    take('ear', [0 + 1, 80 + 2, 3]);
    take('crown', [1, 2, 123]);
    fireEvent.click(at.getByRole('button', { name: 'Lay 3 pairs on each other' }));
    const [{ move, turn }] = placed;
    [1, 2, 3].forEach((x, k) => expect(move[k]).closeTo(x, 1e-6));
    [0, 0, 90].forEach((x, k) => expect(turn[k]).closeTo(x, 1e-6));
  });

  it('a landmark that is paired again is paired anew, and all can be forgotten', () => {
    const { at, placed, take } = pairs({ nose: [0, 0, 0] });
    take('nose', [1, 1, 1]);
    take('nose', [7, 8, 9]);
    fireEvent.click(at.getByRole('button', { name: 'Lay 1 pair on each other' }));
    expect(placed[0].move).eql([7, 8, 9]);
    fireEvent.click(at.getByRole('button', { name: 'forget them' }));
    expect(at.queryByRole('button', { name: /^Lay/ })).equal(null);
  });

  it('a point of one’s own is picked on the body as it stands, and then on the model', () => {
    const { at, placed } = pairs({}, placedAt({ move: [100, 0, 0] }));
    fireEvent.change(at.getByLabelText('Pair a landmark'), { target: { value: '(own)' } });
    at.getByText('Click the point on the body: it is reached through the model.');
    expect(bench().asksOn).equal('body');
    // the body stands 100 off: this is its own (1, 2, 3)
    pick([101, 2, 3]);
    at.getByText('Click where that point shall be on the model.');
    expect(bench().asksOn).equal('model');
    pick([11, 12, 13]);
    fireEvent.click(at.getByRole('button', { name: 'Lay 1 pair on each other' }));
    placed[0].move.forEach((x) => expect(x).closeTo(10, 1e-9));
  });
});
