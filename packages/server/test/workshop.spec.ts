import { expect } from 'chai';
import type { DaysView } from '@jasmorphe/contracts/dayViews';
import type {
  BodyView,
  ErrorBody,
  MaterialView,
  PrinterView,
  SavedBodyView,
  SpoolView,
} from '@jasmorphe/contracts/views';
import type { Settings } from '@jasmorphe/contracts/workshopRequests';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { behindItsBack, Client } from './client.ts';
import { ownServer } from './ownServer.ts';

describe('the workshop', () => {
  const at = ownServer();
  const client = new Client(() => at.server);
  const call = client.call.bind(client);

  const list = async <T>(path: string) => (await call<T[]>('GET', `/api/${path}`)).body;
  const code = async (method: string, path: string, body: object) =>
    (await call<ErrorBody>(method, `/api/${path}`, body)).body.error.code;

  it('printers are added, changed, retired; what they ran by the log is counted', async () => {
    const profile = { ...new PrinterProfile(), name: 'Long bed', keepOuts: [{ min: [0, 0], max: [20, 15] }] };
    const { id } = (await call<PrinterView>('POST', '/api/printers', profile)).body;
    const changed = await call<PrinterView>('PUT', `/api/printers/${id}`, { ...profile, powerW: 150, fitMm: 0.2 });
    expect([changed.status, changed.body.profile.powerW, changed.body.profile.fitMm]).eql([200, 150, 0.2]);
    expect(changed.body.profile.keepOuts).eql(profile.keepOuts);
    expect(await code('PUT', `printers/${id}`, { ...profile, keepOuts: [{ min: [20, 0], max: [0, 15] }] })).equal(
      'bad-params',
    );
    expect(await code('PUT', 'printers/none', profile)).equal('not-found');

    const { id: bodyId, projectId } = await client.importedCube();
    await client.step(bodyId, 'divide', { bed: [100, 100, 100] });
    const [part] = (await call<BodyView>('GET', `/api/bodies/${bodyId}`)).body.parts;
    await call('POST', `/api/projects/${projectId}/log`, {
      partId: part.id,
      outcome: 'passed',
      printerId: id,
      durationS: 7200,
    });
    expect((await list<PrinterView>('printers'))[0].loggedH).equal(2);
    await call('POST', `/api/bodies/${part.id}/print/undo`);
    expect((await list<PrinterView>('printers'))[0].loggedH).equal(0);
    const retired = (await call<PrinterView>('PATCH', `/api/printers/${id}`, { retired: true })).body.retiredAt;
    expect(retired).not.equal(null);
    // once more changes nothing about when it was
    expect((await call<PrinterView>('PATCH', `/api/printers/${id}`, { retired: true })).body.retiredAt).equal(retired);
    expect((await call<PrinterView>('PATCH', `/api/printers/${id}`, { retired: false })).body.retiredAt).equal(null);
  });

  it('a profile that was kept by an earlier version has the fields that came since', async () => {
    await behindItsBack(
      at.server,
      `INSERT INTO printers (id, profile, created_at) VALUES ('old', '{"name":"Old","bedMm":[100,100,100]}', '2020')`,
    );
    const old = (await list<PrinterView>('printers')).find((p) => p.id === 'old')!;
    expect([old.profile.name, old.profile.powerW, old.profile.keepOuts]).eql(['Old', 120, []]);
  });

  it('spools hold what they weigh less what was taken; a print takes from the spool that it names', async () => {
    const material = (
      await call<MaterialView>('POST', '/api/materials', {
        name: 'Grey',
        kind: 'filament',
        densityGCm3: 1.24,
        pricePerKg: 20,
      })
    ).body;
    expect([material.shrinkagePct, material.cautions]).eql([0, '']);
    const changed = await call<MaterialView>('PUT', `/api/materials/${material.id}`, {
      name: 'Fen grey',
      kind: 'filament',
      densityGCm3: 1.24,
      pricePerKg: 21,
      shrinkagePct: 0.4,
    });
    expect([changed.body.name, changed.body.shrinkagePct]).eql(['Fen grey', 0.4]);
    const spool = { materialId: material.id, name: 'Grey 1', grossG: 1250, emptyG: 250, openedOn: '2026-11-01' };
    const { id, leftG, leftM } = (await call<SpoolView>('POST', '/api/spools', spool)).body;
    expect(leftG).equal(1000);
    expect(leftM).closeTo(335, 1);
    const { id: bodyId, projectId } = await client.importedCube();
    await client.step(bodyId, 'divide', { bed: [100, 100, 100] });
    const [part] = (await call<BodyView>('GET', `/api/bodies/${bodyId}`)).body.parts;
    const passed = { partId: part.id, outcome: 'passed', materialG: 120 };
    expect(await code('POST', `projects/${projectId}/log`, { ...passed, spoolId: 'none' })).equal('not-found');
    await call('POST', `/api/projects/${projectId}/log`, { ...passed, spoolId: id });
    expect((await list<SpoolView>('spools'))[0].leftG).equal(880);
    // taken back, it was not taken; said again, it was
    await call('POST', `/api/bodies/${part.id}/print/undo`);
    expect((await list<SpoolView>('spools'))[0].leftG).equal(1000);
    await call('POST', `/api/bodies/${part.id}/print/redo`);
    expect((await list<SpoolView>('spools'))[0].leftG).equal(880);
    const weighed = (await call<SpoolView>('POST', `/api/spools/${id}/entries`, { kind: 'weighed', grams: 1100 })).body;
    expect([weighed.leftG, weighed.entries.map((e) => [e.kind, e.grams])]).eql([
      850,
      [
        ['weighed', 1100],
        ['used', 120],
      ],
    ]);
    const ended = (await call<SpoolView>('PUT', `/api/spools/${id}`, { ...spool, ended: true })).body.endedAt;
    expect(ended).not.equal(null);
    expect(
      (await call<SpoolView>('PUT', `/api/spools/${id}`, { ...spool, name: 'Grey', ended: true })).body.endedAt,
    ).equal(ended);
    expect(await code('POST', 'spools', { ...spool, emptyG: 2000 })).equal('bad-params');
    expect(await code('POST', 'spools', { ...spool, materialId: 'none' })).equal('not-found');
    expect(await code('POST', 'spools', { ...spool, openedOn: 'monday' })).equal('bad-params');
    // a day that was a slip is taken away again
    const unopened = await call<SpoolView>('PUT', `/api/spools/${id}`, { ...spool, openedOn: '' });
    expect(unopened.body.openedOn).equal(null);
    expect(await code('POST', `spools/${id}/entries`, { kind: 'lost', grams: 1 })).equal('bad-params');
    // its spools would go with a material: it is retired, and offered no more for what is planned
    expect(await code('DELETE', `materials/${material.id}`, {})).equal('in-use');
    expect([(await list('spools')).length, (await list('materials')).length]).eql([1, 1]);
    const retire = (retired: unknown) =>
      call<MaterialView>('PATCH', `/api/materials/${material.id}`, { retired }).then((r) => r.body.retiredAt);
    const since = await retire(true);
    expect(since).match(/^20\d\d-/);
    expect(await retire(true)).equal(since);
    expect((await call<DaysView>('GET', '/api/days')).body.plan.spools).eql([]);
    expect(await code('PATCH', `materials/${material.id}`, { retired: 'yes' })).equal('bad-params');
    expect(await code('PATCH', 'materials/none', { retired: true })).equal('not-found');
    expect(await retire(false)).equal(null);
    await call('DELETE', `/api/spools/${id}`);
    expect((await call('DELETE', `/api/materials/${material.id}`)).status).equal(204);
    expect(await list('materials')).eql([]);
  });

  it('bodies and choices are kept for all projects, over a restart', async () => {
    const { id } = (
      await call<SavedBodyView>('POST', '/api/saved-bodies', { name: 'Ida', kind: 'head', measures: { girth: 562 } })
    ).body;
    expect(await code('POST', 'saved-bodies', { name: 'x', kind: 'head', measures: { tail: 3 } })).equal('bad-params');
    await call('PUT', `/api/saved-bodies/${id}`, { name: 'Ida', kind: 'head', measures: { girth: 566 } });
    expect((await call<Settings>('GET', '/api/settings')).body).include({ unit: 'mm', currency: 'EUR', paper: 'a4' });
    await call('PUT', '/api/settings', { unit: 'in', currency: 'NOK', weekdayFrom: '16:30' });
    for (const wrong of [{ currency: 'euro' }, { weekendTo: '25:00' }, { paper: 'a3' }])
      expect(await code('PUT', 'settings', wrong)).equal('bad-params');
    await at.restart();
    expect((await call<Settings>('GET', '/api/settings')).body).include({
      unit: 'in',
      currency: 'NOK',
      weekdayFrom: '16:30',
      weekendFrom: '09:00',
    });
    expect((await list<SavedBodyView>('saved-bodies'))[0].measures).eql({ girth: 566 });
    expect((await call('DELETE', `/api/saved-bodies/${id}`)).status).equal(204);
    expect((await call('DELETE', `/api/saved-bodies/${id}`)).status).equal(404);
  });
});
