import type { KitView } from '@jasmorphe/contracts/kitViews';
import type { BenchPart } from '../bench/benchParts.ts';

type Vector = { x: number; y: number; z: number };

const ends = { min: { x: Infinity, y: Infinity, z: Infinity }, max: { x: -Infinity, y: -Infinity, z: -Infinity } };
const over = (a: Vector, b: Vector, pick: (a: number, b: number) => number): Vector => ({
  x: pick(a.x, b.x),
  y: pick(a.y, b.y),
  z: pick(a.z, b.z),
});
const moved = (v: Vector, [x, y, z]: readonly [number, number, number]): Vector => ({
  x: v.x + x,
  y: v.y + y,
  z: v.z + z,
});

/** What the bench shows of a kit: all that is printed, each in its place, or one piece where it stands by itself. */
export function benchOf(
  kit: KitView,
  only: string | null,
): { parts: BenchPart[]; facts: { min: Vector; max: Vector } } {
  const parts: BenchPart[] = [];
  let facts = ends;
  kit.pieces.forEach((p, i) => {
    if (only === null ? p.aside !== null : p.id !== only) return;
    const move: [number, number, number] = only === null ? kit.moves[i] : [0, 0, -p.min.z];
    parts.push({
      id: p.id,
      tag: p.name,
      state: 'planned',
      mesh: { hash: p.meshHash, facts: { min: p.min, max: p.max } },
      move,
    });
    facts = {
      min: over(facts.min, moved(p.min, move), Math.min),
      max: over(facts.max, moved(p.max, move), Math.max),
    };
  });
  return { parts, facts };
}
