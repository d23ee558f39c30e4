import { createClient } from '@libsql/client';
import { expect } from 'chai';
import { drizzle } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type PdfParse from 'pdf-parse';
import { laidPart } from '@jasmorphe/contracts/reading/laidPart';
import type { BookTablesView, DaysOtherwise, DaysView, HoursByLog, RateOfPrinter } from '@jasmorphe/contracts/dayViews';
import type { StepView } from '@jasmorphe/contracts/steps';
import type { ErrorBody, JobView, LogEntryView, PartView, PrinterView, ProjectView } from '@jasmorphe/contracts/views';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { expectedS } from '@jasmorphe/core/planning/bedfuls/packBeds';
import { figures } from '@jasmorphe/core/trade/figures';
import type { Book, BookPart } from '@jasmorphe/server/book/Book';
import { bookPdf } from '@jasmorphe/server/book/bookPdf';
import { bookTables } from '@jasmorphe/server/book/bookTables';
import { csvOf } from '@jasmorphe/server/files/csv';
import { unpackWoff } from '@jasmorphe/server/book/unpackWoff';
import { openDatabase } from '@jasmorphe/server/store/database';
import { logEntries, projects } from '@jasmorphe/server/store/schema';
import { bed, laidServer, message, tagsOf } from './laidClient.ts';
import { startServer } from './ownServer.ts';

// its main file looks for a document of its own to try itself on
const require = createRequire(import.meta.url);
const parsePdf = require('pdf-parse/lib/pdf-parse.js') as typeof PdfParse;

/** As much of fontkit as fonts are read by here; it unpacks WOFF by itself. */
interface ReadFont {
  numGlyphs: number;
  unitsPerEm: number;
  postscriptName: string;
  glyphForCodePoint(code: number): { id: number; advanceWidth: number; path: { toSVG(): string } };
}
const { create } = require('fontkit') as { create(bytes: Buffer): ReadFont };

