import type { Card } from './Command.ts';

/** Colours of a terminal; plain text where there is none. */
export interface Paint {
  strong(text: string): string;
  quiet(text: string): string;
  bad(text: string): string;
  doubtful(text: string): string;
}

const escape = (code: number) => (text: string) => `\u001b[${code}m${text}\u001b[0m`;
const same = (text: string): string => text;

export const paintOf = (colour: boolean): Paint =>
  colour
    ? { strong: escape(1), quiet: escape(2), bad: escape(31), doubtful: escape(33) }
    : { strong: same, quiet: same, bad: same, doubtful: same };

/** Rows of a table below their heads, each column as wide as its widest cell. */
function tableLines(heads: readonly string[], rows: readonly (readonly string[])[], paint: Paint): string[] {
  const widths = heads.map((h, k) => Math.max(h.length, ...rows.map((r) => (r[k] ?? '').length)));
  const line = (cells: readonly string[]) =>
    cells
      .map((c, k) => c.padEnd(widths[k]))
      .join('  ')
      .trimEnd();
  return [paint.quiet(line(heads)), ...rows.map(line)];
}

/** More rows of a table than this are counted, not listed. */
const mostRows = 40;

/** A card as text for people: figures, the sentence, numbered findings, tables. */
export function render(card: Card, paint: Paint): string {
  // what there is nothing to say of is not listed
  const known = card.rows.filter(([, figure]) => figure !== '—' && figure !== '');
  const width = Math.max(0, ...known.map(([label]) => label.length));
  const out = known.map(([label, figure, method]) => {
    const shown = figure === 'no' ? paint.bad(figure) : paint.strong(figure);
    return `${label.padEnd(width)}  ${shown}${method ? paint.quiet(`  ${method}`) : ''}`;
  });
  if (card.says) out.push('', card.says);
  const findings = card.findings ?? [];
  if (findings.length > 0) {
    const digits = String(findings.length).length;
    out.push('');
    findings.forEach(({ severity, message, mends }, i) => {
      const number = String(i + 1).padStart(digits);
      const mark =
        severity === 'failure' ? paint.bad(number) : severity === 'attention' ? paint.doubtful(number) : number;
      out.push(`${mark}. ${message}${mends?.length ? paint.quiet(` Mended by ${mends.join(', ')}.`) : ''}`);
    });
  }
  for (const { heads, rows } of card.tables ?? []) {
    out.push('', ...tableLines(heads, rows.slice(0, mostRows), paint));
    if (rows.length > mostRows) out.push(paint.quiet(`… and ${rows.length - mostRows} more; --json lists all`));
  }
  return out.join('\n');
}
