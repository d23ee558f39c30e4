import { expect } from 'chai';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, type, waitFor } from './dom.tsx';
import { bedful } from './dayThings.ts';
import { kitOf, pieceOf } from './kitThings.ts';
import { bodyOf, factsOf, meshOf, partOf, printerOf, stepOf, xyz } from './things.ts';

const { BatchDialog } = await import('../src/kit/BatchDialog.tsx');
const { BedfulAtMachine } = await import('../src/days/BedfulAtMachine.tsx');
const { default: StudyDecision } = await import('../src/stages/size/StudyDecision.tsx');
const { default: ToolDecision } = await import('../src/tools/ToolDecision.tsx');
const { toolIds } = await import('../src/tools/tools.ts');
const { Bodies, Places } = await import('../src/workshop/Libraries.tsx');
const { Materials } = await import('../src/workshop/Materials.tsx');
const { Printers } = await import('../src/workshop/Printers.tsx');
const { SettingsForm } = await import('../src/workshop/SettingsForms.tsx');
const { previewApi } = await import('../src/app/previewApi.ts');
const { api } = await import('../src/app/api.ts');
const { stages } = await fetchedStages();

type Page = ReturnType<typeof show>;
const printers = [printerOf('long', { name: 'Long bed', bedMm: [250, 210, 220] })];
const open = (page: Page, name: RegExp | string, at = 0) => fireEvent.click(page.getAllByRole('button', { name })[at]);
const choose = (page: Page, label: string, value: string) =>
  fireEvent.change(page.getByLabelText(label), { target: { value } });

/** What a maker may type by mistake. */
const odd = ['', '0', '-5', 'banana', '0/0', '1e12', '-0.001'];
/** All of the page that a selector finds, but for what stands beside a field for the browser alone. */
const all = <E extends HTMLElement>(selector: string): E[] =>
  [...document.body.querySelectorAll<E>(selector)].filter((e) => !e.closest('[aria-hidden=true], [hidden]'));
const fieldsOf = (): HTMLInputElement[] => all('input[type=text], input:not([type])');

const labelOf = (field: HTMLInputElement): string =>
  field.getAttribute('aria-label') ?? document.querySelector(`label[for="${field.id}"]`)?.textContent ?? '';
const wrongOnes = (): string[] => all<HTMLInputElement>('[aria-invalid=true]').map(labelOf);

/** Types what is odd into every field: one that is marked holds the button and is named, and no figure is none. */
async function tried(doing: () => HTMLElement, texts: readonly string[] = odd): Promise<number> {
  let marked = 0;
  const labels = fieldsOf().map(labelOf);
  for (const [at, label] of labels.entries()) {
    const was = fieldsOf()[at].value;
    for (const text of texts) {
      const field = fieldsOf()[at];
      type(field, text);
      // what a form refuses it tells a moment later
      await act(() => new Promise((done) => void setTimeout(done, 8)));
      const told = `${label}: "${text}"`;
      expect(document.body.textContent, told).not.match(/NaN|Infinity|undefined/);
      for (const button of all('button, [role=button]'))
        expect(button.textContent, told).not.match(/(?<![\d.,\u2009])0\.00 (mm|in)/);
      if (field.getAttribute('aria-invalid') !== 'true') continue;
      marked++;
      expect((doing() as HTMLButtonElement).disabled, told).equal(true);
      expect(
        all('[role=status]')
          .map((s) => s.textContent)
          .join(' '),
        told,
      ).satisfy((said: string) =>
        wrongOnes().some((wrong) => said.includes(`${wrong}: `) || said.includes(`"${wrong}"`)),
      );
    }
    type(fieldsOf()[at], was.replaceAll('\u2009', ''));
    fireEvent.blur(fieldsOf()[at]);
  }
  return marked;
}

