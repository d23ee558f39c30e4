import { expect } from 'chai';
import fc from 'fast-check';
import ICAL from 'ical.js';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { expectedS } from '@jasmorphe/core/planning/bedfuls/packBeds';
import { calendarFile } from '@jasmorphe/core/planning/days/calendarFile';
import { cutCurve } from '@jasmorphe/core/planning/days/cutCurve';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import { calibrationOf, erlangBelow, failureRate } from '@jasmorphe/core/planning/days/failures';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { instantOf, localTime } from '@jasmorphe/core/planning/days/instants';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { notesText, planSays } from '@jasmorphe/core/planning/days/planWords';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { Presence } from '@jasmorphe/core/planning/days/Presence';
import { drawOn, type Want } from '@jasmorphe/core/planning/days/spools';
import { whatIfs } from '@jasmorphe/core/planning/days/whatIfs';
import { figures } from '@jasmorphe/core/trade/figures';
import { bedfulStops } from '@jasmorphe/core/planning/bedfuls/bedfulStops';
import { codeOf } from './solids.ts';

const hour = 3_600_000;
// Friday 27 November 2026, eight in the morning, by whatever clock the machine has
const friday = new Date(2026, 10, 27, 8).getTime();
const at = (day: number, hours: number): number => new Date(2026, 10, day, 0, hours * 60).getTime();
const ms = (text: string | null): number => new Date(text!).getTime();
const always = { weekdayFrom: '00:00', weekdayTo: '23:59', weekendFrom: '00:00', weekendTo: '23:59' };
type Plain = { name: string; hours: number; wantedAt?: string; project?: string; on?: string[]; stops?: object[] };
const request = (bedfuls: Plain[], more: object = {}): PlanRequest =>
  parseParams(PlanRequest, {
    from: localTime(friday),
    printers: [{ name: 'Long bed' }],
    bedfuls: bedfuls.map(({ hours, on = ['Long bed'], ...b }) => ({
      grams: 100,
      ...b,
      on: on.map((printer) => ({ printer, hours })),
    })),
    ...more,
  });
const plan = (bedfuls: Plain[], more: object = {}): DaysPlan => planDays(request(bedfuls, more), friday);

describe('hours at home', () => {
  const hours = new HomeHours();
  it('are those of the day of the week; past midnight they belong to the day that they began on', () => {
    const there = new Presence(hours, friday);
    expect(there.isThere(at(27, 16.9))).equal(false);
    expect(there.isThere(at(27, 17))).equal(true);
    expect(there.isThere(at(28, 9.5)), 'Saturday').equal(true);
    expect(there.isThere(at(30, 9.5)), 'Monday').equal(false);
    const late = new Presence(Object.assign(new HomeHours(), { weekdayFrom: '20:00', weekdayTo: '02:00' }), friday);
    // Friday's evening reaches into Saturday, Sunday's does not reach into Monday
    expect([at(28, 1.5), at(28, 2.5), at(30, 1.5)].map((t) => late.isThere(t))).eql([true, false, false]);
    const nobody = new Presence(Object.assign(new HomeHours(), { weekdayTo: '17:00', weekendTo: '09:00' }), friday);
    expect(nobody.homeAfter(friday)).equal(null);
  });

  it('are read as days and times, and written with their zone', async () => {
    expect(instantOf('2026-11-28', 'x')).equal(at(28, 0));
    expect(instantOf('2026-11-28', 'x', 'end')).equal(at(28, 24) - 60_000);
    expect(instantOf('2026-11-28T17:30', 'x')).equal(at(28, 17.5));
    expect(instantOf('2026-11-28T17:30Z', 'x')).equal(Date.UTC(2026, 10, 28, 17, 30));
    expect(ms(localTime(at(28, 17.5)))).equal(at(28, 17.5));
    for (const wrong of ['2026-02-31', 'tomorrow', '2026-11-28T25:00', ''])
      expect(await codeOf(() => instantOf(wrong, 'x')), wrong).equal('bad-params');
  });
});

