import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { ensureBuilt, ensureChromium, ensureInstalled, root } from './workspace.mjs';

// One current picture of each main view, from the demo data, into docs/screenshots. Names given take only those.
ensureInstalled();
await ensureBuilt();
process.chdir(root);
const only = process.argv.slice(2);
const folder = mkdtempSync(join(tmpdir(), 'jasmorphe-shots-'));
const out = join(root, 'docs/screenshots');
mkdirSync(out, { recursive: true });
const server = spawn(process.execPath, ['demo/dist/main.js', '--port', '0', '--data', folder], {
  stdio: ['ignore', 'pipe', 'inherit'],
});
const address = await new Promise((resolve) => {
  let text = '';
  server.stdout.on('data', (chunk) => {
    text += chunk;
    const found = /Jasmorphe is at (\S+)/.exec(text);
    if (found) resolve(found[1]);
  });
});
const shelf = await (await fetch(`${address}/api/projects`)).json();
const id = (name) => shelf.find((p) => p.name === name).id;
const at = (name, stage) => `/project/${id(name)}/${stage}`;
const cancelRest = async () => {
  for (const job of await (await fetch(`${address}/api/jobs`)).json())
    if (job.state === 'running' || job.state === 'queued')
      await fetch(`${address}/api/jobs/${job.id}/cancel`, { method: 'POST' });
};

/** The tags of parts in sight that nobody printed yet. */
const unprinted = (p) =>
  p.locator('.partsTable .MuiDataGrid-row', { hasText: '—' }).locator('[role=gridcell][data-colindex="0"]');
