import { useEffect, useMemo } from 'react';
import { BufferAttribute, type BufferGeometry, Color, Matrix4, Vector3 } from 'three';
import type { PartView } from '@jasmorphe/contracts/views';
import type { Tokens } from '../app/tokens.ts';
import type { Bounds } from './Bed.tsx';
import { useDisplay } from './useDisplay.ts';

/** Skin this near the bed is laid on it, mm. */
const onBedMm = 0.3;

/** Paints what leans out too far to be laid without support. */
function paintOverhangs(geometry: BufferGeometry, overhangDeg: number, colours: Tokens): void {
  const p = geometry.getAttribute('position');
  const n = geometry.getAttribute('normal');
  const limit = -Math.sin((overhangDeg * Math.PI) / 180);
  const clay = new Color(colours.clay);
  const out = new Color(colours.ochre);
  const paint = new Float32Array(3 * p.count);
  for (let i = 0; i < p.count; i++) (n.getZ(i) < limit && p.getZ(i) > onBedMm ? out : clay).toArray(paint, 3 * i);
  geometry.setAttribute('color', new BufferAttribute(paint, 3));
}

/** Lines of the part, ends x, y, z a segment, as it lies. */
export const laidLines = (lines: readonly number[], { onto }: Pick<Laid, 'onto'>): number[] =>
  Array.from({ length: lines.length / 3 }, (_, i) => onto([lines[3 * i], lines[3 * i + 1], lines[3 * i + 2]])).flat();

/** A part as it lies on the printer. */
export interface Laid {
  geometry: BufferGeometry;
  bounds: Bounds;
  /** where a point of it is on the part as it stands in the model */
  back: (at: [number, number, number]) => [number, number, number];
  /** where a point of the part is as it lies */
  onto: (at: [number, number, number]) => [number, number, number];
}

/**
 * A part turned as it lies on the printer, its lowest point at 0 and its middle over the middle of the bed.
 *
 * @param overhangDeg how far skin may lean out; what leans out more is painted. Null paints nothing
 */
export function useLaid(part: PartView | null, overhangDeg: number | null, colours: Tokens): Laid | null {
  const { hash, display } = useDisplay(part?.mesh.hash ?? '', 150_000);
  const rows = part?.rotation;
  const mine = part?.mesh.hash;
  const laid = useMemo((): Laid | null => {
    if (!display || !rows || hash !== mine) return null;
    const [[a, b, c], [d, e, f], [g, h, i]] = rows;
    const geometry = display.geometry.clone();
    const turn = new Matrix4().set(a, b, c, 0, d, e, f, 0, g, h, i, 0, 0, 0, 0, 1);
    geometry.applyMatrix4(turn);
    geometry.computeBoundingBox();
    const { min, max } = geometry.boundingBox!;
    const shift = new Vector3(-(min.x + max.x) / 2, -(min.y + max.y) / 2, -min.z);
    geometry.translate(shift.x, shift.y, shift.z);
    geometry.computeBoundingBox();
    const box = geometry.boundingBox!;
    if (overhangDeg !== null) paintOverhangs(geometry, overhangDeg, colours);
    const inverse = turn.clone().transpose();
    return {
      geometry,
      bounds: { min: [box.min.x, box.min.y, box.min.z], max: [box.max.x, box.max.y, box.max.z] },
      onto: (at) => new Vector3(...at).applyMatrix4(turn).add(shift).toArray(),
      back: (at) => new Vector3(...at).sub(shift).applyMatrix4(inverse).toArray(),
    };
  }, [display, rows, hash, mine, overhangDeg, colours]);
  useEffect(() => () => laid?.geometry.dispose(), [laid]);
  return laid;
}
