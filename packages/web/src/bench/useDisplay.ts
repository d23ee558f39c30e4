import { useEffect, useState } from 'react';
import { loadDisplay, type DisplayGeometry } from './displayMesh.ts';

/**
 * The display mesh of a hash, once it is here; nothing for an empty one. `hash` says whose it is: the last mesh stays
 * until the next one has come.
 */
export function useDisplay(
  hash: string,
  triangles: number,
): { hash: string; display: DisplayGeometry | null; failed: boolean } {
  const [state, setState] = useState<{ hash: string; display: DisplayGeometry | null; failed: boolean }>({
    hash: '',
    display: null,
    failed: false,
  });
  useEffect(() => {
    if (!hash) return;
    let live = true;
    loadDisplay(hash, triangles).then(
      (display) => live && setState({ hash, display, failed: false }),
      () => live && setState({ hash, display: null, failed: true }),
    );
    return () => void (live = false);
  }, [hash, triangles]);
  return hash ? state : { hash: '', display: null, failed: false };
}
