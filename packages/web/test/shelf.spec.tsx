import { expect } from 'chai';
import { strToU8, zipSync } from 'fflate';
import { useLocation } from 'react-router';
import { ZipFile } from 'yazl';
import type { AttachmentView } from '@jasmorphe/contracts/kitViews';
import { act, answers, fireEvent, patience, sent, show, store, type, waitFor } from './dom.tsx';
import { projectNamed } from './kitThings.ts';
import { bodyOf, jobOf, partOf, printerOf, stepOf } from './things.ts';

const { AboutPiece } = await import('../src/about/AboutDialog.tsx');
const { api } = await import('../src/app/api.ts');
const { Notices } = await import('../src/app/Notices.tsx');
const { say } = await import('../src/app/uiSlice.ts');
const { FetchFiles } = await import('../src/bench/FetchFiles.tsx');
const { JobsTray, shownJobs } = await import('../src/jobs/JobsTray.tsx');
const { TestPieces } = await import('../src/kit/TestPieces.tsx');
const { droppedFiles, pickedFiles } = await import('../src/project/droppedFiles.ts');
const { zipNames } = await import('../src/project/zipNames.ts');
const { RefusedFiles } = await import('../src/project/RefusedFiles.tsx');
const { projectNameOf } = await import('../src/project/projectName.ts');
const { Shelf } = await import('../src/shelf/Shelf.tsx');
const { NewBody } = await import('../src/stages/size/NewBody.tsx');
const { Bodies, Places } = await import('../src/workshop/Libraries.tsx');
const { Printers } = await import('../src/workshop/Printers.tsx');
const { SettingsForm } = await import('../src/workshop/SettingsForms.tsx');
const { default: WorkshopPage } = await import('../src/workshop/WorkshopPage.tsx');

const lastOf = (method: string, path: string) => sent.filter((s) => s.method === method && s.path === path).at(-1);
/** Where the page is, for those who look. */
const Where = () => <output data-testid="where">{useLocation().pathname}</output>;

beforeEach(() => act(() => void store.dispatch(api.util.resetApiState())));

describe('notices', () => {
  it('are shown one above the other, and closed', async () => {
    act(() => void store.dispatch(say(null)));
    const page = show(<Notices />);
    act(() => void store.dispatch(say({ text: 'Kept.', hint: 'For all projects.', tone: 'note' })));
    act(() => void store.dispatch(say({ text: 'That cannot be.', hint: '', tone: 'failure' })));
    await waitFor(() => expect(page.getAllByTestId('notice').length).equal(2), patience);
    expect(page.getByText('For all projects.', { exact: false })).not.equal(null);
    fireEvent.click(page.getAllByRole('button', { name: 'Close' })[0]);
    await waitFor(() => expect(page.getAllByTestId('notice').length).equal(1), patience);
  });
});

