import { expect } from 'chai';
import { useState } from 'react';
import { useCallback } from 'react';
import { useLocation } from 'react-router';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { Settings } from '@jasmorphe/contracts/workshopRequests';
import { act, answers, fireEvent, patience, sent, show, store, type, waitFor, within } from './dom.tsx';
import { kitOf, pieceOf, projectNamed } from './kitThings.ts';
import { bodyOf, xyz } from './things.ts';

const { Attachments } = await import('../src/about/Attachments.tsx');
const { api } = await import('../src/app/api.ts');
const { Notices } = await import('../src/app/Notices.tsx');
const { forgetRefused, say } = await import('../src/app/uiSlice.ts');
const { PieceTable } = await import('../src/kit/PieceTable.tsx');
const { useImport } = await import('../src/project/useImport.ts');
const { ProjectCard } = await import('../src/shelf/ProjectCard.tsx');
const { ProjectMenu } = await import('../src/shelf/ProjectMenu.tsx');
const { forgetDrafts, useDraft } = await import('../src/stages/useDraft.ts');
const { Materials } = await import('../src/workshop/Materials.tsx');

const lastOf = (method: string, path: string) => sent.filter((s) => s.method === method && s.path === path).at(-1);
const refusal = (message: string, code = 'cannot') => ({ error: { code, message, hint: '' } });
const project = (change: Partial<ProjectSummary> = {}) =>
  projectNamed('Carnyx', { id: 'p', note: 'war horn', ...change });
const Where = () => <output data-testid="where">{useLocation().pathname}</output>;
/** What is said at the foot of the window. */
const said = (at: ReturnType<typeof show>) => at.queryAllByTestId('notice').map((n) => n.textContent);

beforeEach(() =>
  act(() => {
    store.dispatch(api.util.resetApiState());
    store.dispatch(say(null));
  }),
);

describe('the menu of a project', () => {
  const menu = (of: ProjectSummary = project()) => {
    let about = 0;
    const at = show(
      <>
        <ProjectMenu project={of} onAbout={() => about++} />
        <Where />
        <Notices />
      </>,
    );
    const choose = async (name: string) => {
      fireEvent.click(at.getByRole('button', { name: `What to do with ${of.name}` }));
      fireEvent.click(await at.findByRole('menuitem', { name }, patience));
    };
    return { at, choose, about: () => about };
  };

  it('copies it, archives it and takes it back, and says that it did', async () => {
    answers.set('POST /api/projects/p/copy', project({ id: 'q' }));
    answers.set('PATCH /api/projects/p', project());
    const { at, choose } = menu();
    await choose('Copy');
    await waitFor(() => expect(said(at).join()).match(/"Carnyx" was copied\./), patience);
    await choose('Archive');
    await waitFor(() => expect(lastOf('PATCH', '/api/projects/p')!.body).eql({ archived: true }), patience);
    await waitFor(() => expect(said(at).join()).match(/"Carnyx" is in the archive\./), patience);
    at.unmount();
    const kept = menu(project({ archivedAt: '2026-11-02' }));
    await kept.choose('Back on the shelf');
    await waitFor(() => expect(lastOf('PATCH', '/api/projects/p')!.body).eql({ archived: false }), patience);
  });

  it('a refusal is said in the server’s words, once', async () => {
    answers.set('POST /api/projects/p/copy', refusal('The disk is full.'));
    const { at, choose } = menu();
    await choose('Copy');
    await waitFor(() => expect(said(at).filter((t) => /The disk is full\./.test(t!)).length).equal(1), patience);
    expect(said(at).join()).not.match(/was copied/);
  });

  it('leads to its book and to what is said of it', async () => {
    const { at, choose, about } = menu();
    await choose('Name, source, photos and notes');
    expect(about()).equal(1);
    await choose('Build book, for paper');
    expect(at.getByTestId('where').textContent).equal('/project/p/book');
  });

  it('a pack is asked for before it is fetched: terms are asked about, all else that stands in the way is said', async () => {
    answers.set('GET /api/projects/p/pack?word=ask', refusal('Its terms allow no altered files.', 'no-derivatives'));
    const { at, choose } = menu();
    await choose('Pack into one file');
    expect((await at.findByTestId('word', {}, patience)).getAttribute('href')).equal('/api/projects/p/pack?word=yes');
    at.unmount();
    answers.set('GET /api/projects/p/pack?word=ask', refusal('A mesh is missing.'));
    const other = menu();
    await other.choose('Pack into one file');
    await waitFor(() => expect(said(other.at).join()).match(/A mesh is missing\./), patience);
    other.at.unmount();
    // the server is gone
    answers.set('GET /api/projects/p/pack?word=ask', () => {
      throw new TypeError('fetch failed');
    });
    const gone = menu();
    await gone.choose('Pack into one file');
    await waitFor(() => expect(said(gone.at).join()).match(/The server cannot be reached/), patience);
  });

  it('one that was taken off is put back, or removed for good', async () => {
    const off = project({ removedAt: '2026-11-20T10:00:00.000Z' });
    const { at, choose } = menu(off);
    await choose('Put it back on the shelf');
    await waitFor(() => expect(said(at).join()).match(/is back on the shelf/), patience);
    await choose('Remove it for good');
    await waitFor(() => expect(said(at).join()).match(/is gone for good/), patience);
    expect(sent.map((s) => s.method).filter((m) => m !== 'GET').length).equal(2);
  });
});

