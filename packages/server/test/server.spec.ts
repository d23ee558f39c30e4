import { expect } from 'chai';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BodyFinding } from '@jasmorphe/contracts/reading/findings';
import type { BodyView, ErrorBody, JobView, ProjectSummary, ServerEvent, StepView } from '@jasmorphe/contracts/views';
import { routes } from '@jasmorphe/contracts/routes';
import { isStepOf } from '@jasmorphe/contracts/steps';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { dropKernel, loadKernel } from '@jasmorphe/core/solid/kernel';
import { collectGarbage } from '@jasmorphe/server/threads/collectGarbage';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { behindItsBack, Client, cube, holdToDescription } from './client.ts';
import { startServer } from './ownServer.ts';

let folder: string;
let server: RunningServer;
const client = new Client(() => server);
const { newProject, job, body, step } = client;
const call = client.call.bind(client);
const upload = client.upload.bind(client);
const ended = client.ended.bind(client);
const importedCube = client.importedCube.bind(client);

const files = (kind: string) =>
  readdirSync(join(folder, kind), { recursive: true, withFileTypes: true }).filter((f) => f.isFile()).length;

const until = async (held: () => Promise<boolean>) => {
  while (!(await held())) await new Promise((r) => setTimeout(r, 20));
};
const running = (id: string) =>
  until(async () => {
    const { state } = await job(id);
    expect(state).oneOf(['queued', 'running']);
    return state === 'running';
  });

