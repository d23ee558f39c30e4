import { expect } from 'chai';
import fc from 'fast-check';
import { jointsOf, waitsOf } from '@jasmorphe/contracts/reading/joints';
import type { PartView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { PartName } from '@jasmorphe/core/params/checks';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { figures } from '@jasmorphe/core/trade/figures';
import { fetchedStages, answers, fireEvent, sent, show, store, waitFor, within } from './dom.tsx';
import type { DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { dividedReport } from './divided.ts';
import { bodyOf, imported, partOf, printerOf, stepOf, xyz } from './things.ts';

const { cross, placeTags, tagPitch } = await import('@jasmorphe/core/planning/tagPlaces');
const { facesOf, withFace, withOneMore, withoutFaces } = await import('../src/stages/divide/usePegs.ts');
const { edgesOfBox } = await import('../src/bench/boxes.ts');
const { adviceFor, joinsOf, wayWords } = await import('@jasmorphe/contracts/reading/jointWords');
const { fitsText, readFits } = await import('../src/workshop/keepOuts.ts');
const { cutOf, fitHint, namesOf, ownOf } = await import('../src/stages/divide/divideParams.ts');
const { stages } = await fetchedStages();

describe('the part map', () => {
  it('has leaders that neither cross nor overlap, however the parts lie', () => {
    const point = fc.record({
      x: fc.double({ min: 0, max: 640, noNaN: true }),
      y: fc.double({ min: 0, max: 600, noNaN: true }),
      depth: fc.double({ min: 0, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(point, { minLength: 2, maxLength: 70 }), (points) => {
        const places = placeTags(points, 640, 650);
        const shown = places.flatMap((place, i) =>
          place ? [{ place, end: [points[i].x, points[i].y] as const }] : [],
        );
        for (const [i, a] of shown.entries())
          for (const b of shown.slice(0, i)) {
            if (a.place[0] !== b.place[0]) continue;
            expect(Math.abs(a.place[1] - b.place[1])).greaterThan(tagPitch - 1e-6);
            expect(cross(a.place, a.end, b.place, b.end)).equal(false);
          }
        // both columns hold 22 each; beyond that the farthest give way
        expect(shown.length).equal(Math.min(points.length, 44));
      }),
      { numRuns: 60 },
    );
  });
});

describe('joins on the bench', () => {
  it('a face is taken over by hand when one of its pegs is dragged; the others of the face stay, other faces too', () => {
    const r = dividedReport();
    const [a] = r.parts;
    const [face] = facesOf(r, a, []);
    expect(face.places.map((p) => [p.at[0], p.mm])).eql([
      [5, 6],
      [15, 5],
    ]);
    expect(face.own).equal(false);
    const dragged = face.places.map((p, i) => (i === 0 ? { ...p, at: [8, 8, 20] as [number, number, number] } : p));
    const hand = withFace(r, a, face, dragged, [{ at: [5, 10, 40] }]);
    expect(hand.map((p) => p.at)).eql([
      [5, 10, 40],
      [8, 8, 20],
      [15, 10, 20],
    ]);
    // the same face seen from the other part, and dragged again
    const again = facesOf(r, r.parts[1], hand);
    expect(again.map((f) => [f.to, f.own, f.places.length])).eql([
      ['A1', true, 2],
      ['C1', true, 1],
    ]);
    const gone = withFace(r, a, facesOf(r, a, hand)[0], [], hand);
    expect(gone.map((p) => p.kind ?? null)).eql([null, 'none']);
    expect(withoutFaces(r, a, gone)).eql([{ at: [5, 10, 40] }]);
  });

  it('one more stands where a face has most room and none stands yet; a full face takes none', () => {
    const r = dividedReport();
    const [a] = r.parts;
    const [face] = facesOf(r, a, []);
    // joins at 5, 10 and at 15, 10: of three places the second alone is 8 mm from both
    const more = withOneMore(face, 'dowel')!;
    expect(more.at(-1)).eql({ at: [10, 3, 20], kind: 'dowel' });
    expect(more.length).equal(3);
    expect(withOneMore({ ...face, places: more }, 'dowel')).equal(null);
    // a face that was to have none gets its first
    const hand = withFace(r, a, facesOf(r, a, [])[0], [], []);
    const [bare] = facesOf(r, a, hand);
    expect(withOneMore(bare, 'pin')).eql([{ at: [5, 10, 20], kind: 'pin' }]);
  });

  it('a join on a bent face is known by its cut, though it lies off the plane of it', () => {
    const r = dividedReport();
    const loop = [xyz(0, 0, 17), xyz(20, 0, 23), xyz(20, 20, 17), xyz(0, 20, 23)];
    const bent = { ...r, cuts: [{ ...r.cuts[0], loop }, r.cuts[1]] } as DivideReport;
    const [a, b] = bent.parts;
    const places = [{ at: [5, 5, 18.5] as [number, number, number], kind: 'pin' as const }];
    expect(facesOf(bent, a, places)[0]).include({ own: true });
    // the flat report takes it for no face's: it would be in the air
    expect(facesOf(r, a, places)[0]).include({ own: false });
    // the other face of the neighbour, 20 mm above, is not meant
    expect(facesOf(bent, b, places).map((f) => f.own)).eql([true, false]);
  });

  it('a box that is kept clean is drawn by its twelve edges, and fits are typed by material', () => {
    expect(edgesOfBox({ min: [0, 0, 0], max: [1, 2, 3] }).length).equal(12 * 6);
    const fits = readFits('PLA 0.15; PETG clear 0,2 mm');
    expect(fits).eql([
      { material: 'PLA', mm: 0.15 },
      { material: 'PETG clear', mm: 0.2 },
    ]);
    expect(readFits(fitsText(fits!))).eql(fits);
    for (const wrong of ['PLA', '0.15', 'PLA 0.1; PLA 0.2', 'PLA 9']) expect(readFits(wrong), wrong).equal(null);
  });
});

describe('what a divide is asked for again', () => {
  it('parts are named as they were; the names of printed ones stay theirs when they are gone', () => {
    const r = dividedReport();
    const views = ['A1', 'B1', 'C1'].map((tag) => partOf(tag, { state: tag === 'B1' ? 'printed' : 'planned' }));
    const gone = { tag: 'D1', min: [0, 0, 90], size: [1, 1, 1], volumeMm3: 1 } as PartName;
    const names = namesOf(r, views, [
      { ...gone, spent: true },
      { ...gone, tag: 'E1' },
      { ...gone, tag: 'A1', spent: true },
    ]);
    expect(names.map((n) => [n.tag, n.spent ?? false])).eql([
      ['A1', false],
      ['B1', true],
      ['C1', false],
      ['D1', true],
    ]);
    expect(names[1]).deep.include({ min: [0, 0, 20], size: [20, 20, 20], volumeMm3: 8000 });
    // what is sent is what the operation takes
    expect(parseParams(catalogue.divide.params, { bed: [60, 60, 60], names }).names).eql(names);
  });

  it('cuts of a report are cuts again, with all that they had', () => {
    const [plain] = dividedReport().cuts;
    const box = { min: xyz(0), max: xyz(5) };
    const full = { ...plain, through: xyz(1, 2, 3), within: box, loop: [xyz(0), xyz(1, 0, 0), xyz(0, 1, 0)] };
    expect(cutOf({ ...plain, within: null, loop: null })).eql({ normal: [0, 0, 1], offset: 20 });
    const cuts = [cutOf(full)];
    expect(cuts[0].within).eql({ min: [0, 0, 0], max: [5, 5, 5] });
    expect(parseParams(catalogue.divide.params, { bed: [60, 60, 60], cuts }).cuts).eql(cuts);
    expect(ownOf({ at: [{ axis: 'z', mm: 5 }] })).eql([{ normal: [0, 0, 1], offset: 5 }]);
    expect(ownOf({})).equal(null);
  });

  it('the gap is hinted by what was tried on the printer in hand', () => {
    const { profile } = printerOf('a', { name: 'Long bed', fitMm: 0.2, fits: [{ material: 'PETG', mm: 0.25 }] });
    expect(fitHint(profile)).equal('fit gauge of Long bed: 0.20, PETG 0.25 mm');
    expect(fitHint(undefined)).equal(figures.fitClearanceMm.reason);
  });
});

describe('Finish', () => {
  const body = (joined: string[] = []) => {
    const parts: PartView[] = ['A1', 'B1', 'C1'].map((tag) =>
      partOf(tag, { state: tag === 'A1' ? 'planned' : 'printed' }),
    );
    const params = { ...new catalogue.divide.params(), bed: [60, 60, 60] };
    return bodyOf({ line: [imported(), stepOf('divide', params, dividedReport())], parts, joined });
  };

  it('knows a joint by the meshes that it joins: cut anew it is joined anew', () => {
    const [first, second] = jointsOf(body());
    expect(first.parts).eql(['C1']);
    const other = body();
    other.parts[2].meshHash = 'another';
    const [changed, both] = jointsOf(other);
    expect(changed.key).not.equal(first.key);
    expect(both.key).not.equal(second.key);
    expect(jointsOf(bodyOf())).eql([]);
  });

  it('steps through the order, ticks it off, and says what to mind', async () => {
    const made = body();
    const [first, second] = jointsOf(made);
    answers.set(`PUT /api/bodies/b/joints/${first.key}`, made);
    const { Decision } = stages.finish;
    const card = show(<Decision body={made} printers={[]} onOpen={() => undefined} />);
    card.getByText('0 of 2 joints done, 2 of 3 parts off the bed.');
    card.getByText('1. Put C1 on B1');
    await waitFor(() =>
      expect(store.getState().bench.joint).eql({
        put: ['part-C1'],
        on: ['part-B1'],
        direction: [0, 0, -1],
      }),
    );
    fireEvent.click(card.getByRole('button', { name: 'Done' }));
    await waitFor(() => expect(sent.at(-1)).deep.include({ method: 'PUT', path: `/api/bodies/b/joints/${first.key}` }));
    card.getByText('2. Put B1 + C1 on A1');
    card.getByText('Not off the bed yet: A1.');
    card.getByText(/Epoxy/);
    // what cannot be yet is asked about, and done only then
    const asked = sent.length;
    answers.set(`PUT /api/bodies/b/joints/${second.key}`, made);
    fireEvent.click(card.getByRole('button', { name: 'Done' }));
    fireEvent.click(within(card.getByRole('alert')).getByRole('button', { name: 'Leave it' }));
    expect(card.queryByRole('alert')).equal(null);
    fireEvent.click(card.getByRole('checkbox', { name: 'Joint 2 is done' }));
    within(card.getByRole('alert')).getByText('A1 is not off the bed yet.');
    expect(sent.length).equal(asked);
    fireEvent.click(card.getByRole('button', { name: 'It is joined' }));
    await waitFor(() =>
      expect(sent.at(-1)).deep.include({ method: 'PUT', path: `/api/bodies/b/joints/${second.key}` }),
    );
    card.unmount();
    expect(store.getState().bench.joint).equal(null);
    const all = show(<Decision body={body([first.key, second.key])} printers={[]} onOpen={() => undefined} />);
    all.getByText('All 2 joints are done.');
    expect(stages.finish.stand(body([first.key]), String)).eql({ figure: '1 of 2 joined', state: 'open' });
  });

  it('what is left of a part that stopped goes on to its stump first, rest by rest, and then where the part went', () => {
    const recut = (n: number) =>
      stepOf(
        'recut',
        { printed: 9, up: [0, 0, 1] },
        { contactAreaMm2: 320 },
        {
          inputs: [n === 1 ? 'mesh-A1' : 'rest-1'],
          outputs: [`rest-${n}`],
        },
      );
    const made = body();
    const before = jointsOf(made);
    const line = [recut(1), recut(2)];
    Object.assign(made.parts[0], { tag: 'A1r2', rests: 2, line, cursor: 2, state: 'planned' });
    const joints = jointsOf(made);
    expect(joints.map((j) => [j.name, j.from, j.rest])).eql([
      ['A1r1', ['A1'], true],
      ['A1r2', ['A1r1'], true],
      ...before.map((j) => [j.name, j.from, false]),
    ]);
    expect(joints[0]).deep.include({ direction: xyz(0, 0, -1), glueMm2: 320 });
    // where the part went is known as before
    expect(joints.slice(2).map((j) => j.key)).eql(before.map((j) => j.key));
    expect(joints.map((j) => waitsOf(j, made))).eql([[], ['A1r2'], [], ['A1r2']]);
    made.parts[0].state = 'printed';
    expect(joints.map((j) => waitsOf(j, made))).eql([[], [], [], []]);
    expect(adviceFor(joints[0], [], []).join(' ')).match(/last good layer.*weight it down/);
    const card = show(<stages.finish.Decision body={made} printers={[]} onOpen={() => undefined} />);
    card.getByText('1. Put A1r1 on A1');
  });

  it('says from where a part comes, and what each join wants', () => {
    expect(wayWords(xyz(0, 0, -1))).equal('from above, straight down');
    expect(wayWords(xyz(0.9, 0.4, 0))).equal('from the left, aslant');
    const [joint] = jointsOf(body());
    const own = joinsOf(dividedReport(), joint);
    expect(own.map((j) => j.role)).eql(['hole']);
    expect(adviceFor(joint, own, []).join(' ')).match(/dry first.*binds is sanded.*Cyanoacrylate/);
    const kinds = ['dowel', 'magnet', 'bolt', 'dovetail', 'groove'] as const;
    const words = kinds.map((kind) => adviceFor(joint, [{ ...own[0], kind, size: '6 x 11.8' }], []).join(' '));
    expect(words[0]).match(/1 of 6 x 11.8/);
    expect(words[1]).match(/pole/);
    expect(words[2]).match(/no glue/);
    expect(words[2]).not.match(/Roughen/);
    expect(words[3]).match(/slides/);
    expect(words[4]).match(/groove/);
  });
});
