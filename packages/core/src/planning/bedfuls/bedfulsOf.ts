import { placeMesh, type Mat3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, type TriMesh } from '../../mesh/TriMesh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { roomOf } from '../room.ts';
import type { BedfulAim, TurnRule } from './aims.ts';
import { BedCells } from './BedCells.ts';
import { bedfulS, expectedInTurnS, expectedS, packBeds, type BedOfPrinter, type Packable } from './packBeds.ts';
import { isSameShadow, shadowOf, type Shadow } from './Shadow.ts';

/** Cells along the longer side of the largest bed, and the finest that is told apart, mm. */
const cellsAcross = 256;
const finestMm = 0.5;
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

/** A bed with the room that shadows may cover, grown by half the gap between parts. */
function bedOf(profile: PrinterProfile, apartMm: number): BedOfPrinter {
  const [x, y] = roomOf(profile.bedMm, profile.marginMm);
  const m = profile.marginMm;
  // half the gap around a part may reach over the margin: nothing stands there to keep away from
  const keepOuts = profile.keepOuts.map(({ min, max }) => ({
    min: [min[0] - m + apartMm / 2, min[1] - m + apartMm / 2] as [number, number],
    max: [max[0] - m + apartMm / 2, max[1] - m + apartMm / 2] as [number, number],
  }));
  return { profile, room: [x + apartMm, y + apartMm], keepOuts };
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
  { apartMm = figures.partsApartMm.value, placed = [], inTurn = false, turn = 'any' }: BedfulWishes = {},
): { bedfuls: BedfulFigures[]; left: number[] } {
  const turned = printers.map(({ kind }) => inTurn && kind === 'filament');
  // no two things on a bed are farther apart than its corners
  const gaps = printers.map(({ headRadiusMm, bedMm: [x, y] }, b) =>
    Math.min(Math.hypot(x, y), turned[b] ? Math.max(apartMm, headRadiusMm) : apartMm),
  );
  const beds = printers.map((profile, b): BedOfPrinter => ({ ...bedOf(profile, gaps[b]), inTurn: turned[b] }));
  const shadowed = (mesh: TriMesh, part: number, b: number, turn: number): Shadow =>
    shadowOf(mesh, turn, cellMm, gaps[b] / 2, parts[part].holdMm);
  /** Could it lie on a bed at any turn? No two points of it are farther apart than the bed's own corners, its gap within them. */
  const mayFit = (part: number, b: number): boolean => {
    const mesh = laid[part][b];
    if (!mesh) return false;
    const [x, y] = sizeOf(boundsOf(mesh));
    return Math.max(x, y) + gaps[b] <= Math.hypot(...beds[b].room);
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
    const shadows = beds.map(({ room }, b) => {
      const mesh = laid[i][b];
      if (!mesh || !isLow(i, b) || taken.has(i) || !mayFit(i, b)) return [];
      const all: Shadow[] = [];
      for (const k of turnsAllowed[turn]) {
        const shadow = shadowed(mesh, i, b, (2 * Math.PI * k) / turns);
        if (!all.some((s) => isSameShadow(s, shadow))) all.push(shadow);
      }
      return all.filter((s) => s.nx * cellMm <= room[0] + 1e-6 && s.ny * cellMm <= room[1] + 1e-6);
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
    on: readonly { part: number; shadow: Shadow | null; at: { x: number; y: number }; turnDeg: number }[],
    clashes: number[],
  ): BedfulFigures => {
    const { profile, room } = beds[printer];
    const cells = Math.floor(room[0] / cellMm) * Math.floor(room[1] / cellMm);
    const times = on.map((p) => parts[p.part].durationS[printer]);
    const durationS = bedfulS(times, profile);
    const inOrder = turned[printer]
      ? [...on].sort((a, b) => parts[a.part].heightMm[printer] - parts[b.part].heightMm[printer] || a.part - b.part)
      : on;
    return {
      printer,
      parts: inOrder.map(({ part, at, turnDeg }) => ({ part, at, turnDeg })),
      inTurn: turned[printer] && on.length > 1,
      expectedS: turned[printer] ? expectedInTurnS(times, profile) : expectedS(durationS),
      clashes,
      fillPct: (100 * on.reduce((n, p) => n + (p.shadow?.count ?? 0), 0)) / cells,
      durationS,
      materialG: on.reduce((n, p) => n + parts[p.part].materialG[printer], 0),
    };
  };
  const kept = placed.map(({ printer, parts: on }) => {
    const { profile, room, keepOuts } = beds[printer];
    const cells = new BedCells(room, cellMm, keepOuts);
    const shift = profile.marginMm - gaps[printer] / 2;
    const clashes: number[] = [];
    const tall = on.filter(({ part }) => isTall(part, printer)).length;
    const drawn = on.map(({ part, at, turnDeg }) => {
      const mesh = laid[part][printer] ?? parts[part].mesh;
      // nothing is drawn of what is larger than the bed
      if (!mayFit(part, printer)) {
        clashes.push(part);
        return { part, shadow: null, at, turnDeg };
      }
      const shadow = shadowed(mesh, part, printer, (turnDeg * Math.PI) / 180);
      const place = {
        x: Math.round((at.x - shift) / cellMm - shadow.middle[0]),
        y: Math.round((at.y - shift) / cellMm - shadow.middle[1]),
      };
      const passes = tall < 2 || !isTall(part, printer);
      const fits =
        laid[part][printer] !== null && isLow(part, printer) && settingsOf(part) === settingsOf(on[0].part) && passes;
      if (!fits || !cells.isFree(shadow, place)) clashes.push(part);
      else cells.put(shadow, place);
      return { part, shadow, at, turnDeg };
    });
    return told(printer, drawn, clashes);
  });
  const { bedfuls, left } = packBeds(packables, beds, aim, cellMm, sliceContext(context, 0.4, 1));
  const packed = bedfuls
    .sort((a, b) => a.printer - b.printer)
    .map(({ printer, puts }) => {
      const shift = beds[printer].profile.marginMm - gaps[printer] / 2;
      const on = puts.map(({ part, turn, x, y }) => {
        const shadow = packables[part].shadows[printer][turn];
        const at = { x: shift + (x + shadow.middle[0]) * cellMm, y: shift + (y + shadow.middle[1]) * cellMm };
        return { part, shadow, at, turnDeg: (shadow.turn * 180) / Math.PI };
      });
      return told(printer, on, []);
    });
  return { bedfuls: [...kept, ...packed], left: left.filter((part) => !taken.has(part)) };
}
