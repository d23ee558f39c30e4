import Button from '@mui/material/Button';
import Dialog, { type DialogProps } from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import { useState, type ReactNode } from 'react';
import { Note } from './Note.tsx';

/**
 * A dialog that something is made in: Escape, or a click beside it, leaves it at once only where nothing would be lost.
 *
 * @param unkept what would be lost, as the sentence says it; null while nothing would
 * @param actions the buttons at its foot; `leave` is what the one that leaves it does
 */
export function CarefulDialog({
  unkept,
  onClose,
  actions,
  children,
  ...props
}: Omit<DialogProps, 'open' | 'onClose'> & {
  unkept: string | null;
  onClose: () => void;
  actions: (leave: () => void) => ReactNode;
}) {
  const [asked, setAsked] = useState(false);
  const leave = () => (unkept === null ? onClose() : setAsked(true));
  return (
    <Dialog open onClose={leave} {...props}>
      {children}
      {asked && unkept !== null ? (
        <DialogActions>
          <Note role="alert" sx={{ marginRight: 'auto' }}>
            <b>{unkept}</b>
          </Note>
          <Button variant="text" onClick={onClose}>
            Let it go
          </Button>
          <Button variant="contained" onClick={() => setAsked(false)}>
            Go on
          </Button>
        </DialogActions>
      ) : (
        <DialogActions>{actions(leave)}</DialogActions>
      )}
    </Dialog>
  );
}