const shots = [
  { name: 'shelf', path: '/', ready: (p) => p.locator('[data-testid=project-card] img').nth(4).waitFor() },
  { name: 'intake', path: at('Carnyx', 'intake'), act: (p) => p.keyboard.press('h') },
  {
    name: 'mend',
    path: at('Carnyx', 'mend'),
    ready: (p) => p.getByText('is advised.').waitFor(),
    act: async (p) => {
      await p.keyboard.press('ArrowDown');
    },
  },
  {
    name: 'deviation',
    path: at('Newt door-knocker', 'mend'),
    ready: (p) => p.getByText('is advised.').waitFor(),
    act: async (p) => {
      await p.getByRole('button', { name: 'Wrap', exact: true }).click();
      await p.getByRole('button', { name: 'Moved', exact: true }).click();
      await p
        .getByTestId('map-legend')
        .getByText(/typical/)
        .waitFor();
    },
  },
  {
    name: 'size',
    path: at('Window ammonite', 'size'),
    ready: (p) => p.getByText('Long bed holds').waitFor(),
    act: async (p) => {
      await p.locator('[data-testid=working-out]').first().waitFor({ state: 'detached', timeout: 90_000 });
      await p.waitForTimeout(1500);
    },
  },
  {
    name: 'body',
    path: `${at('Heron mask', 'size')}?tool=body`,
    ready: (p) => p.getByText('would leave').waitFor({ timeout: 90_000 }),
    act: async (p) => {
      await p.getByRole('button', { name: 'Room', exact: true }).click();
      await p.waitForTimeout(6000);
    },
  },
  {
    name: 'walls',
    path: `${at('Heron mask', 'size')}?tool=walls`,
    ready: (p) =>
      p
        .getByText('Every wall measured')
        .or(p.getByText('still reads thinner'))
        .or(p.getByText('prints'))
        .first()
        .waitFor(),
    act: async (p) => {
      await p.getByRole('button', { name: 'Thicken', exact: true }).click();
      await p.waitForTimeout(45_000);
    },
  },
  {
    name: 'hollow',
    path: at('Window ammonite', 'hollow'),
    act: async (p) => {
      await p.keyboard.press('s');
      await p.getByTestId('cut-reading').waitFor();
    },
  },
  {
    name: 'divide',
    path: at('Window ammonite', 'divide'),
    scheme: 'dark',
    act: async (p) => {
      await unprinted(p).last().click();
      await p.waitForTimeout(1500);
    },
  },
  {
    name: 'plans',
    path: at('Heron mask', 'divide'),
    act: async (p) => {
      await p.getByRole('button', { name: 'Plan the cuts' }).click();
      await p.locator('[data-testid=working-out]').first().waitFor({ state: 'detached', timeout: 90_000 });
      await p.getByText('is advised').waitFor({ timeout: 90_000 });
      await p.waitForTimeout(25_000);
    },
  },
  {
    name: 'layout',
    path: at('Window ammonite', 'layout'),
    // a part that waits, once all schools are worked out for it
    act: async (p) => {
      const waits = p.locator('.partsTable .MuiDataGrid-row.planned [data-field=tag]').nth(1);
      await waits.click();
      await p.getByText(/^(As you turned it|It (costs|stands|lies|spares))/).waitFor({ timeout: 120_000 });
    },
  },
  { name: 'print', path: at('Window ammonite', 'print') },
  { name: 'phone', path: at('Window ammonite', 'print'), width: 390, height: 844 },
  {
    name: 'recut',
    path: at('Window ammonite', 'print'),
    act: async (p) => {
      await unprinted(p).last().click();
      await p.getByRole('button', { name: 'It is started' }).click();
      await p.getByLabel('Or it stopped at, by calipers').fill('47.3');
      await p.getByRole('button', { name: /^It stopped at/ }).click();
      await p.locator('[data-testid=do]:enabled').waitFor({ timeout: 60_000 });
    },
  },
  {
    name: 'kit',
    path: at('Procession cart', 'kit'),
    ready: (p) => p.getByText('Which one is printed?').waitFor(),
    act: async (p) => {
      await p.getByRole('button', { name: 'Look them over' }).click();
      await p.getByText('hangs over most').waitFor();
      await p.waitForTimeout(6000);
    },
  },
  { name: 'workshop', path: '/workshop/printers', ready: (p) => p.getByText('Long bed').first().waitFor() },
  {
    name: 'finish',
    path: at('Window ammonite', 'finish'),
    act: async (p) => {
      await p.getByRole('button', { name: 'Done', exact: true }).click();
      await p.waitForTimeout(1500);
    },
  },
  {
    name: 'days',
    path: '/days',
    ready: (p) => p.getByText('0.28 mm layers').waitFor({ timeout: 60_000 }),
    act: async (p) => {
      await p.getByRole('button', { name: '14', exact: true }).click();
    },
  },
  {
    name: 'book',
    path: at('Window ammonite', 'book'),
    ready: (p) => p.getByTestId('book').waitFor({ timeout: 120_000 }),
    act: (p) => p.waitForTimeout(4000),
  },
];

const browser = await chromium.launch({
  executablePath: await ensureChromium(),
  args: [
    '--no-sandbox',
    '--use-gl=angle',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--disable-background-networking',
    '--no-first-run',
  ],
});
for (const shot of shots) {
  if (only.length > 0 && !only.includes(shot.name)) continue;
  const page = await browser.newPage({
    viewport: { width: shot.width ?? 1280, height: shot.height ?? 800 },
    colorScheme: shot.scheme ?? 'light',
    reducedMotion: 'reduce',
  });
  // as they are with a graphics card: with smooth edges
  await page.addInitScript(`{
    const { prototype } = WebGL2RenderingContext;
    const { getParameter } = prototype;
    const nameOfCard = 0x9246;
    prototype.getParameter = function (what) {
      return what === nameOfCard ? 'a graphics card' : getParameter.call(this, what);
    };
  }`);
  await page.goto(address + shot.path);
  await page.waitForTimeout(3500);
  await shot.ready?.(page);
  await shot.act?.(page);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(out, `${shot.name}.png`) });
  console.log(shot.name);
  await page.close();
  await cancelRest();
}
await browser.close();
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
rmSync(folder, { recursive: true, force: true });
