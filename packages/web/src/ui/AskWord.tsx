import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';

/** Altered files of works whose terms keep them go out only after a word of the maker. */
export default function AskWord({ href, of, onClose }: { href: string; of: string; onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="word-title">
      <DialogTitle id="word-title">Is it for yourself alone?</DialogTitle>
      <DialogContent>
        The terms of {of} allow no altered files to be passed on. For yourself you may keep one; its name and what is in
        it say so.
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
        <Button variant="contained" component="a" href={href} download onClick={onClose} data-testid="word">
          For myself alone
        </Button>
      </DialogActions>
    </Dialog>
  );
}
