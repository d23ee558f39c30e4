import { expect } from 'chai';
import fc from 'fast-check';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { BedfulsParams } from '@jasmorphe/core/operations/bedfuls/describe';
import { finishProject } from '@jasmorphe/core/planning/days/benchWork';
import { cutCurve } from '@jasmorphe/core/planning/days/cutCurve';
import type { DaysPlan, PrinterRecord } from '@jasmorphe/core/planning/days/DaysPlan';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { localTime } from '@jasmorphe/core/planning/days/instants';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { PlanCuts, PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import {
  calibratedText,
  clockText,
  hoursText,
  latenessText,
  notesText,
  noteText,
  planSays,
  rateIn,
  recordText,
  riskText,
  spoolsFor,
  whatIfName,
} from '@jasmorphe/core/planning/days/planWords';
import { calibrationBy } from '@jasmorphe/core/planning/days/failures';
import { Diary, Presence } from '@jasmorphe/core/planning/days/Presence';
import { drawOn, type Want } from '@jasmorphe/core/planning/days/spools';
import { cutOtherwise } from '@jasmorphe/core/planning/days/otherCuts';
import { whatIfs } from '@jasmorphe/core/planning/days/whatIfs';
import { operations } from '@jasmorphe/core/operations/runs';
import { roughDurationS, roughMaterialMm3 } from '@jasmorphe/core/planning/estimate';
import { onPrinter, settingsOn } from '@jasmorphe/core/planning/bedfuls/onPrinter';
import { hoursBy } from '@jasmorphe/core/planning/profileFields';
import { chordMm } from '@jasmorphe/core/planning/motion';
import { PrinterProfile, usualProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { settingsText } from '@jasmorphe/core/planning/settingsText';
import { figures } from '@jasmorphe/core/trade/figures';
import { box, codeOf, run, turned } from './solids.ts';

const hour = 3_600_000;
const friday = new Date(2026, 10, 27, 8).getTime();
const at = (day: number, hours: number): number => new Date(2026, 10, day, 0, hours * 60).getTime();
const ms = (text: string | null): number => new Date(text!).getTime();
const hoursOf = (change: Partial<HomeHours> = {}): HomeHours => Object.assign(new HomeHours(), change);
const always = { weekdayFrom: '00:00', weekdayTo: '23:59', weekendFrom: '00:00', weekendTo: '23:59' };
const planOf = (change: object): DaysPlan =>
  planDays(
    parseParams(PlanRequest, { from: localTime(friday), printers: [{ name: 'A' }], bedfuls: [], ...change }),
    friday,
  );
const on = (hours: number, printer = 'A') => [{ printer, hours }];

/** Does something by the clock of another place. */
function inZone<T>(zone: string, work: () => T): T {
  const before = process.env.TZ;
  process.env.TZ = zone;
  try {
    return work();
  } finally {
    if (before === undefined) delete process.env.TZ;
    else process.env.TZ = before;
  }
}

describe('hours by the log', () => {
  const entry = (hours: number, saidHours: number, material = '', change: object = {}) => ({
    printer: 'A',
    hours,
    saidHours,
    failed: false,
    material,
    ...change,
  });
  it('go by the material where three prints of it tell, and else by all of the printer', () => {
    const log = [
      entry(11, 10, 'grey'),
      entry(22, 20, 'grey'),
      entry(5.5, 5, 'grey'),
      entry(13, 10, 'bronze'),
      entry(26, 20, 'bronze'),
      entry(50, 10, '', { printer: 'B' }),
      entry(9, 10, 'grey', { failed: true }),
      entry(7, 0, 'grey'),
    ];
    expect(calibrationBy(log, 'A', 'grey')).deep.include({ factor: 1.1, prints: 3, material: 'grey' });
    // two of bronze are too few: the middle of five
    expect(calibrationBy(log, 'A', 'bronze')).deep.include({ factor: 1.1, prints: 5, material: '' });
    expect(calibrationBy(log, 'B')).equal(null);
    const all = calibrationBy(log, 'A')!;
    // median deviation of the logarithms is 0: most say the same
    expect([all.low, all.high].map((v) => Number(v.toFixed(9)))).eql([1.1, 1.1]);
  });

  it('set those of a bedful right by the material that it is printed of, as far as spools tell', () => {
    const log = [10, 20, 5].flatMap((h) => [entry(1.1 * h, h, 'PLA'), entry(1.5 * h, h, 'PETG')]);
    const bedfuls = ['slate', 'brown', ''].map((colour, i) => ({ name: `${i}`, colour, grams: 10, on: on(10) }));
    const spools = [
      { name: '1', material: 'PLA', colour: 'slate', leftG: 900 },
      { name: '2', material: 'PETG', colour: 'brown', leftG: 900 },
    ];
    const hours = (more: object) =>
      planOf({ bedfuls, log, ...more })
        .days.sort((a, b) => Number(a.bedful) - Number(b.bedful))
        .map((d) => [d.durationS / 3600, ...d.likelyS!.map((s) => s / 3600)].map((h) => Number(h.toFixed(6))));
    // most prints of a material say the same: it lies there; of both together 1.1 and 1.5 are alike often
    const [slate, brown, any] = hours({ spools });
    expect([slate, brown]).eql([
      [11, 11, 11],
      [15, 15, 15],
    ]);
    expect(any[0]).closeTo(13, 1e-6);
    expect(any[1]).below(11.5);
    // one material alone on the shelf: that it is
    expect(hours({ spools: spools.slice(1) }).map((h) => h[0])).eql([13, 15, 15]);
    // a log that tells nothing
    expect(planOf({ bedfuls, spools }).days.map((d) => d.likelyS)).eql([null, null, null]);
  });

  it('are said with where nine of ten lie', () => {
    const record = { factor: 1.1, low: 1, high: 1.2, prints: 12, material: 'grey' };
    expect(calibratedText(200_000, record)).equal('by its log 61.1 h, 9 of 10 within 56–67 h (12 prints of grey)');
    expect(calibratedText(7200, { ...record, material: '' })).equal(
      'by its log 2.2 h, 9 of 10 within 2.0–2.4 h (12 prints)',
    );
  });
});

describe('presence', () => {
  it('nights that are tended join the evening before and the morning behind', () => {
    const presence = new Presence(hoursOf({ nights: 'tended', weekdayTo: '22:30', weekendFrom: '07:00' }), friday);
    // Friday at five until Saturday at ten, in one: evening, night, and the day that begins where the night ends
    expect(presence.homeAfter(at(27, 18))).eql([at(27, 17), at(28, 22)]);
    expect(presence.isThere(at(28, 3))).equal(true);
    // on Monday morning the night ends at seven and nobody is there
    expect([presence.isThere(at(30, 6.9)), presence.isThere(at(30, 7.1))]).eql([true, false]);
    const plain = new Presence(hoursOf(), friday);
    expect([plain.isThere(at(28, 3)), plain.nightOver(at(27, 21), at(28, 5))]).eql([false, null]);
    const rests = new Presence(hoursOf({ nights: 'rest' }), friday);
    expect(rests.nightOver(at(27, 21), at(28, 5))).eql([at(27, 22.5), at(28, 7)]);
    expect(rests.nightOver(at(28, 7), at(28, 22.5)), 'from morning to evening').equal(null);
  });

  it('goes by the clock of the place on the days on which it is put forward and back', () => {
    inZone('Europe/Berlin', () => {
      // 25 October 2026, three o'clock summer time becomes two
      const saturday = new Date(2026, 9, 24, 12).getTime();
      const presence = new Presence(hoursOf(), saturday);
      const [from, to] = presence.homeAfter(new Date(2026, 9, 25, 1).getTime())!;
      expect([localTime(from), localTime(to)]).eql(['2026-10-25T09:00+01:00', '2026-10-25T22:00+01:00']);
      expect(localTime(presence.homeAfter(saturday)![0])).equal('2026-10-24T09:00+02:00');
      // eleven hours of the clock from ten in the evening are twelve of printing
      expect((from - new Date(2026, 9, 24, 22).getTime()) / hour).equal(12);
    });
    inZone('America/St_Johns', () =>
      expect(localTime(new Date(2026, 0, 5, 9).getTime())).equal('2026-01-05T09:00-03:30'),
    );
  });

  it('a diary never has two things at once, and keeps to hours at home (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 240 }), fc.integer({ min: 1, max: 300 })), { maxLength: 30 }),
        (wishes) => {
          const presence = new Presence(hoursOf(), friday);
          const diary = new Diary(presence);
          const done: [number, number][] = [];
          for (const [afterH, minutes] of wishes) {
            const t = friday + afterH * hour;
            const from = diary.earliest(t, minutes * 60_000);
            expect(from).least(t);
            const [home0, home1] = presence.homeAfter(from)!;
            expect(from).within(home0, home1 - minutes * 60_000);
            for (const [a, b] of done) expect(a >= from + minutes * 60_000 || b <= from).equal(true);
            diary.put(from, from + minutes * 60_000);
            done.push([from, from + minutes * 60_000]);
          }
        },
      ),
    );
  });

  it('what is longer than any time at home is never done; bench work is done in pieces', () => {
    const diary = new Diary(new Presence(hoursOf(), friday));
    expect(diary.earliest(friday, 14 * hour)).equal(Infinity);
    // 36 joints are 9 h of glue: five on Friday evening, the rest on Saturday
    const { bench, readyMs } = finishProject(0, { joints: 36, slow: 0, without: [] }, friday, diary);
    const glue = bench.filter((b) => b.what === 'glue').map((b) => [b.fromMs, b.toMs]);
    expect(glue).eql([
      [at(27, 17), at(27, 22)],
      [at(28, 9), at(28, 13)],
    ]);
    const seams = bench.filter((b) => b.what === 'seams').reduce((n, b) => n + b.toMs - b.fromMs, 0);
    expect(seams).equal(36 * figures.seamJointS.value * 1000);
    expect(readyMs).equal(bench.at(-1)!.toMs);
    const nobody = new Diary(new Presence(hoursOf({ weekdayTo: '17:00', weekendTo: '09:00' }), friday));
    expect(finishProject(0, { joints: 1, slow: 0, without: [] }, friday, nobody)).eql({ bench: [], readyMs: Infinity });
    expect(finishProject(0, { joints: 0, slow: 0, without: [] }, friday, nobody)).eql({ bench: [], readyMs: friday });
  });
});

