import { createClient } from '@libsql/client';
import { expect } from 'chai';
import { spawn, spawnSync } from 'node:child_process';
import {
  copyFileSync,
  cpSync,
  existsSync,
  mkdtempSync,
  openSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  unlinkSync,
  writeFileSync,
  writeSync,
  closeSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { get } from 'node:http';
import { gzipSync } from 'node:zlib';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import type { BodyFinding } from '@jasmorphe/contracts/reading/findings';
import { inspectionVersion } from '@jasmorphe/core/inspect/Inspection';
import type { ErrorBody, JobView, ProjectSummary } from '@jasmorphe/contracts/views';
import { examine } from '@jasmorphe/server/pack/doctor';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { whyNotStarted } from '@jasmorphe/server/whyNotStarted';
import { behindItsBack, Client, ownCube } from './client.ts';
import { startServer } from './ownServer.ts';

let folder: string;
let server: RunningServer;
const client = new Client(() => server);
const start = async () => (server = await startServer({ dataFolder: folder, port: 0 }));
const files = (kind: string) =>
  existsSync(join(folder, kind))
    ? readdirSync(join(folder, kind), { recursive: true, withFileTypes: true })
        .filter((f) => f.isFile())
        .map((f) => join(f.parentPath, f.name))
    : [];
const shelf = async () => (await client.call<ProjectSummary[]>('GET', '/api/projects')).body;

describe('nothing is lost', function () {
  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    await start();
  });
  afterEach(async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  it('after a clean stop the one database file is the whole of it', async () => {
    const { id } = await client.importedCube();
    const before = await client.body(id);
    await server.stop();
    expect(existsSync(join(folder, 'jasmorphe.db-wal')) && statSync(join(folder, 'jasmorphe.db-wal')).size > 0).equal(
      false,
    );
    // what the README says of backups: the folder is copied, with nothing but files that it names
    const copy = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    copyFileSync(join(folder, 'jasmorphe.db'), join(copy, 'jasmorphe.db'));
    for (const kind of ['meshes', 'sources']) cpSync(join(folder, kind), join(copy, kind), { recursive: true });
    rmSync(folder, { recursive: true });
    folder = copy;
    await start();
    expect(await client.body(id)).eql(before);
  });

  it('an empty or missing database is a question: no file goes, and the start says so', async () => {
    await client.importedCube();
    const before = [files('meshes').length, files('sources').length];
    await server.stop();
    for (const gone of ['jasmorphe.db', 'jasmorphe.db-wal', 'jasmorphe.db-shm'])
      rmSync(join(folder, gone), { force: true });
    await start();
    expect(server.problems.map((p) => p.code)).eql(['unknown-files']);
    expect([files('meshes').length, files('sources').length]).eql(before);
    // nor later, when there is something on record again
    await client.importedCube('mm', ownCube(3));
    await server.stop();
    await start();
    await server.library.collect();
    expect(files('sources').length).equal(before[1] + 1);
  });

  it('what an earlier version of inspecting found is shown as it was, then looked for again; reasons stay', async () => {
    const { id } = await client.importedCube();
    await client.step(id, 'hollow', { wall: 0.4 });
    const { mesh } = await client.body(id);
    const key = mesh.facts.findings[0].key;
    const { version: _, findings: __, ...rest } = mesh.facts;
    const old = [
      {
        code: 'thin-walls',
        severity: 'attention',
        count: 9,
        message: 'A thin wall.',
        at: null,
        spanMm: 1,
        sure: 'sampled',
        mends: [],
      },
    ];
    const facts = JSON.stringify({ ...rest, findings: old }).replaceAll("'", "''");
    await behindItsBack(server, `update meshes set facts = '${facts}'`);
    await client.call('POST', `/api/bodies/${id}/dismissals`, { code: 'thin-walls', reason: 'it is a test piece' });
    expect((await client.body(id)).mesh.facts.findings[0].values).eql({ text: 'A thin wall.' });
    await server.stop();
    await start();
    for (let i = 0; i < 100 && (await server.library.meshes.outdated()).length > 0; i++)
      await new Promise((r) => setTimeout(r, 50));
    const after = await client.body(id);
    expect(after.mesh.facts).deep.include({ version: inspectionVersion, triangles: mesh.triangles });
    expect(after.mesh.facts.findings[0].key).equal(key);
    const found = (await client.call<BodyFinding[]>('GET', `/api/bodies/${id}/findings`)).body;
    expect(found.filter((f) => f.aside).map((f) => [f.key, f.aside!.reason])).eql([[key, 'it is a test piece']]);
  });

  it('what nothing needs goes to the trash, and comes back when it is needed', async () => {
    const { projectId, id } = await client.importedCube();
    const { hash } = (await client.body(id)).mesh;
    expect((await client.call('DELETE', `/api/projects/${projectId}?forever=yes`)).status).equal(204);
    // as if a week had gone by since the step was made
    await behindItsBack(server, "update steps set created_at = '2020-01-01T00:00:00.000Z'");
    await client.importedCube('mm', ownCube(5));
    const { moved } = await server.library.collect(-1000);
    expect(moved).least(2);
    expect(files('trash').some((f) => f.endsWith(hash))).equal(true);
    const again = await client.importedCube();
    expect((await client.body(again.id)).mesh.hash).equal(hash);
    expect((await fetch(`${server.address}/api/meshes/${hash}`)).status).equal(200);
  });

  it('models that are being imported outlive the removal of others', async () => {
    const lasting = await client.newProject();
    const names = Array.from({ length: 40 }, (_, i) => i);
    const removing = (async () => {
      for (let i = 0; i < 20; i++) {
        const { projectId } = await client.importedCube('mm', ownCube(100 + i));
        await client.call('DELETE', `/api/projects/${projectId}?forever=yes`);
        await server.library.collect();
      }
    })();
    for (let i = 0; i < names.length; i += 4)
      await Promise.all(names.slice(i, i + 4).map((n) => client.upload(lasting, ownCube(n), `c${n}.stl`)));
    await removing;
    await server.queue.idle();
    const { models } = (await shelf()).find((p) => p.id === lasting)!;
    expect(models.length).equal(40);
    for (const m of models)
      expect((await fetch(`${server.address}/api/meshes/${m.meshHash}`)).status, m.name).equal(200);
  });

  it('removing a project ends its jobs first; the same file imported again is a whole model', async () => {
    const { projectId, id } = await client.importedCube('ft');
    const slow = { operation: 'hollow', params: { wall: 2, detail: 0.9 } };
    const job = await client.call<JobView>('POST', `/api/bodies/${id}/steps`, slow);
    await client.call<JobView>('POST', `/api/bodies/${id}/previews`, { operation: 'hollow', params: { wall: 3 } });
    await new Promise((r) => setTimeout(r, 200));
    expect((await client.call('DELETE', `/api/projects/${projectId}?forever=yes`)).status).equal(204);
    expect((await client.call('GET', `/api/jobs/${job.body.id}`)).status).equal(404);
    const again = await client.importedCube('ft');
    expect((await fetch(`${server.address}/api/meshes/${(await client.body(again.id)).mesh.hash}`)).status).equal(200);
  });

  it('a step is known only while its files are there: a lost mesh is made again', async () => {
    const { id } = await client.importedCube();
    await client.step(id, 'size', { factor: 2 });
    const sized = (await client.body(id)).mesh.hash;
    await client.call('POST', `/api/bodies/${id}/undo`);
    unlinkSync(files('meshes').find((f) => f.endsWith(sized))!);
    await client.step(id, 'size', { factor: 2 });
    expect((await client.body(id)).mesh.hash).equal(sized);
    expect((await fetch(`${server.address}/api/meshes/${sized}`)).status).equal(200);
  });

  it('a second server on the folder says who has it, and stops', async () => {
    const error = await startServer({ dataFolder: folder, port: 0 }).then(
      () => null,
      (e: unknown) => e,
    );
    const why = /is in use by the server at http:.*Stop that server first/;
    expect(whyNotStarted(error, 0, folder)).match(why);
    // the programs themselves, as they are bundled
    for (const program of ['packages/server/dist/bundle/main.js', 'demo/dist/main.js']) {
      const { status, stderr } = spawnSync(process.execPath, [program, '--port', '0', '--data', folder], {
        encoding: 'utf8',
      });
      expect(status, program).equal(1);
      expect(stderr, program).match(why);
    }
    expect((await client.call('GET', '/api/health')).status).equal(200);
  });

  it('a missing file and a flipped bit are named for what they are where nothing is left to work them out from, and the shelf stands', async () => {
    const { id } = await client.importedCube();
    const other = await client.importedCube('mm', ownCube(2));
    const [hash, lost] = [(await client.body(id)).mesh.hash, (await client.body(other.id)).mesh.hash];
    await server.stop();
    const damaged = files('meshes').find((f) => f.endsWith(hash))!;
    const file = openSync(damaged, 'r+');
    writeSync(file, Buffer.from([255]), 0, 1, 100);
    closeSync(file);
    unlinkSync(files('meshes').find((f) => f.endsWith(lost))!);
    const sources = files('sources').map((f) => [f, readFileSync(f)] as const);
    for (const [f] of sources) unlinkSync(f);
    await start();
    expect(server.problems.map((p) => p.code)).eql(['file-missing', 'file-missing']);
    expect((await shelf()).length).equal(2);
    const read = async (h: string) => (await client.call<ErrorBody>('GET', `/api/meshes/${h}`)).body.error.code;
    expect([await read(hash), await read(lost)]).eql(['file-damaged', 'file-missing']);
    const done = await client.step(id, 'hollow', { wall: 0.2 });
    expect([done.state, done.error?.code]).eql(['failed', 'file-missing']);
    await server.stop();
    expect((await examine(folder, true)).map((p) => [p.code, p.mended])).eql([
      ['file-missing', false],
      ['file-missing', false],
    ]);
    await start();
    // put aside when it was looked at, it is made again from the source once that is back
    for (const [f, bytes] of sources) writeFileSync(f, bytes);
    await client.ended(await client.call<JobView>('PUT', `/api/bodies/${id}/steps/0`, { params: { unit: 'mm' } }));
    expect((await fetch(`${server.address}/api/meshes/${hash}`)).status).equal(200);
  });

  it('one bad row does not take the shelf down', async () => {
    await client.importedCube();
    const { projectId } = await client.importedCube('mm', ownCube(4));
    await behindItsBack(
      server,
      `update line_states set step_ids = '["gone"]' where body_id in (select id from models where project_id = '${projectId}')`,
    );
    const list = await shelf();
    expect(list.map((p) => p.trouble !== null).sort()).eql([false, true]);
    expect(list.find((p) => p.id === projectId)!.trouble).match(/is damaged.*doctor/s);
    expect((await examine(folder, false)).map((p) => p.code)).eql(['line-torn']);
  });

  it('a job that ends while the database is held elsewhere ends all the same, and cancel settles a row nobody runs', async () => {
    const { id } = await client.importedCube();
    const holder = createClient({ url: `file:${join(folder, 'jasmorphe.db')}`, concurrency: 1 });
    const started = await client.call<JobView>('POST', `/api/bodies/${id}/steps`, {
      operation: 'size',
      params: { factor: 2 },
    });
    const held = await holder.transaction('write');
    const refused = await client.call<ErrorBody>('GET', '/api/projects');
    expect(refused.status, 'reading goes on').equal(200);
    await new Promise((r) => setTimeout(r, 3000));
    await held.rollback();
    holder.close();
    await server.queue.idle();
    const ended = await client.job(started.body.id);
    expect(ended.state, JSON.stringify(ended.error)).equal('done');
    expect((await client.body(id)).mesh.facts.size.x).closeTo(4, 1e-5);
    await behindItsBack(server, `update jobs set state = 'running' where id = '${started.body.id}'`);
    expect((await client.call<JobView>('POST', `/api/jobs/${started.body.id}/cancel`)).body.state).equal('cancelled');
  });

  it('a server that stops in threads it shares ends its own work alone, and its job begins again when it is back', async () => {
    const mine = await client.importedCube();
    const apart = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    const other = await startServer({ dataFolder: apart, port: 0 });
    try {
      const guest = new Client(() => other);
      const theirs = await guest.importedCube();
      // some ten million cells: far from done when it is stopped
      const long = { operation: 'hollow', params: { wall: 0.2, detail: 0.008 } };
      const started = (await guest.call<JobView>('POST', `/api/bodies/${theirs.id}/steps`, long)).body;
      while ((await guest.job(started.id)).progress === 0) await new Promise((r) => setTimeout(r, 20));
      const beside = client.call<JobView>('POST', `/api/bodies/${mine.id}/steps`, {
        operation: 'size',
        params: { factor: 2 },
      });
      await other.stop();
      await beside;
      await server.queue.idle();
      expect((await client.body(mine.id)).mesh.facts.size.x).closeTo(4, 1e-5);
      const { hash } = (await client.body(mine.id)).mesh;
      const refused = await other.compute.run({ kind: 'inspect', hash }).result.catch((e: Error) => e.message);
      expect(refused).equal('The server has been stopped.');
      const again = await startServer({ dataFolder: apart, port: 0 });
      try {
        expect(['queued', 'running']).include((await new Client(() => again).job(started.id)).state);
      } finally {
        await again.stop();
      }
    } finally {
      await other.stop();
      rmSync(apart, { recursive: true, force: true });
    }
  });

  it('a database that is none is said in words', async () => {
    await server.stop();
    for (const end of ['-wal', '-shm']) rmSync(join(folder, `jasmorphe.db${end}`), { force: true });
    copyFileSync(fileURLToPath(import.meta.url), join(folder, 'jasmorphe.db'));
    const error = await start().then(
      () => null,
      (e: unknown) => e,
    );
    expect(whyNotStarted(error, 0, folder)).match(/database is damaged.*doctor/s);
    expect((await examine(folder, false)).map((p) => p.code)).eql(['database-damaged']);
    rmSync(join(folder, 'jasmorphe.db'));
    await start();
  });

  it('doors: broken compression, deep JSON, other pages of this machine', async () => {
    const post = async (headers: Record<string, string>, body: BodyInit) => {
      const response = await fetch(`${server.address}/api/projects`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body,
      });
      return [response.status, ((await response.json()) as ErrorBody).error?.code];
    };
    expect(await post({ 'content-encoding': 'gzip' }, '{"name":"x"}')).eql([400, 'bad-request']);
    expect(await post({ 'content-encoding': 'gzip' }, gzipSync('{"name":"x"}') as BodyInit)).eql([201, undefined]);
    expect(await post({}, `{"name":${'['.repeat(200_000)}${']'.repeat(200_000)}}`)).eql([400, 'bad-json']);
    expect(await post({ origin: 'http://localhost:3000' }, '{"name":"x"}')).eql([403, 'foreign-origin']);
    expect(await post({ origin: server.address }, '{"name":"x"}')).eql([201, undefined]);
    // a page of another site may open ours by a link, and read nothing, however the path is written
    const headers = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' };
    const opened = (path: string) =>
      new Promise<number>((r) => get(server.address + path, { headers }, (a) => r(a.resume().statusCode!)));
    expect(await Promise.all(['/', '/project/x', '/api/projects', '/API/projects', '/Api', '/api'].map(opened))).eql([
      404, 404, 403, 403, 403, 403,
    ]);
  });

  it('a kill before or after any change leaves the old state or the new one, and the work is done once', async function () {
    // dozens of servers are started one after another
    this.timeout(300_000);
    const { projectId, id } = await client.importedCube();
    await server.stop();
    const rest = folder;
    const apart = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    const meshes = [21, 22].map((n) => join(apart, `${n}.stl`));
    meshes.forEach((path, i) => writeFileSync(path, ownCube(21 + i)));
    const died = async (instant: string, change: string, deed: string) => {
      folder = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
      cpSync(rest, folder, { recursive: true });
      const child = spawn(
        process.execPath,
        [fileURLToPath(new URL('../test/dying.mjs', import.meta.url)), folder, instant, change, deed, ...meshes],
        { stdio: 'ignore' },
      );
      const [, signal] = await new Promise<[number | null, string | null]>((r) =>
        child.on('exit', (c, s) => r([c, s])),
      );
      expect(signal, `${instant} ${change}`).equal('SIGKILL');
      await start();
      await server.queue.idle();
      return (await shelf()).find((p) => p.id === projectId);
    };
    const over = async () => {
      expect(await examine(folder, false), folder).eql([]);
      await server.stop();
      rmSync(folder, { recursive: true, force: true });
    };
    for (const instant of ['before', 'after']) {
      expect((await died(instant, 'import', 'import'))!.models.length, `import, ${instant}`).equal(2);
      await over();
      expect((await died(instant, 'line', 'step'))!.models[0].sizeMm.x, `step, ${instant}`).closeTo(6, 1e-5);
      expect((await client.body(id)).line.length).equal(2);
      await over();
      expect((await died(instant, 'line', 'divide'))!.parts, `divide, ${instant}`).equal(8);
      await over();
      // a batch and its jobs are asked for together, or not at all; what was asked for is done at the next start
      expect((await died(instant, 'job', 'kit'))!.pieces, `kit, ${instant}`).equal(instant === 'before' ? 1 : 3);
      await over();
      await died(instant, 'line', 'batch');
      expect((await client.body(id)).line.length, `batch, ${instant}`).equal(2);
      const [batch] = (await client.call<KitView>('GET', `/api/projects/${projectId}/kit`)).body.batches;
      expect([batch.done, batch.open, batch.canUndo], `batch, ${instant}`).eql([1, 0, true]);
      await over();
      await died(instant, 'unpack', 'copy');
      expect(
        (await shelf()).map((p) => p.pieces),
        `copy, ${instant}`,
      ).eql(instant === 'before' ? [1] : [1, 1]);
      await over();
      const left = await died(instant, 'remove project', 'remove');
      expect(left?.models.length, `removal, ${instant}`).equal(instant === 'before' ? 1 : undefined);
      await over();
    }
    rmSync(apart, { recursive: true, force: true });
    folder = rest;
    await start();
  });
});
