import { placeMesh, type Mat3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, type TriMesh } from '../../mesh/TriMesh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { hull2d } from '../../section/hull2d.ts';
import { flatFit } from '../bedFit.ts';
import { rectangleBeside, roomOf } from '../room.ts';
import type { BedfulAim, TurnRule } from './aims.ts';
import { fitsIn } from './BedCells.ts';
import {
  bedfulS,
  cellsOf,
  expectedInTurnS,
  expectedS,
  packBeds,
  type BedOfPrinter,
  type Packable,
} from './packBeds.ts';
import { isSameShadow, shadowOf, type Shadow } from './Shadow.ts';

/** Cells along the longer side of the largest bed, and the finest that is told apart, mm. */
const cellsAcross = 256;
const finestMm = 0.5;
/** Places are kept so finely, mm. */
const handMm = 0.01;
/** Turns about the vertical that are tried, and which of them each rule allows, quarters first. */
const turns = 8;
const turnsAllowed: Record<TurnRule, readonly number[]> = {
  any: [0, 2, 4, 6, 1, 3, 5, 7],
  quarter: [0, 2, 4, 6],
  none: [0],
};

/** A part as it lies, with what printing it takes on each printer. */
export interface LyingPart {
  mesh: TriMesh;
  /** rows of the rotation in which it lies, by printer; null where it fits that one in no pose */
  rotations: readonly (Mat3 | null)[];
  durationS: readonly number[];
  materialG: readonly number[];
  heightMm: readonly number[];
  /** what its printer is set to: parts of other settings go on other beds */
  settings?: string;
  /** how far its brim or raft reaches beyond it, mm */
  holdMm?: number;
}

/** A part on a bed: the middle of its box, from the bed's front left corner, and how far it is turned. */
export interface PlacedPart {
  part: number;
  at: { x: number; y: number };
  turnDeg: number;
}

/** What was put on a bed by hand, or is to stay there: it is taken as it is. */
export interface PlacedBedful {
  printer: number;
  parts: PlacedPart[];
}

export interface BedfulFigures {
  printer: number;
  parts: PlacedPart[];
  /** parts that overlap another or its gap, stand where nothing may, reach beyond the bed, or have other settings than the first */
  clashes: number[];
  /** of the room of the bed that its parts cover, with half the gap around each */
  fillPct: number;
  durationS: number;
  /** in the mean, when it fails now and then and begins anew */
  expectedS: number;
  materialG: number;
  /** its parts are printed one after the other, in their order */
  inTurn: boolean;
}

/** A bed with the room that parts may lie in. */
function bedOf(profile: PrinterProfile): Omit<BedOfPrinter, 'perHour'> {
  const { bedMm, marginMm: m, keepOuts } = profile;
  const [x, y] = roomOf(bedMm, m);
  const { room, corner } = rectangleBeside(bedMm, m, keepOuts);
  return {
    profile,
    room: [x, y],
    keepOuts: keepOuts.map(({ min, max }) => ({
      min: [min[0] - m, min[1] - m] as [number, number],
      max: [max[0] - m, max[1] - m] as [number, number],
    })),
    clear: { corner: [corner[0] - m, corner[1] - m], size: [room[0], room[1]] },
  };
}

/** The turn about the vertical at which a mesh fits a rectangle best, radians. */
function fittingTurn({ positions }: TriMesh, room: readonly [number, number]): number {
  const seen: number[] = [];
  for (let k = 0; k < positions.length; k += 3) seen.push(positions[k], positions[k + 1]);
  const hull = hull2d(seen);
  const corners = Float32Array.from({ length: (3 * hull.length) / 2 }, (_, k) =>
    k % 3 === 2 ? 0 : hull[2 * Math.floor(k / 3) + (k % 3)],
  );
  const { m } = flatFit(corners, [room[0], room[1], Infinity]);
  return Math.atan2(m[1][0], m[0][0]);
}

