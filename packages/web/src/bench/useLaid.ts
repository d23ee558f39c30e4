import { useMemo } from 'react';
import { type BufferGeometry, Matrix4 } from 'three';
import type { PartView } from '@jasmorphe/contracts/views';
import type { Bounds } from './Bed.tsx';
import { useDisplay } from './useDisplay.ts';

/** A part turned as it lies on the printer, its lowest point at 0 and its middle over the middle of the bed. */
export function useLaid(part: PartView | null): { geometry: BufferGeometry; bounds: Bounds } | null {
  const { hash, display } = useDisplay(part?.mesh.hash ?? '', 150_000);
  const rows = part?.rotation;
  const mine = part?.mesh.hash;
  return useMemo(() => {
    if (!display || !rows || hash !== mine) return null;
    const [[a, b, c], [d, e, f], [g, h, i]] = rows;
    const geometry = display.geometry.clone();
    geometry.applyMatrix4(new Matrix4().set(a, b, c, 0, d, e, f, 0, g, h, i, 0, 0, 0, 0, 1));
    geometry.computeBoundingBox();
    const { min, max } = geometry.boundingBox!;
    geometry.translate(-(min.x + max.x) / 2, -(min.y + max.y) / 2, -min.z);
    geometry.computeBoundingBox();
    const box = geometry.boundingBox!;
    return {
      geometry,
      bounds: { min: [box.min.x, box.min.y, box.min.z], max: [box.max.x, box.max.y, box.max.z] },
    };
  }, [display, rows, hash, mine]);
}
