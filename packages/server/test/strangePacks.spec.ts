import { expect } from 'chai';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { DaysView } from '@jasmorphe/contracts/dayViews';
import type { ErrorBody, PrinterView, SpoolView } from '@jasmorphe/contracts/views';
import { behindItsBack, ownCube } from './client.ts';
import { laidServer } from './laidClient.ts';

type Rows = Record<string, Record<string, unknown>[]>;

describe('packs from strangers, and odd rows', () => {
  const at = laidServer();
  const { client } = at;

  const packOf = async (projectId: string) =>
    unzipSync(new Uint8Array(await (await fetch(`${at.server.address}/api/projects/${projectId}/pack`)).arrayBuffer()));
  const rowsOf = (files: Record<string, Uint8Array>) =>
    (JSON.parse(Buffer.from(files['pack.json']).toString()) as { rows: Rows }).rows;
  /** The pack with its rows changed. */
  const changed = (files: Record<string, Uint8Array>, change: (rows: Rows) => void, more: object = {}): Uint8Array => {
    const list = JSON.parse(Buffer.from(files['pack.json']).toString()) as { rows: Rows };
    change(list.rows);
    return zipSync({ ...files, ...more, 'pack.json': strToU8(JSON.stringify(list)) }, { level: 1 });
  };
  const unpack = (bytes: Uint8Array) => {
    const form = new FormData();
    form.append('file', new Blob([bytes as BlobPart]), 'mask.jasmorphe.zip');
    return client.call<{ projectId: string } & ErrorBody>('POST', '/api/projects/unpack', form);
  };
  const forget = async (projectId: string) => {
    await client.call('DELETE', `/api/projects/${projectId}?forever=yes`);
    await at.server.library.collect(-1000);
  };

  it('results that a pack plants are its own: no other project takes them for known, and no other mesh is told of by it', async () => {
    const [wanted, other] = [ownCube(301), ownCube(640)];
    const { projectId, id } = await client.importedCube('mm', wanted);
    await client.step(id, 'size', { factor: 2 });
    const { facts } = (await client.body(id)).mesh;
    await client.importedCube('mm', other, projectId);
    const files = await packOf(projectId);
    await forget(projectId);
    const planted = changed(files, (rows) => {
      const size = rows.steps.find((s) => s.operation === 'size')!;
      const reads = rows.steps.filter((s) => s !== size).map((s) => (s.outputs as string[])[0]);
      size.outputs = [reads.find((hash) => hash !== (size.inputs as string[])[0])];
      for (const m of rows.meshes) (m.facts as { volumeMm3: number }).volumeMm3 = 12_345;
    });
    const there = await unpack(planted);
    expect(there.status, JSON.stringify(there.body)).equal(201);
    const mine = await client.importedCube('mm', wanted);
    await client.step(mine.id, 'size', { factor: 2 });
    expect((await client.body(mine.id)).mesh.facts).eql(facts);
    // packed once more it is as it was, and its steps are still known as its own
    const again = await unpack(changed(await packOf(there.body.projectId), () => undefined));
    expect(again.status, JSON.stringify(again.body)).equal(201);
    // a pack that is true is known here: what it holds is not worked out anew
    const known = await packOf(mine.projectId);
    const back = await unpack(changed(known, () => undefined));
    const stepsOf = async (projectId: string) => rowsOf(await packOf(projectId)).steps.map((s) => s.id);
    expect(await stepsOf(back.body.projectId)).eql(await stepsOf(mine.projectId));
  });

  it('rows that no page could have made are damage: names, copies, days, ids that stand twice', async () => {
    const printer = await client.widePrinter();
    const { projectId, work, keep } = await client.laidSlabs(printer);
    await keep(await work());
    await client.call('POST', `/api/projects/${projectId}/notes`, { text: 'Lining of 8 mm.' });
    const files = await packOf(projectId);
    const before = (await client.call<object[]>('GET', '/api/projects')).body.length;
    const first = (table: string, change: object) => (rows: Rows) => void Object.assign(rows[table][0], change);
    for (const [what, change] of [
      ['a name without letters', first('projects', { name: '' })],
      ['a name of 201 letters', first('projects', { name: 'x'.repeat(201) })],
      ['a name that ends early', first('projects', { name: 'Heron\0mask' })],
      ['a name of 5 MB', first('models', { name: 'x'.repeat(5e6) })],
      ['a day that there is not', first('projects', { dueOn: '2026-99-99' })],
      ['a time that is none', first('models', { createdAt: 'soon' })],
      ['so many copies', first('models', { copies: 9e9 })],
      ['a printer of 300 letters', (rows) => ((rows.printers[0].profile as { name: string }).name = 'p'.repeat(300))],
      ['a bedful for a printer of that name', first('bedfuls', { printerName: 'p'.repeat(300) })],
      ['a note twice', (rows) => rows.attachments.push(rows.attachments[0])],
      ['a piece and a note of one id', (rows) => (rows.attachments[0].id = rows.models[0].id)],
      ['a state of a line twice', (rows) => rows.lineStates.push({ ...rows.lineStates[0], cursor: 1 })],
      ['a part that its divide did not make', first('parts', { position: -1 })],
      ['a part that another of its divide is', (rows) => (rows.parts[0].meshHash = rows.parts[1].meshHash)],
      ['a mesh twice', (rows) => rows.meshes.push(rows.meshes[0])],
    ] as [string, (rows: Rows) => void][]) {
      const { status, body } = await unpack(changed(files, change));
      expect([status, body.error?.code], what).eql([400, 'pack-damaged']);
    }
    expect((await client.call<object[]>('GET', '/api/projects')).body.length).equal(before);
    expect((await unpack(changed(files, () => undefined))).status).equal(201);
  });

  it('a pack that swells is refused by its list, before it is unpacked, and leaves nothing', async () => {
    const { projectId } = await client.importedCube('mm', ownCube(88));
    const files = await packOf(projectId);
    const mesh = Object.keys(files).find((f) => f.startsWith('meshes/'))!;
    const swollen = changed(files, () => undefined, { [mesh]: new Uint8Array(20 * 2 ** 20) });
    const { status, body } = await unpack(swollen);
    expect([status, body.error.code]).eql([400, 'pack-damaged']);
    expect(body.error.message).match(/not as large as its list says/);
    const far = changed(files, () => undefined, { 'sources/more/zeros': new Uint8Array(2 ** 26) });
    expect((await unpack(far)).body.error.code).equal('archive-too-large');
    expect(readdirSync(join(at.folder, 'incoming'))).eql([]);
  });

  it('one odd row of long ago is named and left out, and Days, calendar and books are there for all others', async () => {
    const printer = await client.widePrinter();
    const { projectId, work, keep } = await client.laidSlabs(printer);
    await keep(await work());
    const odd = await client.ownPrinter();
    const material = { name: 'Grey', kind: 'filament', densityGCm3: 1.24, pricePerKg: 20 };
    const { id: materialId } = (await client.call<{ id: string }>('POST', '/api/materials', material)).body;
    const spool = { name: 'Grey 1', materialId, grossG: 1250, emptyG: 250 };
    const { id: spoolId } = (await client.call<SpoolView>('POST', '/api/spools', spool)).body;
    await behindItsBack(
      at.server,
      `UPDATE printers SET profile = json_set(profile, '$.name', '${'p'.repeat(300)}') WHERE id = '${odd.id}'`,
      `UPDATE spools SET name = '' WHERE id = '${spoolId}'`,
      `UPDATE projects SET name = '${'x'.repeat(250)}' WHERE id = '${(await client.laidSlabs(printer)).projectId}'`,
    );
    const torn = await client.laidSlabs(printer);
    await behindItsBack(at.server, `UPDATE parts SET position = -1 WHERE model_id = '${torn.id}'`);
    const shelf = await client.call<object[]>('GET', '/api/projects');
    expect(shelf.status, JSON.stringify(shelf.body)).equal(200);
    const read = await client.call<ErrorBody>('GET', `/api/bodies/${torn.id}`);
    expect([read.status, read.body.error.code]).eql([500, 'database-damaged']);
    await client.call('DELETE', `/api/projects/${torn.projectId}?forever=yes`);
    const days = await client.call<DaysView>('GET', '/api/days');
    expect(days.status, JSON.stringify(days.body)).equal(200);
    expect(days.body.plan.days.length).above(0);
    expect(days.body.leftOut.join(' ')).match(
      /One of the printers is left out, "p+": .*One of the spools is left out, ""/,
    );
    expect((await fetch(`${at.server.address}/api/days/calendar.ics`)).status).equal(200);
    expect((await fetch(`${at.server.address}/api/projects/${projectId}/book/tables`)).status).equal(200);
    // put right where it stands, it is planned with
    const again = { ...odd.profile, name: 'Odd' };
    expect((await client.call<PrinterView>('PUT', `/api/printers/${odd.id}`, again)).status).equal(200);
  });
});