describe('the page of the shelf', () => {
  beforeEach(() => void answers.set('GET /api/health', { up: true, name: 'Jasmorphe', problems: [], page: null }));
  const shelf = () =>
    show(
      <>
        <Shelf />
        <Where />
      </>,
    );
  const pick = (files: File[]) =>
    act(() => {
      const input = document.querySelector('[data-testid=file-input]')!;
      Object.defineProperty(input, 'files', { value: files, configurable: true });
      fireEvent.change(input);
    });

  it('is looked through, and its parts are shown apart', async () => {
    answers.set('GET /api/projects', [
      projectNamed('Carnyx', { note: 'war horn' }),
      projectNamed('Heron mask'),
      projectNamed('Old boat', { archivedAt: '2026-11-02' }),
      projectNamed('Slip', { removedAt: new Date().toISOString() }),
    ]);
    const page = shelf();
    await waitFor(() => expect(page.getAllByTestId('project-card').length).equal(2), patience);
    type(page.getByLabelText('Look for'), 'horn');
    expect(page.getAllByTestId('project-card').map((c) => c.querySelector('h2')!.textContent)).eql(['Carnyx']);
    type(page.getByLabelText('Look for'), 'nothing such');
    page.getByText('Nothing on the shelf is called that.');
    type(page.getByLabelText('Look for'), '');
    fireEvent.click(page.getByRole('button', { name: 'Archive' }));
    page.getByText('Old boat');
    fireEvent.click(page.getByRole('button', { name: 'Taken off' }));
    page.getByText(/30 days to put it back/);
    fireEvent.change(page.getByLabelText('In order of'), { target: { value: 'name' } });
    fireEvent.click(page.getByRole('button', { name: 'On the shelf' }));
    expect(page.getAllByTestId('project-card').map((c) => c.querySelector('h2')!.textContent)).eql([
      'Carnyx',
      'Heron mask',
    ]);
  });

  it('one file begins a project at its first stop, several at the page of their kit', async () => {
    answers.set('POST /api/projects', (asked: { name: string }) => ({ id: asked.name, name: asked.name }));
    for (const name of ['horn', 'wheel'])
      answers.set(`POST /api/projects/${name}/kit`, { batch: null, known: [], versions: [], refused: [], kept: 0 });
    const page = shelf();
    await page.findByText('The shelf is empty');
    pick([new File(['x'], 'horn.stl')]);
    await waitFor(() => expect(page.getByTestId('where').textContent).equal('/project/horn/intake'), patience);
    await waitFor(() => expect(lastOf('POST', '/api/projects/horn/kit')!.body).eql([['file', 'horn.stl']]), patience);
    pick([new File(['x'], 'wheel.stl'), new File(['y'], 'axle.stl')]);
    await waitFor(() => expect(page.getByTestId('where').textContent).equal('/project/wheel/kit'), patience);
  });

  it('the pack of a project is unpacked, and one that is none is told', async () => {
    answers.set('POST /api/projects/unpack', { projectId: 'back' });
    const page = shelf();
    await page.findByText('The shelf is empty');
    pick([new File(['x'], 'mask.jasmorphe.zip')]);
    await waitFor(() => expect(page.getByTestId('where').textContent).equal('/project/back'), patience);
    answers.set('POST /api/projects/unpack', { error: { code: 'no-pack', message: 'This is no pack.', hint: '' } });
    pick([new File(['x'], 'other.jasmorphe.zip')]);
    await waitFor(() => expect(store.getState().ui.notice?.text).equal('This is no pack.'), patience);
    // by what is in it, whatever it is called by now
    const zipped = zipSync({ 'pack.json': strToU8('{}'), [`meshes/${'0'.repeat(64)}.ply`]: strToU8('ply') });
    for (const name of ['pack.zip', 'mask.jasmorphe (1).zip']) {
      answers.set('POST /api/projects/unpack', { projectId: `from ${name}` });
      pick([new File([zipped as BlobPart], name)]);
      await waitFor(() => expect(page.getByTestId('where').textContent).contain(name), patience);
    }
  });

  it('names in an archive are read from its list, and of what is none there are none', async () => {
    const names = async (bytes: Uint8Array) => zipNames(new Blob([bytes as BlobPart]));
    const small = zipSync({ 'a.stl': strToU8('x'.repeat(1000)), 'sub/b é.stl': strToU8('') });
    expect(await names(small)).eql(['a.stl', 'sub/b é.stl']);
    // as a packer writes one that is too large for the older list (yazl)
    const zip = new ZipFile();
    zip.addBuffer(Buffer.from('x'), 'c.stl');
    const chunks: Buffer[] = [];
    zip.end({ forceZip64Format: true, comment: 'of the fen' });
    for await (const chunk of zip.outputStream) chunks.push(chunk as Buffer);
    expect(await names(Buffer.concat(chunks))).eql(['c.stl']);
    for (const none of [new Uint8Array(), strToU8('solid a'), small.subarray(0, 60), small.slice(-30)])
      expect(await names(none)).eql([]);
  });

  it('what was put back last is seen where it stands then', async () => {
    answers.set('GET /api/projects', [projectNamed('Heron mask', { archivedAt: '2026-11-01T10:00:00.000Z' })]);
    const page = shelf();
    fireEvent.click(await page.findByRole('button', { name: /Archive/ }));
    await page.findByRole('heading', { name: 'Heron mask' });
    answers.set('GET /api/projects', [projectNamed('Heron mask', {})]);
    act(() => void store.dispatch(api.util.invalidateTags(['Shelf'])));
    await waitFor(() => expect(page.queryByRole('button', { name: /Archive/ })).equal(null), patience);
    expect(page.getByRole('heading', { name: 'Heron mask' })).not.equal(null);
  });

  it('files that were refused are listed with why, until they were read', () => {
    act(
      () => void store.dispatch({ type: 'ui/refuse', payload: { projectId: 'p', fileName: 'a.doc', why: 'No mesh.' } }),
    );
    const list = show(<RefusedFiles projectId="p" />);
    list.getByText('No mesh.', { exact: false });
    fireEvent.click(list.getByRole('button', { name: 'Close' }));
    expect(list.queryByText('a.doc')).equal(null);
  });
});

