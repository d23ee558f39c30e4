import { expect } from 'chai';
import ICAL from 'ical.js';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import { cli } from './cli.ts';

let folder: string;
const here = (name: string) => join(folder, name);
const project = {
  from: '2026-11-28T08:00',
  printers: [{ name: 'Long bed' }, { name: 'Small bed' }],
  bedfuls: [
    { name: 'Bedful 1', project: 'Carnyx', on: [{ printer: 'Long bed', hours: 17.5 }], grams: 420, colour: 'slate' },
    {
      name: 'Bedful 2',
      project: 'Carnyx',
      on: [
        { printer: 'Long bed', hours: 22 },
        { printer: 'Small bed', hours: 24 },
      ],
      grams: 510,
      colour: 'slate',
    },
  ],
  projects: [{ name: 'Carnyx', joints: 3 }],
  spools: [{ name: 'slate 1', colour: 'slate', leftG: 640 }],
};
const write = (name: string, value: unknown): string => {
  writeFileSync(here(name), typeof value === 'string' ? value : JSON.stringify(value));
  return here(name);
};

const cube = createRequire(import.meta.url).resolve('stl-models/polytopes/cube.bin.stl');

describe('plan', () => {
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'jasmorphe-plan-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('tells days, spools, what to buy and how sure it is, for programs and for people', async () => {
    const file = write('carnyx.json', project);
    const { code, out } = await cli('plan', file, '--deadline', '2026-12-24', '--what-if', '--json');
    expect(code).equal(0);
    const plan = JSON.parse(out) as DaysPlan & { whatIf: object[]; elapsedMs: number };
    expect(plan).include.keys(
      'ready',
      'readyP90',
      'days',
      'spools',
      'buy',
      'expectedS',
      'lateProbability',
      'elapsedMs',
    );
    expect(plan.days[0]).include.keys('printer', 'bedful', 'startsAt', 'endsAt');
    expect(plan.spools[0]).include.keys('name', 'usedG', 'leftG', 'endsAt');
    expect(plan.buy[0]).include.keys('material', 'grams');
    expect(plan.lateProbability).equal(0);
    // another plan of cuts is given by its pieces, as `cuts --json` tells them
    const pieces = [{ volumeMm3: 4e5, areaMm2: 6e4, heightMm: 80, wideMm: 100, deepMm: 90 }];
    const cut = write('cut.json', { ...project, otherCuts: [{ name: 'in one', project: 'Carnyx', pieces }] });
    expect((await cli('plan', cut, '--what-if')).out).match(/Cut: in one/);
    // as they are told, they are taken: the cube of a package in four, on beds of a quarter of it
    const asked = JSON.parse((await cli('cuts', cube, '--bed', '1.2x1.2x2.1', '--margin', '0', '--json')).out) as {
      parts: number;
      pieces: object[];
    };
    expect(asked.pieces.length).equal(asked.parts);
    const told = write('told.json', {
      ...project,
      otherCuts: [{ name: 'told', project: 'Carnyx', pieces: asked.pieces }],
    });
    expect((await cli('plan', told, '--what-if')).out).match(/Cut: told/);
    const people = await cli('plan', file);
    expect(people.out).match(/Ready on .* if nothing fails/);
    expect(people.out).match(/Bedful [12] wants \d+ g more than is left/);
    // what is said of now is not cast in the file: the same file from a later day is later
    const later = await cli('plan', file, '--from', '2026-12-05T08:00', '--json');
    expect((JSON.parse(later.out) as DaysPlan).from.slice(0, 10)).equal('2026-12-05');
  });

  it('a print that stops on the way is tended, and the calendar says so', async () => {
    const [first] = project.bedfuls;
    const stops = [{ share: 0.5, says: 'A1 brass' }];
    const file = write('stops.json', { ...project, bedfuls: [{ ...first, stops }] });
    const { out } = await cli('plan', file, '-o', here('days.ics'), '--json');
    const { days } = JSON.parse(out) as DaysPlan;
    expect(days[0].stops[0]).include({ share: 0.5, says: 'A1 brass' });
    expect(readFileSync(here('days.ics'), 'utf8').replace(/\r\n /g, '')).match(/stops: A1 brass/);
  });

  it('plans the very example of the README', async () => {
    const readme = readFileSync(new URL('../../../README.md', import.meta.url), 'utf8');
    const [, example] = /`plan` reads[\s\S]*?```json\n([\s\S]*?)```/.exec(readme)!;
    const { code, out, error } = await cli(
      'plan',
      write('carnyx.json', example),
      '--from',
      '2026-11-28T08:00',
      '--json',
    );
    expect([code, error]).eql([0, '']);
    const plan = JSON.parse(out) as DaysPlan;
    expect(plan.days.map((d) => d.bedful).sort()).eql(['Bedful 1', 'Bedful 2']);
    expect(plan.days.every((d) => d.loadAt !== null)).equal(true);
    // 640 g on the spool for 930 g
    expect(plan.buy[0]).include({ colour: 'slate' });
    expect(plan.buy[0].grams).within(930 - 640, 700);
  });

  it('writes a calendar that another reader opens; another ending is refused and nothing is left', async () => {
    const file = write('carnyx.json', project);
    const { code, error } = await cli('plan', file, '-o', here('days.ics'));
    expect([code, error]).eql([0, '']);
    const calendar = new ICAL.Component(ICAL.parse(readFileSync(here('days.ics'), 'utf8')) as object[]);
    const says = calendar.getAllSubcomponents('vevent').map((e) => String(e.getFirstPropertyValue('summary')));
    expect(says.join('\n'))
      .match(/Bedful 1/)
      .match(/Bedful 2/);
    const wrong = await cli('plan', file, '-o', here('days.pdf'));
    expect(wrong.code).equal(1);
    expect(wrong.error).match(/is no calendar file.*ends in \.ics/s);
    expect(existsSync(here('days.pdf'))).equal(false);
    // nor is one there when what is planned from is wrong
    expect((await cli('plan', write('wrong.json', '[]'), '-o', here('none.ics'))).code).equal(1);
    expect(existsSync(here('none.ics'))).equal(false);
  });

  it('refuses with a sentence and the field what cannot be planned from', async () => {
    const refused = async (change: object | string, ...more: string[]) => {
      const file = write('wrong.json', typeof change === 'string' ? change : { ...project, ...change });
      const { code, out } = await cli('plan', file, ...more, '--json');
      expect(code).equal(1);
      return (JSON.parse(out) as { error: { message: string } }).error.message;
    };
    expect(await refused('{"from": ')).match(/cannot be read/);
    expect(await refused('[]')).match(/must be an object/);
    expect(await refused({ printer: 'Long bed' })).equal('There is no field "printer".');
    expect(await refused({ printers: undefined })).match(/^"Printers" must be a list of up to 50/);
    expect(await refused({ printers: [] })).equal('There is no printer called "Long bed".');
    expect(await refused({ bedfuls: [{ name: 'x', grams: 1, on: [{ printer: 'None', hours: 2 }] }] })).equal(
      'There is no printer called "None".',
    );
    expect(await refused({ bedfuls: [{ name: 'x', grams: 1, on: [{ printer: 'Long bed', hours: '2' }] }] })).match(
      /in number 1, .*hours/,
    );
    expect(await refused({}, '--deadline', '2026-11-01')).equal('The deadline is past already.');
    expect(await refused({}, '--from', 'soon')).equal('"soon" is no time.');
    expect((await cli('plan', here('none.json'))).error).match(/there is no such file/);
  });
});

