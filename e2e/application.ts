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
  stop(): Promise<void>;
}

const flags = [
  '--no-sandbox',
  '--use-gl=angle',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--no-first-run',
];

/** A browser without a window, with WebGL by software. */
export const launchBrowser = (): Promise<Browser> =>
  chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: flags });

export async function startApplication(): Promise<Application> {
  const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-e2e-'));
  const server: ChildProcess = spawn(process.execPath, ['demo/dist/main.js', '--port', '0', '--data', folder], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    let text = '';
    server.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString();
      const found = /Jasmorphe is at (\S+)/.exec(text);
      if (found) resolve(found[1]);
    });
    server.on('exit', (code) => reject(new Error(`the application ended with ${code}: ${text}`)));
  });
  const browser = await launchBrowser();
  const page = await browser.newPage({
    viewport: { width: 1280, height: 800 },
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
    async stop() {
      await browser.close();
      const ended = new Promise((resolve) => server.once('exit', resolve));
      server.kill('SIGTERM');
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
