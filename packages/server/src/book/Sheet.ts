import PDFDocument from 'pdfkit';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import QRCode from 'qrcode';
import type { DrawnView } from '@jasmorphe/core/operations/drawing/describe';
import { unpackWoff } from './unpackWoff.ts';

const require = createRequire(import.meta.url);
/** Fonts of the page, unpacked, by path. */
const fonts = new Map<string, Buffer>();
const font = (path: string): Buffer => {
  const known = fonts.get(path) ?? unpackWoff(readFileSync(require.resolve(path)));
  fonts.set(path, known);
  return known;
};

export const papers = ['a4', 'letter'] as const;
export type Paper = (typeof papers)[number];

/** Ink on paper, as on screen. */
export const ink = {
  text: '#1f2a2d',
  quiet: '#56625f',
  line: '#b9b09b',
  fine: '#d9d2c1',
  accent: '#1b7063',
  clay: '#e6decb',
  attention: '#8f5a0c',
} as const;

/** Margin of a page, and of a line of text its height against its size, pt. */
const margin = 42;
const leading = 1.32;

/** Sheets of paper that are filled from above; all lengths in points but where it says mm. */
export class Sheet {
  readonly doc: PDFKit.PDFDocument;
  /** where the next thing goes */
  y = margin;
  private readonly chunks: Buffer[] = [];
  private readonly ended: Promise<Uint8Array>;
  readonly left = margin;

  constructor(
    paper: Paper,
    title: string,
    /** stands at the foot of every page */
    private readonly foot: string,
  ) {
    this.doc = new PDFDocument({
      size: paper === 'a4' ? 'A4' : 'LETTER',
      margin: 0,
      bufferPages: true,
      info: { Title: title, Creator: 'Jasmorphe' },
    });
    this.doc.registerFont('plain', font('@fontsource/archivo/files/archivo-latin-400-normal.woff'));
    this.doc.registerFont('bold', font('@fontsource/archivo/files/archivo-latin-700-normal.woff'));
    this.doc.registerFont('figure', font('@fontsource/jetbrains-mono/files/jetbrains-mono-latin-400-normal.woff'));
    this.ended = new Promise((resolve, reject) => {
      this.doc.on('data', (chunk: Buffer) => this.chunks.push(chunk));
      this.doc.on('end', () => resolve(new Uint8Array(Buffer.concat(this.chunks))));
      this.doc.on('error', reject);
    });
  }

  get width(): number {
    return this.doc.page.width - 2 * margin;
  }

  get bottom(): number {
    return this.doc.page.height - margin - 14;
  }

  newPage(): void {
    this.doc.addPage();
    this.y = margin;
  }

  /** Begins a new page where less than this is left. */
  need(high: number): void {
    if (this.y + high > this.bottom) this.newPage();
  }

  /** Words where the fonts have their letters: what they lack is left out rather than drawn as boxes. */
  private words(text: string): string {
    return text
      .replace(/[\u2009\u202f\u00a0]/g, ' ')
      .replace(/\u2212/g, '-')
      .replace(/[^\u0020-\u024f\u2010-\u2026\u20ac\u00b0\u00b2\u00b3\n]/g, '?');
  }

  text(
    text: string,
    {
      size = 9.5,
      font: name = 'plain',
      color = ink.text,
      x = this.left,
      wide = this.width - (x - this.left),
    }: {
      size?: number;
      font?: 'plain' | 'bold' | 'figure';
      color?: string;
      x?: number;
      wide?: number;
    } = {},
  ): void {
    const { doc } = this;
    const words = this.words(text);
    doc.font(name).fontSize(size).fillColor(color);
    const options = { width: wide, lineGap: size * (leading - 1.2) };
    const high = doc.heightOfString(words, options);
    this.need(Math.min(high, this.bottom - margin));
    doc.text(words, x, this.y, options);
    this.y = Math.max(this.y + high, doc.y) + size * 0.25;
  }

  label(text: string, x = this.left): void {
    this.text(text.toUpperCase(), { size: 7.5, font: 'bold', color: ink.accent, x });
  }

  heading(text: string): void {
    this.need(60);
    this.text(text, { size: 15, font: 'bold' });
    this.y += 3;
  }

  rule(): void {
    this.doc
      .moveTo(this.left, this.y)
      .lineTo(this.left + this.width, this.y)
      .lineWidth(0.5)
      .strokeColor(ink.line)
      .stroke();
    this.y += 6;
  }

