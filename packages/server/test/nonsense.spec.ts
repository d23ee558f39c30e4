import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { openApiDocument } from '@jasmorphe/contracts/openapi';
import { routes, type Route } from '@jasmorphe/contracts/routes';
import { previewOperations } from '@jasmorphe/contracts/requests';
import type { BodyView, ErrorBody, JobView, ProjectSummary } from '@jasmorphe/contracts/views';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { operationNames } from '@jasmorphe/core/operations/catalogue';
import { operations } from '@jasmorphe/core/operations/runs';
import { ownServer } from './ownServer.ts';

const require = createRequire(import.meta.url);
const cube = readFileSync(require.resolve('stl-models/polytopes/cube.bin.stl'));

// the same without two of its triangles
const openCube = Buffer.concat([cube.subarray(0, 80), Buffer.from([10, 0, 0, 0]), cube.subarray(84, 84 + 500)]);

interface Schema {
  type?: string;
  enum?: unknown[];
  properties?: Record<string, Schema>;
  items?: Schema;
  minimum?: number;
  exclusiveMinimum?: number;
  maximum?: number;
}
const { schemas } = (openApiDocument() as { components: { schemas: Record<string, Schema> } }).components;

const random = randomFrom(2026);
const oneOf = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];

const junk: unknown[] = [
  null,
  true,
  -1,
  0,
  1e308,
  -1e308,
  5e-324,
  2 ** 53,
  '',
  ' ',
  '7',
  'NaN',
  'x'.repeat(20_000),
  '../../etc/passwd',
  '\u0000',
  '\ud800',
  "'; drop table bodies; --",
  [],
  [[]],
  [null, null, null],
  [1, 2],
  [1, 2, 3, 4],
  ['a', 'b', 'c'],
  {},
  { x: 1 },
  { length: 3 },
  JSON.parse('{"__proto__": {"polluted": true}}'),
  { constructor: { prototype: { polluted: true } } },
  { toString: 'x' },
];

/** What a schema asks for, more or less. */
function plausible(schema: Schema): unknown {
  if (schema.enum) return oneOf(schema.enum);
  switch (schema.type) {
    case 'number':
    case 'integer':
      return oneOf([1, 2, 0.5, 0.01, schema.minimum ?? 1, schema.maximum ?? 3, 100, 1e5]);
    case 'string':
      return oneOf(['name', 'mm', 'x']);
    case 'boolean':
      return random() < 0.5;
    case 'array':
      return Array.from({ length: oneOf([1, 2, 3, 3, 3]) }, () => plausible(schema.items ?? { type: 'number' }));
    case 'object':
      return schema.properties ? filled(schema, 0) : {};
  }
  return oneOf(junk);
}

function filled(schema: Schema, spoiled: number): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [name, field] of Object.entries(schema.properties ?? {}))
    if (random() < 0.5) out[name] = random() < spoiled ? oneOf(junk) : plausible(field);
  if (random() < 0.1) out[oneOf(['colour', 'id', '__proto__', 'hasOwnProperty'])] = oneOf(junk);
  return out;
}

/** A body for a route: of the right fields, most of them wrong; or of no sense at all. */
function bodyFor(name: string, { body }: Route): string {
  if (random() < 0.15) return JSON.stringify(oneOf(junk));
  if (random() < 0.05) return oneOf(['{', '', '[1,', 'undefined', '{"a":NaN}', '\u0000']);
  if (!body && !name.endsWith('/samples')) return JSON.stringify(oneOf(junk));
  const sent = filled(schemas[body?.name ?? operations.sample.params.name], 0.5);
  if (['RunOperation', 'PreviewOperation', 'EditStep'].includes(body?.name ?? '')) {
    const operation = oneOf(operationNames);
    if (random() < 0.8 && body?.name !== 'EditStep') sent.operation = operation;
    const params = filled(schemas[operations[operation].params.name], oneOf([0, 0.1, 0.6]));
    sent.params = random() < 0.9 ? params : oneOf(junk);
  }
  return JSON.stringify(sent);
}