describe('a timetable', () => {
  it('loads a bed when somebody is there, and takes it off when they are back', () => {
    const [one, two] = plan([
      { name: '1', hours: 10 },
      { name: '2', hours: 10 },
    ]).days;
    // Friday evening at five; off on Saturday at nine, and the next at once
    expect(ms(one.loadAt)).equal(at(27, 17));
    expect(ms(one.startsAt)).equal(at(27, 17) + 600_000);
    expect(ms(one.offAt)).equal(at(28, 9));
    expect(ms(two.loadAt)).equal(at(28, 9) + 300_000);
    expect(one.decides && two.decides).equal(true);
  });

  it('keeps the night free where nothing may print then, and says what finds no day', () => {
    const { days, notes, ready } = plan(
      [
        { name: 'short', hours: 4 },
        { name: 'day', hours: 10 },
        { name: 'week', hours: 40 },
      ],
      { home: { nights: 'rest' } },
    );
    const by = new Map(days.map((d) => [d.bedful, d]));
    expect(ms(by.get('short')!.startsAt)).equal(at(27, 17) + 600_000);
    // ten hours fit between nine and half past ten at night of a Saturday
    expect(ms(by.get('day')!.loadAt)).equal(at(28, 9));
    expect(by.get('week')!.loadAt).equal(null);
    expect(notes.filter((n) => n.kind === 'no-time')).eql([{ kind: 'no-time', bedful: 'week', hours: 40 }]);
    expect(ready).equal(null);
  });

  it('dries and cures resin, and glues, waits, fills and sands behind the last bedful', () => {
    const { days, bench, ready } = plan([{ name: 'newt', hours: 2, project: 'p' }], {
      home: always,
      printers: [{ name: 'Long bed', kind: 'resin' }],
      projects: [{ name: 'p', joints: 4, slow: 1 }],
    });
    const [{ endsAt, offAt, doneAt }] = days;
    expect(ms(offAt)).equal(ms(endsAt));
    const { takeOffS, washS, resinDryS, cureS, glueJointS, slowGlueDryS, seamJointS, fillerDryS } = figures;
    expect(ms(doneAt) - ms(offAt)).equal(1000 * (takeOffS.value + washS.value + resinDryS.value + cureS.value));
    expect(bench.map((b) => b.what)).eql(['glue', 'glue dries', 'seams', 'filler dries', 'seams']);
    expect(ms(ready) - ms(doneAt)).equal(
      1000 * (4 * (glueJointS.value + seamJointS.value) + slowGlueDryS.value + fillerDryS.value),
    );
  });

  it('breaks no constraint, whatever it is given', () => {
    const hands = (days: DaysPlan['days']): [number, number][] =>
      days.flatMap((d): [number, number][] => [
        [ms(d.loadAt), ms(d.startsAt)],
        [ms(d.offAt), ms(d.offAt) + figures.takeOffS.value * 1000],
        ...d.stops.map((s): [number, number] => [ms(s.at), ms(s.at) + figures.stopS.value * 1000]),
      ]);
    const shares = fc.array(fc.double({ min: 0, max: 0.99, noNaN: true }), { maxLength: 3 });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0.2, max: 40, noNaN: true }), fc.nat(2), fc.nat(6), shares), {
          minLength: 1,
          maxLength: 9,
        }),
        fc.constantFrom('run', 'tended', 'rest'),
        (list, nights) => {
          const bedfuls = list.map(([hours, choice, wish, stops], i) => ({
            name: `${i}`,
            hours,
            on: [['A'], ['B'], ['A', 'B']][choice],
            stops: stops.map((share) => ({ share, says: 'brass' })),
            ...(wish > 3 ? { wantedAt: localTime(at(27 + wish, 12)) } : {}),
          }));
          const { days, notes } = plan(bedfuls, { printers: [{ name: 'A' }, { name: 'B' }], home: { nights } });
          expect(days.length).equal(bedfuls.length);
          const presence = new Presence(Object.assign(new HomeHours(), { nights }), friday);
          const timed = days.filter((d) => d.loadAt !== null);
          expect(notes.filter((n) => n.kind === 'no-time').length).equal(days.length - timed.length);
          for (const d of timed) {
            const own = bedfuls[Number(d.bedful)];
            expect(own.on).contain(d.printer);
            expect(ms(d.loadAt)).least(own.wantedAt ? ms(own.wantedAt) : friday);
            // written to the minute
            const stood = d.stops.reduce((n, s) => n + s.waitsS + figures.stopS.value, 0) * 1000;
            expect(Math.abs(ms(d.endsAt) - ms(d.startsAt) - own.hours * hour - stood)).most(60_000);
            expect(d.stops.map((s) => s.share)).eql(own.stops.map((s) => s.share).sort((a, b) => a - b));
            expect(ms(d.offAt)).least(ms(d.endsAt));
            for (const t of [ms(d.loadAt), ms(d.offAt), ...d.stops.map((s) => ms(s.at))])
              expect(presence.isThere(t), localTime(t)).equal(true);
            const night = presence.nightOver(ms(d.startsAt), ms(d.endsAt) - 60_000);
            expect(night && night[1] > ms(d.startsAt) + 60_000, d.bedful).not.equal(true);
          }
          for (const printer of ['A', 'B']) {
            const own = timed.filter((d) => d.printer === printer).sort((a, b) => ms(a.loadAt) - ms(b.loadAt));
            for (const [i, d] of own.entries())
              if (i > 0) expect(ms(d.loadAt)).least(ms(own[i - 1].offAt) + figures.takeOffS.value * 1000 - 60_000);
          }
          const busy = hands(timed).sort((a, b) => a[0] - b[0]);
          for (const [i, [from]] of busy.entries()) if (i > 0) expect(from).least(busy[i - 1][1] - 60_000);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('is as early as the best of all orders and printers, gone through one by one', () => {
    const presence = new Presence(new HomeHours(), friday);
    // minute by minute, printers apart, hands for one thing at a time: nothing of the planner's own
    const readyOf = (order: readonly (readonly [hours: number, printer: number])[]): number => {
      const free = [friday, friday];
      const busy: [number, number][] = [];
      const next = (t: number, need: number): number => {
        for (; ; t += 60_000) {
          const clash = busy.some(([a, b]) => a < t + need && b > t);
          if (!clash && presence.isThere(t) && presence.isThere(t + need - 1)) {
            busy.push([t, t + need]);
            return t;
          }
        }
      };
      for (const [hours, printer] of order) {
        const start = next(free[printer], 600_000) + 600_000;
        free[printer] = next(start + hours * hour, 300_000) + 300_000;
      }
      return Math.max(...free);
    };
    const permutations = <T>(list: readonly T[]): T[][] =>
      list.length < 2
        ? [[...list]]
        : list.flatMap((x, i) => permutations(list.filter((_, k) => k !== i)).map((rest) => [x, ...rest]));
    for (const lengths of [
      [3, 9, 14, 20],
      [1, 2, 13, 26],
      [5, 5, 15, 15],
    ]) {
      let best = Infinity;
      for (const order of permutations(lengths))
        for (let mask = 0; mask < 1 << order.length; mask++)
          best = Math.min(best, readyOf(order.map((h, i) => [h, (mask >> i) & 1])));
      const { ready } = plan(
        lengths.map((hours, i) => ({ name: `${i}`, hours, on: ['A', 'B'] })),
        { printers: [{ name: 'A' }, { name: 'B' }] },
      );
      expect(ms(ready), lengths.join()).most(best);
    }
  });

  it('searches many orders to what an even share allows (thirty bedfuls of six hours, hands always there)', () => {
    const { ready } = plan(
      Array.from({ length: 30 }, (_, i) => ({ name: `${i}`, hours: 6, on: ['A', 'B', 'C'] })),
      { printers: ['A', 'B', 'C'].map((name) => ({ name })), home: always },
    );
    // ten on each, with their changes of beds; two more changes at most wait for the same hands
    const each = 10 * (6 * hour + figures.changeBedS.value * 1000);
    expect(ms(ready) - friday).within(each, each + 12 * figures.changeBedS.value * 1000);
  });

  it('puts a bedful where it was wanted, what is behind follows, and says by how much it missed', () => {
    const bedfuls = [
      { name: '1', hours: 10, wantedAt: localTime(at(29, 10)) },
      { name: '2', hours: 10 },
      { name: '3', hours: 3, wantedAt: localTime(at(29, 20)) },
    ];
    const { days, notes } = plan(bedfuls);
    const by = new Map(days.map((d) => [d.bedful, d]));
    expect(ms(by.get('2')!.loadAt)).equal(at(27, 17));
    expect(ms(by.get('1')!.loadAt)).equal(at(29, 10));
    const missed = notes.find((n) => n.kind === 'wish-missed');
    expect(missed).include({ bedful: '3' });
    expect(ms(by.get('3')!.loadAt)).least(ms(by.get('1')!.offAt));
  });
});

