import type { ThickenReport } from '@jasmorphe/core/operations/thicken/describe';
import type { ThicknessReport } from '@jasmorphe/core/operations/thickness/describe';
import { thinnerPct } from '@jasmorphe/core/operations/thickness/thinnerPct';
import { nozzlesMm } from '@jasmorphe/core/trade/figures';
import { fixed, type Speaker } from '@jasmorphe/core/words/numbers';
import type { ConsequenceRow } from '../../decision/Consequences.tsx';

/** Walls must hold so many lines of the nozzle. Common practice: one line peels, two hold. */
export const wallLines = 2;
/** Share of the skin that may be lost without a word, percent. */
export const mayGoPct = 0.3;

/** The widest nozzle below the maker's own that loses next to nothing; the finest there is, where all lose some. */
export const finerNozzle = (walls: ThicknessReport, nozzleMm: number): number =>
  [...nozzlesMm].reverse().find((n) => n < nozzleMm && thinnerPct(walls.quantilesMm, wallLines * n) < mayGoPct) ??
  nozzlesMm[0];

/** What the rows of the walls card follow from. */
export interface WallsBasis {
  walls: ThicknessReport | null;
  thick: ThickenReport | null;
  /** thinnest wall that holds, mm */
  least: number;
  /** null for resin */
  nozzleMm: number | null;
  /** a finer nozzle that would do, mm; null for resin, or while it is not known */
  finer: number | null;
  say: Speaker;
}

/** What becomes of thin walls three ways: a finer nozzle, thickened, or a skin of single lines around a core. */
export function wallsRows({ walls, thick, least, nozzleMm, finer, say }: WallsBasis): ConsequenceRow[] {
  const { length } = say;
  const share = (mm: number) => (walls ? thinnerPct(walls.quantilesMm, mm) : null);
  const lost = share(least);
  const pct = (v: number | null | undefined) => (v === null || v === undefined ? null : `${fixed(v, 1)} %`);
  const lostFiner = finer === null ? lost : share(wallLines * finer);
  return [
    {
      label: 'Least wall',
      cells: [
        walls ? length(finer === null ? least : wallLines * finer) : null,
        thick ? length(least) : null,
        walls ? length(least / wallLines) : null,
      ],
      method: 'what a wall must measure to print',
    },
    { label: 'Skin too thin now', cells: [pct(lost), pct(thick?.thinBeforePct), pct(lost)] },
    {
      label: 'Still too thin',
      cells: [pct(lostFiner), pct(thick?.thinAfterPct), pct(nozzleMm === null ? lost : share(nozzleMm))],
      method: 'share of the skin; skin and core prints walls as single lines',
    },
    {
      label: 'Area lost',
      cells: [
        // both sides of a wall were counted
        walls && lost !== null && lostFiner !== null
          ? say.area((walls.thinAreaMm2 / 2) * (finer === null ? 1 : lostFiner / Math.max(1e-9, lost)))
          : null,
        thick ? say.area(thick.thinAreaAfterMm2 / 2) : null,
        walls ? say.area(walls.thinAreaMm2 / 2) : null,
      ],
      method: 'of wall, one side counted',
    },
    { label: 'Material added', cells: ['none', thick ? say.volume(thick.addedMm3) : null, 'none'] },
    { label: 'Deviation, worst', cells: ['none', thick ? length(thick.deviation.maxMm) : null, 'none'] },
    { label: 'Takes', cells: [finer === null ? '—' : `${say.fine(finer, 2)} nozzle`, '—', 'a setting'] },
  ];
}
