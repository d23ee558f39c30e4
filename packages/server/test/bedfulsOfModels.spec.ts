import { expect } from 'chai';
import { laidTogether } from '@jasmorphe/contracts/reading/laidPart';
import type { BedfulsView, BookTablesView, DaysView, ProjectBedsView } from '@jasmorphe/contracts/dayViews';
import type { KitView } from '@jasmorphe/contracts/kitViews';
import type { BodyView, ErrorBody, LogEntryView, PrinterView } from '@jasmorphe/contracts/views';
import { readThreeMf } from '@jasmorphe/core/formats/threeMf';
import { quietContext } from '@jasmorphe/core/run/context';
import { laidServer, message, tagsOf } from './laidClient.ts';

describe('bedfuls of several models', function () {
  const at = laidServer();
  const { client } = at;
  let printer: PrinterView;
  beforeEach(async () => {
    // four slabs lie side by side on it
    printer = await client.ownPrinter([120, 120, 80]);
  });

  /** Two cubes of one project, of one and the same mesh, each cut in two slabs that are laid. */
  async function twoCubes() {
    const first = await client.laidSlabs(printer);
    const second = await client.laidSlabs(printer, 30, first.projectId);
    const rename = async (id: string, fields: object): Promise<void> =>
      expect((await client.call('PATCH', `/api/bodies/${id}`, fields)).status).equal(200) as never;
    await rename(first.id, { name: 'Horn' });
    await rename(second.id, { name: 'Bell' });
    const bodies = async (): Promise<BodyView[]> => [await client.body(first.id), await client.body(second.id)];
    const together = async () => client.put(first.id, printer, laidTogether(await bodies()));
    return { projectId: first.projectId, first, second, rename, bodies, together };
  }

  it('share a bed, have tags that tell them apart, and are on both models; taken back for both', async () => {
    const { first, second, together, bodies } = await twoCubes();
    const alone = await second.keep(await second.work());
    expect(alone.body.bedfuls.length).equal(1);
    const answer = await first.keep(await together());
    expect(answer.status, JSON.stringify(answer.body)).equal(201);
    const [b] = answer.body.bedfuls;
    const [horn, bell] = await bodies();
    const tags = horn.parts.map((p) => p.tag);
    expect(tagsOf([b])[0]).eql([...tags.map((t) => `Bell ${t}`), ...tags.map((t) => `Horn ${t}`)].sort());
    // each part is of its own model, though the meshes are the same
    expect(new Set(b.parts.map((p) => `${p.modelId} ${p.partId}`))).eql(
      new Set([horn, bell].flatMap((m) => m.parts.map((p) => `${m.id} ${p.id}`))),
    );
    expect((await second.kept()).bedfuls.map((k) => k.id)).eql([b.id]);
    expect((await second.kept()).canUndo).equal(true);
    // what the second had before is there again, whoever takes it back
    const back = await client.call<BedfulsView>('POST', `/api/bodies/${second.id}/bedfuls/undo`);
    expect(tagsOf(back.body.bedfuls)).eql(tagsOf(alone.body.bedfuls));
    expect((await first.kept()).bedfuls).eql([]);
  });

  it('are started, stopped and taken back as one; the log tells each part by its own tag and model', async () => {
    const { projectId, first, second, together, bodies } = await twoCubes();
    const [b] = (await first.keep(await together())).body.bedfuls;
    expect((await client.on(b, 'start')).status).equal(201);
    const states = async () => (await bodies()).map((m) => m.parts.map((p) => p.state));
    expect(await states()).eql([
      ['printing', 'printing'],
      ['printing', 'printing'],
    ]);
    const own = b.parts.find((p) => p.modelId === second.id)!;
    const ended = await client.on(b, 'end', { hours: 5, stopped: [{ tag: own.tag, heightMm: 4 }] });
    expect(ended.status, JSON.stringify(ended.body)).equal(201);
    const [horn, bell] = await states();
    expect(horn).eql(['printed', 'printed']);
    expect([...bell].sort()).eql(['failed', 'printed']);
    const log = (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    const failed = log.find((e) => e.outcome === 'failed')!;
    expect([failed.modelId, failed.partId]).eql([second.id, own.partId]);
    expect(own.tag.endsWith(failed.tag)).equal(true);
    expect((await client.on(b, 'undo')).body.state).equal('printing');
    expect((await client.on(b, 'undo')).body.state).equal('waiting');
    expect((await states()).flat()).eql(['planned', 'planned', 'planned', 'planned']);
    // sent, it is not taken back from either model
    await client.on(b, 'start');
    expect((await second.kept()).canUndo).equal(false);
    const refused = await client.call<ErrorBody>('POST', `/api/bodies/${second.id}/bedfuls/undo`);
    expect([refused.status, refused.body.error.code]).eql([409, 'cannot']);
  });

  it('are not torn apart by planning one model alone; what was planned anew since is not taken back', async () => {
    const { first, second, together } = await twoCubes();
    const [b] = (await first.keep(await together())).body.bedfuls;
    const alone = await second.keep(await second.work());
    expect(alone.status).equal(409);
    expect(message(alone)).match(/Bedful 1 holds parts of another model too/);
    expect((await first.kept()).bedfuls.map((k) => k.id)).eql([b.id]);
    await client.call('DELETE', `/api/bedfuls/${b.id}`);
    expect((await second.keep(await second.work())).status).equal(201);
    // taking apart was the last that the first knows of: with it the second's parts would lie on two beds
    expect((await first.kept()).bedfuls).eql([]);
    expect((await client.call('POST', `/api/bodies/${first.id}/bedfuls/undo`)).status).equal(409);
    expect(tagsOf((await second.kept()).bedfuls).flat().length).equal(2);
  });

  it('one part that is laid otherwise holds all of it up; a model of another project is refused', async () => {
    const { first, second, together } = await twoCubes();
    const stale = await together();
    const [b] = (await first.keep(stale)).body.bedfuls;
    const own = b.parts.find((p) => p.modelId === second.id)!;
    await client.step(own.partId, 'pose', { up: [0, 1, 0], printer: { bedMm: [80, 80, 80] }, compare: false });
    const now = (await first.kept()).bedfuls[0];
    expect(now.parts.flatMap((p) => (p.trouble ? [`${p.tag} ${p.trouble}`] : []))).eql([`${own.tag} relaid`]);
    const start = await client.on(b, 'start');
    expect([start.status, message(start)]).eql([409, `${own.tag} is not what it was when bedful 1 of Test was kept.`]);
    expect((await first.keep(stale)).status).equal(409);
    // one part under two names lies on one bed all the same
    const [own1] = laidTogether([await client.body(first.id), await client.body(second.id)]);
    const doubled = await first.keep(await client.put(first.id, printer, [own1, { ...own1, tag: 'Horn again' }]));
    expect([doubled.status, message(doubled)]).eql([409, 'Horn again would lie on two beds.']);
    const other = await client.laidSlabs(printer);
    const mixed = laidTogether([await client.body(first.id), await client.body(other.id)]);
    const refused = await first.keep(await client.put(first.id, printer, mixed));
    expect([refused.status, message(refused)]).eql([
      409,
      'A model is gone, or went to another project, since these bedfuls were worked out.',
    ]);
  });

  it('twins of a piece have prints of their own; each lies on a bed beside the others', async () => {
    const { projectId, id } = await client.laidSlabs(printer);
    await client.call('PATCH', `/api/bodies/${id}`, { name: 'Wheel', copies: 3 });
    const make = (copies: number) =>
      client.call<{ ids: string[] } & ErrorBody>('POST', `/api/bodies/${id}/twins`, { copies });
    const [first] = (await client.body(id)).parts;
    await client.call('POST', `/api/projects/${projectId}/log`, { partId: first.id, outcome: 'started' });
    const [made, again] = await Promise.all([make(3), make(3)]);
    expect([made.status, again.status].sort()).eql([201, 409]);
    const { ids } = [made, again].find((a) => a.status === 201)!.body;
    expect([made, again].find((a) => a.status === 409)!.body.error.field).equal('copies');
    const all = await Promise.all([id, ...ids].map((one) => client.body(one)));
    expect(all.map((b) => [b.name, b.copies, b.parts.map((p) => p.state)])).eql([
      ['Wheel', 1, ['printing', 'planned']],
      ['Wheel 2', 1, ['planned', 'planned']],
      ['Wheel 3', 1, ['planned', 'planned']],
    ]);
    // the meshes, the poses and the way back are the same; ids are not
    expect(new Set(all.map((b) => b.parts.map((p) => `${p.mesh.hash} ${p.posed?.durationS}`).join())).size).equal(1);
    expect(new Set(all.flatMap((b) => b.parts.map((p) => p.id))).size).equal(6);
    expect(all.map((b) => b.canUndo)).eql([true, true, true]);
    const beds = (await client.call<ProjectBedsView>('GET', `/api/projects/${projectId}/bedfuls`)).body;
    expect(beds.models.map((m) => m.parts.length)).eql([1, 2, 2]);
    const kept = await client.call<BedfulsView>('POST', `/api/bodies/${id}/bedfuls`, {
      stepId: (await client.put(id, printer, laidTogether(beds.models))).id,
    });
    expect(kept.status, JSON.stringify(kept.body)).equal(201);
    const now = (await client.call<ProjectBedsView>('GET', `/api/projects/${projectId}/bedfuls`)).body.bedfuls;
    expect(tagsOf(now).flat().sort()).eql(beds.models.flatMap((m) => m.parts.map((p) => `${m.name} ${p.tag}`)).sort());
    // a twin is cut anew by itself
    await client.call('POST', `/api/bodies/${ids[0]}/undo`);
    expect((await client.body(ids[0])).parts).eql([]);
    expect((await client.body(ids[1])).parts.length).equal(2);
    // they are further pieces of the kit, not forms of one thing
    const kit = (await client.call<KitView>('GET', `/api/projects/${projectId}/kit`)).body;
    expect([kit.pieces.length, kit.variants]).eql([3, []]);
    expect((await make(1)).status).equal(400);
    expect((await client.call('POST', `/api/bodies/${first.id}/twins`, { copies: 2 })).status).equal(400);
  });

  it('outlive a model that is removed, go with a copy, and stand in days, book and file', async () => {
    const { projectId, first, second, rename, together } = await twoCubes();
    await rename(second.id, { colour: 'slate' });
    // of other colours they lie on other beds
    const apart = await first.keep(await together());
    expect(
      tagsOf(apart.body.bedfuls)
        .flat()
        .every((tag) => tag.startsWith('Horn')),
    ).equal(true);
    expect(
      tagsOf((await second.kept()).bedfuls)
        .flat()
        .every((tag) => tag.startsWith('Bell')),
    ).equal(true);
    expect(apart.body.bedfuls[0].settings).match(/no colour said$/);
    await rename(first.id, { colour: 'slate' });
    const [b] = (await first.keep(await together())).body.bedfuls;
    const view = (await client.call<DaysView>('GET', '/api/days')).body;
    expect(view.projects.find((p) => p.id === projectId)!.loose).eql([]);
    const day = view.plan.days.find((d) => d.id === b.id)!;
    expect(day.durationS).closeTo(b.durationS, 1e-6);
    const tables = (await client.call<BookTablesView>('GET', `/api/projects/${projectId}/book/tables`)).body;
    const { heads, rows } = tables.parts;
    expect(rows.map((r) => r[heads.indexOf('bedful')])).eql(rows.map(() => b.number));
    const file = await fetch(`${at.server.address}/api/bedfuls/${b.id}/file`);
    const { objects } = readThreeMf(new Uint8Array(await file.arrayBuffer()), quietContext);
    expect(objects.map((o) => o.name).sort()).eql(tagsOf([b])[0]);
    // one that may not be passed on altered holds the file up
    await rename(second.id, { terms: 'cc-by-nd' });
    expect((await fetch(`${at.server.address}/api/bedfuls/${b.id}/file`)).status).equal(409);

    const copy = (await client.call<{ modelIds: string[] }>('POST', `/api/projects/${projectId}/copy`, {})).body;
    for (const model of copy.modelIds) {
      const [copied] = (await client.call<BedfulsView>('GET', `/api/bodies/${model}/bedfuls`)).body.bedfuls;
      expect(copied.parts.map((p) => [copy.modelIds.includes(p.modelId), p.trouble])).eql(
        b.parts.map(() => [true, null]),
      );
    }

    // what is taken back in the copy is taken back there alone
    const undone = await client.call<BedfulsView>('POST', `/api/bodies/${copy.modelIds[0]}/bedfuls/undo`);
    expect(undone.status).equal(200);
    expect(undone.body.bedfuls.some((k) => k.parts.length === b.parts.length)).equal(false);
    expect((await first.kept()).bedfuls.map((k) => k.id)).eql([b.id]);

    expect((await client.call('DELETE', `/api/bodies/${first.id}`)).status).equal(204);
    const [left] = (await second.kept()).bedfuls;
    expect(left.id).equal(b.id);
    expect(left.parts.map((p) => p.trouble).sort()).eql(['gone', 'gone', null, null]);
    expect((await client.call<DaysView>('GET', '/api/days')).status).equal(200);
    // parts that are there no more keep nobody from planning those that are
    const anew = await second.keep(await second.work());
    expect([anew.status, tagsOf(anew.body.bedfuls).flat().length]).eql([201, 2]);
    await client.call('POST', `/api/bodies/${second.id}/bedfuls/undo`);
    expect((await second.kept()).bedfuls.map((k) => k.id)).eql([b.id]);
    expect((await client.call('DELETE', `/api/bodies/${second.id}`)).status).equal(204);
    expect((await client.call('GET', `/api/bedfuls/${b.id}`)).status).equal(404);
  });
});
