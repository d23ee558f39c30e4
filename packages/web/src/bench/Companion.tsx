import { useMemo } from 'react';
import { DoubleSide, Shape } from 'three';
import { figures } from '@jasmorphe/core/trade/figures';
import type { Tokens } from '../app/tokens.ts';
import type { Bounds } from './Bed.tsx';

/** Half an outline of a standing figure, feet to crown, as shares of the height: across, up. */
const figure: [number, number][] = [
  [0.015, 0],
  [0.085, 0],
  [0.08, 0.02],
  [0.055, 0.035],
  [0.06, 0.15],
  [0.065, 0.27],
  [0.075, 0.42],
  [0.085, 0.49],
  [0.095, 0.48],
  [0.105, 0.4],
  [0.125, 0.41],
  [0.13, 0.52],
  [0.125, 0.62],
  [0.135, 0.74],
  [0.12, 0.805],
  [0.06, 0.825],
  [0.03, 0.84],
  [0.03, 0.865],
  [0.05, 0.89],
  [0.055, 0.94],
  [0.04, 0.98],
  [0, 1],
];

/** An open hand, wrist to fingertip, as shares of its length: across, up. */
const hand: [number, number][] = [
  [-0.16, 0],
  [0.16, 0],
  [0.19, 0.15],
  [0.3, 0.28],
  [0.42, 0.4],
  [0.44, 0.47],
  [0.37, 0.47],
  [0.26, 0.4],
  [0.2, 0.39],
  [0.22, 0.55],
  [0.25, 0.8],
  [0.21, 0.86],
  [0.16, 0.8],
  [0.11, 0.58],
  [0.09, 0.58],
  [0.1, 0.92],
  [0.06, 0.98],
  [0.01, 0.92],
  [0, 0.58],
  [-0.03, 0.58],
  [-0.06, 0.9],
  [-0.1, 0.95],
  [-0.14, 0.89],
  [-0.12, 0.56],
  [-0.15, 0.55],
  [-0.21, 0.76],
  [-0.25, 0.79],
  [-0.28, 0.74],
  [-0.22, 0.42],
  [-0.21, 0.2],
];

/** Heights in mm: common practice for the figure, a grown hand from memory of published tables. */
const figureMm = figures.personMm.value;
const handMm = 190;

/** A person or a hand of true size beside the model, whichever is nearer to its size. */
export function Companion({ bounds, colours }: { bounds: Bounds; colours: Tokens }) {
  const size = Math.max(...[0, 1, 2].map((k) => bounds.max[k] - bounds.min[k]));
  const large = size > 450;
  const shape = useMemo(() => {
    const outline = large
      ? [
          ...figure,
          ...figure
            .slice(0, -1)
            .reverse()
            .map(([x, y]) => [-x, y] as [number, number]),
        ]
      : hand;
    const k = large ? figureMm : handMm;
    const s = new Shape();
    outline.forEach(([x, y], i) => (i === 0 ? s.moveTo(x * k, y * k) : s.lineTo(x * k, y * k)));
    s.closePath();
    return s;
  }, [large]);
  const wide = large ? 0.16 * figureMm : 0.45 * handMm;
  return (
    <mesh
      position={[bounds.max[0] + wide + 0.1 * size, (bounds.min[1] + bounds.max[1]) / 2, bounds.min[2]]}
      rotation={[Math.PI / 2, 0, 0]}
    >
      <shapeGeometry args={[shape]} />
      <meshBasicMaterial color={colours.ink3} transparent opacity={0.35} side={DoubleSide} />
    </mesh>
  );
}
