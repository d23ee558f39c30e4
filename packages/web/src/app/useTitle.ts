import { useEffect } from 'react';

/** Names the page in the browser's tab. */
export function useTitle(of: string): void {
  useEffect(() => {
    document.title = `${of} · Jasmorphe`;
  }, [of]);
}
