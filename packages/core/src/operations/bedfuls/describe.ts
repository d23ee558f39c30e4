import { IsBoolean, IsIn, IsOptional } from 'class-validator';
import { stageFinding } from '../../inspect/stageFinding.ts';
import { IsMm } from '../../params/checks.ts';
import { Param } from '../../params/Param.ts';
import { bedfulAims, turnRules, type BedfulAim, type TurnRule } from '../../planning/bedfuls/aims.ts';
import { ArePlacedBedfuls, type PlacedOnBed } from '../../planning/bedfuls/PlacedOnBed.ts';
import { IsLaidParts, type LaidPart } from '../../planning/bedfuls/LaidPart.ts';
import { ArePrinters, type PrinterProfile } from '../../planning/PrinterProfile.ts';
import { AreFailureRates, type RateOfName } from '../../planning/bedfuls/RateOfName.ts';
import { figures } from '../../trade/figures.ts';
import { countOf, fixed, massText, secondsText, whole } from '../../words/numbers.ts';
import { describe } from '../Description.ts';

export class BedfulsParams {
  @Param('printers, each by its settings', { flag: null })
  @ArePrinters()
  printers: Partial<PrinterProfile>[];

  @Param('parts by their meshes, as they lie', { flag: null })
  @IsOptional()
  @IsLaidParts(300)
  parts: LaidPart[] = [];

  @Param('what counts')
  @IsOptional()
  @IsIn(bedfulAims)
  for: BedfulAim = 'fewest';

  @Param('bedfuls that stay as they are', { flag: null })
  @IsOptional()
  @ArePlacedBedfuls(100)
  placed: PlacedOnBed[] = [];

  @Param('room between parts')
  @IsOptional()
  @IsMm()
  apart: number = figures.partsApartMm.value;

  @Param('parts of filament are printed one after the other')
  @IsOptional()
  @IsBoolean()
  inTurn: boolean = false;

  @Param('how often each printer fails, by its log', { flag: null })
  @IsOptional()
  @AreFailureRates(50)
  failures: RateOfName[] = [];

  @Param('how parts may be turned about the vertical')
  @IsOptional()
  @IsIn(turnRules)
  turn: TurnRule = 'any';
}

/** What goes on one bed in one go, and how it is drawn. */
export interface BedfulOnScreen {
  printer: string;
  /** x, y of the bed, mm */
  bedMm: [number, number];
  parts: {
    tag: string;
    /** middle of its box on the bed, from the front left corner */
    at: { x: number; y: number };
    turnDeg: number;
    /** on that printer */
    durationS: number;
    materialG: number;
    /** its shadow as a path of rows, in mm from that middle, y to the back */
    path: string;
    /** it overlaps another or its gap, stands where nothing may, reaches beyond the bed, or has other settings than the first */
    clashes: boolean;
  }[];
  /** what the printer is set to for all of them; empty where nobody said */
  settings: string;
  /** they are printed one after the other, in their order */
  inTurn: boolean;
  fillPct: number;
  durationS: number;
  materialG: number;
  /** in the mean, when it fails now and then and begins anew */
  expectedS: number;
}

export interface BedfulsReport {
  bedfuls: BedfulOnScreen[];
  /** tags of parts that fit no bed as they lie */
  left: string[];
  /** hours of the machine until the last printer is done, with a change of beds between bedfuls */
  doneS: number;
}

const sum = ({ bedfuls }: BedfulsReport, of: (b: BedfulOnScreen) => number): number =>
  bedfuls.reduce((n, b) => n + of(b), 0);

export const description = describe<'bedfuls', BedfulsParams, BedfulsReport>({
  name: 'bedfuls',
  version: 7,
  kept: (report) => ({
    left: [],
    doneS: 0,
    ...report,
    bedfuls: (report.bedfuls ?? []).map((b) => ({
      ...b,
      inTurn: b.inTurn ?? false,
      // of an earlier version: those of the bedful, shared out
      parts: b.parts.map((p) => ({
        ...p,
        durationS: p.durationS ?? b.durationS / b.parts.length,
        materialG: p.materialG ?? b.materialG / b.parts.length,
      })),
    })),
  }),
  makes: 'nothing',
  takes: 'mesh',
  stop: 'layout',
  study: true,
  shows: 'nothing',
  params: BedfulsParams,
  companions: ({ parts }) => parts.map((p) => p.mesh),
  findings: {
    at: ['layout'],
    of: (_, { left }) => left.map((tag) => stageFinding('off-bed', 'failure', { tag }, { name: tag })),
  },
  words: {
    summary: 'Puts parts on beds by their true shadows',
    title: 'Bedfuls',
    done: 'Bedfuls planned',
    button: 'Plan the bedfuls',
    rows: [
      { label: 'Bedfuls', of: (r) => whole(r.bedfuls.length) },
      { label: 'Hours of printing', of: (r) => secondsText(sum(r, (b) => b.durationS)) },
      {
        label: 'Longest',
        of: (r) => secondsText(Math.max(0, ...r.bedfuls.map((b) => b.durationS))),
      },
      {
        label: 'Expected',
        of: (r) => secondsText(sum(r, (b) => b.expectedS)),
        method: `hours with what failures cost: (e^(rt) − 1) / r for each bedful, by the log of each printer; without one, a failure in ${fixed(1 / figures.failuresPerH.value, 0)} h (our own judgement)`,
      },
      {
        label: 'Last one done',
        of: (r) => secondsText(r.doneS),
        method: `printers side by side, day and night, ${fixed(figures.changeBedS.value / 60, 0)} min to change beds`,
      },
      { label: 'Material', of: (r) => massText(sum(r, (b) => b.materialG)) },
    ],
    says: (r) => (r.left.length > 0 ? `${countOf(r.left.length, 'part')} fit no bed as they lie.` : ''),
  },
});
