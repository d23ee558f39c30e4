import { renderHook } from '@testing-library/react';
import { expect } from 'chai';
import { Plane, Vector3 } from 'three';
import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { box } from '../../core/test/solids.ts';
import { act, answers, fireEvent, sent, show, store, waitFor } from './dom.tsx';
import { displayOf } from './display.ts';
import { bodyOf, partOf, stepOf, xyz } from './things.ts';

const { tokens } = await import('../src/app/tokens.ts');
const { onKey } = await import('../src/app/keys.ts');
const { api } = await import('../src/app/api.ts');
const { BenchTools } = await import('../src/bench/BenchTools.tsx');
const { FetchFiles } = await import('../src/bench/FetchFiles.tsx');
const { clearBench, pickPart, setExplode, setSection, showTips } = await import('../src/bench/benchSlice.ts');
const { cividis, cividisGradient } = await import('../src/bench/cividis.ts');
const { loadDisplay } = await import('../src/bench/displayMesh.ts');
const { standFlags } = await import('../src/bench/flagPlaces.ts');
const { holderOf } = await import('../src/bench/holders.ts');
const { partTint, stoppedTint } = await import('../src/bench/partTint.ts');
const { shownHit } = await import('../src/bench/shownHit.ts');
const { useDisplay } = await import('../src/bench/useDisplay.ts');
const { useLaid, laidLines } = await import('../src/bench/useLaid.ts');
const { default: Portrait } = await import('../src/shelf/Portrait.tsx');

const bench = () => store.getState().bench;
const press = (key: string, change: object = {}) =>
  act(() => onKey(new KeyboardEvent('keydown', { key, bubbles: true, ...change })));
const serve = (hash: string, bytes: Uint8Array | object) => void answers.set(`GET /api/meshes/${hash}/display`, bytes);

beforeEach(() =>
  act(() => {
    store.dispatch(api.util.resetApiState());
    store.dispatch(clearBench());
  }),
);

