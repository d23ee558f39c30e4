import { expect } from 'chai';
import { zipSync } from 'fflate';
import { createReadStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { box, moved } from '../packages/core/test/solids.ts';
import { seriousOn, startApplication, until, type Application } from './application.ts';

let app: Application;
const get = async <T>(path: string): Promise<T> => (await (await fetch(app.address + path)).json()) as T;
const kitOf = (id: string) => get<KitView>(`/api/projects/${id}/kit`);

describe('kits and the workshop on screen', () => {
  before(async () => {
    app = await startApplication({ empty: true });
  });
  after(() => app.stop());

  /** Files of a small kit: a tray, two rails, and two forms of a lamp. */
  const kitFiles = async (): Promise<Record<string, Uint8Array>> => ({
    'cart/tray.stl': writeBinaryStl(await box(60, 30, 4)),
    'cart/rail_left.stl': writeBinaryStl(moved(await box(60, 2, 10), 0, 28, 4)),
    'cart/rail_right.stl': writeBinaryStl(moved(await box(60, 2, 10), 0, 0, 4)),
    'cart/lamp_lit.stl': writeBinaryStl(moved(await box(6, 6, 20), 50, 10, 4)),
    'cart/lamp_dark.stl': writeBinaryStl(moved(await box(6, 6, 19), 50, 10, 4)),
    'cart/broken.stl': new Uint8Array([1, 2, 3]),
  });

  it('an archive becomes a kit; a form is chosen, all are sized by one length, and that is taken back', async () => {
    const { page } = app;
    await app.visit('/');
    const bytes = Buffer.from(zipSync(await kitFiles()));
    await page
      .getByTestId('file-input')
      .setInputFiles({ name: 'cart.zip', mimeType: 'application/zip', buffer: bytes });
    const found = async () => (await get<ProjectSummary[]>('/api/projects'))[0];
    const project = (await until(found, (p) => p?.pieces === 5, 'five pieces'))!;
    await page.getByTestId('refused-files').getByText('broken.stl').waitFor();
    await page.getByRole('button', { name: 'Close' }).first().click();
    // many files open the page of their kit
    await page.getByRole('row', { name: /tray/ }).waitFor();
    await page
      .getByRole('region', { name: 'Forms of lamp' })
      .getByRole('button', { name: /lamp_dark/ })
      .click();
    await until(
      () => kitOf(project.id),
      (k) => k.pieces.some((p) => p.aside !== null),
      'a form to be set aside',
    );
    await page.getByRole('button', { name: 'Do to all …' }).click();
    await page.getByRole('button', { name: 'Size', exact: true }).click();
    await page.getByLabel('The factor comes from').selectOption({ label: 'a length of one piece' });
    await page.getByLabel('Piece', { exact: true }).selectOption({ label: 'tray' });
    await page.getByRole('textbox', { name: 'shall be' }).fill('600');
    await page.getByRole('button', { name: 'Work out what each gives' }).click();
    await page
      .getByRole('row', { name: /^rail_left/ })
      .getByText('×10')
      .first()
      .waitFor();
    await page.getByTestId('do-to-all').click();
    const sized = await until(
      () => kitOf(project.id),
      (k) => k.pieces.filter((p) => p.stop === 'size').length === 4,
      'four to be sized',
    );
    expect(sized.pieces.map((p) => [p.name, Math.round(p.size.x)])).deep.include.members([
      ['tray', 600],
      ['lamp_lit', 6],
      ['lamp_dark', 60],
    ]);
    await page.getByRole('button', { name: 'Undo on all' }).click();
    await until(
      () => kitOf(project.id),
      (k) => k.pieces.every((p) => p.size.x <= 60),
      'all to be taken back',
    );
  }).timeout(180_000);

  it('the same archive again is known; a newer file is offered and its line replays', async () => {
    const { page } = app;
    const [project] = await get<ProjectSummary[]>('/api/projects');
    const files = await kitFiles();
    delete files['cart/broken.stl'];
    files['cart/tray.stl'] = writeBinaryStl(await box(61, 30, 4));
    const bytes = Buffer.from(zipSync(files));
    await page
      .getByTestId('file-input')
      .setInputFiles({ name: 'cart.zip', mimeType: 'application/zip', buffer: bytes });
    await page.getByTestId('versions').getByRole('button', { name: 'Put it in the place of tray' }).click();
    const newer = await until(
      () => kitOf(project.id),
      (k) => k.pieces.some((p) => Math.round(p.size.x) === 61),
      'the new tray',
    );
    expect(newer.pieces.length).equal(5);
  }).timeout(120_000);

  it('names are edited in place; a reload in the middle of work finds it again', async () => {
    const { page } = app;
    const [project] = await get<ProjectSummary[]>('/api/projects');
    await app.visit(`/project/${project.id}/kit`);
    await page
      .getByRole('row', { name: /rail_left/ })
      .getByText('rail_left')
      .dblclick();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('left rail');
    await page.keyboard.press('Enter');
    await until(
      () => kitOf(project.id),
      (k) => k.pieces.some((p) => p.name === 'left rail'),
      'the new name',
    );
    await page.getByRole('button', { name: 'Do to all …' }).click();
    await page.getByTestId('do-to-all').dblclick();
    await page.reload();
    await page.getByRole('row', { name: /left rail/ }).waitFor();
    const mended = await until(
      () => kitOf(project.id),
      (k) => k.batches.every((b) => b.open === 0) && k.pieces.filter((p) => p.stop === 'mend').length === 4,
      'mending',
    );
    // however often it was pressed, each was mended once
    for (const p of mended.pieces) expect((await get<{ line: unknown[] }>(`/api/bodies/${p.id}`)).line.length).below(3);
  }).timeout(180_000);

  it('a project is packed, taken off for good, and unpacked by dropping it on the shelf', async () => {
    const { page } = app;
    const [project] = await get<ProjectSummary[]>('/api/projects');
    await app.visit('/');
    await page.getByRole('button', { name: `What to do with ${project.name}` }).click();
    const coming = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: 'Pack into one file' }).click();
    const download = await coming;
    const chunks: Buffer[] = [];
    for await (const chunk of createReadStream(await download.path())) chunks.push(chunk as Buffer);
    await page.getByRole('button', { name: `What to do with ${project.name}` }).click();
    await page.getByRole('menuitem', { name: 'Take it off the shelf' }).click();
    await page.getByRole('button', { name: 'Taken off' }).click();
    await page.getByText(/30 days to put it back/).waitFor();
    await page.getByRole('button', { name: `What to do with ${project.name}` }).click();
    await page.getByRole('menuitem', { name: 'Remove it for good' }).click();
    await until(
      () => get<ProjectSummary[]>('/api/projects'),
      (all) => all.length === 0,
      'an empty shelf',
    );
    await page.getByTestId('file-input').setInputFiles({
      name: download.suggestedFilename(),
      mimeType: 'application/zip',
      buffer: Buffer.concat(chunks),
    });
    await page.getByTestId('to-kit').waitFor();
    const [back] = await get<ProjectSummary[]>('/api/projects');
    expect([back.name, back.pieces]).eql([project.name, 5]);
  }).timeout(120_000);

  it('a printer is made of its class; everything is saved and put back', async () => {
    const { page } = app;
    const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-saved-'));
    try {
      await app.visit('/workshop');
      await page.getByRole('button', { name: 'New: medium vat, resin' }).click();
      await page.getByLabel('Name').fill('Vat by the window');
      await page.getByRole('button', { name: 'Keep' }).click();
      await page.getByRole('row', { name: /Vat by the window/ }).waitFor();
      await page.getByRole('button', { name: 'Save everything', exact: true }).click();
      await page.getByLabel(/Into a folder of this machine/).fill(join(folder, 'saved'));
      await page.getByRole('button', { name: 'Save everything now' }).click();
      await page.getByText(/^Saved into/).waitFor();
      const [{ id }] = await get<ProjectSummary[]>('/api/projects');
      await fetch(`${app.address}/api/projects/${id}?forever=yes`, { method: 'DELETE' });
      await page.getByLabel('Folder that it was saved into').fill(join(folder, 'saved'));
      await page.getByRole('button', { name: 'Put it back …' }).click();
      await page.getByRole('button', { name: 'Put it back', exact: true }).click();
      await page.getByText('Everything is as it was saved.').waitFor();
      expect((await get<ProjectSummary[]>('/api/projects')).map((p) => p.id)).eql([id]);
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  }).timeout(120_000);

  it('can be used by everybody: axe finds nothing serious on the kit, the shelf and in the workshop', async () => {
    const { page } = app;
    const [{ id }] = await get<ProjectSummary[]>('/api/projects');
    for (const [path, there] of [
      [`/project/${id}/kit`, 'Pieces'],
      ['/', 'On the shelf'],
      ['/workshop/printers', 'Printers'],
      ['/workshop/materials', 'Materials'],
      ['/workshop/settings', 'For all projects'],
      ['/workshop/backups', 'Save everything'],
    ] as const) {
      await app.visit(path);
      await page.getByText(there).first().waitFor();
      await page.waitForTimeout(300);
      expect(await seriousOn(page, path)).eql([]);
    }
  }).timeout(120_000);
});