describe('a print that runs', () => {
  const running = (sinceH: number, change: object = {}) =>
    planOf({
      home: always,
      bedfuls: [{ name: '1', on: on(40), grams: 10, startedAt: localTime(friday - sinceH * hour) }],
      ...change,
    });

  it('has not failed so far: only what is left of it can (1 − e^(−r·10))', () => {
    const late = running(30, { deadline: localTime(friday + 10.5 * hour) }).lateProbability!;
    const p = 1 - Math.exp(-10 * figures.failuresPerH.value);
    expect(late).closeTo(p, 4 * Math.sqrt((p * (1 - p)) / 400));
  });

  it('is looked at once more at 15 %, and no more when it is farther; one that should be off is taken off now', () => {
    // six of forty hours
    const [early] = running(2).days;
    expect(ms(early.looks[0].at)).equal(friday + 4 * hour);
    expect(early.looks[0]).include({ share: 0.15, onTime: true });
    const far = running(30);
    expect(far.days[0].looks).eql([]);
    expect(far.notes, 'it was looked at, or it is too late').eql([]);
    const over = running(50).days[0];
    expect([over.running, ms(over.offAt)]).eql([true, friday]);
  });
});

describe('the search for an order', () => {
  const many = (n: number) => ({
    printers: [{ name: 'A' }, { name: 'B' }],
    bedfuls: Array.from({ length: n }, (_, i) => ({
      name: `${i}`,
      on: [...on(3 + ((7 * i) % 20), 'A'), ...on(4 + ((5 * i) % 20), 'B')],
      grams: 1,
    })),
  });

  it('finds the same plan again, and never a worse one than longest first', () => {
    const [a, b] = [planOf(many(24)), planOf(many(24))];
    expect(a).eql(b);
    const byHand = planOf({
      ...many(24),
      bedfuls: many(24).bedfuls.map((x, i) => ({ ...x, on: x.on.filter((_, k) => k === i % 2) })),
    });
    expect(ms(a.ready)).most(ms(byHand.ready));
  });

  it('ends with hundreds of bedfuls, each on one printer once', () => {
    const { days } = planOf(many(400));
    expect(new Set(days.map((d) => d.bedful)).size).equal(400);
    expect(days.every((d) => d.loadAt !== null)).equal(true);
  }).timeout(20_000);
});

