import { expect } from 'chai';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BackupView } from '@jasmorphe/contracts/kitViews';
import type { ErrorBody, JobView } from '@jasmorphe/contracts/views';
import { clientOf } from '@jasmorphe/server/store/clientOf';
import { examine } from '@jasmorphe/server/pack/doctor';
import { whyNotStarted } from '@jasmorphe/server/whyNotStarted';
import { Client } from './client.ts';
import { ownServer, startServer } from './ownServer.ts';

const sha = (file: string): string => createHash('sha256').update(readFileSync(file)).digest('hex');

describe('files that are damaged', () => {
  const at = ownServer();
  const client = new Client(() => at.server);
  let beside: string;
  before(() => void (beside = mkdtempSync(join(tmpdir(), 'jasmorphe-backups-'))));
  after(() => rmSync(beside, { recursive: true, force: true }));

  const pathOf = (hash: string, kind = 'meshes', root = at.folder) => join(root, kind, hash.slice(0, 2), hash);
  /** Turns one bit, as a disk does that grows old. */
  const damage = (file: string): void => {
    const bytes = readFileSync(file);
    bytes[bytes.length >> 1] ^= 1;
    writeFileSync(file, bytes);
  };
  const backUp = (folder: string) =>
    client.call<BackupView & ErrorBody>('POST', '/api/backup', { folder: join(beside, folder) });
  const restore = (folder: string, anyway = false) =>
    client.call<{ lost: number } & ErrorBody>('POST', '/api/backup/restore', { folder: join(beside, folder), anyway });
  /** A cube twice as large, moved: its meshes in the order in which they were made. */
  async function worked(factor: number) {
    const { id } = await client.importedCube();
    await client.step(id, 'size', { factor });
    await client.step(id, 'move', { by: [factor, 0, 0] });
    const { line } = await client.body(id);
    return { id, meshes: line.map((s) => s.outputs[0]), source: line[0].inputs[0].slice('source:'.length) };
  }

  it('a mesh whose file is damaged, with all that it was made of, is worked out anew when it is looked at', async () => {
    const { meshes } = await worked(2.25);
    await at.restart();
    for (const hash of meshes) damage(pathOf(hash));
    const [, , last] = meshes;
    for (const path of ['', '/display?budget=500'])
      expect((await fetch(`${at.server.address}/api/meshes/${last}${path}`)).status).equal(200);
    for (const hash of meshes) expect(sha(pathOf(hash))).equal(hash);
    // what was wrong is kept for whoever wants to look at it
    expect(readdirSync(join(at.folder, 'trash', 'damaged'))).include.members(meshes);
  });

  it('a step that is done again is worked out anew where its file is damaged, and takes what is whole', async () => {
    const { id, meshes } = await worked(2.5);
    await client.call('POST', `/api/bodies/${id}/undo`);
    await at.restart();
    damage(pathOf(meshes[2]));
    damage(pathOf(meshes[1]));
    const done = await client.step(id, 'move', { by: [2.5, 0, 0] });
    expect([done.state, done.error]).eql(['done', null]);
    expect((await client.body(id)).mesh.hash).equal(meshes[2]);
    for (const hash of meshes) expect(sha(pathOf(hash))).equal(hash);
  });

  it('a backup takes nothing that is damaged, reads its own copies through, and gives back what it has', async () => {
    const { id, meshes, source } = await worked(2.75);
    expect((await backUp('first')).body).include({ damaged: 0, mended: 0 });
    const copy = (hash: string, kind = 'meshes') => pathOf(hash, kind, join(beside, 'first'));
    await at.restart();
    // here, there, and in both places
    damage(pathOf(source, 'sources'));
    damage(copy(meshes[1]));
    damage(pathOf(meshes[2]));
    damage(copy(meshes[2]));
    const second = (await backUp('first')).body;
    expect([second.mended, second.copied, second.damaged]).eql([1, 1, 1]);
    expect([sha(pathOf(source, 'sources')), sha(copy(meshes[1]))]).eql([source, meshes[1]]);
    // it says itself what it could not save, and comes back all the same
    expect((await restore('first')).body.lost).equal(1);
    expect((await client.body(id)).line.length).equal(3);
    expect((await fetch(`${at.server.address}/api/meshes/${meshes[2]}`)).status).equal(200);
    expect((await backUp('first')).body).include({ copied: 1, damaged: 0 });
  });

  it('restoring goes over what is damaged here, refuses what is damaged there, and goes on without it if told to', async () => {
    const { id, meshes } = await worked(3);
    await backUp('second');
    await at.restart();
    for (const hash of meshes) damage(pathOf(hash));
    expect((await restore('second')).status).equal(200);
    for (const hash of meshes) expect(sha(pathOf(hash))).equal(hash);
    await at.restart();
    damage(pathOf(meshes[1]));
    damage(pathOf(meshes[1], 'meshes', join(beside, 'second')));
    const refused = await restore('second');
    expect([refused.status, refused.body.error.code]).eql([400, 'backup-damaged']);
    expect(refused.body.error.message).include(`meshes/${meshes[1].slice(0, 12)}`);
    const { status, body } = await restore('second', true);
    expect([status, body.lost]).eql([200, 1]);
    // what is missing is worked out from what is there
    await client.call('POST', `/api/bodies/${id}/cursor`, { cursor: 2 });
    const again = await client.step(id, 'move', { by: [0, 1, 0] });
    expect(again.state).equal('done');
    expect(sha(pathOf(meshes[1]))).equal(meshes[1]);
  });

  it('a source that is damaged is told of, and the doctor fetches it from a backup', async () => {
    const { id, source } = await worked(3.25);
    await backUp('third');
    await at.server.stop();
    damage(pathOf(source, 'sources'));
    const codes = async (mend: boolean, from?: string) =>
      (await examine(at.folder, mend, from ?? null)).map((p) => [p.code, p.mended, p.hint]);
    expect((await codes(false)).map(([code]) => code)).eql(['file-damaged']);
    const [[code, mended, hint]] = await codes(true, join(beside, 'third'));
    expect([code, mended]).eql(['file-damaged', true]);
    expect(hint).match(/All came back from the backup/);
    expect(await codes(false)).eql([]);
    await at.restart();
    const edit = await client.call<JobView>('PUT', `/api/bodies/${id}/steps/0`, { params: { unit: 'cm' } });
    expect((await client.ended(edit)).state).equal('done');
  });

  it("a folder with another data folder's backup stays as it is, and another name is offered", async () => {
    const other = await startServer({ dataFolder: join(beside, 'other data'), port: 0 });
    try {
      const elsewhere = new Client(() => other);
      const to = join(beside, 'shared');
      await client.newProject();
      expect((await backUp('shared')).status).equal(201);
      const list = readFileSync(join(to, 'backup.json'), 'utf8');
      const refused = await elsewhere.call<ErrorBody>('POST', '/api/backup', { folder: to });
      expect([refused.status, refused.body.error.code]).eql([400, 'folder-taken']);
      expect(refused.body.error.hint).include(`${to}-2`);
      expect(readFileSync(join(to, 'backup.json'), 'utf8')).equal(list);
      // one of an earlier version does not say whose it is: it is known by its projects
      const { of: _, ...nameless } = JSON.parse(list) as { of: string };
      writeFileSync(join(to, 'backup.json'), JSON.stringify(nameless));
      await elsewhere.newProject();
      expect((await elsewhere.call('POST', '/api/backup', { folder: to })).status).equal(400);
      expect((await backUp('shared')).status).equal(201);
      // restored elsewhere it goes on there, and may take the place of what it came from; that may not take its place
      expect((await elsewhere.call('POST', '/api/backup/restore', { folder: to })).status).equal(200);
      expect((await elsewhere.call('POST', '/api/backup', { folder: to })).status).equal(201);
      expect((await backUp('shared')).body.error.code).equal('folder-taken');
    } finally {
      await other.stop();
    }
  });

  /** Changes a model in the file itself, as a lost bit does. */
  const changeIn = async (file: string, id: string, set: string): Promise<void> => {
    const database = clientOf(file);
    await database.execute(`UPDATE models SET ${set} WHERE id = '${id}'`);
    await database.execute('PRAGMA wal_checkpoint(TRUNCATE)');
    database.close();
  };
  // 0xA0 begins no character
  const breakName = (file: string, id: string) => changeIn(file, id, `name = CAST(name || x'A0' || '?' AS TEXT)`);

  it('texts of the database that are none end no process: they are told of, and mended to what can be read', async () => {
    const { id } = await worked(3.5);
    const named = async () => (await client.body(id)).name;
    const was = await named();
    await at.server.stop();
    await breakName(join(at.folder, 'jasmorphe.db'), id);
    const told = await startServer({ dataFolder: at.folder, port: 0 }).then(
      () => 'started',
      (error: unknown) => whyNotStarted(error, 0, at.folder),
    );
    expect(told).match(
      /^Cannot start on .*: The database is damaged.*: 1 text in models\.name has bytes that no text has/,
    );
    const found = async (mend: boolean) =>
      (await examine(at.folder, mend)).map((p) => [p.code, p.mended, /--mend|sign stands/.exec(p.hint)?.[0]]);
    expect(await found(false)).eql([['database-damaged', false, '--mend']]);
    expect(await found(true)).eql([['database-damaged', true, 'sign stands']]);
    expect(await found(false)).eql([]);
    await at.restart();
    expect(await named()).equal(`${was}\ufffd?`);
  });

  it('what a column says and is none is named, and an index that is torn is made anew from its rows', async () => {
    const { id } = await worked(4.25);
    await at.server.stop();
    const file = join(at.folder, 'jasmorphe.db');
    const whole = readFileSync(file);
    await changeIn(file, id, `source = substr(source, 2)`);
    const found = async (mend: boolean) =>
      (await examine(at.folder, mend)).map(({ code, mended, message }) => [code, mended, message]);
    const [[code, mended, message]] = await found(true);
    expect([code, mended, message]).eql([
      'database-damaged',
      false,
      'The database is damaged: what stands in models.source cannot be read.',
    ]);
    writeFileSync(file, whole);
    const database = clientOf(file);
    const { rows } = await database.execute(
      `SELECT rootpage FROM sqlite_schema WHERE type = 'index' AND tbl_name = 'models'`,
    );
    database.close();
    // a page of an index that says that there is nothing on it (sqlite.org/fileformat2.html, 1.6: two bytes, 3 behind its start)
    const torn = Buffer.from(whole);
    torn.fill(0, (Number(rows[0][0]) - 1) * 4096 + 3, (Number(rows[0][0]) - 1) * 4096 + 5);
    writeFileSync(file, torn);
    expect((await found(false)).map(([c, m]) => [c, m])).eql([['database-damaged', false]]);
    expect((await found(true)).map(([c, m]) => [c, m])).eql([['database-damaged', true]]);
    expect(await found(false)).eql([]);
    await at.restart();
    expect((await client.body(id)).line.length).equal(3);
  });

  it('a backup knows its database by its hash, and one that was cut off at the end is finished', async () => {
    const { id } = await worked(3.75);
    await backUp('hashed');
    const file = join(beside, 'hashed', 'jasmorphe.db');
    const list = join(beside, 'hashed', 'backup.json');
    const [whole, said] = [readFileSync(file), readFileSync(list, 'utf8')];
    const { name } = await client.body(id);
    // one figure of a row is another
    await changeIn(file, id, 'copies = copies + 1');
    expect((await restore('hashed', true)).body.error.code).equal('backup-damaged');
    // one of an earlier version does not say what its database is; texts that are none are found all the same
    const { database: _, ...silent } = JSON.parse(said) as { database: string };
    writeFileSync(list, JSON.stringify(silent));
    await breakName(file, id);
    expect((await restore('hashed', true)).body.error.code).equal('backup-damaged');
    // cut off between what it says and the name of its database
    writeFileSync(list, said);
    writeFileSync(`${file}.new`, whole);
    expect((await restore('hashed')).status).equal(200);
    expect(existsSync(`${file}.new`)).equal(false);
    expect((await client.body(id)).name).equal(name);
  });

  it('copies of what was there before a restore do not pile up', async () => {
    await backUp('often');
    for (let i = 0; i < 5; i++) expect((await restore('often')).status).equal(200);
    const copies = readdirSync(at.folder).filter((f) => f.startsWith('before-restore-'));
    expect(copies.length).equal(3);
    expect(existsSync(join(at.folder, 'restoring.db'))).equal(false);
  });
});
