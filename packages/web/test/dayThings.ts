import type { BedfulPartView, BedfulView, DaysView } from '@jasmorphe/contracts/dayViews';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { localTime } from '@jasmorphe/core/planning/days/instants';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';

/** Bedfuls and days as the server tells of them, with what a test says of them and the usual for all else. */

export const friday = new Date(2026, 10, 27, 8).getTime();
const parts = [{ volumeMm3: 400_000, areaMm2: 60_000, heightMm: 120 }];
export const request = (change: object = {}) =>
  parseParams(PlanRequest, {
    from: localTime(friday),
    printers: [{ name: 'Long bed', profile: { layerMm: 0.2 } }, { name: 'Small bed' }],
    bedfuls: [
      { name: 'Bedful 1', id: 'b1', project: 'Carnyx', on: [{ printer: 'Long bed', hours: 10 }], grams: 300, parts },
      { name: 'Bedful 2', id: 'b2', project: 'Carnyx', on: [{ printer: 'Long bed', hours: 12 }], grams: 400 },
      { name: 'Bedful 1', id: 'b3', project: 'Heron', on: [{ printer: 'Small bed', hours: 40 }], grams: 900 },
    ],
    projects: [
      { name: 'Carnyx', joints: 3, deadline: '2026-12-24' },
      { name: 'Heron', joints: 0 },
    ],
    spools: [{ name: 'Grey 1', leftG: 800 }],
    ...change,
  });
export const part = (tag: string, change: Partial<BedfulPartView> = {}): BedfulPartView => ({
  partId: `${tag}-id`,
  modelId: 'model',
  tag,
  meshHash: `${tag}-mesh`,
  at: { x: 50, y: 50 },
  turnDeg: 0,
  heightMm: 60,
  durationS: 18_000,
  materialG: 150,
  path: 'M-20 -10h40v20h-40z',
  state: 'planned',
  trouble: null,
  ...change,
});
export const bedful = (id: string, change: Partial<BedfulView> = {}): BedfulView => ({
  id,
  projectId: 'p1',
  modelId: 'model',
  number: 1,
  kind: 'filament',
  printerId: 'long',
  printer: 'Long bed',
  bedMm: [250, 210],
  parts: [part('A1'), part('A2', { at: { x: 150, y: 50 } })],
  settings: '0.20 mm layers',
  colour: '',
  stops: [],
  inTurn: false,
  fillPct: 40,
  durationS: 36_000,
  materialG: 300,
  wantedAt: null,
  state: 'waiting',
  startedAt: null,
  ...change,
});
export const viewOf = (change: Partial<DaysView> = {}): DaysView => ({
  now: localTime(friday),
  plan: planDays(request(), friday),
  bedfuls: [
    bedful('b1'),
    bedful('b2', { number: 2 }),
    bedful('b3', { projectId: 'p2', modelId: 'heron', printer: 'Small bed', printerId: 'small' }),
  ],
  projects: [
    { id: 'p1', name: 'Carnyx', dueOn: '2026-12-24', overdue: false, loose: ['C1', 'C2'] },
    { id: 'p2', name: 'Heron', dueOn: null, overdue: false, loose: [] },
  ],
  printers: [
    { id: 'long', name: 'Long bed', kind: 'filament', hours: 840, lifeH: 500, sinceH: 600 },
    { id: 'small', name: 'Small bed', kind: 'filament', hours: 12, lifeH: 0, sinceH: 0 },
  ],
  leftOut: [],
  ...change,
});