describe('words of a plan', () => {
  it('say days and times by the clock that is written', () => {
    expect(clockText('2026-11-27T17:10+05:30')).equal('Fri 27 Nov, 17:10');
    expect(clockText('2026-11-27T17:10+05:30', false)).equal('Fri 27 Nov');
    expect(clockText(null)).equal('—');
    expect(planSays({ ready: null, projects: [] as object[] } as DaysPlan)).equal('Part of it finds no time.');
    const said = {
      ready: '2026-12-01T20:30+00:00',
      readyP90: '2026-12-03T20:30+00:00',
      lateProbability: 0.25,
      projects: [] as DaysPlan['projects'],
    };
    expect(planSays(said as DaysPlan)).equal(
      'Ready on Tue 1 Dec, 20:30 if nothing fails; nine times of ten by Thu 3 Dec, 20:30. 1 chance in 4 of being late.',
    );
  });

  it('say chances, rates and hours as people do', () => {
    expect([0, 0.1, 0.5, 0.75, 1].map(latenessText)).eql([
      'Next to no chance of being late',
      '1 chance in 10 of being late',
      '1 chance in 2 of being late',
      '75 chances in 100 of being late',
      'It will be late',
    ]);
    const record: PrinterRecord = {
      printer: 'A',
      perHour: 1 / 160,
      perHourLow: 1 / 320,
      perHourHigh: 1 / 90,
      prints: 41,
      hours: 612,
      factor: 1,
      factorLow: 57 / 61,
      factorHigh: 66 / 61,
    };
    expect(recordText(rateIn(record))).equal(
      '1 failure in 160 h (1 in 90 to 1 in 320), from 41 of its prints and 612 h',
    );
    expect(recordText({ ...rateIn(record), prints: 0 })).match(/the usual rate \(our own judgement\)/);
    // (e^(61/160) − 1) · 160 h
    expect(riskText(61 * 3600, rateIn(record))).equal(
      `${((Math.exp(61 / 160) - 1) * 160).toFixed(1)} h expected with what fails and begins anew: ${recordText(rateIn(record))}`,
    );
    const durationS = 61 * 3600;
    expect(hoursText({ durationS, likelyS: [57 * 3600, 66 * 3600] })).equal('61.0 h, 9 of 10 within 57–66 h');
    expect(hoursText({ durationS, likelyS: null })).equal('61.0 h');
    expect([0, 1, 1000, 1001].map(spoolsFor)).eql([0, 1, 1, 2]);
    expect(
      (['more', 'thicker', 'nozzle', 'walls', 'cuts'] as const).map((kind, i) =>
        whatIfName({ kind, what: ['Long bed', 0.28, 0.6, 2, 'cleanest, 9 parts'][i] }),
      ),
    ).eql(['Another Long bed', '0.28 mm layers', '0.60 mm nozzle', '2 walls', 'Cut: cleanest, 9 parts']);
  });

  it('put the worst first, and say once what many bedfuls want', () => {
    const short = (bedful: string) => ({ kind: 'short', bedful, grams: 100 }) as const;
    const few = notesText([{ kind: 'unseen', bedful: 'Bedful 1' }, short('Bedful 2'), short('Bedful 3')]);
    expect(few.map((n) => n.severity)).eql(['failure', 'failure', 'note']);
    const many = notesText([
      { kind: 'swap-alone', bedful: 'Bedful 9', spool: 'slate 2' },
      short('Bedful 2'),
      short('Bedful 3'),
      short('Bedful 4'),
    ]);
    expect(many.map((n) => n.text)).eql([
      '3 bedfuls want 300 g more than is left on spools that suit them: Bedful 2, 3, 4.',
      'Bedful 9 uses a spool up while nobody is there to go on with slate 2: it would stop until then.',
    ]);
    const unseen = ['1', '2', '3'].map((n) => ({ kind: 'unseen', bedful: `Bedful ${n}` }) as const);
    expect(notesText(unseen)).eql([
      { severity: 'note', text: 'Nobody is there to look again while these print: Bedful 1, 2, 3.' },
    ]);
    expect(noteText({ kind: 'no-time', bedful: 'Bedful 1', hours: 40 })).match(/takes 40.0 h and finds no time/);
    expect(noteText({ kind: 'late', project: 'Carnyx' })).equal('Carnyx is not ready by the deadline.');
  });

  it('name the project of a bedful where there are several', () => {
    const bedfuls = ['Carnyx', 'Heron'].map((project) => ({ name: 'Bedful 1', project, on: on(30), grams: 500 }));
    const spools = [{ name: 's', leftG: 30 }];
    const named = (made: DaysPlan) => made.notes.flatMap((n) => (n.kind === 'short' ? [n.bedful] : [])).sort();
    expect(named(planOf({ bedfuls, spools }))).eql(['Bedful 1 of Carnyx', 'Bedful 1 of Heron']);
    expect(named(planOf({ bedfuls: bedfuls.slice(1), spools }))).eql(['Bedful 1']);
  });
});