describe('bedfuls beside everything else', function () {
  const at = laidServer();
  const { client } = at;
  let printer: PrinterView;
  beforeEach(async () => {
    printer = await client.ownPrinter();
  });
  const days = async () => (await client.call<DaysView>('GET', '/api/days')).body;
  const recordOf = async () => (await days()).plan.records.find((r) => r.printer === printer.profile.name)!;

  it('a part that stops by itself, as it is said at Print, is of the bedful that it was started with', async () => {
    printer = await client.widePrinter();
    const { projectId, parts, say, work, keep, kept } = await client.laidSlabs(printer, 15);
    const [own] = (await keep(await work())).body.bedfuls;
    expect(own.parts.length).equal(2);
    await client.on(own, 'start');
    const now = async () => (await kept()).bedfuls.find((b) => b.id === own.id)!;
    const first = (await parts()).find((p) => p.tag === own.parts[0].tag)!;
    expect((await say(first, 'failed', { heightMm: 5 })).status).equal(201);
    expect([(await now()).state, (await now()).parts[0].state]).eql(['printing', 'failed']);
    const log = async () => (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    // who says so at Print need not know with what it was started, nor where
    expect((await log())[0]).include({ outcome: 'failed', bedfulId: own.id, printerId: printer.id });
    // the others come off, as one; what stopped is not said again
    expect((await client.on(own, 'end', { stopped: [{ tag: first.tag, heightMm: 5 }] })).status).equal(409);
    expect((await client.on(own, 'end', { hours: 3 })).body.state).equal('done');
    // one print that failed, of which nobody knows all the hours: as many as were planned
    const record = await recordOf();
    expect([record.prints, record.hours]).eql([1, own.durationS / 3600]);
    expect(record.perHour).closeTo(2 / (160 + own.durationS / 3600), 1e-9);
    // each is taken back as it was said
    expect((await client.on(own, 'undo')).body.parts.map((p) => p.state)).eql([
      'failed',
      ...own.parts.slice(1).map(() => 'printing'),
    ]);
    expect((await client.on(own, 'undo')).body.parts.map((p) => p.state)).eql(own.parts.map(() => 'printing'));
    expect((await client.on(own, 'undo')).body.state).equal('waiting');
  });

  it('stops kept with a part are stops of its bedful, of the days and of the book; laid otherwise they lapse', async () => {
    const { projectId, id, parts, work, keep, kept } = await client.laidSlabs(printer);
    const [a, b] = await parts();
    const stops = [
      { what: 'colour', mm: 12.31, words: 'brass' },
      { what: 'other', at: [0, 0, 1e4] },
    ];
    const params = { printer: bed, rotation: a.rotation, stops };
    expect((await client.step(a.id, 'stops', params)).state).equal('done');
    const [own] = await parts();
    // a pose that it lies in is still the one that it was laid in
    expect([own.posed?.school, own.line.map((s) => s.operation)]).eql(['own', ['pose', 'stops']]);
    await keep(await work());
    const bedfulOf = async (tag: string) => (await kept()).bedfuls.find((one) => one.parts.some((p) => p.tag === tag))!;
    const { stops: told, durationS, number } = await bedfulOf(a.tag);
    expect(told.map(({ says, atMm, afterLayer }) => [says, Number(atMm.toFixed(6)), afterLayer])).eql([
      [`${a.tag} another colour, brass`, 12.2, 60],
    ]);
    expect((await bedfulOf(b.tag)).stops).eql([]);
    // a slab: every layer alike but for those that are solid and the first
    expect(told[0].share).closeTo(12.2 / own.heightMm, 0.08);
    const plan = (await days()).plan.days.find(
      (d) => d.bedful === `Bedful ${number}` && d.printer === printer.profile.name,
    )!;
    expect(plan.stops.length).equal(1);
    expect(plan.stops[0]).include({ says: `${a.tag} another colour, brass`, share: told[0].share });
    const printedS = (Date.parse(plan.endsAt!) - Date.parse(plan.startsAt!)) / 1000;
    expect(printedS).closeTo(durationS + plan.stops[0].waitsS + figures.stopS.value, 60);
    const tables = async () =>
      (await client.call<BookTablesView>('GET', `/api/projects/${projectId}/book/tables`)).body.parts;
    const { heads, rows } = await tables();
    const stopsIn = heads.indexOf('stops');
    expect(rows.map((r) => r[stopsIn]).sort()).eql(['', 'after layer 61, 12.2 mm up: another colour, brass']);
    const calendar = await (await fetch(`${at.server.address}/api/days/calendar.ics`)).text();
    // long lines are folded (RFC 5545, 3.1)
    expect(calendar.replace(/\r\n /g, '')).match(new RegExp(`stops: ${a.tag} another`));
    // kept anew they count in the place of those before; taken back, those before count again
    expect((await client.step(a.id, 'stops', { ...params, stops: [] })).state).equal('done');
    expect((await bedfulOf(a.tag)).stops).eql([]);
    await client.call('POST', `/api/bodies/${a.id}/undo`);
    expect((await bedfulOf(a.tag)).stops).eql(told);
    // laid on its side, nothing of it holds
    expect((await client.step(a.id, 'pose', { up: [1, 0, 0], printer: bed, compare: false })).state).equal('done');
    expect((await bedfulOf(a.tag)).parts[0].trouble).equal('relaid');
    expect((await bedfulOf(a.tag)).stops).eql([]);
    expect((await tables()).rows.map((r) => r[stopsIn])).eql(['', '']);
    const refused = async (body: string, wanted: object) =>
      (await client.call<ErrorBody>('POST', `/api/bodies/${body}/steps`, { operation: 'stops', params: wanted })).body;
    expect((await refused(id, params)).error.message).match(/laid on the bed by its parts/);
    expect((await refused(a.id, { stops: [{ what: 'colour', mm: -1 }] })).error).include({ field: 'stops' });
  });

  it('true hours of bedfuls set those of their printer right, also by what they were printed of', async () => {
    const material = await client.call<{ id: string }>('POST', '/api/materials', {
      densityGCm3: 1.24,
      pricePerKg: 19,
      name: `Grey ${Math.random()}`,
      kind: 'filament',
    });
    const { body: spool } = await client.call<{ id: string }>('POST', '/api/spools', {
      materialId: material.body.id,
      name: 'Grey 1',
      colour: 'grey',
      grossG: 1250,
      emptyG: 250,
    });
    const hours = async () =>
      (await client.call<HoursByLog[]>('GET', '/api/days/hours')).body.filter((h) => h.printerId === printer.id);
    const { work, keep, kept } = await client.laidSlabs(printer, 15);
    const all = (await keep(await work())).body.bedfuls;
    expect(all.length).equal(4);
    for (const [i, b] of all.entries()) {
      expect(await hours(), 'three tell').eql([]);
      if (i === 3) break;
      await client.on(b, 'start');
      const taken = i < 2 ? [] : [{ spoolId: spool.id, grams: 20 }];
      const ended = await client.on(b, 'end', { hours: (b.durationS / 3600) * 1.2, taken });
      expect(ended.body.state, JSON.stringify(ended.body)).equal('done');
      if (i === 2) break;
    }
    const [found, ...more] = await hours();
    expect(more, 'one of grey is too few').eql([]);
    expect([found.material, found.prints]).eql(['', 3]);
    expect(found.factor).closeTo(1.2, 1e-9);
    // what is taken back tells nothing
    await client.on(
      (await kept()).bedfuls.find((b) => b.state === 'done')!,
      'undo',
    );
    expect(await hours()).eql([]);
  });

  it('parts that are printed by themselves tell as well, by the hours of the pose that they were printed in', async () => {
    const { parts, say } = await client.laidSlabs(printer, 15);
    const hours = async () =>
      (await client.call<HoursByLog[]>('GET', '/api/days/hours')).body.filter((h) => h.printerId === printer.id);
    for (const part of (await parts()).slice(0, 3)) {
      expect(await hours()).eql([]);
      await say(part, 'started', { printerId: printer.id });
      const { durationS } = part.posed!;
      expect((await say(part, 'passed', { durationS: 1.3 * durationS })).status).equal(201);
    }
    const [found] = await hours();
    expect([found.material, found.prints]).eql(['', 3]);
    expect(found.factor).closeTo(1.3, 1e-9);
    // what failed and what went well sets the rate: none in so many hours (Poisson with a gamma prior: 1 / (160 + h))
    const { body: rates } = await client.call<RateOfPrinter[]>('GET', '/api/days/rates');
    const ran = (await parts()).slice(0, 3).reduce((n, p) => n + (1.3 * p.posed!.durationS) / 3600, 0);
    const rate = rates.find((r) => r.printerId === printer.id)!;
    expect(rate.perHour).closeTo(1 / (160 + ran), 1e-9);
    expect(rate.prints).equal(3);
    // without its hours a print tells nothing of hours
    const [last] = (await parts()).slice(3);
    await say(last, 'started', { printerId: printer.id });
    await say(last, 'passed');
    expect((await hours())[0].prints).equal(3);
  });

  it('parts one after the other are kept so, in their order, and told so', async () => {
    printer = await client.widePrinter();
    const { id, parts, keep, kept } = await client.laidSlabs(printer, 15);
    const profile = { ...printer.profile, headRadiusMm: 4, headHeightMm: 20 };
    const asked = await client.ended(
      await client.call<JobView>('POST', `/api/bodies/${id}/previews`, {
        operation: 'bedfuls',
        params: { printers: [profile], inTurn: true, parts: (await parts()).map(laidPart) },
      }),
    );
    const step = (await client.call<StepView>('GET', `/api/steps/${asked.result!.stepId}`)).body;
    await keep(step);
    const { bedfuls: all } = await kept();
    expect(all.some((b) => b.inTurn && b.parts.length === 2)).equal(true);
    for (const b of all) {
      const high = b.parts.map((p) => p.heightMm);
      expect(high).eql([...high].sort((x, y) => x - y));
    }
  });

  it('what was started by itself is of no bedful', async () => {
    const { projectId, parts, say, work, keep } = await client.laidSlabs(printer);
    await keep(await work());
    const [a] = await parts();
    await say(a, 'started', { printerId: printer.id });
    await say(a, 'passed', { durationS: 7200 });
    const [last] = (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    expect(last).include({ outcome: 'passed', bedfulId: null, printerId: printer.id });
    expect(await recordOf()).include({ prints: 1, hours: 2 });
  });

  it('what was printed for a project without bedfuls tells of its printer too; what was taken back does not', async () => {
    const other = await client.slabs();
    const [a, b] = await other.parts();
    for (const [part, outcome] of [
      [a, 'passed'],
      [b, 'failed'],
    ] as const) {
      await other.say(part, 'started', { printerId: printer.id });
      await other.say(part, outcome, { printerId: printer.id, durationS: 36_000, heightMm: 3 });
    }
    const { work, keep } = await client.laidSlabs(printer);
    await keep(await work());
    expect(await recordOf()).include({ prints: 2, hours: 20 });
    expect((await recordOf()).perHour).closeTo(2 / 180, 1e-9);
    await client.call('POST', `/api/bodies/${b.id}/print/undo`);
    expect(await recordOf()).include({ prints: 1, hours: 10 });
    expect((await recordOf()).perHour).closeTo(1 / 170, 1e-9);
  });

  it('two tabs that keep at once: one is told, or both are kept one after the other; nothing stands twice', async () => {
    const { parts, work, keep, kept } = await client.laidSlabs(printer);
    const [a, b] = (await parts()).map((p) => p.tag);
    const alone = (tag: string) => [
      { printer: printer.profile.name, parts: [{ tag, at: { x: 40, y: 40 }, turnDeg: 0 }] },
    ];
    const steps = [await work(alone(a)), await work(alone(b)), await work()];
    const answers = await Promise.all(steps.map(keep));
    for (const answer of answers) expect([201, 409]).contain(answer.status);
    expect(answers.some((x) => x.status === 201)).equal(true);
    const tags = tagsOf((await kept()).bedfuls).flat();
    expect([...tags].sort()).eql((await parts()).map((p) => p.tag).sort());
    const numbers = (await kept()).bedfuls.map((x) => x.number);
    expect(new Set(numbers).size).equal(numbers.length);
  });

  it('a start of two tabs is one start; ending while the other ends is one end', async () => {
    const { projectId, work, keep, kept } = await client.laidSlabs(printer);
    const [own] = (await keep(await work())).body.bedfuls;
    const started = await Promise.all([1, 2, 3].map(() => client.on(own, 'start')));
    expect(started.map((x) => x.status).sort()).eql([201, 409, 409]);
    const ended = await Promise.all([1, 2].map(() => client.on(own, 'end', { hours: 2 })));
    expect(ended.map((x) => x.status).sort()).eql([201, 409]);
    const log = (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    expect(log.length).equal(2 * own.parts.length);
    expect((await kept()).bedfuls.find((b) => b.id === own.id)!.state).equal('done');
  });

  it('a process that ends in the middle leaves the old bedfuls or the new ones, never a part of them', async () => {
    const { parts, work, keep, kept } = await client.laidSlabs(printer);
    await keep(await work());
    const before = tagsOf((await kept()).bedfuls);
    const [a] = (await parts()).map((p) => p.tag);
    const step = await work([{ printer: printer.profile.name, parts: [{ tag: a, at: { x: 40, y: 40 }, turnDeg: 0 }] }]);
    const { writer } = at.server.library;
    const dies = async (instant: 'before' | 'after', what: string, deed: () => Promise<{ status: number }>) => {
      writer.witness = (when, change) => {
        if (when === instant && change === what) throw new Error(`ends ${instant} ${what}`);
      };
      const { error } = console;
      console.error = () => undefined;
      try {
        expect((await deed()).status).equal(500);
      } finally {
        writer.witness = () => undefined;
        console.error = error;
      }
    };
    await dies('before', 'bedfuls', () => keep(step));
    expect(tagsOf((await kept()).bedfuls)).eql(before);
    await dies('after', 'bedfuls', () => keep(step));
    const after = tagsOf((await kept()).bedfuls);
    expect(after).deep.contain([a]);
    expect(after.flat().sort()).eql(before.flat().sort());
    const [own] = (await kept()).bedfuls;
    await dies('before', 'print log', () => client.on(own, 'start'));
    expect((await kept()).bedfuls[0].state).equal('waiting');
    await dies('after', 'print log', () => client.on(own, 'start'));
    expect((await kept()).bedfuls[0].parts.every((p) => p.state === 'printing')).equal(true);
  });

  it('parts that are laid with other settings are not kept on one bed', async () => {
    const { parts, work, keep } = await client.laidSlabs(printer);
    const [a, b] = await parts();
    const fine = { bedMm: [80, 80, 80], marginMm: 2, layerMm: 0.12 };
    expect((await client.step(b.id, 'pose', { up: [0, 0, 1], printer: fine, compare: false })).state).equal('done');
    const kept = (await keep(await work())).body.bedfuls;
    for (const bedful of kept) {
      const tags = bedful.parts.map((p) => p.tag);
      if (tags.includes(b.tag)) expect([tags, bedful.settings.slice(0, 14)]).eql([[b.tag], '0.12 mm layers']);
      else expect(bedful.settings).match(/^0\.20 mm layers/);
    }
    const small = (part: PartView, x: number) => ({ tag: part.tag, at: { x, y: 40 }, turnDeg: 0 });
    const mixed = await keep(await work([{ printer: printer.profile.name, parts: [small(a, 20), small(b, 60)] }]));
    expect([mixed.status, message(mixed)]).satisfy(
      ([status, said]: [number, string]) => status === 409 && said.endsWith('or has other settings.'),
    );
  });

  it('the curve of cutting is of the whole: its hours by those of parts on bedfuls (by formula)', async () => {
    const { projectId, parts, work, keep, kept } = await client.laidSlabs(printer);
    await keep(await work());
    const { curves } = (await client.call<DaysOtherwise>('GET', '/api/days/otherwise')).body;
    const { curve } = curves.find((c) => c.projectId === projectId)!;
    const all = (await kept()).bedfuls.flatMap((b) => b.parts);
    const n = (await parts()).length;
    expect(all.length).equal(n);
    const { startS } = printer.profile;
    // of the printer itself
    const rate = (await days()).plan.records.find((r) => r.printer === printer.profile.name)!.perHour;
    const mean = all.reduce((sum, p) => sum + p.durationS - startS, 0) / n;
    const byHand =
      n * (expectedS(mean + startS, rate) + figures.changeBedS.value) +
      (n - 1) * (figures.glueJointS.value + figures.seamJointS.value);
    expect(curve.nowS / byHand).closeTo(1, 1e-6);
    // with only the quickest part on a bedful it is of all of them still, as they were laid
    const [first, ...others] = (await kept()).bedfuls;
    for (const b of others) await client.call('DELETE', `/api/bedfuls/${b.id}`);
    const again = (await client.call<DaysOtherwise>('GET', '/api/days/otherwise')).body.curves;
    expect(again.find((c) => c.projectId === projectId)!.curve.nowS / byHand).closeTo(1, 1e-6);
    const { plan, projects } = await days();
    const told = plan.projects[projects.findIndex((p) => p.id === projectId)];
    expect(told.without.sort()).eql(others.flatMap((b) => b.parts.map((p) => p.tag)).sort());
    expect([told.ready, first.parts.some((p) => told.without.includes(p.tag))]).eql([null, false]);
  });

  it('tables of the book tell sizes as parts lie, and what is put away is planned no more', async () => {
    const { projectId, id, parts, work, keep } = await client.laidSlabs(printer);
    const [a] = await parts();
    expect(
      (await client.step(a.id, 'pose', { up: [1, 0, 0], printer: { bedMm: [80, 80, 80] }, compare: false })).state,
    ).equal('done');
    await keep(await work());
    const { body } = await client.call<BookTablesView>('GET', `/api/projects/${projectId}/book/tables`);
    for (const part of await parts()) {
      const file = await fetch(`${at.server.address}/api/bodies/${part.id}/export?format=stl&pose=bed`);
      const size = sizeOf(boundsOf(readMesh(new Uint8Array(await file.arrayBuffer())).mesh));
      const row = body.parts.rows.find((r) => r[0] === part.tag)!;
      for (const k of [0, 1, 2]) expect(row[3 + k], `${part.tag} ${k}`).closeTo(size[k], 0.011);
    }
    const planned = async () => (await days()).projects.some((p) => p.id === projectId);
    expect(await planned()).equal(true);
    await client.call('PATCH', `/api/projects/${projectId}`, { archived: true });
    expect(await planned()).equal(false);
    await client.call<ProjectView>('POST', `/api/projects/${projectId}/restore`);
    expect(await planned()).equal(true);
    expect((await client.call('GET', `/api/bodies/${id}/bedfuls`)).status).equal(200);
  });

  it('days without printers, and without anything, are empty and no error', async () => {
    const bare = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    const empty = await startServer({ dataFolder: bare, port: 0 });
    try {
      const view = (await (await fetch(`${empty.address}/api/days`)).json()) as DaysView;
      expect([view.plan.days, view.plan.records, view.projects, view.plan.buy]).eql([[], [], [], []]);
      const other = (await (await fetch(`${empty.address}/api/days/otherwise`)).json()) as DaysOtherwise;
      expect(other).eql({ whatIfs: [], curves: [] });
      const ics = await (await fetch(`${empty.address}/api/days/calendar.ics`)).text();
      expect(ics).match(/^BEGIN:VCALENDAR[\s\S]*END:VCALENDAR\s*$/);
      expect(ics).not.contain('VEVENT');
    } finally {
      await empty.stop();
      rmSync(bare, { recursive: true, force: true });
    }
  });

  it('refuses what is no end: hours below nothing, heights that are none, spools that are not there', async () => {
    const { work, keep } = await client.laidSlabs(printer);
    const [own] = (await keep(await work())).body.bedfuls;
    await client.on(own, 'start');
    const refused = async (body: object) => {
      const answer = await client.call<ErrorBody>('POST', `/api/bedfuls/${own.id}/end`, body);
      return `${answer.status} ${answer.body.error?.field ?? ''}`;
    };
    expect(await refused({ hours: -1 })).equal('400 hours');
    expect(await refused({ hours: '4' })).equal('400 hours');
    expect(await refused({ stopped: [{ tag: own.parts[0].tag, heightMm: -2 }] })).equal('400 stopped');
    expect(await refused({ stopped: 'all' })).equal('400 stopped');
    expect(await refused({ taken: [{ spoolId: 'none', grams: 5 }] })).match(/^404/);
    expect(await refused({ taken: [{ spoolId: 'none' }] })).equal('400 taken');
    expect(await refused({ outcome: 'passed' })).match(/^400/);
    expect((await client.on(own, 'end', {})).body.state).equal('done');
  });
});

describe('a data folder of the version before', () => {
  it('is brought to this one with its projects and its log', async () => {
    const old = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    try {
      const migrations = fileURLToPath(new URL('../migrations', import.meta.url));
      const before = join(old, 'migrations');
      mkdirSync(before);
      cpSync(migrations, before, { recursive: true });
      const journal = join(before, 'meta', '_journal.json');
      const list = JSON.parse(readFileSync(journal, 'utf8')) as { entries: { tag: string }[] };
      const last = list.entries.findIndex((e) => e.tag.endsWith('bedfuls_days'));
      writeFileSync(journal, JSON.stringify({ ...list, entries: list.entries.slice(0, last) }));
      const file = join(old, 'jasmorphe.db');
      const raw = createClient({ url: `file:${file}`, concurrency: 1 });
      await migrate(drizzle(raw), { migrationsFolder: before });
      const at = '2026-01-01T00:00:00Z';
      await raw.execute(
        `INSERT INTO projects (id, name, created_at, updated_at) VALUES ('p', 'Carnyx', '${at}', '${at}')`,
      );
      await raw.execute(
        `INSERT INTO log_entries (id, project_id, model_id, part_id, mesh_hash, tag, outcome, at) VALUES ('e', 'p', 'm', 'x', 'h', 'A1', 'passed', '${at}')`,
      );
      raw.close();
      const database = await openDatabase(file);
      expect((await database.db.select().from(projects))[0]).include({ name: 'Carnyx', dueOn: null });
      expect((await database.db.select().from(logEntries))[0]).include({ tag: 'A1', bedfulId: null });
      await database.close();
      expect(dirname(file)).equal(old);
    } finally {
      rmSync(old, { recursive: true, force: true });
    }
  });
});

describe('a book on paper', () => {
  const part = (i: number, change: Partial<BookPart> = {}): BookPart => ({
    tag: `A${i}`,
    model: 'carnyx',
    state: 'to print',
    size: { x: 100, y: 50.25, z: 1234.5 },
    lies: 'flat down',
    why: 'It has the broadest foot.',
    settings: '0.20 mm layers',
    layers: 617,
    durationS: 36_000,
    expectedS: 37_000,
    materialG: 120,
    bedful: 1,
    printer: 'Long bed',
    joins: ['A2: 2 pins', 'A3: glue alone'],
    stops: ['after layer 61, 12.2 mm up: another colour'],
    advice: [],
    cautions: [],
    drawing: null,
    address: 'http://127.0.0.1:4780/x',
    ...change,
  });
  const bookOf = (change: Partial<Book> = {}): Book => ({
    title: 'Carnyx',
    note: '',
    madeOn: '2026-11-27T08:00+00:00',
    address: 'http://127.0.0.1:4780',
    models: [],
    parts: [part(1)],
    bedfuls: [],
    plan: null,
    dueOn: null,
    cost: { amount: 0, currency: 'EUR' },
    steps: [],
    cautions: [],
    ...change,
  });
  const read = async (book: Book) => {
    const { bytes, pages } = await bookPdf(book, 'a4');
    const { text, numpages } = await parsePdf(Buffer.from(bytes));
    expect(numpages).equal(pages);
    return { text: text.replace(/\s+/g, ' '), pages };
  };

  it('is made of next to nothing, with what is not known left out', async () => {
    const { text, pages } = await read(bookOf({ parts: [] }));
    expect(pages).equal(1);
    expect(text).contain('0 parts, 0 bedfuls');
    expect(
      (
        await read(
          bookOf({
            parts: [part(1, { durationS: null, expectedS: null, materialG: null, layers: null, bedful: null })],
          }),
        )
      ).text,
    )
      .contain('not laid yet')
      .contain('On no bedful yet.')
      .contain('It could not be drawn.');
  });

  it('tables that are longer than a page have their heads on each; letters that no font has are told apart', async () => {
    const steps = Array.from({ length: 90 }, (_, i) => ({
      model: 'carnyx',
      no: i + 1,
      put: `A${i}`,
      to: `A${i + 1}`,
      from: 'from above, straight down',
      advice: ['Put it together dry first.'],
    }));
    const { text, pages } = await read(bookOf({ parts: [], steps, title: 'Carnyx 雲 ½ é −3' }));
    expect(pages).least(4);
    expect(text.match(/IT COMES/g)!.length).equal(pages - 1);
    for (const i of [0, 45, 89]) expect(text).contain(`A${i}A${i + 1}`);
    expect(text).contain('Carnyx ? ½ é -3');
    expect(text).contain(`${pages} of ${pages}`);
  });

  it('its fonts are unpacked as another reader unpacks them; what is no font is refused', () => {
    for (const path of [
      'archivo/files/archivo-latin-400-normal',
      'jetbrains-mono/files/jetbrains-mono-latin-400-normal',
    ]) {
      const packed = readFileSync(require.resolve(`@fontsource/${path}.woff`));
      const [theirs, ours] = [create(packed), create(unpackWoff(packed))];
      const told = ({ numGlyphs, unitsPerEm, postscriptName }: ReadFont) => [numGlyphs, unitsPerEm, postscriptName];
      expect(told(ours)).eql(told(theirs));
      const drawn = (font: ReadFont) =>
        Array.from({ length: 0x180 }, (_, code) => {
          const { id, advanceWidth, path: way } = font.glyphForCodePoint(code);
          return [id, advanceWidth, way.toSVG()];
        });
      expect(drawn(ours)).eql(drawn(theirs));
    }
    expect(() => unpackWoff(Buffer.alloc(64))).throw(/no WOFF/);
  });

  it('a spreadsheet gets its cells whole, and no formula', () => {
    const table = {
      heads: ['a', 'b'],
      rows: [
        ['=1+1', 'say "yes", no'],
        ['line\nbreak', null],
        [-5, '@x'],
        ['-12.50', '-2+3'],
      ],
    };
    expect(csvOf(table.heads, table.rows)).equal(
      `a,b\r\n'=1+1,"say ""yes"", no"\r\n"line\nbreak",\r\n-5,'@x\r\n-12.50,'-2+3\r\n`,
    );
    const { parts, shopping } = bookTables(bookOf());
    expect(parts.rows[0].slice(3, 6)).eql([100, 50.25, 1234.5]);
    expect(parts.rows[0][parts.heads.indexOf('joins')]).equal('A2: 2 pins; A3: glue alone');
    expect(parts.rows[0][parts.heads.indexOf('stops')]).equal('after layer 61, 12.2 mm up: another colour');
    expect(parts.heads.length).equal(parts.rows[0].length);
    expect(shopping.rows).eql([]);
  });
});
