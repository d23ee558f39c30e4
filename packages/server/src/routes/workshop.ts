import { asc, eq } from 'drizzle-orm';
import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { CreateMaterial } from '@jasmorphe/contracts/requests';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { ApiError } from '../http/ApiError.ts';
import { check } from '../http/validate.ts';
import { materials, printers } from '../store/schema.ts';
import type { Services } from '../Services.ts';

/** Printers, materials, jobs. */
export function workshopRoutes({ library, runner }: Services): Router {
  const router = Router();
  const { db } = library;
  router.get(
    '/printers',
    async (_q, r) =>
      void r.json(
        await db.select({ id: printers.id, profile: printers.profile }).from(printers).orderBy(asc(printers.createdAt)),
      ),
  );
  router.post('/printers', async (q, r) => {
    const row = {
      id: randomUUID(),
      profile: { ...check(PrinterProfile, q.body) },
      createdAt: new Date().toISOString(),
    };
    await db.insert(printers).values(row);
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
    await db.insert(materials).values(row);
    r.status(201).json(row);
  });
  router.delete('/materials/:id', async (q, r) => {
    const gone = await db.delete(materials).where(eq(materials.id, q.params.id));
    if (gone.rowsAffected === 0) throw ApiError.notFound('material', q.params.id);
    r.status(204).end();
  });
  router.get('/jobs', async (_q, r) => void r.json(await runner.list()));
  router.get('/jobs/:id', async (q, r) => void r.json(await runner.get(q.params.id)));
  router.post('/jobs/:id/cancel', async (q, r) => void r.json(await runner.cancel(q.params.id)));
  return router;
}
