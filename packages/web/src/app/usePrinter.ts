import { useParams } from 'react-router';
import type { PrinterView } from '@jasmorphe/contracts/views';
import { densityOf } from '@jasmorphe/core/planning/PrinterProfile';
import { useAppDispatch, useAppSelector } from './store.ts';
import { setPrinter } from './uiSlice.ts';

/** The printer that is thought of, the same at every stop of a project, and what follows from its kind. */
export function usePrinter(printers: PrinterView[]): {
  printer: PrinterView | undefined;
  choose: (id: string) => void;
  resin: boolean;
  /** g/cm³ of what it prints with */
  density: number;
} {
  const dispatch = useAppDispatch();
  const { projectId = '' } = useParams();
  const id = useAppSelector((s) => s.ui.printerOf[projectId]);
  const printer = printers.find((p) => p.id === id) ?? printers[0];
  const resin = printer?.profile.kind === 'resin';
  return {
    printer,
    choose: (next) => void dispatch(setPrinter({ projectId, id: next })),
    resin,
    density: densityOf(printer?.profile ?? { kind: 'filament' }),
  };
}
