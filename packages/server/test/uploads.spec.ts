import { expect } from 'chai';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { ErrorBody, ProjectView } from '@jasmorphe/contracts/views';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { RunningServer } from '@jasmorphe/server/startServer';
import { ownCube } from './client.ts';
import { KitClient, type Files } from './kitClient.ts';
import { startServer } from './ownServer.ts';

const silenceMs = 300;

describe('what is sent', () => {
  let folder: string;
  let server: RunningServer;
  const client = new KitClient(() => server);
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    server = await startServer({ dataFolder: folder, port: 0, silenceMs });
  });
  after(async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  const filesIn = (kind: string): string[] =>
    readdirSync(join(folder, kind), { recursive: true, withFileTypes: true })
      .filter((f) => f.isFile())
      .map((f) => f.name);

  it('an upload that is refused leaves nothing behind when the answer is given', async () => {
    const projectId = await client.newProject();
    const many: Files = Object.fromEntries(Array.from({ length: 501 }, (_, n) => [`part_${n}.stl`, ownCube(2000 + n)]));
    expect((await client.drop(projectId, many)).status).equal(400);
    expect((await client.drop(projectId, { 'a.stl': ownCube(5) }, { unit: 'furlong' })).status).equal(400);
    expect((await client.upload(projectId, ownCube(6), 'b.stl', 'furlong')).status).equal(400);
    const photos = new FormData();
    for (const n of [1, 2, 3, 4, 5]) photos.append('file', new Blob([`photo ${n}`]), `photo_${n}.exe`);
    expect((await client.call('POST', `/api/projects/${projectId}/photos`, photos)).status).equal(400);
    expect([filesIn('sources'), filesIn('incoming')]).eql([[], []]);
    // what was there before stays, and so does what another request took in meanwhile
    const { id } = await client.importedCube('mm', ownCube(7), projectId);
    const [kept] = filesIn('sources');
    const [refused, taken] = await Promise.all([
      client.upload(projectId, ownCube(8), 'c.stl', 'furlong'),
      client.upload(projectId, ownCube(8), 'c.stl'),
      client.upload(projectId, ownCube(7), 'd.stl', 'furlong'),
    ]);
    expect([refused.status, taken.status]).eql([400, 202]);
    await server.queue.idle();
    expect(filesIn('sources')).include(kept).and.have.length(2);
    expect((await client.body(id)).mesh.triangles).equal(12);
  });

  /** Sends a request piece by piece. @returns what came back, whole */
  const piecewise = async (pieces: readonly (string | Uint8Array)[], pauseMs: number): Promise<string> => {
    const socket = connect(Number(new URL(server.address).port), '127.0.0.1');
    let told = '';
    socket.on('data', (chunk) => (told += chunk.toString()));
    const closed = new Promise((done) => socket.once('close', done));
    for (const piece of pieces) {
      if (socket.writable) socket.write(piece);
      await pause(pauseMs);
    }
    await Promise.race([closed, pause(4 * silenceMs)]);
    socket.destroy();
    return told;
  };
  const request = (projectId: string, boundary: string, length: number): string =>
    `POST /api/projects/${projectId}/models HTTP/1.1\r\nHost: ${new URL(server.address).host}\r\nConnection: close\r\n` +
    `Content-Type: multipart/form-data; boundary=${boundary}\r\nContent-Length: ${length}\r\n\r\n`;

  it('a slow upload goes on for as long as something comes; one that falls silent is told so in JSON', async () => {
    const projectId = await client.newProject();
    const head = '--b\r\nContent-Disposition: form-data; name="file"; filename="slow.stl"\r\n\r\n';
    const cube = Buffer.from(ownCube(9));
    const tail = '\r\n--b--\r\n';
    const length = head.length + cube.length + tail.length;
    const slices = Array.from({ length: 8 }, (_, k) =>
      cube.subarray((k * cube.length) >> 3, ((k + 1) * cube.length) >> 3),
    );
    const slow = await piecewise([request(projectId, 'b', length), head, ...slices, tail], silenceMs / 2);
    expect(slow).match(/^HTTP\/1.1 202 /);
    await server.queue.idle();
    const silent = await piecewise([request(projectId, 'b', length), head, slices[0]], silenceMs / 2);
    expect(silent).match(/^HTTP\/1.1 408 /);
    const { error } = JSON.parse(silent.slice(silent.indexOf('\r\n\r\n') + 4)) as ErrorBody;
    expect([error.code, error.hint]).eql(['cut-off', 'Nothing was kept. Send it again.']);
    for (let wait = 0; wait < 50 && filesIn('incoming').length > 0; wait++) await pause(20);
    expect(filesIn('incoming')).eql([]);
  });

  it('a text with a character that no text has is refused everywhere, and nothing is cut off', async () => {
    const { id: projectId } = (await client.call<ProjectView>('POST', '/api/projects', { name: 'Heron mask' })).body;
    const { id } = await client.importedCube('mm', ownCube(10), projectId);
    for (const [method, path, body] of [
      ['POST', '/api/projects', { name: 'Heron\0mask' }],
      ['PATCH', `/api/projects/${projectId}`, { name: '\0' }],
      ['PATCH', `/api/projects/${projectId}`, { source: { by: 'the \0 committee' } }],
      ['PATCH', `/api/bodies/${id}`, { name: 'beak\0' }],
      ['POST', `/api/projects/${projectId}/notes`, { text: 'a\0b' }],
      ['POST', '/api/printers', { ...new PrinterProfile(), name: 'Long\0bed' }],
      ['POST', '/api/materials', { name: 'Grey\0', kind: 'filament', densityGCm3: 1.24 }],
      ['POST', `/api/bodies/${id}/steps`, { operation: 'size', params: { regions: ['a\0b'] } }],
    ] as const) {
      const { status, body: told } = await client.call<ErrorBody>(method, path, body);
      expect(`${status} ${told.error?.message}`, `${method} ${path}`).match(/^400 .*U\+0000/);
    }
    expect((await client.call<ProjectView>('GET', `/api/projects/${projectId}`)).body.name).equal('Heron mask');
  });
});