describe('colours of the page', () => {
  /** Relative luminance and contrast ratio as WCAG 2.2 defines them (w3.org/TR/WCAG22, "contrast ratio"). */
  const luminance = (hex: string): number => {
    const [r, g, b] = [1, 3, 5].map((at) => {
      const c = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const contrast = (a: string, b: string): number => {
    const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
    return (light + 0.05) / (dark + 0.05);
  };

  it('words in every colour can be read on every ground (4.5 to 1), whichever of them come to stand there', () => {
    expect(contrast('#000000', '#ffffff')).closeTo(21, 1e-9);
    for (const [scheme, t] of Object.entries(tokens)) {
      for (const word of ['ink', 'ink2', 'ink3', 'verdigris', 'ochre', 'madder'] as const)
        for (const ground of ['paper', 'sheet', 'bench', 'verdigrisGround', 'ochreGround', 'madderGround'] as const)
          expect(contrast(t[word], t[ground]), `${word} on ${ground}, ${scheme}`).at.least(4.5);
      expect(contrast(t.onAccent, t.verdigris), `on the accent, ${scheme}`).at.least(4.5);
    }
  });
});

describe('a mesh to be drawn', () => {
  it('comes with its corners to a hair, flat facets and sharp edges, and is fetched once', async () => {
    serve('cube', await displayOf(await box(10, 20, 30), 4_000));
    const { geometry, positions, index, triangles, fullTriangles } = await loadDisplay('cube', 100);
    expect([triangles, fullTriangles, index.length, positions.length]).eql([12, 4_000, 36, 24]);
    const p = geometry.getAttribute('position');
    const n = geometry.getAttribute('normal');
    expect([p.count, n.count]).eql([36, 36]);
    for (let i = 0; i < p.count; i++) {
      // a box has no edge that is not sharp: every corner looks straight along an axis, out of the face it is on
      const normal = [n.getX(i), n.getY(i), n.getZ(i)];
      const k = normal.findIndex((x) => Math.abs(x) > 0.5);
      expect(Math.abs(normal[k])).closeTo(1, 1e-6);
      const at = [p.getX(i), p.getY(i), p.getZ(i)][k];
      expect(at).closeTo(normal[k] > 0 ? [10, 20, 30][k] : 0, 1e-3);
    }
    await loadDisplay('cube', 100);
    expect(sent.filter((s) => s.path === '/api/meshes/cube/display').length).equal(1);
  });

  it('that is none, or cannot be had, is said, and asked for again the next time', async () => {
    const why = (hash: string) =>
      loadDisplay(hash, 100).then(
        () => '',
        (e: Error) => e.message,
      );
    serve('odd', new Uint8Array(64));
    expect(await why('odd')).equal('The mesh cannot be shown.');
    serve('odd', { error: { code: 'not-found', message: 'gone', hint: '' } });
    expect(await why('odd')).equal('The mesh cannot be shown.');
    serve('odd', await displayOf(await box(1, 1, 1)));
    expect(await why('odd')).equal('');
  });

  it('keeps the mesh before until the next one has come, and says whose it shows', async () => {
    serve('first', await displayOf(await box(1, 1, 1)));
    serve('next', new Uint8Array(64));
    const { result, rerender } = renderHook(({ hash }) => useDisplay(hash, 50), { initialProps: { hash: 'first' } });
    await waitFor(() => expect(result.current.display?.triangles).equal(12));
    rerender({ hash: 'next' });
    expect([result.current.hash, result.current.display !== null]).eql(['first', true]);
    await waitFor(() => expect(result.current.failed).equal(true));
    expect([result.current.hash, result.current.display]).eql(['next', null]);
    rerender({ hash: '' });
    expect(result.current).eql({ hash: '', display: null, failed: false });
  });
});

describe('a part as it lies', () => {
  // turned so that what was x is up
  const rotation = [
    [0, 0, -1],
    [0, 1, 0],
    [1, 0, 0],
  ];
  const lying = (change: Partial<PartView> = {}) => {
    const part = partOf('A1', { rotation: rotation as never, ...change });
    return { ...part, mesh: { ...part.mesh, hash: 'lying' } };
  };

  it('stands on the bed with its middle over the middle, and points go there and back', async () => {
    serve('lying', await displayOf(await box(10, 20, 30)));
    const part = lying();
    const { result } = renderHook(() => useLaid(part, null, tokens.light));
    await waitFor(() => expect(result.current).not.equal(null));
    const { bounds, onto, back, geometry } = result.current!;
    [-15, -10, 0].forEach((x, k) => expect(bounds.min[k]).closeTo(x, 1e-3));
    [15, 10, 10].forEach((x, k) => expect(bounds.max[k]).closeTo(x, 1e-3));
    // the corner at x = 10 is up
    expect(onto([10, 0, 0])[2]).closeTo(10, 1e-3);
    for (const at of [
      [1, 2, 3],
      [10, 20, 30],
      [-4, 0, 9],
    ] as [number, number, number][])
      // oxfmt-ignore
      back(onto(at)).forEach((x, k) => expect(x).closeTo(at[k], 1e-5));
    const lines = laidLines([10, 0, 0, 10, 20, 30], result.current!);
    expect(lines.length).equal(6);
    expect([lines[2], lines[5]].map((z) => Math.round(z))).eql([10, 10]);
    expect(geometry.getAttribute('color')).equal(undefined);
  });

  it('is painted where it leans out over air, and nowhere on the bed', async () => {
    // a plate on a post: the underside of the plate hangs, the post's foot does not
    const plate = await box(20, 20, 2);
    const post = await box(4, 4, 10);
    const mesh = {
      positions: Float32Array.from([...post.positions, ...plate.positions.map((x, i) => (i % 3 === 2 ? x + 10 : x))]),
      triangles: Uint32Array.from([
        ...post.triangles,
        ...Array.from(plate.triangles, (v) => v + post.positions.length / 3),
      ]),
    };
    serve('hanging', await displayOf(mesh));
    const part = partOf('A1');
    const hanging = { ...part, mesh: { ...part.mesh, hash: 'hanging' } };
    const { result } = renderHook(() => useLaid(hanging, 45, tokens.light));
    await waitFor(() => expect(result.current).not.equal(null));
    const { geometry } = result.current!;
    const [p, n, c] = ['position', 'normal', 'color'].map((name) => geometry.getAttribute(name));
    const clay = c.getX(0);
    const painted = new Set<number>();
    for (let i = 0; i < p.count; i++) if (Math.abs(c.getX(i) - clay) > 0.01) painted.add(Math.round(p.getZ(i)));
    expect([...painted]).eql([10]);
    for (let i = 0; i < p.count; i++) if (n.getZ(i) > -0.5) expect(c.getX(i)).closeTo(clay, 1e-6);
  });

  it('is nothing without a part', () => {
    const { result } = renderHook(() => useLaid(null, null, tokens.light));
    expect(result.current).equal(null);
  });
});

describe('colours and flags of the bench', () => {
  it('the map goes from dark blue to yellow, ever lighter, and stays within its ends', () => {
    const light = ([r, g, b]: [number, number, number]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
    for (let i = 1; i <= 40; i++) expect(light(cividis(i / 40))).above(light(cividis((i - 1) / 40)) - 0.01);
    expect(cividis(-3)).eql(cividis(0));
    expect(cividis(9)).eql(cividis(1));
    expect(cividis(0)[2]).above(cividis(0)[0]);
    expect(cividis(1)[0]).above(cividis(1)[2]);
    expect(cividisGradient).match(/^linear-gradient\(to right, rgb.*\)$/);
  });

  it('neighbouring parts have tints of their own, and one that stopped is redder than clay', () => {
    const tints = Array.from({ length: 12 }, (_, i) => partTint(i, tokens.light));
    expect(new Set(tints).size).equal(12);
    for (const t of [...tints, stoppedTint(tokens.dark)]) expect(t).match(/^#[0-9a-f]{6}$/);
    const part = (hex: string, at: number) => parseInt(hex.slice(at, at + 2), 16);
    const redness = (hex: string) => part(hex, 1) / (part(hex, 3) + part(hex, 5));
    expect(redness(stoppedTint(tokens.light))).above(redness(tokens.light.clay));
  });

  it('a place is of the part in whose skin it lies: by its box, or where several hold it by the nearest vertex', async () => {
    const asked: string[] = [];
    // a cup that stands around a ball: the box of the cup holds the ball as well
    const skins: Record<string, number[]> = { cup: [0, 0, 0, 29, 12, 12, 40, 40, 40], ball: [20, 20, 10, 20, 20, 30] };
    const of = (id: string, low: number, high: number) => ({ id, mesh: { hash: id, facts: { min: xyz(low, low, low), max: xyz(high, high, high) } } }); // oxfmt-ignore
    const parts = [of('cup', 0, 40), of('ball', 10, 30), of('far', 100, 120)];
    const holder = (at: [number, number, number]) =>
      holderOf(at, parts, ({ id }) => (asked.push(id), Promise.resolve(skins[id])));
    expect(await holder([110, 110, 120.3])).equal('far');
    expect(await holder([1, 1, 1])).equal('cup');
    expect(asked, 'where one box has it no mesh is fetched').eql([]);
    expect(await holder([20, 20, 29])).equal('ball');
    expect(await holder([12, 12, 12])).equal('ball');
    expect(await holder([30, 12, 12])).equal('cup');
    expect([...new Set(asked)]).eql(['cup', 'ball']);
    expect(await holder([60, 0, 0])).equal(undefined);
  });

  it('flags neither cover each other nor leave the sheet while there is room; hidden places have none', () => {
    const places: ([number, number] | null)[] = [[200, 200], [205, 203], [210, 199], null, [5, 5], [395, 295]]; // oxfmt-ignore
    const flags = standFlags(places, 400, 300);
    expect(flags[3]).equal(null);
    const at = places.flatMap((p, i) => (p ? [[p[0] + flags[i]![0], p[1] + flags[i]![1]]] : []));
    at.forEach(([x, y], i) => {
      expect(x).within(15, 385);
      expect(y).within(11, 289);
      for (const [u, v] of at.slice(0, i)) expect(Math.abs(u - x) >= 30 || Math.abs(v - y) >= 22).equal(true);
    });
    // the same places have the same flags: they do not dance
    expect(standFlags(places, 400, 300)).eql(flags);
  });

  it('a click meets what is shown: skin that is cut away lets it through to what lies behind', () => {
    const clip = new Plane(new Vector3(0, 0, -1), 5);
    const hit = (z: number, behind: number[]) =>
      shownHit(
        {
          point: new Vector3(0, 0, z),
          ray: { origin: new Vector3(0, 0, 20), direction: new Vector3(0, 0, -1) },
          object: {
            raycast: (_: unknown, out: object[]) =>
              void out.push(...behind.map((b) => ({ distance: 20 - b, point: new Vector3(0, 0, b) }))),
          },
        } as never,
        clip,
      );
    expect(hit(3, [])?.z).equal(3);
    expect(hit(9, [9, 2, 4])?.z).equal(4);
    expect(hit(9, [9, 8])).equal(null);
    expect(shownHit({ point: new Vector3(1, 2, 9) } as never, null)?.z).equal(9);
  });
});

describe('the tools of the bench', () => {
  const tools = (body: BodyView, atPrinter = false) => show(<BenchTools body={body} atPrinter={atPrinter} />);
  const parted = bodyOf({ parts: [partOf('A1'), partOf('A2')] });

  it('cut, turn the cut, and move it by button, slider and key, never out of the model', () => {
    const at = tools(bodyOf());
    fireEvent.click(at.getByTestId('section'));
    expect(bench().section).eql({ axis: 1, share: 0.5 });
    fireEvent.click(at.getByRole('button', { name: 'Section along y, turn' }));
    press('a');
    expect(bench().section!.axis).equal(0);
    press('ArrowRight');
    press('ArrowLeft', { shiftKey: true });
    expect(bench().section!.share).closeTo(0.518, 1e-9);
    fireEvent.change(at.getByLabelText('Place of the section'), { target: { value: '0.99' } });
    for (let i = 0; i < 3; i++) press('ArrowRight');
    expect(bench().section!.share).equal(1);
    act(() => void store.dispatch(setSection({ axis: 0, share: 0.01 })));
    for (let i = 0; i < 3; i++) press('ArrowLeft');
    expect(bench().section!.share).equal(0);
    press('s');
    expect(bench().section).equal(null);
    // nothing is cut: the keys that move a cut do nothing
    press('ArrowRight');
    press('a');
    expect(bench().section).equal(null);
  });

  it('views come in their order; what stands beside is put there and away', () => {
    const at = tools(bodyOf());
    const seen = [];
    for (let i = 0; i < 4; i++) {
      press('v');
      seen.push(bench().view.name);
    }
    expect(seen).eql(['front', 'right', 'top', 'corner']);
    const { n } = bench().view;
    fireEvent.click(at.getByRole('button', { name: /^All/ }));
    expect(bench().view).eql({ name: 'fit', n: n + 1 });
    press('h');
    expect(at.getByRole('button', { name: /^Beside/ }).getAttribute('aria-pressed')).equal('true');
    fireEvent.click(at.getByRole('button', { name: /^Beside/ }));
    expect(bench().companion).equal(false);
  });

  it('parts go apart and together; a model in one piece has nothing to take apart', () => {
    const whole = tools(bodyOf());
    press('x');
    expect([bench().explode, whole.queryByText('Apart')]).eql([0, null]);
    whole.unmount();
    const at = tools(parted);
    press('x');
    expect(bench().explode).equal(0.6);
    press('x');
    expect(bench().explode).equal(0);
    fireEvent.change(at.getByLabelText('Apart'), { target: { value: '0.3' } });
    expect(bench().explode).equal(0.3);
    act(() => void store.dispatch(setExplode(7)));
    expect(bench().explode).equal(1);
  });

  it('at the printer the part in hand lies on the bed, and the sliders that take apart are away meanwhile', () => {
    const at = tools(parted, true);
    expect(bench().laid).equal(true);
    expect(at.queryByText('Apart')).equal(null);
    press('b');
    expect(bench().laid).equal(false);
    at.getByText('Apart');
    fireEvent.click(at.getByTestId('laid'));
    expect(bench().laid).equal(true);
    at.unmount();
    tools(parted);
    press('b');
    expect(bench().laid, 'not at other stops').equal(true);
  });

  it('with support tips in hand the arrows go through layers, one with Shift and five without', () => {
    tools(parted, true);
    const list = [{ key: 'k', at: [0, 0, 0] as [number, number, number], done: false }];
    act(() => void store.dispatch(showTips({ partId: 'p', list, layerMm: 0.2 })));
    press('ArrowRight');
    press('ArrowLeft', { shiftKey: true });
    expect(bench().tips!.above).equal(5);
  });
});

describe('files to fetch', () => {
  const hrefs = (at: ReturnType<typeof show>) =>
    at.getAllByRole('link').map((a) => `${a.textContent} ${a.getAttribute('href')}`);

  it('of a model in one piece are the whole in every format', async () => {
    const at = show(<FetchFiles body={bodyOf()} />);
    await waitFor(() => expect(sent.some((s) => s.path === '/api/projects/p')).equal(true));
    expect(at.queryByLabelText('What to fetch')).equal(null);
    expect(hrefs(at)).contain('3mf /api/bodies/b/export?format=3mf&what=whole');
    expect(hrefs(at).length).above(3);
  });

  it('of parts are all of them, as they lie, the one in hand, or the dowels', async () => {
    const body = bodyOf({
      parts: [partOf('A1'), partOf('A2')],
      line: [stepOf('divide', {}, { loose: [{ kind: 'dowel' }] })],
      cursor: 1,
    });
    const at = show(<FetchFiles body={body} />);
    const what = at.getByLabelText('What to fetch');
    const names = () => [...what.querySelectorAll('option')].map((o) => o.textContent);
    expect(names()).eql(['parts, as assembled', 'parts, as they lie', 'the whole', 'dowels']);
    act(() => void store.dispatch(pickPart('part-A2')));
    expect(names()).contain('the part in hand');
    fireEvent.change(what, { target: { value: 'one' } });
    expect(hrefs(at)).contain('3mf /api/bodies/b/export?format=3mf&pose=bed&only=A2');
    // the part is let go: what is offered falls back on all of them
    act(() => void store.dispatch(pickPart(null)));
    expect(hrefs(at)).contain('3mf /api/bodies/b/export?format=3mf');
    fireEvent.change(what, { target: { value: 'loose' } });
    expect(hrefs(at)).eql(['3mf /api/bodies/b/export?format=3mf&what=loose']);
  });

  it('altered ones of a work that may not be altered go out after a word', async () => {
    const body = bodyOf({ terms: 'cc-by-nd', line: [], cursor: 2 });
    const at = show(<FetchFiles body={body} />);
    const button = await at.findByRole('button', { name: '3mf' });
    fireEvent.click(button);
    await at.findByText('Is it for yourself alone?');
    expect(at.getByTestId('word').getAttribute('href')).match(/what=whole&word=yes$/);
    fireEvent.click(at.getByRole('button', { name: 'Leave it' }));
    await waitFor(() => expect(at.queryByText('Is it for yourself alone?')).equal(null));
  });
});

describe('the portrait on a card', () => {
  it('stands beside a figure or a hand to the same scale, also where no picture can be had', () => {
    const height = (sizeMm: { x: number; y: number; z: number }) => {
      const at = show(<Portrait hash="none" sizeMm={sizeMm} />);
      const svg = at.container.querySelector('svg')!;
      const found = [parseFloat(svg.style.height), svg.getAttribute('viewBox')] as const;
      expect(at.container.querySelector('img')).equal(null);
      at.unmount();
      return found;
    };
    // twice as tall as a figure of 1.75 m: 1.8 radii are the height of the picture
    const [tall, figure] = height(xyz(0, 0, 3500));
    expect(tall).closeTo((100 * 1750) / (1.8 * 1750), 0.5);
    expect(figure).equal('-15 0 30 100');
    // beside a small thing the hand fills the picture, and no more
    expect(height(xyz(20))).eql([94, '0 0 56 100']);
  });
});