describe('the card of a project', () => {
  it('says how far its printing is, how large it is, and what is wrong with it', () => {
    const models = [{ id: 'b', name: 'horn', meshHash: 'm', sizeMm: xyz(600, 200, 1750) }] as never;
    const at = show(
      <ProjectCard
        project={project({ models, parts: 12, printed: 5, trouble: 'A mesh of it is missing.' as never })}
        onAbout={() => undefined}
      />,
    );
    at.getByText('5 of 12 printed');
    at.getByText(/600\.0 × 200\.0 × 1\s750 mm/);
    expect(at.getByRole('link').getAttribute('href')).equal('/project/p');
    at.unmount();
    const kit = show(<ProjectCard project={project({ pieces: 4 })} onAbout={() => undefined} />);
    kit.getByText('No model yet');
    expect(kit.getByRole('link').getAttribute('href')).equal('/project/p/kit');
  });
});

describe('photos', () => {
  const WithNote = () => {
    const [note, setNote] = useState('');
    return <Attachments projectId="p" body={null} note={note} onNote={setNote} />;
  };
  const shown = () =>
    show(
      <>
        <WithNote />
        <Notices />
      </>,
    );
  const give = (at: ReturnType<typeof show>, file: File) =>
    act(() => {
      const input = at.getByTestId('photo-input');
      Object.defineProperty(input, 'files', { value: [file], configurable: true });
      fireEvent.change(input);
    });

  it('are sent with what they are of; one that is no picture is refused in words', async () => {
    answers.set('POST /api/projects/p/photos', { id: 'a' });
    const at = shown();
    await at.findByText('No photos or notes yet.', {}, patience);
    give(at, new File(['x'], 'seam.png', { type: 'image/png' }));
    await waitFor(() => expect(lastOf('POST', '/api/projects/p/photos')!.body).eql([['file', 'seam.png']]), patience);
    answers.set('POST /api/projects/p/photos', refusal('letter.png is no picture.'));
    give(at, new File(['x'], 'letter.png'));
    await waitFor(() => expect(said(at).join()).match(/letter\.png is no picture\./), patience);
  });

  it('a note that is refused stays in its field', async () => {
    answers.set('POST /api/projects/p/notes', refusal('The project is gone.'));
    const at = shown();
    type(at.getByLabelText('New note'), 'sanded to 240');
    fireEvent.click(at.getByRole('button', { name: 'Add the note' }));
    await waitFor(() => expect(said(at).join()).match(/The project is gone\./), patience);
    expect((at.getByLabelText('New note') as HTMLTextAreaElement).value).equal('sanded to 240');
  });
});

