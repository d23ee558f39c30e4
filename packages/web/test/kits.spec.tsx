import { expect } from 'chai';
import type { BatchView } from '@jasmorphe/contracts/kitViews';
import { Settings } from '@jasmorphe/contracts/workshopRequests';
import { act, answers, fireEvent, patience, sent, show, store, type, waitFor, within } from './dom.tsx';
import { kitOf, pieceOf, projectNamed } from './kitThings.ts';
import { bodyOf, printerOf, stepOf, xyz } from './things.ts';

const { benchOf } = await import('../src/kit/benchOf.ts');
const { BatchDialog } = await import('../src/kit/BatchDialog.tsx');
const { BatchLine } = await import('../src/kit/BatchLine.tsx');
const { kitFactor, sideOf } = await import('../src/kit/factorOf.ts');
const { testPiecesOf } = await import('../src/kit/testPiecesOf.ts');
const { PieceTable } = await import('../src/kit/PieceTable.tsx');
const { Variants } = await import('../src/kit/Variants.tsx');
const { daysLeft, onShelf } = await import('../src/shelf/shelfOrder.ts');
const { ProjectMenu } = await import('../src/shelf/ProjectMenu.tsx');
const { OfferedVersions } = await import('../src/project/OfferedVersions.tsx');
const { SizeWholeKit } = await import('../src/stages/size/SizeWholeKit.tsx');
const { AboutProject } = await import('../src/about/AboutDialog.tsx');
const { keepOutsText, readKeepOuts } = await import('../src/workshop/keepOuts.ts');
const { problemOf } = await import('../src/workshop/ThingForm.tsx');
const { hoursLeft, Printers } = await import('../src/workshop/Printers.tsx');
const { Materials } = await import('../src/workshop/Materials.tsx');
const { Backups } = await import('../src/workshop/SettingsForms.tsx');
const { offerVersions } = await import('../src/app/uiSlice.ts');
const { api } = await import('../src/app/api.ts');

const batchOf = (change: Partial<BatchView> = {}): BatchView => ({
  id: 'batch',
  projectId: 'p',
  kind: 'line',
  operation: null,
  title: 'Mend, 3 pieces',
  total: 3,
  done: 3,
  failed: 0,
  cancelled: 0,
  open: 0,
  progress: 1,
  refused: [],
  canUndo: true,
  undoneAt: null,
  createdAt: '',
  ...change,
});
const lastOf = (method: string, path: string) => sent.filter((s) => s.method === method && s.path === path).at(-1);

beforeEach(() => act(() => void store.dispatch(api.util.resetApiState())));

describe('a kit on the bench', () => {
  it('has every piece that is printed in its place, or one alone on the bed', () => {
    const kit = kitOf([
      pieceOf('a'),
      pieceOf('b', { aside: 'another is printed' }),
      pieceOf('c', { min: xyz(0, 0, 5), max: xyz(10, 20, 35) }),
    ]);
    const whole = benchOf(kit, null);
    expect(whole.parts.map((p) => [p.tag, p.move])).eql([
      ['a', [0, 0, 0]],
      ['c', [200, 0, 0]],
    ]);
    expect([whole.facts.min, whole.facts.max]).eql([xyz(0), xyz(210, 20, 35)]);
    expect(benchOf(kit, 'c').facts).eql({ min: xyz(0), max: xyz(10, 20, 30) });
  });

  it('one side of one piece gives the factor of all, on top of what it was sized by', () => {
    const piece = pieceOf('hull', { size: xyz(50, 20, 30) });
    expect([sideOf(piece, 'longest'), sideOf(piece, 'z')]).eql([50, 30]);
    expect(kitFactor(piece, 'longest', 150, 1)).equal(3);
    expect(kitFactor(piece, 'z', 60, 2)).equal(4);
  });

  it('the finest and the most hanging piece are those to print first', () => {
    const seen = (name: string, detailMm: number | null, overhangPct: number) => ({
      id: name,
      name,
      detailMm,
      overhangPct,
    });
    const { finest, hanging } = testPiecesOf([seen('a', 5, 2), seen('b', 1.2, 1), seen('c', null, 30)]);
    expect([finest!.id, hanging!.id]).eql(['b', 'c']);
    expect(testPiecesOf([seen('a', null, 0)])).eql({ finest: null, hanging: null });
  });
});

