import Alert from '@mui/material/Alert';
import Snackbar from '@mui/material/Snackbar';
import { useAppDispatch, useAppSelector } from './store.ts';
import { say } from './uiSlice.ts';

/** The last thing worth telling, at the foot of the window. */
export function Notice() {
  const dispatch = useAppDispatch();
  const notice = useAppSelector((s) => s.ui.notice);
  const close = () => dispatch(say(null));
  return (
    <Snackbar
      open={notice !== null}
      autoHideDuration={12_000}
      onClose={(_e, why) => why !== 'clickaway' && close()}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
    >
      <Alert
        severity={notice?.tone === 'failure' ? 'error' : 'info'}
        variant="outlined"
        onClose={close}
        sx={{ background: 'var(--sheet)', maxWidth: 560 }}
        data-testid="notice"
      >
        <b>{notice?.text}</b> {notice?.hint}
      </Alert>
    </Snackbar>
  );
}