describe('what fails', () => {
  it('is reckoned with the usual rate until the log tells better; its range is that of tables of chi-square', () => {
    // 95 % and 5 % points of chi-square, halved: 2, 4, 10 degrees (any handbook of statistics)
    for (const [shape, low, high] of [
      [1, 0.10259 / 2, 5.9915 / 2],
      [2, 0.71072 / 2, 9.4877 / 2],
      [5, 3.9403 / 2, 18.307 / 2],
    ]) {
      expect(erlangBelow(shape, low)).closeTo(0.05, 1e-4);
      expect(erlangBelow(shape, high)).closeTo(0.95, 1e-4);
    }
    const usual = failureRate({ failed: 0, hours: 0, prints: 0 });
    expect(usual.perHour).closeTo(figures.failuresPerH.value, 1e-12);
    const many = failureRate({ failed: 50, hours: 10_000, prints: 900 });
    expect(many.perHour).closeTo(51 / 10_160, 1e-12);
    expect([many.low < many.perHour, many.perHour < many.high, many.high / many.low < usual.high / usual.low]).eql([
      true,
      true,
      true,
    ]);
  });

  it('makes a day late as often as the law says', () => {
    // any failure of forty hours makes it late: 1 − e^(−rt)
    const deadline = localTime(friday + 41 * hour);
    const { lateProbability, readyP90, ready } = plan([{ name: '1', hours: 40 }], { home: always, deadline });
    const p = 1 - Math.exp(-40 * figures.failuresPerH.value);
    expect(lateProbability).closeTo(p, 4 * Math.sqrt((p * (1 - p)) / 400));
    expect(ms(readyP90)).above(ms(ready));
    const sure = plan([{ name: '1', hours: 40 }], { home: always });
    expect(sure.lateProbability).equal(null);
    expect(sure.expectedS).closeTo(expectedS(40 * 3600, figures.failuresPerH.value), 1e-6);
  });

  it('of a project that is not all on bedfuls no day is told, nor bench work; of the others it is', () => {
    const bedfuls = ['a', 'b'].map((project, i) => ({ name: `${i}`, hours: 10, project }));
    const of = (a: object, b: object = {}) =>
      plan(bedfuls, {
        home: always,
        projects: [
          { name: 'a', joints: 3, ...a },
          { name: 'b', joints: 3, ...b },
        ],
      });
    const whole = of({});
    const some = of({ without: ['A3', 'A7 (stopped)'] });
    const [a, b] = some.projects;
    expect([a.ready, a.readyP90, a.lateProbability, a.without]).eql([null, null, null, ['A3', 'A7 (stopped)']]);
    expect(ms(a.printed)).equal(Math.max(...some.days.filter((d) => d.project === 'a').map((d) => ms(d.doneAt))));
    expect(some.bench.map((w) => w.project)).not.include('a');
    expect(some.ready).equal(b.ready);
    expect(ms(b.ready)).most(ms(whole.projects[1].ready));
    expect(some.notes).deep.include({ kind: 'without', project: 'a', parts: ['A3', 'A7 (stopped)'] });
    expect(notesText(some.notes).map((n) => n.text)).include(
      'When a is ready nobody can tell: 2 parts of it are in none of these bedfuls: A3, A7 (stopped).',
    );
    const none = of({ without: ['A3'] }, { without: ['B1'] });
    expect([none.ready, none.readyP90]).eql([null, null]);
    expect(planSays(none)).match(/^What is on bedfuls is printed by .*When it is ready nobody can tell/);
  });

  it('each project has its own deadline; what is wanted first is printed first', () => {
    const bedfuls = ['a', 'a', 'b', 'b'].map((project, i) => ({ name: `${i}`, hours: 10, project }));
    const own = (first: string) =>
      plan(bedfuls, { projects: [{ name: first, deadline: localTime(at(28, 20)) }] }).projects.find(
        (p) => p.project === first,
      )!;
    for (const first of ['a', 'b']) {
      expect(ms(own(first).ready), first).most(at(28, 20));
      expect(own(first).lateProbability, first).within(0.02, 0.5);
    }
  });

  it('true hours follow the median of what was logged: one slip does not bend it', () => {
    const pairs = [10, 20, 30, 40, 50].map((h) => ({ predictedS: h, actualS: 1.1 * h }));
    expect(calibrationOf(pairs)).include({ factor: 1.1, prints: 5 });
    const slipped = calibrationOf([...pairs, { predictedS: 10, actualS: 400 }])!;
    expect(slipped.factor).closeTo(1.1, 1e-9);
    expect(calibrationOf(pairs.slice(0, 2))).equal(null);
    const log = [10, 20, 30].map((h) => ({ printer: 'Long bed', hours: 1.2 * h, saidHours: h }));
    const { days, records } = plan([{ name: '1', hours: 10 }], { log });
    expect(days[0].durationS).closeTo(12 * 3600, 1e-6);
    expect(records[0]).include({ prints: 3, hours: 72 });
    // of normal logarithms nine of ten lie within: 1.645 standard deviations
    const normal = [-1.2816, -0.8416, -0.5244, -0.2533, 0, 0.2533, 0.5244, 0.8416, 1.2816];
    const spread = calibrationOf(normal.map((z) => ({ predictedS: 1, actualS: Math.exp(0.1 * z) })))!;
    expect(Math.log(spread.high)).closeTo(0.1645, 0.04);
  });

  it('three of 18 h are wiser than one of 52, until joints cost more than that (common practice, (e^rt − 1)/r)', () => {
    const r = 1 / 160;
    expect(expectedS(52 * 3600, r) / 3600).closeTo(61.4, 0.1);
    expect((3 * expectedS(18 * 3600, r)) / 3600).closeTo(57.1, 0.1);
    const now = { modelMm: 900, pieceMm: 900, pieces: 1, joints: 0, printS: 400 * 3600, startS: 300, perHour: r };
    const { points, best, nowS, oneMoreS } = cutCurve(now)!;
    const joint = figures.glueJointS.value + figures.seamJointS.value;
    const sum = (n: number): number =>
      n * expectedS(now.printS / n + 300, r) + n * figures.changeBedS.value + (n - 1) * joint;
    expect(nowS).closeTo(sum(1), 1e-6);
    expect(oneMoreS).closeTo(sum(1) - sum(2), 1e-6);
    const least = Array.from({ length: 200 }, (_, i) => i + 1).reduce((a, b) => (sum(b) < sum(a) ? b : a));
    expect(points[best].pieces).closeTo(least, 0.15 * least);
    expect(cutCurve({ ...now, printS: 0 })).equal(null);
  });
});

