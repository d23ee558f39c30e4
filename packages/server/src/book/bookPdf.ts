import { tagsText } from '@jasmorphe/contracts/reading/tags';
import { clockText, latenessText, spoolsFor } from '@jasmorphe/core/planning/days/planWords';
import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import { countOf, fixed, massText, secondsText, sizeText } from '@jasmorphe/core/words/numbers';
import type { Book, BookPart } from './Book.ts';
import { ink, Sheet, type Paper } from './Sheet.ts';

const mm = (value: number): string => `${fixed(value, value >= 1000 ? 0 : 1)} mm`;
const sum = <T>(all: readonly T[], of: (one: T) => number): number => all.reduce((n, one) => n + of(one), 0);

/** Tags of parts, with their models before them where there are several. */
const listOf = (parts: readonly BookPart[], several: boolean): string =>
  parts.map((p) => (several ? `${p.model} ${p.tag}` : p.tag)).join(', ');

function cover(sheet: Sheet, book: Book): void {
  const { parts, bedfuls, plan, models } = book;
  sheet.label('Build book');
  sheet.text(book.title, { size: 26, font: 'bold' });
  if (book.note) sheet.text(book.note, { size: 11, color: ink.quiet });
  sheet.text(`Made ${clockText(book.madeOn)}. ${book.address}`, { size: 8, color: ink.quiet });
  sheet.y += 6;
  const drawn = models.find((m) => m.drawing !== null);
  const view = drawn?.drawing?.views.find((v) => v.name === 'front');
  const corner = drawn?.drawing?.views.find((v) => v.name === 'corner');
  const high = 300;
  if (view && corner) {
    const half = sheet.width / 2 - 20;
    const s = Math.min(half / view.wideMm, (high - 40) / view.highMm);
    const [w, h] = [view.wideMm * s, view.highMm * s];
    const x = sheet.left + 26;
    sheet.view(view, x, sheet.y, w, h, s);
    sheet.dimension(x, sheet.y + h + 10, x + w, sheet.y + h + 10, mm(view.wideMm));
    sheet.dimension(x - 10, sheet.y, x - 10, sheet.y + h, mm(view.highMm));
    sheet.view(corner, sheet.left + sheet.width / 2 + 10, sheet.y, half, high - 40);
    sheet.y += Math.max(h + 34, high - 30);
  }
  sheet.rule();
  const loose = parts.filter((p) => p.bedful === null);
  // figures of a few parts are not those of the whole
  const of = loose.length > 0 ? ` for ${parts.length - loose.length} of ${countOf(parts.length, 'part')}` : '';
  const rows: [string, string][] = [
    ...models.map((m): [string, string] => [m.name, sizeText(m.size, mm)]),
    ['Parts', `${countOf(parts.length, 'part')}, ${countOf(bedfuls.length, 'bedful')}`],
    ['Printing', `${secondsText(sum(bedfuls, (b) => b.durationS))} as planned for the bedfuls${of && `,${of}`}`],
    [
      'Material',
      `${massText(sum(bedfuls, (b) => b.materialG))}, about ${fixed(book.cost.amount, 2)} ${book.cost.currency}${of}`,
    ],
    ...(loose.length > 0 ? [['On no bedful', listOf(loose, models.length > 1)] satisfies [string, string]] : []),
  ];
  if (plan) {
    rows.push(['Expected', `${secondsText(plan.expectedS)} of what waits, with what failures cost`]);
    rows.push([
      'Ready to paint',
      plan.projects[0].without.length > 0
        ? `Nobody can tell. In none of its bedfuls: ${plan.projects[0].without.join(', ')}`
        : `${clockText(plan.ready)}; nine times of ten by ${clockText(plan.readyP90)}`,
    ]);
    rows.push(['Your own hours', secondsText(plan.handsS)]);
    if (book.dueOn)
      rows.push([
        'Wanted by',
        `${book.dueOn}${plan.lateProbability === null ? '' : `. ${latenessText(plan.lateProbability)}`}`,
      ]);
  }
  sheet.table(['What', 'How much'], rows, [1, 3]);
  sheet.label('Cautions');
  for (const c of book.cautions) sheet.text(c, { size: 8.5, color: ink.attention });
}

