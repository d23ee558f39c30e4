import { createClient } from '@libsql/client';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import type { BodyView, JobView } from '@jasmorphe/contracts/views';
import type { RunningServer } from '@jasmorphe/server/startServer';

export const cube = readFileSync(createRequire(import.meta.url).resolve('stl-models/polytopes/cube.bin.stl'));

/** An ASCII STL of a cube whose bytes, and so its hash, differ by `n`. */
export const ownCube = (n: number): Uint8Array => {
  const bytes = new Uint8Array(cube);
  new DataView(bytes.buffer).setFloat32(84 + 12, 0, true);
  new TextEncoder().encodeInto(`cube ${n}`, bytes);
  // a corner moved by a little makes another mesh, not only another file
  for (let t = 0; t < 12; t++)
    for (let k = 0; k < 9; k++) {
      const at = 84 + 50 * t + 12 + 4 * k;
      const view = new DataView(bytes.buffer);
      view.setFloat32(at, view.getFloat32(at, true) * (1 + n / 1000), true);
    }
  return bytes;
};

export interface Answer<T> {
  status: number;
  body: T;
}

/** Changes rows behind the server's back, as another program would. */
export async function behindItsBack(server: RunningServer, ...statements: string[]): Promise<void> {
  const other = createClient({ url: `file:${join(server.options.dataFolder, 'jasmorphe.db')}`, concurrency: 1 });
  for (const statement of statements) await other.execute(statement);
  other.close();
}

/** Calls of a server's API as a page makes them. */
export class Client {
  constructor(readonly of: () => RunningServer) {}

  async call<T = unknown>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    const form = body instanceof FormData;
    const response = await fetch(this.of().address + path, {
      method,
      headers: body !== undefined && !form ? { 'content-type': 'application/json' } : {},
      body: form ? body : body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
    });
    const text = await response.text();
    return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
  }

  upload(projectId: string, bytes: Uint8Array, name = 'cube.stl', unit = 'mm') {
    const form = new FormData();
    form.append('unit', unit);
    form.append('file', new Blob([bytes as BlobPart]), name);
    return this.call<JobView>('POST', `/api/projects/${projectId}/models`, form);
  }

  newProject = async () => (await this.call<{ id: string }>('POST', '/api/projects', { name: 'Test' })).body.id;
  job = async (id: string) => (await this.call<JobView>('GET', `/api/jobs/${id}`)).body;
  body = async (id: string) => (await this.call<BodyView>('GET', `/api/bodies/${id}`)).body;

  async ended(started: Answer<JobView>): Promise<JobView> {
    expect(started.status, JSON.stringify(started.body)).equal(202);
    await this.of().queue.idle();
    return this.job(started.body.id);
  }

  /** A project with an imported cube of 2 units. */
  async importedCube(unit = 'mm', bytes: Uint8Array = cube): Promise<{ projectId: string; id: string }> {
    const projectId = await this.newProject();
    const done = await this.ended(await this.upload(projectId, bytes, 'cube.stl', unit));
    expect(done.state, JSON.stringify(done.error)).equal('done');
    return { projectId, id: done.result!.bodyId! };
  }

  step = async (id: string, operation: string, params: object) =>
    this.ended(await this.call<JobView>('POST', `/api/bodies/${id}/steps`, { operation, params }));
}