describe('nonsense', () => {
  const at = ownServer();
  const call = async (method: string, path: string, body?: string) => {
    const response = await fetch(at.server.address + path, {
      method: method.toUpperCase(),
      headers: body === undefined ? {} : { 'content-type': 'application/json' },
      body,
    });
    return { status: response.status, type: response.headers.get('content-type') ?? '', text: await response.text() };
  };
  const get = async <T>(path: string): Promise<T> => JSON.parse((await call('get', path)).text) as T;

  it('sent to every route is answered in words, and the server and what it keeps stay as they were', async () => {
    const project = JSON.parse((await call('post', '/api/projects', '{"name":"Kept"}')).text) as { id: string };
    const form = new FormData();
    form.append('unit', 'mm');
    form.append('file', new Blob([cube as BlobPart]), 'cube.stl');
    const sent = await fetch(`${at.server.address}/api/projects/${project.id}/models`, { method: 'POST', body: form });
    const started = (await sent.json()) as JobView;
    await at.server.queue.idle();
    const bodyId = (await get<JobView>(`/api/jobs/${started.id}`)).result!.bodyId!;
    const before = await get<BodyView>(`/api/bodies/${bodyId}`);

    const ids: Partial<Record<string, string[]>> = {
      projects: [project.id],
      bodies: [bodyId],
      jobs: [started.id],
      steps: [before.line[0].id],
      meshes: [before.mesh.hash],
      places: [],
      printers: [],
      materials: [],
      references: [],
    };
    const strange = ['none', '%00', '..%2f..', '0', "'", '%E2%82%AC', 'x'.repeat(300), '-1', '1e9'];
    // deleting what there is would be sense, and a backup goes to whatever folder of this machine is named
    const asked = Object.entries<Route>(routes).filter(([name]) => !/^DELETE|^GET .events|^POST .backup$/.test(name));
    let refused = 0;
    for (let i = 0; i < 900; i++) {
      const [name, route] = asked[i % asked.length];
      const [method, open] = name.split(' ');
      const kind = open.split('/')[1];
      const path = `/api${open}`.replace(/\{(\w+)\}/g, (_, key: string) =>
        key === 'id' || key === 'hash'
          ? random() < 0.8
            ? oneOf([...(ids[kind] ?? []), 'none'])
            : oneOf(strange)
          : oneOf(strange),
      );
      const query = random() < 0.3 ? `?${oneOf(['format', 'budget', 'name', 'x[y]', ''])}=${oneOf(strange)}` : '';
      const body = method === 'GET' ? undefined : bodyFor(name, route);
      const answer = await call(method, path + query, body);
      const told = `${method} ${path}${query} ${body?.slice(0, 300)} -> ${answer.status} ${answer.text.slice(0, 300)}`;
      expect(answer.status, told).below(500);
      if (answer.status < 400) continue;
      refused++;
      const { error } = JSON.parse(answer.text) as ErrorBody;
      expect(error.code, told).match(/^[a-z-]+$/);
      expect(error.message, told).match(/\S.*[.]$/s);
      // no stack, no SQL, no class of ours
      expect(answer.text, told).not.match(/\bat \w+ \(|SQLITE|node_modules|select .* from|TypeError|undefined/);
    }
    expect(refused).above(400);
    await at.server.queue.idle();
    expect(({} as { polluted?: boolean }).polluted).equal(undefined);

    // whatever made sense by chance was worked or refused; nothing is half done
    const jobs = await get<JobView[]>('/api/jobs');
    for (const j of jobs) {
      expect(['done', 'failed', 'cancelled'], JSON.stringify(j)).include(j.state);
      if (j.state === 'failed') expect(j.error!.code, JSON.stringify(j)).not.equal('internal');
    }
    for (const p of await get<ProjectSummary[]>('/api/projects'))
      for (const m of p.models) expect((await call('get', `/api/bodies/${m.id}`)).status).equal(200);
    const view = await get<BodyView>(`/api/bodies/${bodyId}`);
    expect(view.line[0]).eql(before.line[0]);
    await at.restart();
    expect((await get<BodyView>(`/api/bodies/${bodyId}`)).line.length).equal(view.line.length);
  }).timeout(300_000);

  it('params that each may be, though hardly together, are worked on real meshes or refused in words', async () => {
    const { id } = JSON.parse((await call('post', '/api/projects', '{"name":"Odd"}')).text) as { id: string };
    const ids: string[] = [];
    for (const [name, bytes] of [
      ['cube.stl', cube],
      ['open.stl', openCube],
    ] as const) {
      const form = new FormData();
      form.append('unit', 'mm');
      form.append('file', new Blob([bytes as BlobPart]), name);
      await fetch(`${at.server.address}/api/projects/${id}/models`, { method: 'POST', body: form });
      await at.server.queue.idle();
    }
    for (const p of await get<ProjectSummary[]>('/api/projects'))
      if (p.id === id) ids.push(...p.models.map((m) => m.id));
    expect(ids.length).equal(2);
    let worked = 0;
    for (let i = 0; i < 4 * previewOperations.length; i++) {
      const operation = previewOperations[i % previewOperations.length];
      const params = filled(schemas[operations[operation].params.name], 0.03);
      const body = JSON.stringify({ operation, params });
      const answer = await call('post', `/api/bodies/${oneOf(ids)}/previews`, body);
      expect(answer.status, `${body} ${answer.text}`).below(500);
      if (answer.status !== 202) continue;
      await at.server.queue.idle();
      const job = await get<JobView>(`/api/jobs/${(JSON.parse(answer.text) as JobView).id}`);
      if (job.state === 'done') worked++;
      else expect(job.error?.code, `${body} ${JSON.stringify(job.error)}`).match(/^(?!internal)[a-z-]+$/);
    }
    expect(worked).above(15);
  }).timeout(300_000);
});
