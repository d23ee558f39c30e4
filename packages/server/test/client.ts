import { createClient } from '@libsql/client';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { openApiDocument } from '@jasmorphe/contracts/openapi';
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

const { paths, components } = openApiDocument() as {
  paths: Record<
    string,
    Record<string, { responses: Record<string, { content?: Record<string, { schema?: object }> }> }>
  >;
  components: object;
};
// JSON Schema 2020-12, as OpenAPI 3.1 has it; formats are words for the reader
const ajv = new Ajv2020({ strict: false, validateFormats: false });
ajv.addSchema({ $id: 'api', components });
const routes = Object.keys(paths).map((path) => ({
  path,
  pattern: new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}$`),
}));

/** Holds an answer against what the API's own description promises of it. */
export function holdToDescription(method: string, address: string, status: number, body: unknown): void {
  const pathname = address.split('?')[0];
  const route = routes.find((r) => r.path === pathname) ?? routes.find((r) => r.pattern.test(pathname));
  const responses = route && paths[route.path][method.toLowerCase()]?.responses;
  if (!responses) return;
  // a preview that is known answers with 200 where one that is not answers with 202
  const ok = Object.entries(responses).find(([code]) => code !== 'default')![1];
  const answer = status < 300 ? ok : responses.default;
  const schema = answer.content?.['application/json']?.schema;
  if (!schema || status === 204) return;
  const text = JSON.stringify(schema).replaceAll('#/components', 'api#/components');
  const validate = compiled.get(text) ?? ajv.compile(JSON.parse(text) as object);
  compiled.set(text, validate);
  const said = `${method} ${address} answered ${status} with what its description does not know`;
  expect(validate(body), `${said}: ${ajv.errorsText(validate.errors)}`).equal(true);
}
const compiled = new Map<string, ValidateFunction>();

/** Calls of a server's API as a page makes them; what it answers is held against its description. */
export class Client {
  constructor(readonly of: () => RunningServer) {}

  async call<T = unknown>(
    method: string,
    path: string,
    body?: unknown,
    more: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const form = body instanceof FormData;
    const response = await fetch(this.of().address + path, {
      method,
      headers: { ...(body !== undefined && !form ? { 'content-type': 'application/json' } : {}), ...more },
      body: form ? body : body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
    });
    const text = await response.text();
    // files are no JSON
    const told = text !== '' && response.headers.get('content-type')?.includes('json');
    const answer = (told ? JSON.parse(text) : null) as T;
    holdToDescription(method, path, response.status, answer);
    return { status: response.status, body: answer };
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
  async importedCube(unit = 'mm', bytes: Uint8Array = cube, into?: string): Promise<{ projectId: string; id: string }> {
    const projectId = into ?? (await this.newProject());
    const done = await this.ended(await this.upload(projectId, bytes, 'cube.stl', unit));
    expect(done.state, JSON.stringify(done.error)).equal('done');
    return { projectId, id: done.result!.bodyId! };
  }

  step = async (id: string, operation: string, params: object) =>
    this.ended(await this.call<JobView>('POST', `/api/bodies/${id}/steps`, { operation, params }));
}