function maps(sheet: Sheet, { models }: Book): void {
  for (const { name, map } of models) {
    if (!map) continue;
    sheet.newPage();
    sheet.heading(`Part map of ${name}`);
    const { doc } = sheet;
    const room = sheet.bottom - sheet.y;
    const s = Math.min(sheet.width / map.width, room / map.height);
    doc
      .save()
      .translate(sheet.left + (sheet.width - map.width * s) / 2, sheet.y)
      .scale(s);
    for (const { path } of map.parts) doc.path(path).lineWidth(0.8).fillAndStroke(ink.clay, ink.text, 'even-odd');
    for (const { place, middle, tag } of map.parts) {
      if (!place) continue;
      const [x, y] = place;
      doc.moveTo(x, y).lineTo(middle.x, middle.y).lineWidth(0.6).strokeColor(ink.quiet).stroke();
      doc.font('bold').fontSize(13);
      const w = doc.widthOfString(tag);
      doc.rect(x - w / 2 - 2, y - 8, w + 4, 16).fill('#ffffff');
      doc.fillColor(ink.text).text(tag, x - w / 2, y - 7, { lineBreak: false });
    }
    doc.restore();
  }
}

function bedOf(sheet: Sheet, bedful: BedfulView, x: number, y: number, wide: number): number {
  const { doc } = sheet;
  const [w, d] = bedful.bedMm;
  const s = wide / w;
  doc
    .rect(x, y, wide, d * s)
    .lineWidth(0.8)
    .strokeColor(ink.text)
    .stroke();
  for (const { path, at, tag } of bedful.parts) {
    doc
      .save()
      .translate(x + at.x * s, y + (d - at.y) * s)
      .scale(s, -s);
    doc.path(path).fill(ink.clay);
    doc.restore();
    doc.font('bold').fontSize(9).fillColor(ink.text);
    doc.text(tag, x + at.x * s - doc.widthOfString(tag) / 2, y + (d - at.y) * s - 5, { lineBreak: false });
  }
  return d * s;
}

function bedfulPages(sheet: Sheet, { bedfuls, plan }: Book): void {
  if (bedfuls.length === 0) return;
  sheet.newPage();
  sheet.heading('Bedfuls');
  const wide = 190;
  for (const bedful of bedfuls) {
    const high = (wide * bedful.bedMm[1]) / bedful.bedMm[0];
    sheet.need(high + 16);
    const top = sheet.y;
    bedOf(sheet, bedful, sheet.left, top, wide);
    const x = sheet.left + wide + 18;
    const day = plan?.days.find((d) => d.id === bedful.id);
    sheet.text(`Bedful ${bedful.number}`, { size: 13, font: 'bold', x });
    sheet.text(`${bedful.printer}. ${tagsText(bedful)}${bedful.inTurn ? ', one after the other in this order' : ''}`, {
      x,
    });
    sheet.text(`${secondsText(bedful.durationS)}, ${massText(bedful.materialG)}, ${fixed(bedful.fillPct, 0)} % full`, {
      x,
      font: 'figure',
      size: 8.5,
    });
    if (bedful.state === 'done') sheet.text('Off the bed.', { x });
    if (day) {
      if (!day.running) sheet.text(`Load ${clockText(day.loadAt)}. Watch the first layers.`, { x });
      for (const look of day.looks)
        sheet.text(`Look again ${clockText(look.at)}, at ${fixed(100 * look.share, 0)} %.`, { x });
      sheet.text(`Printed by ${clockText(day.endsAt)}, off ${clockText(day.offAt)}.`, { x });
      for (const stop of day.stops) sheet.text(`Stops ${clockText(stop.at)}: ${stop.says}.`, { x });
      for (const w of day.draws) sheet.text(`${massText(w.grams)} from ${w.spool}.`, { x });
    }
    sheet.y = Math.max(sheet.y, top + high) + 14;
  }
}

