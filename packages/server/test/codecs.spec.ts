import { expect } from 'chai';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { BatchView } from '@jasmorphe/contracts/kitViews';
import type { ErrorBody, StepView } from '@jasmorphe/contracts/views';
import { operationNames, descriptionOf } from '@jasmorphe/core/operations/catalogue';
import type { PackedProject } from '@jasmorphe/server/pack/PackedProject';
import { codecs } from '@jasmorphe/server/store/codecs';
import { neededBy, payloads, type JobKindName } from '@jasmorphe/server/store/payloads';
import { behindItsBack, ownCube } from './client.ts';
import { KitClient } from './kitClient.ts';
import { ownServer } from './ownServer.ts';

const hashOf = (digit: string): string => digit.repeat(64);
const [a, b, c, d] = ['a', 'b', 'c', 'd'].map(hashOf);

describe('what is kept as JSON', () => {
  const at = ownServer();
  const client = new KitClient(() => at.server);

  it('each kind of job says what it cannot be done without, and nothing that only looks like it', () => {
    const places = { places: [], parts: [b, c] };
    const cases: Record<JobKindName, [payload: object, meshes: string[], sources: string[]]> = {
      import: [{ projectId: 'p', sourceHash: a, fileName: `${d}.stl`, licence: '' }, [], [a]],
      line: [
        {
          bodyId: 'x',
          from: 0,
          planned: [{ operation: 'whereabouts', params: places }],
          source: { hash: a, name: `${d}.stl` },
        },
        [b, c],
        [a],
      ],
      replay: [{ bodyId: d, from: 0, planned: [{ operation: 'clearance', params: { scan: b } }] }, [b], []],
      preview: [{ bodyId: 'x', inputs: [a, b], operation: 'fit', params: { note: d } }, [a, b], []],
      sample: [{ bodyId: 'x', input: a, params: {} }, [a], []],
      reference: [{ modelId: 'x', name: d, made: { sourceHash: a, fileName: '', unit: 'mm' } }, [], [a]],
    };
    expect(Object.keys(cases)).eql(Object.keys(payloads));
    for (const [kind, [payload, meshes, sources]] of Object.entries(cases)) {
      const needed = neededBy(kind as JobKindName, payload);
      expect([needed.meshes ?? [], needed.sources ?? []], kind).eql([meshes, sources]);
    }
    // one that cannot be read fails as soon as it begins
    expect(neededBy('line', { planned: 7 })).eql({});
    expect(neededBy('sample', null)).eql({});
  });

  it('fields that came later have their defaults; what a newer version made is refused where it is read', () => {
    for (const name of operationNames) {
      const { version } = descriptionOf(name);
      expect(() => codecs.params.read({}, { operation: name, version })).not.throw();
      for (const codec of [codecs.params, codecs.report])
        expect(() => codec.read({}, { operation: name, version: version + 1 }), name).throw(
          `a step of "${name}" of version ${version + 1}`,
        );
    }
    // there is no such operation any more: as it was kept
    expect(codecs.report.read({ old: 1 }, { operation: 'gone', version: 9 })).eql({ old: 1 });
    expect(codecs.facts.read({ findings: [{ code: 'open-1', message: 'Open.' }] }).findings[0]).include({
      kind: 'said-before',
    });
    expect(codecs.profile.read({ name: 'Old' })).include({ name: 'Old', kind: 'filament' });
    expect(codecs.payload.read({ projectId: 'p', sourceHash: a, fileName: 'f' }, 'import')).include({ copies: 1 });
    expect(() => codecs.payload.read({}, 'import')).throw();
  });

  it('a newer step takes its own project alone from the shelf; a pack that holds one is refused as newer', async () => {
    const kept = await client.importedCube();
    const { projectId, id } = await client.importedCube('mm', ownCube(7));
    await client.step(id, 'size', { factor: 2 });
    const answer = await fetch(`${at.server.address}/api/projects/${projectId}/pack`);
    const files = unzipSync(new Uint8Array(await answer.arrayBuffer()));
    const list = JSON.parse(strFromU8(files['pack.json'])) as PackedProject;
    const newer = { ...list.rows, steps: list.rows.steps.map((s) => ({ ...s, version: s.version + 1 })) };
    const form = new FormData();
    const packed = zipSync({ ...files, 'pack.json': strToU8(JSON.stringify({ ...list, rows: newer })) });
    form.append('file', new Blob([packed as BlobPart]), 'newer.zip');
    const { status, body } = await client.call<ErrorBody>('POST', '/api/projects/unpack', form);
    expect([status, body.error.code]).eql([400, 'pack-newer']);
    const [, sized] = (await client.body(id)).line;
    await behindItsBack(at.server, `UPDATE steps SET version = version + 1 WHERE id = '${sized.id}'`);
    const refused = await client.call<ErrorBody>('GET', `/api/bodies/${id}`);
    expect([refused.status, refused.body.error.code]).eql([500, 'database-newer']);
    expect((await client.call('GET', '/api/projects')).status).equal(200);
    expect((await client.call('GET', `/api/bodies/${kept.id}`)).status).equal(200);
    await behindItsBack(at.server, `UPDATE steps SET version = version - 1 WHERE id = '${sized.id}'`);
  });

  it('a batch that looks at pieces beside others gives each step all of its inputs', async () => {
    const { projectId, id } = await client.importedCube('in', ownCube(3));
    const { id: other } = await client.importedCube('in', ownCube(4), projectId);
    const companion = (await client.body(other)).mesh.hash;
    const params = {
      places: [{ name: 'Door', kind: 'pass', widthMm: 760, depthMm: null, heightMm: 1980 }],
      parts: [companion],
    };
    const asked = await client.batch(projectId, 'whereabouts', params, [id], true);
    await at.server.queue.idle();
    const done = (await client.call<BatchView>('GET', `/api/batches/${asked.body.id}`)).body;
    expect([done.done, done.failed]).eql([1, 0]);
    const { body: answers } = await client.call<StepView[]>('GET', `/api/batches/${asked.body.id}/answers`);
    expect(JSON.stringify(answers)).contain(companion);
    // asked for alone it is the same step, and known
    const alone = await client.call<StepView>('POST', `/api/bodies/${id}/previews`, {
      operation: 'whereabouts',
      params,
    });
    expect([alone.status, alone.body.inputs]).eql([200, [(await client.body(id)).mesh.hash, companion]]);
  });

  it('a companion of a step that waits is not collected, and is there when it runs', async () => {
    const { id } = await client.importedCube('in', ownCube(5));
    const { projectId, id: other } = await client.importedCube('in', ownCube(6));
    const { hash } = (await client.body(other)).mesh;
    await client.call('DELETE', `/api/projects/${projectId}?forever=yes`);
    const file = join(at.folder, 'meshes', hash.slice(0, 2), hash);
    const params = { places: [], parts: [hash] };
    const planned = [{ operation: 'whereabouts', params }];
    const job = {
      id: 'waits',
      kind: 'replay',
      title: 'Waits',
      payload: JSON.stringify({ bodyId: id, from: 1, planned }),
    };
    const values = [job.id, job.kind, job.title, job.payload].map((v) => `'${v}'`).join(', ');
    // steps of the project that is gone are old enough to go
    await behindItsBack(
      at.server,
      `UPDATE steps SET created_at = '2020-01-01' WHERE outputs LIKE '%${hash}%'`,
      `INSERT INTO jobs (id, kind, title, payload, state, created_at) VALUES (${values}, 'queued', '2020-01-01')`,
    );
    await at.server.library.collect(-1);
    expect(existsSync(file)).equal(true);
    await behindItsBack(at.server, `DELETE FROM jobs WHERE id = 'waits'`);
    await at.server.library.collect(-1);
    expect(existsSync(file)).equal(false);
  });
});
