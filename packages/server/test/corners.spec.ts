import { expect } from 'chai';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AttachmentView } from '@jasmorphe/contracts/kitViews';
import type { ErrorBody, ProjectView } from '@jasmorphe/contracts/views';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { troubleOf } from '@jasmorphe/server/store/troubles';
import { backUpFolder, packFrom, unpackInto } from '@jasmorphe/server/pack/dataFolder';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { examine } from '@jasmorphe/server/pack/doctor';
import { behindItsBack, ownCube } from './client.ts';
import { boxFile, KitClient } from './kitClient.ts';
import { ownServer, startServer } from './ownServer.ts';

/** What something that fails says. */
const saying = async (work: () => unknown): Promise<string> => {
  try {
    await work();
  } catch (error) {
    const said = error as { code?: string; message?: string; body?: ErrorBody };
    if (isMeshError(error) || said.code) return `${said.code}: ${said.message}`;
    throw error;
  }
  return '';
};

describe('what a project is not asked for every day', () => {
  const own = ownServer();
  const client = new KitClient(() => own.server);
  const refused = async (method: string, path: string, body?: unknown) => {
    const answer = await client.call<ErrorBody>(method, path, body);
    return [answer.status, answer.body.error.code];
  };
  const piecesOf = async () => {
    const projectId = await client.newProject();
    const { kit } = await client.read(projectId, {
      'hull.stl': boxFile([0, 0, 0], [40, 20, 10]),
      'mast.stl': boxFile([0, 0, 0], [4, 4, 90]),
    });
    return { projectId, kit };
  };

  it('pieces that are all in one unit are not read again, and no unknown operation is done to them', async () => {
    const { projectId, kit } = await piecesOf();
    const ids = kit.pieces.map((p) => p.id);
    expect(await refused('POST', `/api/projects/${projectId}/kit/unit`)).eql([409, 'nothing-to-do']);
    for (const operation of ['thickness', 'fit'])
      expect(
        await refused('POST', `/api/projects/${projectId}/batches`, {
          operation,
          params: {},
          bodyIds: ids,
          dry: false,
        }),
        operation,
      ).eql([400, 'bad-params']);
    expect(await refused('POST', `/api/projects/${projectId}/batches`, { operation: 'bake', params: {}, bodyIds: ids, dry: true })).eql([400, 'bad-params']); // oxfmt-ignore
    expect(await refused('POST', '/api/projects/none/kit/unit')).eql([404, 'not-found']);
    expect((await client.kitOf(projectId)).pieces.map((p) => p.name).sort()).eql(['hull', 'mast']);
  });

  it('a part has its name and terms from its piece, and as many copies', async () => {
    const { id } = await client.importedCube();
    await client.step(id, 'divide', { bed: [1.5, 1.5, 1.5] });
    const [part] = (await client.body(id)).parts;
    expect(await refused('PATCH', `/api/bodies/${part.id}`, { name: 'bow' })).eql([400, 'cannot']);
    expect(await refused('POST', `/api/bodies/${part.id}/twins`, { copies: 2 })).eql([400, 'cannot']);
    expect((await client.body(id)).parts[0].tag).equal(part.tag);
  });

  it('twins are made of what is there now: not of another number, and not while something is at work', async () => {
    const { id } = await client.importedCube('mm', ownCube(31));
    await client.call('PATCH', `/api/bodies/${id}`, { copies: 3 });
    expect(await refused('POST', `/api/bodies/${id}/twins`, { copies: 4 })).eql([409, 'cannot']);
    await behindItsBack(own.server, `update models set copies = 3 where id = '${id}'`);
    const made = await client.call<{ ids: string[] }>('POST', `/api/bodies/${id}/twins`, { copies: 3 });
    expect([made.status, made.body.ids.length]).eql([201, 2]);
    // asked for again, as by a second press: there is one of it by now
    expect(await refused('POST', `/api/bodies/${id}/twins`, { copies: 3 })).eql([409, 'cannot']);
    const names = await Promise.all([id, ...made.body.ids].map(async (b) => (await client.body(b)).name));
    expect(new Set(names).size).equal(3);
  });

  it('another version of a file waits until the line is free', async () => {
    const { projectId, id } = await client.importedCube('mm', ownCube(41));
    const sourceHash = 'a'.repeat(64);
    await behindItsBack(
      own.server,
      `insert into jobs (id, kind, title, project_id, body_id, payload, state, progress, phase, created_at) values ('held', 'line', 'Hollow', '${projectId}', '${id}', '{}', 'running', 0, '', '2026-11-20')`,
    );
    const [status, code] = await refused('POST', `/api/bodies/${id}/version`, { sourceHash, fileName: 'cube.stl' });
    expect([status, code]).eql([409, 'busy']);
    await behindItsBack(own.server, "delete from jobs where id = 'held'");
  });

  it('photos are pictures by their names and are shown, never run; notes have none', async () => {
    const projectId = await client.newProject();
    const photo = (name: string, text: string, fields: Record<string, string> = {}) => {
      const form = new FormData();
      for (const [key, value] of Object.entries(fields)) form.append(key, value);
      form.append('file', new Blob([text]), name);
      return client.call<AttachmentView & ErrorBody>('POST', `/api/projects/${projectId}/photos`, form);
    };
    const refusedOne = await photo('letter.html', '<script>alert(1)</script>');
    expect([refusedOne.status, refusedOne.body.error.code]).eql([400, 'bad-upload']);
    const { body: kept, status } = await photo('seam.png', '<script>alert(1)</script>', { text: 'the seam' });
    expect([status, kept.kind, kept.text, kept.mediaType]).eql([201, 'photo', 'the seam', 'image/png']);
    const shown = await fetch(`${own.server.address}/api/attachments/${kept.id}/picture`);
    expect(shown.headers.get('content-type')).match(/^image\/png/);
    expect(shown.headers.get('x-content-type-options')).equal('nosniff');
    const { body: note } = await client.call<AttachmentView>('POST', `/api/projects/${projectId}/notes`, { text: 'dry fit' }); // oxfmt-ignore
    expect(await refused('GET', `/api/attachments/${note.id}/picture`)).eql([404, 'not-found']);
    const changed = await client.call<AttachmentView>('PATCH', `/api/attachments/${note.id}`, { text: 'dry fitted' });
    expect(changed.body.text).equal('dry fitted');
    const list = async () =>
      (await client.call<AttachmentView[]>('GET', `/api/projects/${projectId}/attachments`)).body.map((a) => a.text);
    expect(await list()).eql(['the seam', 'dry fitted']);
    expect((await client.call('DELETE', `/api/attachments/${kept.id}`)).status).equal(204);
    expect(await list()).eql(['dry fitted']);
    for (const method of ['PATCH', 'DELETE'])
      expect(await refused(method, `/api/attachments/${kept.id}`, { text: 'x' })).eql([404, 'not-found']);
  });

  it('a note is of a piece of the same project, or refused', async () => {
    const { id } = await client.importedCube('mm', ownCube(51));
    const projectId = await client.newProject();
    expect(await refused('POST', `/api/projects/${projectId}/notes`, { text: 'x', bodyId: id })).eql([
      404,
      'not-found',
    ]);
    expect(await refused('POST', `/api/projects/${projectId}/notes`, { text: '', bodyId: id })).eql([
      400,
      'bad-params',
    ]);
    expect(await refused('POST', '/api/projects/none/notes', { text: 'x' })).eql([404, 'not-found']);
  });

  it('a body of more than a megabyte, one that is no JSON and an address that is none are told apart', async () => {
    const send = async (path: string, body: string) => {
      const answer = await fetch(own.server.address + path, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
      });
      return [answer.status, ((await answer.json()) as ErrorBody).error.code];
    };
    expect(await send('/api/projects', `{"name":"${'x'.repeat(1_100_000)}"}`)).eql([413, 'too-large']);
    expect(await send('/api/projects', '{"name":')).eql([400, 'bad-json']);
    expect(await send('/api/bodies/%E0%A4%A/steps', '{}')).eql([400, 'bad-address']);
    expect(await send('/api/nowhere', '{}')).eql([404, 'not-found']);
    // and nothing came of any of it
    expect((await client.call<ProjectView[]>('GET', '/api/projects')).body.some((p) => p.name.startsWith('xxx'))).equal(
      false,
    );
  });

  it('a printer that is taken back into use has its hours and its profile still', async () => {
    const profile = { ...parseParams(PrinterProfile, { name: 'Long bed', bedMm: [250, 210, 220], hoursRun: 840 }) };
    const { body: made } = await client.call<{ id: string }>('POST', '/api/printers', profile);
    await client.call('PATCH', `/api/printers/${made.id}`, { retired: true });
    const { body: back } = await client.call<{ retiredAt: string | null; profile: PrinterProfile }>('PATCH', `/api/printers/${made.id}`, { retired: false }); // oxfmt-ignore
    expect([back.retiredAt, back.profile.hoursRun]).eql([null, 840]);
  });
});

