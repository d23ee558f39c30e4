import { expect } from 'chai';
import type { BatchView } from '@jasmorphe/contracts/kitViews';
import type { ErrorBody, JobView, LogEntryView, PartView } from '@jasmorphe/contracts/views';
import type { BookTablesView } from '@jasmorphe/contracts/dayViews';
import { jointsOf, waitsOf } from '@jasmorphe/contracts/reading/joints';
import { readArchive } from '@jasmorphe/core/formats/archive';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { Client } from './client.ts';
import { ownServer } from './ownServer.ts';

describe('prints', function () {
  const at = ownServer();
  const client = new Client(() => at.server);

  /** A cube of 50.8 mm cut into four posts that fit a low bed only when they lie. */
  async function posts() {
    const { projectId, id } = await client.importedCube('in');
    await client.step(id, 'divide', { bed: [60, 60, 30] });
    const parts = async () => (await client.body(id)).parts;
    const say = (part: PartView, outcome: string, more: object = {}) =>
      client.call<LogEntryView & ErrorBody>('POST', `/api/projects/${projectId}/log`, {
        partId: part.id,
        outcome,
        ...more,
      });
    const undo = (part: PartView, way = 'undo') => client.call<PartView>('POST', `/api/bodies/${part.id}/print/${way}`);
    return { projectId, id, parts, say, undo };
  }

  it('joints are ticked off by what they join, stay for as long as that does, and go away with the model', async () => {
    const { id, parts } = await posts();
    const body = async () => client.body(id);
    const joints = jointsOf(await body());
    expect(joints.length).greaterThan(0);
    const path = (key: string) => `/api/bodies/${id}/joints/${key}`;
    // nothing of it is off the bed: that is asked about
    const waits = await client.call<ErrorBody>('PUT', path(joints[0].key));
    expect([waits.status, waits.body.error.code, waits.body.error.field]).eql([409, 'parts-wait', 'anyway']);
    expect((await body()).joined).eql([]);
    for (let i = 0; i < 2; i++)
      expect((await client.call('PUT', `${path(joints[0].key)}?anyway=yes`)).status).equal(200);
    expect((await body()).joined).eql([joints[0].key]);
    expect((await client.call<ErrorBody>('PUT', path('nothing'))).status).equal(404);
    // cut otherwise there are other joints; undone, the tick is there again
    await client.call('POST', `/api/bodies/${id}/undo`);
    expect(jointsOf(await body())).eql([]);
    await client.call('POST', `/api/bodies/${id}/redo`);
    expect(jointsOf(await body()).some((j) => j.key === joints[0].key)).equal(true);
    expect((await client.call('DELETE', path(joints[0].key))).status).equal(204);
    expect((await body()).joined).eql([]);
    expect((await parts()).length).equal(joints.length + 1);
  });

  it('some parts, what is printed apart for them, and a fit gauge are fetched as files', async () => {
    const { id } = await client.importedCube('in');
    await client.step(id, 'divide', { bed: [60, 60, 30], join: 'dowel' });
    const get = async (path: string) => {
      const r = await fetch(at.server.address + path);
      return { status: r.status, type: r.headers.get('content-type'), bytes: new Uint8Array(await r.arrayBuffer()) };
    };
    const tags = (await client.body(id)).parts.map((p) => p.tag);
    const some = await get(`/api/bodies/${id}/export?format=stl&only=${tags[0]},${tags[1]}`);
    const files = [...readArchive(some.bytes, () => true).keys()];
    expect(files.filter((f) => f.endsWith('.stl')).length).equal(2);
    const table = new TextDecoder().decode(readArchive(some.bytes, (n) => n === 'parts.csv').get('parts.csv'));
    expect(
      table
        .trim()
        .split('\r\n')
        .map((l) => l.split(',')[0]),
    ).eql(['tag', tags[0], tags[1]]);
    const map = new TextDecoder().decode(readArchive(some.bytes, (n) => n === 'map.svg').get('map.svg'));
    for (const tag of tags) expect(map).include(`>${tag}</text>`);
    expect((await get(`/api/bodies/${id}/export?only=Z9`)).status).equal(404);
    const loose = await get(`/api/bodies/${id}/export?what=loose`);
    expect([loose.status, loose.type]).eql([200, 'model/3mf']);
    const gauge = await get('/api/gauge?steps=0.1,0.3');
    expect([gauge.status, gauge.type]).eql([200, 'model/3mf']);
    expect((await get('/api/gauge?steps=x')).status).equal(400);
    await client.step(id, 'divide', { bed: [60, 60, 30], join: 'none' });
    expect((await get(`/api/bodies/${id}/export?what=loose`)).status).equal(409);
  });

  it('a part goes from started over stopped and recut to its rest, and every word can be taken back', async () => {
    const { projectId, parts, say, undo } = await posts();
    const state = async () => (await parts())[0].state;
    const [a] = await parts();
    expect((await say(a, 'started')).status).equal(201);
    expect(await state()).equal('printing');
    const twice = await say(a, 'started');
    expect([twice.status, twice.body.error.message]).eql([409, 'It is on the bed already.']);
    expect((await say(a, 'failed')).body.error.code).equal('bad-params');
    expect((await say(a, 'failed', { heightMm: a.heightMm + 1 })).body.error.message).match(/25\.4 mm high/);
    await say(a, 'failed', { heightMm: 12.3 });
    expect([await state(), (await parts())[0].failedAtMm]).eql(['failed', 12.3]);
    await client.step(a.id, 'recut', { printed: 12.3, up: a.up });
    let [rest] = await parts();
    expect([rest.tag, rest.state, rest.rests]).eql([`${a.tag}r1`, 'planned', 1]);
    expect(rest.heightMm).closeTo(a.heightMm - 12.2, 1e-6);
    await say(rest, 'started');
    await say(rest, 'failed', { heightMm: 5 });
    await client.step(a.id, 'recut', { printed: 5, up: a.up });
    [rest] = await parts();
    expect([rest.tag, rest.state]).eql([`${a.tag}r2`, 'planned']);
    // each rest goes on to its stump, by the area of the cut: a square of 25.4 mm that was halved
    const whole = await client.body(a.modelId);
    const rests = jointsOf(whole).filter((j) => j.rest);
    expect(rests.map((j) => [j.name, j.from, waitsOf(j, whole)])).eql([
      [`${a.tag}r1`, [a.tag], []],
      [`${a.tag}r2`, [`${a.tag}r1`], [`${a.tag}r2`]],
    ]);
    const { size } = a.mesh.facts;
    expect(rests[0].glueMm2).closeTo(size.x * size.y, 0.1);
    const tables = await client.call<BookTablesView>('GET', `/api/projects/${projectId}/book/tables`);
    expect(tables.body.assembly.rows.slice(0, 2).map((r) => [r[2], r[3]])).eql(rests.map((j) => [j.name, j.from[0]]));
    expect(String(tables.body.parts.rows[0].at(-2))).match(new RegExp(`^${a.tag}r1, its stump: glue alone`));
    expect((await say(rest, 'passed')).status).equal(201);
    expect(await state()).equal('printed');
    // undone one by one: printed, the second recut, stopped, started, the first recut, stopped, started
    const seen: string[] = [];
    for (let i = 0; i < 7; i++) {
      const { body } = await undo(rest);
      seen.push(`${body.tag} ${body.state}`);
    }
    expect(seen).eql([
      'A1r2 planned',
      'A1r1 failed',
      'A1r1 printing',
      'A1r1 planned',
      'A1 failed',
      'A1 printing',
      'A1 planned',
    ]);
    expect((await undo(rest)).status).equal(409);
    expect((await undo(rest, 'redo')).body.state).equal('printing');
    const log = (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    // nothing was edited: five words, five that took them back, and one that took the last of these back
    expect(log.length).equal(11);
  });

  it('two tabs that say the same at once say it once', async () => {
    const { parts, say } = await posts();
    const [, b] = await parts();
    const answers = await Promise.all([1, 2, 3, 4].map(() => say(b, 'started')));
    expect(answers.map((a) => a.status).sort()).eql([201, 409, 409, 409]);
    expect((await parts())[1].state).equal('printing');
  });

  it('below the first layer nothing is kept: again, aside and up again', async () => {
    const { parts, say } = await posts();
    const [a] = await parts();
    await say(a, 'failed', { heightMm: 0 });
    expect((await client.step(a.id, 'recut', { printed: 0.1, up: a.up })).error?.code).equal('bad-params');
    await say(a, 'again');
    expect((await parts())[0].state).equal('planned');
    await say(a, 'aside');
    expect((await say(a, 'started')).body.error.message).match(/set aside/i);
    await say(a, 'again');
    expect((await parts())[0].state).equal('planned');
  });

  it('what was said last of a mesh can be taken back, once, and nothing that a recut was built on', async () => {
    const { projectId, parts, say, undo } = await posts();
    const [a] = await parts();
    const started = (await say(a, 'started')).body;
    const stopped = (await say(a, 'failed', { heightMm: 9 })).body;
    await client.step(a.id, 'recut', { printed: 9, up: a.up });
    const log = async () => (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    const offered = async () => (await log()).filter((e) => e.canTakeBack).map((e) => e.id);
    const back = (correctsId: string) => say(a, 'withdrawn', { correctsId });
    expect(await offered()).eql([]);
    expect((await back(started.id)).body.error.message).match(/A1 has gone on since/);
    expect((await back(stopped.id)).body.error.message).match(/A1 was recut since/);
    await undo(a);
    expect(await offered()).eql([stopped.id]);
    const answers = await Promise.all([1, 2, 3].map(() => back(stopped.id)));
    expect(answers.map((r) => r.status).sort()).eql([201, 409, 409]);
    expect((await back('none')).status).equal(400);
    expect((await log()).find((e) => e.id === stopped.id)!.withdrawn).equal(true);
    expect(await offered()).eql([started.id]);
  });

  it('as many redos as undos bring every word back, a recut among them; of six for one word one is taken', async () => {
    const { parts, say, undo } = await posts();
    const [a] = await parts();
    await say(a, 'started');
    await say(a, 'failed', { heightMm: 12.3 });
    await client.step(a.id, 'recut', { printed: 12.3, up: a.up });
    const [rest] = await parts();
    await say(rest, 'started');
    await say(rest, 'passed');
    const walk = async (way: string) => {
      const seen: string[] = [];
      for (let i = 0; i < 5; i++) {
        const { body } = await undo(a, way);
        seen.push(`${body.tag} ${body.state} ${body.canRedoPrint ? 'more' : 'all'}`);
      }
      return seen;
    };
    expect(await walk('undo')).eql([
      'A1r1 printing more',
      'A1r1 planned more',
      'A1 failed more',
      'A1 printing more',
      'A1 planned more',
    ]);
    expect(await walk('redo')).eql([
      'A1 printing more',
      'A1 failed more',
      'A1r1 planned more',
      'A1r1 printing more',
      'A1r1 printed all',
    ]);
    expect((await undo(a, 'redo')).status).equal(409);
    await undo(a);
    const six = await Promise.all([1, 2, 3, 4, 5, 6].map(() => undo(a, 'redo')));
    expect(six.map((r) => r.status).sort()).eql([200, 409, 409, 409, 409, 409]);
  });

  it('no way along the line makes prints of no use before it is said that it may', async () => {
    const { projectId, id, parts, say } = await posts();
    const [a] = await parts();
    await say(a, 'passed');
    const post = (path: string, body: object = {}) =>
      client.call<ErrorBody & JobView & { parts: PartView[] }>('POST', `/api/bodies/${id}/${path}`, body);
    const log = async () => (await client.call<LogEntryView[]>('GET', `/api/projects/${projectId}/log`)).body;
    const said = 'A1 (printed)';
    for (const [path, body] of [
      ['undo', {}],
      ['cursor', { cursor: 1 }],
    ] as const) {
      const { status, body: answer } = await post(path, body);
      expect([status, answer.error.code], path).eql([409, 'prints-at-stake']);
      expect(answer.error.message).include(said);
    }
    expect((await parts())[0].state).equal('printed');
    // a step whose parts come out otherwise says so at its end, and leaves the line as it was
    const edit = await client.ended(
      await client.call<JobView>('PUT', `/api/bodies/${id}/steps/1`, { params: { bed: [60, 60, 60] } }),
    );
    expect([edit.state, edit.error!.code]).eql(['failed', 'prints-at-stake']);
    // one behind the divide leaves its parts as they are
    expect((await client.step(id, 'move', { by: [1, 0, 0] })).state).equal('done');
    expect((await post('undo')).status).equal(200);
    expect((await post('undo', { lose: true })).body.parts).eql([]);
    // what was said stays to be seen, whatever the line does
    expect((await log()).map((e) => [e.tag, e.outcome])).eql([['A1', 'passed']]);
    for (const step of ['size', 'divide'])
      expect((await post('steps', { operation: step, params: { factor: 2 } })).body.error?.code).match(
        /prints-at-stake|bad-params/,
      );
    const [first] = (await client.body(id)).line;
    expect((await post('cursor', { cursor: 1 })).status).equal(200);
    const version = { sourceHash: first.inputs[0].slice(7), fileName: 'cube.stl' };
    expect((await post('version', version)).body.error.code).equal('prints-at-stake');
    const batch = { operation: 'size', params: { factor: 2 }, bodyIds: [id] };
    const { body: run } = await client.call<BatchView>('POST', `/api/projects/${projectId}/batches`, batch);
    expect(run.refused[0].message).match(/Only Redo brings 1 part that is printed back/);
    // and redo brings them back
    const redone = await post('redo');
    expect(redone.body.parts.map((p) => p.state)).eql(['printed', 'planned']);
    expect((await post('undo', { lose: true })).status).equal(200);
    expect(
      (await client.ended(await post('steps', { operation: 'size', params: { factor: 2 }, lose: true }))).state,
    ).equal('done');
    expect((await log()).length).equal(1);
  });

  it('undo of what was done to many pieces asks before prints go, and two undos at once are two', async () => {
    const { projectId, id } = await client.importedCube('in');
    const divide = { operation: 'divide', params: { bed: [60, 60, 30] }, bodyIds: [id] };
    const { body: batch } = await client.call<BatchView>('POST', `/api/projects/${projectId}/batches`, divide);
    await at.server.queue.idle();
    const [part] = (await client.body(id)).parts;
    await client.call('POST', `/api/projects/${projectId}/log`, { partId: part.id, outcome: 'started' });
    const undo = (body?: object) => client.call<ErrorBody>('POST', `/api/batches/${batch.id}/undo`, body);
    const refused = await undo();
    expect([refused.status, refused.body.error.code]).eql([409, 'prints-at-stake']);
    expect((await client.body(id)).parts.length).equal(2);
    expect((await undo({ lose: true })).status).equal(200);
    const sized = { operation: 'size', params: { factor: 2 }, lose: true };
    await client.ended(await client.call<JobView>('POST', `/api/bodies/${id}/steps`, sized));
    await client.step(id, 'size', { factor: 3 });
    const answers = await Promise.all([1, 2].map(() => client.call('POST', `/api/bodies/${id}/undo`)));
    expect(answers.map((r) => r.status)).eql([200, 200]);
    expect((await client.body(id)).cursor).equal(1);
  });

  it('a changed divide says first whose prints it would make useless, and keeps those whose mesh stays', async () => {
    const { projectId, id } = await client.importedCube('in');
    await client.step(id, 'divide', { bed: [60, 60, 60], at: [{ axis: 'z', mm: 10 }] });
    const parts = async () => (await client.body(id)).parts;
    const [low, high] = await parts();
    for (const p of [low, high])
      await client.call('POST', `/api/projects/${projectId}/log`, { partId: p.id, outcome: 'passed' });
    // a second cut leaves the lower part as it is
    const change = (dry: boolean) =>
      client.call<JobView>('PUT', `/api/bodies/${id}/steps/1`, {
        lose: true,
        params: {
          bed: [60, 60, 60],
          at: [
            { axis: 'z', mm: 10 },
            { axis: 'z', mm: 20 },
          ],
        },
        dry,
      });
    const asked = await client.ended(await change(true));
    expect(asked.result!.atStake).eql({ lost: [{ tag: high.tag, state: 'printed' }], kept: [low.tag] });
    expect((await parts()).map((p) => p.state)).eql(['printed', 'printed']);
    await client.ended(await change(false));
    const now = await parts();
    expect(now.map((p) => p.state)).eql(['printed', 'planned', 'planned']);
    expect(now[0].mesh.hash).equal(low.mesh.hash);
    // and undo brings the others back as they were
    expect((await client.call('POST', `/api/bodies/${id}/undo`)).status).equal(200);
    expect((await parts()).map((p) => p.state)).eql(['printed', 'printed']);
  });

  it('our own 3MF of parts reads back as one sound model a part, or as one of them all', async () => {
    const { projectId, id } = await client.importedCube('in');
    await client.step(id, 'divide', { bed: [30, 30, 30], join: 'pin' });
    const { parts } = await client.body(id);
    const said = { name: 'Carnyx', source: { by: 'the Fen guild' }, terms: 'cc-by', licence: 'version 4.0' };
    await client.call('PATCH', `/api/projects/${projectId}`, said);
    const file = await fetch(`${at.server.address}/api/bodies/${id}/export?format=3mf&pose=bed`);
    const bytes = new Uint8Array(await file.arrayBuffer());
    // whose it is and what may be done with it goes along; and one part alone says the same
    const words = { title: 'Carnyx: cube', designer: 'the Fen guild', licence: 'CC BY: version 4.0' };
    expect(readMesh(bytes).words).eql(words);
    const alone = await fetch(`${at.server.address}/api/bodies/${parts[0].id}/export?format=3mf`);
    const one = readMesh(new Uint8Array(await alone.arrayBuffer()));
    expect([one.words, boundsOf(one.mesh).min.every((x) => x >= 0)]).eql([words, true]);
    const target = await client.newProject();
    const done = await client.ended(await client.upload(target, bytes, 'parts.3mf', 'auto'));
    const { models } = (await client.call<{ models: { id: string; name: string }[] }>('GET', `/api/projects/${target}`))
      .body;
    expect(models.map((m) => m.name)).eql(parts.map((p) => `parts ${p.tag}`));
    for (const m of models) {
      const { facts } = (await client.body(m.id)).mesh;
      expect([facts.watertight, facts.selfIntersectingPairs, facts.shells], m.name).eql([true, 0, 1]);
    }
    await client.ended(
      await client.call<JobView>('POST', `/api/bodies/${done.result!.bodyId!}/imports`, { objects: 'together' }),
    );
    const all = (await client.call<{ models: { id: string }[] }>('GET', `/api/projects/${target}`)).body.models;
    const whole = (await client.body(all.at(-1)!.id)).mesh.facts;
    // laid apart, nothing crosses
    expect([all.length, whole.shells, whole.selfIntersectingPairs]).eql([parts.length + 1, parts.length, 0]);
    expect(projectId).not.equal(target);
  });

  it('a part lies on its largest flat as far as the bed allows, and is fetched so', async () => {
    // 50.8 x 50.8 x 20 lies flat on a bed that is large enough, and stands on edge in one that is narrow
    const { id } = await client.importedCube('in');
    await client.step(id, 'size', { stretch: [1, 0.4, 1] });
    await client.step(id, 'divide', { bed: [60, 60, 60] });
    const [flat] = (await client.body(id)).parts;
    expect(flat.heightMm).closeTo(20.32, 1e-4);
    expect(Math.abs(flat.up[1])).closeTo(1, 1e-9);
    await client.ended(
      await client.call<JobView>('PUT', `/api/bodies/${id}/steps/2`, { params: { bed: [60, 30, 60] } }),
    );
    const [edge] = (await client.body(id)).parts;
    expect(edge.heightMm).closeTo(50.8, 1e-4);
    const laid = await fetch(`${at.server.address}/api/bodies/${edge.id}/export?format=stl&pose=bed`);
    expect(laid.headers.get('content-disposition')).match(/cube_A1_on-bed\.stl/);
    const box = boundsOf(readMesh(new Uint8Array(await laid.arrayBuffer())).mesh);
    expect(box.min.map(Math.abs).every((x) => x < 1e-4)).equal(true);
    expect(sizeOf(box)[2]).closeTo(50.8, 1e-3);
  });
});
