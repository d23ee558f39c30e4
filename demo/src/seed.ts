import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { localDay } from '@jasmorphe/core/planning/days/instants';
import { bedOf, printingOf } from '@jasmorphe/core/planning/profileFields';
import { laidPart } from '@jasmorphe/contracts/reading/laidPart';
import type { BedfulsView } from '@jasmorphe/contracts/dayViews';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { cartKit } from './cart.ts';
import { harrowFenFiles, lightFineness, type DemoFile } from './harrowFen.ts';

/** The workshop of Harrow Fen: two filament printers and a resin printer. */
const printers: Partial<PrinterProfile>[] = [
  {
    name: 'Long bed',
    kind: 'filament',
    bedMm: [250, 210, 220],
    pricePerKg: 19,
    infillPct: 12,
    hoursRun: 840,
    partLifeH: 500,
    partSinceH: 600,
  },
  { name: 'Small bed', kind: 'filament', bedMm: [180, 180, 180], pricePerKg: 19 },
  {
    name: 'Resin',
    kind: 'resin',
    bedMm: [192, 120, 245],
    layerMm: 0.05,
    firstLayerMm: 0.05,
    pricePerKg: 34,
    densityGCm3: 1.1,
    startS: 120,
  },
];

const materials = [
  { name: 'Fen grey', kind: 'filament', densityGCm3: 1.24, pricePerKg: 19, stockG: 4300 },
  { name: 'Bronze brown', kind: 'filament', densityGCm3: 1.27, pricePerKg: 24, shrinkagePct: 0.3, stockG: 900 },
  {
    name: 'Grey resin',
    kind: 'resin',
    densityGCm3: 1.1,
    pricePerKg: 34,
    stockG: 700,
    cautions: 'Gloves. Cure it before it is sanded.',
  },
] as const;

/**
 * Loads the five Harrow Fen projects into an empty store: the ammonite as far as a failed part that was recut and bedfuls for the rest, the
 * heron mask sized, the carnyx, the newt and the cart's kit as they came.
 *
 * @param light for slow machines and tests: meshes of a fifth of the triangles or less, and an ammonite of 460 mm for 900
 */
