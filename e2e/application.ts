import axe, { type AxeResults, type RunOptions } from 'axe-core';
import { expect } from 'chai';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from 'playwright-core';

/** The built application with the demo data, in a process of its own, and a browser to use it with. */
export interface Application {
  address: string;
  page: Page;
  /** what the page's console said in error since the last look */
  troubles: string[];
  /** Goes to an address of the page as its links do: the page is loaded the first time alone. */
  visit(path: string): Promise<void>;
  stop(): Promise<void>;
}

const flags = [
  '--no-sandbox',
  '--use-gl=angle',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--no-first-run',
  '--disable-gpu-rasterization',
  '--disable-gpu-compositing',
];

/** Starts a program of ours that says where it can be reached, in an engine that is set as this one is. */
export async function startProgram(args: string[]): Promise<{ server: ChildProcess; address: string }> {
  const engine = process.execArgv.filter((flag) => flag !== '--enable-source-maps');
  const server = spawn(process.execPath, [...engine, ...args], { stdio: ['ignore', 'pipe', 'inherit'] });
  const address = await new Promise<string>((resolve, reject) => {
    let text = '';
    server.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString();
      const found = /Jasmorphe is at (\S+)/.exec(text);
      if (found) resolve(found[1]);
    });
    server.on('exit', (code) => reject(new Error(`the application ended with ${code}: ${text}`)));
  });
  return { server, address };
}

/** The server and its page, on a data folder of one's own. */
export const serverOf = (folder: string, port = '0'): Promise<{ server: ChildProcess; address: string }> =>
  startProgram(['packages/server/dist/bundle/main.js', '--port', port, '--data', folder, '--web', 'packages/web/dist']);

/** Ends a program that was started so. */
export const endProgram = (server: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> =>
  new Promise((resolve) => {
    server.removeAllListeners('exit');
    server.once('exit', () => resolve());
    server.kill(signal);
  });

/** Waits until the condition holds of what the server says. */
export async function until<T>(ask: () => Promise<T>, holds: (value: T) => boolean, what: string): Promise<T> {
  for (let i = 0; i < 600; i++) {
    const value = await ask();
    if (holds(value)) return value;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error(`waited in vain for ${what}`);
}

/** A browser without a window, with WebGL by software. */
export const launchBrowser = (): Promise<Browser> =>
  chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: flags });

const guidelines = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** What axe finds serious of what the page shows. */
export async function seriousOn(page: Page, where: string): Promise<string[]> {
  if (!(await page.evaluate('"axe" in window'))) await page.evaluate(axe.source);
  const options: RunOptions = { runOnly: guidelines, resultTypes: ['violations'] };
  const { violations, passes } = (await page.evaluate(`axe.run(document, ${JSON.stringify(options)})`)) as AxeResults;
  // it has looked: rules of names, roles and contrast were applied
  expect(
    passes.map((p) => p.id),
    where,
  ).include.members(['button-name', 'color-contrast', 'aria-valid-attr']);
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${where}: ${v.id} ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
}

/** Changes the address as a link does. */
const follow = (page: Page, path: string): Promise<void> =>
  page.evaluate((to) => {
    history.pushState({}, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, path);

/** @param empty without the demo data */
export async function startApplication({ empty = false } = {}): Promise<Application> {
  const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-e2e-'));
  const { server, address } = empty
    ? await serverOf(folder)
    : await startProgram(['demo/dist/main.js', '--port', '0', '--data', folder, '--light']);
  const browser = await launchBrowser();
  const page = await browser.newPage({
    viewport: { width: 1280, height: 800 },
    deviceScaleFactor: 0.5,
    colorScheme: 'light',
    reducedMotion: 'reduce',
  });
  page.setDefaultTimeout(60_000);
  const troubles: string[] = [];
  page.on('pageerror', (error) => troubles.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error') troubles.push(message.text());
  });
  return {
    address,
    page,
    troubles,
    async visit(path) {
      if (!page.url().startsWith(address)) return void (await page.goto(address + path));
      // off what is shown, so that nothing of it is taken for what is to come
      await follow(page, '/nowhere');
      await page.getByRole('heading', { name: 'There is no such page' }).waitFor();
      await follow(page, path);
    },
    async stop() {
      await browser.close();
      await endProgram(server);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