describe('what if, in detail', () => {
  const parts = [{ volumeMm3: 400_000, areaMm2: 60_000, heightMm: 120 }];
  const of = (change: object) => {
    const request = parseParams(PlanRequest, { from: localTime(friday), bedfuls: [], ...change });
    return whatIfs(request, planDays(request, friday), friday);
  };
  const bedful = (i: number, more: object = {}) => ({ name: `${i}`, on: on(14), grams: 100, parts, ...more });

  it('a twin has a name of its own, whatever printers are called', () => {
    const printers = [{ name: 'A' }, { name: 'A twin' }];
    expect(of({ printers, bedfuls: [bedful(1), bedful(2), bedful(3)] }).map((w) => [w.kind, w.what])).eql([
      ['more', 'A'],
    ]);
  });

  it('resin has layers alone; without parts nothing is said of settings; what runs goes on as it is', () => {
    const resin = [{ name: 'A', kind: 'resin', profile: { kind: 'resin', layerMm: 0.05 } }];
    expect(of({ printers: resin, bedfuls: [bedful(1)] }).map((w) => w.kind)).eql(['thicker']);
    const filament = [{ name: 'A', profile: { walls: 3 } }];
    expect(of({ printers: filament, bedfuls: [bedful(1, { parts: [] })] })).eql([]);
    expect(of({ printers: filament, bedfuls: [bedful(1, { startedAt: localTime(friday - hour) })] })).eql([]);
    // two walls are as few as there may be, and 0.3 mm as thick as a 0.4 mm nozzle lays
    const atTheEnd = [{ name: 'A', profile: { walls: 2, layerMm: 0.3 } }];
    expect(of({ printers: atTheEnd, bedfuls: [bedful(1)] }).map((w) => w.kind)).eql(['nozzle']);
  });

  it('material goes by walls under the skin and what fills the rest (by hand)', () => {
    const piece = { volumeMm3: 400_000, areaMm2: 60_000, heightMm: 120, columnsMm3: 0 };
    const three = usualProfile('filament');
    const two = Object.assign(new PrinterProfile(), three, { walls: 2 });
    const byHand = (walls: number) => 60_000 * walls * 0.45 + (400_000 - 60_000 * walls * 0.45) * 0.15;
    expect([roughMaterialMm3(piece, three), roughMaterialMm3(piece, two)]).eql([byHand(3), byHand(2)]);
    const [walls] = of({ printers: [{ name: 'A', profile: { walls: 3 } }], bedfuls: [bedful(1)] }).filter(
      (w) => w.kind === 'walls',
    );
    expect(walls.materialG).closeTo((100 * byHand(2)) / byHand(3), 1e-9);
  });
});