export async function seedHarrowFen(server: RunningServer, say: (line: string) => void, light = false): Promise<void> {
  const send = async <T>(method: string, path: string, body: unknown): Promise<T> => {
    const response = await fetch(server.address + path, {
      method,
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    const answer = (await response.json()) as T & { error?: { message: string } };
    if (!response.ok) throw new Error(`${path}: ${answer.error?.message}`);
    return answer;
  };
  const post = <T>(path: string, body: unknown): Promise<T> => send<T>('POST', path, body);
  const patch = <T>(path: string, body: unknown): Promise<T> => send<T>('PATCH', path, body);
  const finished = async (job: { id: string }): Promise<{ bodyId: string; stepId?: string }> => {
    await server.queue.idle();
    const done = await server.queue.get(job.id);
    if (done.state !== 'done') throw new Error(`${done.title}: ${done.error?.message ?? done.state}`);
    return done.result as { bodyId: string; stepId?: string };
  };
  const importFile = async (projectId: string, file: DemoFile, unit: string): Promise<string> => {
    const sourceHash = createHash('sha256').update(file.bytes).digest('hex');
    const temporary = server.blobs.incomingPath();
    await writeFile(temporary, file.bytes);
    await server.blobs.adopt('sources', sourceHash, temporary);
    const job = await server.requests.import({
      projectId,
      sourceHash,
      fileName: file.name,
      licence: 'made for Harrow Fen',
      params: { unit },
      objects: 'together',
    });
    return (await finished(job)).bodyId;
  };
  const step = async (bodyId: string, operation: OperationName, params: Record<string, unknown>): Promise<void> => {
    say(`  ${operation}`);
    await finished(await post<{ id: string }>(`/api/bodies/${bodyId}/steps`, { operation, params }));
  };

  say('Making the meshes of Harrow Fen');
  const files = await harrowFenFiles(light ? lightFineness : 1);
  const made: { id: string }[] = [];
  for (const profile of printers) made.push(await post('/api/printers', { ...parseParams(PrinterProfile, profile) }));
  const [longBed] = made;
  const [grey, brown, resin] = await Promise.all(
    materials.map((material) => post<{ id: string }>('/api/materials', material)),
  );
  for (const spool of [
    {
      materialId: grey.id,
      name: 'Grey 1',
      colour: 'grey',
      grossG: 1250,
      emptyG: 250,
      openedOn: '2026-10-02',
      whereabouts: 'by the long bed',
    },
    { materialId: brown.id, name: 'Bronze 1', colour: 'bronze', grossG: 1240, emptyG: 240, whereabouts: 'dry box' },
    {
      materialId: resin.id,
      name: 'Resin bottle',
      colour: 'grey',
      grossG: 1130,
      emptyG: 130,
      openedOn: '2026-09-20',
      whereabouts: 'cupboard',
    },
  ])
    await post('/api/spools', spool);
  await post('/api/saved-bodies', { name: 'the heron bearer', kind: 'head', measures: { girth: 562, height: 226 } });

  const newProject = async (name: string, note: string) =>
    (await post<{ id: string }>('/api/projects', { name, note })).id;
  say('Newt door-knocker');
  await importFile(
    await newProject('Newt door-knocker', 'Resin, with the loose supports it came with'),
    files.newt,
    'mm',
  );
  say('Heron mask');
  const heron = await importFile(
    await newProject('Heron mask', 'Worn in the procession, 8 mm of lining'),
    files.heron,
    'auto',
  );
  await step(heron, 'mend', {});
  await step(heron, 'size', { factor: 1.02 });
  say('  a head to wear it');
  await finished(
    await post(`/api/bodies/${heron}/references`, {
      kind: 'head',
      name: 'the heron bearer',
      measures: { girth: 562, height: 226 },
    }),
  );
  const {
    references: [head],
    mesh: { facts },
  } = await server.library.views.view(heron);
  // where it settles with its lining, as it will be worn
  const move = [0.7, 7.7, -4.1].map(
    (x, k) => x + [facts.min.x, facts.min.y, facts.min.z][k] - 1.02 * files.heron.from[k],
  );
  await patch(`/api/references/${head.id}`, { liningMm: 8, move });
  say('Procession cart');
  const cart = await newProject('Procession cart', 'A kit at a tenth of its size, drawn by two');
  const form = new FormData();
  form.append('licence', 'made for Harrow Fen');
  for (const { path, bytes } of cartKit()) form.append('file', new Blob([Buffer.from(bytes)]), path);
  const dropped = await fetch(`${server.address}/api/projects/${cart}/kit`, { method: 'POST', body: form });
  if (!dropped.ok) throw new Error(`the cart: ${await dropped.text()}`);
  await server.queue.idle();
  const { pieces } = await server.library.kits.kit(cart);
  const wheel = pieces.find((p) => p.name === 'wheel')!;
  await server.library.kits.change(wheel.id, { copies: 4, colour: 'Bronze brown' });
  say('Carnyx');
  await importFile(await newProject('Carnyx', 'War horn, 1 750 mm tall, travels in a hatchback'), files.carnyx, 'auto');
  say('Window ammonite');
  const project = await newProject('Window ammonite', 'Harrow Fen fossil week');
  const ammonite = await importFile(project, files.ammonite, 'mm');
  await step(ammonite, 'mend', {});
  await step(ammonite, 'size', { axis: 'x', to: light ? 460 : 900 });
  await step(ammonite, 'hollow', { wall: 9, ...(light && { detail: 7 }) });
  await step(ammonite, 'divide', { bed: [250, 210, 220], margin: 3, plan: 'clean', join: 'pin', labels: true });
  const { parts } = await server.library.views.view(ammonite);
  const log = (partId: string, outcome: string, more: object, day: number) =>
    post(`/api/projects/${project}/log`, {
      partId,
      outcome,
      printerId: longBed.id,
      at: new Date(Date.UTC(2026, 9, day, 18, 30)).toISOString(),
      ...more,
    });
  const bySize = [...parts].sort((a, b) => (b.mesh.facts.volumeMm3 ?? 0) - (a.mesh.facts.volumeMm3 ?? 0));
  // three are left to be printed
  for (const [i, part] of bySize.slice(1, Math.min(6, parts.length - 3)).entries())
    await log(part.id, 'passed', { durationS: 3600 * (9 + 2 * i), materialG: 180 + 30 * i, note: '' }, 5 + 2 * i);
  const failed = bySize[0];
  const height = Number((failed.heightMm * 0.41).toFixed(1));
  await log(
    failed.id,
    'failed',
    { heightMm: height, durationS: 3600 * 11, materialG: 140, note: 'Spool ran out overnight' },
    17,
  );
  await step(failed.id, 'recut', { printed: height, layer: 0.2, up: failed.up });
  say('  bedfuls and days');
  await server.library.kits.change(ammonite, { colour: 'grey' });
  const waiting = (await server.library.views.view(ammonite)).parts.filter(
    (p) => p.state === 'planned' && p.rests === 0,
  );
  const [long, small] = printers.map((p) => parseParams(PrinterProfile, p));
  const laying = waiting.map(({ id, up }) =>
    post<{ id: string }>(`/api/bodies/${id}/steps`, {
      operation: 'pose',
      params: { up, printer: printingOf(long), compare: false },
    }),
  );
  for (const job of await Promise.all(laying)) await finished(job);
  const laid = (await server.library.views.view(ammonite)).parts.filter((p) => p.posed !== null);
  const { stepId } = await finished(
    await post(`/api/bodies/${ammonite}/previews`, {
      operation: 'bedfuls',
      params: {
        for: 'soonest',
        printers: [long, small].map((p) => ({ name: p.name, ...bedOf(p) })),
        parts: laid.map(laidPart),
      },
    }),
  );
  const { bedfuls } = await post<BedfulsView>(`/api/bodies/${ammonite}/bedfuls`, { stepId });
  await post(`/api/bedfuls/${bedfuls[0].id}/start`, {});
  await patch(`/api/projects/${project}`, { dueOn: dayIn(30) });
}

/** A day so many days from now, as it is written. */
const dayIn = (days: number): string => localDay(Date.now() + days * 86_400_000);