describe('spools', () => {
  const want = (grams: number, change: Partial<Want> = {}): Want => ({
    kind: 'filament',
    material: '',
    colour: '',
    grams,
    expectedG: grams,
    printer: 0,
    startMs: friday,
    endMs: friday + 10 * hour,
    ...change,
  });
  const spool = (name: string, leftG: number, colour = '') =>
    ({ name, kind: 'filament', material: '', colour, leftG }) as const;

  it('the smallest that holds with its reserve; what is short is bought, with what failures waste', () => {
    const spools = [spool('whole', 1000), spool('rest', 260), spool('end', 60)];
    const { drawn, leftG, buy } = drawOn([want(200), want(900)], spools);
    expect(drawn[0].draws.map((d) => d.spool)).eql([1]);
    expect(drawn[1].draws.map((d) => d.spool)).eql([0]);
    expect(leftG).eql([100, 60, 60]);
    expect(buy).eql([]);
    const failing = drawOn([want(900, { expectedG: 1300 })], [spool('whole', 1000)]);
    expect(failing.buy).eql([{ kind: 'filament', material: '', colour: '', grams: 320, allowanceG: 320 }]);
  });

  it('changes in the middle where none holds: the time is the share that is used by then', () => {
    const { drawn, emptyMs } = drawOn([want(500)], [spool('a', 320), spool('b', 220)]);
    expect(drawn[0].draws).eql([
      { spool: 0, grams: 300, atMs: friday },
      { spool: 1, grams: 200, atMs: friday + 6 * hour },
    ]);
    expect(emptyMs).eql([friday + 6 * hour, null]);
  });

  it('feeds one printer at a time; a bottle is poured for several', () => {
    const other = { printer: 1, startMs: friday + hour, endMs: friday + 3 * hour };
    const late = { printer: 1, startMs: friday + 11 * hour, endMs: friday + 12 * hour };
    const of = (second: Partial<Want>, kind: 'filament' | 'resin' = 'filament') =>
      drawOn([want(100, { kind }), want(100, { kind, ...second })], [{ ...spool('s', 900), kind }]).drawn[1].shortG;
    expect([of(other), of(late), of(other, 'resin')]).eql([100, 0, 0]);
  });

  it('keep to kind and colour, and lose no gram', () => {
    expect(drawOn([want(50, { colour: 'Slate ' })], [spool('s', 900, 'slate')]).drawn[0].shortG).equal(0);
    expect(drawOn([want(50, { colour: 'bone' })], [spool('s', 900, 'slate')]).drawn[0].shortG).equal(50);
    // pieces are said to be of a colour or of a material, in the maker's words
    const bronze = { ...spool('b', 900, 'brown'), material: 'Bronze brown' };
    expect(drawOn([want(50, { colour: 'bronze brown' })], [bronze]).drawn[0].shortG).equal(0);
    expect(drawOn([want(50, { kind: 'resin' })], [spool('s', 900)]).drawn[0].shortG).equal(50);
    const grams = fc.double({ min: 0, max: 1500, noNaN: true });
    fc.assert(
      fc.property(fc.array(grams, { maxLength: 8 }), fc.array(grams, { maxLength: 6 }), (wants, lefts) => {
        const spools = lefts.map((g, i) => spool(`${i}`, g));
        const { drawn, leftG } = drawOn(
          wants.map((g) => want(g)),
          spools,
        );
        for (const [i, { draws, shortG }] of drawn.entries())
          expect(draws.reduce((n, d) => n + d.grams, shortG)).closeTo(wants[i], 1e-6);
        const used = drawn.flatMap((d) => d.draws).reduce((n, d) => n + d.grams, 0);
        expect(lefts.reduce((a, b) => a + b, 0) - leftG.reduce((a, b) => a + b, 0)).closeTo(used, 1e-6);
        for (const [s, g] of leftG.entries()) if (g !== lefts[s]) expect(g).least(figures.reserveG.value - 1e-6);
      }),
    );
  });

  it('the plan says when one runs out, and whether somebody is there', () => {
    const { days, notes, buy, spools } = plan([{ name: '1', hours: 10 }], {
      spools: [
        { name: 'a', leftG: 70 },
        { name: 'b', leftG: 60 },
      ],
    });
    expect(days[0].draws.map((d) => d.spool)).eql(['a', 'b']);
    // half of ten hours behind ten past five in the evening: nobody is there at ten past ten
    expect(notes.map((n) => n.kind)).contain('swap-alone');
    expect(notes.find((n) => n.kind === 'short')).include({ grams: 10 });
    expect(buy[0].grams).above(10);
    expect(spools[0].endsAt).not.equal(null);
  });
});