describe('a part on another printer than it was laid for', () => {
  const piece = { volumeMm3: 400_000, areaMm2: 60_000, heightMm: 120 };
  const own = usualProfile('filament');
  const laidFor = { printer: hoursBy(own), supportMm3: 20_000 };
  const taken = { durationS: 40_000, materialG: 180 };
  const on = (change: Partial<PrinterProfile>, base = own) => Object.assign(new PrinterProfile(), base, change);

  it('takes what was worked out on one of the same figures, whatever its bed and name', () => {
    const twin = onPrinter(taken, piece, laidFor, on({ name: 'B', bedMm: [500, 500, 500], pricePerKg: 99 }));
    expect(twin.durationS).closeTo(40_000, 1e-6);
    expect(twin.materialG).closeTo(180, 1e-9);
  });

  it('goes by the speeds of the other, with the settings that it was laid with (by hand)', () => {
    // at twice the speed with four times the acceleration every way, long or short, takes half as long: L/v + v/a, 2 √(L/a)
    const twice = { wallSpeedMmS: 100, infillSpeedMmS: 160, maxFlowMm3S: 24, startS: 1000 };
    const fast = on({ ...twice, accelerationMmS2: 6000 });
    expect(onPrinter(taken, piece, laidFor, fast).durationS).closeTo(1000 + (40_000 - own.startS) / 2, 1e-6);
    // with the acceleration that it had, it is not even that much quicker
    expect(onPrinter(taken, piece, laidFor, on(twice)).durationS).above(1000 + (40_000 - own.startS) / 2);
    // its layers and walls go with it
    expect(onPrinter(taken, piece, laidFor, on({ layerMm: 0.3, walls: 6, infillPct: 90 }))).eql(
      onPrinter(taken, piece, laidFor, own),
    );
    // what a nozzle cannot lay is laid by the settings of that nozzle: walls of 0.9 mm lines, melted no faster than 12 mm³/s
    const broad = on({ nozzleMm: 0.8, lineWidthMm: 0.9, layerMm: 0.4 });
    const there = onPrinter(taken, piece, laidFor, broad);
    // an upright piece of that volume and skin: walls round its outline, solid layers at its foot and top, filling between
    const area = 400_000 / 120;
    const outline = (60_000 - 2 * area) / 120;
    const walls = (w: number) => outline * 3 * w;
    const laid = (w: number, layer: number): number =>
      120 * walls(w) + (area - walls(w)) * (8 * layer + 0.15 * (120 - 8 * layer)) + (20_000 * own.supportPct) / 100;
    expect(there.materialG / 180).closeTo(laid(0.9, 0.4) / laid(0.45, 0.2), 1e-9);
    expect(there.durationS).below(taken.durationS);
    // and said so, with what stands beside it
    const said = `${settingsText(own)}, slate`;
    expect(settingsOn(said, laidFor, broad)).equal(`${settingsText(broad)}, slate`);
    expect(settingsOn(said, laidFor, on({ layerMm: 0.3 }))).equal(said);
    expect(settingsOn(said, laidFor, usualProfile('resin'))).equal(said);
  });

  it('of resin goes by layers and light; another kind is not reckoned', () => {
    const vat = usualProfile('resin');
    const bright = on({ exposureS: vat.exposureS / 2 }, vat);
    const slower = onPrinter(taken, piece, { printer: hoursBy(bright), supportMm3: 0 }, vat);
    const layers = Math.ceil(120 / vat.layerMm);
    const laying = (s: number) => roughDurationS({ ...piece, columnsMm3: 0 }, on({ exposureS: s }, vat)) - vat.startS;
    expect(laying(vat.exposureS) - laying(vat.exposureS / 2)).closeTo(
      (layers - vat.bottomLayers - vat.transitionLayers / 2) * (vat.exposureS / 2),
      1e-6,
    );
    expect(slower.durationS - vat.startS).closeTo(
      ((taken.durationS - vat.startS) * laying(vat.exposureS)) / laying(vat.exposureS / 2),
      1e-6,
    );
    expect(onPrinter(taken, piece, laidFor, vat)).eql(taken);
  });
});

