import { useEffect, useState } from 'react';
import { loadDisplay, type DisplayGeometry } from './displayMesh.ts';

/** The display mesh of a hash, once it is here; nothing for an empty one. */
export function useDisplay(hash: string, triangles: number): { display: DisplayGeometry | null; failed: boolean } {
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
  // the last mesh stays on the bench until the next one is here
  return hash ? state : { display: null, failed: false };
}