describe('estimate by a log', () => {
  const cube = createRequire(import.meta.url).resolve('stl-models/polytopes/cube.bin.stl');
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'jasmorphe-log-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('tells where nine of ten lie once three prints of the printer are logged', async () => {
    const printer = write('printer.json', { name: 'Long bed' });
    const said = (hours: number, material = '') => ({ printer: 'Long bed', hours, saidHours: 10, material });
    const log = write('log.json', [said(11), said(12), said(13), said(20, 'bronze')]);
    const told = async (...more: string[]) => {
      const { code, out, error } = await cli('estimate', cube, '--printer', printer, ...more, '--json');
      expect(code, error).equal(0);
      return JSON.parse(out) as {
        durationS: number;
        byLog?: { factor: number; prints: number; durationS: number } | null;
      };
    };
    expect(await told()).not.have.property('byLog');
    const { durationS, byLog } = await told('--log', log);
    expect(byLog).include({ factor: 1.25, prints: 4 });
    expect(byLog!.durationS).closeTo(1.25 * durationS, 1e-9);
    expect((await told('--log', write('few.json', [said(11)]))).byLog).equal(null);
    const people = await cli('estimate', cube, '--printer', printer, '--log', log, '--material', 'bronze');
    expect(people.out).match(/By the log .*9 of 10 within .* h \(4 prints\)/);
    const wrong = await cli('estimate', cube, '--printer', printer, '--log', write('wrong.json', { printer: 'x' }));
    expect([wrong.code, wrong.error]).satisfy(
      ([code, text]: [number, string]) => code === 1 && /must be a list/.test(text),
    );
  });
});

describe('bedfuls in turn', () => {
  const cube = createRequire(import.meta.url).resolve('stl-models/polytopes/cube.bin.stl');
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'jasmorphe-turn-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('has room for the head between parts, the order told, and hours as if each were by itself', async () => {
    const printer = write('printer.json', {
      name: 'Long bed',
      bedMm: [200, 100, 100],
      headRadiusMm: 60,
      headHeightMm: 25,
    });
    const asked = ['bedfuls', cube, cube, '--unit', 'cm', '--printer', printer, '--as-it-lies'];
    const { code, out, error } = await cli(...asked, '--in-turn', '--json');
    expect(code, error).equal(0);
    const { bedfuls } = JSON.parse(out) as {
      bedfuls: { parts: { at: { x: number; y: number } }[]; inTurn: boolean; durationS: number; expectedS: number }[];
    };
    expect([bedfuls.length, bedfuls[0].inTurn]).eql([1, true]);
    const [a, b] = bedfuls[0].parts.map((p) => p.at);
    // cubes of 20 mm, and the head between them
    expect(Math.hypot(a.x - b.x, a.y - b.y)).least(20 + 60 - 1e-6);
    const [beside] = (JSON.parse((await cli(...asked, '--json')).out) as { bedfuls: typeof bedfuls }).bedfuls;
    expect([beside.inTurn, beside.durationS]).eql([false, bedfuls[0].durationS]);
    expect(beside.expectedS).above(bedfuls[0].expectedS);
    expect((await cli(...asked, '--in-turn')).out).match(/cube\.bin → cube\.bin/);
    expect((await cli(...asked)).out).match(/cube\.bin cube\.bin/);
    // too high for the carriage: each on a bed of its own
    const low = write('low.json', { name: 'Long bed', bedMm: [200, 100, 100], headRadiusMm: 60, headHeightMm: 10 });
    const apart = await cli(
      'bedfuls',
      cube,
      cube,
      '--unit',
      'cm',
      '--printer',
      low,
      '--as-it-lies',
      '--in-turn',
      '--json',
    );
    expect((JSON.parse(apart.out) as { bedfuls: object[] }).bedfuls.length).equal(2);
  });
});