describe('what is dropped', () => {
  /** A folder as a browser hands it over: read some entries at a time. */
  const folder = (path: string, inside: object[]) => {
    const left = [inside.slice(0, 1), inside.slice(1), []];
    return {
      isFile: false,
      fullPath: path,
      createReader: () => ({ readEntries: (done: (some: object[]) => void) => done(left.shift()!) }),
    };
  };
  const file = (path: string) => ({
    isFile: true,
    fullPath: path,
    file: (done: (f: File) => void) => done(new File(['x'], path.split('/').pop()!)),
  });

  it('is every file of every folder, with its path', async () => {
    const tree = folder('/cart', [file('/cart/tray.stl'), folder('/cart/rails', [file('/cart/rails/left.stl')])]);
    const items = [tree, file('/note.txt')].map((entry) => ({ kind: 'file', webkitGetAsEntry: () => entry }));
    const found = await droppedFiles({ items, files: [] } as never);
    expect(found.map((f) => f.path)).eql(['cart/tray.stl', 'cart/rails/left.stl', 'note.txt']);
    expect(await droppedFiles(null)).eql([]);
    const plain = [new File(['x'], 'a.stl')];
    expect((await droppedFiles({ items: [], files: plain } as never)).map((f) => f.path)).eql(['a.stl']);
    const picked = Object.assign(new File(['x'], 'b.stl'), { webkitRelativePath: 'kit/b.stl' });
    expect(pickedFiles([picked]).map((f) => f.path)).eql(['kit/b.stl']);
  });

  it('names the project after its first mesh', () => {
    expect(projectNameOf([{ name: 'note.txt' }, { name: 'horn.stl' }])).equal('horn');
    expect([projectNameOf([{ name: 'cart.zip' }]), projectNameOf([])]).eql(['cart', 'New project']);
  });
});

describe('jobs', () => {
  it('of one batch that have ended stand in one line; those at work stand apart', () => {
    const ended = (id: string, batchId: string | null) => jobOf({ id, batchId, state: 'done', endedAt: '2026' });
    const jobs = [
      jobOf({ id: 'a', batchId: 'x' }),
      ended('b', 'x'),
      ended('c', 'x'),
      ended('d', null),
      ended('e', 'x'),
    ];
    expect(shownJobs(jobs).map((s) => [s.job.id, s.more])).eql([
      ['a', 0],
      ['b', 2],
      ['d', 0],
    ]);
  });

  it('that fail are said aloud, but for those whose batch tells of them', async () => {
    const failed = (id: string, batchId: string | null) =>
      jobOf({
        id,
        batchId,
        state: 'failed',
        endedAt: '2026',
        error: { code: 'x', message: `${id} failed.`, hint: '' },
      });
    answers.set('GET /api/jobs', [jobOf()]);
    const tray = show(<JobsTray />);
    await waitFor(() => expect(lastOf('GET', '/api/jobs')).not.equal(undefined), patience);
    await new Promise((r) => setTimeout(r, 50));
    answers.set('GET /api/jobs', [failed('one', 'batch'), failed('two', null)]);
    act(() => void store.dispatch(say(null)));
    act(() => void store.dispatch(api.util.invalidateTags(['Jobs'])));
    await waitFor(() => expect(store.getState().ui.notice?.text).equal('two failed.'), patience);
    tray.unmount();
  });
});

