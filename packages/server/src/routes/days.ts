import type { Router } from 'express';
import { calendarFile } from '@jasmorphe/core/planning/days/calendarFile';
import { daysOf, daysOtherwise, hoursByLog, ratesOf } from '../planning/days.ts';
import { disposition } from './projects.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

/** The days on which bedfuls are printed. */
export function dayRoutes(services: Services): Router {
  const { router, answer, send } = serving();
  answer('GET /days', () => daysOf(services));
  send('GET /days/calendar.ics', async ({ r }) => {
    const { plan } = await daysOf(services);
    r.set({ 'Content-Type': 'text/calendar; charset=utf-8', 'Content-Disposition': disposition('days.ics') });
    r.end(calendarFile(plan, Date.now()));
  });
  answer('GET /days/otherwise', () => daysOtherwise(services));
  answer('GET /days/hours', () => hoursByLog(services));
  answer('GET /days/rates', () => ratesOf(services));
  answer('POST /plans', async ({ body }) => {
    const task = { kind: 'plan', request: body, nowMs: Date.now(), otherwise: false } as const;
    return (await services.compute.run(task).result).plan;
  });
  return router;
}