describe('one after the other', () => {
  it('what fails spoils one alone: hours and days are those of each by itself', () => {
    const often = {
      log: Array.from({ length: 4 }, () => ({ printer: 'Long bed', hours: 10, failed: true })),
      home: always,
    };
    const [whole] = plan([{ name: '1', hours: 40 }], often).days;
    const turned = plan([{ name: '1', hours: 40, turns: [10, 10, 10, 10] } as Plain], often);
    const [turns] = turned.days;
    const perHour = turned.records[0].perHour;
    expect(turns.durationS).equal(whole.durationS);
    expect(turns.expectedS).closeTo(4 * expectedS(36_000, perHour), 1e-6);
    expect(whole.expectedS).closeTo(expectedS(144_000, perHour), 1e-6);
    expect(turns.expectedS).below(whole.expectedS);
    // the courses that are played agree with the law: ready in the mean, beds changed in between
    const ready = (change: object) => ms(plan([{ name: '1', hours: 40, ...change } as Plain], often).readyP90);
    expect(ready({ turns: [10, 10, 10, 10] })).below(ready({}));
    // one thing alone is what it is
    expect(ready({ turns: [40] })).equal(ready({}));
    expect(() => plan([{ name: '1', hours: 1, turns: [0] } as Plain])).throw(/turns/i);
  });
});