describe('files that may not be passed on', () => {
  const altered = (change: object = {}) => bodyOf({ line: [stepOf('import', {}), stepOf('mend', {})], ...change });

  it('are asked about before they are fetched; those that may are fetched at once', async () => {
    answers.set('GET /api/projects/p', { id: 'p', models: [], terms: 'cc-by-nd', licence: '' });
    const page = show(<FetchFiles body={altered()} />);
    const stl = await page.findByRole('button', { name: 'stl' });
    fireEvent.click(stl);
    const link = await page.findByTestId('word');
    expect(link.getAttribute('href')).match(/format=stl&what=whole&word=yes$/);
    fireEvent.click(page.getByRole('button', { name: 'Leave it' }));
    await waitFor(() => expect(page.queryByTestId('word')).equal(null), patience);
    page.unmount();
    const free = show(<FetchFiles body={altered({ terms: 'cc-by' })} />);
    expect((await free.findByText('stl')).getAttribute('href')).match(/format=stl&what=whole$/);
  });
});

describe('about a piece', () => {
  it('its photos and notes and those of its parts are shown; a note is added to the part that is named', async () => {
    const body = bodyOf({ parts: [partOf('A1'), partOf('A2')] });
    const [part] = body.parts;
    const note = (id: string, bodyId: string | null, text: string): AttachmentView => ({
      id,
      projectId: 'p',
      bodyId,
      kind: 'note',
      text,
      hash: null,
      mediaType: '',
      name: '',
      createdAt: '',
    });
    answers.set('GET /api/projects/p/attachments', [
      note('1', 'b', 'of the piece'),
      note('2', part.id, 'of the part'),
      note('3', null, 'of the project'),
      { ...note('4', 'b', 'sanded'), kind: 'photo', hash: 'h', mediaType: 'image/png' },
    ]);
    answers.set('POST /api/projects/p/notes', note('5', part.id, 'new'));
    answers.set('POST /api/projects/p/photos', note('6', 'b', ''));
    answers.set('PATCH /api/bodies/b', body);
    let closed = 0;
    const about = show(<AboutPiece body={body} onClose={() => closed++} />);
    await about.findByText('of the piece', { exact: false });
    about.getByText('of the part', { exact: false });
    expect(about.queryByText('of the project', { exact: false })).equal(null);
    expect(about.getByAltText('sanded').getAttribute('src')).equal('/api/attachments/4/picture');
    fireEvent.change(about.getByLabelText('New ones are of'), { target: { value: part.id } });
    type(about.getByLabelText('New note'), 'glue seam');
    fireEvent.click(about.getByRole('button', { name: 'Add the note' }));
    await waitFor(
      () => expect(lastOf('POST', '/api/projects/p/notes')!.body).eql({ text: 'glue seam', bodyId: part.id }),
      patience,
    );
    fireEvent.click(about.getAllByRole('button', { name: 'Take away' })[0]);
    await waitFor(() => expect(lastOf('DELETE', '/api/attachments/1')).not.equal(undefined), patience);
    type(about.getByLabelText('Name'), '');
    expect((about.getByRole('button', { name: 'Keep' }) as HTMLButtonElement).disabled).equal(true);
    type(about.getByLabelText('Name'), 'great horn');
    fireEvent.click(about.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(closed).equal(1), patience);
    expect(lastOf('PATCH', '/api/bodies/b')!.body).deep.include({ name: 'great horn', terms: 'unknown' });
  });
});