describe('fields that are wrong', function () {
  this.timeout(60_000);
  beforeEach(() => {
    answers.set('GET /api/projects/p', { id: 'p', models: [], terms: 'unknown', licence: '', source: {} });
    answers.set('POST /api/bodies/b/previews', null);
    answers.set('GET /api/projects/p/kit', { batches: [] });
    answers.set('GET /api/meshes/import-mesh/facts', meshOf('import-mesh', factsOf(60, 40, 30)));
    store.dispatch(api.util.resetApiState());
    store.dispatch(previewApi.util.resetApiState());
  });
  const done = (page: Page) => () => page.getByTestId('do');
  const body = bodyOf({ parts: [partOf('A1', {})] });
  const stage = (name: keyof typeof stages) => {
    const { Decision } = stages[name];
    return show(<Decision body={body} printers={printers} onOpen={() => undefined} />);
  };

  for (const way of ['dimension', 'factor', 'measured', 'ratio', 'bed', 'stretch'])
    it(`hold the button of Size by ${way}`, async () => {
      const page = stage('size');
      choose(page, 'By', way);
      expect(await tried(done(page))).above(3);
    });

  for (const name of ['hollow', 'divide'] as const)
    it(`hold the button of ${name}`, async () => {
      const page = stage(name);
      expect(await tried(done(page))).above(3);
    });

  it('hold the button of Lay out, and that of its stops', async () => {
    const page = stage('layout');
    if (page.queryByTestId('do')) await tried(done(page));
  });

  for (const study of ['walls', 'places', 'sample', 'body'] as const)
    it(`hold the button of the study of ${study}`, async () => {
      const page = show(<StudyDecision study={study} body={body} printers={printers} onClose={() => undefined} />);
      await tried(done(page));
    });

  for (const toolId of toolIds)
    it(`hold the button of the tool ${toolId}`, async () => {
      const page = show(<ToolDecision body={body} toolId={toolId} onClose={() => undefined} />);
      await tried(done(page));
    });

  it('hold what is done to a kit, by a factor and by a length', async () => {
    answers.set('GET /api/bodies/hull', bodyOf({ id: 'hull' }));
    const kit = kitOf([pieceOf('hull', { size: xyz(50, 20, 30) }), pieceOf('mast')]);
    const page = show(<BatchDialog kit={kit} pieceIds={['hull']} printers={printers} onClose={() => undefined} />);
    const toAll = () => page.getByTestId('do-to-all');
    open(page, 'Size');
    expect(await tried(toAll)).above(3);
    choose(page, 'The factor comes from', 'length');
    await page.findByText(/for all of them/);
    expect(await tried(toAll)).above(3);
    open(page, 'Hollow');
    expect(await tried(toAll)).above(3);
  });

  it('hold the word of a bedful', async () => {
    const printing = bedful('b1', { state: 'printing', startedAt: '2026-11-27T08:00:00.000Z' });
    const parts = printing.parts.map((p) => ({ ...p, state: 'printing' as const }));
    const page = show(<BedfulAtMachine bedful={{ ...printing, parts }} />);
    fireEvent.click(page.getAllByRole('checkbox')[0]);
    expect(await tried(() => page.getByRole('button', { name: /It is off the bed/ }))).above(3);
  });

  const kept = (page: Page) => () => page.getByText('Keep', { selector: 'button' });
  const workshop = (): void => {
    answers.set('GET /api/printers', printers);
    answers.set('GET /api/materials', []);
    answers.set('GET /api/spools', []);
    answers.set('GET /api/places', []);
    answers.set('GET /api/saved-bodies', []);
  };

  it('hold a printer that is changed', async () => {
    workshop();
    const page = show(<Printers />);
    await page.findByText('Long bed');
    open(page, 'Change');
    expect(await tried(kept(page), ['banana'])).above(20);
  });

  for (const [room, button] of [
    [<Materials key="m" />, 'New material'],
    [<Places key="p" />, 'New place'],
    [<Bodies key="b" />, 'New body'],
  ] as const)
    it(`hold what is kept of a ${button.toLowerCase()}`, async () => {
      workshop();
      const page = show(room);
      open(page, button);
      expect(await tried(kept(page), ['', 'banana', '-5'])).above(2);
    });

  it('hold the settings', async () => {
    workshop();
    const page = show(<SettingsForm />);
    await waitFor(() => page.getByText('For all projects'), patience);
    expect(await tried(kept(page))).above(3);
  });

  it('that are no longer shown do not count, and take no other field with them', async () => {
    const page = stage('size');
    choose(page, 'By', 'factor');
    type(page.getByLabelText('Factor'), '0');
    await waitFor(() => expect((page.getByTestId('do') as HTMLButtonElement).disabled).equal(true));
    choose(page, 'By', 'ratio');
    type(page.getByLabelText('The original measures'), '0');
    choose(page, 'By', 'dimension');
    type(page.getByLabelText('Shall be'), '620');
    await waitFor(() => expect((page.getByTestId('do') as HTMLButtonElement).disabled).equal(false));
    fireEvent.click(page.getByTestId('do'));
    await waitFor(() => expect(sent.some((s) => s.path === '/api/bodies/b/steps')).equal(true));
    expect(sent.find((s) => s.path === '/api/bodies/b/steps')!.body).deep.include({
      params: { axis: 'x', to: 620 },
    });
  });

  it('a field that was emptied is empty: what it held is not done', async () => {
    const hollowed = stepOf('hollow', { wall: 3, drains: 2, drain: 3.5, openBase: false, detail: 0.4 }, {});
    expect(hollowed.params).deep.include({ detail: 0.4 });
    const place = { id: 'boot', name: 'Boot', kind: 'lie', widthMm: 900, depthMm: 800, heightMm: 400 };
    answers.set('GET /api/places', [place]);
    answers.set('PUT /api/places/boot', place);
    const page = show(<Places />);
    await page.findByText('Boot');
    open(page, 'Change');
    type(page.getByLabelText('Depth'), '');
    fireEvent.click(page.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(sent.some((s) => s.path === '/api/places/boot')).equal(true));
    const { body: kept } = sent.find((s) => s.path === '/api/places/boot')!;
    expect(kept).deep.include({ widthMm: 900, heightMm: 400 });
    expect((kept as { depthMm?: number | null }).depthMm ?? null).equal(null);
  });
});
