import { useRef } from 'react';
import { useHealthQuery } from './api.ts';
import { useAppSelector } from './store.ts';

/** Says at once when the server cannot be heard, and when it has a newer page than the one that is open. */
export function LinkNote() {
  const down = useAppSelector((s) => s.ui.link === 'down');
  const { data: health } = useHealthQuery();
  const first = useRef<string | null | undefined>(undefined);
  if (health && first.current === undefined) first.current = health.page;
  const newer = health && first.current !== undefined && health.page !== first.current;
  if (down)
    return (
      <div className="linkNote failure" role="alert" data-testid="link-down">
        <b>The server does not answer.</b> What you see may be old, and nothing done now is kept. It comes back by
        itself once the server runs again.
      </div>
    );
  if (newer)
    return (
      <div className="linkNote" role="status" data-testid="new-version">
        <b>There is a new version.</b>{' '}
        <button type="button" className="plain accent" onClick={() => location.reload()}>
          Reload for the new version
        </button>
      </div>
    );
  return null;
}