describe('server', function () {
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    server = await startServer({ dataFolder: folder, port: 0, uploadLimitBytes: 3 * 2 ** 20 });
  });
  after(async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  describe('line of steps', () => {
    it('imports, sizes, divides; undo, redo, going back and changing an early step replay by themselves', async () => {
      const { id } = await importedCube('in');
      expect((await body(id)).mesh.facts.size.x).closeTo(50.8, 1e-4);
      await step(id, 'size', { factor: 2 });
      await step(id, 'divide', { bed: [60, 60, 60] });
      let view = await body(id);
      expect([view.line.length, view.cursor, view.parts.length]).eql([3, 3, 8]);
      const parts = view.parts.map((p) => p.id);
      view = (await call<BodyView>('POST', `/api/bodies/${id}/undo`)).body;
      expect([view.line.length, view.parts.length, view.canRedo]).eql([2, 0, true]);
      view = (await call<BodyView>('POST', `/api/bodies/${id}/redo`)).body;
      expect(view.parts.map((p) => p.id)).eql(parts);
      await ended(await call<JobView>('PUT', `/api/bodies/${id}/steps/1`, { params: { factor: 3 } }));
      view = await body(id);
      expect([view.line.length, view.parts.length]).eql([3, 27]);
      expect(view.mesh.facts.size.x).closeTo(152.4, 1e-3);
      view = (await call<BodyView>('POST', `/api/bodies/${id}/cursor`, { cursor: 1 })).body;
      expect([view.cursor, view.line.length, view.mesh.facts.size.x < 51]).eql([1, 3, true]);
      view = (await call<BodyView>('POST', `/api/bodies/${id}/undo`)).body;
      expect(view.cursor).equal(3);
      await ended(await call<JobView>('PUT', `/api/bodies/${id}/steps/0`, { params: { unit: 'mm' } }));
      expect((await body(id)).mesh.facts.size.x).closeTo(6, 1e-5);
    });

    it('never works the same step out twice: a repeat answers from the store', async () => {
      const { id } = await importedCube();
      const first = await call<JobView>('POST', `/api/bodies/${id}/previews`, {
        operation: 'hollow',
        params: { wall: 0.2 },
      });
      await ended(first);
      const known = await call<StepView>('POST', `/api/bodies/${id}/previews`, {
        operation: 'hollow',
        params: { wall: 0.2 },
      });
      expect(known.status).equal(200);
      await step(id, 'hollow', { wall: 0.2 });
      const view = await body(id);
      expect(view.line[1].id).equal(known.body.id);
      expect(view.line[1].createdAt).equal(known.body.createdAt);
    });

    it('a part has its own line: recut, export, and its neighbours stay', async () => {
      const { projectId, id } = await importedCube('in');
      await step(id, 'divide', { bed: [60, 60, 30] });
      const [a, b] = (await body(id)).parts;
      const log = await call('POST', `/api/projects/${projectId}/log`, {
        partId: a.id,
        outcome: 'failed',
        heightMm: 12.3,
      });
      expect(log.status).equal(201);
      await step(a.id, 'recut', { printed: 12.3 });
      const view = await body(id);
      // what is left to print is another mesh: it waits, and nothing was said of it yet
      expect([view.parts[0].state, view.parts[0].tag, view.parts[0].rests]).eql(['planned', 'A1r1', 1]);
      expect(view.parts[0].mesh.facts.size.z).closeTo(25.4 - 12.2, 1e-3);
      expect(view.parts[1].mesh.hash).equal(b.mesh.hash);
      const file = await fetch(`${server.address}/api/bodies/${a.id}/export?format=stl`);
      expect(file.headers.get('content-disposition')).contains('cube_A1r1.stl');
      expect((await file.arrayBuffer()).byteLength).greaterThan(84);
      expect(
        (
          await call<ErrorBody>('POST', `/api/bodies/${a.id}/steps`, {
            operation: 'divide',
            params: { bed: [1, 1, 1] },
          })
        ).body.error.code,
      ).equal('cannot');
    });

    it('a second click is the same wish; another wish waits its turn with a word', async () => {
      const { id } = await importedCube('in');
      const [one, two, other] = await Promise.all([
        call<JobView>('POST', `/api/bodies/${id}/steps`, { operation: 'hollow', params: { wall: 3 } }),
        new Promise((r) => setTimeout(r, 15)).then(() =>
          call<JobView>('POST', `/api/bodies/${id}/steps`, { operation: 'hollow', params: { wall: 3 } }),
        ),
        new Promise((r) => setTimeout(r, 25)).then(() =>
          call<ErrorBody>('POST', `/api/bodies/${id}/steps`, { operation: 'size', params: { factor: 2 } }),
        ),
      ]);
      expect(two.body.id).equal(one.body.id);
      expect([other.status, other.body.error?.code]).eql([409, 'busy']);
      await server.queue.idle();
      expect((await body(id)).line.length).equal(2);
    });

    it('findings are set aside with a reason and taken up again', async () => {
      const { id } = await importedCube();
      expect(
        (await call('POST', `/api/bodies/${id}/dismissals`, { code: 'open-loops', reason: 'half of a mirrored model' }))
          .status,
      ).equal(201);
      expect((await body(id)).dismissals[0].reason).equal('half of a mirrored model');
      expect((await call('DELETE', `/api/bodies/${id}/dismissals/open-loops`)).status).equal(204);
      expect((await body(id)).dismissals).eql([]);
    });

    it('findings of a model and a stop come with their sentences and reasons, those set aside last', async () => {
      const { id } = await importedCube();
      const findings = async (stop = '') =>
        (await call<(BodyFinding & { message: string })[]>('GET', `/api/bodies/${id}/findings${stop}`)).body;
      // 2 mm of cube, in a file that states no unit: taken as given
      expect((await findings()).map((f) => f.kind)).eql([]);
      await step(id, 'hollow', { wall: 0.4 });
      const [thin] = await findings();
      expect(thin).include({ kind: 'thin-walls', code: 'thin-walls', aside: null });
      expect(thin.message).match(/^A wall is only 0\.4\d mm thick/);
      expect((await findings('?stop=hollow')).map((f) => f.kind)).contain('undrained');
      expect((await findings('?stop=mend')).map((f) => f.kind)).not.contain('undrained');
      // by its number in the list, as scripts know it: what is kept is its place
      await call('POST', `/api/bodies/${id}/dismissals`, { code: thin.code, reason: 'it is a test piece' });
      expect((await body(id)).dismissals.map((d) => d.code)).eql([thin.key]);
      const after = await findings('?stop=hollow');
      expect(after.at(-1)).deep.include({ kind: 'thin-walls' });
      expect(after.at(-1)!.aside!.reason).equal('it is a test piece');
      expect((await call('GET', `/api/bodies/${id}/findings?stop=oven`)).status).equal(400);
    });
  });

  describe('sizing', () => {
    it('studies answer as previews, and cannot stand in a line', async () => {
      const { id } = await importedCube('in');
      const study = (operation: string, params: object) =>
        call<JobView>('POST', `/api/bodies/${id}/previews`, { operation, params });
      const done = await ended(await study('fit', { bed: [100, 100, 100] }));
      const { body: found } = await call<StepView>('GET', `/api/steps/${done.result!.stepId!}`);
      // a cube of 50.8 in one of 100
      expect((found.report as { largestFactor: number }).largestFactor).closeTo(100 / 50.8, 2e-3);
      expect(found.outputs).eql([]);
      expect(
        (await call('POST', `/api/bodies/${id}/steps`, { operation: 'fit', params: { bed: [9, 9, 9] } })).status,
      ).equal(400);
      expect((await study('clearance', { scan: '0'.repeat(64) })).status).equal(404);
      expect((await study('places', { places: [] })).status).equal(400);
    });

    it('cuts are planned as a study and made by the plan; a longer bed is planned anew, and each part says where it lies', async () => {
      const { id } = await importedCube();
      await step(id, 'size', { stretch: [100, 20, 20] });
      const beds = [
        { name: 'Short', bed: [70, 70, 70] },
        { name: 'Long', bed: [140, 50, 50] },
      ];
      const asked = { operation: 'cuts', params: { bed: [70, 70, 70], beds, plan: 'fewest' } };
      const job = await ended(await call<JobView>('POST', `/api/bodies/${id}/previews`, asked));
      const { body: planned } = await call<StepView>('POST', `/api/bodies/${id}/previews`, asked);
      expect(job.state).equal('done');
      expect(isStepOf(planned, catalogue.cuts) && planned.report.parts).equal(2);
      await step(id, 'divide', { bed: [70, 70, 70], beds, plan: 'fewest', join: 'pin' });
      const { parts, line } = await body(id);
      expect(parts.map((p) => [p.fits, p.printer === ''])).eql([
        [true, false],
        [true, false],
      ]);
      // they come off one another both ways
      expect(parts.map((p) => Math.round(Math.hypot(...p.apart)))).eql([1, 1]);
      const divided = line.at(-1)!;
      expect(isStepOf(divided, catalogue.divide) && divided.report.order.map((o) => [o.name, ...o.from].sort())).eql([
        parts.map((p) => p.tag).sort(),
      ]);
      const wrong = await call<ErrorBody>('POST', `/api/bodies/${id}/previews`, {
        operation: 'cuts',
        params: { bed: [70, 70, 70], cuts: [{ normal: [1, 1, 0], offset: 3 }] },
      });
      expect([wrong.status, wrong.body.error.field]).eql([400, 'cuts']);
    });

    it('reference bodies are made or imported, placed, measured against, and go with their model', async () => {
      const { projectId, id } = await importedCube('in');
      await ended(
        await call<JobView>('POST', `/api/bodies/${id}/references`, { kind: 'head', measures: { girth: 560 } }),
      );
      const form = new FormData();
      form.append('unit', 'in');
      form.append('file', new Blob([cube as BlobPart]), 'own head.stl');
      await ended(await call<JobView>('POST', `/api/bodies/${id}/references/scan`, form));
      const { references } = await body(id);
      expect(references.map((r) => [r.kind, r.name])).eql([
        ['head', 'a head'],
        ['scan', 'own head.stl'],
      ]);
      expect(references[0].measures.girth).equal(560);
      const moved = await call<{ move: number[]; liningMm: number }>('PATCH', `/api/references/${references[1].id}`, {
        move: [1, 2, 3],
        liningMm: 8,
      });
      expect([moved.body.move, moved.body.liningMm]).eql([[1, 2, 3], 8]);
      expect((await call('PATCH', `/api/references/${references[1].id}`, { move: [1, 2] })).status).equal(400);
      // the same cube as piece and as body: nothing of it faces the body
      const job1 = await ended(
        await call<JobView>('POST', `/api/bodies/${id}/previews`, {
          operation: 'clearance',
          params: { scan: references[1].meshHash },
        }),
      );
      expect(job1.state, JSON.stringify(job1.error)).equal('failed');
      expect(job1.error!.code).equal('cannot');
      const failed = await ended(
        await call<JobView>('POST', `/api/bodies/${id}/references`, { kind: 'head', measures: { girth: 9 } }),
      );
      expect([failed.state, failed.error!.code]).eql(['failed', 'bad-params']);
      await server.library.collect();
      const shown = await fetch(`${server.address}/api/meshes/${references[0].meshHash}/display`);
      expect([shown.status, (await shown.arrayBuffer()).byteLength > 1000]).eql([200, true]);
      expect((await call('DELETE', `/api/references/${references[0].id}`)).status).equal(204);
      expect((await body(id)).references.length).equal(1);
      expect((await call('DELETE', `/api/references/${references[0].id}`)).status).equal(404);
      expect((await call('DELETE', `/api/projects/${projectId}?forever=yes`)).status).equal(204);
    });

    it('a test piece is a model of its own and leaves the model as it is', async () => {
      const { projectId, id } = await importedCube('in');
      const done = await ended(await call<JobView>('POST', `/api/bodies/${id}/samples`, { largest: 20 }));
      const piece = await body(done.result!.bodyId!);
      expect(piece.mesh.facts.size.x).closeTo(20, 1e-4);
      expect((await body(id)).line.length).equal(1);
      // its first step may be changed like any other
      await ended(await call<JobView>('PUT', `/api/bodies/${piece.id}/steps/0`, { params: { largest: 30 } }));
      expect((await body(piece.id)).mesh.facts.size.x).closeTo(30, 1e-4);
      expect((await call<{ modelIds: string[] }>('GET', `/api/projects/${projectId}`)).body.modelIds.length).equal(2);
      expect((await call('POST', `/api/bodies/${id}/samples`, { largest: -1 })).status).equal(400);
    });

    it('places are kept, changed and removed; examples are there at first', async () => {
      const list = async () => (await call<{ id: string; name: string }[]>('GET', '/api/places')).body;
      expect((await list()).length).least(4);
      const made = await call<{ id: string }>('POST', '/api/places', {
        name: 'Van',
        kind: 'lie',
        widthMm: 1200,
        depthMm: 2400,
        heightMm: 1300,
      });
      expect(made.status).equal(201);
      await call('PUT', `/api/places/${made.body.id}`, { name: 'Long van', kind: 'lie', depthMm: 3200 });
      expect((await list()).find((p) => p.id === made.body.id)).deep.include({
        name: 'Long van',
        widthMm: null,
        depthMm: 3200,
      });
      for (const bad of [
        { name: 'x', kind: 'fly', widthMm: 1 },
        { name: 'x', kind: 'lie' },
        { name: '', kind: 'lie', widthMm: 1 },
        { name: 'x', kind: 'lie', widthMm: -1 },
      ])
        expect((await call('POST', '/api/places', bad)).status, JSON.stringify(bad)).equal(400);
      expect((await call('DELETE', `/api/places/${made.body.id}`)).status).equal(204);
      expect((await call('DELETE', `/api/places/${made.body.id}`)).status).equal(404);
    });
  });

  describe('jobs', () => {
    it('tell their progress as server-sent events', async () => {
      const events: ServerEvent[] = [];
      const stop = new AbortController();
      const stream = await fetch(`${server.address}/api/events`, { signal: stop.signal });
      const reading = (async () => {
        let text = '';
        const decoder = new TextDecoder();
        for await (const bytes of stream.body as unknown as AsyncIterable<Uint8Array>) {
          const chunk = decoder.decode(bytes, { stream: true });
          text += chunk;
          const lines = text.split('\n\n');
          text = lines.pop()!;
          for (const line of lines)
            if (line.startsWith('data: ')) events.push(JSON.parse(line.slice(6)) as ServerEvent);
        }
      })().catch(() => undefined);
      const { id } = await importedCube();
      await step(id, 'hollow', { wall: 0.3 });
      await new Promise((r) => setTimeout(r, 50));
      stop.abort();
      await reading;
      const states = events
        .filter((e) => e.type === 'job' && e.job.kind === 'line')
        .map((e) => (e.type === 'job' ? e.job.state : ''));
      expect(states[0]).equal('queued');
      expect(states.at(-1)).equal('done');
      expect(events.some((e) => e.type === 'body' && e.bodyId === id)).equal(true);
    });

    it('cancel within a second and leave no trace', async () => {
      const { id } = await importedCube('ft');
      const before = await body(id);
      const started = await call<JobView>('POST', `/api/bodies/${id}/steps`, {
        operation: 'hollow',
        params: { wall: 2, detail: 0.9 },
      });
      await new Promise((r) => setTimeout(r, 400));
      const asked = Date.now();
      await call('POST', `/api/jobs/${started.body.id}/cancel`);
      await server.queue.idle();
      expect(Date.now() - asked).lessThan(2500);
      expect((await job(started.body.id)).state).equal('cancelled');
      expect(await body(id)).eql(before);
    });

    it('that wait for the same step of another are cancelled at once, and their project is removed', async () => {
      // the same mesh in two projects: the second waits for what the first works out
      const [first, second] = [await importedCube('ft'), await importedCube('ft')];
      const asked = { operation: 'hollow', params: { wall: 2, detail: 0.9 } };
      const worker = await call<JobView>('POST', `/api/bodies/${first.id}/steps`, asked);
      expect(worker.body.title, 'it says of which model').equal('Hollow: cube');
      await running(worker.body.id);
      const waits = await call<JobView>('POST', `/api/bodies/${second.id}/steps`, asked);
      await running(waits.body.id);
      await call('POST', `/api/jobs/${waits.body.id}/cancel`);
      await until(async () => (await job(waits.body.id)).state === 'cancelled');
      const again = await call<JobView>('POST', `/api/bodies/${second.id}/steps`, asked);
      await running(again.body.id);
      expect((await call('DELETE', `/api/projects/${second.projectId}?forever=yes`)).status).equal(204);
      // all this while the other was at work, and it is none the worse for it
      expect((await job(worker.body.id)).state).equal('running');
      await call('POST', `/api/jobs/${worker.body.id}/cancel`);
      await server.queue.idle();
    });

    it('that a stop of the server cuts off are none the worse for it, however often', async () => {
      const { id } = await importedCube('ft');
      const started = await call<JobView>('POST', `/api/bodies/${id}/steps`, {
        operation: 'hollow',
        params: { wall: 2, detail: 0.95 },
      });
      for (let n = 0; n < 4; n++) {
        await running(started.body.id);
        await server.stop();
        server = await startServer({ dataFolder: folder, port: 0, uploadLimitBytes: 3 * 2 ** 20 });
      }
      await running(started.body.id);
      await call('POST', `/api/jobs/${started.body.id}/cancel`);
      await server.queue.idle();
      expect((await job(started.body.id)).state).equal('cancelled');
    });

    it('that were running when the process died begin again, three times at most', async () => {
      const { id, projectId } = await importedCube();
      await server.queue.idle();
      const payload = JSON.stringify({
        bodyId: id,
        from: 1,
        planned: [{ operation: 'size', params: { factor: 5 } }],
      });
      const row = (name: string, attempts: number) =>
        `insert into jobs (id, kind, title, project_id, body_id, payload, state, attempts, created_at) values ('${name}', 'line', 'Size', '${projectId}', '${id}', '${payload}', 'running', ${attempts}, '2026-01-01T00:00:00.000Z')`;
      await behindItsBack(server, row('died-once', 1), row('died-often', 3));
      await server.stop();
      server = await startServer({ dataFolder: folder, port: 0, uploadLimitBytes: 3 * 2 ** 20 });
      await server.queue.idle();
      expect((await job('died-once')).state).equal('done');
      const given = await job('died-often');
      expect([given.state, given.error?.code]).eql(['failed', 'gave-up']);
      expect((await body(id)).mesh.facts.size.x).closeTo(10, 1e-5);
      await behindItsBack(server, "delete from jobs where id = 'died-often'");
    });
  });

  describe('bad input', () => {
    const failed = async (projectId: string, bytes: Uint8Array, name = 'x.stl') => {
      const done = await ended(await upload(projectId, bytes, name));
      expect(done.state).equal('failed');
      return done.error!;
    };

    it('each broken file is named for what it is; nothing half-made stays', async () => {
      const projectId = await newProject();
      await server.library.collect();
      const meshes = files('meshes');
      expect((await failed(projectId, new Uint8Array(0))).code).equal('empty-file');
      expect((await failed(projectId, cube.subarray(0, 200))).message).match(/says 12 triangles.*byte 200/);
      expect((await failed(projectId, new TextEncoder().encode('just a letter, renamed'))).code).equal(
        'unknown-format',
      );
      expect((await failed(projectId, new TextEncoder().encode('v 0 0 0\nv 1 0 0\n'), 'cloud.obj')).code).equal(
        'point-cloud',
      );
      expect((await call<{ modelIds: string[] }>('GET', `/api/projects/${projectId}`)).body.modelIds).eql([]);
      await server.library.collect();
      expect([files('meshes'), files('incoming')]).eql([meshes, 0]);
    });

    it('a name cannot leave its folder, and is shown without its path', async () => {
      const projectId = await newProject();
      const done = await ended(await upload(projectId, cube, '../../../tmp/evil.stl'));
      expect((await body(done.result!.bodyId!)).sourceName).equal('evil.stl');
    });

    it('two imports of the same file at once are two models over one mesh', async () => {
      const projectId = await newProject();
      const [a, b] = await Promise.all([
        upload(projectId, cube, 'a.stl', 'cm'),
        upload(projectId, cube, 'b.stl', 'cm'),
      ]);
      await server.queue.idle();
      const [x, y] = await Promise.all([job(a.body.id), job(b.body.id)]);
      expect([x.state, y.state]).eql(['done', 'done']);
      expect(x.result!.bodyId).not.equal(y.result!.bodyId);
      expect((await body(x.result!.bodyId!)).mesh.hash).equal((await body(y.result!.bodyId!)).mesh.hash);
    });

    it('an upload over the limit is refused, one cut off half-way leaves nothing, and the server stays up', async () => {
      const projectId = await newProject();
      const sources = files('sources');
      const large = await upload(projectId, new Uint8Array(4 * 2 ** 20));
      expect([large.status, (large.body as unknown as ErrorBody).error.code]).eql([413, 'too-large']);
      await new Promise<void>((resolve) => {
        const { port, hostname } = new URL(server.address);
        const socket = connect(Number(port), hostname, () => {
          socket.write(
            `POST /api/projects/${projectId}/models HTTP/1.1\r\nHost: ${hostname}:${port}\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 100000\r\n\r\n--x\r\nContent-Disposition: form-data; name="file"; filename="cut.stl"\r\n\r\nhalf of it`,
          );
          setTimeout(() => {
            socket.destroy();
            resolve();
          }, 100);
        });
      });
      // the server learns of the cut a moment later, on a busy machine a long one
      for (let i = 0; i < 50 && files('incoming') > 0; i++) await new Promise((r) => setTimeout(r, 200));
      expect([files('incoming'), files('sources')]).eql([0, sources]);
      expect((await call('GET', '/api/health')).status).equal(200);
    });

    it('bodies, addresses and params that are wrong get the one error shape', async () => {
      const { id } = await importedCube();
      const wrong: [string, string, unknown, number, string][] = [
        ['POST', '/api/projects', '{', 400, 'bad-json'],
        ['POST', '/api/projects', { name: 3 }, 400, 'bad-params'],
        ['POST', '/api/projects', {}, 400, 'bad-params'],
        ['GET', '/api/projects/none', undefined, 404, 'not-found'],
        ['GET', '/api/bodies/none', undefined, 404, 'not-found'],
        ['GET', '/api/meshes/..%2f..%2fjasmorphe.db', undefined, 404, 'not-found'],
        ['GET', '/api/nothing', undefined, 404, 'not-found'],
        ['GET', '/api/projects/%E0%A4%A', undefined, 400, 'bad-address'],
        ['POST', `/api/bodies/${id}/steps`, { operation: 'hollow', params: { wall: -1 } }, 400, 'bad-params'],
        [
          'POST',
          `/api/bodies/${id}/steps`,
          { operation: 'hollow', params: { wall: 1, colour: 'red' } },
          400,
          'bad-params',
        ],
        ['POST', `/api/bodies/${id}/steps`, { operation: 'melt' }, 400, 'bad-params'],
        ['PUT', `/api/bodies/${id}/steps/7`, { params: {} }, 404, 'not-found'],
        ['POST', `/api/bodies/${id}/cursor`, { cursor: 9 }, 400, 'bad-params'],
        ['POST', `/api/bodies/${id}/undo`, undefined, 409, 'nothing-to-undo'],
        ['GET', `/api/bodies/${id}/export?format=exe`, undefined, 400, 'bad-params'],
      ];
      for (const [method, path, sent, status, code] of wrong) {
        const answer = await call<ErrorBody>(method, path, sent);
        expect([answer.status, answer.body.error?.code], `${method} ${path}`).eql([status, code]);
        expect(answer.body.error.message, path).match(/[.]$/);
      }
    });

    it('tools run as steps, are refused in words, and mending one of two loops leaves the other with its lines', async () => {
      const { id } = await importedCube();
      await step(id, 'crop', { normal: [0, 0, 1], offset: -0.5 });
      await step(id, 'crop', { normal: [0, 0, -1], offset: -0.5 });
      let view = await body(id);
      expect([view.line.length, view.mesh.facts.openLoops]).eql([3, 2]);
      const loops = view.mesh.facts.findings.filter((f) => f.loop !== undefined);
      expect(loops.map((f) => f.loop)).eql([1, 2]);
      // the rim of a square of edge 2
      for (const f of loops) expect(f.lengthMm).closeTo(8, 1e-5);
      for (const f of loops) expect(f.lines!.length % 6).equal(0);
      await step(id, 'mend', { loops: [2] });
      expect((await body(id)).mesh.facts.openLoops).equal(1);
      await step(id, 'mend', {});
      await step(id, 'foot', { height: 0.25 });
      view = await body(id);
      expect(view.mesh.facts.volumeMm3).closeTo(2 * 2 * 0.75, 1e-4);
      for (const [operation, params, code] of [
        ['mirror', {}, 'no-seam'],
        ['crop', { ground: true }, 'no-ground'],
        ['foot', { height: 9 }, 'nothing-left'],
      ] as const) {
        const done = await step(id, operation, params);
        expect([done.state, done.error?.code], operation).eql(['failed', code]);
      }
      expect(
        (await call<ErrorBody>('POST', `/api/bodies/${id}/steps`, { operation: 'practice', params: { severity: 3 } }))
          .status,
      ).equal(400);
      expect((await body(id)).line.length).equal(view.line.length);
      // a name that an operation had before is still understood
      await step(id, 'scan', { severity: 0.1, ground: false });
      expect((await body(id)).line.at(-1)!.operation).equal('practice');
    });

    it('an operation that cannot be done says why and changes nothing', async () => {
      const { id } = await importedCube();
      const done = await step(id, 'hollow', { wall: 5 });
      expect([done.state, done.error?.code]).eql(['failed', 'cannot']);
      expect((await body(id)).line.length).equal(1);
    });
  });

  it('keeps a connection longer than anything holds its thread, so that none is let go as it is used', async () => {
    const { headers } = await fetch(`${server.address}/api/health`);
    expect(headers.get('keep-alive')).equal('timeout=60');
  });

  it('answers only for this machine and its own pages', async () => {
    const { port } = new URL(server.address);
    const status = (headers: Record<string, string>) =>
      new Promise<number>((resolve) =>
        request({ port, host: '127.0.0.1', path: '/api/health', headers }, (r) =>
          resolve(r.resume().statusCode!),
        ).end(),
      );
    expect(await status({ host: `127.0.0.1:${port}` })).equal(200);
    expect(await status({ host: 'evil.example' })).equal(403);
    expect(await status({ host: `localhost:${port}`, origin: 'http://evil.example' })).equal(403);
    expect(await status({ host: `localhost:${port}`, origin: `http://localhost:${port}` })).equal(200);
  });

  it('is held to its own description: an answer of another shape is told', () => {
    const job = { id: 'j', kind: 'line', title: '', state: 'done' };
    expect(() => holdToDescription('GET', '/api/jobs/j', 200, job)).throw(/must have required property/);
    expect(() => holdToDescription('GET', '/api/places', 200, [{ id: 'p', name: 'Hall', kind: 'sit' }])).throw(
      /description/,
    );
    expect(() => holdToDescription('GET', '/api/places', 404, { message: 'gone' })).throw(/required property 'error'/);
    holdToDescription('GET', '/api/places', 404, { error: { code: 'x', message: 'y', hint: '' } });
  });

  it('really has every route that its description names', async () => {
    for (const name of Object.keys(routes)) {
      if (name === 'GET /events') continue;
      const [method, path] = name.split(' ');
      const answer = await call<ErrorBody | null>(
        method,
        `/api${path.replace(/\{\w+\}/g, 'none')}`,
        method === 'GET' || method === 'DELETE' ? undefined : {},
      );
      expect(answer.body?.error?.message ?? '', name).not.match(/nothing at/);
    }
  });

  it('display meshes stay within their budget and keep the bounds; canonical bytes are the mesh', async () => {
    const { torus } = await import('../../core/test/solids.ts');
    const projectId = await newProject();
    const done = await ended(await upload(projectId, writeBinaryStl(torus(20, 6, 120, 80)), 'ring.stl'));
    const view = await body(done.result!.bodyId!);
    const bytes = await (
      await fetch(`${server.address}/api/meshes/${view.mesh.hash}/display?budget=3000`)
    ).arrayBuffer();
    const head = new DataView(bytes);
    expect(head.getUint32(8, true)).within(1000, 3000);
    expect(head.getUint32(12, true)).equal(19_200);
    expect(head.getFloat32(28, true)).closeTo(52, 0.3);
    const canonical = await fetch(`${server.address}/api/meshes/${view.mesh.hash}`);
    expect(canonical.headers.get('cache-control')).contains('immutable');
    expect(fromCanonical(new Uint8Array(await canonical.arrayBuffer())).triangles.length / 3).equal(19_200);
  });

  it('gives the memory of a kernel back once it is let go, though the heap of its thread asks for nothing', async () => {
    const beside = (): number => {
      const { external, arrayBuffers } = process.memoryUsage();
      return (external - arrayBuffers) / 2 ** 20;
    };
    const before = beside();
    await (async () => {
      const { Manifold } = await loadKernel();
      const [ball, other] = [Manifold.sphere(10, 600), Manifold.sphere(9, 600)];
      const both = ball.add(other);
      for (const solid of [ball, other, both]) solid.delete();
    })();
    expect(beside() - before).above(60);
    expect([dropKernel(), dropKernel()]).eql([true, false]);
    await new Promise(setImmediate);
    collectGarbage();
    await new Promise((done) => void setTimeout(done, 400));
    expect(beside() - before).below(30);
  });

  it('keeps everything over a restart, and lets a removed project go with its files', async () => {
    const { projectId, id } = await importedCube('cm');
    const before = await body(id);
    await server.stop();
    await server.stop();
    server = await startServer({ dataFolder: folder, port: 0, uploadLimitBytes: 3 * 2 ** 20 });
    expect(await body(id)).eql(before);
    for (const p of (await call<ProjectSummary[]>('GET', '/api/projects')).body)
      expect((await call('DELETE', `/api/projects/${p.id}?forever=yes`)).status).equal(204);
    expect((await call<ErrorBody>('GET', `/api/projects/${projectId}`)).status).equal(404);
    expect((await call<ErrorBody>('GET', `/api/bodies/${id}`)).status).equal(404);
    expect((await call<ProjectSummary[]>('GET', '/api/projects')).body).eql([]);
  });
});
