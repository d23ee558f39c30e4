import { useCallback, useState } from 'react';

const prefix = 'draft ';

/** Without storage, as where it is forbidden, a draft lasts as long as the page. */
function stored(): Storage | null {
  try {
    return window.sessionStorage;
  } catch {
    return null;
  }
}

function read<T>(key: string): T | null {
  try {
    const text = stored()?.getItem(prefix + key);
    return text ? (JSON.parse(text) as T) : null;
  } catch {
    return null;
  }
}

/**
 * Something that was made by hand and is not done yet, such as cuts or paint: it outlives a reload of the page and a look
 * at another stop, in this tab. Null where nothing was made.
 *
 * @param key of the body, its mesh and what it is
 */
export function useDraft<T>(key: string): [T | null, (value: T | null) => void] {
  const [held, setHeld] = useState(() => ({ key, value: read<T>(key) }));
  // of another body now: what was made for the last one is none of it
  const now = held.key === key ? held : { key, value: read<T>(key) };
  if (now !== held) setHeld(now);
  const set = useCallback(
    (next: T | null) => {
      setHeld({ key, value: next });
      try {
        if (next === null) stored()?.removeItem(prefix + key);
        else stored()?.setItem(prefix + key, JSON.stringify(next));
      } catch {
        // no room: it lasts as long as the page
      }
    },
    [key],
  );
  return [now.value, set];
}

/** Forgets the drafts whose key begins so: what they were for is done. */
export function forgetDrafts(begins: string): void {
  const store = stored();
  if (!store) return;
  for (const key of Object.keys(store)) if (key.startsWith(prefix + begins)) store.removeItem(key);
}