function partSheet(sheet: Sheet, part: BookPart): void {
  sheet.newPage();
  const code = 64;
  const top = sheet.y;
  sheet.code(part.address, sheet.left + sheet.width - code, top, code);
  sheet.label(`${part.model}, ${part.state}`);
  sheet.text(part.tag, { size: 30, font: 'bold', wide: sheet.width - code - 12 });
  sheet.text(part.bedful === null ? 'On no bedful yet.' : `Bedful ${part.bedful}, ${part.printer}.`, {
    wide: sheet.width - code - 12,
  });
  sheet.y = Math.max(sheet.y, top + code + 6);
  const views = part.drawing?.views ?? [];
  const [corner, front, above] = ['corner', 'front', 'top'].map((n) => views.find((v) => v.name === n));
  if (corner && front && above) {
    const third = (sheet.width - 40) / 3;
    const high = 170;
    const y = sheet.y;
    sheet.view(corner, sheet.left, y, third, high);
    // front and top share their scale
    const s = Math.min(
      (third - 16) / Math.max(front.wideMm, above.wideMm),
      (high - 22) / Math.max(front.highMm, above.highMm),
    );
    for (const [i, v] of [front, above].entries()) {
      const [w, h] = [v.wideMm * s, v.highMm * s];
      const x = sheet.left + (i + 1) * (third + 20) + 16;
      const top0 = y + (high - 22 - h) / 2;
      sheet.view(v, x, top0, w, h, s);
      sheet.dimension(x, top0 + h + 9, x + w, top0 + h + 9, mm(v.wideMm));
      sheet.dimension(x - 9, top0, x - 9, top0 + h, mm(v.highMm));
    }
    sheet.y = y + high + 6;
    sheet.text('as it lies: from the corner, the front, and above', { size: 7.5, color: ink.quiet });
  } else sheet.text('It could not be drawn.', { color: ink.quiet });
  sheet.table(
    ['What', 'How'],
    [
      ['Size as it lies', sizeText(part.size, mm)],
      ['Lies', [part.lies, part.why].filter(Boolean).join('. ')],
      ['Settings', part.settings],
      ...(part.layers === null ? [] : [['Layers', fixed(part.layers, 0)]]),
      ['Hours', part.durationS === null ? 'not laid yet' : secondsText(part.durationS)],
      ...(part.expectedS === null
        ? []
        : [['Expected', `${secondsText(part.expectedS)} in the mean, with what fails and begins anew`]]),
      ['Material', part.materialG === null ? 'not laid yet' : massText(part.materialG)],
      ['Joins', part.joins.join('. ') || 'none'],
      ...(part.stops.length > 0 ? [['Stops', part.stops.join('. ').replace(/(^|\. )a/g, '$1A')]] : []),
    ],
    [1, 4],
  );
  if (part.advice.length > 0) sheet.label('Advice');
  for (const a of part.advice) sheet.text(`${a.text} Why: ${a.reason}.`);
  if (part.cautions.length > 0) sheet.label('To mind');
  for (const c of part.cautions) sheet.text(c, { color: ink.attention });
  sheet.label('Checks');
  for (const check of ['first layers', 'at 15 %', 'off the bed', 'looks right', 'fits dry']) {
    sheet.need(16);
    sheet.doc
      .rect(sheet.left, sheet.y + 1, 8, 8)
      .lineWidth(0.7)
      .strokeColor(ink.text)
      .stroke();
    sheet.text(check, { x: sheet.left + 14 });
  }
}

function plans(sheet: Sheet, { plan, steps, models }: Book): void {
  if (plan) {
    sheet.newPage();
    sheet.heading('Days');
    sheet.table(
      ['Bedful', 'Printer', 'Load', 'Printed by', 'Off', 'Hours'],
      plan.days.map((d) => [
        d.bedful,
        d.printer,
        d.running ? 'it runs' : clockText(d.loadAt),
        clockText(d.endsAt),
        clockText(d.offAt),
        fixed(d.durationS / 3600, 1),
      ]),
      [1.3, 1.5, 2, 2, 2, 0.9],
    );
    if (plan.bench.length > 0)
      sheet.table(
        ['On the bench', 'From', 'Until'],
        plan.bench.map((b) => [b.what, clockText(b.from), clockText(b.to)]),
        [2, 2, 2],
      );
    sheet.heading('To buy');
    if (plan.buy.length === 0) sheet.text('Nothing: what is on the shelf holds, failures and a reserve counted.');
    else
      sheet.table(
        ['What', 'Colour', 'How much', 'Of that for failures', 'In packs of 1 kg'],
        plan.buy.map((b) => [
          b.material || b.kind,
          b.colour || 'any',
          massText(b.grams),
          massText(b.allowanceG),
          `${spoolsFor(b.grams)}`,
        ]),
        [2, 1.5, 1.5, 1.8, 1.4],
      );
  }
  if (steps.length === 0) return;
  sheet.newPage();
  sheet.heading('Putting it together');
  sheet.table(
    [...(models.length > 1 ? ['Model'] : []), 'Step', 'Put', 'To', 'It comes', 'Mind'],
    steps.map((s) => [...(models.length > 1 ? [s.model] : []), `${s.no}`, s.put, s.to, s.from, s.advice.join(' ')]),
    [...(models.length > 1 ? [1.2] : []), 0.6, 1, 1.2, 1.4, 4],
  );
}

/** The build book as a PDF: cover, part map, bedfuls, a sheet for each part, days, shopping, putting together. */
export async function bookPdf(book: Book, paper: Paper): Promise<{ bytes: Uint8Array; pages: number }> {
  const sheet = new Sheet(paper, `${book.title}, build book`, `${book.title}, made ${clockText(book.madeOn)}`);
  cover(sheet, book);
  maps(sheet, book);
  bedfulPages(sheet, book);
  for (const part of book.parts) partSheet(sheet, part);
  plans(sheet, book);
  return sheet.end();
}
