import { expect } from 'chai';
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import type { Locator } from 'playwright-core';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { boundsOf, concatMeshes, sizeOf, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import type { BodyView, ProjectSummary } from '@jasmorphe/contracts/views';
import { box, moved, sphere, without } from '../packages/core/test/solids.ts';
import { startApplication, until, type Application } from './application.ts';

let app: Application;

const get = async <T>(path: string): Promise<T> => (await (await fetch(app.address + path)).json()) as T;

/** A project with one mesh, opened at a stop. */
async function opened(name: string, mesh: TriMesh, stop: string): Promise<() => Promise<BodyView>> {
  const form = new FormData();
  form.append('unit', 'mm');
  form.append('file', new Blob([writeBinaryStl(mesh) as BlobPart]), `${name}.stl`);
  const headers = { 'content-type': 'application/json' };
  const made = await fetch(`${app.address}/api/projects`, { method: 'POST', headers, body: JSON.stringify({ name }) });
  const { id } = (await made.json()) as { id: string };
  await fetch(`${app.address}/api/projects/${id}/models`, { method: 'POST', body: form });
  const find = async () => (await get<ProjectSummary[]>('/api/projects')).find((p) => p.id === id);
  const project = await until(find, (p) => p?.models.length === 1, `${name} to be read`);
  const bodyId = project!.models[0].id;
  await app.visit(`/project/${id}/${stop}`);
  await app.page.getByRole('heading', { level: 2 }).first().waitFor();
  return () => get<BodyView>(`/api/bodies/${bodyId}`);
}

const bytesOf = async (stream: Readable): Promise<Uint8Array> => {
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
};

/** What a browser fetches when something is clicked. */
async function fetched(click: Locator): Promise<{ name: string; mesh: TriMesh }> {
  const coming = app.page.waitForEvent('download');
  await click.click();
  const download = await coming;
  const bytes = await bytesOf(createReadStream(await download.path()));
  return { name: download.suggestedFilename(), mesh: readMesh(bytes).mesh };
}

/** Does what the card says, once all answers are there: before that the button moves as rows come. */
async function doIt(): Promise<void> {
  await app.page.waitForTimeout(500);
  await app.page.waitForFunction(() => document.querySelector('[data-testid=working-out]') === null);
  await app.page.locator('[data-testid=do]:enabled').click();
}

/** Opens a tool, picks an answer, does it, and waits until it is a step of the line. */
async function use(body: () => Promise<BodyView>, tool: string, answer: string): Promise<BodyView> {
  const { page } = app;
  const before = (await body()).line.length;
  await page.getByTestId(`tool-${tool}`).click();
  await page.getByRole('button', { name: answer, exact: true }).click();
  await doIt();
  const after = await until(body, (b) => b.line.length === before + 1 && b.busyJobId === null, tool);
  expect(after.line.at(-1)!.operation).equal(tool);
  return after;
}

describe('tools and files on screen', function () {
  this.timeout(120_000);
  before(async () => void (app = await startApplication({ empty: true })));
  after(() => app.stop());
  afterEach(async function () {
    if (this.currentTest?.state === 'failed')
      await app.page.screenshot({ path: '.cache/failed.png' }).catch(() => undefined);
  });

  it('another unit at intake: the model is read anew, and the later steps replay', async () => {
    const { page } = app;
    const body = await opened('block', await box(2, 3, 4), 'intake');
    await page.getByRole('button', { name: 'in', exact: true }).last().click();
    await page.getByRole('cell', { name: '101.6' }).waitFor();
    await page.getByTestId('do').click();
    const read = await until(body, (b) => Math.abs(b.mesh.facts.size.z - 101.6) < 1e-3, 'the inches');
    expect(read.line.map((s) => s.params)).deep.include({ unit: 'in' });
  });

  it('half a model is mirrored and scanned; what has no thin wall is not thickened, and says so; undone by key', async () => {
    const { page } = app;
    // a block without the side that lies on the seam
    const whole = await box(20, 30, 40);
    const onSeam = Array.from({ length: triangleCount(whole) }, (_, t) => t).filter((t) =>
      [0, 1, 2].every((k) => whole.positions[3 * whole.triangles[3 * t + k]] === 0),
    );
    expect(onSeam.length).equal(2);
    const half = without(whole, new Set(onSeam));
    const body = await opened('half', half, 'mend');
    const start = (await body()).mesh.facts;
    const mirrored = await use(body, 'mirror', 'As found');
    expect(mirrored.mesh.facts.openEdges).equal(0);
    expect(mirrored.mesh.facts.volumeMm3).closeTo(2 * 20 * 30 * 40, 1);
    await page.getByTestId('tool-thicken').click();
    await page
      .getByRole('note')
      .getByText(/thinner|thin/)
      .first()
      .waitFor();
    await page.locator('[data-testid=do]:disabled').waitFor();
    await page.getByRole('button', { name: 'Back to the decision' }).click();
    const scanned = await use(body, 'practice', 'Careful');
    expect(scanned.mesh.hash).not.equal(mirrored.mesh.hash);
    for (let left = 2; left > 0; left--) {
      // the page hears a moment later than the server knows
      await page.locator(`.ledgerLine > span:not(.off):nth-child(${left + 1})`).waitFor();
      await page.locator('button:enabled', { hasText: 'Undo' }).waitFor();
      await page.keyboard.press('u');
      await until(body, (b) => b.cursor === left, 'undo');
    }
    expect((await body()).mesh.facts).deep.include({ openEdges: start.openEdges, triangles: start.triangles });
  });

  it('a coarse ball is refined, and a fine one thinned out, within what the card says', async () => {
    const { page } = app;
    const body = await opened('ball', await sphere(20, 16), 'size');
    const coarse = (await body()).mesh;
    await page.getByTestId('tool-refine').click();
    await page.getByLabel('Tolerance').fill('0.2');
    await page.getByRole('button', { name: '0.20 mm', exact: true }).click();
    await doIt();
    const fine = await until(body, (b) => b.line.length === 2 && b.busyJobId === null, 'refining');
    expect(fine.mesh.triangles).greaterThan(2 * coarse.triangles);
    await page.getByTestId('tool-simplify').click();
    await page.getByLabel('Tolerance').fill('3');
    await doIt();
    const thin = await until(body, (b) => b.line.length === 3 && b.busyJobId === null, 'simplifying');
    expect(thin.mesh.triangles).lessThan(fine.mesh.triangles);
  });

  it('walls: what is too thin is counted, shown in colours, and thickened', async () => {
    const { page } = app;
    // a plate of 0.5 mm on a block
    const plate = concatMeshes([await box(40, 40, 0.5), moved(await box(20, 20, 20), 60, 0, 0)]);
    const body = await opened('plate', plate, 'size');
    await page.getByTestId('study-walls').click();
    await page.getByTestId('map-legend').waitFor();
    await page
      .getByText(/A wall of 0\.50 mm/)
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Thicken', exact: true }).click();
    await doIt();
    const thick = await until(body, (b) => b.line.length === 2 && b.busyJobId === null, 'thickening');
    expect(thick.mesh.facts.size.z).closeTo(20, 0.3);
    expect(thick.mesh.facts.volumeMm3!).greaterThan(40 * 40 * 0.78 + 8000);
  });

  it('files are fetched as they are on the bench, in every format, named for what they are', async () => {
    const { page } = app;
    const mesh = await box(20, 30, 40);
    await opened('crate', mesh, 'mend');
    for (const format of ['stl', 'obj', 'ply', '3mf']) {
      const file = await fetched(page.getByRole('link', { name: format, exact: true }));
      expect(file.name).equal(`crate_40mm.${format}`);
      expect(triangleCount(file.mesh)).equal(triangleCount(mesh));
      sizeOf(boundsOf(file.mesh)).forEach((s, k) => expect(s).closeTo([20, 30, 40][k], 1e-4));
    }
  });

  it('a scan of the maker is brought as a body, and taken away again', async () => {
    const { page } = app;
    const body = await opened('helmet', await box(200, 240, 260), 'size');
    await page.getByTestId('study-body').click();
    await page.getByText('For whom is it?').waitFor();
    await page.getByTestId('reference-file').setInputFiles({
      name: 'own-head.stl',
      mimeType: 'model/stl',
      buffer: Buffer.from(writeBinaryStl(await box(150, 190, 220))),
    });
    await page.getByRole('heading', { name: 'Does it fit own-head.stl?' }).waitFor();
    const { references, line } = await body();
    expect([references.map((r) => r.kind), line.length]).eql([['scan'], 1]);
    await page.getByRole('button', { name: 'Take this body away' }).click();
    await until(body, (b) => b.references.length === 0, 'the body to go');
    expect(app.troubles.filter((t) => !/status of 4\d\d/.test(t))).eql([]);
  });
});
