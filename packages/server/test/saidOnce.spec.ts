import { expect } from 'chai';
import { routes, type Route } from '@jasmorphe/contracts/routes';
import { jointsOf } from '@jasmorphe/contracts/reading/joints';
import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import type { BodyView, ErrorBody, LogEntryView, MaterialView, PartView, SpoolView } from '@jasmorphe/contracts/views';
import { behindItsBack } from './client.ts';
import { laidServer } from './laidClient.ts';

const header = 'Idempotency-Key';

describe('what happened is said once', function () {
  const at = laidServer();
  const { client } = at;

  /** Four slabs on beds of a printer of their own, and what can be said of the first. */
  async function onBeds() {
    const printer = await client.widePrinter();
    const { projectId, id, parts, work, keep, kept } = await client.laidSlabs(printer, 15);
    const [bedful] = (await keep(await work())).body.bedfuls;
    const log = async () => (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    const now = async () => (await kept()).bedfuls.find((b) => b.id === bedful.id)!;
    return { projectId, id, parts, bedful, log, now };
  }
  let keys = 0;
  const newKey = (): string => `key-of-a-telephone-${keys++}`;
  const told = async (id: string) => {
    const body = (await client.call<BodyView>('GET', `/api/bodies/${id}`)).body;
    return [body.joined, body.tipsDone];
  };

  it('every word of the API, sent again by its key, is done once and gets the same answer', async () => {
    const { projectId, id, parts, bedful, log, now } = await onBeds();
    const [part] = await parts();
    const joint = jointsOf(await client.body(id))[0].key;
    const tip = `tip:${part.mesh.hash.slice(0, 16)}:1.0,2.0,3.0`;
    // in an order in which each follows from those before it
    const words: [string, string, object?][] = [
      ['POST /bedfuls/{id}/start', `/api/bedfuls/${bedful.id}/start`, {}],
      ['POST /bedfuls/{id}/end', `/api/bedfuls/${bedful.id}/end`, { hours: 2 }],
      ['POST /bedfuls/{id}/undo', `/api/bedfuls/${bedful.id}/undo`],
      ['POST /bodies/{id}/print/undo', `/api/bodies/${part.id}/print/undo`],
      ['POST /bodies/{id}/print/redo', `/api/bodies/${part.id}/print/redo`],
      ['POST /projects/{id}/log', `/api/projects/${projectId}/log`, { partId: part.id, outcome: 'passed' }],
      ['PUT /bodies/{id}/joints/{key}', `/api/bodies/${id}/joints/${joint}?anyway=yes`],
      ['DELETE /bodies/{id}/joints/{key}', `/api/bodies/${id}/joints/${joint}`],
      ['PUT /bodies/{id}/tips/{key}', `/api/bodies/${part.id}/tips/${encodeURIComponent(tip)}`],
      ['DELETE /bodies/{id}/tips/{key}', `/api/bodies/${part.id}/tips/${encodeURIComponent(tip)}`],
    ];
    expect(words.map(([route]) => route).sort()).eql(
      Object.entries<Route>(routes)
        .filter(([, r]) => r.once)
        .map(([name]) => name)
        .sort(),
    );
    const stands = async () => [await log(), await now(), await told(id), await told(part.id)];
    const sent: { method: string; path: string; body?: object; key: string; answer: unknown }[] = [];
    for (const [route, path, body] of words) {
      const [method] = route.split(' ');
      const before = await stands();
      const key = newKey();
      const answer = await client.call(method, path, body, { [header]: key });
      expect(answer.status, `${route}: ${JSON.stringify(answer.body)}`).lessThan(300);
      const after = await stands();
      expect(after, route).not.eql(before);
      const again = await client.call(method, path, body, { [header]: `"${key}"` });
      expect(again, route).eql(answer);
      expect(await stands(), route).eql(after);
      sent.push({ method, path, body, key, answer });
    }
    // long after, when other things have been said since
    const last = await stands();
    for (const { method, path, body, key, answer } of sent)
      expect(await client.call(method, path, body, { [header]: key }), path).eql(answer);
    expect(await stands()).eql(last);
  });

  it('of many of the same word at once one is entered, and all get its answer', async () => {
    const { bedful, log } = await onBeds();
    const key = newKey();
    const send = () => client.call<BedfulView>('POST', `/api/bedfuls/${bedful.id}/start`, {}, { [header]: key });
    const answers = await Promise.all(Array.from({ length: 5 }, send));
    expect(answers.map((a) => [a.status, a.body.state])).eql(answers.map(() => [201, 'printing']));
    expect((await log()).length).equal(bedful.parts.length);
    // without a key it is another word, which does not follow
    expect((await client.on(bedful, 'start')).status).equal(409);
  });

  it('a key is good for one word; a word that was refused may be said again by its key', async () => {
    const { bedful, projectId, parts, log } = await onBeds();
    const [part] = await parts();
    const path = `/api/projects/${projectId}/log`;
    const say = (outcome: string, key: string, more: object = {}) =>
      client.call<LogEntryView & ErrorBody>('POST', path, { partId: part.id, outcome, ...more }, { [header]: key });
    const key = newKey();
    expect((await say('failed', key)).body.error.field).equal('heightMm');
    expect((await say('failed', key, { heightMm: 5 })).status).equal(201);
    const other = await say('passed', key);
    expect([other.status, other.body.error.code, other.body.error.field]).eql([400, 'key-used', header]);
    expect((await log()).map((e) => e.outcome)).eql(['failed']);
    for (const bad of ['short', 'a key with spaces', 'x'.repeat(121)])
      expect((await say('again', bad)).body.error.field).equal(header);
    // refused for what stands in the way by now, and not since it was said: what was built on the first is told as it is
    expect((await client.call<ErrorBody>('POST', `/api/bedfuls/${bedful.id}/end`, {}, { [header]: key })).status).equal(
      400,
    );
  });

  it('a word whose answer was lost with the process is answered by what stands', async () => {
    const { bedful, now } = await onBeds();
    const key = newKey();
    const send = () => client.call<BedfulView>('POST', `/api/bedfuls/${bedful.id}/start`, {}, { [header]: key });
    const first = await send();
    await behindItsBack(at.server, `update answers set answer = null where key = '${key}'`);
    expect(await send()).eql({ status: first.status, body: await now() });
  });

  it('what happened has the time that is told, and what was said in one go is taken back in one go', async () => {
    const { bedful, projectId, parts, log, now } = await onBeds();
    const when = '2026-11-30T10:00:00.000Z';
    await client.on(bedful, 'start', { at: '2026-11-30T08:00:00.000Z' });
    const first = (await parts()).find((p) => p.tag === bedful.parts[0].tag)!;
    const grey = { name: 'Grey', kind: 'filament', densityGCm3: 1.24, pricePerKg: 20 };
    const { id: materialId } = (await client.call<MaterialView>('POST', '/api/materials', grey)).body;
    const reel = { materialId, name: 'Grey 1', grossG: 1250, emptyG: 250 };
    const spool = (await client.call<SpoolView>('POST', '/api/spools', reel)).body;
    // weighed since, which is said before it is told what was taken
    await client.call('POST', `/api/spools/${spool.id}/entries`, { kind: 'weighed', grams: 900 });
    const entry = { partId: first.id, outcome: 'failed', heightMm: 4, at: when, spoolId: spool.id, materialG: 10 };
    expect((await client.call('POST', `/api/projects/${projectId}/log`, entry)).status).equal(201);
    expect((await client.on(bedful, 'end', { at: when, hours: 2 })).status).equal(201);
    expect(new Set((await log()).map((e) => e.at))).eql(new Set([when, '2026-11-30T08:00:00.000Z']));
    const [{ leftG, entries }] = (await client.call<SpoolView[]>('GET', '/api/spools')).body;
    expect([leftG, entries.map((e) => e.grams), entries[1].at]).eql([650, [900, 10], when]);
    // that the rest came off was another word of the same minute
    expect((await client.on(bedful, 'undo', { at: when })).body.parts.map((p) => p.state)).eql([
      'failed',
      ...bedful.parts.slice(1).map(() => 'printing'),
    ]);
    expect((await now()).startedAt).equal('2026-11-30T08:00:00.000Z');
    const wrong = await client.on(bedful, 'end', { at: 'noon' });
    expect([wrong.status, wrong.body.error.field]).eql([400, 'at']);
  });

  it('is done by services that know no HTTP: a printer or a telephone says it as a page does', async () => {
    const { bedful, parts, log } = await onBeds();
    const { bedfulPrints, partPrints } = at.server;
    const when = '2026-11-30T11:00:00.000Z';
    const key = newKey();
    const started = await bedfulPrints.start(bedful.id, { at: when, key });
    expect(started.startedAt).equal(when);
    expect(await bedfulPrints.start(bedful.id, { at: when, key })).eql(started);
    const end = { stopped: [], taken: [], note: 'by the printer' };
    expect((await bedfulPrints.end(bedful.id, end, { at: when })).state).equal('done');
    const [part] = await parts();
    const back: PartView = await partPrints.move(part.id, 'undo', {});
    expect(back.state).equal('printing');
    const failure = await bedfulPrints.start(bedful.id, {}).then(
      () => null,
      (error: Error & { kind?: string; code?: string }) => [error.name, error.kind, error.code],
    );
    expect(failure).eql(['Refusal', 'state', 'cannot']);
    expect((await log()).length).equal(2 * bedful.parts.length + 1);
  });
});
