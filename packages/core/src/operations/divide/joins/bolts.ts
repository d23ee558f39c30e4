import { lieOf, whereIn } from '../../../section/rings.ts';
import type { Solid } from '../../../solid/kernel.ts';
import { boltLengths, boltSizes, type BoltSize } from '../../../trade/fasteners.ts';
import { joinAt, skinMm, type Decided, type JoinWishes } from './decide.ts';
import { apartOf2, extremesOf, holdsPoint, middleOfRegion, type Point } from './places.ts';
import { grown, hexOutline, prism, roundOutline, type Maker, type Outline } from './shapes.ts';
import type { Flesh, Site } from './sites.ts';

/** Least flesh under a head and over a nut, mm: it bears the pull (common practice: six lines of a 0.4 mm nozzle). */
const leastSeat = 2.4;
/** Deepest well through which a driver reaches a head, mm (common practice). */
const deepestWell = 120;
/** Room around a head, mm. */
const aroundHead = 0.5;
/** Room over a nut, mm, so that it slides in. */
const overNut = 0.4;

/** The lengths of a bolt in its place. */
export interface BoltFit {
  size: BoltSize;
  /** flesh between the cut and the head, and between the cut and the nut */
  seat: number;
  lip: number;
  length: number;
  /** how deep its tip goes into the part with the nut */
  reach: number;
}

/** A bolt of a size, as short as it may be. */
function boltFit(size: BoltSize): BoltFit {
  const seat = Math.max(leastSeat, size.thread);
  const least = 2 * seat + size.nutHeight + 1;
  const length = boltLengths.find((l) => l >= least)!;
  return { size, seat, lip: seat, length, reach: length - seat + 0.5 };
}

/** How deep the longest goes into the part with the nut, with the skin under it, mm. */
export const boltReach = Math.max(...boltSizes.map((s) => boltFit(s).reach)) + skinMm;

/** What is taken out for the nut: it is let in beside the bolt and slid under a lip, all behind the cut face. */
function nutRoom(fit: BoltFit, clearance: number): { from: number; to: number; outline: Outline }[] {
  const { size, lip } = fit;
  const half = size.nutFlats / 2 + clearance;
  const long = size.nutFlats / Math.sqrt(3) + clearance;
  const beside = entryAt(size, clearance);
  const floor = lip + size.nutHeight + overNut;
  const rect = (x0: number, x1: number): Outline => [
    [x0, -half],
    [x1, -half],
    [x1, half],
    [x0, half],
  ];
  return [
    { from: -0.01, to: fit.reach, outline: roundOutline(size.hole, false) },
    { from: lip, to: floor, outline: hexOutline(2 * half) },
    { from: lip, to: floor, outline: rect(0, beside) },
    { from: -0.01, to: floor, outline: rect(beside - long, beside + long) },
  ];
}

/** How far from the bolt the nut is let in, mm. */
const entryAt = ({ nutFlats }: BoltSize, clearance: number): number =>
  (2 * nutFlats) / Math.sqrt(3) + 2 * clearance + 1;

/** Widest that a nut or a head is around the bolt, with its skin. */
const around = (size: BoltSize, clearance: number): number =>
  Math.max(size.nutFlats / Math.sqrt(3) + clearance, size.head / 2 + aroundHead) + skinMm;

/**
 * How far from the cut the well of a head comes out of a part, mm; null where it is too deep, grazes the skin before,
 * or something stands in the way of the driver.
 *
 * @param solid the part in the frame of the cut, `way` 1 above it
 * @param others what is put on together with it
 */
function wellOf(
  solid: Solid,
  others: readonly Solid[],
  { keep, kernel }: Maker,
  offset: number,
  way: 1 | -1,
  at: Point,
  fit: BoltFit,
): number | null {
  const r = fit.size.head / 2 + aroundHead;
  const disc = keep(new kernel.CrossSection([roundOutline(2 * r, false)]));
  const well = keep(disc.translate(at));
  const skin = keep(keep(disc.offset(skinMm, 'Round')).translate(at));
  const step = 1;
  const reach = r + skinMm + 1;
  let near = solid;
  for (const [x, y] of [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ])
    near = keep(near.trimByPlane([x, y, 0], x * at[0] + y * at[1] - reach));
  const { min, max } = near.boundingBox();
  const top = way > 0 ? max[2] - offset : offset - min[2];
  // the part goes on over the whole depth, or something of it stands over the well
  if (top > deepestWell) return null;
  let grazed = 0;
  let out: number | null = null;
  for (let h = fit.seat + 0.1; h < top + step; h += step) {
    const section = keep(near.slice(offset + way * h));
    const free = keep(section.intersect(well)).area() < 1e-3;
    if (out === null) {
      if (free) out = h + step;
      else if (keep(skin.subtract(section)).area() > 1e-3) grazed += step;
      else if (grazed > 0) return null;
    } else if (!free) return null;
    if (grazed > 2 * r + 4) return null;
  }
  if (out === null) return null;
  const column = prism({ keep, kernel }, well, out, deepestWell, way);
  const driver = keep(column.translate([0, 0, offset]));
  return others.some((o) => keep(o.intersect(driver)).volume() > 1e-3) ? null : out;
}

