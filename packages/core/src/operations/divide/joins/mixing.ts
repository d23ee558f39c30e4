import type { CrossSection } from 'manifold-3d';
import type { Keep } from '../../../planning/cuts/bodies.ts';
import { sameWithin } from './decide.ts';
import { apartOf2, type Point } from './places.ts';

/** A place on a face where something goes in or stands out. */
export interface Fitting {
  at: Point;
  across: number;
  /** along the face; 0 for what is round */
  length: number;
  /** direction of what goes in one way, radians; null for what turns */
  turn: number | null;
}

/** A part's face on a cut as a maker has it in hand, with what stands out of it or goes in. */
export interface FittedFace {
  part: number;
  other: number;
  cut: number;
  /** does the part lie above the cut? */
  above: boolean;
  outline: CrossSection;
  areaMm2: number;
  /** pins that stand out of it, dowels and magnets that may, and holes */
  pins: Fitting[];
  holes: Fitting[];
}

/** A wrong way in which one face's pins go into another's holes and the outlines meet as well. */
export interface WrongFit {
  face: FittedFace;
  other: FittedFace;
  turnDeg: number;
}

/** Outlines that differ by less than this share are taken for the same by eye (our own judgement). */
const alikeShare = 0.1;

interface Motion {
  turn: number;
  x: number;
  y: number;
}

const moved = ({ turn, x, y }: Motion, [u, v]: Point): Point => [
  u * Math.cos(turn) - v * Math.sin(turn) + x,
  u * Math.sin(turn) + v * Math.cos(turn) + y,
];

const apartInTurn = (a: number, b: number): number => Math.abs(Math.atan2(Math.sin(a - b), Math.cos(a - b)));

/** A pin turned by more than this does not go into a keyed hole, radians (our own judgement). */
const turnSlack = 0.2;

/** Turned over: faces on the same side of their cuts meet as mirror images. */
const flipped = (f: Fitting): Fitting => ({
  ...f,
  at: [f.at[0], -f.at[1]],
  turn: f.turn === null ? null : -f.turn,
});

/** Does every pin of a face, moved, find a hole that it goes into? */
function allFind(pins: readonly Fitting[], holes: readonly Fitting[], motion: Motion, clearance: number): boolean {
  const same = sameWithin(clearance);
  const free = [...holes];
  return pins.every((pin) => {
    const at = moved(motion, pin.at);
    const i = free.findIndex(
      (h) =>
        apartOf2(h.at, at) <= same &&
        pin.across <= h.across + 2 * clearance &&
        pin.length <= h.length + 2 * clearance + 1e-9 &&
        (h.turn === null || (pin.turn !== null && apartInTurn(pin.turn + motion.turn, h.turn) <= turnSlack)),
    );
    if (i < 0) return false;
    free.splice(i, 1);
    return true;
  });
}

/** Ways in which all pins of a face go into the holes of another, as they are fixed by its first one or two. */
function motionsOf(pins: readonly Fitting[], holes: readonly Fitting[], clearance: number): Motion[] {
  const out: Motion[] = [];
  const put = (turn: number, from: Point, to: Point): void => {
    const [x, y] = moved({ turn, x: 0, y: 0 }, from);
    const motion = { turn, x: to[0] - x, y: to[1] - y };
    if (allFind(pins, holes, motion, clearance)) out.push(motion);
  };
  const [a, b] = pins;
  for (const i of holes) {
    if (!b) {
      if (a.turn !== null && i.turn !== null) put(i.turn - a.turn, a.at, i.at);
      // what turns freely is looked at in eight turns
      else if (a.turn === null) for (let k = 0; k < 8; k++) put((k * Math.PI) / 4, a.at, i.at);
      continue;
    }
    const wide = apartOf2(a.at, b.at);
    for (const j of holes) {
      if (j === i || Math.abs(apartOf2(i.at, j.at) - wide) > sameWithin(clearance)) continue;
      put(
        Math.atan2(j.at[1] - i.at[1], j.at[0] - i.at[0]) - Math.atan2(b.at[1] - a.at[1], b.at[0] - a.at[0]),
        a.at,
        i.at,
      );
    }
  }
  return out;
}

/**
 * Looks whether parts can be put together wrongly: every face with pins is tried on every face with holes, in each way
 * in which all its pins go in. A way counts if the outlines then cover one another too, so that the eye is no guide.
 */
export function wrongFits(keep: Keep, faces: readonly FittedFace[], clearance: number): WrongFit[] {
  const out: WrongFit[] = [];
  for (const face of faces) {
    if (face.pins.length === 0) continue;
    for (const other of faces) {
      if (other === face || other.holes.length < face.pins.length) continue;
      if (other.part === face.part) continue;
      if (Math.abs(face.areaMm2 - other.areaMm2) > alikeShare * other.areaMm2) continue;
      const over = face.above === other.above;
      const partner = face.cut === other.cut && face.part === other.other && face.other === other.part;
      for (const motion of motionsOf(over ? face.pins.map(flipped) : face.pins, other.holes, clearance)) {
        const turned = Math.abs((apartInTurn(motion.turn, 0) * 180) / Math.PI);
        if (partner && turned < 2) continue;
        const own = over ? keep(face.outline.mirror([0, 1])) : face.outline;
        const laid = keep(keep(own.rotate((motion.turn * 180) / Math.PI)).translate([motion.x, motion.y]));
        const common = keep(laid.intersect(other.outline)).area();
        if (face.areaMm2 + other.areaMm2 - 2 * common > alikeShare * other.areaMm2) continue;
        out.push({ face, other, turnDeg: turned });
        break;
      }
    }
  }
  return out;
}
