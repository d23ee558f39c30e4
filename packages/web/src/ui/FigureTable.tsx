import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { ReactNode } from 'react';
import { Tip } from './Tip.tsx';

export interface FigureTableRow {
  key: string | number;
  /** the first names the row */
  cells: ReactNode[];
  /** stands out */
  marked?: boolean;
  /** how it was got */
  says?: string;
}

/** A small table: names at the left, figures at the right. */
export function FigureTable({
  label,
  heads,
  rows,
}: {
  label: string;
  heads: readonly ReactNode[];
  rows: readonly FigureTableRow[];
}) {
  return (
    <Table size="small" aria-label={label}>
      <TableHead>
        <TableRow>
          {heads.map((head, i) => (
            <TableCell key={i} align={i === 0 ? 'left' : 'right'} className="label">
              {head}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(({ key, cells, marked, says }) => (
          <Tip key={key} says={says}>
            <TableRow className={marked ? 'marked' : ''}>
              {cells.map((cell, i) => (
                <TableCell
                  key={i}
                  align={i === 0 ? 'left' : 'right'}
                  className={i === 0 ? '' : 'figure'}
                  {...(i === 0 ? { component: 'th' as const, scope: 'row' } : {})}
                >
                  {cell}
                </TableCell>
              ))}
            </TableRow>
          </Tip>
        ))}
      </TableBody>
    </Table>
  );
}
