import Button from '@mui/material/Button';
import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { Actions } from '../ui/layout.ts';
import { Note } from '../ui/Note.tsx';
import { api } from './api.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { askAgain } from './uiSlice.ts';

/** At the foot of the window, over the ledger: what waits for a word is not to be overlooked. */
const atFoot = { position: 'fixed', left: 0, right: 0, bottom: 0, zIndex: 1350 };

/** Asks, before prints are made of no use, whether that may be; the change is done only then. */
export function AtStake() {
  const dispatch = useAppDispatch();
  const asked = useAppSelector((s) => s.ui.atStake);
  const { pathname } = useLocation();
  // whoever goes elsewhere has left it
  useEffect(() => () => void dispatch(askAgain(null)), [pathname, dispatch]);
  if (!asked) return null;
  const goOn = () => {
    dispatch(askAgain(null));
    // the endpoint is one that was called a moment ago, with arguments of its own
    const { initiate } = api.endpoints[asked.endpoint as 'moveLine'];
    void dispatch(initiate({ ...(asked.args as Parameters<typeof initiate>[0]), lose: true }));
  };
  return (
    <Note tone="failure" role="alert" sx={atFoot} data-testid="prints-at-stake">
      <b>{asked.message}</b> The log keeps what was said of them.
      <Actions>
        <Button variant="contained" color="error" onClick={goOn}>
          Do it all the same
        </Button>
        <Button variant="outlined" onClick={() => dispatch(askAgain(null))}>
          Leave it
        </Button>
      </Actions>
    </Note>
  );
}