describe('stops of a print', () => {
  it('it stands still until somebody comes, and the hours behind move', () => {
    // loaded at five, printing from ten past; a quarter of 16 h on it is ten past nine in the evening, half of it at night
    const { days, notes, handsS } = plan([
      {
        name: '1',
        hours: 16,
        stops: [
          { share: 0.5, says: 'A1 brass' },
          { share: 0.25, says: 'A1 magnet' },
        ],
      },
    ]);
    const [{ stops, startsAt, endsAt }] = days;
    expect(ms(startsAt)).equal(at(27, 17) + 600_000);
    expect(stops.map((s) => s.says)).eql(['A1 magnet', 'A1 brass']);
    expect(ms(stops[0].at)).equal(at(27, 21) + 600_000);
    expect(stops[0].waitsS).equal(0);
    // the other half of the first 8 h, and ten minutes of hands, later: at twenty past one; somebody is there at nine
    expect(ms(stops[1].at)).equal(at(28, 9));
    expect(stops[1].waitsS).closeTo((7 + 40 / 60) * 3600, 1);
    expect(ms(endsAt)).equal(at(28, 17) + 600_000);
    expect(notes.filter((n) => n.kind === 'stands-still')).eql([
      { kind: 'stands-still', bedful: '1', says: 'A1 brass', hours: stops[1].waitsS / 3600 },
    ]);
    const without = plan([{ name: '1', hours: 16 }]);
    expect(handsS - without.handsS).equal(2 * figures.stopS.value);
  });

  it('what runs is past those that must be over; at the very end none is left; nights that rest stay free', () => {
    const running = plan([
      {
        name: '1',
        hours: 10,
        startedAt: localTime(friday - 4 * hour),
        stops: [{ share: 0.1 }, { share: 0.9 }, { share: 1 }],
      } as Plain,
    ]);
    expect(running.days[0].stops.map((s) => s.share)).eql([0.9]);
    const rests = plan([{ name: '1', hours: 4, stops: [{ share: 0.5 }] }], { home: { nights: 'rest' } });
    const presence = new Presence(Object.assign(new HomeHours(), { nights: 'rest' }), friday);
    const [day] = rests.days;
    expect(presence.nightOver(ms(day.startsAt), ms(day.endsAt) - 60_000)).equal(null);
  });

  it('a course of failures goes over them again; where nobody ever comes there is no time', () => {
    const often = { log: Array.from({ length: 9 }, () => ({ printer: 'Long bed', hours: 2, failed: true })) };
    const with1 = plan([{ name: '1', hours: 12, stops: [{ share: 0.5 }] }], often);
    const without = plan([{ name: '1', hours: 12 }], often);
    expect(ms(with1.readyP90)).above(ms(without.readyP90));
    expect(ms(plan([{ name: '1', hours: 12, stops: [{ share: 0.5 }] }], { home: always }).readyP90)).least(
      ms(plan([{ name: '1', hours: 12 }], { home: always }).readyP90),
    );
    expect(() => plan([{ name: '1', hours: 1, stops: [{ share: 1.5 }] }])).throw(/share/);
  });

  it('of a bedful: parts are laid side by side, so that a stop of one is a stop of all', () => {
    const parts = [
      { tag: 'A1', heightMm: 100, durationS: 3600, stops: [{ atMm: 50, afterLayer: 249, share: 0.8, says: 'brass' }] },
      { tag: 'A2', heightMm: 50, durationS: 7200, stops: [{ atMm: 10, afterLayer: 49, share: 0.5, says: 'magnet' }] },
      { tag: 'A3', heightMm: 20, durationS: 3600, stops: [{ atMm: 10, afterLayer: 49, share: 0.5, says: 'nut' }] },
    ];
    const [low, high] = bedfulStops(parts);
    expect(low.says).equal('A2 magnet, A3 nut');
    // 10 mm of the 50 at which 0.8 of A1 is over; half of A2 and of A3
    expect(low.share).closeTo((3600 * 0.16 + 7200 * 0.5 + 3600 * 0.5) / 14_400, 1e-9);
    // A2 and A3 are done by then
    expect(high).deep.include({ afterLayer: 249, atMm: 50, says: 'A1 brass' });
    expect(high.share).closeTo((3600 * 0.8 + 7200 + 3600) / 14_400, 1e-9);
    // printed one after the other, each in its own time: A1, then A2, then A3
    const turns = bedfulStops(parts, true);
    expect(turns.map((s) => s.says)).eql(['A1 brass', 'A2 magnet', 'A3 nut']);
    expect(turns.map((s) => s.share * 14_400)).eql([2880, 3600 + 3600, 10_800 + 1800]);
    expect(bedfulStops([{ tag: 'A1', heightMm: 5, durationS: 0, stops: parts[1].stops }])[0].share).equal(0);
  });
});

