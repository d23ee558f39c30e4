import type { Keep } from '../../planning/cuts/bodies.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { roomiestPlaces } from '../../planning/cuts/roomiestPlaces.ts';
import type { Kernel } from '../../solid/kernel.ts';
import { facesOn, place, type Lump } from './contact.ts';

/** Letters and figures on 3 x 5 dots, rows from the top, each row three bits. */
const glyphs: Record<string, string> = {
  A: '25755',
  B: '65656',
  C: '34443',
  D: '65556',
  E: '74647',
  F: '74644',
  G: '34553',
  H: '55755',
  I: '72227',
  J: '11152',
  K: '55655',
  L: '44447',
  M: '57755',
  N: '65555',
  O: '25552',
  P: '65644',
  Q: '25573',
  R: '65655',
  S: '34216',
  T: '72222',
  U: '55557',
  V: '55552',
  W: '55775',
  X: '55255',
  Y: '55222',
  Z: '71247',
  '0': '75557',
  '1': '26227',
  '2': '71747',
  '3': '71717',
  '4': '55711',
  '5': '74717',
  '6': '74757',
  '7': '71244',
  '8': '75757',
  '9': '75717',
};

/** Depth of the engraving, mm: three layers of 0.2 (common practice). */
const depth = 0.6;

/** Engraves each part's tag in its cut faces, as large as the face allows from 3 to 12 mm, readable from outside. */
export function engraveTags(kernel: Kernel, keep: Keep, lumps: Lump[], cuts: readonly PlaneCut[]): void {
  cuts.forEach((cut, number) => {
    for (const { index, above, section } of facesOn(keep, lumps, cuts, number)) {
      const lump = lumps[index];
      const [spot] = roomiestPlaces(section, 1, 1.8);
      if (!spot) continue;
      const columns = 4 * lump.tag.length - 1;
      const dot = Math.min(12 / 5, (2 * spot.radius * 0.95) / Math.hypot(columns, 5));
      if (5 * dot < 2) continue;
      const squares: [number, number][][] = [];
      [...lump.tag].forEach((letter, i) =>
        [...(glyphs[letter] ?? '')].forEach((row, r) => {
          for (let c = 0; c < 3; c++) {
            if (!(Number(row) & (4 >> c))) continue;
            const x = (4 * i + c - columns / 2) * dot;
            const y = (1.5 - r) * dot;
            // a little larger than a dot, so that neighbours overlap rather than touch in a line
            const e = 0.04 * dot;
            squares.push([
              [x - e, y - e],
              [x + dot + e, y - e],
              [x + dot + e, y + dot + e],
              [x - e, y + dot + e],
            ]);
          }
        }),
      );
      if (squares.length === 0) continue;
      const flat = keep(new kernel.CrossSection(squares, 'Positive'));
      const text = above ? keep(flat.mirror([1, 0])) : flat;
      const tool = keep(keep(text.extrude(2 * depth)).translate([0, 0, -depth]));
      lump.solid = keep(lump.solid.subtract(place(keep, tool, cut, spot.u, spot.v)));
    }
  });
}