describe('the table of a kit', () => {
  it('tells what matters of each, is searched, and sets pieces aside', async () => {
    const kit = kitOf([
      pieceOf('hull', { copies: 4, colour: 'grey' }),
      pieceOf('mast', { aside: 'not wanted', stop: 'mend' }),
    ]);
    answers.set('PATCH /api/bodies/hull', bodyOf());
    const picked: string[] = [];
    const table = show(
      <PieceTable
        kit={kit}
        selected={new Set()}
        onSelect={() => undefined}
        picked={null}
        onPick={(id) => picked.push(id)}
      />,
    );
    const row = (await table.findByText('hull')).closest('[role=row]') as HTMLElement;
    expect(within(row).getByText('×4')).not.equal(null);
    fireEvent.click(within(row).getByText('grey'));
    expect(picked).eql(['hull']);
    fireEvent.click(within(row).getByRole('button', { name: 'printed' }));
    await waitFor(() => expect(lastOf('PATCH', '/api/bodies/hull')!.body).eql({ aside: true }), patience);
    type(table.getByLabelText('Show only'), 'mend');
    await waitFor(() => expect(table.queryByText('hull')).equal(null));
    expect(table.getByText('1 of 2')).not.equal(null);
  });

  it('of several forms one is chosen, or all are printed', async () => {
    const kit = kitOf([pieceOf('jaw_open'), pieceOf('jaw_shut')], {
      variants: [{ name: 'jaw', ids: ['jaw_open', 'jaw_shut'], decided: false }],
    });
    answers.set('POST /api/projects/p/variants', kit);
    const shown = show(<Variants kit={kit} />);
    fireEvent.click(shown.getByRole('button', { name: /^jaw_shut/ }));
    await waitFor(
      () =>
        expect(lastOf('POST', '/api/projects/p/variants')!.body).eql({
          ids: ['jaw_open', 'jaw_shut'],
          chosen: 'jaw_shut',
        }),
      patience,
    );
    fireEvent.click(shown.getByRole('button', { name: 'All of them are printed' }));
    await waitFor(
      () => expect(lastOf('POST', '/api/projects/p/variants')!.body).eql({ ids: ['jaw_open', 'jaw_shut'] }),
      patience,
    );
  });
});