/** What is asked of bedfuls beside what counts. */
export interface BedfulWishes {
  /** room between parts */
  apartMm?: number;
  /** bedfuls that are taken as they are, the first of what is returned; all other parts go on beds of their own */
  placed?: readonly PlacedBedful[];
  /**
   * Parts of filament are printed one after the other: the head has room beside those that stand, and all but the last are
   * so low that its carriage passes over them.
   */
  inTurn?: boolean;
  /** how they may be turned; what was put by hand stays as it was turned */
  turn?: TurnRule;
  /** failures an hour, by printer; the usual rate where nobody says */
  perHour?: readonly (number | undefined)[];
}

/**
 * What goes on which bed: parts of known poses by their true shadows, on one printer or several.
 *
 * @returns those placed, then bedfuls in the order of their printers, and parts that fit no bed
 */
export function bedfulsOf(
  parts: readonly LyingPart[],
  printers: readonly PrinterProfile[],
  aim: BedfulAim,
  context: RunContext,
  { apartMm = figures.partsApartMm.value, placed = [], inTurn = false, turn = 'any', perHour = [] }: BedfulWishes = {},
): { bedfuls: BedfulFigures[]; left: number[] } {
  const turned = printers.map(({ kind }) => inTurn && kind === 'filament');
  // no two things on a bed are farther apart than its corners
  const gaps = printers.map(({ headRadiusMm, bedMm: [x, y] }, b) =>
    Math.min(Math.hypot(x, y), turned[b] ? Math.max(apartMm, headRadiusMm) : apartMm),
  );
  const beds = printers.map((profile, b): BedOfPrinter => ({
    ...bedOf(profile),
    inTurn: turned[b],
    perHour: perHour[b] ?? figures.failuresPerH.value,
  }));
  const shadowed = (mesh: TriMesh, part: number, b: number, turn: number): Shadow =>
    shadowOf(mesh, turn, cellMm, gaps[b] / 2, parts[part].holdMm);
  /** Could it lie on a bed at any turn? No two points of it are farther apart than the bed's own corners. */
  const mayFit = (part: number, b: number): boolean => {
    const mesh = laid[part][b];
    if (!mesh) return false;
    const [x, y] = sizeOf(boundsOf(mesh));
    return fitsIn(Math.max(x, y), Math.hypot(...beds[b].room));
  };
  const cellMm = Math.max(finestMm, Math.max(...beds.flatMap((b) => b.room)) / cellsAcross);
  const laid = parts.map(({ mesh, rotations }) => rotations.map((rows) => rows && placeMesh(mesh, rows)));
  const isLow = (part: number, b: number): boolean => {
    const { bedMm, marginMm } = beds[b].profile;
    return parts[part].heightMm[b] <= roomOf(bedMm, marginMm)[2] * (1 + 1e-5);
  };
  /** Does the carriage not pass over it once it stands? */
  const isTall = (part: number, b: number): boolean =>
    turned[b] && parts[part].heightMm[b] > beds[b].profile.headHeightMm;
  const taken = new Set(placed.flatMap((b) => b.parts.map((p) => p.part)));
  const settingsOf = (part: number): string => parts[part].settings ?? '';
  const packables = parts.map(({ durationS }, i): Packable => {
    context.checkCancelled();
    context.progress((0.4 * i) / parts.length, 'Drawing shadows');
    const shadows = beds.map(({ room, clear }, b) => {
      const mesh = laid[i][b];
      if (!mesh || !isLow(i, b) || taken.has(i) || !mayFit(i, b)) return [];
      const all: Shadow[] = [];
      for (const k of turnsAllowed[turn]) {
        const shadow = shadowed(mesh, i, b, (2 * Math.PI * k) / turns);
        if (!all.some((s) => isSameShadow(s, shadow))) all.push(shadow);
      }
      const fits = ({ box }: Shadow): boolean => fitsIn(box[0], room[0]) && fitsIn(box[1], room[1]);
      // what goes in askew alone
      if (turn === 'any' && !all.some(fits)) all.push(shadowed(mesh, i, b, fittingTurn(mesh, clear.size)));
      return all.filter(fits);
    });
    return {
      shadows,
      durationS: durationS.map((s, b) => (shadows[b].length > 0 ? s : Infinity)),
      settings: settingsOf(i),
      heightMm: parts[i].heightMm,
    };
  });
  const told = (
    printer: number,
    on: readonly { part: number; at: { x: number; y: number }; turnDeg: number }[],
    clashes: number[],
    covered: number,
  ): BedfulFigures => {
    const { profile, perHour: rate } = beds[printer];
    const times = on.map((p) => parts[p.part].durationS[printer]);
    const durationS = bedfulS(times, profile);
    const inOrder = turned[printer]
      ? [...on].sort((a, b) => parts[a.part].heightMm[printer] - parts[b.part].heightMm[printer] || a.part - b.part)
      : on;
    return {
      printer,
      parts: inOrder.map(({ part, at, turnDeg }) => ({ part, at, turnDeg })),
      inTurn: turned[printer] && on.length > 1,
      expectedS: turned[printer] ? expectedInTurnS(times, profile, rate) : expectedS(durationS, rate),
      clashes,
      fillPct: 100 * covered,
      durationS,
      materialG: on.reduce((n, p) => n + parts[p.part].materialG[printer], 0),
    };
  };
  const kept = placed.map(({ printer, parts: on }) => {
    const { profile, room } = beds[printer];
    const cells = cellsOf(beds[printer], cellMm);
    // what must stay free, by itself: a part that is clear of it by its true box needs no gap there
    const emptied = cellsOf(beds[printer], cellMm);
    const parted = cellsOf({ ...beds[printer], keepOuts: [] }, cellMm);
    const { free } = cells;
    const shift = profile.marginMm;
    const clashes: number[] = [];
    /** Does a box lie within a rectangle, where a hand put it? */
    const isWithin = (
      { box }: Shadow,
      at: readonly [number, number],
      corner: readonly [number, number],
      size: readonly [number, number],
    ): boolean =>
      at.every((middle, k) => {
        const from = middle - shift - box[k] / 2 - corner[k];
        return from >= -handMm && from + box[k] <= size[k] + handMm;
      });
    const tall = on.filter(({ part }) => isTall(part, printer)).length;
    const drawn = on.map(({ part, at, turnDeg }) => {
      const mesh = laid[part][printer] ?? parts[part].mesh;
      // nothing is drawn of what is larger than the bed
      if (!mayFit(part, printer)) {
        clashes.push(part);
        return { part, at, turnDeg };
      }
      const shadow = shadowed(mesh, part, printer, (turnDeg * Math.PI) / 180);
      const place = {
        x: Math.round((at.x - shift) / cellMm - shadow.middle[0]),
        y: Math.round((at.y - shift) / cellMm - shadow.middle[1]),
      };
      const passes = tall < 2 || !isTall(part, printer);
      const fits =
        laid[part][printer] !== null && isLow(part, printer) && settingsOf(part) === settingsOf(on[0].part) && passes;
      const { clear } = beds[printer];
      const alone = emptied.isFree(shadow, place) || isWithin(shadow, [at.x, at.y], clear.corner, clear.size);
      const lies = alone && isWithin(shadow, [at.x, at.y], [0, 0], room) && parted.isFree(shadow, place);
      if (!fits || !lies) clashes.push(part);
      else {
        cells.put(shadow, place);
        parted.put(shadow, place);
      }
      return { part, at, turnDeg };
    });
    return told(printer, drawn, clashes, (free - cells.free) / (cells.nx * cells.ny));
  });
  const { bedfuls, left } = packBeds(packables, beds, aim, cellMm, sliceContext(context, 0.4, 1));
  const packed = bedfuls
    .sort((a, b) => a.printer - b.printer)
    .map(({ printer, puts }) => {
      const shift = beds[printer].profile.marginMm;
      const cells = cellsOf(beds[printer], cellMm);
      const { free } = cells;
      const on = puts.map(({ part, turn, x, y }) => {
        const shadow = packables[part].shadows[printer][turn];
        cells.put(shadow, { x, y });
        const at = { x: shift + (x + shadow.middle[0]) * cellMm, y: shift + (y + shadow.middle[1]) * cellMm };
        return { part, at, turnDeg: (shadow.turn * 180) / Math.PI };
      });
      return told(printer, on, [], (free - cells.free) / (cells.nx * cells.ny));
    });
  return { bedfuls: [...kept, ...packed], left: left.filter((part) => !taken.has(part)) };
}