describe('materials and spools', () => {
  const grey = {
    id: 'm',
    name: 'Fen grey',
    kind: 'filament',
    densityGCm3: 1.24,
    pricePerKg: 19,
    stockG: 4300,
    shrinkagePct: 0.3,
    cautions: '',
    retiredAt: null,
  };
  const spool = {
    id: 's',
    materialId: 'm',
    name: 'Grey 1',
    colour: 'grey',
    grossG: 1250,
    emptyG: 250,
    openedOn: '2026-10-02',
    whereabouts: 'shelf',
    endedAt: null,
    leftG: 880,
    leftM: null,
    entries: [],
  };
  const materials = async (spools: object[] = [spool], list: object[] = [grey]) => {
    answers.set('GET /api/materials', list);
    answers.set('GET /api/spools', spools);
    answers.set('GET /api/settings', new Settings());
    const at = show(<Materials />);
    if (list.length > 0) await at.findByRole('row', { name: /^Fen grey/ }, patience);
    return at;
  };
  const changed = (name: RegExp, at: ReturnType<typeof show>) =>
    fireEvent.click(within(at.getByRole('row', { name })).getByRole('button', { name: 'Change' }));

  it('a material is changed from what it is, with nothing of it lost', async () => {
    answers.set('PUT /api/materials/m', grey);
    const at = await materials();
    changed(/^Fen grey/, at);
    type(at.getByLabelText('Price per kg'), '24');
    fireEvent.click(at.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(lastOf('PUT', '/api/materials/m')).not.equal(undefined), patience);
    const { id: _id, retiredAt: _retired, ...rest } = grey;
    expect(lastOf('PUT', '/api/materials/m')!.body).deep.include({ ...rest, pricePerKg: 24 });
    await at.findByRole('row', { name: /^Fen grey/ }, patience);
  });

  it('a new one begins with usual figures, and is left without anything sent', async () => {
    const at = await materials();
    fireEvent.click(at.getByRole('button', { name: 'New material' }));
    expect((at.getByLabelText('Density, g/cm³') as HTMLInputElement).value).match(/^1\.24/);
    fireEvent.click(at.getByRole('button', { name: 'Leave it' }));
    await at.findByRole('row', { name: /^Fen grey/ }, patience);
    expect(sent.filter((s) => s.method !== 'GET')).eql([]);
  });

  it('a spool is of one of the materials; it need not have been opened on any day', async () => {
    answers.set('POST /api/spools', spool);
    const at = await materials();
    fireEvent.click(at.getByRole('button', { name: 'New spool or bottle' }));
    type(at.getByLabelText('Name'), 'Grey 2');
    fireEvent.click(at.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(lastOf('POST', '/api/spools')).not.equal(undefined), patience);
    expect(lastOf('POST', '/api/spools')!.body).deep.include({ materialId: 'm', name: 'Grey 2', grossG: 1250 });
    at.unmount();
    // a day that was a slip is taken away; what is no day is not sent
    answers.set('PUT /api/spools/s', spool);
    const again = await materials();
    changed(/^Grey 1/, again);
    type(again.getByLabelText('Opened on'), 'monday');
    again.getByText('"Opened on" must be a day such as 2026-11-26', { exact: false });
    expect((again.getByRole('button', { name: 'Keep' }) as HTMLButtonElement).disabled).equal(true);
    type(again.getByLabelText('Opened on'), '');
    fireEvent.click(again.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(lastOf('PUT', '/api/spools/s')?.body).deep.include({ openedOn: '' }), patience);
  });

  it('one is marked as used up, and is told as ended; without materials there are no spools to add', async () => {
    answers.set('PUT /api/spools/s', spool);
    const at = await materials([spool, { ...spool, id: 't', name: 'Grey 0', endedAt: '2026-11-01' }]);
    at.getByText('Grey 0, ended');
    changed(/^Grey 1/, at);
    fireEvent.click(at.getByLabelText('Used up or thrown away'));
    fireEvent.click(at.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () => expect(lastOf('PUT', '/api/spools/s')?.body).deep.include({ ended: true, openedOn: '2026-10-02' }),
      patience,
    );
    at.unmount();
    act(() => void store.dispatch(api.util.resetApiState()));
    const bare = await materials([], []);
    await waitFor(() =>
      expect((bare.getByRole('button', { name: 'New spool or bottle' }) as HTMLButtonElement).disabled).equal(true),
    );
  });
});

describe('the table of a kit, by hand', () => {
  const table = (kit: KitView, selected: ReadonlySet<string> = new Set()) => {
    const chosen: string[][] = [];
    const at = show(
      <>
        <PieceTable
          kit={kit}
          selected={selected}
          onSelect={(ids) => chosen.push([...ids])}
          picked={null}
          onPick={() => undefined}
        />
        <Notices />
      </>,
    );
    return { at, chosen };
  };
  /** Types into a cell as one does: a double click, the words, Enter. */
  const edit = async (at: ReturnType<typeof show>, from: string, to: string) => {
    fireEvent.doubleClick(await at.findByText(from, {}, patience));
    const input = await waitFor(() => {
      const found = at.container.querySelector<HTMLInputElement>('.MuiDataGrid-cell--editing input');
      expect(found).not.equal(null);
      return found!;
    }, patience);
    fireEvent.change(input, { target: { value: to } });
    fireEvent.keyDown(input, { key: 'Enter' });
  };

  it('pieces are ticked one by one or all at once', async () => {
    const { at, chosen } = table(kitOf([pieceOf('hull'), pieceOf('mast')]));
    await at.findByText('hull', {}, patience);
    const boxes = at.getAllByRole('checkbox');
    fireEvent.click(boxes[1]);
    expect(chosen.at(-1)).eql(['hull']);
    fireEvent.click(boxes[0]);
    expect(chosen.at(-1)!.sort()).eql(['hull', 'mast']);
  });

  it('a name is changed in place: only what was changed is sent, without blanks around it', async () => {
    answers.set('PATCH /api/bodies/hull', bodyOf({ id: 'hull', name: 'bow' }));
    const { at } = table(kitOf([pieceOf('hull', { colour: 'grey' })]));
    await edit(at, 'hull', '  bow ');
    await waitFor(() => expect(lastOf('PATCH', '/api/bodies/hull')!.body).eql({ name: 'bow' }), patience);
  });

  it('what stays as it was is not sent; what the server refuses is said, and the old name is back', async () => {
    const { at } = table(kitOf([pieceOf('hull', { colour: 'grey' })]));
    await edit(at, 'grey', 'grey');
    await waitFor(() => expect(at.container.querySelector('.MuiDataGrid-cell--editing')).equal(null), patience);
    expect(sent.filter((s) => s.method === 'PATCH')).eql([]);
    answers.set('PATCH /api/bodies/hull', refusal('Another piece has that name.'));
    await edit(at, 'grey', 'brown');
    await waitFor(() => expect(said(at).join()).match(/Another piece has that name\./), patience);
  });
});

