import { placeMesh, type Mat3 } from '../../mesh/transform.ts';
import type { TriMesh } from '../../mesh/TriMesh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { roomOf } from '../room.ts';
import type { BedfulAim } from './aims.ts';
import { bedfulS, packBeds, type BedOfPrinter, type Packable } from './packBeds.ts';
import { isSameShadow, shadowOf, type Shadow } from './Shadow.ts';

/** Cells along the longer side of the largest bed, and the finest that is told apart, mm. */
const cellsAcross = 256;
const finestMm = 0.5;
/** Turns about the vertical that are tried. */
const turns = 8;

/** A part as it lies, with what printing it takes on each printer. */
export interface LyingPart {
  mesh: TriMesh;
  /** rows of the rotation in which it lies, by printer; null where it fits that one in no pose */
  rotations: readonly (Mat3 | null)[];
  durationS: readonly number[];
  materialG: readonly number[];
  heightMm: readonly number[];
}

/** A part on a bed: the middle of its box, from the bed's front left corner, and how far it is turned. */
export interface PlacedPart {
  part: number;
  at: { x: number; y: number };
  turnDeg: number;
}

export interface BedfulFigures {
  printer: number;
  parts: PlacedPart[];
  /** of the room of the bed that its parts cover, with half the gap around each */
  fillPct: number;
  durationS: number;
  materialG: number;
}

/**
 * What goes on which bed: parts of known poses by their true shadows, on one printer or several.
 *
 * @returns bedfuls in the order of their printers, and parts that fit no bed
 */
export function bedfulsOf(
  parts: readonly LyingPart[],
  printers: readonly PrinterProfile[],
  aim: BedfulAim,
  context: RunContext,
  apartMm: number = figures.partsApartMm.value,
): { bedfuls: BedfulFigures[]; left: number[] } {
  const beds: BedOfPrinter[] = printers.map((profile) => {
    const [x, y] = roomOf(profile.bedMm, profile.marginMm);
    const m = profile.marginMm;
    // half the gap around a part may reach over the margin: nothing stands there to keep away from
    const room: [number, number] = [x + apartMm, y + apartMm];
    const keepOuts = profile.keepOuts.map(({ min, max }) => ({
      min: [min[0] - m + apartMm / 2, min[1] - m + apartMm / 2] as [number, number],
      max: [max[0] - m + apartMm / 2, max[1] - m + apartMm / 2] as [number, number],
    }));
    return { profile, room, keepOuts };
  });
  const cellMm = Math.max(finestMm, Math.max(...beds.flatMap((b) => b.room)) / cellsAcross);
  const laid = parts.map(({ mesh, rotations }) => rotations.map((rows) => rows && placeMesh(mesh, rows)));
  const packables = parts.map(({ durationS, heightMm }, i): Packable => {
    context.checkCancelled();
    context.progress((0.4 * i) / parts.length, 'Drawing shadows');
    const shadows = beds.map(({ profile, room }, b) => {
      const mesh = laid[i][b];
      if (!mesh || heightMm[b] > roomOf(profile.bedMm, profile.marginMm)[2] * (1 + 1e-5)) return [];
      const all: Shadow[] = [];
      for (const k of [0, 2, 4, 6, 1, 3, 5, 7]) {
        const shadow = shadowOf(mesh, (2 * Math.PI * k) / turns, cellMm, apartMm / 2);
        if (!all.some((s) => isSameShadow(s, shadow))) all.push(shadow);
      }
      return all.filter((s) => s.nx * cellMm <= room[0] + 1e-6 && s.ny * cellMm <= room[1] + 1e-6);
    });
    return { shadows, durationS: durationS.map((s, b) => (shadows[b].length > 0 ? s : Infinity)) };
  });
  const { bedfuls, left } = packBeds(packables, beds, aim, cellMm, sliceContext(context, 0.4, 1));
  return {
    bedfuls: bedfuls
      .sort((a, b) => a.printer - b.printer)
      .map(({ printer, puts }) => {
        const { profile, room } = beds[printer];
        const cells = Math.floor(room[0] / cellMm) * Math.floor(room[1] / cellMm);
        const shift = profile.marginMm - apartMm / 2;
        const placed = puts.map(({ part, turn, x, y }) => {
          const shadow = packables[part].shadows[printer][turn];
          return {
            part,
            turnDeg: (shadow.turn * 180) / Math.PI,
            at: {
              x: shift + (x + shadow.middle[0]) * cellMm,
              y: shift + (y + shadow.middle[1]) * cellMm,
            },
          };
        });
        return {
          printer,
          parts: placed,
          fillPct: (100 * puts.reduce((n, p) => n + packables[p.part].shadows[printer][p.turn].count, 0)) / cells,
          durationS: bedfulS(
            puts.map((p) => parts[p.part].durationS[printer]),
            profile,
          ),
          materialG: puts.reduce((n, p) => n + parts[p.part].materialG[printer], 0),
        };
      }),
    left,
  };
}
