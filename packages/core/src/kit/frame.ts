import type { Vec3 } from '../mesh/TriMesh.ts';

export interface PieceBox {
  /** mm */
  min: Vec3;
  max: Vec3;
}

/** Whether the coordinates of a kit's pieces belong together, and why. */
export interface KitFrame {
  shared: boolean;
  reason: string;
}

/** So many of the pieces must start anew at the origin for each to have a frame of its own. */
const ownShare = 0.8;
/** Of the pieces' own size, how near to the origin "at the origin" is. */
const atOrigin = 0.01;

const diagonal = ({ min, max }: PieceBox): number => Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);

export function unionOf(boxes: readonly PieceBox[]): PieceBox {
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const b of boxes)
    for (let k = 0; k < 3; k++) {
      if (b.min[k] < min[k]) min[k] = b.min[k];
      if (b.max[k] > max[k]) max[k] = b.max[k];
    }
  return { min, max };
}

/**
 * Tells whether pieces stand in one frame, as an assembly or a layout leaves them, or each in its own: nearly all begin
 * at the origin with a corner, their middle, or the middle of their underside; or they lie strewn so far apart that
 * nobody can have meant it.
 */
export function frameOf(boxes: readonly PieceBox[]): KitFrame {
  if (boxes.length < 2) return { shared: true, reason: 'one piece' };
  const centred = (b: PieceBox, k: number) => Math.abs(b.min[k] + b.max[k]) / 2 <= atOrigin * diagonal(b);
  const begins = (b: PieceBox, k: number) => Math.abs(b.min[k]) <= atOrigin * diagonal(b);
  const habits: [string, (b: PieceBox) => boolean][] = [
    ['a corner', (b) => [0, 1, 2].every((k) => begins(b, k))],
    ['the middle', (b) => [0, 1, 2].every((k) => centred(b, k))],
    ['the middle of the underside', (b) => centred(b, 0) && centred(b, 1) && begins(b, 2)],
  ];
  for (const [what, is] of habits) {
    const n = boxes.filter(is).length;
    if (n >= ownShare * boxes.length)
      return { shared: false, reason: `${n} of ${boxes.length} pieces have ${what} at the origin` };
  }
  const all = diagonal(unionOf(boxes));
  const sum = boxes.reduce((s, b) => s + diagonal(b), 0);
  if (all > 4 * sum) return { shared: false, reason: 'the pieces lie strewn, many times their own size apart' };
  return { shared: true, reason: 'the pieces stand in different places of one frame' };
}

/**
 * Places pieces side by side on the bed, in rows about as long as all rows together are deep: how far each is moved, mm.
 */
export function sideBySide(boxes: readonly PieceBox[]): [number, number, number][] {
  const widest = Math.max(1e-9, ...boxes.map((b) => b.max[0] - b.min[0]));
  const area = boxes.reduce((s, b) => s + (b.max[0] - b.min[0]) * (b.max[1] - b.min[1]), 0);
  const gap = 0.06 * Math.max(widest, Math.sqrt(area / Math.max(1, boxes.length)));
  const rowMm = Math.max(widest, 1.3 * Math.sqrt(area));
  let x = 0;
  let y = 0;
  let deep = 0;
  return boxes.map((b) => {
    const w = b.max[0] - b.min[0];
    const d = b.max[1] - b.min[1];
    if (x > 0 && x + w > rowMm) {
      x = 0;
      y += deep + gap;
      deep = 0;
    }
    const move: [number, number, number] = [x - b.min[0], y - b.min[1], -b.min[2]];
    x += w + gap;
    deep = Math.max(deep, d);
    return move;
  });
}