describe('test pieces', () => {
  const xyz = { x: 0, y: 0, z: 0 };
  const piece = (id: string, change: object = {}) =>
    ({ id, name: id, aside: null, keptBack: false, min: xyz, max: xyz, size: xyz, ...change }) as never;
  const kit = (pieces: never[]) => ({ projectId: 'p', pieces }) as never;
  const traits = (overhangPct: number, detailMm: number | null) =>
    stepOf('traits', {}, { overhangMm2: 1, overhangPct, sharpEdgeMm: 1, detailMm });

  it('are found among what is printed, picked on the bench, and fetched at their own size where they may be', async () => {
    answers.set('POST /api/projects/p/batches', { id: 'seen', open: 0 });
    answers.set('GET /api/batches/seen/answers', {
      batch: { id: 'seen', open: 0 },
      operation: 'traits',
      answers: [
        { bodyId: 'fine', name: 'fine', state: 'done', step: traits(1, 2), error: null },
        { bodyId: 'shy', name: 'shy', state: 'done', step: traits(40, 9), error: null },
      ],
    });
    const picked: string[] = [];
    const pieces = [piece('fine'), piece('shy', { keptBack: true }), piece('out', { aside: 'no' })] as never[];
    const page = show(<TestPieces kit={kit(pieces)} onPick={(id) => picked.push(id)} />);
    fireEvent.click(page.getByRole('button', { name: /^Look them over/ }));
    fireEvent.click(await page.findByRole('button', { name: 'fine' }, patience));
    page.getByText('a sharp edge every 2.00 mm', { exact: false });
    page.getByText('40 % of its skin', { exact: false });
    expect(picked).eql(['fine']);
    expect(lastOf('POST', '/api/projects/p/batches')!.body).deep.include({ bodyIds: ['fine', 'shy'], dry: true });
    const links = page.getAllByRole('link', { name: 'Fetch it at its own size' });
    expect(links.map((l) => l.getAttribute('href'))).eql(['/api/bodies/fine/export?format=3mf&what=whole&size=own']);
  });
});

