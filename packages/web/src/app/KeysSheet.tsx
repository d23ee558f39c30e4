import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useEffect } from 'react';
import { KeyCap } from '../ui/KeyCap.tsx';
import { keySheet, onKey, useKeys } from './keys.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { setUnit, toggleKeys } from './uiSlice.ts';

/** Listens to the keyboard for the whole page, and shows all keys on one sheet. */
export function KeysSheet() {
  const dispatch = useAppDispatch();
  const { keysOpen, unit } = useAppSelector((s) => s.ui);
  useEffect(() => {
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  useKeys('page', {
    sheet: () => dispatch(toggleKeys()),
    unit: () => dispatch(setUnit(unit === 'mm' ? 'in' : 'mm')),
  });
  return (
    <Dialog
      open={keysOpen}
      onClose={() => dispatch(toggleKeys())}
      // keys are left to a dialog while it is open; this one closes by the key that opens it
      onKeyDown={(e) => e.key === '?' && dispatch(toggleKeys())}
      maxWidth="sm"
      fullWidth
      aria-labelledby="keys-head"
    >
      <DialogTitle id="keys-head">Keys</DialogTitle>
      <DialogContent>
        <Table>
          <TableBody>
            {keySheet.map((k) => (
              <TableRow key={k.keys.join()}>
                <TableCell sx={{ width: 76 }}>
                  <KeyCap>{k.shown}</KeyCap>
                </TableCell>
                <TableCell>{k.does}</TableCell>
                <TableCell className="quiet">{k.where}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
    </Dialog>
  );
}
