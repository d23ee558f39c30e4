import { expect } from 'chai';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BatchAnswers, BatchView, KitView } from '@jasmorphe/contracts/kitViews';
import type { BodyView, ErrorBody, JobView, ProjectSummary } from '@jasmorphe/contracts/views';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { gatherKit } from '@jasmorphe/server/kit/gatherKit';
import { BlobStore, hashOfFile } from '@jasmorphe/server/store/BlobStore';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { behindItsBack, cube, ownCube } from './client.ts';
import { boxFile, KitClient, type Files } from './kitClient.ts';
import { startServer } from './ownServer.ts';

let folder: string;
let server: RunningServer;
const client = new KitClient(() => server);
const call = client.call.bind(client);
const drop = client.drop.bind(client);
const read = client.read.bind(client);
const batch = client.batch.bind(client);
const { newProject, body, kitOf } = client;

describe('kits', function () {
  this.timeout(120_000);
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-kits-'));
    server = await startServer({ dataFolder: join(folder, 'data'), port: 0, uploadLimitBytes: 3 * 2 ** 20 });
  });
  after(async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  it('sixty files with variants, copies, broken ones and an archive come in at one go, within a minute', async () => {
    const projectId = await newProject();
    const files: Files = {};
    for (let i = 0; i < 50; i++)
      files[`hull/rib${String(i).padStart(2, '0')}.stl`] = boxFile([20 * i, 0, 0], [20 * i + 15, 30 + i, 10]);
    files['hull/jaw_open.stl'] = boxFile([0, 100, 0], [40, 150, 20]);
    files['hull/jaw_shut.stl'] = boxFile([0, 100, 0], [40, 152, 21]);
    files['hull/wheel_left.stl'] = boxFile([0, 200, 0], [30, 210, 30]);
    files['hull/wheel_right.stl'] = boxFile([0, 300, 0], [30, 310, 30]);
    files['hull/rivet.stl'] = boxFile([500, 500, 0], [503, 503, 2]);
    files['hull/rivet again.stl'] = files['hull/rivet.stl'];
    files['hull/empty.stl'] = new Uint8Array();
    files['hull/broken.stl'] = cube.subarray(0, 200);
    files['hull/more.zip'] = zipSync({
      'more/guard.stl': boxFile([0, 400, 0], [25, 425, 25]),
      'more/deep/er/pin.stl': boxFile([0, 450, 0], [5, 455, 40]),
      'more/README.txt': new TextEncoder().encode('Print the jaw with a brim.'),
      '__MACOSX/._guard.stl': new Uint8Array([1]),
      'more/inner.zip': zipSync({ 'x.stl': new Uint8Array(cube) }),
      'more/zero.stl': new Uint8Array(),
    });
    files['hull/look.png'] = new Uint8Array([137, 80, 78, 71]);
    const before = performance.now();
    const { drop: said, kit, batch: done } = await read(projectId, files);
    expect(performance.now() - before).below(60_000);
    // 50 ribs, two jaws, two wheels, one rivet, guard and pin
    expect(kit.pieces.length).equal(57);
    expect([done.done, done.failed, done.open]).eql([57, 1, 0]);
    expect(said.kept).equal(2);
    const why = new Map(done.refused.map((f) => [f.file.split('/').pop(), f.message]));
    expect([...why.keys()].sort()).eql(['broken.stl', 'empty.stl', 'inner.zip', 'zero.stl']);
    expect(why.get('empty.stl')).equal('The file is empty.');
    expect(why.get('inner.zip')).match(/archive within an archive/);
    expect(kit.pieces.find((p) => p.name.startsWith('rivet'))!.copies).equal(2);
    expect(kit.variants.map((g) => [g.name, g.ids.length, g.decided])).eql([['jaw', 2, false]]);
    expect([kit.unit!.unit, kit.oddUnits, kit.frame.shared]).eql(['mm', [], true]);
    const project = (await call<ProjectSummary[]>('GET', '/api/projects')).body.find((p) => p.id === projectId)!;
    expect(project.pieces).equal(57);

    // the same again: all known; new bytes under an old name: a version
    files['hull/rib00.stl'] = boxFile([0, 0, 0], [16, 31, 11]);
    const again = (await drop(projectId, files)).body;
    expect([again.known.length, again.versions.map((v) => v.file)]).eql([57, ['hull/rib00.stl']]);
    await server.queue.idle();
    expect((await kitOf(projectId)).pieces.length).equal(57);
  });

  it('a new version of a file keeps the work that was done, and undo brings the old one back', async () => {
    const projectId = await newProject();
    await read(projectId, { 'a.stl': boxFile([0, 0, 0], [10, 20, 30]) });
    const [{ id }] = (await kitOf(projectId)).pieces;
    await client.step(id, 'size', { factor: 2 });
    const { versions } = (await drop(projectId, { 'a.stl': boxFile([0, 0, 0], [11, 20, 30]) })).body;
    expect(versions.map((v) => v.bodyId)).eql([id]);
    // it may as well be a piece of its own, and is one where it comes in another folder
    const own = { sourceHash: versions[0].sourceHash, fileName: 'a.stl' };
    expect((await client.ended(await call<JobView>('POST', `/api/projects/${projectId}/pieces`, own))).state).equal(
      'done',
    );
    const added = (await kitOf(projectId)).pieces.find((p) => p.id !== id)!;
    await call('DELETE', `/api/bodies/${added.id}`);
    const done = await client.ended(
      await call<JobView>('POST', `/api/bodies/${id}/version`, {
        sourceHash: versions[0].sourceHash,
        fileName: versions[0].file,
      }),
    );
    expect(done.state, JSON.stringify(done.error)).equal('done');
    expect((await body(id)).mesh.facts.size).eql({ x: 22, y: 40, z: 60 });
    expect((await call<BodyView>('POST', `/api/bodies/${id}/undo`)).body.mesh.facts.size.x).equal(20);
    // what is changed now is changed in the old file, which the line begins with
    await client.ended(await call<JobView>('PUT', `/api/bodies/${id}/steps/1`, { params: { factor: 3 } }));
    expect((await body(id)).mesh.facts.size.x).equal(30);
    expect(
      (await call('POST', `/api/bodies/${id}/version`, { sourceHash: 'a'.repeat(64), fileName: 'x.stl' })).status,
    ).above(399);
  });

  it('one unit for the kit: small pieces of a kit in metres are not read as inches', async () => {
    const projectId = await newProject();
    const { kit } = await read(projectId, {
      'hull.stl': boxFile([0, 0, 0], [1.8, 0.4, 0.6]),
      'beam.stl': boxFile([0, 1, 0], [2.9, 1.1, 0.1]),
      // by itself 4 across would be taken for inches
      'mast.stl': boxFile([0, 2, 0], [0.2, 2.2, 2.4]),
    });
    expect(kit.unit!.unit).equal('m');
    expect(kit.pieces.map((p) => p.unit)).eql(['m', 'm', 'm']);
    const mixed = await newProject();
    const { kit: inches } = await read(mixed, {
      'shell.stl': boxFile([0, 0, 0], [14, 9, 8]),
      'bolt.stl': boxFile([0, 20, 0], [2, 21, 1]),
    });
    // the bolt alone would be two metres long
    expect(inches.unit!.unit).equal('in');
    expect(inches.pieces.map((p) => [p.name, p.unit, Math.round(p.size.x)])).eql([
      ['shell', 'in', 356],
      ['bolt', 'in', 51],
    ]);
    expect(inches.oddUnits).eql([]);
  });

  it('a factor for all, seen before it is done, taken back as one; what was changed since stays', async () => {
    const projectId = await newProject();
    const { kit } = await read(projectId, {
      'a.stl': boxFile([0, 0, 0], [10, 10, 10]),
      'b.stl': boxFile([20, 0, 0], [40, 10, 10]),
      'c.stl': boxFile([50, 0, 0], [60, 10, 10]),
    });
    const ids = kit.pieces.map((p) => p.id);
    const dry = (await batch(projectId, 'size', { factor: 3 }, ids, true)).body;
    await server.queue.idle();
    const { answers } = (await call<BatchAnswers>('GET', `/api/batches/${dry.id}/answers`)).body;
    expect(answers.map((a) => [a.name, a.state, (a.step!.report as { size: { x: number } }).size.x])).eql([
      ['a', 'done', 30],
      ['b', 'done', 60],
      ['c', 'done', 30],
    ]);
    expect((await kitOf(projectId)).pieces.map((p) => p.size.x)).eql([10, 20, 10]);
    const { id } = (await batch(projectId, 'size', { factor: 3 }, ids)).body;
    await server.queue.idle();
    expect((await kitOf(projectId)).pieces.map((p) => p.size.x)).eql([30, 60, 30]);
    // sized again it is the factor that changes, not a second one on top
    await batch(projectId, 'size', { factor: 4 }, [ids[2]]);
    await server.queue.idle();
    expect((await body(ids[2])).line.map((s) => s.operation)).eql(['import', 'size']);
    // to try it first, a piece is fetched at its file's own size
    const fetched = async (size: string) =>
      (await fetch(`${server.address}/api/bodies/${ids[1]}/export?format=stl&size=${size}`)).arrayBuffer();
    const lengthOf = (file: ArrayBuffer) => sizeOf(boundsOf(readMesh(new Uint8Array(file)).mesh))[0];
    expect([lengthOf(await fetched('own')), lengthOf(await fetched('now'))]).eql([20, 60]);
    const undone = (await call<{ undone: string[]; kept: string[] }>('POST', `/api/batches/${id}/undo`)).body;
    expect([undone.undone, undone.kept]).eql([ids.slice(0, 2), [ids[2]]]);
    expect((await kitOf(projectId)).pieces.map((p) => p.size.x)).eql([10, 20, 40]);
    expect((await call<ErrorBody>('POST', `/api/batches/${id}/undo`)).body.error.code).equal('nothing-to-undo');
    expect((await batch(projectId, 'size', { factor: 0 }, ids)).status).equal(400);
    expect((await batch(await newProject(), 'size', { factor: 2 }, ids)).status).equal(404);
  });

  it('sixty mends cancelled half-way: those done stay and can be taken back, the others are as they were', async () => {
    const projectId = await newProject();
    const files: Files = {};
    for (let i = 0; i < 60; i++) files[`p${i}.stl`] = ownCube(i + 1);
    const { kit } = await read(projectId, files);
    expect(kit.pieces.length).equal(60);
    const ids = kit.pieces.map((p) => p.id);
    const { id } = (await batch(projectId, 'mend', {}, ids)).body;
    for (;;) {
      const { done } = (await call<BatchView>('GET', `/api/batches/${id}`)).body;
      if (done >= 10) break;
      await new Promise((r) => setTimeout(r, 20));
    }
    const ended = (await call<BatchView>('POST', `/api/batches/${id}/cancel`)).body;
    expect([ended.open, ended.done + ended.cancelled + ended.failed, ended.failed]).eql([0, 60, 0]);
    expect(ended.cancelled).above(0);
    const lines = await Promise.all(ids.map(async (bodyId) => (await body(bodyId)).line.length));
    expect(lines.filter((n) => n === 2).length).equal(ended.done);
    expect(lines.filter((n) => n === 1).length).equal(60 - ended.done);
    expect((await kitOf(projectId)).pieces.every((p) => p.busyJobId === null)).equal(true);
    await call('POST', `/api/batches/${id}/undo`);
    expect((await Promise.all(ids.map(async (b) => (await body(b)).line.length))).every((n) => n === 1)).equal(true);
  });

  it('one that fails does not stop the others; one with printed parts is left to its own stop', async () => {
    const projectId = await newProject();
    const { kit } = await read(projectId, {
      'whole.stl': boxFile([0, 0, 0], [40, 40, 40]),
      'sheet.stl': cube.subarray(0, 84 + 50 * 2).map((b, i) => (i === 80 ? 2 : b)),
      'printed.stl': boxFile([50, 0, 0], [80, 30, 30]),
    });
    const id = (name: string) => kit.pieces.find((p) => p.name === name)!.id;
    await client.step(id('printed'), 'divide', { bed: [100, 100, 100] });
    const [part] = (await body(id('printed'))).parts;
    await call('POST', `/api/projects/${projectId}/log`, { partId: part.id, outcome: 'passed' });
    // a part is no piece
    expect((await batch(projectId, 'mend', {}, [part.id])).body.refused[0].message).match(/at its own stop/);
    const { id: batchId } = (
      await batch(
        projectId,
        'hollow',
        { wall: 4 },
        kit.pieces.map((p) => p.id),
      )
    ).body;
    await server.queue.idle();
    const done = (await call<BatchView>('GET', `/api/batches/${batchId}`)).body;
    expect([done.done, done.failed, done.refused.length]).eql([1, 1, 2]);
    expect(done.refused.find((r) => r.file === 'printed')!.message).match(/1 part of it/);
  });

  it('a piece whose record is torn takes none of the others with it', async () => {
    const projectId = await newProject();
    const { kit } = await read(projectId, { 'a.stl': ownCube(11), 'b.stl': ownCube(12) });
    const [{ id }] = kit.pieces;
    await behindItsBack(server, `UPDATE line_states SET step_ids = '["gone"]' WHERE body_id = '${id}'`);
    const torn = await kitOf(projectId);
    expect([torn.pieces.map((p) => p.name), torn.trouble]).eql([
      ['b'],
      '1 piece cannot be read. "jasmorphe doctor" tells more.',
    ]);
    const { refused, total } = (await batch(projectId, 'mend', {}, [id, torn.pieces[0].id])).body;
    expect([refused.length, total]).eql([1, 1]);
  });

  it('variants: one is chosen and the others are set aside, or all are printed', async () => {
    const projectId = await newProject();
    const { kit } = await read(projectId, {
      'head_horned.stl': boxFile([0, 0, 0], [30, 30, 40]),
      'head_bare.stl': boxFile([0, 0, 0], [30, 30, 38]),
      'arm_left.stl': boxFile([40, 0, 0], [50, 10, 40]),
      'arm_right.stl': boxFile([-50, 0, 0], [-40, 10, 40]),
      'plate1.stl': boxFile([0, 50, 0], [10, 60, 2]),
      'plate2.stl': boxFile([0, 50, 0], [10, 60, 2.1]),
    });
    expect(kit.variants.map((g) => g.name)).eql(['head']);
    const { ids } = kit.variants[0];
    const chosen = (await call<KitView>('POST', `/api/projects/${projectId}/variants`, { ids, chosen: ids[1] })).body;
    expect(ids.map((id) => chosen.pieces.find((p) => p.id === id)!.aside)).eql(['head_bare is printed instead', null]);
    expect(chosen.variants[0].decided).equal(true);
    const all = (await call<KitView>('POST', `/api/projects/${projectId}/variants`, { ids })).body;
    expect([all.pieces.every((p) => p.aside === null), all.variants[0].decided]).eql([true, true]);
    expect((await call('POST', `/api/projects/${projectId}/variants`, { ids: ['nobody'] })).status).equal(404);
  });

  it('archives that are no kits are told in words: bombs, locked, cut off, twins in case, other scripts', async () => {
    const bomb = zipSync({ 'x.stl': new Uint8Array(90 * 2 ** 20) }, { level: 1 });
    const projectId = await newProject();
    const { kit, batch: done } = await read(projectId, {
      'bomb.zip': bomb,
      'cut.zip': zipSync({ 'x.stl': new Uint8Array(cube) }).subarray(0, 60),
      'not.zip': new TextEncoder().encode('no archive at all'),
      'void.zip': zipSync({}),
      'twins.zip': zipSync({
        'Wheel.stl': ownCube(1),
        'wheel.stl': ownCube(2),
        'ручка.stl': ownCube(3),
        '鎧/肩.stl': ownCube(4),
        '../../etc/out.stl': ownCube(5),
      }),
    });
    expect(kit.pieces.map((p) => p.path).sort()).eql(
      ['Wheel.stl', 'etc/out.stl', 'wheel.stl', 'ручка.stl', '鎧/肩.stl'].sort(),
    );
    const why = new Map(done.refused.map((f) => [f.file, f.message]));
    expect(why.get('bomb.zip')).match(/unpacks to more than 200 times its size/);
    expect(why.get('cut.zip')).match(/cannot be read/);
    expect(why.get('not.zip')).match(/cannot be read/);
    expect(why.get('void.zip')).equal('The archive is empty.');
    // what a job still writes passes through there too, for as long as that takes
    const left = () => readdirSync(join(folder, 'data', 'incoming'));
    for (let i = 0; i < 100 && left().length > 0; i++) await new Promise((resolve) => setTimeout(resolve, 100));
    expect(left()).eql([]);
  });

  it('random archives are sorted or refused in words, never worse', async () => {
    const blobs = new BlobStore(join(folder, 'random'));
    const name = fc.oneof(
      fc.string({ unit: 'binary', minLength: 1, maxLength: 30 }),
      fc.constantFrom(
        'a.stl',
        'A.STL',
        '../x.stl',
        'b.zip',
        'n.txt',
        'p.png',
        '/abs.stl',
        'C:\\x.stl',
        '.stl',
        'd/',
        'é.stl',
      ),
    );
    const entries = fc.dictionary(name, fc.uint8Array({ maxLength: 60 }), { maxKeys: 8 });
    await fc.assert(
      fc.asyncProperty(entries, fc.array(fc.tuple(fc.nat(), fc.nat(255)), { maxLength: 3 }), async (inside, flips) => {
        let bytes: Uint8Array;
        try {
          bytes = zipSync({ ...inside });
        } catch {
          // names that the packer itself will not take
          return;
        }
        for (const [at, to] of flips) bytes[at % bytes.length] = to;
        const temporary = blobs.incomingPath();
        writeFileSync(temporary, bytes);
        const unpacked: string[] = [];
        const given = [{ path: 'random.zip', hash: '', bytes: bytes.length, temporary }];
        const found = await gatherKit(blobs, given, unpacked);
        rmSync(temporary);
        for (const f of [...found.meshes, ...found.photos, ...found.notes]) {
          expect(f.path).not.match(/(^|\/)\.\.(\/|$)|^\/|\\/);
          expect(await hashOfFile(f.temporary)).equal(f.hash);
          expect(unpacked).include(f.temporary);
        }
        for (const path of unpacked) rmSync(path);
        for (const r of found.refused) expect(r.message.length).above(10);
        expect(readdirSync(join(folder, 'random', 'incoming'))).eql([]);
      }),
      { numRuns: 150, seed: 1 },
    );
  });
});
