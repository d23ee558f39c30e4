import { expect } from 'chai';
import { createClient } from '@libsql/client';
import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import type {
  BodyView,
  ErrorBody,
  JobView,
  LogEntryView,
  ProjectSummary,
  ProjectView,
} from '@jasmorphe/contracts/views';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { cube, ownCube } from './client.ts';
import { boxFile, KitClient } from './kitClient.ts';
import { startServer } from './ownServer.ts';

let folder: string;
let server: RunningServer;
const client = new KitClient(() => server);
const call = client.call.bind(client);
const drop = client.drop.bind(client);
const read = client.read.bind(client);
const { newProject, body, kitOf } = client;

describe('projects', function () {
  this.timeout(120_000);
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-projects-'));
    server = await startServer({ dataFolder: join(folder, 'data'), port: 0 });
  });
  after(async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  const shelf = async () => (await call<ProjectSummary[]>('GET', '/api/projects')).body;
  /** All that a project says of itself, but for its ids and the times at which it was put in. */
  const told = async (projectId: string) => {
    const kit = await kitOf(projectId);
    const ids = new Map<string, string>();
    const bodies: BodyView[] = [];
    for (const p of kit.pieces) bodies.push(await body(p.id));
    bodies.forEach((b, i) => {
      ids.set(b.id, `model${i}`);
      b.parts.forEach((p) => ids.set(p.id, `model${i}-${p.tag}`));
    });
    const log = (await call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    const notes = (
      await call<{ text: string; hash: string | null; bodyId: string | null }[]>(
        'GET',
        `/api/projects/${projectId}/attachments`,
      )
    ).body;
    // a step that came in with a pack has an id that its results are part of
    bodies.forEach((b, i) =>
      [b, ...b.parts].forEach(({ line }, k) => line.forEach((s, j) => ids.set(s.id, `step${i}-${k}-${j}`))),
    );
    return JSON.parse(
      JSON.stringify({
        bodies: bodies.map(({ references, ...b }) => ({ ...b, references: references.map(({ id: _, ...r }) => r) })),
        log: log.map(({ id: _, correctsId, ...e }) => ({ ...e, corrects: correctsId !== null })),
        notes: notes.map(({ text, hash, bodyId }) => ({ text, hash, bodyId })),
      })
        .replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, (id) => ids.get(id) ?? 'project')
        .replace(/[0-9a-f]{64}/g, (hash) => ids.get(hash) ?? hash)
        // looked at anew
        .replace(/"facts":\{"version":\d+/g, '"facts":{"version":"any"'),
    ) as object;
  };

  /** A project with a line, parts, prints, a reason, a note and a photo. */
  async function worked(): Promise<string> {
    const projectId = (await call<ProjectView>('POST', '/api/projects', { name: 'Heron mask', note: 'for the fen' }))
      .body.id;
    const { kit } = await read(projectId, { 'beak.stl': boxFile([0, 0, 0], [60, 20, 20]), 'crest.stl': ownCube(9) });
    const [{ id }, { id: other }] = kit.pieces;
    await client.step(id, 'size', { factor: 2 });
    await client.step(id, 'divide', { bed: [70, 70, 70] });
    await client.step(other, 'mend', {});
    await call('POST', `/api/bodies/${other}/undo`);
    const [a, b] = (await body(id)).parts;
    await call('POST', `/api/projects/${projectId}/log`, { partId: a.id, outcome: 'passed', note: 'first try' });
    await call('POST', `/api/projects/${projectId}/log`, { partId: b.id, outcome: 'failed', heightMm: 12 });
    await call('POST', `/api/projects/${projectId}/notes`, { text: 'Lining of 8 mm.', bodyId: id });
    const photo = new FormData();
    photo.append('text', 'before sanding');
    photo.append('file', new Blob([new Uint8Array([137, 80, 78, 71, 1])]), 'beak.png');
    expect((await call('POST', `/api/projects/${projectId}/photos`, photo)).status).equal(201);
    await call('PATCH', `/api/bodies/${id}`, {
      copies: 2,
      colour: 'grey',
      terms: 'cc-by',
      source: { by: 'the committee' },
    });
    return projectId;
  }
  const packed = async (projectId: string, query = '') => {
    const answer = await fetch(`${server.address}/api/projects/${projectId}/pack${query}`);
    return {
      status: answer.status,
      bytes: new Uint8Array(await answer.arrayBuffer()),
      name: answer.headers.get('content-disposition'),
    };
  };
  const unpackOf = (bytes: Uint8Array) => {
    const form = new FormData();
    form.append('file', new Blob([bytes as BlobPart]), 'mask.jasmorphe.zip');
    return call<{ projectId: string; models: number } & ErrorBody>('POST', '/api/projects/unpack', form);
  };

  it('packed, removed for good and unpacked it is the same: hashes, lines, log, notes; elsewhere too', async () => {
    const projectId = await worked();
    const before = await told(projectId);
    const { bytes, name } = await packed(projectId);
    expect(name).match(/Heron mask\.jasmorphe\.zip/);
    await call('DELETE', `/api/projects/${projectId}?forever=yes`);
    await server.library.collect(-1000);
    const back = (await unpackOf(bytes)).body;
    expect(back.models).equal(2);
    expect(back.projectId).not.equal(projectId);
    expect(await told(back.projectId)).eql(before);
    const other = await startServer({ dataFolder: join(folder, 'elsewhere'), port: 0 });
    const here = server;
    server = other;
    try {
      const there = (await unpackOf(bytes)).body;
      expect(await told(there.projectId)).eql(before);
      // it is worked on there as if it had been made there
      const [piece] = (await kitOf(there.projectId)).pieces;
      await client.ended(
        await call<JobView>('PUT', `/api/bodies/${piece.id}/steps/1`, { params: { factor: 3 }, lose: true }),
      );
      expect((await body(piece.id)).mesh.facts.size.x).equal(180);
    } finally {
      server = here;
      await other.stop();
    }
  });

  /** A pack's list, and the pack with the list changed. */
  const opened = (bytes: Uint8Array) => {
    const files = unzipSync(bytes);
    const list = JSON.parse(Buffer.from(files['pack.json']).toString()) as {
      version: number;
      rows: Record<string, Record<string, unknown>[]>;
    };
    type List = typeof list;
    return {
      files,
      list,
      changed: (change: (l: List) => void) => {
        const copy = structuredClone(list);
        change(copy);
        // as it is: pressing it small would take longer than what it is for
        return zipSync({ ...files, 'pack.json': strToU8(JSON.stringify(copy)) }, { level: 0 });
      },
    };
  };
  /** Everything that a page asks for of all projects is answered. */
  const allAnswers = async () => {
    for (const p of (await shelf()).filter((one) => one.removedAt === null)) {
      expect(p.trouble).equal(null);
      const kit = await call<KitView>('GET', `/api/projects/${p.id}/kit`);
      expect([kit.status, kit.body.trouble]).eql([200, null]);
      for (const { id } of kit.body.pieces) {
        expect((await call('GET', `/api/bodies/${id}`)).status).equal(200);
        expect((await call('GET', `/api/bodies/${id}/findings?stop=print`)).status).equal(200);
      }
      for (const path of ['log', 'attachments'])
        expect((await call('GET', `/api/projects/${p.id}/${path}`)).status).equal(200);
    }
    expect((await call('GET', '/api/printers')).status).equal(200);
  };

  it('a pack that was tampered with is refused in words, and nothing of it is put in', async () => {
    const { bytes } = await packed(await worked());
    const { files, changed } = opened(bytes);
    const count = (await shelf()).length;
    const mesh = Object.keys(files).find((f) => f.startsWith('meshes/'))!;
    const { [mesh]: bent, ...rest } = files;
    const twisted = bent.slice();
    twisted[twisted.length - 1] ^= 1;
    const row = (table: string, change: object) => changed((l) => Object.assign(l.rows[table][0], change));
    const factsAs = (change: object) => changed((l) => Object.assign(l.rows.meshes[0].facts as object, change));
    for (const [what, archive, code] of [
      ['a kit', zipSync({ 'a.stl': new Uint8Array(cube) }), 'no-pack'],
      ['of a later version', changed((l) => (l.version = 99)), 'pack-newer'],
      ['params that the id does not stand for', row('steps', { params: { unit: 'm' } }), 'pack-damaged'],
      ['an operation that there is not', row('steps', { operation: 'melt' }), 'pack-damaged'],
      ['a piece of another project', row('models', { projectId: 'another' }), 'pack-damaged'],
      ['a line of a step that is gone', row('lineStates', { stepIds: ['gone'] }), 'pack-damaged'],
      ['a line that ends nowhere', row('lineStates', { cursor: 99 }), 'pack-damaged'],
      ['a name that is none', row('models', { name: { toString: 1 } }), 'pack-damaged'],
      ['so many copies', row('models', { copies: -3 }), 'pack-damaged'],
      ['a source that is a list', row('models', { source: { by: ['x'] } }), 'pack-damaged'],
      ['no project', changed((l) => (l.rows.projects = [])), 'pack-damaged'],
      ['no facts', row('meshes', { facts: {} }), 'pack-damaged'],
      ['facts of another mesh', factsAs({ max: { x: 1, y: 2, z: 3 } }), 'pack-damaged'],
      ['findings that are none', factsAs({ findings: [{ kind: 'x' }] }), 'pack-damaged'],
      ['triangles that are not there', row('meshes', { triangles: 5 }), 'pack-damaged'],
      ['no report', row('steps', { report: {} }), 'pack-damaged'],
      ['a page for a picture', changed((l) => (l.rows.attachments[1].mediaType = 'text/html')), 'pack-damaged'],
      ['an outcome that there is not', row('logEntries', { outcome: 'melted' }), 'pack-damaged'],
      ['a mesh that is missing', zipSync(rest), 'pack-damaged'],
      ['a mesh with a bit turned', zipSync({ ...rest, [mesh]: twisted }), 'pack-damaged'],
      ['half of it', bytes.subarray(0, bytes.length / 2), 'bad-archive'],
    ] as const) {
      const refused = await unpackOf(archive);
      expect([refused.status, refused.body.error?.code], what).eql([400, code]);
      expect(refused.body.error.message, what).match(/\S.*[.]$/);
    }
    expect((await shelf()).length).equal(count);
    expect(readdirSync(join(folder, 'data', 'incoming'))).eql([]);
    await allAnswers();
  });

  it('a pack changed anywhere is refused in words, or all of it can be shown', async () => {
    const { bytes } = await packed(await worked());
    const { list, changed } = opened(bytes);
    const strange = [null, '', 'x', -1, 1e300, 0.5, true, [], {}, [null], { a: 1 }, 'a'.repeat(64)];
    /** A place in the list, by choices from the outside in. */
    const placeOf = (steer: readonly number[]): [Record<string, unknown>, string] => {
      let at = list as unknown as Record<string, unknown>;
      for (let i = 0; ; i++) {
        const keys = Object.keys(at);
        const key = keys[(steer[i] ?? 0) % keys.length];
        const next = at[key];
        const deeper = typeof next === 'object' && next !== null && Object.keys(next).length > 0;
        if (!deeper || i >= steer.length) return [at, key];
        at = next as Record<string, unknown>;
      }
    };
    let put = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.nat(), { minLength: 3, maxLength: 8 }),
        fc.constantFrom(...strange),
        async (steer, value) => {
          const [at, key] = placeOf(steer);
          const was = at[key];
          at[key] = value;
          const archive = changed(() => undefined);
          at[key] = was;
          const answer = await unpackOf(archive);
          const told = `${key}: ${JSON.stringify(value)}`;
          expect(answer.status, told).oneOf([201, 400]);
          if (answer.status === 400) expect(answer.body.error.message, told).match(/\S.*[.]$/);
          else {
            put++;
            await allAnswers();
            await call('DELETE', `/api/projects/${answer.body.projectId}?forever=yes`);
          }
        },
      ),
      { numRuns: 120, seed: 1 },
    );
    // many a change does no harm: a note, a name, a date
    expect(put).above(0);
  });

  it('unpacked twice it is there twice; what was decided of forms stands, and the log keeps its order', async () => {
    const projectId = await worked();
    const { kit } = await read(projectId, {
      'lid_a.stl': boxFile([0, 100, 0], [10, 110, 10]),
      'lid_b.stl': boxFile([0, 100, 0], [10, 110, 10.5]),
    });
    const [{ ids }] = kit.variants;
    await call('POST', `/api/projects/${projectId}/variants`, { ids });
    // said last, though it happened first
    const [, part] = (await body(kit.pieces[0].id)).parts;
    await call('POST', `/api/projects/${projectId}/log`, { partId: part.id, outcome: 'again' });
    const earlier = { partId: part.id, outcome: 'passed', at: '2020-01-01T00:00:00.000Z' };
    await call('POST', `/api/projects/${projectId}/log`, earlier);
    expect((await body(kit.pieces[0].id)).parts[1].state).equal('printed');
    const before = await told(projectId);
    const { bytes } = await packed(projectId);
    const [one, two] = [(await unpackOf(bytes)).body.projectId, (await unpackOf(bytes)).body.projectId];
    expect(one).not.equal(two);
    for (const id of [one, two]) {
      expect(await told(id)).eql(before);
      expect((await kitOf(id)).variants.map((g) => g.decided)).eql([true]);
    }
    // a form that comes later opens the question again
    const { kit: more } = await read(one, { 'lid_c.stl': boxFile([0, 100, 0], [10, 110, 10.2]) });
    expect(more.variants.map((g) => [g.ids.length, g.decided])).eql([[3, false]]);
  });

  it('a pack that is dropped into a project is told for what it is', async () => {
    const { bytes } = await packed(await worked());
    const answer = await client.drop(await newProject(), { 'renamed.zip': bytes });
    expect(answer.body.refused).eql([
      { file: 'renamed.zip', message: 'This is the pack of a whole project: drop it on the shelf.' },
    ]);
  });

  it('is renamed, noted, archived, copied; taken off the shelf and put back', async () => {
    const projectId = await worked();
    await call('PATCH', `/api/projects/${projectId}`, {
      name: 'Bittern mask',
      note: 'new',
      archived: true,
      terms: 'cc0',
    });
    let mine = (await shelf()).find((p) => p.id === projectId)!;
    expect([mine.name, mine.note, mine.archivedAt === null]).eql(['Bittern mask', 'new', false]);
    await call('PATCH', `/api/projects/${projectId}`, { archived: false });
    const copy = (await call<ProjectView>('POST', `/api/projects/${projectId}/copy`, {})).body;
    expect([copy.name, copy.terms]).eql(['Bittern mask (copy)', 'cc0']);
    expect(await told(copy.id)).eql(await told(projectId));
    expect((await call('DELETE', `/api/projects/${projectId}`)).status).equal(204);
    mine = (await shelf()).find((p) => p.id === projectId)!;
    expect(mine.removedAt).not.equal(null);
    expect((await call<ErrorBody>('GET', `/api/projects/${projectId}`)).body.error.code).equal('removed');
    expect((await drop(projectId, { 'x.stl': new Uint8Array(cube) })).status).equal(404);
    await server.library.collect(-1000);
    expect((await call<ProjectView>('POST', `/api/projects/${projectId}/restore`)).status).equal(200);
    expect((await told(projectId)) as object).eql(await told(copy.id));
    // after thirty days it is gone for good
    await call('DELETE', `/api/projects/${projectId}`);
    expect(await server.library.projects.longGone()).eql([]);
    expect(await server.library.projects.longGone(-1)).include(projectId);
  });

  it('altered files whose terms keep them go out only after a word, and are marked', async () => {
    const projectId = await worked();
    const [{ id }] = (await kitOf(projectId)).pieces;
    const fetched = async (query: string) => {
      const answer = await fetch(`${server.address}/api/bodies/${id}/export?format=stl&what=whole${query}`);
      return [answer.status, answer.headers.get('content-disposition') ?? ''] as const;
    };
    expect((await fetched(''))[0]).equal(200);
    await call('PATCH', `/api/bodies/${id}`, { terms: 'cc-by-nd' });
    expect((await fetched(''))[0]).equal(409);
    const [status, name] = await fetched('&word=yes');
    expect([status, /_altered-not-to-be-passed-on\.stl/.test(name)]).eql([200, true]);
    expect((await packed(projectId)).status).equal(409);
    const { bytes } = await packed(projectId, '?word=yes');
    expect(Buffer.from(unzipSync(bytes)['NOTICE.txt']).toString()).match(/ALTERED, AND NOT TO BE PASSED ON/);
    // as it came it may go out
    await call('POST', `/api/bodies/${id}/cursor`, { cursor: 1, lose: true });
    expect((await fetched(''))[0]).equal(200);
    // terms of the project hold for pieces without their own
    await call('PATCH', `/api/bodies/${id}`, { terms: 'unknown' });
    await call('POST', `/api/bodies/${id}/cursor`, { cursor: 2 });
    await call('PATCH', `/api/projects/${projectId}`, { terms: 'cc-by-nc-nd' });
    expect((await fetched(''))[0]).equal(409);
  });

  it('everything is saved while it is in use, and comes back; a backup that is none is refused', async () => {
    const projectId = await worked();
    const before = await told(projectId);
    const to = join(folder, 'backup');
    const saved = await call<{ projects: number; copied: number; bytes: number }>('POST', '/api/backup', {
      folder: to,
    });
    expect(saved.status, JSON.stringify(saved.body)).equal(201);
    expect(saved.body.copied).above(3);
    // a second one copies what is new alone
    await read(projectId, { 'late.stl': ownCube(77) });
    expect((await call<{ copied: number }>('POST', '/api/backup', { folder: to })).body.copied).within(1, 3);
    await call('DELETE', `/api/projects/${projectId}?forever=yes`);
    const after = await newProject();
    expect((await call('POST', '/api/backup/restore', { folder: to })).status).equal(200);
    const names = (await shelf()).map((p) => p.id);
    expect([names.includes(projectId), names.includes(after)]).eql([true, false]);
    const [late] = (await kitOf(projectId)).pieces.filter((p) => p.name === 'late');
    await call('DELETE', `/api/bodies/${late.id}`);
    expect(await told(projectId)).eql(before);
    // work goes on
    await client.step((await kitOf(projectId)).pieces[0].id, 'mend', {});
    const full = join(folder, 'full');
    mkdirSync(full);
    writeFileSync(join(full, 'thesis.doc'), 'x');
    for (const [path, body2, code] of [
      ['/api/backup', { folder: full }, 'folder-taken'],
      ['/api/backup', { folder: join(folder, 'data') }, 'bad-params'],
      ['/api/backup', { folder: 'here' }, 'bad-params'],
      ['/api/backup/restore', { folder: full }, 'no-backup'],
    ] as const)
      expect((await call<ErrorBody>('POST', path, body2)).body.error.code).equal(code);
    const victim = readdirSync(join(to, 'meshes'), { recursive: true, withFileTypes: true }).find((f) => f.isFile())!;
    // one that is whole here is not missed there
    rmSync(join(victim.parentPath, victim.name));
    expect((await call('POST', '/api/backup/restore', { folder: to })).status).equal(200);
    rmSync(join(folder, 'data', 'meshes', victim.name.slice(0, 2), victim.name));
    const count = (await shelf()).length;
    expect((await call<ErrorBody>('POST', '/api/backup/restore', { folder: to })).body.error.code).equal(
      'backup-damaged',
    );
    expect((await shelf()).length).equal(count);
  });

  it('a backup that was cut off is taken up again; two at once are made one after another', async () => {
    await worked();
    const to = join(folder, 'cut-off');
    await call('POST', '/api/backup', { folder: to });
    // as a kill in the middle of a first one leaves it
    rmSync(join(to, 'backup.json'));
    rmSync(join(to, 'jasmorphe.db'));
    writeFileSync(join(to, 'jasmorphe.db.new'), 'half a database');
    expect((await call<ErrorBody>('POST', '/api/backup/restore', { folder: to })).body.error.code).equal('no-backup');
    const both = await Promise.all([1, 2].map(() => call<{ copied: number }>('POST', '/api/backup', { folder: to })));
    expect(both.map((b) => [b.status, b.body.copied])).eql([
      [201, 0],
      [201, 0],
    ]);
    expect(readdirSync(to).sort()).eql(['backup.json', 'jasmorphe.db', 'meshes', 'sources']);
    expect((await call('POST', '/api/backup/restore', { folder: to })).status).equal(200);
  });

  it('folders that cannot be, and a list that is none, are told in words', async () => {
    const file = join(folder, 'a file');
    writeFileSync(file, 'x');
    const broken = join(folder, 'broken');
    mkdirSync(broken);
    writeFileSync(join(broken, 'backup.json'), '{"format": "jasm');
    writeFileSync(join(broken, 'jasmorphe.db'), 'no database');
    const wrong = join(folder, 'wrong');
    mkdirSync(wrong);
    writeFileSync(join(wrong, 'backup.json'), '{"format": "jasmorphe-backup"}');
    writeFileSync(join(wrong, 'jasmorphe.db'), 'no database');
    for (const [path, where, code] of [
      ['/api/backup', join(file, 'below'), 'cannot'],
      ['/api/backup', file, 'cannot'],
      ['/api/backup/restore', join(folder, 'nowhere'), 'no-backup'],
      ['/api/backup/restore', broken, 'no-backup'],
      ['/api/backup/restore', wrong, 'backup-damaged'],
    ] as const) {
      const { status, body: said } = await call<ErrorBody>('POST', path, { folder: where });
      expect([status, said.error.code], where).eql([400, code]);
    }
    // nothing is left of what was tried
    expect(readdirSync(join(folder, 'data')).filter((f) => f.startsWith('restoring'))).eql([]);
    await allAnswers();
  });

  it('what was there before a backup was put back is beside the data, whole', async () => {
    const projectId = await worked();
    const to = join(folder, 'earlier');
    await call('POST', '/api/backup', { folder: to });
    const later = await newProject();
    const { before } = (await call<{ before: string }>('POST', '/api/backup/restore', { folder: to })).body;
    expect((await call('GET', `/api/projects/${later}`)).status).equal(404);
    const kept = createClient({ url: `file:${before}` });
    const { rows } = await kept.execute('SELECT id FROM projects');
    kept.close();
    expect(rows.map((r) => r.id)).include.members([projectId, later]);
  });
});