describe('one thing done to many pieces', () => {
  const kit = kitOf([pieceOf('hull', { size: xyz(50, 20, 30) }), pieceOf('mast')]);

  it('is worked out before it is done; a changed figure forgets what was worked out', async () => {
    answers.set('GET /api/bodies/hull', bodyOf({ id: 'hull' }));
    answers.set('POST /api/projects/p/batches', () => batchOf({ kind: 'preview' }));
    const report = {
      factor: xyz(3),
      size: xyz(150, 60, 90),
      before: xyz(50, 20, 30),
      volumeFactor: 27,
      cooled: xyz(150, 60, 90),
      oval: 1,
    };
    answers.set('GET /api/batches/batch/answers', {
      batch: batchOf({ kind: 'preview', refused: [{ file: 'oar', message: 'Something is at work on it just now.' }] }),
      operation: 'size',
      answers: [
        { bodyId: 'hull', name: 'hull', state: 'done', step: stepOf('size', { factor: 3 }, report), error: null },
        {
          bodyId: 'mast',
          name: 'mast',
          state: 'failed',
          step: null,
          error: { code: 'cannot', message: 'It has no size.', hint: '' },
        },
      ],
    });
    let closed = 0;
    const dialog = show(
      <BatchDialog kit={kit} pieceIds={['hull', 'mast']} printers={[printerOf('long', {})]} onClose={() => closed++} />,
    );
    fireEvent.click(dialog.getByRole('button', { name: 'Size' }));
    fireEvent.change(dialog.getByLabelText('The factor comes from'), { target: { value: 'length' } });
    type(dialog.getByLabelText('shall be'), '150');
    await dialog.findByText(/×3\.0000 for all/);
    fireEvent.click(dialog.getByRole('button', { name: 'Work out what each gives' }));
    await waitFor(() => dialog.getByText('It has no size.'), patience);
    expect(dialog.getByText('Something is at work on it just now.')).not.equal(null);
    expect(lastOf('POST', '/api/projects/p/batches')!.body).deep.include({
      operation: 'size',
      bodyIds: ['hull', 'mast'],
      dry: true,
    });
    expect((lastOf('POST', '/api/projects/p/batches')!.body as { params: { factor: number } }).params.factor).closeTo(
      3,
      1e-9,
    );
    type(dialog.getByLabelText('shall be'), '100');
    await waitFor(() => expect(dialog.queryByText('It has no size.')).equal(null));
    fireEvent.click(dialog.getByTestId('do-to-all'));
    await waitFor(() => expect(closed).equal(1), patience);
    expect(lastOf('POST', '/api/projects/p/batches')!.body).deep.include({ dry: false });
  });

  it('is cancelled and taken back as one; what was changed since is told', async () => {
    answers.set('POST /api/batches/batch/cancel', batchOf());
    answers.set('POST /api/batches/batch/undo', { batch: batchOf(), undone: ['a', 'b'], kept: ['c'] });
    const line = show(<BatchLine batch={batchOf({ open: 2, done: 1, canUndo: false })} />);
    fireEvent.click(line.getByRole('button', { name: 'Cancel the rest' }));
    await waitFor(() => expect(lastOf('POST', '/api/batches/batch/cancel')).not.equal(undefined), patience);
    line.unmount();
    const done = show(<BatchLine batch={batchOf({ refused: [{ file: 'oar.stl', message: 'The file is empty.' }] })} />);
    expect(done.getByText('The file is empty.')).not.equal(null);
    fireEvent.click(done.getByRole('button', { name: 'Undo on all' }));
    await waitFor(() => expect(store.getState().ui.notice?.text).equal('Taken back on 2 of 3 pieces.'), patience);
  });

  it('the factor that is found on one piece sizes its whole kit, but for what is set aside', async () => {
    answers.set('GET /api/projects/p', { id: 'p', models: [{}, {}, {}] });
    answers.set('GET /api/projects/p/kit', kitOf([pieceOf('a'), pieceOf('b'), pieceOf('c', { aside: 'no' })]));
    answers.set('POST /api/projects/p/batches', batchOf());
    const button = show(<SizeWholeKit body={bodyOf()} factor={2.5} shrinkage={0.5} />);
    fireEvent.click(await button.findByRole('button', { name: 'Size the whole kit, 2 pieces, by ×2.500' }));
    await waitFor(
      () =>
        expect(lastOf('POST', '/api/projects/p/batches')!.body).eql({
          operation: 'size',
          params: { factor: 2.5, shrinkage: 0.5 },
          bodyIds: ['a', 'b'],
        }),
      patience,
    );
  });

  it('a new version of a file is offered, taken once, or left', async () => {
    answers.set('POST /api/bodies/b/version', { id: 'job' });
    act(
      () =>
        void store.dispatch(
          offerVersions([{ projectId: 'p', file: 'hull.stl', sourceHash: 'h', bodyId: 'b', name: 'hull' }]),
        ),
    );
    const note = show(<OfferedVersions projectId="p" />);
    fireEvent.click(note.getByRole('button', { name: 'Put it in the place of hull' }));
    await waitFor(() => expect(note.queryByText('hull.stl')).equal(null), patience);
    expect(lastOf('POST', '/api/bodies/b/version')!.body).eql({ sourceHash: 'h', fileName: 'hull.stl' });
  });
});