describe('the calendar file', () => {
  it('is read by another reader (ical.js): times, names, and ids that stay when days move', () => {
    const bedfuls = [{ name: 'Bedful 1', hours: 10, project: 'Carnyx, horn; bell' }];
    const eventsOf = (made: DaysPlan) => {
      const parsed = ICAL.parse(calendarFile(made, friday)) as unknown[];
      return new ICAL.Component(parsed)
        .getAllSubcomponents('vevent')
        .map((e) => new ICAL.Event(e))
        .map((e) => ({ id: e.uid, at: e.startDate.toJSDate().getTime(), says: e.summary }));
    };
    const made = plan(bedfuls, { projects: [{ name: 'Carnyx, horn; bell', joints: 2 }] });
    const events = eventsOf(made);
    const load = events.find((e) => e.says.startsWith('Load'))!;
    expect(load.says).equal('Load Bedful 1 of Carnyx, horn; bell on Long bed');
    expect(load.at).equal(ms(made.days[0].loadAt));
    expect(events.find((e) => e.says.startsWith('Glue'))!.at).equal(ms(made.bench[0].from));
    expect(new Set(events.map((e) => e.id)).size).equal(events.length);
    const moved = eventsOf(plan([{ ...bedfuls[0], wantedAt: localTime(at(29, 10)) }]));
    expect(moved.find((e) => e.id === load.id)!.at).equal(at(29, 10));
  });
});