describe('rooms of the workshop', () => {
  it('are opened by their names', async () => {
    const page = show(<WorkshopPage />);
    for (const name of ['Printers', 'Materials', 'Places', 'Bodies', 'Settings', 'Save everything'])
      expect(page.getByRole('button', { name })).not.equal(null);
    await page.findByText(/Begin with the class that yours is of/);
  });

  it('a printer is changed, copied without its hours, and retired', async () => {
    const long = printerOf('long', { name: 'Long bed', hoursRun: 800, keepOuts: [{ min: [0, 0], max: [9, 9] }] });
    answers.set('GET /api/printers', [long]);
    answers.set('PUT /api/printers/long', long);
    answers.set('POST /api/printers', long);
    answers.set('PATCH /api/printers/long', long);
    const page = show(<Printers />);
    await page.findByRole('row', { name: /^Long bed/ });
    fireEvent.click(page.getByRole('button', { name: 'Change' }));
    type(page.getByLabelText(/^Keep-outs/), '0,0-20,15');
    type(page.getByLabelText('Power, W'), '150');
    fireEvent.click(page.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () =>
        expect(lastOf('PUT', '/api/printers/long')!.body).deep.include({
          powerW: 150,
          hoursRun: 800,
          keepOuts: [{ min: [0, 0], max: [20, 15] }],
        }),
      patience,
    );
    fireEvent.click(await page.findByRole('button', { name: 'Copy' }));
    fireEvent.click(page.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () => expect(lastOf('POST', '/api/printers')!.body).deep.include({ name: 'Long bed copy', hoursRun: 0 }),
      patience,
    );
    fireEvent.click(await page.findByRole('button', { name: 'Retire' }));
    await waitFor(() => expect(lastOf('PATCH', '/api/printers/long')!.body).eql({ retired: true }), patience);
  });

  it('places and bodies are added, changed and removed', async () => {
    const hall = { id: 'h', name: 'Hall', kind: 'pass', widthMm: 760, depthMm: null, heightMm: 1980 };
    answers.set('GET /api/places', [hall]);
    answers.set('POST /api/places', hall);
    answers.set('PUT /api/places/h', hall);
    const places = show(<Places />);
    expect((await places.findByRole('row', { name: /^Hall/ })).textContent).match(/it passes through/);
    fireEvent.click(places.getByRole('button', { name: 'Change' }));
    type(places.getByLabelText('Width'), '800');
    fireEvent.click(places.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () =>
        expect(lastOf('PUT', '/api/places/h')!.body).eql({ name: 'Hall', kind: 'pass', widthMm: 800, heightMm: 1980 }),
      patience,
    );
    fireEvent.click(await places.findByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(lastOf('DELETE', '/api/places/h')).not.equal(undefined), patience);
    places.unmount();

    answers.set('GET /api/saved-bodies', [{ id: 'i', name: 'Ida', kind: 'head', measures: { girth: 562 } }]);
    answers.set('POST /api/saved-bodies', { id: 'n' });
    const bodies = show(<Bodies />);
    expect((await bodies.findByRole('row', { name: /^Ida/ })).textContent).match(/562\.0/);
    fireEvent.click(bodies.getByRole('button', { name: 'New body' }));
    expect((bodies.getByRole('button', { name: 'Keep' }) as HTMLButtonElement).disabled).equal(true);
    type(bodies.getByLabelText('Whose'), 'Ola');
    fireEvent.change(bodies.getByLabelText('Kind'), { target: { value: 'hand' } });
    type(bodies.getByLabelText(/length/i), '190');
    fireEvent.click(bodies.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () =>
        expect(lastOf('POST', '/api/saved-bodies')!.body).eql({ name: 'Ola', kind: 'hand', measures: { length: 190 } }),
      patience,
    );
  });

  it('what is chosen for all projects is kept, and refused in the words of the server', async () => {
    const settings = {
      unit: 'mm',
      currency: 'EUR',
      paper: 'a4',
      weekdayFrom: '17:00',
      weekdayTo: '22:00',
      weekendFrom: '09:00',
      weekendTo: '22:00',
    };
    answers.set('GET /api/settings', settings);
    answers.set('PUT /api/settings', (asked: object) => asked);
    const form = show(<SettingsForm />);
    type(await form.findByLabelText('Currency'), 'nok');
    form.getByText('"Currency" must be three capital letters such as EUR.');
    type(form.getByLabelText('Currency'), 'NOK');
    type(form.getByLabelText('Working days from'), '16:30');
    fireEvent.click(form.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () => expect(lastOf('PUT', '/api/settings')!.body).eql({ ...settings, currency: 'NOK', weekdayFrom: '16:30' }),
      patience,
    );
  });

  it('a body of the workshop is taken with its measures, and a new one is kept there', async () => {
    answers.set('GET /api/saved-bodies', [{ id: 'i', name: 'Ida', kind: 'hand', measures: { length: 171 } }]);
    answers.set('POST /api/saved-bodies', { id: 'n' });
    answers.set('POST /api/bodies/b/references', jobOf());
    const card = show(<NewBody body={bodyOf()} onDone={null} onClose={() => undefined} />);
    fireEvent.change(await card.findByLabelText('Whose'), { target: { value: 'i' } });
    fireEvent.click(card.getByTestId('do'));
    await waitFor(
      () => expect(lastOf('POST', '/api/bodies/b/references')!.body).deep.include({ name: 'Ida', kind: 'hand' }),
      patience,
    );
    expect((lastOf('POST', '/api/bodies/b/references')!.body as { measures: object }).measures).deep.include({
      length: 171,
    });
    type(card.getByLabelText('Name'), 'Ola');
    fireEvent.click(card.getByRole('button', { name: 'Keep Ola for all projects' }));
    await waitFor(
      () => expect(lastOf('POST', '/api/saved-bodies')!.body).deep.include({ name: 'Ola', kind: 'hand' }),
      patience,
    );
  });
});
