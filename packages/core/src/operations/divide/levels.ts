import type { CutBody } from '../../planning/cuts/cutSolid.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import type { RoomOfBed } from '../../planning/room.ts';

/**
 * On which level each body lies, from below, for its letter. Where level cuts go through everything they are the floors;
 * else the height is shared out in bands as high as the tallest printer, and bodies go by their middles. No level is empty.
 */
export function levelsOf(bodies: readonly CutBody[], cuts: readonly PlaneCut[], rooms: readonly RoomOfBed[]): number[] {
  const boxes = bodies.map((b) => b.solid.boundingBox());
  const middles = boxes.map(({ min, max }) => (min[2] + max[2]) / 2);
  const through = cuts.some((c) => c.through);
  const floors = through ? [] : cuts.filter((c) => c.normal[2] === 1 && !c.loop).map((c) => c.offset);
  if (through) {
    const low = Math.min(...boxes.map((b) => b.min[2]));
    const high = Math.max(...boxes.map((b) => b.max[2]));
    const bands = Math.max(1, Math.round((high - low) / Math.max(...rooms.map((r) => r.room[2]))));
    for (let i = 1; i < bands; i++) floors.push(low + ((high - low) * i) / bands);
  }
  const raw = middles.map((m) => floors.filter((f) => m >= f).length);
  const used = [...new Set(raw)].sort((a, b) => a - b);
  return raw.map((r) => used.indexOf(r));
}
