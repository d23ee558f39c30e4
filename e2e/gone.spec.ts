import { expect } from 'chai';
import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import type { JobView, ProjectSummary } from '@jasmorphe/contracts/views';
import { box } from '../packages/core/test/solids.ts';
import { endProgram, launchBrowser, serverOf } from './application.ts';

/** A server that goes away and comes back at the same address, under an open page. */
describe('the page when the server is gone', function () {
  this.timeout(120_000);
  const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-gone-'));
  let server: ChildProcess;
  let address: string;
  let browser: Browser;
  let page: Page;

  const start = async (port: string) => {
    const begun = await serverOf(folder, port);
    server = begun.server;
    return begun.address;
  };
  const stop = (signal: NodeJS.Signals) => endProgram(server, signal);
  const get = async <T>(path: string) => (await (await fetch(address + path)).json()) as T;

  before(async () => {
    address = await start('0');
    browser = await launchBrowser();
    page = await browser.newPage({
      viewport: { width: 1280, height: 800 },
      deviceScaleFactor: 0.5,
      reducedMotion: 'reduce',
    });
    page.setDefaultTimeout(30_000);
  });
  after(async () => {
    await browser.close();
    await stop('SIGTERM');
    rmSync(folder, { recursive: true, force: true });
  });

  it('says so at once, never calls the shelf empty, and comes back by itself', async () => {
    await page.goto(address);
    await page.getByRole('heading', { name: 'The shelf is empty' }).waitFor();
    await page.getByTestId('file-input').setInputFiles({
      name: 'block.stl',
      mimeType: 'model/stl',
      buffer: Buffer.from(writeBinaryStl(await box(300, 300, 300))),
    });
    await page.getByText('The skin is closed already').or(page.getByText('How large is one unit')).first().waitFor();
    await stop('SIGKILL');
    await page.getByTestId('link-down').waitFor();
    await page.getByRole('link', { name: 'Shelf', exact: true }).click();
    expect(await page.getByText('The shelf is empty').count()).equal(0);
    expect(await start(new URL(address).port)).equal(address);
    await page.getByTestId('link-down').waitFor({ state: 'detached' });
    await page.getByTestId('project-card').filter({ hasText: 'block' }).waitFor();
  });

  it('a preview that was being worked out meanwhile comes to its end on the page', async () => {
    const [project] = await get<ProjectSummary[]>('/api/projects');
    await page.goto(`${address}/project/${project.id}/hollow`);
    await page.getByLabel('Wall').fill('40');
    await page.getByRole('button', { name: 'Work all three out' }).click();
    await page.locator('[data-testid=working-out]').first().waitFor();
    await stop('SIGKILL');
    await page.getByTestId('link-down').waitFor();
    await start(new URL(address).port);
    await page.getByTestId('link-down').waitFor({ state: 'detached' });
    await page
      .getByRole('cell', { name: /^[\d.]+ %$/ })
      .nth(2)
      .waitFor({ timeout: 90_000 });
    const jobs = await get<JobView[]>('/api/jobs');
    expect(jobs.filter((j) => j.kind === 'preview').every((j) => j.state === 'done')).equal(true);
  });
});
