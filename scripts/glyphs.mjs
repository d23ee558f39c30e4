import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { create } from 'fontkit';
import { root } from './workspace.mjs';

// Outlines of letters and figures from the shipped font, as what is engraved in parts: run again when the font changes.
const require = createRequire(import.meta.url);
const file = require.resolve('@fontsource/archivo/files/archivo-latin-600-normal.woff');
const font = create(readFileSync(file));

const signs = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789+';
/** Pieces that a curve is drawn in. */
const pieces = 5;
const unit = 1000 / font.unitsPerEm;
const round = (x) => Math.round(x * unit);

function ringsOf(path) {
  const rings = [];
  let ring = [];
  let x = 0;
  let y = 0;
  const to = (u, v) => {
    const last = ring.at(-1);
    if (!last || last[0] !== round(u) || last[1] !== round(v)) ring.push([round(u), round(v)]);
    [x, y] = [u, v];
  };
  for (const { command, args } of path.commands) {
    const [x0, y0] = [x, y];
    if (command === 'moveTo') {
      ring = [];
      rings.push(ring);
      to(...args);
    } else if (command === 'lineTo') to(...args);
    else if (command === 'quadraticCurveTo') {
      const [cx, cy, ex, ey] = args;
      for (let i = 1; i <= pieces; i++) {
        const t = i / pieces;
        const s = 1 - t;
        to(s * s * x0 + 2 * s * t * cx + t * t * ex, s * s * y0 + 2 * s * t * cy + t * t * ey);
      }
    } else if (command === 'bezierCurveTo') {
      const [ax, ay, bx, by, ex, ey] = args;
      for (let i = 1; i <= pieces; i++) {
        const t = i / pieces;
        const s = 1 - t;
        const [p, q, r, u] = [s ** 3, 3 * s * s * t, 3 * s * t * t, t ** 3];
        to(p * x0 + q * ax + r * bx + u * ex, p * y0 + q * ay + r * by + u * ey);
      }
    }
  }
  return rings
    .map((r) => (r.length > 1 && r[0][0] === r.at(-1)[0] && r[0][1] === r.at(-1)[1] ? r.slice(0, -1) : r))
    .filter((r) => r.length > 2);
}

const lines = [...signs].map((sign) => {
  const [glyph] = font.glyphsForString(sign);
  const rings = ringsOf(glyph.path).map((r) => r.flat());
  return `  ${/[A-Z]/.test(sign) ? sign : `'${sign}'`}: { wide: ${round(glyph.advanceWidth)}, rings: ${JSON.stringify(rings)} },`;
});
const high = round(font.capHeight);
writeFileSync(
  join(root, 'packages/core/src/words/glyphOutlines.ts'),
  `// made by scripts/glyphs.mjs from Archivo (SIL Open Font Licence 1.1); do not edit

/** A sign: how far to the next, and its outlines as x, y of their corners; in thousandths of the size of the font. */
export interface Glyph {
  wide: number;
  rings: number[][];
}

/** Height of capitals and figures. */
export const glyphHeight = ${high};

export const glyphs: Readonly<Record<string, Glyph>> = {
${lines.join('\n')}
};
`,
);
console.log(`${signs.length} signs, capitals ${high} high`);
