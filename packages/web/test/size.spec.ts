import { expect } from 'chai';
import { createElement } from 'react';
import { renderToString } from 'react-dom/server';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { operations } from '@jasmorphe/core/operations/runs';
import { quietContext } from '@jasmorphe/core/run/context';
import { boundsOf, sizeOf, xyz, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import {
  askForPoints,
  askOnBody,
  benchSlice,
  clearBench,
  compare,
  dropPoints,
  look,
  moveBody,
  pickPoint,
  setExplode,
  setSwipe,
  showBody,
  toggleSection,
} from '../src/bench/benchSlice.ts';
import { useSizeChoice } from '../src/stages/size/useSizeChoice.ts';
import { wayOf, ways, type SizeKept, type Way } from '../src/stages/size/ways.ts';

type Choice = ReturnType<typeof useSizeChoice>;

/** What the fields of the size card make of a step that was kept. */
function choiceOf(old: SizeKept, before: [number, number, number], now = before, scaled = 1): Choice {
  let choice: Choice | undefined;
  const Probe = () => {
    choice = useSizeChoice(old, xyz(before), xyz(now), scaled);
    return null;
  };
  renderToString(createElement(Probe));
  return choice!;
}

// a box of 40 x 30 x 20
const box: TriMesh = {
  positions: Float32Array.from(
    [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 40 : 0, i & 2 ? 30 : 0, i & 4 ? 20 : 0]),
  ),
  triangles: Uint32Array.from([
    0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5,
  ]),
};
const size: [number, number, number] = [40, 30, 20];

const kept: Record<Exclude<Way, 'body'>, SizeKept> = {
  dimension: { axis: 'y', to: 75 },
  factor: { factor: 2.5 },
  measured: {
    readings: [
      { measured: 10, real: 25 },
      { measured: 8, real: 20 },
    ],
  },
  ratio: { ratio: 1 / 6, original: 1750, axis: 'z' },
  bed: { bed: [220, 220, 250], margin: 4 },
  stretch: { stretch: [1, 2, 3] },
};

describe('the size card', () => {
  for (const [way, old] of Object.entries(kept) as [keyof typeof kept, SizeKept][])
    it(`opens on what was done: ${ways[way]}`, async () => {
      expect(wayOf(old)).equal(way);
      const choice = choiceOf(old, size);
      expect(choice.way).equal(way);
      // what it would send again is what was kept
      expect(choice.params([220, 220, 250], null)).eql(old);
      // and the factors that it shows are those that the operation works
      const filling = 5.5;
      const shown = choice.factors(filling, null)!;
      const { outputs, report } = await operations.size.run(
        [box],
        parseParams(operations.size.params, old),
        quietContext,
      );
      const grown = sizeOf(boundsOf(outputs[0]));
      if (way === 'bed') expect(shown).eql([filling, filling, filling]);
      else {
        expect(shown[0]).closeTo(report.factor.x, 1e-9);
        for (let k = 0; k < 3; k++) expect(grown[k] / size[k]).closeTo(shown[k], 1e-5);
      }
    });

  it('opens on the longest side of a model that has not been sized, at the size it has', () => {
    for (const [before, axis] of [
      [[40, 30, 20], 'x'],
      [[4, 30, 20], 'y'],
      [[4, 30, 200], 'z'],
      [[5, 5, 5], 'z'],
    ] as [[number, number, number], 'x' | 'y' | 'z'][]) {
      const choice = choiceOf({}, before);
      expect([choice.way, choice.longest, choice.fields.axis]).eql(['dimension', axis, axis]);
      expect(choice.factors(null, null)).eql([1, 1, 1]);
    }
    // a step that doubled it counts from the size before
    expect(choiceOf({ factor: 2 }, size, [80, 60, 40], 2).factors(null, null)).eql([2, 2, 2]);
  });

  it('knows no factor while what it follows from is being worked out', () => {
    expect(choiceOf(kept.bed, size).factors(null, 3)).equal(null);
    expect(wayOf({})).equal('dimension');
    const own = choiceOf({ measured: 10, real: 25 } as SizeKept, size);
    expect([own.way, own.readings.length, own.factors(null, null)![0]]).eql(['measured', 1, 2.5]);
  });
});

describe('the bench', () => {
  const after = (...actions: Parameters<typeof benchSlice.reducer>[1][]) =>
    actions.reduce((s, a) => benchSlice.reducer(s, a), benchSlice.reducer(undefined, { type: 'start' }));

  it('picks as many points as are asked for, and a further click begins anew', () => {
    const p = (x: number) => pickPoint([x, 0, 0]);
    expect(after(askForPoints(2), p(1)).points).eql([[1, 0, 0]]);
    expect(after(askForPoints(2), p(1), p(2)).points.length).equal(2);
    expect(after(askForPoints(2), p(1), p(2), p(3)).points).eql([[3, 0, 0]]);
    expect(after(askForPoints(2), p(1), dropPoints()).points).eql([]);
    // to ask again forgets what was picked for another question
    expect(after(askForPoints(2), p(1), askForPoints(3)).points).eql([]);
    const onBody = after(askForPoints(3), p(1), askOnBody());
    expect([onBody.asks, onBody.asksOn, onBody.points.length]).eql([1, 'body', 0]);
    expect(after(askOnBody(), askForPoints(0)).asksOn).equal('model');
  });

  it('moves the body that is there, and none that is not', () => {
    const figure = { id: 'a', hash: 'h', move: [0, 0, 0], turn: [0, 0, 0], handles: 'move' } as const;
    const moved = after(
      showBody({ ...figure, move: [0, 0, 0], turn: [0, 0, 0] }),
      moveBody({ move: [1, 2, 3], turn: [0, 90, 0] }),
    ).body!;
    expect([moved.move, moved.turn, moved.handles, moved.id]).eql([[1, 2, 3], [0, 90, 0], 'move', 'a']);
    expect(after(moveBody({ move: [1, 2, 3], turn: [0, 0, 0] })).body).equal(null);
  });

  it('keeps shares within 0 and 1, takes the section away again, counts every wish to look', () => {
    expect([after(setExplode(7)).explode, after(setExplode(-1)).explode, after(setSwipe(2)).swipe]).eql([1, 0, 1]);
    expect(after(toggleSection()).section).eql({ axis: 1, share: 0.5 });
    expect(after(toggleSection(), toggleSection()).section).equal(null);
    const twice = after(look('top'), look('top'));
    expect(twice.view).eql({ name: 'top', n: 2 });
    const cleared = after(
      look('top'),
      setExplode(0.5),
      compare({ before: 'a', after: 'b', mode: 'map' }),
      clearBench(),
    );
    expect(cleared).eql(after());
  });
});
