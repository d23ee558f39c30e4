import { asc, eq } from 'drizzle-orm';
import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { CreateMaterial, SavePlace } from '@jasmorphe/contracts/requests';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { ApiError } from '../http/ApiError.ts';
import { check } from '../http/validate.ts';
import { materials, places, printers } from '../store/schema.ts';
import type { Services } from '../Services.ts';

/** Printers, materials, jobs. */
export function workshopRoutes({ library, runner }: Services): Router {
  const router = Router();
  const { db } = library;
  router.get('/printers', async (_q, r) => {
    const rows = await db.select().from(printers).orderBy(asc(printers.createdAt));
    r.json(rows.map(({ id, profile }) => ({ id, profile: readKept(PrinterProfile, profile) })));
  });
  router.post('/printers', async (q, r) => {
    const row = {
      id: randomUUID(),
      profile: { ...check(PrinterProfile, q.body) },
      createdAt: new Date().toISOString(),
    };
    await library.commit('workshop', [db.insert(printers).values(row)]);
    r.status(201).json({ id: row.id, profile: row.profile });
  });
  router.delete('/printers/:id', async (q, r) => {
    const gone = await db.delete(printers).where(eq(printers.id, q.params.id));
    if (gone.rowsAffected === 0) throw ApiError.notFound('printer', q.params.id);
    r.status(204).end();
  });
  router.get(
    '/materials',
    async (_q, r) => void r.json(await db.select().from(materials).orderBy(asc(materials.createdAt))),
  );
  router.post('/materials', async (q, r) => {
    const row = { id: randomUUID(), ...check(CreateMaterial, q.body), createdAt: new Date().toISOString() };
    await library.commit('workshop', [db.insert(materials).values(row)]);
    r.status(201).json(row);
  });
  router.delete('/materials/:id', async (q, r) => {
    const gone = await db.delete(materials).where(eq(materials.id, q.params.id));
    if (gone.rowsAffected === 0) throw ApiError.notFound('material', q.params.id);
    r.status(204).end();
  });
  const placeColumns = {
    id: places.id,
    name: places.name,
    kind: places.kind,
    widthMm: places.widthMm,
    depthMm: places.depthMm,
    heightMm: places.heightMm,
  };
  const placeOf = (body: unknown) => {
    const { name, kind, widthMm = null, depthMm = null, heightMm = null } = check(SavePlace, body);
    if (widthMm === null && depthMm === null && heightMm === null)
      throw new ApiError(400, 'bad-params', 'A place needs at least one size.', 'Give its height, say.', 'heightMm');
    return { name, kind, widthMm, depthMm, heightMm };
  };
  router.get(
    '/places',
    async (_q, r) => void r.json(await db.select(placeColumns).from(places).orderBy(asc(places.createdAt))),
  );
  router.post('/places', async (q, r) => {
    const row = { id: randomUUID(), ...placeOf(q.body) };
    await library.commit('workshop', [db.insert(places).values({ ...row, createdAt: new Date().toISOString() })]);
    r.status(201).json(row);
  });
  router.put('/places/:id', async (q, r) => {
    const row = placeOf(q.body);
    const done = await db.update(places).set(row).where(eq(places.id, q.params.id));
    if (done.rowsAffected === 0) throw ApiError.notFound('place', q.params.id);
    r.json({ id: q.params.id, ...row });
  });
  router.delete('/places/:id', async (q, r) => {
    const gone = await db.delete(places).where(eq(places.id, q.params.id));
    if (gone.rowsAffected === 0) throw ApiError.notFound('place', q.params.id);
    r.status(204).end();
  });
  router.get('/jobs', async (_q, r) => void r.json(await runner.list()));
  router.get('/jobs/:id', async (q, r) => void r.json(await runner.get(q.params.id)));
  router.post('/jobs/:id/cancel', async (q, r) => void r.json(await runner.cancel(q.params.id)));
  return router;
}