describe('files that are dropped on the page', () => {
  afterEach(() => act(() => void store.dispatch(forgetRefused([]))));
  const Page = ({ target }: { target: string | null }) => {
    const { over } = useImport(useCallback(async () => target, [target]));
    return <p>{over ? 'hovering' : 'idle'}</p>;
  };
  const page = (target: string | null) =>
    show(
      <>
        <Page target={target} />
        <Notices />
      </>,
    );
  const drag = (name: string, transfer: object) =>
    act(() => {
      const event = new Event(name, { bubbles: true, cancelable: true });
      Object.assign(event, { dataTransfer: transfer });
      window.dispatchEvent(event);
    });
  const files = (...names: string[]) => ({
    types: ['Files'],
    items: [],
    files: names.map((n) => new File(['x'], n)),
  });
  const dropped = { batch: null, known: [], versions: [], refused: [], kept: 0 };

  it('are seen while they hover, also over what lies on the page; words that are dragged are none', () => {
    const at = page('p');
    drag('dragenter', { types: ['text/plain'] });
    at.getByText('idle');
    drag('dragenter', files('a.stl'));
    drag('dragenter', files('a.stl'));
    drag('dragleave', files('a.stl'));
    at.getByText('hovering');
    drag('dragleave', files('a.stl'));
    at.getByText('idle');
  });

  it('go to the project at hand; those that are there already are told, once for all', async () => {
    answers.set('POST /api/projects/p/kit', {
      ...dropped,
      known: [{ name: 'a.stl' }, { name: 'b.stl' }],
      refused: [{ file: 'letter.txt', message: 'It is no mesh.' }],
    });
    const at = page('p');
    drag('drop', files('a.stl', 'b.stl', 'letter.txt'));
    at.getByText('idle');
    await waitFor(
      () => expect(said(at).join()).match(/2 files are here already: they have the same bytes\./),
      patience,
    );
    expect(store.getState().ui.refused.at(-1)).deep.include({ fileName: 'letter.txt', why: 'It is no mesh.' });
    expect(store.getState().ui.uploads).eql([]);
  });

  it('a drop that fails as a whole is listed with why, and nothing is left as if it were still coming in', async () => {
    answers.set('POST /api/projects/p/kit', refusal('There is no room on the disk.'));
    const at = page('p');
    drag('drop', files('horn.stl'));
    await waitFor(
      () => expect(store.getState().ui.refused.at(-1)?.why).match(/There is no room on the disk\./),
      patience,
    );
    expect(store.getState().ui.refused.at(-1)!.fileName).equal('horn.stl');
    expect(store.getState().ui.uploads).eql([]);
    expect(said(at), 'listed, not said as well').eql([]);
  });

  it('without a project nothing is sent; a folder that cannot be read is said', async () => {
    const nowhere = page(null);
    drag('drop', files('a.stl'));
    await new Promise((r) => setTimeout(r, 20));
    expect(sent.filter((s) => s.method === 'POST')).eql([]);
    nowhere.unmount();
    const at = page('p');
    const entry = {
      isFile: true,
      fullPath: '/a.stl',
      file: (_: unknown, fail: (e: Error) => void) => fail(new Error()),
    };
    drag('drop', { types: ['Files'], items: [{ kind: 'file', webkitGetAsEntry: () => entry }], files: [] });
    await waitFor(() => expect(said(at).join()).match(/What was dropped cannot be read\./), patience);
  });
});

describe('a draft', () => {
  const Note = () => {
    const [text, setText] = useDraft<string>('b|note');
    return <input aria-label="draft" value={text ?? ''} onChange={(e) => setText(e.target.value)} />;
  };
  const value = (at: ReturnType<typeof show>) => (at.getByLabelText('draft') as HTMLInputElement).value;

  it('is there again after a reload, until it is forgotten; those of others stay', () => {
    const first = show(<Note />);
    type(first.getByLabelText('draft'), 'half a thought');
    first.unmount();
    const again = show(<Note />);
    expect(value(again)).equal('half a thought');
    again.unmount();
    forgetDrafts('c|');
    const kept = show(<Note />);
    expect(value(kept)).equal('half a thought');
    kept.unmount();
    forgetDrafts('b|');
    expect(value(show(<Note />))).equal('');
  });
});
