import { DataGrid, type GridColDef } from '@mui/x-data-grid';
import OutlinedInput from '@mui/material/OutlinedInput';
import { useMemo, useState } from 'react';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import { liesHow } from '@jasmorphe/core/planning/pose/schools';
import { massText, whole } from '@jasmorphe/core/words/numbers';
import { isRestWaiting, isStopped, isWaiting, printStateWords } from '@jasmorphe/core/planning/printState';
import { useLength } from '../app/useLength.ts';
import { usePrinter } from '../app/usePrinter.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { pickPart } from '../bench/benchSlice.ts';
import { gridLook } from '../ui/gridLook.ts';
import { Failed } from '../ui/layout.ts';

/** What is said of a part's print. */
function printText(p: PartView, length: (mm: number, withUnit?: boolean) => string): string {
  if (isStopped(p) && p.failedAtMm !== null) return `at ${length(p.failedAtMm, false)}`;
  return isRestWaiting(p) ? 'rest waits' : isWaiting(p) ? '—' : printStateWords[p.state];
}

/** How a part lies, by the school that laid it. */
const liesText = ({ posed }: PartView): string => (posed ? liesHow[posed.school] : '—');

/** All parts with what matters of each; a click on a head sorts, a click on a row picks the part on the bench. */
export default function PartsTable({
  body,
  printers,
  lays = false,
}: {
  body: BodyView;
  printers: PrinterView[];
  /** how each lies is told, in place of its print */
  lays?: boolean;
}) {
  const { density } = usePrinter(printers);
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.partId);
  const length = useLength();
  const [only, setOnly] = useState('');
  const wanted = only.trim().toLowerCase();
  const rows = body.parts.filter((p) => p.tag.toLowerCase().startsWith(wanted) || p.state.startsWith(wanted));
  const columns = useMemo<GridColDef<PartView>[]>(() => {
    const longest = (p: PartView) => longestOf(p.mesh.facts.size);
    const mass = (p: PartView) => ((p.mesh.facts.volumeMm3 ?? 0) / 1000) * density;
    const tags = new Intl.Collator(undefined, { numeric: true });
    const figure = { align: 'right', headerAlign: 'right', flex: 1, minWidth: 58 } as const;
    return [
      {
        field: 'tag',
        headerName: 'Tag',
        width: 74,
        cellClassName: 'tag',
        sortComparator: (a: string, b: string) => tags.compare(a, b),
      },
      {
        ...figure,
        field: 'longest',
        headerName: 'Longest',
        cellClassName: 'figure',
        valueGetter: (_v, p) => longest(p),
        renderCell: ({ row: p }) =>
          !p.fits && p.rests === 0 && p.posed === null ? (
            <Failed>{length(longest(p), false)} too long</Failed>
          ) : (
            length(longest(p), false)
          ),
      },
      {
        ...figure,
        field: 'mass',
        headerName: 'Mass',
        cellClassName: 'figure',
        valueGetter: (_v, p) => mass(p),
        valueFormatter: (grams: number) => massText(grams),
      },
      {
        ...figure,
        // "on the bed" is to be read whole
        flex: 1.35,
        field: 'state',
        headerName: lays ? 'Lies' : 'Print',
        cellClassName: 'figure state',
        valueGetter: (_v, p) => (lays ? liesText(p) : printText(p, length)),
      },
    ];
  }, [density, length, lays]);
  return (
    <div className="partsTable">
      <div className="panelHead">
        <b>Parts</b>
        <OutlinedInput
          sx={{ width: 96 }}
          inputProps={{ 'aria-label': 'Show only' }}
          placeholder="tag or state"
          value={only}
          onChange={(e) => setOnly(e.target.value)}
        />
        <span className="figure">
          {whole(rows.length)} of {whole(body.parts.length)}
        </span>
      </div>
      <DataGrid
        aria-label="Parts"
        rows={rows}
        columns={columns}
        sx={gridLook}
        rowHeight={28}
        columnHeaderHeight={30}
        hideFooter
        // a usual number is there whole, for those who search the page or have it read out
        disableVirtualization={rows.length <= 200}
        disableColumnMenu
        disableColumnResize
        disableMultipleRowSelection
        initialState={{ sorting: { sortModel: [{ field: 'tag', sort: 'asc' }] } }}
        rowSelectionModel={{ type: 'include', ids: new Set(picked ? [picked] : []) }}
        getRowClassName={({ row }) => row.state}
        onRowClick={({ id }) => dispatch(pickPart(picked === id ? null : String(id)))}
        onCellKeyDown={({ id }, e) => {
          if (e.key !== 'Enter' && e.key !== ' ') return;
          e.preventDefault();
          dispatch(pickPart(picked === id ? null : String(id)));
        }}
      />
    </div>
  );
}
