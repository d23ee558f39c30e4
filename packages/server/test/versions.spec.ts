import { expect } from 'chai';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { BedfulsView, BookTablesView } from '@jasmorphe/contracts/dayViews';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import type { BodyView, ErrorBody, ProjectView } from '@jasmorphe/contracts/views';
import { quietContext } from '@jasmorphe/core/run/context';
import { bookFrom } from '@jasmorphe/server/book/bookFrom';
import { backUpFolder, packFrom, restoreFolder, unpackInto } from '@jasmorphe/server/pack/dataFolder';
import type { PackedProject } from '@jasmorphe/server/pack/PackedProject';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { clientOf } from '@jasmorphe/server/store/clientOf';
import { examine } from '@jasmorphe/server/pack/doctor';
import { readFolder } from '@jasmorphe/server/store/readFolder';
import { migrationsFolder, schemaAgeOf } from '@jasmorphe/server/store/schemaAge';
import { whyNotStarted } from '@jasmorphe/server/whyNotStarted';
import { Client } from './client.ts';
import { startServer } from './ownServer.ts';

// Data folders that the versions before each migration really made, over their own API: a cube of 2 in, sized, divided into two
// slabs of which one was printed; from the kits on a piece and a spool, from the bedfuls on one that was started. The one of the
// future is the last of them with a column, a table and a migration that nobody knows yet.
const golden = fileURLToPath(new URL('../test/golden/', import.meta.url));
const migrations = readdirSync(migrationsFolder)
  .filter((f) => f.endsWith('.sql'))
  .map((f) => f.slice(0, -4))
  .sort();
/** Of the sides of the cube: a version that could not move it yet sized it once more instead. */
const sideMm = (tag: string): number => (tag < '0002' ? 50.8 * 1.01 : 50.8);

/** What is in a folder, byte for byte. */
function contentOf(folder: string): Record<string, string> {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((f) => f.isFile());
  return Object.fromEntries(
    files.map((f) => {
      const path = join(f.parentPath, f.name);
      return [path.slice(folder.length), createHash('sha256').update(readFileSync(path)).digest('hex')];
    }),
  );
}