describe('another plan of cuts', () => {
  // two cubes of 100 mm, by closed formula: 10^6 mm³ and 60 000 mm²
  const cube = { volumeMm3: 1e6, areaMm2: 60_000, heightMm: 100, wideMm: 100, deepMm: 100 };
  const { wideMm: _w, deepMm: _d, ...part } = cube;
  const bedful = (name: string, more: object = {}) => ({
    name,
    project: 'Carnyx',
    on: on(20),
    grams: 400,
    parts: [part],
    ...more,
  });
  const asked = (otherCuts: object[], more: object = {}) =>
    parseParams(PlanRequest, {
      from: localTime(friday),
      printers: [{ name: 'A', profile: { bedMm: [220, 220, 250] } }],
      bedfuls: [bedful('1'), bedful('2')],
      projects: [{ name: 'Carnyx', joints: 1, slow: 1, pieces: 2 }],
      otherCuts,
      ...more,
    });
  const told = (otherCuts: object[], more: object = {}) => {
    const request = asked(otherCuts, more);
    const plan = planDays(request, friday);
    return { plan, cuts: whatIfs(request, plan, friday).filter((w) => w.kind === 'cuts') };
  };
  const startH = new PrinterProfile().startS / 3600;

  it('with the same pieces takes the same hours and grams, but that they share a bed', () => {
    const { plan, cuts } = told([{ name: 'the same', project: 'Carnyx', pieces: [cube, cube] }]);
    expect(cuts.map(whatIfName)).eql(['Cut: the same']);
    // two cubes lie side by side on a bed of 220 mm: one start is saved
    expect(cuts[0].printS / 3600).closeTo(plan.printS / 3600 - startH, 1e-6);
    expect(cuts[0].materialG).closeTo(plan.materialG, 1e-6);
  });

  it('has hours and grams at the ratio of the present parts, and as many joints for each piece', () => {
    const half = { ...cube, volumeMm3: 5e5, areaMm2: 40_000, deepMm: 50 };
    const four = [half, half, half, half];
    const request = asked([]);
    const other = cutOtherwise(request, parseParams(PlanCuts, { name: 'four', project: 'Carnyx', pieces: four }))!;
    const profile = usualProfile('filament');
    const rough = (p: typeof cube) => (roughDurationS({ ...p, columnsMm3: 0 }, profile) - profile.startS) / 3600;
    const hours = other.bedfuls.reduce((n, b) => n + b.on[0].hours, 0);
    expect(hours - other.bedfuls.length * startH).closeTo((4 * rough(half) * (20 - startH)) / rough(cube), 1e-6);
    expect(other.projects[0]).include({ joints: 3, slow: 3, pieces: 4 });
    // a number that is given goes before
    const given = parseParams(PlanCuts, { name: 'four', project: 'Carnyx', pieces: four, joints: 5 });
    expect(cutOtherwise(request, given)!.projects[0].joints).equal(5);
    expect(JSON.stringify(request)).equal(JSON.stringify(asked([])));
  });

  it('takes the place of its own bedfuls alone; a piece that fits no bed has one of its own', () => {
    const request = asked([], { bedfuls: [bedful('1'), bedful('2', { id: 'b2' }), bedful('3', { project: 'Heron' })] });
    const long = { ...cube, wideMm: 400 };
    const cuts = { name: 'long', project: 'Carnyx', instead: ['b2'], pieces: [long, cube] };
    const other = cutOtherwise(request, parseParams(PlanCuts, cuts))!;
    expect(other.bedfuls.map((b) => [b.name, b.project, b.parts.length])).eql([
      ['1', 'Carnyx', 1],
      ['3', 'Heron', 1],
      ['long 1', 'Carnyx', 1],
      ['long 2', 'Carnyx', 1],
    ]);
    expect(other.projects[0].pieces).equal(3);
  });

  it('is not compared once one of its bedfuls is on a bed, or where none is meant; what is wrong is said', () => {
    const pieces = [cube];
    expect(told([{ name: 'x', project: 'Heron', pieces }]).cuts).eql([]);
    expect(told([{ name: 'x', project: 'Carnyx', instead: ['9'], pieces }]).cuts).eql([]);
    const running = { bedfuls: [bedful('1', { startedAt: localTime(friday - hour) }), bedful('2')] };
    expect(told([{ name: 'x', project: 'Carnyx', pieces }], running).cuts).eql([]);
    const wrong = (cuts: object) => codeOf(async () => asked([cuts]));
    return Promise.all(
      [
        { name: 'x', pieces: [] },
        { name: '', pieces },
        { name: 'x', pieces: [{ ...cube, wideMm: -1 }] },
      ].map(async (cuts) => expect(await wrong(cuts)).equal('bad-params')),
    );
  });

  it('has its pieces from the plan of cuts: as they lie, with their sides (closed formulas)', async () => {
    const { report } = await run(operations.cuts, await box(200, 100, 60), { bed: [110, 110, 110], plan: 'fewest' });
    const { pieces, parts } = report;
    expect([parts, pieces.length]).eql([2, 2]);
    const sum = (of: (p: (typeof pieces)[number]) => number) => pieces.reduce((n, p) => n + of(p), 0);
    expect(sum((p) => p.volumeMm3)).closeTo(200 * 100 * 60, 12);
    expect(sum((p) => p.areaMm2)).closeTo(2 * (200 * 100 + 200 * 60 + 100 * 60) + 2 * 100 * 60, 1);
    for (const p of pieces) {
      expect(p.wideMm * p.deepMm * p.heightMm).closeTo(p.volumeMm3, 12);
      expect(p.columnsMm3).equal(0);
    }
    // aslant to the axes its box is as small (turned by 17 degrees about z)
    const aslant = await run(operations.cuts, turned(await box(200, 100, 60)), {
      bed: [110, 110, 110],
      plan: 'fewest',
    });
    for (const p of aslant.report.pieces)
      expect((p.wideMm * p.deepMm * p.heightMm) / p.volumeMm3).within(1 - 1e-6, 1.15);
  });
});