describe('the shelf', () => {
  const all = [
    projectNamed('Carnyx', { note: 'war horn', parts: 24, printed: 4 }),
    projectNamed('Newt', { updatedAt: '2026-11-25', archivedAt: '2026-11-25' }),
    projectNamed('Ammonite 10', { updatedAt: '2026-11-24', parts: 50, createdAt: '2026-11-19' }),
    projectNamed('Ammonite 9', { removedAt: '2026-11-24T12:00:00.000Z' }),
  ];

  it('is looked through by all words, part by part, in the order that is asked for', () => {
    const names = (...args: [Parameters<typeof onShelf>[1], string, Parameters<typeof onShelf>[3]]) =>
      onShelf(all, ...args).map((p) => p.name);
    expect(names('shelf', '', 'touched')).eql(['Ammonite 10', 'Carnyx']);
    expect(names('shelf', 'HORN car', 'name')).eql(['Carnyx']);
    expect(names('shelf', '', 'left')).eql(['Ammonite 10', 'Carnyx']);
    expect([names('archived', '', 'made'), names('removed', 'ammonite', 'name')]).eql([['Newt'], ['Ammonite 9']]);
    expect(daysLeft('2026-11-24T12:00:00.000Z', 30, Date.parse('2026-11-26T12:00:00.000Z'))).equal(28);
    expect(daysLeft('2026-01-01T00:00:00.000Z', 30, Date.parse('2026-11-26T12:00:00.000Z'))).equal(0);
  });

  it('a project is taken off and put back from its menu', async () => {
    answers.set('DELETE /api/projects/Carnyx', {});
    answers.set('POST /api/projects/Newt/restore', {});
    const menu = show(<ProjectMenu project={all[0]} onAbout={() => undefined} />);
    fireEvent.click(menu.getByRole('button', { name: 'What to do with Carnyx' }));
    fireEvent.click(await menu.findByRole('menuitem', { name: 'Take it off the shelf' }));
    await waitFor(() => expect(store.getState().ui.notice?.text).equal('"Carnyx" was taken off the shelf.'), patience);
    menu.unmount();
    const back = show(<ProjectMenu project={{ ...all[3], id: 'Newt' }} onAbout={() => undefined} />);
    fireEvent.click(back.getByRole('button'));
    fireEvent.click(await back.findByRole('menuitem', { name: 'Put it back on the shelf' }));
    await waitFor(() => expect(lastOf('POST', '/api/projects/Newt/restore')).not.equal(undefined), patience);
  });

  it('what is said of a project is kept, and its terms are told in a line', async () => {
    answers.set('GET /api/projects/p', {
      id: 'p',
      name: 'Carnyx',
      note: '',
      licence: '',
      terms: 'unknown',
      source: {},
      models: [],
    });
    answers.set('PATCH /api/projects/p', { id: 'p' });
    const about = show(<AboutProject projectId="p" onClose={() => undefined} />);
    type(await about.findByLabelText('By whom'), 'the committee');
    fireEvent.change(about.getByLabelText('Terms'), { target: { value: 'cc-by-nd' } });
    expect(about.getByText(/what you change stays with you/)).not.equal(null);
    fireEvent.click(about.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () =>
        expect(lastOf('PATCH', '/api/projects/p')!.body).deep.include({
          terms: 'cc-by-nd',
          source: { by: 'the committee' },
        }),
      patience,
    );
  });
});

