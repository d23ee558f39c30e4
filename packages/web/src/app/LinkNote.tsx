import Button from '@mui/material/Button';
import { useState } from 'react';
import { Note } from '../ui/Note.tsx';
import { useHealthQuery } from './api.ts';
import { useAppSelector } from './store.ts';

const atFoot = { position: 'fixed', left: 0, right: 0, bottom: 0, zIndex: 1400 };

/** Says at once when the server cannot be heard, and when it has a newer page than the one that is open. */
export function LinkNote() {
  const down = useAppSelector((s) => s.ui.link === 'down');
  const { data: health } = useHealthQuery();
  const [first, setFirst] = useState<string | null | undefined>(undefined);
  if (health && first === undefined) setFirst(health.page);
  const newer = health && first !== undefined && health.page !== first;
  if (down)
    return (
      <Note tone="failure" sx={atFoot} role="alert" data-testid="link-down">
        <b>The server does not answer.</b> What you see may be old, and nothing done now is kept. It comes back by
        itself once the server runs again.
      </Note>
    );
  if (newer)
    return (
      <Note tone="advice" sx={atFoot} role="status" data-testid="new-version">
        <b>There is a new version.</b>{' '}
        <Button variant="text" onClick={() => location.reload()}>
          Reload for the new version
        </Button>
      </Note>
    );
  return null;
}
