import { expect } from 'chai';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { quietContext } from '@jasmorphe/core/run/context';
import { compute } from '@jasmorphe/server/compute/compute';
import type {
  ComputedOf,
  ComputePort,
  ComputeRun,
  ComputeTask,
  Hearing,
  MeshStore,
} from '@jasmorphe/server/compute/ComputePort';
import { JobQueue } from '@jasmorphe/server/jobs/JobQueue';
import { NobodyAtWork, StepRunner, type ActiveJob } from '@jasmorphe/server/jobs/StepRunner';
import { BlobStore } from '@jasmorphe/server/store/BlobStore';
import { openDatabase } from '@jasmorphe/server/store/database';
import { LeaseLost } from '@jasmorphe/server/store/JobRows';
import { Library } from '@jasmorphe/server/store/Library';
import { behindItsBack, Client, cube, ownCube } from './client.ts';
import { ownServer, startServer } from './ownServer.ts';

/** Another computer: it gets tasks as text, and meshes by their hashes from a store of its own that asks the server's. */
class Elsewhere implements ComputePort {
  readonly size = 1;
  /** what went there, as text */
  readonly sent: string[] = [];
  private readonly own = new Map<string, Uint8Array>();

  constructor(private readonly home: MeshStore) {}

  run<T extends ComputeTask>(task: T, { progress }: Hearing = {}): ComputeRun<ComputedOf<T>> {
    const text = JSON.stringify(task);
    this.sent.push(text);
    let cancelled = false;
    const context = {
      ...quietContext,
      progress: progress ?? quietContext.progress,
      checkCancelled: () => {
        if (cancelled) throw new MeshError('cancelled', 'Cancelled before it was done.');
      },
    };
    const there = compute(JSON.parse(text) as T, this.store, context);
    // what comes back is plain data, with the bytes of files and of display meshes
    return { result: there.then((done) => structuredClone(done)), cancel: () => void (cancelled = true) };
  }

  private readonly store: MeshStore = {
    read: async (kind, hash) => {
      const known = this.own.get(hash) ?? new Uint8Array(await this.home.read(kind, hash));
      expect(createHash('sha256').update(known).digest('hex')).equal(hash);
      this.own.set(hash, known);
      return known;
    },
    put: async (kind, bytes) => this.home.put(kind, bytes),
  };
}

describe('work that is done elsewhere', () => {
  let folder: string;
  before(() => void (folder = mkdtempSync(join(tmpdir(), 'jasmorphe-compute-'))));
  after(() => rmSync(folder, { recursive: true, force: true }));

  it('a task is plain text and names all it needs: another computer gives what the threads give', async () => {
    const read = async (compute?: (home: MeshStore) => ComputePort) => {
      const dataFolder = mkdtempSync(join(folder, 'data-'));
      const server = await startServer({ dataFolder, port: 0 }, compute);
      const client = new Client(() => server);
      try {
        const { id } = await client.importedCube('in');
        expect((await client.step(id, 'size', { factor: 0.5 })).state).equal('done');
        expect((await client.step(id, 'divide', { bed: [60, 60, 15], join: 'none' })).state).equal('done');
        const body = await client.body(id);
        const display = await fetch(`${server.address}/api/meshes/${body.mesh.hash}/display`);
        const file = await fetch(`${server.address}/api/bodies/${id}/export?format=ply&what=whole`);
        const days = await client.call<{ plan: object }>('GET', '/api/days');
        const bytesOf = async (r: Response) =>
          createHash('sha256')
            .update(new Uint8Array(await r.arrayBuffer()))
            .digest('hex');
        return [
          body.line.map((s) => [s.operation, s.outputs, s.report]),
          body.mesh.facts,
          body.parts.map((p) => [p.tag, p.mesh.hash, p.mesh.facts]),
          await bytesOf(display),
          await bytesOf(file),
          days.status,
        ];
      } finally {
        await server.stop();
      }
    };
    let elsewhere: Elsewhere | undefined;
    const there = await read((home) => (elsewhere = new Elsewhere(home)));
    expect(there).eql(await read());
    const kinds = elsewhere!.sent.map((text) => (JSON.parse(text) as ComputeTask).kind);
    for (const kind of ['run', 'display', 'plan']) expect(kinds).include(kind);
    expect(elsewhere!.sent.filter((text) => text.includes(folder))).eql([]);
  });
});