describe('the workshop', () => {
  it('keep-outs are typed as corners', () => {
    const typed = '0,0-20,15; 200,0-220,15.5';
    expect(keepOutsText(readKeepOuts(typed)!)).equal(typed);
    expect(readKeepOuts('')).eql([]);
    for (const wrong of ['0,0', '0,0-0,5', 'a,b-c,d', '5,5-1,1']) expect(readKeepOuts(wrong), wrong).equal(null);
  });

  it('says what the server would say of a wrong value, and what is left of a screen', () => {
    expect(problemOf(Settings, { currency: 'euro' })).eql({
      says: '"Currency" must be three capital letters such as EUR.',
      field: 'currency',
    });
    expect(problemOf(Settings, { currency: 'EUR' })).equal(null);
    const { profile } = printerOf('resin', { partLifeH: 2000, hoursRun: 500, partSinceH: 300 });
    expect(hoursLeft({ profile, loggedH: 100 })).equal(1700);
    expect(hoursLeft({ profile: printerOf('x', {}).profile, loggedH: 10 })).equal(null);
  });

  it('a printer begins with its class and is refused while a figure is wrong', async () => {
    answers.set('GET /api/printers', [printerOf('long', { name: 'Long bed' })]);
    answers.set('POST /api/printers', { id: 'new' });
    const page = show(<Printers />);
    await page.findByRole('row', { name: /^Long bed/ });
    fireEvent.click(page.getByRole('button', { name: 'New: small vat, resin' }));
    expect(page.queryByLabelText('Nozzle')).equal(null);
    type(page.getByLabelText('Exposure, s'), '900');
    const keep = page.getByRole('button', { name: 'Keep' });
    await waitFor(() => expect((keep as HTMLButtonElement).disabled).equal(true));
    type(page.getByLabelText('Exposure, s'), '3');
    fireEvent.click(keep);
    await waitFor(
      () =>
        expect(lastOf('POST', '/api/printers')!.body).deep.include({
          kind: 'resin',
          exposureS: 3,
          bedMm: [130, 80, 160],
        }),
      patience,
    );
  });

  it('a spool is weighed, and its history is shown', async () => {
    answers.set('GET /api/materials', [
      {
        id: 'm',
        name: 'Fen grey',
        kind: 'filament',
        densityGCm3: 1.24,
        pricePerKg: 19,
        stockG: 0,
        shrinkagePct: 0,
        cautions: '',
      },
    ]);
    const spool = {
      id: 's',
      materialId: 'm',
      name: 'Grey 1',
      colour: 'grey',
      grossG: 1250,
      emptyG: 250,
      openedOn: null,
      whereabouts: 'shelf',
      endedAt: null,
      leftG: 880,
      leftM: 295,
      entries: [{ id: 'e', kind: 'used', grams: 120, note: 'A1, passed', at: '2026-11-20T10:00:00.000Z' }],
    };
    answers.set('GET /api/spools', [spool]);
    answers.set('GET /api/settings', new Settings());
    answers.set('POST /api/spools/s/entries', spool);
    const page = show(<Materials />);
    expect((await page.findByRole('row', { name: /^Grey 1/ })).textContent).contain('295 m');
    fireEvent.click(page.getByRole('button', { name: 'Weigh, use' }));
    expect(page.getByText('A1, passed')).not.equal(null);
    type(page.getByLabelText('Grams'), '1100');
    fireEvent.click(page.getByRole('button', { name: 'Keep' }));
    await waitFor(
      () => expect(lastOf('POST', '/api/spools/s/entries')!.body).eql({ kind: 'weighed', grams: 1100 }),
      patience,
    );
  });

  it('everything is saved at once, and put back only after a second press', async () => {
    answers.set('POST /api/backup', {
      folder: '/b',
      madeAt: '',
      projects: 5,
      models: 16,
      meshes: 80,
      bytes: 5e6,
      copied: 12,
      mended: 1,
      damaged: 2,
    });
    const damaged = { code: 'backup-damaged', message: '1 file of it is missing.', hint: '', field: 'anyway' };
    answers.set('POST /api/backup/restore', ({ anyway }: { anyway: boolean }) =>
      anyway ? { before: '/data/before.db', lost: 1 } : { error: damaged },
    );
    const page = show(<Backups />);
    fireEvent.click(page.getByRole('button', { name: 'Save everything now' }));
    await page.findByText(/12 files were new/);
    page.getByText(/1 file of the data folder, damaged or missing, came back/);
    page.getByText(/2 files could not be saved/);
    type(page.getByLabelText('Folder that it was saved into'), '/b');
    fireEvent.click(page.getByRole('button', { name: 'Put it back …' }));
    expect(lastOf('POST', '/api/backup/restore')).equal(undefined);
    fireEvent.click(page.getByRole('button', { name: 'Put it back' }));
    await page.findByText('1 file of it is missing.');
    expect(lastOf('POST', '/api/backup/restore')!.body).eql({ folder: '/b', anyway: false });
    fireEvent.click(page.getByRole('button', { name: 'Put it back without them' }));
    await page.findByText(/Everything is as it was saved/);
    page.getByText(/1 file missing/);
  });
});