describe('where cutting pays, in detail', () => {
  it('the curve goes through the present cut, and ends with the whole in one piece', () => {
    const now = {
      modelMm: 900,
      pieceMm: 225,
      pieces: 22,
      joints: 21,
      printS: 250 * 3600,
      startS: 300,
      perHour: 1 / 160,
    };
    const { points, nowS } = cutCurve(now)!;
    const last = points.at(-1)!;
    expect([last.pieceMm, last.pieces, last.benchS].map((x) => Number(x.toFixed(6)))).eql([900, 1, 0]);
    for (const [i, p] of points.entries()) if (i > 0) expect(p.pieces).most(points[i - 1].pieces);
    // the two points beside it
    const k = points.findIndex((p) => p.pieceMm >= 225);
    const [a, b] = [points[k - 1], points[k]].map((p) => p.machineS + p.benchS);
    expect(nowS).within(Math.min(a, b) - 600, Math.max(a, b) + 600);
    expect(points[k].pieces).within(18, 23);
  });
});

describe('spools in time', () => {
  it('the spool on the printer stays there, and what suits several is shared without loss (property)', () => {
    const want = fc.record({
      grams: fc.integer({ min: 1, max: 600 }),
      printer: fc.nat(2),
      startH: fc.nat(80),
      tookH: fc.integer({ min: 1, max: 30 }),
    });
    fc.assert(
      fc.property(
        fc.array(want, { maxLength: 12 }),
        fc.array(fc.integer({ min: 0, max: 1200 }), { maxLength: 5 }),
        (list, lefts) => {
          const wants = [...list]
            .sort((a, b) => a.startH - b.startH)
            .map(({ grams, printer, startH, tookH }): Want => ({
              kind: 'filament',
              material: '',
              colour: '',
              grams,
              expectedG: grams,
              printer,
              startMs: startH * hour,
              endMs: (startH + tookH) * hour,
            }));
          const spools = lefts.map((leftG, i) => ({
            name: `${i}`,
            kind: 'filament' as const,
            material: '',
            colour: '',
            leftG,
          }));
          const { drawn } = drawOn(wants, spools);
          // no spool feeds two printers at once
          const uses = drawn.flatMap(({ draws }, i) => draws.map((d) => ({ ...wants[i], spool: d.spool })));
          for (const [i, a] of uses.entries())
            for (const b of uses.slice(0, i))
              if (a.spool === b.spool && a.printer !== b.printer)
                expect(a.startMs >= b.endMs || b.startMs >= a.endMs).equal(true);
        },
      ),
    );
  });
});

