import { nanoid } from '@reduxjs/toolkit';
import { pathOf } from './addresses.ts';

/** By which the server knows this page, for as long as it is open. */
export const pageId = nanoid();

/** Jobs of previews that something on the page shows, by how many places. */
const shown = new Map<string, number>();
/** so many ms a change waits for others */
const pauseMs = 100;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Tells the server what is looked at; lost where it cannot be heard, and told again once it can. */
function tell(jobs: readonly string[]): void {
  clearTimeout(timer);
  timer = undefined;
  const request = new Request(`/api${pathOf('PUT /pages/{id}/looks-at', { id: pageId })}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ jobs }),
    // a page that is being closed or put to sleep is heard all the same
    keepalive: true,
  });
  void fetch(request).catch(() => undefined);
}

/** Tells the server again, as when it was away. */
export const tellLookedAt = (): void => {
  if (shown.size > 0) tell([...shown.keys()]);
};

const tellSoon = (): void => void (timer ??= setTimeout(() => tell([...shown.keys()]), pauseMs));

/** Previews that are shown from now on. @returns ends that */
export function lookAt(jobIds: readonly string[]): () => void {
  for (const id of jobIds) shown.set(id, (shown.get(id) ?? 0) + 1);
  if (jobIds.length > 0) tellSoon();
  return () => {
    for (const id of jobIds) {
      const left = shown.get(id)! - 1;
      if (left > 0) shown.set(id, left);
      else shown.delete(id);
    }
    if (jobIds.length > 0) tellSoon();
  };
}

// a page that is put to sleep looks at nothing; when it wakes, what it shows is asked for again
globalThis.document?.addEventListener('freeze', () => tell([]));
globalThis.document?.addEventListener('resume', tellLookedAt);