describe('a data folder without its server', function () {
  let root: string;
  let folder: string;
  before(async () => {
    root = mkdtempSync(join(tmpdir(), 'jasmorphe-corners-'));
    folder = join(root, 'data');
    const server = await startServer({ dataFolder: folder, port: 0 });
    const client = new KitClient(() => server);
    await client.importedCube('mm', ownCube(61));
    const { body: twin } = await client.call<{ id: string }>('POST', '/api/projects', { name: 'Carnyx' });
    await client.call('POST', '/api/projects', { name: 'Carnyx' });
    await client.importedCube('mm', ownCube(62), twin.id);
    await behindItsBack(server, `update models set terms = 'cc-by-nd' where project_id = '${twin.id}'`);
    await server.stop();
  });
  after(() => rmSync(root, { recursive: true, force: true }));

  it('a project is packed by its name, if one alone has it; a pack that fails leaves no half of one', async () => {
    const to = join(root, 'test.pack');
    expect((await packFrom(folder, 'Test', to, false)).bytes).above(500);
    expect(await saying(() => packFrom(folder, 'Carnyx', join(root, 'no.pack'), false))).match(
      /^cannot: 2 projects are called "Carnyx"/,
    );
    expect(await saying(() => packFrom(folder, 'Newt', join(root, 'no.pack'), false))).match(/^cannot: .*Newt/);
    mkdirSync(join(root, 'taken'));
    expect(await saying(() => packFrom(folder, 'Test', join(root, 'taken'), false))).match(/^E[A-Z]+: /);
    expect(readdirSync(root).sort()).eql(['data', 'taken', 'test.pack']);
  });

  it('unpacked into a new folder it is the same; an archive that is none leaves nothing there', async () => {
    const fresh = join(root, 'fresh');
    expect(await saying(() => unpackInto(fresh, join(root, 'none.pack')))).match(/^cannot: .* there is no such file/);
    writeFileSync(join(root, 'letter.pack'), 'Dear reader');
    expect(await saying(() => unpackInto(fresh, join(root, 'letter.pack')))).match(/^bad-archive: /);
    const { projectId } = await unpackInto(fresh, join(root, 'test.pack'));
    const server: RunningServer = await startServer({ dataFolder: fresh, port: 0 });
    const client = new KitClient(() => server);
    const { body: projects } = await client.call<ProjectView[]>('GET', '/api/projects');
    expect(projects.map((p) => [p.id, p.name])).eql([[projectId, 'Test']]);
    await server.stop();
    rmSync(join(root, 'letter.pack'));
  });

  it('what is no data folder is not backed up as one', async () => {
    expect(await saying(() => backUpFolder(join(root, 'taken'), join(root, 'copy'), () => undefined))).match(
      /^cannot: There is no jasmorphe\.db/,
    );
  });

  it('the doctor looks a folder over that cannot be written, and mends none in words of the database', async () => {
    const closed = join(root, 'closed');
    cpSync(folder, closed, { recursive: true });
    // a folder in the place of the file is as good as a disk that takes nothing
    rmSync(join(closed, 'lock.db'), { force: true });
    mkdirSync(join(closed, 'lock.db'));
    expect(await examine(closed, false)).eql([]);
    const refused: unknown = await examine(closed, true).catch((error: unknown) => error);
    expect((refused as Error).message)
      .match(/The data folder cannot be written.*closed/s)
      .not.match(/SQLITE/);
    expect(troubleOf(refused)?.code).equal('read-only');
  });

  it('the doctor says which jobs were cut off, and puts them back into the queue when asked to', async () => {
    const server = await startServer({ dataFolder: folder, port: 0 });
    const [{ id: projectId }] = await server.library.shelf.projects();
    await server.stop();
    await behindItsBack(
      { options: { dataFolder: folder } } as RunningServer,
      `insert into jobs (id, kind, title, project_id, payload, state, progress, phase, created_at) values ('cut', 'import', 'Read', '${projectId}', '{}', 'running', 0, '', '2026-11-20')`,
    );
    const looked = await examine(folder, false);
    expect(looked.map((p) => [p.code, p.mended])).eql([['job-cut-off', false]]);
    const mended = await examine(folder, true);
    expect(mended.map((p) => [p.code, p.mended])).eql([['job-cut-off', true]]);
    expect(await examine(folder, false)).eql([]);
    await behindItsBack({ options: { dataFolder: folder } } as RunningServer, "delete from jobs where id = 'cut'");
  });

  it('a page is served with its parts, every address of the application leads to it, and no file outside it', async () => {
    const web = join(root, 'web');
    mkdirSync(join(web, 'assets'), { recursive: true });
    writeFileSync(join(web, 'index.html'), '<title>Jasmorphe</title>');
    writeFileSync(join(web, 'assets', 'main.js'), 'export {};');
    const server = await startServer({ dataFolder: folder, port: 0, webFolder: web });
    const get = (path: string) => fetch(server.address + path);
    for (const path of ['/', '/project/x/mend', '/days'])
      expect(await (await get(path)).text(), path).match(/Jasmorphe/);
    const asset = await get('/assets/main.js');
    expect(asset.headers.get('cache-control')).match(/immutable/);
    const missing = await get('/assets/gone.js');
    expect([missing.status, ((await missing.json()) as ErrorBody).error.code]).eql([404, 'not-found']);
    expect((await get('/assets/..%2f..%2fdata%2fjasmorphe.db')).status).equal(404);
    await server.stop();
  });
});
