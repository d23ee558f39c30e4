import { expect } from 'chai';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type PdfParse from 'pdf-parse';
import type { BodyView, ErrorBody, JobView } from '@jasmorphe/contracts/views';
import { startServer } from '@jasmorphe/server/startServer';
import { cli } from './cli.ts';

const require = createRequire(import.meta.url);
const cube = readFileSync(require.resolve('stl-models/polytopes/cube.bin.stl'));
const readPdf = require('pdf-parse/lib/pdf-parse.js') as typeof PdfParse;

describe('book', () => {
  let folder: string;
  const out = (name: string) => join(folder, name);

  before(async function () {
    this.timeout(60_000);
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-book-'));
    const server = await startServer({ dataFolder: out('data'), port: 0 });
    const ask = async <T>(path: string, body: object): Promise<T> => {
      const form = body instanceof FormData;
      const answer = await fetch(server.address + path, {
        method: 'POST',
        headers: form ? {} : { 'content-type': 'application/json' },
        body: form ? body : JSON.stringify(body),
      });
      return (await answer.json()) as T;
    };
    const done = async ({ id }: JobView): Promise<JobView> => {
      await server.queue.idle();
      return (await (await fetch(`${server.address}/api/jobs/${id}`)).json()) as JobView;
    };
    const { id: projectId } = await ask<{ id: string }>('/api/projects', { name: 'Window ammonite' });
    await ask('/api/projects', { name: 'Nothing yet' });
    const form = new FormData();
    form.append('unit', 'in');
    form.append('file', new Blob([cube]), 'ammonite.stl');
    const { result } = await done(await ask<JobView>(`/api/projects/${projectId}/models`, form));
    const id = result!.bodyId!;
    await done(
      await ask<JobView>(`/api/bodies/${id}/steps`, {
        operation: 'divide',
        params: { bed: [60, 60, 30], join: 'none' },
      }),
    );
    const { parts } = (await (await fetch(`${server.address}/api/bodies/${id}`)).json()) as BodyView;
    expect(parts.length).equal(2);
    await done(
      await ask<JobView>(`/api/bodies/${parts[0].id}/steps`, {
        operation: 'pose',
        params: { up: [0, 0, 1], compare: false },
      }),
    );
    await server.stop();
  });
  after(() => rmSync(folder, { recursive: true, force: true }));

  it('writes the book of a project in a data folder by its name, that another reader opens', async () => {
    const {
      code,
      out: said,
      error,
    } = await cli('book', 'Window ammonite', '--data', out('data'), '-o', out('a.pdf'), '--json');
    expect([code, error]).eql([0, '']);
    const report = JSON.parse(said) as { pages: number; bytes: number; tables: Record<string, { rows: unknown[][] }> };
    const bytes = readFileSync(out('a.pdf'));
    expect(bytes.length).equal(report.bytes);
    const { text, numpages } = await readPdf(bytes);
    expect(numpages).equal(report.pages);
    expect(text).match(/Window ammonite/);
    expect(report.tables.parts.rows.length).equal(2);
  });

  it('on Letter the sheets have another size than on A4 (ISO 216 and ANSI A)', async () => {
    const sizeOf = async (paper: string): Promise<number[]> => {
      expect(
        (await cli('book', 'Window ammonite', '--data', out('data'), '-o', out('p.pdf'), '--paper', paper)).code,
      ).equal(0);
      const [, wide, high] = /\/MediaBox \[0 0 ([\d.]+) ([\d.]+)\]/.exec(readFileSync(out('p.pdf'), 'latin1'))!;
      return [Number(wide) / 72, Number(high) / 72];
    };
    const [wide, high] = await sizeOf('a4');
    expect(wide * 25.4).closeTo(210, 0.2);
    expect(high * 25.4).closeTo(297, 0.2);
    expect(await sizeOf('letter')).eql([8.5, 11]);
  });

  it('refuses what it cannot make, and leaves nothing', async () => {
    const before = readdirSync(folder).sort();
    const refused = async (...args: string[]) => {
      const { code, error } = await cli('book', ...args);
      expect(code, error).equal(1);
      return error;
    };
    expect(await refused('Window ammonite', '--data', out('data'), '-o', out('n.txt'))).match(/is no PDF/);
    expect(await refused('Carnyx', '--data', out('data'), '-o', out('n.pdf'))).match(/Carnyx/);
    expect(await refused('Window ammonite', '--data', out('nowhere'), '-o', out('n.pdf'))).match(/nowhere/);
    expect(
      (await cli('book', 'Window ammonite', '--data', out('data'), '-o', out('n.pdf'), '--paper', 'b5')).code,
    ).equal(2);
    expect(existsSync(out('nowhere'))).equal(false);
    // what the database says by itself is said in words, on both outputs
    mkdirSync(out('torn'));
    writeFileSync(join(out('torn'), 'jasmorphe.db'), 'The quick brown fox. '.repeat(500));
    const torn = await cli('book', 'Window ammonite', '--data', out('torn'), '-o', out('n.pdf'), '--json');
    expect([torn.code, (JSON.parse(torn.out) as ErrorBody).error.code]).eql([1, 'database-damaged']);
    expect(torn.error).match(/^The database is damaged\./);
    expect(torn.out + torn.error).not.match(/SQLITE|libsql/i);
    rmSync(out('torn'), { recursive: true });
    expect(readdirSync(folder).sort()).eql(before);
  });
});
