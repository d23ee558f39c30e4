import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { KeyCap } from '../ui/KeyCap.tsx';
import { keySheet } from './keys.ts';

/** All keys on one sheet. */
export default function KeysTable({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog
      open={open}
      onClose={onClose}
      // keys are left to a dialog while it is open; this one closes by the key that opens it
      onKeyDown={(e) => e.key === '?' && onClose()}
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