/** A bolt and the depth of the well of its head. */
export interface DecidedBolt extends Decided {
  fit: BoltFit;
  wellMm: number;
}

/** The parts on one side of a cut, in its frame. */
export interface BoltSide {
  own: Solid;
  others: readonly Solid[];
  /** how far the first part goes on from a place of the cut, and whether it ends there, mm; negative where more of it follows */
  endsAt: (at: Point) => number;
}

/** A quick look whether a well may come out within reach of a driver: along its axis and eight lines of its wall. */
function mayComeOut({ endsAt }: BoltSide, [u, v]: Point, fit: BoltFit): boolean {
  const r = fit.size.head / 2 + aroundHead;
  let least = Infinity;
  let most = 0;
  for (let i = 0; i <= 8; i++) {
    const a = (Math.PI * i) / 4;
    const end = endsAt(i === 8 ? [u, v] : [u + r * Math.cos(a), v + r * Math.sin(a)]);
    if (end < fit.seat || end > deepestWell) return false;
    least = Math.min(least, end);
    most = Math.max(most, end);
  }
  return most - least <= 2 * r + 4;
}

/**
 * Up to two bolts on a face, the stoutest for which there is room: nut on one side, on the other a well that opens where
 * a driver can reach it.
 */
export function decideBolts(
  maker: Maker,
  site: Site,
  flesh: Flesh,
  offset: number,
  sides: { up: BoltSide; down: BoltSide },
  { clearance, widest }: JoinWishes,
): DecidedBolt[] {
  const { angle } = lieOf(site.shared.toPolygons());
  for (const size of [...boltSizes].reverse().filter((s) => s.thread <= widest)) {
    const fit = boltFit(size);
    const radius = around(size, clearance);
    const beside = entryAt(size, clearance);
    for (const nut of ['down', 'up'] as const) {
      const region = flesh.room(nut, fit.reach + skinMm, radius);
      if (region.isEmpty()) continue;
      const seat = flesh.room(nut === 'down' ? 'up' : 'down', fit.seat, size.head / 2 + aroundHead + skinMm);
      const middle = middleOfRegion(region);
      const candidates = [...extremesOf(region), ...(middle ? [middle] : [])];
      const found: DecidedBolt[] = [];
      // the two ends first
      const order = [...candidates].sort(
        (a, b) => Math.abs(along(b, middle!, angle)) - Math.abs(along(a, middle!, angle)) || a[0] - b[0],
      );
      for (const at of order.slice(0, 24)) {
        if (found.length === 2) break;
        if (!holdsPoint(seat, at)) continue;
        if (found.some((f) => apartOf2(f.at, at) < 2 * (radius + beside))) continue;
        const entryOf = (t: number): Point => [at[0] + beside * Math.cos(t), at[1] + beside * Math.sin(t)];
        const turn = [0, 1, 2, 3, 4, 5, 6, 7]
          .map((k) => angle + (k * Math.PI) / 4)
          .find((t) => holdsPoint(region, entryOf(t)));
        if (turn === undefined) continue;
        const head = nut === 'down' ? sides.up : sides.down;
        if (!mayComeOut(head, at, fit)) continue;
        const wellMm = wellOf(head.own, head.others, maker, offset, nut === 'down' ? 1 : -1, at, fit);
        if (wellMm === null) continue;
        found.push({
          ...joinAt(site, 'bolt', at, {
            turn,
            across: size.thread,
            depth: fit.reach,
            length: fit.length,
            sides: nut,
            // beside the nut where it sits and where it is let in
            wallMm: Math.min(...[at, entryOf(turn)].map((p) => whereIn(region.toPolygons(), ...p).distance)) + skinMm,
          }),
          fit,
          wellMm,
        });
      }
      if (found.length > 0) return found;
    }
  }
  return [];
}

const along = (p: Point, q: Point, angle: number): number =>
  (p[0] - q[0]) * Math.cos(angle) + (p[1] - q[1]) * Math.sin(angle);

/** Solids of a bolt's rooms: of the nut, and of the head, in the frame of the cut. */
export function boltTools(maker: Maker, join: DecidedBolt, clearance: number): { nut: Solid; head: Solid } {
  const { fit, sides, wellMm } = join;
  const nutWay = sides === 'down' ? -1 : 1;
  const solids = nutRoom(fit, clearance).map(({ outline, from, to }) =>
    prism(maker, grown(maker, outline, 0), from, to, nutWay),
  );
  const hole = prism(
    maker,
    grown(maker, roundOutline(fit.size.hole, false), 0),
    -0.01,
    fit.seat + 0.1,
    nutWay > 0 ? -1 : 1,
  );
  const well = prism(
    maker,
    grown(maker, roundOutline(fit.size.head + 2 * aroundHead, false), 0),
    fit.seat,
    wellMm + 1,
    nutWay > 0 ? -1 : 1,
  );
  return {
    nut: maker.keep(maker.kernel.Manifold.union(solids)),
    head: maker.keep(hole.add(well)),
  };
}
