import { zipSync } from 'fflate';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './workspace.mjs';

// Makes the data folder of the version that is built, as tests of later versions will find it: packed, under the name of the last
// migration. Run it (after `npm run build`) once a migration is there and before it is given to anybody; a folder that stands is
// what makers have, and is not made again.

const golden = join(root, 'packages/server/test/golden');
const migrations = readdirSync(join(root, 'packages/server/migrations')).filter((f) => f.endsWith('.sql'));
const target = join(golden, `${migrations.sort().at(-1).slice(0, -4)}.zip`);
if (existsSync(target)) {
  console.error(`${target} is there already. Remove it first if nobody was given that version yet.`);
  process.exit(1);
}
const data = mkdtempSync(join(tmpdir(), 'jasmorphe-golden-'));
const { startServer } = await import('../packages/server/dist/startServer.js');
const { laidPart } = await import('../packages/contracts/dist/laidPart.js');
const server = await startServer({ dataFolder: data, port: 0 });

async function call(method, path, body) {
  const form = body instanceof FormData;
  const response = await fetch(`${server.address}/api${path}`, {
    method,
    headers: body === undefined || form ? {} : { 'content-type': 'application/json' },
    body: form || body === undefined ? body : JSON.stringify(body),
  });
  const text = await response.text();
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text.slice(0, 300)}`);
  return text === '' ? null : JSON.parse(text);
}

/** What a job came to. */
async function ended(job) {
  // what is known is answered at once
  if (job.state === undefined) return { stepId: job.id };
  await server.queue.idle();
  const { state, result, error } = await call('GET', `/jobs/${job.id}`);
  if (state !== 'done') throw new Error(`${job.title}: ${JSON.stringify(error)}`);
  return result;
}

const step = async (id, operation, params) => ended(await call('POST', `/bodies/${id}/steps`, { operation, params }));
const preview = async (id, operation, params) =>
  ended(await call('POST', `/bodies/${id}/previews`, { operation, params }));

const shapes = join(root, 'node_modules/stl-models/polytopes');
function upload(files, unit) {
  const form = new FormData();
  form.append('unit', unit);
  for (const [name, file] of Object.entries(files))
    form.append('file', new Blob([readFileSync(join(shapes, file))]), name);
  return form;
}

try {
  const { id: project } = await call('POST', '/projects', { name: 'Reed box' });
  const { bodyId: box } = await ended(
    await call('POST', `/projects/${project}/models`, upload({ 'box.stl': 'cube.bin.stl' }, 'in')),
  );
  await step(box, 'size', { factor: 1 });
  await step(box, 'move', { by: [1, 2, 3] });
  await call('POST', `/bodies/${box}/undo`);
  await call('POST', `/bodies/${box}/redo`);
  await step(box, 'divide', { bed: [60, 60, 30], join: 'none' });
  await call('POST', `/bodies/${box}/dismissals`, { code: 'open-edges@0,0,0', reason: 'left so' });
  const door = { name: 'Door', kind: 'pass', widthMm: 760, depthMm: null, heightMm: 1980 };
  await preview(box, 'whereabouts', { places: [door] });
  await preview(box, 'fit', { bed: [60, 60, 60] });
  const printer = await call('POST', '/printers', { name: 'Bed of reeds', bedMm: [80, 80, 80] });
  const material = await call('POST', '/materials', {
    name: 'Grey',
    kind: 'filament',
    densityGCm3: 1.24,
    pricePerKg: 20,
    stockG: 900,
  });
  await ended(await call('POST', `/bodies/${box}/references/scan`, upload({ 'wrist.stl': 'cube.bin.stl' }, 'in')));
  const { name, kind, widthMm, heightMm } = door;
  await call('POST', '/places', { name, kind, widthMm, heightMm });
  await call('POST', '/saved-bodies', { name: 'Her hand', kind: 'hand', measures: {} });
  await call('POST', `/projects/${project}/notes`, { text: 'Of the reed bed' });
  const spool = await call('POST', '/spools', { materialId: material.id, name: 'Grey 1', grossG: 1200, emptyG: 200 });
  await call('POST', `/spools/${spool.id}/entries`, { kind: 'weighed', grams: 1100, note: '' });
  const kit = { 'kit/post.stl': 'cube.bin.stl', 'kit/knob.stl': 'tetrahedron.bin.stl' };
  await call('POST', `/projects/${project}/kit`, upload(kit, 'mm'));
  await server.queue.idle();
  const { pieces } = await call('GET', `/projects/${project}/kit`);
  const bodyIds = pieces.map((p) => p.id).filter((id) => id !== box);
  await call('POST', `/projects/${project}/batches`, { operation: 'size', params: { factor: 2 }, bodyIds });
  await server.queue.idle();
  await call('POST', `/projects/${project}/variants`, { ids: bodyIds });
  const bed = { bedMm: [80, 80, 80], marginMm: 2 };
  const parts = async () => (await call('GET', `/bodies/${box}`)).parts;
  for (const part of await parts()) await step(part.id, 'pose', { up: [0, 0, 1], printer: bed, compare: false });
  const tip = encodeURIComponent('tip:0123456789abcdef:1.0,2.0,0.0');
  await call('PUT', `/bodies/${(await parts())[1].id}/tips/${tip}`);
  const { stepId } = await preview(box, 'bedfuls', {
    printers: [printer.profile],
    placed: [],
    parts: (await parts()).map(laidPart),
  });
  const { bedfuls } = await call('POST', `/bodies/${box}/bedfuls`, { stepId });
  await call('POST', `/bedfuls/${bedfuls[0].id}/start`);
  await server.stop();

  const files = {};
  for (const file of readdirSync(data, { recursive: true, withFileTypes: true })) {
    const path = join(file.parentPath, file.name).slice(data.length + 1);
    if (file.isFile() && !/^(display|incoming|lock\.db)|-shm$/.test(path)) files[path] = readFileSync(join(data, path));
  }
  mkdirSync(golden, { recursive: true });
  writeFileSync(target, zipSync(files, { level: 9 }));
  console.log(target);
} finally {
  await server.stop();
  rmSync(data, { recursive: true, force: true });
}
process.exit(0);
