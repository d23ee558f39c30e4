import Button from '@mui/material/Button';
import OutlinedInput from '@mui/material/OutlinedInput';
import { DataGrid, type GridColDef, type GridRowSelectionModel } from '@mui/x-data-grid';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { KitView, PieceView } from '@jasmorphe/contracts/kitViews';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import { whole } from '@jasmorphe/core/words/numbers';
import { useChangePieceMutation } from '../app/kitApi.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { useLength } from '../app/useLength.ts';
import { wordsOf } from '../app/api.ts';
import { stages } from '../stages/stages.ts';
import { gridLook } from '../ui/gridLook.ts';
import { PictureRoom } from './PictureRoom.ts';

const PiecePicture = lazyPart(() => import('./PiecePicture.tsx'), <PictureRoom />);

const matches = (p: PieceView, wanted: string): boolean =>
  wanted === '' ||
  [p.name, p.path, p.colour, stages[p.stop].title, p.aside === null ? '' : 'aside'].some((t) =>
    t.toLowerCase().includes(wanted),
  );

/** Every piece of a kit with what matters of it; names, copies and colours are edited in place. */
export function PieceTable({
  kit,
  selected,
  onSelect,
  picked,
  onPick,
}: {
  kit: KitView;
  selected: ReadonlySet<string>;
  onSelect: (ids: ReadonlySet<string>) => void;
  picked: string | null;
  onPick: (id: string) => void;
}) {
  const dispatch = useAppDispatch();
  const length = useLength();
  const unit = useAppSelector((s) => s.ui.unit);
  const [change] = useChangePieceMutation();
  const [only, setOnly] = useState('');
  const wanted = only.trim().toLowerCase();
  const rows = kit.pieces.filter((p) => matches(p, wanted));
  const columns = useMemo<GridColDef<PieceView>[]>(() => {
    const figure = { align: 'right', headerAlign: 'right', cellClassName: 'figure' } as const;
    return [
      {
        field: 'picture',
        headerName: '',
        width: 62,
        sortable: false,
        renderCell: ({ row }) => <PiecePicture hash={row.meshHash} name="" />,
      },
      { field: 'name', headerName: 'Piece', flex: 1.3, minWidth: 110, editable: true, cellClassName: 'tag' },
      {
        ...figure,
        field: 'copies',
        headerName: 'Copies',
        width: 62,
        type: 'number',
        editable: true,
        valueFormatter: (n: number) => `×${n}`,
      },
      {
        ...figure,
        field: 'size',
        headerName: 'Size',
        width: 190,
        valueGetter: (_v, p) => longestOf(p.size),
        renderCell: ({ row: { size } }) => `${length(size.x, false)} × ${length(size.y, false)} × ${length(size.z)}`,
      },
      {
        ...figure,
        field: 'triangles',
        headerName: 'Triangles',
        width: 84,
        valueFormatter: (n: number) => whole(n),
      },
      {
        field: 'worst',
        headerName: 'Worst finding',
        flex: 1.6,
        minWidth: 140,
        valueGetter: (_v, p) => (p.worst ? findingSentence(p.worst, unit) : ''),
        sortComparator: (_a, _b, a, b) => severity(kit, String(a.id)) - severity(kit, String(b.id)),
        renderCell: ({ row, value }) =>
          row.worst ? <span className={`worst ${row.worst.severity}`}>{String(value)}</span> : 'none',
      },
      {
        field: 'stop',
        headerName: 'Reached',
        width: 78,
        valueGetter: (_v, p) => stages[p.stop].title,
        renderCell: ({ row, value }) => (row.busyJobId ? 'at work' : String(value)),
      },
      { field: 'colour', headerName: 'Colour, material', width: 118, editable: true },
      {
        field: 'aside',
        headerName: 'Printed',
        width: 84,
        valueGetter: (_v, p) => (p.aside === null ? 'yes' : 'aside'),
        renderCell: ({ row }) => (
          <Button
            variant="text"
            title={row.aside ?? 'Set it aside: it stays, and is not printed'}
            onClick={(e) => {
              e.stopPropagation();
              void change({ id: row.id, projectId: kit.projectId, aside: row.aside === null });
            }}
          >
            {row.aside === null ? 'printed' : 'set aside'}
          </Button>
        ),
      },
      {
        field: 'open',
        headerName: '',
        width: 56,
        sortable: false,
        renderCell: ({ row }) => (
          <Link to={`/project/${kit.projectId}/${row.stop}?model=${row.id}`} className="openPiece">
            Open
          </Link>
        ),
      },
    ];
  }, [kit, length, unit, change]);
  const selection: GridRowSelectionModel = { type: 'include', ids: new Set(selected) };
  return (
    <>
      <div className="panelHead">
        <b>Pieces</b>
        <OutlinedInput
          sx={{ width: 190 }}
          inputProps={{ 'aria-label': 'Show only' }}
          placeholder="name, colour, stop, aside"
          value={only}
          onChange={(e) => setOnly(e.target.value)}
        />
        <span className="figure">
          {whole(rows.length)} of {whole(kit.pieces.length)}
        </span>
      </div>
      <DataGrid
        aria-label="Pieces"
        rows={rows}
        columns={columns}
        sx={gridLook}
        rowHeight={44}
        columnHeaderHeight={30}
        hideFooter
        checkboxSelection
        disableRowSelectionOnClick
        disableColumnMenu
        disableColumnResize
        rowSelectionModel={selection}
        onRowSelectionModelChange={({ type, ids }) =>
          // all of those shown, but for the ones named
          onSelect(
            new Set(
              type === 'include'
                ? [...ids].map(String)
                : rows.map((p) => p.id).filter((id) => !new Set([...ids].map(String)).has(id)),
            ),
          )
        }
        getRowClassName={({ row }) => `${row.aside === null ? '' : 'aside'}${row.id === picked ? ' pickedRow' : ''}`}
        onRowClick={({ id }) => onPick(String(id))}
        processRowUpdate={async (next, before) => {
          const fields = { name: next.name.trim(), copies: Math.round(Number(next.copies)), colour: next.colour };
          const changed = Object.fromEntries(
            Object.entries(fields).filter(([k, v]) => before[k as keyof typeof fields] !== v),
          );
          if (Object.keys(changed).length === 0) return before;
          const { error } = await change({ id: next.id, projectId: kit.projectId, ...changed });
          if (error) throw new Error(wordsOf(error).message);
          return { ...next, ...fields };
        }}
        onProcessRowUpdateError={(e: Error) => dispatch(say({ text: e.message, hint: '', tone: 'failure' }))}
      />
    </>
  );
}

const ranks = { failure: 0, attention: 1, note: 2 } as const;
const severity = (kit: KitView, id: string): number => {
  const worst = kit.pieces.find((p) => p.id === id)?.worst;
  return worst ? ranks[worst.severity] : 3;
};