describe('what is asked with', () => {
  const refusal = (change: object): string => {
    try {
      planOf(change);
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  it('names the number of what is wrong in a list, and the field in it', () => {
    const bedful = { name: 'x', on: on(2), grams: 1 };
    expect(refusal({ bedfuls: [bedful, { ...bedful, gram: 1 }] })).equal(
      '"Bedfuls" must be right: in number 2, there is no field "gram".',
    );
    expect(refusal({ bedfuls: [{ ...bedful, on: on(20_000) }] })).match(
      /in number 1, "On" must be right: in number 1, "Hours"/,
    );
    expect(refusal({ bedfuls: ['x'] })).equal('"Bedfuls" must be right: in number 1, it is no object.');
    expect(refusal({ bedfuls: 'x' })).equal('"Bedfuls" must be a list of up to 2000.');
    expect(refusal({ home: { weekdayFrom: 7 } })).equal(
      '"Home" must be right: "Weekday from" must be a time such as 07:30.',
    );
    expect(refusal({ projects: [{ name: 'p', joints: 1.5 }] })).match(/in number 1, "Joints" must be a whole number/);
    expect(refusal({ bedfuls: [{ ...bedful, name: 'n'.repeat(201) }] })).match(
      /in number 1, "Name" must be a name of 1 to 200/,
    );
    expect(
      refusal({
        printers: [{ name: 'A' }, { name: 'B', kind: 'resin' }],
        bedfuls: [{ ...bedful, on: [...on(1), ...on(1, 'B')] }],
      }),
    ).equal('"x" is to be printed of filament or of resin.');
  });

  it('bedfuls that stay as they are want a printer, tags and places', () => {
    const placed = (change: unknown) => {
      try {
        parseParams(BedfulsParams, { printers: [{ name: 'A' }], placed: [change] });
        return '';
      } catch (error) {
        return (error as Error).message;
      }
    };
    const good = { printer: 'A', parts: [{ tag: 'B1', at: { x: 10, y: 20 }, turnDeg: 45 }] };
    expect(placed(good)).equal('');
    for (const wrong of [
      null,
      {},
      { ...good, printer: '' },
      { ...good, more: 1 },
      { printer: 'A', parts: [{ tag: 'B1', at: { x: 10 }, turnDeg: 0 }] },
      { printer: 'A', parts: [{ tag: 'B1', at: { x: 10, y: NaN }, turnDeg: 0 }] },
      { printer: 'A', parts: [{ tag: 'B1', at: { x: 10, y: 1, z: 1 }, turnDeg: 0 }] },
      { printer: 'A', parts: [{ tag: 'B1', at: { x: 10, y: 1 }, turnDeg: Infinity }] },
    ])
      expect(placed(wrong), JSON.stringify(wrong)).match(/^"Placed" must be up to 100 bedfuls/);
  });
});

describe('settings and lines', () => {
  it('settings are said alike where they are alike, and apart where they are not', () => {
    const usual = usualProfile('filament');
    expect(settingsText(usual)).equal('0.20 mm layers, 0.40 mm nozzle, 3 walls, 15 % infill, support beyond 45°');
    const other = (change: Partial<PrinterProfile>) => settingsText(Object.assign(new PrinterProfile(), usual, change));
    for (const change of [{ layerMm: 0.28 }, { nozzleMm: 0.6 }, { walls: 2 }, { infillPct: 20 }, { supports: false }])
      expect(other(change), JSON.stringify(change)).not.equal(settingsText(usual));
    expect(other({ name: 'another', pricePerKg: 99, bedMm: [100, 100, 100] })).equal(settingsText(usual));
    expect(settingsText(usualProfile('resin'))).equal('0.050 mm layers, 2.5 s of light');
  });

  it('the mean chord of a flat is that of lines drawn at random across it (Crofton, by sampling)', () => {
    // lines of all directions, evenly spread, across a rectangle of 40 by 25
    const [w, d] = [40, 25];
    let [sum, n] = [0, 0];
    for (let a = 0; a < 180; a++) {
      const [dx, dy] = [Math.cos((a * Math.PI) / 180), Math.sin((a * Math.PI) / 180)];
      for (let p = -30; p <= 30; p += 0.05) {
        const [x0, y0] = [w / 2 - dy * p, d / 2 + dx * p];
        const across = (from: number, to: number, at0: number, step: number): [number, number] =>
          Math.abs(step) < 1e-12
            ? at0 >= from && at0 <= to
              ? [-Infinity, Infinity]
              : [1, 0]
            : [Math.min((from - at0) / step, (to - at0) / step), Math.max((from - at0) / step, (to - at0) / step)];
        const [xs, ys] = [across(0, w, x0, dx), across(0, d, y0, dy)];
        const long = Math.min(xs[1], ys[1]) - Math.max(xs[0], ys[0]);
        if (long > 0) {
          sum += long;
          n++;
        }
      }
    }
    expect(sum / n).closeTo(chordMm(w * d, 2 * (w + d)), 0.05);
    expect(chordMm(10, 0)).equal(0);
  });
});
