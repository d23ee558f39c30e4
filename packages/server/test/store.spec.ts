import { createClient } from '@libsql/client';
import { expect } from 'chai';
import { eq, sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { errorBody } from '@jasmorphe/server/http/ApiError';
import { refuseDeepJson } from '@jasmorphe/server/http/validate';
import { fileNameOf } from '@jasmorphe/server/files/exportFile';
import { BlobStore } from '@jasmorphe/server/store/BlobStore';
import { openDatabase } from '@jasmorphe/server/store/database';
import { FolderInUse, lockFolder } from '@jasmorphe/server/store/folderLock';
import { Gate } from '@jasmorphe/server/store/Gate';
import { Library } from '@jasmorphe/server/store/Library';
import { isNamed, rowsOf } from '@jasmorphe/server/store/named';
import { jobs, lineStates, meshes, projects, steps } from '@jasmorphe/server/store/schema';
import { mayPass, StoreError, troubleOf } from '@jasmorphe/server/store/troubles';
import { readPort, whyNotStarted } from '@jasmorphe/server/whyNotStarted';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'jasmorphe-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const shaOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const bytesOf = (n: number): Uint8Array => Uint8Array.of(n, n + 1, n + 2, 7);
/** Makes a file look as if it had been written hours ago. */
const age = (path: string): void => utimesSync(path, new Date(Date.now() - 9e6), new Date(Date.now() - 9e6));

describe('gate', () => {
  it('lets one through at a time, in order, and one that fails does not stop those behind it', async () => {
    const gate = new Gate();
    const said: string[] = [];
    const work = (name: string, ms: number, fails = false) =>
      gate.run(async () => {
        said.push(`${name} in`);
        await new Promise((r) => setTimeout(r, ms));
        said.push(`${name} out`);
        if (fails) throw new Error(name);
        return name;
      });
    const all = await Promise.allSettled([work('a', 20), work('b', 1, true), work('c', 5)]);
    expect(all.map((r) => r.status)).eql(['fulfilled', 'rejected', 'fulfilled']);
    expect(said).eql(['a in', 'a out', 'b in', 'b out', 'c in', 'c out']);
  });
});

describe('files', () => {
  it('are named by their SHA-256 (FIPS 180-4, by Node), written once, and held against their names', async () => {
    const blobs = new BlobStore(folder);
    const name = await blobs.put('meshes', bytesOf(1));
    expect(name).equal(shaOf(bytesOf(1)));
    expect(await blobs.put('meshes', bytesOf(1))).equal(name);
    expect([...(await blobs.read('meshes', name))]).eql([...bytesOf(1)]);
    const other = await blobs.put('meshes', bytesOf(2));
    writeFileSync(blobs.path('meshes', other), bytesOf(3));
    for (const look of [() => blobs.read('meshes', other), () => blobs.verify('meshes', other)])
      expect(troubleOf(await look().catch((e: unknown) => e))?.code).equal('file-damaged');
    rmSync(blobs.path('meshes', other));
    expect(troubleOf(await blobs.read('meshes', other).catch((e: unknown) => e))?.code).equal('file-missing');
    expect(() => blobs.path('meshes', '../../etc/passwd')).throw('not a blob name');
  });

  it('go to the trash and come back; the trash is emptied by age', async () => {
    const blobs = new BlobStore(folder);
    const [a, b] = [await blobs.put('sources', bytesOf(1)), await blobs.put('sources', bytesOf(2))];
    for (const name of [a, b]) await blobs.discard('sources', name);
    expect([await blobs.has('sources', a), await blobs.ensure('sources', a)]).eql([false, true]);
    expect([...readFileSync(blobs.path('sources', a))]).eql([...bytesOf(1)]);
    expect(await blobs.emptyTrash('sources', 30)).equal(0);
    age(blobs.trashPath('sources', b));
    expect(await blobs.emptyTrash('sources', 0.1)).equal(1);
    expect([await blobs.ensure('sources', b), await blobs.ensure('sources', a)]).eql([false, true]);
  });
});

describe('reading', () => {
  it('asks the database as often for twelve models as for two; one whose line is torn stands alone', async () => {
    const database = await openDatabase(join(folder, 'jasmorphe.db'));
    const { db, client } = database;
    const library = new Library(database, new BlobStore(folder));
    let asked = 0;
    const execute = client.execute.bind(client);
    client.execute = ((...given: Parameters<typeof execute>) => (asked++, execute(...given))) as typeof execute;
    const at = new Date().toISOString();
    const facts = { size: { x: 1, y: 2, z: 3 }, min: { x: 0, y: 0, z: 0 }, findings: [] };
    await database.write([
      db.insert(meshes).values({ hash: 'h', triangles: 1, vertices: 3, bytes: 4, facts, createdAt: at }),
    ]);
    const step = { operation: 'import', version: 1, params: {}, inputs: [], outputs: ['h'], report: {}, elapsedMs: 1 };
    await database.write([db.insert(steps).values({ id: 's', ...step, createdAt: at })]);
    const counts: number[] = [];
    for (const models of [2, 12]) {
      const { id: projectId } = await library.projects.create(`with ${models}`, '');
      for (let i = 0; i < models; i++) {
        const names = {
          id: `${projectId}-${String(i).padStart(2, '0')}`,
          name: `m${i}`,
          sourceName: 'm.stl',
          sourceHash: 'x',
        };
        await library.writer.commit('m', library.bodies.modelStatements({ ...names, projectId, createdAt: at }, ['s']));
      }
      asked = 0;
      const [first] = await library.shelf.projects();
      counts.push(asked);
      expect(first.models.map((m) => [m.name, m.stage, m.sizeMm.z]).at(-1)).eql([`m${models - 1}`, 'import', 3]);
    }
    expect(counts[1]).equal(counts[0]);
    expect(counts[0]).lessThan(16);
    const [{ id }] = await library.shelf.projects();
    await database.write([
      db
        .update(lineStates)
        .set({ stepIds: ['gone'] })
        .where(eq(lineStates.bodyId, `${id}-03`)),
    ]);
    const views = await library.views.viewsOf([`${id}-02`, `${id}-03`, 'nobody']);
    expect([...views.values()].map((v) => v instanceof Error)).eql([false, true]);
    const shelf = await library.shelf.projects();
    expect(shelf.map((p) => p.trouble === null)).eql([false, true]);
    await database.close();
  });
});

describe('collecting', () => {
  it('leaves what is young, referred to, or named by a waiting job; a database that knows nothing moves nothing', async () => {
    const blobs = new BlobStore(folder);
    const database = await openDatabase(join(folder, 'jasmorphe.db'));
    const { db } = database;
    const library = new Library(database, blobs);
    const names: Record<string, string> = {};
    for (const [i, what] of ['young', 'loose', 'used', 'waiting', 'preview', 'stale'].entries()) {
      names[what] = await blobs.put('meshes', bytesOf(10 * i));
      if (what !== 'young') age(blobs.path('meshes', names[what]));
    }
    expect(await library.collect()).eql({ moved: 0, unknown: 6 });
    const at = new Date().toISOString();
    const source = await blobs.put('sources', bytesOf(200));
    age(blobs.path('sources', source));
    const mesh = (hash: string) => ({ hash, triangles: 1, vertices: 3, bytes: 4, facts: {}, createdAt: at });
    const step = (id: string, outputs: string[], createdAt: string) => ({
      id,
      operation: 'import',
      version: 1,
      params: {},
      inputs: [],
      outputs,
      report: {},
      elapsedMs: 1,
      createdAt,
    });
    await database.write([
      db.insert(projects).values({ id: 'p', name: 'p', createdAt: at, updatedAt: at }),
      ...['used', 'preview', 'stale', 'loose'].map((what) => db.insert(meshes).values(mesh(names[what]))),
      db
        .insert(steps)
        .values([
          step('s-used', [names.used], '2020-01-01T00:00:00.000Z'),
          step('s-preview', [names.preview], at),
          step('s-stale', [names.stale], '2020-01-01T00:00:00.000Z'),
        ]),
    ]);
    const model = { id: 'm', projectId: 'p', name: 'm', sourceName: 'm.stl', sourceHash: source, createdAt: at };
    await library.writer.commit('model', library.bodies.modelStatements(model, ['s-used']));
    await database.write([
      db.insert(jobs).values({
        id: 'j',
        kind: 'preview',
        title: 'x',
        projectId: 'p',
        payload: { bodyId: 'm', operation: 'fit', inputs: [names.waiting] },
        state: 'queued',
        createdAt: at,
      }),
    ]);
    expect(await library.collect()).eql({ moved: 2, unknown: 0 });
    const there: Record<string, boolean> = {};
    for (const what of Object.keys(names)) there[what] = await blobs.has('meshes', names[what]);
    expect(there).eql({ young: true, loose: false, used: true, waiting: true, preview: true, stale: false });
    expect(await blobs.has('sources', source)).equal(true);
    expect((await db.select({ id: steps.id }).from(steps)).map((s) => s.id).sort()).eql(['s-preview', 's-used']);
    await database.close();
  });

  it('a change that relies on what is gone is refused, and what is in the trash is fetched for it', async () => {
    const blobs = new BlobStore(folder);
    const database = await openDatabase(join(folder, 'jasmorphe.db'));
    const library = new Library(database, blobs);
    const { id } = await library.projects.create('p', '');
    const name = await blobs.put('meshes', bytesOf(1));
    await blobs.discard('meshes', name);
    const seen: string[] = [];
    library.writer.witness = (instant, what) => void seen.push(`${instant} ${what}`);
    await library.writer.commit('touch', [library.projects.touch(id)], { projects: [id], meshes: [name] });
    expect([await blobs.has('meshes', name), seen]).eql([true, ['before touch', 'after touch']]);
    const refused = async (relied: object) =>
      errorBody(await library.writer.commit('x', [library.projects.touch(id)], relied).catch((e: unknown) => e)).body
        .error.code;
    expect(await refused({ projects: ['none'] })).equal('not-found');
    expect(await refused({ bodies: ['none'] })).equal('not-found');
    expect(await refused({ meshes: ['0'.repeat(64)] })).equal('file-missing');
    await database.close();
  });

  it('a folder may be named whatever a folder may', async () => {
    const odd = join(folder, '100% wool, #2? a%20b');
    mkdirSync(odd);
    const lock = await lockFolder(odd);
    const database = await openDatabase(join(odd, 'jasmorphe.db'));
    await database.write([database.db.insert(projects).values({ id: 'p', name: 'p', createdAt: '', updatedAt: '' })]);
    expect((await database.db.select({ id: projects.id }).from(projects)).length).equal(1);
    await database.close();
    await lock.release();
    expect(readdirSync(odd)).include.members(['jasmorphe.db', 'lock.db']);
  });

  it('what reads sees every change, knows any number of names, writes nothing, and lets go of the file', async () => {
    const file = join(folder, 'jasmorphe.db');
    const database = await openDatabase(file);
    const { db } = database;
    const query = db.select({ id: projects.id }).from(projects).where(isNamed(projects.id)).prepare();
    const names = Array.from({ length: 3000 }, (_, i) => `p'"${i}`);
    const row = (id: string) => ({ id, name: 'p', createdAt: '', updatedAt: '' });
    // 100 rows at a time are fetched
    for (const there of [0, 1, 99, 100, 101, 250]) {
      const rows = await rowsOf(query, names);
      const fresh = names.slice(rows.length, there).map((id) => db.insert(projects).values(row(id)));
      await database.write(fresh);
      expect((await rowsOf(query, names)).map((r) => r.id).sort()).eql(names.slice(0, there).sort());
    }
    const other = createClient({ url: `file:${file}`, concurrency: 1 });
    await other.execute('DELETE FROM projects WHERE id <> ?', [names[7]]);
    expect(await rowsOf(query, names)).eql([{ id: names[7] }]);
    expect(await rowsOf(query, [])).eql([]);
    // more texts than stay prepared
    for (let i = 0; i < 500; i++) expect(await db.select({ i: sql.raw(`${i}`) }).from(projects)).eql([{ i }]);
    expect(await rowsOf(query, names)).eql([{ id: names[7] }]);
    const adding = db.insert(projects).values(row('x'));
    expect(await adding.catch((e: unknown) => e)).instanceOf(Error);
    const refused: unknown = await adding.returning().catch((e: unknown) => e);
    expect(troubleOf(refused)?.code).equal('read-only');
    expect((await db.select().from(projects)).length).equal(1);
    await database.close();
    await other.executeMultiple('BEGIN EXCLUSIVE; DELETE FROM projects; COMMIT');
    const [emptied] = (await other.execute('PRAGMA wal_checkpoint(TRUNCATE)')).rows;
    expect(Object.values(emptied)).eql([0, 0, 0]);
    other.close();
  });

  it('every connection waits a little, and keys to other tables are enforced on it', async () => {
    const { client, close } = await openDatabase(join(folder, 'jasmorphe.db'));
    const ask = async (pragma: string) => Object.values((await client.execute(`PRAGMA ${pragma}`)).rows[0])[0];
    const answers = await Promise.all(
      [1, 2, 3].map(async () => [await ask('foreign_keys'), await ask('busy_timeout')]),
    );
    for (const [keys, wait] of answers) {
      expect(keys).equal(1);
      expect(wait).greaterThan(0);
    }
    expect(await ask('journal_mode')).equal('wal');
    await close();
  });
});

describe('the lock of a folder', () => {
  it('is held by one, names who has it, and is free once let go', async () => {
    const lock = await lockFolder(folder);
    lock.say('the server at http://127.0.0.1:1 (process 1)');
    const refused = await lockFolder(folder).catch((e: unknown) => e);
    expect(refused).instanceOf(FolderInUse);
    expect((refused as Error).message).match(/in use by the server at http:\/\/127\.0\.0\.1:1 \(process 1\)/);
    await lock.release();
    await (await lockFolder(folder)).release();
  });
});

describe('troubles in words', () => {
  it('each is named for what it is, however deep it lies', async () => {
    const coded = (code: string, cause?: unknown) => Object.assign(new Error(code), { code, cause });
    for (const [code, trouble, status] of [
      ['ENOSPC', 'disk-full', 507],
      ['SQLITE_FULL', 'disk-full', 507],
      ['EROFS', 'read-only', 507],
      ['EACCES', 'read-only', 507],
      ['SQLITE_READONLY_DBMOVED', 'read-only', 507],
      ['SQLITE_BUSY', 'database-busy', 503],
      ['SQLITE_CORRUPT_INDEX', 'database-damaged', 500],
      ['SQLITE_NOTADB', 'database-damaged', 500],
      ['ENOENT', 'file-missing', 410],
    ] as const) {
      const error = new Error('query failed', { cause: coded('OUTER', coded(code)) });
      const { status: sent, body } = errorBody(error);
      expect([sent, body.error.code], code).eql([status, trouble]);
      expect(body.error.message).match(/[.]$/);
      expect(body.error.hint).match(/[.]$/);
      expect(mayPass(error), code).equal(trouble === 'database-busy');
    }
    expect(troubleOf(new Error('plain'))).equal(null);
    expect(errorBody(new StoreError('file-missing', 'meshes/ab')).body.error.message).match(/: meshes\/ab\.$/);
    // the real thing: a database held by another connection
    const file = `file:${join(folder, 'x.db')}`;
    const [holder, other] = [1, 2].map(() => createClient({ url: file, concurrency: 1 }));
    await holder.execute('CREATE TABLE t (a)');
    const held = await holder.transaction('write');
    expect(mayPass(await other.execute('INSERT INTO t VALUES (1)').catch((e: unknown) => e))).equal(true);
    await held.rollback();
    holder.close();
    other.close();
  });

  it('a database that others take again and again is written between, and what is written is read at once', async () => {
    const file = join(folder, 'jasmorphe.db');
    const database = await openDatabase(file);
    const add = (n: number) =>
      database.db.insert(projects).values({ id: `${n}`, name: 'p', createdAt: '', updatedAt: '' });
    for (let n = 0; n < 5; n++) {
      const holder = createClient({ url: `file:${file}`, concurrency: 1 });
      const held = await holder.transaction('write');
      const written = database.write([add(n)]).then(() => Date.now());
      await new Promise((r) => setTimeout(r, 450));
      // without patience it is refused at once, and that is no hindrance to those that wait
      const impatient = await openDatabase(file).then(
        async (other) => (await other.write([add(100)], 0).catch((e: unknown) => e), other.close()),
        () => undefined,
      );
      expect(impatient).equal(undefined);
      await held.commit();
      const released = Date.now();
      holder.close();
      // the longest pause between two tries, and the time of a loaded machine
      expect((await written) - released).lessThan(2500);
      expect((await database.db.select({ id: projects.id }).from(projects)).length).equal(n + 1);
    }
    await database.close();
  });

  it('why a server cannot start is a sentence', () => {
    const coded = (code: string, message = code) => Object.assign(new Error(message), { code });
    const why = (error: unknown) => whyNotStarted(error, 80, '/data');
    expect(why(coded('EADDRINUSE'))).equal('Port 80 is taken. Give another with --port.');
    expect(why(coded('EACCES', 'listen EACCES: permission denied'))).match(/Port 80 is not for ordinary users/);
    expect(why(coded('EACCES', 'mkdir'))).match(/^Cannot start on \/data: The data folder cannot be written/);
    expect(why(coded('ENOTDIR'))).match(/no folder/);
    expect([readPort('0'), readPort('65535'), readPort('65536'), readPort('-1'), readPort('x'), readPort('1e3')]).eql([
      0,
      65535,
      null,
      null,
      null,
      null,
    ]);
  });

  it('JSON is refused by its depth, not by what its strings hold', () => {
    const refused = (text: string) => {
      try {
        refuseDeepJson(null, null, Buffer.from(text));
        return false;
      } catch {
        return true;
      }
    };
    expect(refused('['.repeat(40))).equal(true);
    expect(refused(`{"a":"${'['.repeat(1000)}"}`)).equal(false);
    expect(refused(`{"a":"\\"${'['.repeat(1000)}"}`)).equal(false);
    expect(refused('[[]]'.repeat(1000))).equal(false);
  });

  it('files that are fetched say what they are', () => {
    const body = (operations: string[], x: number) =>
      fileNameOf({
        name: 'carnyx',
        line: operations.map((operation) => ({ operation, outputs: ['mesh'] })),
        cursor: operations.length,
        mesh: { facts: { size: { x, y: 1, z: 2 } } },
      } as never);
    expect(body(['import', 'mend'], 1750.2)).equal('carnyx_1750mm_mended');
    expect(body(['import', 'mend', 'hollow', 'divide'], 900)).equal('carnyx_900mm_hollow');
    expect(body(['import'], 42)).equal('carnyx_42mm');
  });
});
