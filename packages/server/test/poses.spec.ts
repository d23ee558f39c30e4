import { expect } from 'chai';
import type { BatchView } from '@jasmorphe/contracts/kitViews';
import type { BodyFinding } from '@jasmorphe/contracts/reading/findings';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { ErrorBody, JobView, PartView, StepView } from '@jasmorphe/contracts/views';
import { laidPart } from '@jasmorphe/contracts/reading/laidPart';
import { tipKey } from '@jasmorphe/contracts/reading/poses';
import { readThreeMf } from '@jasmorphe/core/formats/threeMf';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { quietContext } from '@jasmorphe/core/run/context';
import { bed, LaidClient } from './laidClient.ts';
import { ownServer } from './ownServer.ts';

const printer = bed;
const standing = { up: [0, 0, 1], printer, compare: false };
const lying = { up: [1, 0, 0], printer, compare: false };

describe('poses of parts', function () {
  const at = ownServer();
  const client = new LaidClient(() => at.server);

  const slabs = () => client.slabs();
  const lay = (part: PartView, params: object) => client.step(part.id, 'pose', params);
  const tried = (part: PartView, params: object) =>
    client.call<JobView & ErrorBody>('POST', `/api/bodies/${part.id}/steps`, { operation: 'pose', params });
  const undo = (part: PartView, way = 'undo') => client.call<ErrorBody>('POST', `/api/bodies/${part.id}/${way}`);

  it('a part lies as it was laid: its height, its file and its hours; one pose gives way to the next, and back', async () => {
    const { parts } = await slabs();
    const [a] = await parts();
    expect(a.posed).equal(null);
    expect((await lay(a, standing)).state).equal('done');
    const laid = await parts();
    let [now] = laid;
    expect([now.up, now.posed!.school]).eql([[0, 0, 1], 'own']);
    expect(now.posed!.durationS).above(0);
    expect(laid[1].posed).equal(null);
    await lay(a, lying);
    [now] = await parts();
    expect(now.line.map((s) => s.operation)).eql(['pose']);
    expect(now.up[0]).closeTo(1, 1e-9);
    const file = await fetch(`${at.server.address}/api/bodies/${a.id}/export?format=stl&pose=bed`);
    const { mesh } = readMesh(new Uint8Array(await file.arrayBuffer()));
    expect(sizeOf(boundsOf(mesh))[2]).closeTo(now.heightMm, 1e-4);
    expect((await undo(a)).status).equal(200);
    expect((await parts())[0].up[2]).closeTo(1, 1e-9);
    await undo(a, 'redo');
    expect((await parts())[0].up[0]).closeTo(1, 1e-9);
    await undo(a);
    await undo(a);
    expect((await parts())[0]).deep.include({ posed: null, rotation: a.rotation, heightMm: a.heightMm });
  });

  it('it is not turned under a print, nor where one stopped; a pose that was asked for before is refused too', async () => {
    const { parts, say } = await slabs();
    const [a, b] = await parts();
    await lay(a, standing);
    await say(a, 'started');
    const refused = await tried(a, lying);
    expect([refused.status, refused.body.error.message]).eql([409, `${a.tag} is on the bed as it lies.`]);
    expect((await undo(a)).status).equal(409);
    await say(a, 'failed', { heightMm: 5 });
    expect((await tried(a, lying)).status).equal(409);
    expect((await parts())[0].up).eql([0, 0, 1]);
    // the job waits while the print is started
    const job = await tried(b, { ...lying, compare: true, up: undefined });
    await say(b, 'started');
    await at.server.queue.idle();
    const ended = await client.job(job.body.id);
    expect([ended.state, ended.error?.code]).eql(['failed', 'cannot']);
    expect((await parts())[1].posed).equal(null);
    await say(b, 'passed');
    expect((await lay(b, lying)).state).equal('done');
  });

  it('a recut is of the pose that was printed, and figures of another mesh are not told of the rest', async () => {
    const { parts, say } = await slabs();
    const [a] = await parts();
    await lay(a, standing);
    const [laid] = await parts();
    await say(laid, 'started');
    await say(laid, 'failed', { heightMm: 10 });
    await client.step(a.id, 'recut', { printed: 10, up: laid.up });
    const [rest] = await parts();
    expect(rest.up).eql([0, 0, 1]);
    expect(rest.heightMm).closeTo(laid.heightMm - 10, 0.2);
    expect(rest.posed).equal(null);
    // a pose that a recut went by is not changed behind it
    const behind = await client.call<ErrorBody>('PUT', `/api/bodies/${a.id}/steps/0`, { params: lying });
    expect([behind.status, behind.body.error.message]).eql([
      409,
      'What was done to the part since was done as it lay.',
    ]);
    // the rest may be laid otherwise; at the printer that is no word to take back
    await lay(rest, lying);
    let [now] = await parts();
    expect([now.up[0], now.posed?.school, now.canUndoPrint]).eql([1, 'own', false]);
    const back = await client.call<ErrorBody>('POST', `/api/bodies/${a.id}/print/undo`);
    expect([back.status, back.body.error.code]).eql([409, 'nothing-to-undo']);
    await undo(a);
    [now] = await parts();
    expect([now.up[2], now.canUndoPrint]).eql([1, true]);
  });

  it('all parts at once: those on a bed are told and left, one undo takes the others back', async () => {
    const { projectId, id, parts, say } = await slabs();
    const all = await parts();
    const last = all.at(-1)!;
    await say(last, 'started');
    const asked = await client.batch(
      projectId,
      'pose',
      { printer, compare: false },
      all.map((p) => p.id),
    );
    expect(asked.status).equal(202);
    expect(asked.body.operation).equal('pose');
    expect(asked.body.title).equal(`Pose, ${all.length - 1} ${all.length === 2 ? 'part' : 'parts'}`);
    expect(asked.body.refused).eql([
      { file: last.tag, message: `${last.tag} is on the bed as it lies. Say how that print ended first.` },
    ]);
    await at.server.queue.idle();
    expect((await parts()).map((p) => p.posed?.school ?? null)).eql([...all.slice(1).map(() => 'best'), null]);
    await say(all[0], 'started');
    const { body } = await client.call<{ undone: string[]; kept: string[] }>(
      'POST',
      `/api/batches/${asked.body.id}/undo`,
    );
    // what is on the bed by now stays as it lies
    expect(body).deep.include({ kept: [all[0].id] });
    expect((await parts()).map((p) => p.posed !== null)).eql(all.map((_, i) => i === 0));
    const whole = await client.batch(projectId, 'pose', { printer }, [id]);
    expect(whole.body.refused[0].message).match(/by its parts/);
    expect((await client.call<BatchView>('GET', `/api/batches/${whole.body.id}`)).body.total).equal(0);
  });

  it('a pose outlives a cut elsewhere; a part that comes out otherwise begins anew', async () => {
    const { id, parts } = await slabs();
    const [a] = await parts();
    await lay(a, lying);
    await client.call('POST', `/api/bodies/${id}/undo`);
    expect(await parts()).eql([]);
    await client.call('POST', `/api/bodies/${id}/redo`);
    expect((await parts())[0].posed!.school).equal('own');
    await client.step(id, 'divide', { bed: [60, 60, 60], join: 'none' });
    expect((await parts()).every((p) => p.posed === null)).equal(true);
  });

  it('support tips are ticked off by mesh and place; struts come beside the part, on the bed, in one file', async () => {
    const { id, parts } = await slabs();
    const [a] = await parts();
    const key = tipKey(a.mesh.hash, { x: -0.04, y: 12.34, z: 5 });
    expect(key).match(/:0\.0,12\.3,5\.0$/);
    const path = (of: string, what = key) => `/api/bodies/${of}/tips/${what}`;
    for (let i = 0; i < 2; i++) expect((await client.call('PUT', path(a.id))).status).equal(200);
    expect((await client.body(a.id)).tipsDone).eql([key]);
    for (const [of, what] of [
      [id, key],
      [a.id, 'tip:x'],
      [a.id, `${key};drop`],
    ])
      expect((await client.call<ErrorBody>('PUT', path(of, what))).status).equal(404);
    expect((await client.call('DELETE', path(a.id))).status).equal(204);
    expect((await client.body(a.id)).tipsDone).eql([]);

    const get = (of: string, more: string) =>
      fetch(`${at.server.address}/api/bodies/${of}/export?pose=bed&struts=${more}`);
    // flat on its side it needs none
    await lay(a, { ...lying, up: a.up });
    expect((await get(a.id, 'bed')).status).equal(409);
    expect((await get(id, 'bed')).status).equal(409);
    expect((await get(a.id, 'air')).status).equal(400);
    await lay(a, { ...lying, up: [0.7, 0, 0.71] });
    const file = await get(a.id, 'bed');
    expect(file.headers.get('content-disposition')).match(/on-bed_struts\.3mf/);
    const objects = readThreeMf(new Uint8Array(await file.arrayBuffer()), quietContext).objects;
    expect(objects.map((o) => o.name)).eql([a.tag, `${a.tag} struts`]);
    const lowest = objects.map((o) => boundsOf(o.mesh).min[2]);
    expect(Math.min(...lowest)).closeTo(0, 1e-4);
  });

  it('bedfuls are worked out over the parts as they lie, and each is fetched with its parts in their places', async () => {
    const { id, parts } = await slabs();
    for (const p of await parts()) await lay(p, { printer, compare: false });
    const laid = await parts();
    const params = {
      printers: [{ ...printer, name: 'Long bed' }],
      parts: laid.map(laidPart),
    };
    const ask = () => client.call<StepView>('POST', `/api/bodies/${id}/previews`, { operation: 'bedfuls', params });
    await client.ended((await ask()) as never);
    const { body: step } = await ask();
    const { bedfuls } = (step as StepOf<'bedfuls'>).report;
    expect(bedfuls.flatMap((b) => b.parts.map((p) => p.tag)).sort()).eql(laid.map((p) => p.tag).sort());
    const get = (of: string, n: string) => fetch(`${at.server.address}/api/bodies/${id}/bedfuls/${of}/${n}`);
    const file = await get(step.id, '1');
    expect(file.headers.get('content-disposition')).match(/bedful-1_Long.bed\.3mf/);
    const { objects } = readThreeMf(new Uint8Array(await file.arrayBuffer()), quietContext);
    expect(objects.map((o) => o.name)).eql(bedfuls[0].parts.map((p) => p.tag));
    for (const o of objects) {
      const { min, max } = boundsOf(o.mesh);
      expect(Math.min(min[0], min[1])).least(2 - 1e-3);
      expect(Math.max(max[0], max[1])).most(78 + 1e-3);
      expect(min[2]).closeTo(0, 1e-4);
    }
    for (const [of, n] of [
      [step.id, '99'],
      [step.id, 'x'],
      ['nothing', '1'],
    ])
      expect((await get(of, n)).status).equal(404);
    const gone = { ...params, parts: [{ ...params.parts[0], mesh: 'f'.repeat(64) }] };
    const refused = await client.call('POST', `/api/bodies/${id}/previews`, { operation: 'bedfuls', params: gone });
    expect(refused.status).least(400);
  });

  it('is worked out without being taken, told among the findings of Lay out, and refused for a whole model', async () => {
    const { id, parts } = await slabs();
    const [a] = await parts();
    const asked = await client.call<JobView>('POST', `/api/bodies/${a.id}/previews`, {
      operation: 'pose',
      params: { printer: { ...printer, bedMm: [30, 30, 30] }, ...{ up: [1, 0, 0] } },
    });
    await client.ended(asked);
    const known = await client.call<StepView>('POST', `/api/bodies/${a.id}/previews`, {
      operation: 'pose',
      params: { printer: { ...printer, bedMm: [30, 30, 30] }, ...{ up: [1, 0, 0] } },
    });
    expect(known.status).equal(200);
    expect((await parts())[0].posed).equal(null);
    const findings = async () =>
      (await client.call<(BodyFinding & { message: string })[]>('GET', `/api/bodies/${id}/findings?stop=layout`)).body;
    expect((await findings()).some((f) => f.kind === 'off-bed')).equal(false);
    await lay(a, { up: [1, 0, 0], printer: { ...printer, bedMm: [30, 30, 30] } });
    expect((await findings()).find((f) => f.kind === 'off-bed')!.message).equal(
      `${a.tag} reaches beyond the bed as it lies. Lay it on another side.`,
    );
    const refused = await client.call<ErrorBody>('POST', `/api/bodies/${id}/steps`, { operation: 'pose', params: {} });
    expect([refused.status, refused.body.error.message]).eql([400, 'A model is laid on the bed by its parts.']);
    const wrong = await tried(a, { printer: { layerMm: 0 } });
    expect([wrong.status, wrong.body.error.message]).eql([
      400,
      '"Printer" must be the settings of a printer: "Layer, mm" must be a length above 0 and up to 1 000 000 mm.',
    ]);
  });
});
