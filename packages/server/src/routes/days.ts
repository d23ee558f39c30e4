import { Router } from 'express';
import { calendarFile } from '@jasmorphe/core/planning/days/calendarFile';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { daysOf, daysOtherwise, hoursByLog, ratesOf } from '../planning/days.ts';
import { check } from '../http/validate.ts';
import { disposition } from './projects.ts';
import type { Services } from '../Services.ts';

/** The days on which bedfuls are printed. */
export function dayRoutes(services: Services): Router {
  const router = Router();
  router.get('/days', async (_q, r) => void r.json(await daysOf(services)));
  router.get('/days/calendar.ics', async (_q, r) => {
    const { plan } = await daysOf(services);
    r.set({ 'Content-Type': 'text/calendar; charset=utf-8', 'Content-Disposition': disposition('days.ics') });
    r.end(calendarFile(plan, Date.now()));
  });
  router.get('/days/otherwise', async (_q, r) => void r.json(await daysOtherwise(services)));
  router.get('/days/hours', async (_q, r) => void r.json(await hoursByLog(services)));
  router.get('/days/rates', async (_q, r) => void r.json(await ratesOf(services)));
  router.post('/plans', async (q, r) => {
    const request = check(PlanRequest, q.body);
    const { plan } = await services.compute.run({ kind: 'plan', request, nowMs: Date.now(), otherwise: false }).result;
    r.json(plan);
  });
  return router;
}