describe('what if', () => {
  const printers = [{ name: 'Long bed', profile: { layerMm: 0.2, walls: 3 } }];
  const parts = [{ volumeMm3: 400_000, areaMm2: 60_000, heightMm: 120 }];
  const many = Array.from({ length: 6 }, (_, i) => ({ name: `${i}`, hours: 14, parts }));
  it('one more printer halves the days, thicker layers the hours by their ratio; none changes the plan', () => {
    const own = request(many, { printers, deadline: localTime(friday + 120 * hour) });
    const before = JSON.stringify(own);
    const as = planDays(own, friday);
    const all = new Map(whatIfs(own, as, friday).map((w) => [w.kind, w]));
    expect([...all.keys()]).eql(['more', 'thicker', 'nozzle', 'walls']);
    expect(ms(all.get('more')!.ready)).below(ms(as.ready));
    expect(all.get('more')!.printS).closeTo(as.printS, 1e-6);
    expect(all.get('more')!.lateProbability!).most(as.lateProbability!);
    expect(all.get('thicker')!.what).closeTo(0.28, 1e-9);
    // below what melts the hours of laying go with the layer: 1/1.4, but for the start
    expect(all.get('thicker')!.printS / as.printS).within(1 / 1.4 - 0.001, 1 / 1.4 + 0.02);
    expect(all.get('walls')!.materialG).below(as.materialG);
    expect(JSON.stringify(own)).equal(before);
  });
});

describe('what days cannot be planned from', () => {
  it('is said with its field', async () => {
    const refused = async (change: object) =>
      codeOf(() => planDays(request([{ name: '1', hours: 1 }], change), friday));
    expect(await refused({ deadline: '2026-11-20' })).equal('bad-params');
    expect(await refused({ from: 'soon' })).equal('bad-params');
    expect(await refused({ printers: [{ name: 'Small bed' }] })).equal('bad-params');
    expect(await refused({ printers: [{ name: 'Long bed' }, { name: 'Long bed' }] })).equal('bad-params');
    expect(await refused({ printers: [] })).equal('bad-params');
    expect(await refused({ bedfuls: [{ name: 'x', grams: 1, on: [{ printer: 'Long bed', hours: -1 }] }] })).equal(
      'bad-params',
    );
    expect(await refused({ bedfuls: [{ name: 'x', grams: 1, on: [] }] })).equal('bad-params');
    expect(await refused({ home: { nights: 'sometimes' } })).equal('bad-params');
    expect(await refused({ home: { weekdayFrom: '25:00' } })).equal('bad-params');
    expect(await refused({ spools: [{ name: 's', leftG: Number.NaN }] })).equal('bad-params');
    const two = ['a', 'b'].map((name) => ({
      name,
      grams: 1,
      on: [{ printer: 'Long bed', hours: 2 }],
      startedAt: '2026-11-27T07:00',
    }));
    expect(await refused({ bedfuls: two })).equal('bad-params');
    expect(planDays(request([]), friday).days).eql([]);
  });
});
