import Button from '@mui/material/Button';
import { SnackbarProvider, useSnackbar } from 'notistack';
import { useEffect, type Ref } from 'react';
import { Note } from '../ui/Note.tsx';
import { useAppDispatch, useAppSelector } from './store.ts';
import { say, type Notice } from './uiSlice.ts';

/** Hands what the store was told to say to the snackbars, once. */
function Speaker() {
  const dispatch = useAppDispatch();
  const notice = useAppSelector((s) => s.ui.notice);
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  useEffect(() => {
    if (!notice) return;
    enqueueSnackbar(notice.text, {
      // the same refusal, asked for twice, is said once
      key: notice.text,
      preventDuplicate: true,
      content: (key) => <Said notice={notice} close={() => closeSnackbar(key)} />,
    });
    dispatch(say(null));
  }, [notice, dispatch, enqueueSnackbar, closeSnackbar]);
  return null;
}

/** @param ref the snackbars move what they show by it, and refuse a content that does not hand it on */
function Said({ notice, close, ref }: { notice: Notice; close: () => void; ref?: Ref<HTMLDivElement> }) {
  return (
    <Note
      ref={ref}
      tone={notice.tone === 'failure' ? 'failure' : 'advice'}
      role="alert"
      sx={{ maxWidth: 560 }}
      data-testid="notice"
      action={
        <Button variant="text" color="inherit" onClick={close}>
          Close
        </Button>
      }
    >
      <b>{notice.text}</b> {notice.hint}
    </Note>
  );
}

/** What is worth telling wherever one is, at the foot of the window, one above the other. */
export function Notices() {
  return (
    <SnackbarProvider
      maxSnack={3}
      autoHideDuration={12_000}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
      disableWindowBlurListener
    >
      <Speaker />
    </SnackbarProvider>
  );
}
