import { expect } from 'chai';
import { createRequire } from 'node:module';
import type PdfParse from 'pdf-parse';
import type { BedfulsView, BedfulView, BookTablesView, DaysOtherwise, DaysView } from '@jasmorphe/contracts/dayViews';
import type { ErrorBody, LogEntryView, PrinterView, SpoolView } from '@jasmorphe/contracts/views';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import { readThreeMf } from '@jasmorphe/core/formats/threeMf';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { quietContext } from '@jasmorphe/core/run/context';
import { bookFrom } from '@jasmorphe/server/book/bookFrom';
import { roughDurationS, roughMaterialMm3 } from '@jasmorphe/core/planning/estimate';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { behindItsBack } from './client.ts';
import { bed, laidServer, message, tagsOf } from './laidClient.ts';

// its main file looks for a document of its own to try itself on
const parsePdf = createRequire(import.meta.url)('pdf-parse/lib/pdf-parse.js') as typeof PdfParse;

describe('bedfuls and days', function () {
  const at = laidServer();
  const { client } = at;
  let printer: PrinterView;
  beforeEach(async () => {
    printer = await client.ownPrinter();
  });

  const laidSlabs = () => client.laidSlabs(printer);
  const { on } = client;

  it('what was worked out is kept, fetched as it was placed, arranged by hand, and taken back', async () => {
    const { parts, work, keep, kept } = await laidSlabs();
    const step = await work();
    const first = await keep(step);
    expect(first.status).equal(201);
    const tags = (await parts()).map((p) => p.tag).sort();
    expect(tagsOf(first.body.bedfuls).flat().sort()).eql(tags);
    expect(first.body.bedfuls.map((b) => [b.state, b.printer])).eql([
      ['waiting', printer.profile.name],
      ...first.body.bedfuls.slice(1).map(() => ['waiting', printer.profile.name]),
    ]);
    const file = await fetch(`${at.server.address}/api/bedfuls/${first.body.bedfuls[0].id}/file`);
    const objects = readThreeMf(new Uint8Array(await file.arrayBuffer()), quietContext).objects;
    for (const { mesh } of objects) {
      const box = boundsOf(mesh);
      expect(Math.min(box.min[0], box.min[1])).least(2 - 1e-3);
      expect(Math.max(box.max[0], box.max[1])).most(78 + 1e-3);
      expect(sizeOf(box)[2]).above(1);
    }
    // two parts on one another are not kept
    const [a, b] = tags;
    const clash = await work([
      { printer: printer.profile.name, parts: [a, b].map((tag) => ({ tag, at: { x: 40, y: 40 }, turnDeg: 0 })) },
    ]);
    const refused = await keep(clash);
    expect([refused.status, message(refused)]).eql([
      409,
      `${b} overlaps another part or its gap, reaches beyond the bed of ${printer.profile.name}, or has other settings.`,
    ]);
    expect(tagsOf((await kept()).bedfuls)).eql(tagsOf(first.body.bedfuls));
    // one alone on its bed; what holds the same keeps its day
    await client.call('PATCH', `/api/bedfuls/${first.body.bedfuls[0].id}`, { wantedAt: '2030-01-05T10:00:00Z' });
    const apart = await keep(
      await work([{ printer: printer.profile.name, parts: [{ tag: a, at: { x: 40, y: 40 }, turnDeg: 30 }] }]),
    );
    expect(tagsOf(apart.body.bedfuls)).deep.contain([a]);
    expect(apart.body.bedfuls.find((x) => x.parts[0].tag === a)!.parts[0]).include({ turnDeg: 30 });
    const undone = await client.call<BedfulsView>('POST', `/api/bodies/${first.body.bedfuls[0].modelId}/bedfuls/undo`);
    expect(tagsOf(undone.body.bedfuls)).eql(tagsOf(first.body.bedfuls));
    expect(undone.body.bedfuls[0].wantedAt).equal('2030-01-05T10:00:00.000Z');
    // taken apart and brought back
    expect((await client.call('DELETE', `/api/bedfuls/${undone.body.bedfuls[0].id}`)).status).equal(204);
    expect((await kept()).bedfuls.length).equal(undone.body.bedfuls.length - 1);
    await client.call('POST', `/api/bodies/${first.body.bedfuls[0].modelId}/bedfuls/undo`);
    expect((await kept()).bedfuls).eql(undone.body.bedfuls);
  });

  it('a part that is laid otherwise, cut anew or printed by itself holds its bedful up, and says so; nothing is lost', async () => {
    const { projectId, id, parts, work, keep, kept } = await laidSlabs();
    const step = await work();
    const { bedfuls } = (await keep(step)).body;
    const [a] = await parts();
    const own = bedfuls.find((b) => b.parts.some((p) => p.tag === a.tag))!;
    const trouble = async () => (await kept()).bedfuls.flatMap((b) => b.parts).find((p) => p.tag === a.tag)!.trouble;
    await client.step(a.id, 'pose', { up: [1, 0, 0], printer: bed, compare: false });
    expect(await trouble()).equal('relaid');
    const refused = await on(own, 'start');
    expect([refused.status, message(refused)]).eql([
      409,
      `${a.tag} is not what it was when bedful ${own.number} of Test was kept.`,
    ]);
    expect((await keep(step)).status, 'as it was worked out before').equal(409);
    await client.call('POST', `/api/bodies/${a.id}/undo`);
    expect(await trouble()).equal(null);
    await client.call('POST', `/api/bodies/${id}/undo`);
    expect(await trouble()).equal('gone');
    await client.call('POST', `/api/bodies/${id}/redo`);
    expect(await trouble()).equal(null);
    const say = (outcome: string) =>
      client.call<LogEntryView>('POST', `/api/projects/${projectId}/log`, { partId: a.id, outcome });
    await say('started');
    expect(await trouble()).equal('printing');
    const days = (await client.call<DaysView>('GET', '/api/days')).body;
    expect(days.plan.days.map((d) => d.id)).not.contain(own.id);
    await client.call('POST', `/api/bodies/${a.id}/print/undo`);
    expect((await client.call<DaysView>('GET', '/api/days')).body.plan.days.map((d) => d.id)).contain(own.id);
  });

  it('is started and ended as one: parts are printing, printed or stopped; each is taken back as one', async () => {
    printer = await client.widePrinter();
    const { parts, work, keep, kept } = await client.laidSlabs(printer, 15);
    const { bedfuls } = (await keep(await work())).body;
    expect(bedfuls.map((b) => b.parts.length)).eql([2, 2]);
    const [own, other] = bedfuls;
    const states = async () => (await parts()).map((p) => p.state);
    expect((await on(own, 'start')).body.state).equal('printing');
    expect((await on(own, 'start')).status, 'a double click').equal(409);
    // it says whose bedful is where, and what to do
    expect(message(await on(other, 'start'))).equal(`Bedful ${own.number} of Test is on the bed of ${other.printer}.`);
    expect((await on(other, 'start')).body)
      .nested.property('error.hint')
      .match(/^Say first what became of it: at Print/);
    // nor does a word that is taken back, or said again after all, put two on one bed
    const [first] = own.parts;
    const word = (way: string) => client.call<ErrorBody>('POST', `/api/bodies/${first.partId}/print/${way}`);
    expect((await on(own, 'end', {})).body.state).equal('done');
    expect((await on(other, 'start')).body.state).equal('printing');
    expect(message(await on(own, 'undo'))).equal(`Bedful ${other.number} of Test is on the bed of ${other.printer}.`);
    expect((await word('undo')).status).equal(409);
    expect((await on(other, 'undo')).body.state).equal('waiting');
    expect((await on(own, 'undo')).body.state).equal('printing');
    expect((await client.call('DELETE', `/api/bedfuls/${own.id}`)).status).equal(409);
    expect((await client.call('PATCH', `/api/bedfuls/${own.id}`, { wantedAt: null })).status).equal(409);
    expect((await kept()).canUndo).equal(false);
    const tags = own.parts.map((p) => p.tag);
    expect((await states()).filter((s) => s === 'printing').length).equal(tags.length);
    // what was sent cannot be laid otherwise
    const part = (await parts()).find((p) => p.tag === tags[0])!;
    const relaid = await client.call('POST', `/api/bodies/${part.id}/steps`, {
      operation: 'pose',
      params: { up: [1, 0, 0], printer: bed, compare: false },
    });
    expect(relaid.status).equal(409);
    const stopped = [{ tag: tags[0], heightMm: 5 }];
    expect((await on(own, 'end', { stopped: [{ tag: 'Z9', heightMm: 5 }] })).status).equal(409);
    expect((await on(own, 'end', { stopped: [{ tag: tags[0], heightMm: 500 }] })).status).equal(400);
    expect((await on(own, 'end', { stopped: [{ tag: tags[0] }] })).status).equal(400);
    expect((await states()).filter((s) => s === 'printing').length).equal(tags.length);
    const spoolOf = await client.call<{ id: string }>('POST', '/api/materials', {
      name: 'slate',
      kind: 'filament',
      densityGCm3: 1.24,
      pricePerKg: 20,
    });
    const { body: spool } = await client.call<SpoolView>('POST', '/api/spools', {
      materialId: spoolOf.body.id,
      name: 'slate 1',
      grossG: 1200,
      emptyG: 200,
    });
    const left = async () =>
      (await client.call<SpoolView[]>('GET', '/api/spools')).body.find((s) => s.id === spool.id)!.leftG;
    const ended = await on(own, 'end', {
      hours: 4,
      stopped,
      taken: [{ spoolId: spool.id, grams: 90 }],
      note: 'tangle',
    });
    expect([ended.status, ended.body.state]).eql([201, 'done']);
    expect(await left()).closeTo(910, 1e-6);
    // what is taken back of one part gives its share of the spool back, and no more
    const good = (await parts()).find((p) => p.tag === tags[1])!;
    const share = own.parts[1].materialG / (own.parts[0].materialG + own.parts[1].materialG);
    await client.call('POST', `/api/bodies/${good.id}/print/undo`);
    expect(await left()).closeTo(910 + 90 * share, 1e-6);
    await client.call('POST', `/api/bodies/${good.id}/print/redo`);
    expect(await left()).closeTo(910, 1e-6);
    expect((await parts()).filter((p) => tags.includes(p.tag)).map((p) => [p.tag, p.state])).eql(
      tags.map((t, i) => [t, i === 0 ? 'failed' : 'passed']).map(([t, s]) => [t, s === 'passed' ? 'printed' : s]),
    );
    const log = (await client.call<LogEntryView[]>('GET', `/api/projects/${own.projectId}/log`)).body;
    expect(log.filter((e) => e.durationS !== null).reduce((n, e) => n + e.durationS!, 0)).closeTo(4 * 3600, 1e-6);
    // what stopped is recut; until that is taken back the bedful stays off the bed
    const rest = (await parts()).find((p) => p.tag === tags[0])!;
    expect((await client.step(rest.id, 'recut', { printed: 5, up: rest.up })).state).equal('done');
    const recut = await on(own, 'undo');
    expect([recut.status, message(recut)]).eql([
      409,
      `${tags[0]} was recut since. Take the recut back first, at Print.`,
    ]);
    await client.call('POST', `/api/bodies/${rest.id}/print/undo`);
    const days = (await client.call<DaysView>('GET', '/api/days')).body;
    const record = days.plan.records.find((r) => r.printer === printer.profile.name)!;
    expect(record).include({ prints: 1, hours: 4 });
    // one failure in the usual 160 h and these four
    expect(record.perHour).closeTo(2 / 164, 1e-9);
    expect((await on(own, 'undo')).body.state).equal('printing');
    expect(await left()).closeTo(1000, 1e-6);
    expect((await on(own, 'undo')).body.state).equal('waiting');
    expect((await on(own, 'undo')).status).equal(409);
    expect(new Set(await states())).eql(new Set(['planned']));
  });

  it('days put them behind one another, draw on spools, keep a deadline, and say what is on no bed', async () => {
    const { projectId, parts, work, keep } = await laidSlabs();
    const [first] = (await keep(await work())).body.bedfuls;
    const days = async () => (await client.call<DaysView>('GET', '/api/days')).body;
    const mine = async () => {
      const view = await days();
      const ids = view.bedfuls.filter((b) => b.projectId === projectId).map((b) => b.id);
      return view.plan.days.filter((d) => ids.includes(d.id));
    };
    const all = await mine();
    expect(all.length).above(1);
    for (const [i, d] of all.entries()) {
      expect(d.printer).equal(printer.profile.name);
      if (i > 0) expect(Date.parse(d.loadAt!)).least(Date.parse(all[i - 1].offAt!));
    }
    const wanted = new Date(Date.now() + 5 * 86_400_000).toISOString();
    await client.call('PATCH', `/api/bedfuls/${first.id}`, { wantedAt: wanted });
    const moved = (await mine()).find((d) => d.id === first.id)!;
    expect(Date.parse(moved.loadAt!)).least(Date.parse(wanted) - 60_000);
    // a year or a week is no time, though ISO 8601 has them
    for (const wantedAt of ['soon', '2027', '2027-W05', 7])
      expect((await client.call('PATCH', `/api/bedfuls/${first.id}`, { wantedAt })).status).equal(400);
    expect((await on(first, 'start', { at: '2026' })).status).equal(400);
    // what came in by other ways may be anything, and spoils no plan
    await behindItsBack(at.server, `UPDATE bedfuls SET wanted_at = 'some day' WHERE id = '${first.id}'`);
    await behindItsBack(at.server, `UPDATE projects SET due_on = 'Easter' WHERE id = '${projectId}'`);
    expect((await mine()).length).equal(all.length);
    await client.call('PATCH', `/api/projects/${projectId}`, { dueOn: '2031-01-31' });
    const due = (await days()).plan.projects.find((p) => p.deadline?.startsWith('2031-01-31'));
    expect(due?.lateProbability).equal(0);
    await client.call('PATCH', `/api/projects/${projectId}`, { dueOn: '2020-01-31' });
    const late = (await days()).projects.find((p) => p.id === projectId)!;
    expect([late.overdue, late.loose]).eql([true, []]);
    expect((await client.call('PATCH', `/api/projects/${projectId}`, { dueOn: '31.1.' })).status).equal(400);
    await client.call('DELETE', `/api/bedfuls/${first.id}`);
    const loose = (await days()).projects.find((p) => p.id === projectId)!.loose;
    expect(loose.sort()).eql(first.parts.map((p) => p.tag).sort());
    expect((await parts()).length).above(loose.length);
    const other = (await client.call<DaysOtherwise>('GET', '/api/days/otherwise')).body;
    expect(other.whatIfs.map((w) => w.kind)).contain('thicker');
    // with parts that are on no bed nothing is compared
    expect(other.whatIfs.filter((w) => w.kind === 'cuts')).eql([]);
    expect(other.curves.some((c) => c.projectId === projectId)).equal(true);
    // a project that is put away is planned no more, nor one whose printer is
    await client.call('PATCH', `/api/printers/${printer.id}`, { retired: true });
    expect(await mine()).eql([]);
    expect((await days()).bedfuls.find((b) => b.projectId === projectId)).include({ printerId: null });
    await client.call('PATCH', `/api/printers/${printer.id}`, { retired: false });
    expect((await mine()).length).above(0);
    await client.call('DELETE', `/api/projects/${projectId}`);
    expect(await mine()).eql([]);
  });

  it('are told for the plans of cuts that were looked at beside it, while nothing of the model was begun', async () => {
    for (const { id } of (await client.call<DaysView>('GET', '/api/days')).body.projects)
      await client.call('DELETE', `/api/projects/${id}`);
    const { id, work, keep, kept } = await laidSlabs();
    await keep(await work());
    const compared = async () =>
      (await client.call<DaysOtherwise>('GET', '/api/days/otherwise')).body.whatIfs
        .filter((w) => w.kind === 'cuts')
        .map((w) => w.what);
    const look = async (params: object): Promise<void> => {
      await client.call('POST', `/api/bodies/${id}/previews`, { operation: 'cuts', params });
      await at.server.queue.idle();
    };
    // on the printer's own beds the cube is one part; plans for others, and those weighed by hand, tell nothing of these
    await look({ bed: [70, 70, 70], plan: 'clean' });
    await look({ bed: [80, 80, 80], plan: 'support', weights: { parts: 1 } });
    expect(await compared()).eql([]);
    await look({ bed: [80, 80, 80], plan: 'fewest', quick: true });
    await look({ bed: [80, 80, 80], plan: 'fewest' });
    await look({ bed: [80, 80, 80], plan: 'soon' });
    expect(await compared()).eql(['fewest, 1 part']);
    // its hours by hand: those of the cube's volume and skin, at the ratio in which the slabs stand to theirs
    const other = (await client.call<DaysOtherwise>('GET', '/api/days/otherwise')).body.whatIfs.at(-1)!;
    const { plan } = (await client.call<DaysView>('GET', '/api/days')).body;
    const profile = Object.assign(new PrinterProfile(), printer.profile);
    const side = 50.8;
    const cubeOf = (high: number) => ({
      volumeMm3: side * side * high,
      areaMm2: 2 * side * side + 4 * side * high,
      heightMm: high,
      columnsMm3: 0,
    });
    const layingOf = (high: number): number => roughDurationS(cubeOf(high), profile) - profile.startS;
    const ratio = plan.days.reduce((n, d) => n + d.durationS - profile.startS, 0) / (2 * layingOf(side / 2));
    expect(other.printS).closeTo(profile.startS + layingOf(side) * ratio, 2);
    const grams = (high: number): number => roughMaterialMm3(cubeOf(high), profile);
    expect(other.materialG).closeTo((plan.materialG * grams(side)) / (2 * grams(side / 2)), 0.01);
    const [first] = (await kept()).bedfuls;
    await on(first, 'start');
    expect(await compared(), 'one is on a bed').eql([]);
    await on(first, 'undo');
    expect(await compared()).length(1);
    const [part] = (await client.body(id)).parts;
    await client.step(part.id, 'pose', { up: [1, 0, 0], printer: bed, compare: false });
    expect(await compared(), 'one lies otherwise by now').eql([]);
  });

  it('a bedful goes to another printer, as it lies or put together anew, with the hours that it takes there', async () => {
    const { projectId, id, work, keep, kept } = await laidSlabs();
    await keep(await work());
    const [first, ...others] = (await kept()).bedfuls;
    const add = async (fields: object) =>
      (
        await client.call<PrinterView>('POST', '/api/printers', {
          ...bed,
          name: `Other bed ${Math.random()}`,
          ...fields,
        })
      ).body;
    const quick = await add({
      bedMm: [90, 80, 80],
      wallSpeedMmS: 100,
      infillSpeedMmS: 160,
      maxFlowMm3S: 24,
      accelerationMmS2: 6000,
      startS: 600,
    });
    const move = (b: { id: string }, fields: object) =>
      client.call<BedfulView & ErrorBody>('POST', `/api/bedfuls/${b.id}/move`, fields);
    const moved = await move(first, { printerId: quick.id, wantedAt: '2031-01-31T10:00:00.000Z' });
    expect(moved.status, JSON.stringify(moved.body)).equal(201);
    const { body: there } = moved;
    expect([there.printerId, there.number, there.wantedAt, there.bedMm]).eql([
      quick.id,
      first.number,
      '2031-01-31T10:00:00.000Z',
      [90, 80],
    ]);
    expect(there.parts.map((p) => [p.tag, p.at, p.trouble])).eql(first.parts.map((p) => [p.tag, p.at, null]));
    // twice as fast in all, and as quick to it: half the time of laying, and the start of its own
    expect(there.durationS - 600).closeTo((first.durationS - printer.profile.startS) / 2, 1);
    expect(there.materialG).closeTo(first.materialG, 1e-9);
    // and back again, by way of a third, it takes what it took
    const same = await add({});
    const back = await move(there, { printerId: same.id });
    expect(back.body.durationS).closeTo(first.durationS, 1e-6);
    expect(back.body.wantedAt).equal('2031-01-31T10:00:00.000Z');
    expect((await client.call('GET', `/api/bedfuls/${there.id}`)).status, 'its place was taken').equal(404);
    expect((await kept()).bedfuls.map((b) => b.id).sort()).eql([back.body.id, ...others.map((b) => b.id)].sort());
    // what does not go says why, and stays
    const small = await add({ bedMm: [40, 40, 80] });
    const vat = await add({ kind: 'resin' });
    const tight = await move(back.body, { printerId: small.id });
    expect([tight.status, message(tight)]).eql([
      409,
      `The bed of ${small.profile.name} does not take all of bedful 1.`,
    ]);
    expect(message(await move(back.body, { printerId: vat.id }))).match(
      /prints resin; these parts are laid for filament/,
    );
    expect((await move(back.body, { printerId: 'nobody' })).status).equal(404);
    expect((await move(back.body, {})).status).equal(400);
    // a broader nozzle lays by settings of its own; back again it is what it was laid with
    const broad = await add({ nozzleMm: 0.8, lineWidthMm: 0.9, layerMm: 0.4 });
    const coarse = await move(back.body, { printerId: broad.id });
    expect(coarse.body.settings).match(/^0\.40 mm layers, 0\.80 mm nozzle/);
    expect(coarse.body.durationS).below(back.body.durationS);
    const { rows, heads } = (await client.call<BookTablesView>('GET', `/api/projects/${projectId}/book/tables`)).body
      .parts;
    const cellOf = (head: string) => rows.find((r) => r[0] === coarse.body.parts[0].tag)![heads.indexOf(head)];
    expect([cellOf('printer'), cellOf('settings')]).eql([broad.profile.name, coarse.body.settings]);
    expect(cellOf('hours')).closeTo(coarse.body.parts[0].durationS / 3600, 0.01);
    back.body = (await move(coarse.body, { printerId: same.id })).body;
    expect([back.body.settings, back.body.durationS.toFixed(6)]).eql([first.settings, first.durationS.toFixed(6)]);
    // two at once: one takes its place, the other finds it gone
    const twice = await Promise.all([
      move(back.body, { printerId: quick.id }),
      move(back.body, { printerId: quick.id }),
    ]);
    expect(twice.map((a) => a.status).sort()).eql([201, 404]);
    // undone, it is where it was
    await client.call('POST', `/api/bodies/${id}/bedfuls/undo`);
    const now = (await kept()).bedfuls.find((b) => b.id === back.body.id)!;
    expect(now.printerId).equal(same.id);
    await on(now, 'start');
    expect(message(await move(now, { printerId: quick.id }))).match(/was sent already/);
  });

  it('go with a copy and with a pack of their project; meshes that they hold are not collected', async () => {
    const { projectId, id, work, keep, kept } = await laidSlabs();
    await keep(await work());
    await on((await kept()).bedfuls[0], 'start');
    const copy = (await client.call<{ id: string; modelIds: string[] }>('POST', `/api/projects/${projectId}/copy`, {}))
      .body;
    const of = async (model: string) => (await client.call<BedfulsView>('GET', `/api/bodies/${model}/bedfuls`)).body;
    const copied = await of(copy.modelIds[0]);
    expect(tagsOf(copied.bedfuls)).eql(tagsOf((await kept()).bedfuls));
    expect(copied.bedfuls.map((b) => b.state)).eql((await kept()).bedfuls.map((b) => b.state));
    expect(copied.bedfuls.map((b) => b.id)).not.eql((await kept()).bedfuls.map((b) => b.id));
    // the copy is said to be on the same bed: one of the two is, and days are planned all the same
    const days = (await client.call<DaysView>('GET', '/api/days')).body;
    expect(days.plan.days.filter((d) => d.printer === printer.profile.name && d.running).length).equal(1);
    const packed = await fetch(`${at.server.address}/api/projects/${projectId}/pack`);
    const form = new FormData();
    form.append('file', new Blob([await packed.arrayBuffer()]), 'p.zip');
    const back = await client.call<{ projectId: string } & ErrorBody>('POST', '/api/projects/unpack', form);
    expect(back.status, JSON.stringify(back.body)).below(300);
    const { body: again } = await client.call<{ modelIds: string[] }>('GET', `/api/projects/${back.body.projectId}`);
    expect(tagsOf((await of(again.modelIds[0])).bedfuls)).eql(tagsOf(copied.bedfuls));
    // a divide that is changed leaves the meshes of what is on a bed alone
    await client.call('POST', `/api/bodies/${id}/undo`);
    await at.server.library.collect(0);
    for (const b of (await kept()).bedfuls)
      expect((await fetch(`${at.server.address}/api/bedfuls/${b.id}/file`)).status).equal(200);
  });

  it('a build book tells all of it on paper: read by another reader, with its tables', async () => {
    const { projectId, parts, work, keep, kept } = await laidSlabs();
    const pdfOf = async (query = '') => {
      const answer = await fetch(`${at.server.address}/api/projects/${projectId}/book${query}`);
      expect(answer.headers.get('content-type'), answer.status === 200 ? '' : await answer.clone().text()).equal(
        'application/pdf',
      );
      return parsePdf(Buffer.from(await answer.arrayBuffer()));
    };
    const before = await pdfOf();
    expect(before.text).match(/not laid yet|On no bedful yet/);
    await keep(await work());
    await client.call('PATCH', `/api/projects/${projectId}`, { name: 'Gate, 3 “wings” 雲', note: 'for the fen' });
    const { text, numpages } = await pdfOf('?paper=letter');
    const tags = (await parts()).map((p) => p.tag);
    // cover, map, bedfuls, a sheet a part, days, putting together
    expect(numpages).within(tags.length + 4, tags.length + 8);
    for (const said of [
      'Build book',
      'Gate, 3',
      'Bedfuls',
      'Days',
      'To buy',
      'Putting it together',
      'smoke alarm',
      ...tags,
    ])
      expect(text.toLowerCase(), said).contain(said.toLowerCase());
    for (const b of (await kept()).bedfuls) expect(text).contain(`Bedful ${b.number}`);
    const tables = (await client.call<BookTablesView>('GET', `/api/projects/${projectId}/book/tables`)).body;
    expect(tables.parts.rows.map((r) => r[0])).eql(tags);
    const csv = await (await fetch(`${at.server.address}/api/projects/${projectId}/book/tables/bedfuls.csv`)).text();
    expect(csv.split('\r\n')[0]).equal('bedful,printer,parts,hours,grams,full %,state');
    expect(csv.trim().split('\r\n').length).equal(1 + (await kept()).bedfuls.length);
    expect((await client.call('GET', `/api/projects/${projectId}/book?paper=a3`)).status).equal(400);
    expect((await client.call('GET', `/api/projects/${projectId}/book/tables/none.csv`)).status).equal(404);
    expect((await client.call('GET', '/api/projects/none/book')).status).equal(404);
    // beside a server that works there, by name
    const made = await bookFrom(at.folder, projectId, 'a4', 'http://127.0.0.1:4780', quietContext);
    expect((await parsePdf(Buffer.from(made.bytes))).numpages).equal(made.pages);
  });

  it('plans what it is given, and refuses what it cannot plan with the field', async () => {
    const request = {
      from: '2026-11-28T08:00',
      printers: [{ name: 'A' }],
      bedfuls: [{ name: '1', on: [{ printer: 'A', hours: 10 }], grams: 100 }],
    };
    const plan = (change: object) => client.call<DaysPlan & ErrorBody>('POST', '/api/plans', { ...request, ...change });
    expect((await plan({})).body.days[0].bedful).equal('1');
    const wrong = await plan({ bedfuls: [{ ...request.bedfuls[0], on: [{ printer: 'B', hours: 1 }] }] });
    expect([wrong.status, wrong.body.error.field]).eql([400, 'bedfuls.0.on']);
    expect((await plan({ deadline: '2020-01-01' })).body.error.message).equal('The deadline is past already.');
    expect((await plan({ home: { nights: 'never' } })).status).equal(400);
    expect((await client.call('POST', '/api/plans', '{')).status).equal(400);
    expect((await client.call('POST', '/api/bodies/none/bedfuls', { stepId: 'a'.repeat(64) })).status).equal(404);
    expect((await client.call('GET', '/api/bedfuls/none')).status).equal(404);
  });
});
