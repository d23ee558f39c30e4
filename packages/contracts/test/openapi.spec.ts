import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { HollowParams } from '@jasmorphe/core/operations/hollow/describe';
import { wordsOf } from '@jasmorphe/core/params/Param';
import { openApiDocument } from '@jasmorphe/contracts/openapi';
import { routes } from '@jasmorphe/contracts/routes';
import { DismissFinding } from '@jasmorphe/contracts/findingRequests';
import {
  CreateLogEntry,
  CreateProject,
  lineOperations,
  previewOperations,
  RunOperation,
} from '@jasmorphe/contracts/requests';
import { parseParams, readKept } from '@jasmorphe/core/params/parseParams';
import { operations } from '@jasmorphe/core/operations/runs';

interface Document {
  openapi: string;
  paths: Record<
    string,
    Record<
      string,
      { responses: Record<string, unknown>; requestBody?: { content: Record<string, { schema: { $ref: string } }> } }
    >
  >;
  components: { schemas: Record<string, { properties?: Record<string, unknown>; required?: string[] }> };
}

const codeOf = (work: () => unknown): { code?: string; field?: string } => {
  try {
    work();
  } catch (error) {
    return error as { code: string; field: string };
  }
  return {};
};

describe('contracts', () => {
  const document = openApiDocument() as Document;

  it('describes every route, and every reference leads somewhere (OpenAPI 3.1)', () => {
    expect(document.openapi).match(/^3\.1/);
    expect(Object.values(document.paths).flatMap((p) => Object.keys(p)).length).equal(Object.keys(routes).length);
    const refs = JSON.stringify(document).matchAll(/"#\/components\/schemas\/(\w+)"/g);
    for (const [, name] of refs) expect(document.components.schemas, name).property(name);
  });

  it('has a schema for every answer, made from the types that the code itself uses', () => {
    for (const [path, methods] of Object.entries(document.paths))
      for (const [method, { responses }] of Object.entries(methods)) {
        const [ok] = Object.entries(responses).filter(([code]) => code !== 'default');
        const { content } = ok[1] as { content?: Record<string, { schema?: object }> };
        // what gives nothing back says so by its status
        if (!content) expect(ok[0], `${method} ${path}`).equal('204');
        else if ('application/json' in content) expect(content['application/json'].schema, path).an('object');
      }
  });

  it('the list of error codes is what the code says, each with a sentence', async () => {
    const name = '../../../scripts/errorCodes.mjs';
    const { errorCodes } = (await import(name)) as { errorCodes: () => Promise<string> };
    const kept = readFileSync(new URL('../../../docs/errors.md', import.meta.url), 'utf8');
    expect(kept === (await errorCodes()), 'out of date: run `npm run errors`').equal(true);
    const rows = [...kept.matchAll(/^\| `([a-z-]+)` +\| (.*?) +\| /gm)].map(([, code, says]) => [code, says]);
    expect(rows.length).greaterThan(40);
    for (const [code, says] of rows) expect(says, code).match(/[.?>]$|…/);
  });

  it('has a schema for the params of every operation, made from the class that checks them', () => {
    for (const { params } of Object.values(operations))
      expect(Object.keys(document.components.schemas[params.name].properties ?? {}), params.name).not.empty;
    expect(document.components.schemas.HollowParams.required).contains('wall');
  });

  it('leaves no field of an operation without a type, and states the limits that are checked', () => {
    const { schemas } = document.components;
    for (const { params, name } of Object.values(operations))
      for (const [field, schema] of Object.entries(schemas[params.name].properties ?? {}))
        expect(schema, `${name} ${field}`).property('type');
    expect(schemas.HollowParams.properties!.wall).eql({
      type: 'number',
      exclusiveMinimum: 0,
      maximum: 1e6,
      description: wordsOf(HollowParams).get('wall')!.help,
    });
    expect(schemas.SizeParams.properties!.shrinkage).include({ type: 'number', minimum: 0, exclusiveMaximum: 50 });
    expect(schemas.SizeParams.properties!.stretch).deep.include({ type: 'array', minItems: 3, maxItems: 3 });
    expect(schemas.WhereaboutsParams.properties!.parts).deep.include({
      type: 'array',
      items: { type: 'string', pattern: '^[0-9a-f]{64}$' },
    });
  });

  it('what was kept before a field came has its default, and nothing that was kept is lost', () => {
    const kept = readKept(PrinterProfile, {
      name: 'Long bed',
      bedMm: [250, 210, 220],
      densityGCm3: null,
      colour: 'red',
    });
    expect(kept).deep.include({
      name: 'Long bed',
      bedMm: [250, 210, 220],
      nozzleMm: 0.4,
      kind: 'filament',
      colour: 'red',
    });
    expect(kept.densityGCm3).equal(undefined);
    for (const nothing of [null, undefined, 7, 'x', []])
      expect(readKept(PrinterProfile, nothing)).eql(new PrinterProfile());
    expect(Object.getPrototypeOf(readKept(PrinterProfile, JSON.parse('{"__proto__":{"a":1}}')))).equal(
      PrinterProfile.prototype,
    );
  });

  it('names the field that is wrong, and refuses unknown ones', () => {
    expect(codeOf(() => parseParams(CreateProject, { name: '' }))).include({ code: 'bad-params', field: 'name' });
    expect(codeOf(() => parseParams(CreateProject, { name: 'x', owner: 'y' }))).include({
      code: 'bad-params',
      field: 'owner',
    });
    expect(codeOf(() => parseParams(RunOperation, { operation: 'import' }))).include({ field: 'operation' });
    expect(codeOf(() => parseParams(DismissFinding, { code: 'x', reason: 'no' }))).include({ field: 'reason' });
    expect(codeOf(() => parseParams(CreateLogEntry, { partId: 'a', outcome: 'failed', heightMm: -1 }))).include({
      field: 'heightMm',
    });
    expect(codeOf(() => parseParams(CreateProject, null))).include({ code: 'bad-params' });
    expect(codeOf(() => parseParams(CreateProject, JSON.parse('{"name":"x","__proto__":{"a":1}}')))).include({
      code: 'bad-params',
    });
  });

  it('lets no study, import, export or test piece stand in a line, and works all but the import and export out in advance', () => {
    for (const name of [
      'fit',
      'measure',
      'thickness',
      'clearance',
      'whereabouts',
      'reference',
      'sample',
      'import',
      'export',
    ] as const)
      expect(lineOperations, name).not.include(name);
    expect(lineOperations).include.members(['size', 'thicken', 'mend', 'divide']);
    expect(previewOperations).include.members([...lineOperations, 'fit', 'clearance', 'sample']);
    expect(() => parseParams(RunOperation, { operation: 'clearance' }))
      .to.throw()
      .with.property('field', 'operation');
  });
});