describe('data of other versions', () => {
  let root: string;
  before(() => void (root = mkdtempSync(join(tmpdir(), 'jasmorphe-versions-'))));
  after(() => rmSync(root, { recursive: true, force: true }));

  const folderOf = (name: string, as = name): string => {
    const folder = join(root, as);
    for (const [path, bytes] of Object.entries(unzipSync(readFileSync(join(golden, `${name}.zip`))))) {
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      writeFileSync(join(folder, path), bytes);
    }
    return folder;
  };
  const ageOf = async (file: string) => {
    const client = clientOf(file);
    return schemaAgeOf(client).finally(() => client.close());
  };
  const within = async <T>(folder: string, work: (client: Client, server: RunningServer) => Promise<T>): Promise<T> => {
    const server = await startServer({ dataFolder: folder, port: 0 });
    return work(new Client(() => server), server).finally(() => server.stop());
  };
  const messageOf = (refused: Promise<unknown>): Promise<string> =>
    refused.then(
      () => 'not refused',
      (error: Error) => error.message,
    );

  it('there is a folder of each migration', () => {
    expect(readdirSync(golden).sort()).eql([...migrations, 'future'].map((tag) => `${tag}.zip`));
  });

  for (const tag of migrations)
    it(`${tag}: read without a change; opened, every page answers, a line replays; packed and unpacked, backed up and restored it is the same`, async () => {
      const folder = folderOf(tag);
      const last = tag === migrations.at(-1);
      const given = contentOf(folder);
      expect(await examine(folder, false)).eql([]);
      const packed = join(root, `${tag}.zip`);
      const count = await packFrom(folder, 'Reed box', packed, false);
      const { pages } = await bookFrom(folder, 'Reed box', 'a4', 'http://localhost', quietContext);
      expect(pages).above(1);
      expect(contentOf(folder)).eql(given);

      // a backup of that version: its database is brought to ours where it is restored
      const backup = join(root, `${tag}-backup`);
      const toSave = folderOf(tag, `${tag} to back up`);
      await backUpFolder(toSave, backup, () => undefined);
      // of a backup that it made of itself
      const own = clientOf(join(toSave, 'jasmorphe.db'));
      await own.execute({ sql: 'VACUUM INTO ?', args: [join(toSave, 'saved.db')] });
      own.close();
      const database = readFileSync(join(toSave, 'saved.db'));
      const about = JSON.parse(readFileSync(join(backup, 'backup.json'), 'utf8')) as object;
      const told = { ...about, database: createHash('sha256').update(database).digest('hex') };
      writeFileSync(join(backup, 'backup.json'), JSON.stringify(told));
      writeFileSync(join(backup, 'jasmorphe.db'), database);
      const restored = join(root, `${tag}-restored`);
      await restoreFolder(restored, backup, false);
      expect(await examine(restored, false)).eql([]);

      const states = await within(folder, async (client) => {
        const kept = readdirSync(folder).filter((f) => f.startsWith('before-migration'));
        expect(kept).eql(last ? [] : ['before-migration.db']);
        return lookedThrough(client, tag);
      });
      if (!last) expect(await ageOf(join(folder, 'before-migration.db'))).equal('older');
      expect(await ageOf(join(folder, 'jasmorphe.db'))).equal('ours');

      const other = join(root, `${tag}-unpacked`);
      const { projectId: _, ...unpacked } = await unpackInto(other, packed);
      expect([unpacked.models, unpacked.meshes]).eql([count.models, count.meshes]);
      expect(await examine(other, false)).eql([]);
      for (const one of [other, restored])
        await within(one, async (client) => expect(await lookedThrough(client, tag)).eql(states));
    });

  /** Asks for what each page shows, has a line replayed and taken back, and tells what became of the parts. */
  async function lookedThrough(client: Client, tag: string): Promise<string[]> {
    const ask = async <T>(path: string): Promise<T> => {
      const { status, body } = await client.call<T>('GET', `/api${path}`);
      expect(status, `${path}: ${JSON.stringify(body)}`).equal(200);
      return body;
    };
    const workshop = ['/printers', '/materials', '/spools', '/saved-bodies', '/settings', '/places', '/jobs'];
    for (const path of [...workshop, '/days', '/days/calendar.ics', '/days/hours', '/days/rates']) await ask(path);
    const [{ id }] = await ask<ProjectView[]>('/projects');
    const project = await ask<ProjectView>(`/projects/${id}`);
    for (const path of ['log', 'attachments', 'book', 'book/tables/parts']) await ask(`/projects/${id}/${path}`);
    expect((await ask<BookTablesView>(`/projects/${id}/book/tables`)).parts.rows.length).above(1);
    expect((await ask<KitView>(`/projects/${id}/kit`)).pieces.length).equal(project.models.length);
    const { bedfuls } = await ask<BedfulsView>(`/projects/${id}/bedfuls`);
    expect(bedfuls.length).equal(tag >= '0007' ? 2 : 0);
    for (const bedful of bedfuls) await ask(`/bedfuls/${bedful.id}`);
    const views = await Promise.all(project.models.map((m) => ask<BodyView>(`/bodies/${m.id}`)));
    for (const body of views) {
      const parts = await Promise.all(body.parts.map((p) => ask<BodyView>(`/bodies/${p.id}`)));
      for (const { id: own, line, mesh } of [body, ...parts]) {
        for (const path of ['', '/findings', '/findings?stop=divide', '/export?format=stl'])
          await ask(`/bodies/${own}${path}`);
        for (const step of line) await ask(`/steps/${step.id}`);
        for (const path of ['', '/facts', '/display']) await ask(`/meshes/${mesh.hash}${path}`);
      }
    }
    // ticks of tips stood among the joints, choices among variants among the reasons
    const tips = tag >= '0007' ? ['tip:0123456789abcdef:1.0,2.0,0.0'] : [];
    const [, second] = views.find((body) => body.parts.length > 0)!.parts;
    expect(await ask<BodyView>(`/bodies/${second.id}`)).deep.include({ tipsDone: tips, joined: [] });
    for (const { dismissals } of views) expect(dismissals.filter((d) => d.code.startsWith('variants'))).eql([]);
    const box = views.find((body) => body.parts.length > 0)!;
    const said = box.parts.map((p) => `${p.tag} ${p.state}`);
    expect(said).eql(tag >= '0007' ? ['A1 printing', 'B1 planned'] : ['A1 failed', 'B1 printed']);
    const volume = async () => (await ask<BodyView>(`/bodies/${box.id}`)).mesh.facts.volumeMm3!;
    expect(await volume()).closeTo(sideMm(tag) ** 3, 0.5);
    const changed = await client.ended(
      await client.call('PUT', `/api/bodies/${box.id}/steps/1`, { params: { factor: 0.5 }, lose: true }),
    );
    expect([changed.state, changed.error]).eql(['done', null]);
    expect(await volume()).closeTo((sideMm(tag) / 2) ** 3, 0.5);
    expect((await client.call('POST', `/api/bodies/${box.id}/undo`)).status).equal(200);
    expect((await ask<BodyView>(`/bodies/${box.id}`)).parts.map((p) => `${p.tag} ${p.state}`)).eql(said);
    return said;
  }

  it('a pack of the first version has its ticks and choices where they belong now', async () => {
    const folder = folderOf(migrations.at(-1)!, 'of a pack');
    const packed = join(root, 'second.zip');
    await packFrom(folder, 'Reed box', packed, false);
    const files = unzipSync(readFileSync(packed));
    const list = JSON.parse(strFromU8(files['pack.json'])) as PackedProject;
    const { tipTicks, variantChoices, ...rows } = list.rows;
    expect([tipTicks.length, variantChoices.length, rows.joints.length]).eql([1, 1, 0]);
    const told = variantChoices.map(({ key, ...row }) => ({
      ...row,
      code: `variants/${key}`,
      reason: 'all are printed',
    }));
    const old = { ...list, version: 1, rows: { ...rows, joints: tipTicks, dismissals: [...rows.dismissals, ...told] } };
    const first = join(root, 'first.zip');
    writeFileSync(first, zipSync({ ...files, 'pack.json': strToU8(JSON.stringify(old)) }));
    const other = join(root, 'of the first');
    await unpackInto(other, first);
    const again = join(root, 'again.zip');
    await packFrom(other, 'Reed box', again, false);
    const { rows: now } = JSON.parse(strFromU8(unzipSync(readFileSync(again))['pack.json'])) as PackedProject;
    const keys = (of: PackedProject['rows']) =>
      [of.tipTicks, of.variantChoices, of.joints].map((ticks) => ticks.map(({ key, at }) => [key, at]));
    expect(keys(now)).eql(keys(list.rows));
    expect(now.dismissals.map((d) => d.code)).eql(list.rows.dismissals.map((d) => d.code));
  });

  it('what a newer version wrote is refused in words by all who open it, and stays as it is', async () => {
    const folder = folderOf('future');
    const given = contentOf(folder);
    const newer = 'The database is of a newer version of this program, or of another program, and was left as it is';
    const refused = await startServer({ dataFolder: folder, port: 0 }).catch((error: unknown) => error);
    expect(whyNotStarted(refused, 0, folder)).match(
      new RegExp(`^Cannot start on .*: ${newer}: .*\\. Use that version`),
    );
    const [problem] = await examine(folder, false);
    expect([problem.code, problem.mended]).eql(['database-newer', false]);
    // by its own name, and not by that of the copy that was read
    expect(problem.message).equal(`${newer}: jasmorphe.db.`);
    expect((await examine(folder, true))[0].code).equal('database-newer');
    const out = join(root, 'out');
    for (const asked of [
      () => packFrom(folder, 'Reed box', out, false),
      () => bookFrom(folder, 'Reed box', 'a4', '', quietContext),
      () => backUpFolder(folder, out, () => undefined),
      () => unpackInto(folder, join(golden, 'future.zip')),
    ])
      expect(await messageOf(asked())).contain('newer version');
    expect(contentOf(folder)).include(given);
  });

  it('a backup that a newer version made is neither restored nor brought up to date', async () => {
    const last = migrations.at(-1)!;
    const folder = folderOf(last, 'own');
    const backup = join(root, 'backup');
    await backUpFolder(folder, backup, () => undefined);
    const about = JSON.parse(readFileSync(join(backup, 'backup.json'), 'utf8')) as object;
    const database = readFileSync(join(backup, 'jasmorphe.db'));
    const future = readFileSync(join(folderOf('future', 'future of a backup'), 'jasmorphe.db'));
    // by what it says of itself, and by its database
    for (const [list, bytes] of [
      [{ ...about, version: 2 }, database],
      [{ ...about, database: createHash('sha256').update(future).digest('hex') }, future],
    ] as const) {
      writeFileSync(join(backup, 'backup.json'), JSON.stringify(list));
      writeFileSync(join(backup, 'jasmorphe.db'), bytes);
      const given = contentOf(backup);
      const words = `The backup in ${backup} was made by a later version of this program.`;
      expect(await messageOf(restoreFolder(join(root, 'fresh'), backup, true))).equal(words);
      expect(await messageOf(backUpFolder(folder, backup, () => undefined))).equal(words);
      await within(folder, async (client) => {
        for (const path of ['/api/backup', '/api/backup/restore']) {
          const { status, body } = await client.call<ErrorBody>('POST', path, { folder: backup });
          expect([status, body.error.code, body.error.message]).eql([400, 'backup-newer', words]);
        }
      });
      expect(contentOf(backup)).eql(given);
    }
  });

  it('a folder is read while a server works in it; none begins while it is read', async () => {
    const folder = folderOf(migrations.at(-1)!, 'shared');
    await within(folder, async (client) => {
      // what is in the write-ahead file alone is read as well
      await client.call('POST', '/api/projects', { name: 'Made a moment ago' });
      expect(await examine(folder, false)).eql([]);
      expect(await packFrom(folder, 'Made a moment ago', join(root, 'beside.zip'), false)).include({ projects: 1 });
    });
    const given = contentOf(folder);
    await readFolder(folder, async ({ inUse }) => {
      expect(inUse).equal(false);
      expect(await messageOf(startServer({ dataFolder: folder, port: 0 }))).contain('is in use');
      // others may read it as well
      expect(await examine(folder, false)).eql([]);
    });
    // files of the server that ended are put away when its statements are
    const lasting = (content: Record<string, string>) =>
      Object.entries(content).filter(([f]) => !/-(shm|wal)$/.test(f));
    expect(lasting(contentOf(folder))).eql(lasting(given));
    await within(folder, async (client) => expect((await client.call('GET', '/api/projects')).status).equal(200));
  });
});
