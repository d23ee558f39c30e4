import { parseParams } from '@jasmorphe/core/params/parseParams';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { whatIfs } from '@jasmorphe/core/planning/days/whatIfs';
import { peakMb, say } from './common.ts';

// how long it takes to plan the days of 70 parts on 35 bedfuls and three printers anew after one is moved (aim: 2 s),
// with what-ifs, and of ten times as many; beside it how far the plan is from an even share of the printing hours
const requestOf = (bedfuls: number, wantedAt = ''): PlanRequest =>
  parseParams(PlanRequest, {
    from: '2026-11-27T08:00',
    deadline: '2027-12-01',
    printers: ['A', 'B', 'C'].map((name) => ({ name, profile: { layerMm: 0.2 } })),
    bedfuls: Array.from({ length: bedfuls }, (_, i) => ({
      name: `Bedful ${i + 1}`,
      project: i % 2 ? 'Carnyx' : 'Heron mask',
      on: [{ printer: 'ABC'[i % 3], hours: 4 + ((7 * i) % 23) }],
      grams: 150 + ((53 * i) % 400),
      wantedAt: i === 7 ? wantedAt : '',
      parts: [0, 1].map((k) => ({ volumeMm3: 200_000 + 1000 * i, areaMm2: 40_000 + 500 * k, heightMm: 90 })),
    })),
    projects: ['Carnyx', 'Heron mask'].map((name) => ({ name, joints: 30 })),
    spools: Array.from({ length: 12 }, (_, i) => ({ name: `spool ${i}`, leftG: 1000 - 60 * i })),
  });
const now = Date.parse('2026-11-27T08:00');
for (const bedfuls of [35, 350]) {
  planDays(requestOf(bedfuls), now);
  const start = performance.now();
  const request = requestOf(bedfuls, '2026-11-30T18:00');
  const plan = planDays(request, now);
  const planned = performance.now();
  const others = whatIfs(request, plan, now);
  const ended = performance.now();
  const busiest = Math.max(
    ...['A', 'B', 'C'].map((p) => plan.days.filter((d) => d.printer === p).reduce((n, d) => n + d.durationS, 0)),
  );
  const last = Math.max(...plan.days.map((d) => Date.parse(d.offAt ?? '')));
  say(
    `days of ${bedfuls} bedfuls on three printers: ${((planned - start) / 1000).toFixed(2)} s, ${((planned - start) / 2000).toFixed(2)} of 2 s; ` +
      `${others.length} what-ifs ${((ended - planned) / 1000).toFixed(2)} s; ${((last - now) / 1000 / busiest).toFixed(2)} times the hours of the busiest printer, peak ${peakMb()} MB`,
  );
}