describe('jobs are held by a lease', function () {
  const at = ownServer();
  const client = new Client(() => at.server);
  const job = async (id: string) => client.job(id);

  /** A second server on the same data; it does nothing itself. */
  async function second() {
    const database = await openDatabase(join(at.folder, 'jasmorphe.db'));
    const library = new Library(database, new BlobStore(at.folder));
    return { library, close: () => database.close() };
  }

  it('of two that would have a job one gets it; what the other says of it is not taken', async () => {
    const { projectId } = await client.importedCube();
    const { library, close } = await second();
    try {
      const row = { id: 'job-held', kind: 'preview', title: 'Held', projectId, payload: {}, state: 'queued' } as const;
      await library.jobs.add([{ ...row, createdAt: new Date().toISOString() }], [], {});
      const waiting = await library.jobs.row(row.id);
      const taken = await Promise.all(['one', 'two'].map((owner) => library.jobs.begin(waiting, owner)));
      expect(taken.filter(Boolean).length).equal(1);
      const [mine, other] = taken[0] ? ['one', 'two'] : ['two', 'one'];
      await library.jobs.progress(row.id, other, 0.9, 'by another');
      await library.jobs.end(row.id, other, { state: 'failed', endedAt: 'now', phase: 'Failed', error: null });
      expect(await library.jobs.row(row.id)).include({ state: 'running', owner: mine, progress: 0 });
      const refused = await library.jobs.done(waiting, other, [], null, {}).catch((e: Error) => e);
      expect(refused).instanceOf(LeaseLost);
      // nothing was heard of its owner for long: it is queued again, and what the first says late is not taken
      expect(await library.jobs.requeue('expired')).eql([]);
      await behindItsBack(
        at.server,
        `update jobs set heartbeat_at = '2026-01-01T00:00:00.000Z' where id = '${row.id}'`,
      );
      await library.jobs.heartbeat([row.id], other);
      expect(await library.jobs.requeue('expired')).eql([row.id]);
      expect(await library.jobs.row(row.id)).include({ state: 'queued', owner: null, attempts: 1 });
      expect(await library.jobs.begin(await library.jobs.row(row.id), other)).equal(true);
      const late = await library.jobs.done(waiting, mine, [], null, {}).catch((e: Error) => e);
      expect(late).instanceOf(LeaseLost);
      await library.jobs.done(waiting, other, [], null, {});
      expect((await job(row.id)).state).equal('done');
    } finally {
      await close();
    }
  });

  it('two servers on the same jobs do each once; what one that died had is done by the other', async () => {
    const { id } = await client.importedCube('mm', ownCube(3));
    const { library, close } = await second();
    const done: string[] = [];
    const other = new JobQueue(library, at.server.compute, { send: () => undefined }, 'server two');
    try {
      const asked = await Promise.all(
        [0.5, 0.6, 0.7, 0.8, 0.9].map((factor) =>
          client.call<{ id: string }>('POST', `/api/bodies/${id}/previews`, { operation: 'size', params: { factor } }),
        ),
      );
      const ids = asked.map((a) => a.body.id);
      // one that a server had which is gone since
      await behindItsBack(
        at.server,
        `insert into jobs (id, kind, title, project_id, body_id, payload, state, owner, attempts, heartbeat_at, created_at)
          select 'job-of-the-dead', kind, title, project_id, body_id, payload, 'running', 'server gone', 1, '2026-01-01', '2026-01-01'
          from jobs where id = '${ids[0]}'`,
      );
      await other.start(false);
      await at.server.queue.idle();
      await other.idle();
      for (const one of [...ids, 'job-of-the-dead']) {
        const { state, error } = await job(one);
        expect([one, state, error]).eql([one, 'done', null]);
        done.push(one);
      }
      const attempts = await Promise.all(ids.map(async (one) => (await library.jobs.row(one)).attempts));
      expect(attempts).eql(ids.map(() => 1));
      expect((await library.jobs.row('job-of-the-dead')).attempts).equal(2);
    } finally {
      other.close();
      await other.quiet();
      await close();
    }
  });

  it('a step whose worker falls silent is let go, and begins again', async function () {
    // ends nothing by itself: a worker whose computer was switched off
    let cancelled = 0;
    const silent: ComputePort = {
      size: 1,
      run: () => ({ result: new Promise<never>(() => undefined), cancel: () => void cancelled++ }),
    };
    const { library, close } = await second();
    const clock = setInterval;
    // the counted beats pass as fast as they are asked for
    globalThis.setInterval = ((work: () => void) => clock(work, 1)) as never;
    try {
      const steps = new StepRunner(library.meshes, silent);
      const over = new AbortController();
      const active: ActiveJob = { projectId: null, handle: null, signal: over.signal, ended: Promise.resolve() };
      const inputs = [(await at.server.blobs.put('meshes', cube)) as string];
      const planned = { operation: 'size', params: { factor: 0.3 } } as never;
      const why = await steps.run(active, planned, inputs, undefined, () => undefined).catch((e: Error) => e);
      expect(why).instanceOf(NobodyAtWork);
      expect(cancelled).equal(1);
    } finally {
      globalThis.setInterval = clock;
      await close();
    }
  });
});
