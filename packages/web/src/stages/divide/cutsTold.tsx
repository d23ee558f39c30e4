import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { sliversOf, type DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { planNames } from '@jasmorphe/core/planning/cuts/styles';
import { figures } from '@jasmorphe/core/trade/figures';
import { countOf, lengthBrief, whole, type Speaker } from '@jasmorphe/core/words/numbers';
import { useSpeaker } from '../../app/useLength.ts';
import type { ConsequenceRow } from '../../decision/Decision.tsx';
import { failed, rowsOf } from '../../decision/rowsOf.tsx';
import { columnNames, type Column } from './answers.ts';
import { PlanPicture } from './PlanPicture.tsx';
import { cutSo, printerRows, type advisedOf } from './plans.ts';
import type { Plans } from './usePlans.ts';

/** What the button does with the column that is chosen. */
export function labelOf(chosen: Column, plans: Plans): string {
  if (chosen === 'cut') return 'Cut it so instead';
  const report = plans.reportIn(chosen);
  if (chosen === 'own') return `Cut so, into ${report ? whole(report.parts) : '…'}`;
  if (!report) return plans.planning ? 'Planning' : 'Plan the cuts';
  return report.parts === 1 ? 'Print it whole' : `Cut into ${report.parts}`;
}

/** How many ways were looked at, and for which printers. */
export function leadOf(ready: boolean, { planning, looked }: Plans, names: string): string {
  if (!ready) return 'The skin must be closed before it can be cut.';
  // each plan is the best of its own search
  if (planning) return `${whole(looked)} ways to cut looked at so far in all, for ${names}. Still looking.`;
  return looked > 0 ? `${whole(looked)} ways to cut looked at in all, for ${names}.` : `For ${names}.`;
}

/** What was done, in a line; `anew` plans once more. */
export function Done({ report, anew }: { report: DivideReport; anew: (() => void) | null }) {
  const say = useSpeaker();
  const slivers = sliversOf(report.parts).length;
  return (
    <>
      <b>{countOf(report.parts.length, 'part')}.</b> {report.reason}{' '}
      {slivers > 0 &&
        `${slivers} ${slivers === 1 ? 'is a sliver' : 'are slivers'} under ${lengthBrief(figures.sliverMm.value, say.length)}.`}{' '}
      {report.bareFaces > 0 && report.parts.some((p) => p.joins.length > 0)
        ? `${report.bareFaces} of ${countOf(report.faces, 'cut face')} without a join: too little flesh there.`
        : report.bareFaces > 0 &&
          `No join could be made: too little flesh beside the ${countOf(report.faces, 'cut face')}.`}{' '}
      {anew && (
        <Button variant="text" onClick={anew}>
          Plan it anew
        </Button>
      )}
    </>
  );
}

/** What is said before anything is cut. */
export function adviceOf(
  fitsWhole: boolean,
  advised: ReturnType<typeof advisedOf>,
  known: boolean,
  names: string,
): ReactNode {
  if (fitsWhole) return <b>It fits whole on {names}.</b>;
  if (advised)
    return (
      <>
        <b>{planNames[advised.style]} is advised.</b> {advised.why}
      </>
    );
  if (known) return undefined;
  return (
    <>
      <b>Four plans are made side by side</b>, from the flats, necks and jumps of the model itself: each best at
      something else.
    </>
  );
}

/** Figures of the columns, and how each is drawn apart. */
export function rowsFor(
  columns: readonly Column[],
  plans: Plans,
  done: DivideReport | undefined,
  say: Speaker,
): ConsequenceRow[] {
  const reports = columns.map(plans.reportIn);
  const leave = ['On each printer', ...(columns.length > 1 ? ['Seam in all'] : [])];
  const rows = [...rowsOf(catalogue.cuts, reports, say, { leave }), ...printerRows(reports)]
    .map((row) => withCut(row, columns, done, say))
    .filter((row) => columns.some((c) => c !== 'cut') || row.cells.some((cell) => cell !== null));
  if (reports.every((report) => report === null)) return rows;
  const cells = reports.map((report, i) =>
    report ? <PlanPicture key={columns[i]} picture={report.picture} of={columnNames[columns[i]]} /> : null,
  );
  return [{ label: 'Drawn apart', cells }, ...rows];
}

/** A row of plans with what the divide itself came to, where it has that figure. */
function withCut(
  row: ConsequenceRow,
  columns: readonly Column[],
  done: Parameters<typeof cutSo>[0] | undefined,
  say: Speaker,
): ConsequenceRow {
  const at = columns.indexOf('cut');
  if (at < 0 || !done) return row;
  const { parts, fitting, seamMm } = cutSo(done);
  const slivers = sliversOf(done.parts).length;
  const cells: Record<string, ReactNode> = {
    Parts: whole(parts),
    'Fit the bed': fitting === parts ? 'all' : failed(whole(fitting)),
    'Seam in all': say.length(seamMm),
    Slivers: whole(slivers),
  };
  return { ...row, cells: row.cells.map((c, i) => (i === at ? (cells[row.label] ?? null) : c)) };
}