  /** A table whose heads stand again on every page. @param shares of the width, by column */
  table(heads: readonly string[], rows: readonly (readonly string[])[], shares: readonly number[]): void {
    const { doc, width, left } = this;
    const sum = shares.reduce((a, b) => a + b, 0);
    const wide = shares.map((s) => (s / sum) * width);
    const xs = wide.map((_, i) => left + wide.slice(0, i).reduce((a, b) => a + b, 0));
    const line = (cells: readonly string[], head: boolean): void => {
      doc.font(head ? 'bold' : 'plain').fontSize(head ? 7.5 : 8.5);
      const texts = cells.map((c) => this.words(head ? c.toUpperCase() : c));
      const high = Math.max(...texts.map((t, i) => doc.heightOfString(t, { width: wide[i] - 6 }))) + 5;
      if (!head && this.y + high > this.bottom) {
        this.newPage();
        line(heads, true);
        doc.font('plain').fontSize(8.5);
      }
      doc.fillColor(head ? ink.quiet : ink.text);
      for (const [i, t] of texts.entries()) doc.text(t, xs[i], this.y + 2, { width: wide[i] - 6 });
      this.y += high;
      doc
        .moveTo(left, this.y)
        .lineTo(left + width, this.y)
        .lineWidth(head ? 0.8 : 0.3)
        .strokeColor(head ? ink.text : ink.fine)
        .stroke();
    };
    this.need(44);
    line(heads, true);
    for (const row of rows) line(row, false);
    this.y += 8;
  }

  /** A view of a body in a box, with its dimension lines. @returns its scale, pt a mm */
  view(view: DrawnView, x: number, y: number, wide: number, high: number, scale?: number): number {
    const { doc } = this;
    const s = scale ?? Math.min(wide / view.wideMm, high / view.highMm);
    const at = (line: readonly number[], close = false): string => {
      let out = '';
      for (let i = 0; i < line.length; i += 2)
        out += `${i > 0 ? 'L' : 'M'}${(line[i] * s).toFixed(2)} ${((view.highMm - line[i + 1]) * s).toFixed(2)}`;
      return close ? `${out}Z` : out;
    };
    doc.save().translate(x + (wide - view.wideMm * s) / 2, y + (high - view.highMm * s) / 2);
    const outline = view.outline.map((r) => at(r, true)).join('');
    if (outline) doc.path(outline).lineWidth(0.9).fillAndStroke(ink.clay, ink.text, 'even-odd');
    const levels = view.levels.map((l) => at(l)).join('');
    if (levels) doc.path(levels).lineWidth(0.25).strokeColor(ink.line).stroke();
    const creases = view.creases.map((l) => at(l)).join('');
    if (creases) doc.path(creases).lineWidth(0.4).strokeColor(ink.quiet).stroke();
    doc.restore();
    return s;
  }

  /** A dimension line with its figure; upright ones stand at the left of what they measure. */
  dimension(x0: number, y0: number, x1: number, y1: number, says: string): void {
    const { doc } = this;
    const upright = Math.abs(y1 - y0) > Math.abs(x1 - x0);
    const tick = 3;
    doc.moveTo(x0, y0).lineTo(x1, y1);
    for (const [x, y] of [
      [x0, y0],
      [x1, y1],
    ])
      doc.moveTo(x - tick, y + tick).lineTo(x + tick, y - tick);
    doc.lineWidth(0.5).strokeColor(ink.quiet).stroke();
    doc.font('figure').fontSize(7.5).fillColor(ink.text);
    const words = this.words(says);
    const w = doc.widthOfString(words);
    if (upright) {
      doc.save().rotate(-90, { origin: [x0 - 4, (y0 + y1) / 2] });
      doc.text(words, x0 - 4 - w / 2, (y0 + y1) / 2 - 8, { lineBreak: false });
      doc.restore();
    } else doc.text(words, (x0 + x1) / 2 - w / 2, y0 + 3, { lineBreak: false });
  }

  /** A code that a telephone reads as an address. */
  code(address: string, x: number, y: number, side: number): void {
    const { modules } = QRCode.create(address, { errorCorrectionLevel: 'M' });
    const cell = side / modules.size;
    let path = '';
    for (let r = 0; r < modules.size; r++)
      for (let c = 0; c < modules.size; c++)
        if (modules.get(r, c))
          path += `M${(x + c * cell).toFixed(2)} ${(y + r * cell).toFixed(2)}h${cell}v${cell}h${-cell}z`;
    this.doc.path(path).fill(ink.text);
  }

  /** Writes what stands at the foot of all pages, and ends the file. */
  async end(): Promise<{ bytes: Uint8Array; pages: number }> {
    const { doc } = this;
    const { count } = doc.bufferedPageRange();
    for (let i = 0; i < count; i++) {
      doc.switchToPage(i);
      doc.font('plain').fontSize(7.5).fillColor(ink.quiet);
      const y = doc.page.height - margin;
      doc.text(this.words(this.foot), this.left, y, { lineBreak: false });
      const no = `${i + 1} of ${count}`;
      doc.text(no, this.left + this.width - doc.widthOfString(no), y, { lineBreak: false });
    }
    doc.end();
    return { bytes: await this.ended, pages: count };
  }
}
