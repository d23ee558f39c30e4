import type { CrossSection } from 'manifold-3d';
import type { Keep } from '../../../planning/cuts/bodies.ts';
import { fromSolid, toSolid, type Kernel, type Solid } from '../../../solid/kernel.ts';

/** Makes the bodies of joins in the frame of a cut: u, v in its plane, w along its normal. */
export interface Maker {
  kernel: Kernel;
  keep: Keep;
}

/** Outlines as corners around the middle, mm. */
export type Outline = [number, number][];

/** A circle; keyed, a third of its radius is cut off one side, so that it goes in one way. */
export function roundOutline(across: number, keyed: boolean): Outline {
  const r = across / 2;
  const n = 48;
  const out: Outline = Array.from({ length: n }, (_, i) => [
    r * Math.cos((2 * Math.PI * (i + 0.5)) / n),
    r * Math.sin((2 * Math.PI * (i + 0.5)) / n),
  ]);
  if (!keyed) return out;
  const flat = (2 / 3) * r;
  const rise = Math.sqrt(r * r - flat * flat);
  return [...out.filter(([x]) => x < flat - 1e-6), [flat, -rise], [flat, rise]].sort(
    (a, b) => Math.atan2(a[1], a[0]) - Math.atan2(b[1], b[0]),
  ) as Outline;
}

/** A square in a circle `across`; keyed, one corner is cut off. */
export function squareOutline(across: number, keyed: boolean): Outline {
  const e = across / 2 / Math.SQRT2;
  return keyed
    ? [
        [-e, -e],
        [e, -e],
        [e, e / 5],
        [e / 5, e],
        [-e, e],
      ]
    : [
        [-e, -e],
        [e, -e],
        [e, e],
        [-e, e],
      ];
}

/** A tongue along x, narrower by a third at one end, so that it goes in one way. */
export function tongueOutline(width: number, length: number): Outline {
  const l = length / 2;
  const w = width / 2;
  return [
    [-l, -w],
    [l, -(2 / 3) * w],
    [l, (2 / 3) * w],
    [-l, w],
  ];
}

/** A hexagon with flats `flats` apart, two of them along x. */
export function hexOutline(flats: number): Outline {
  const r = flats / Math.sqrt(3);
  return Array.from({ length: 6 }, (_, i): [number, number] => [
    r * Math.cos((Math.PI * i) / 3),
    r * Math.sin((Math.PI * i) / 3),
  ]);
}

/** How far the end of a pin is drawn in to find its hole, mm a side (common practice). */
const leadMm = 0.4;

/** An outline grown on all sides; its corners stay corners, so that flats stand off by just that. */
export const grown = ({ kernel, keep }: Maker, outline: Outline, by: number): CrossSection => {
  const flat = keep(new kernel.CrossSection([outline]));
  return by === 0 ? flat : keep(flat.offset(by, 'Miter', 4));
};

/**
 * An outline drawn out from height `from` to `to` over the plane, or for `way` -1 as far below it.
 *
 * @param lead draw its end in, so that it finds its hole
 */
export function prism({ keep }: Maker, flat: CrossSection, from: number, to: number, way: 1 | -1, lead = false): Solid {
  const { min, max } = flat.bounds();
  const across = Math.min(max[0] - min[0], max[1] - min[1]);
  const drawn = lead && across > 4 * leadMm && to - from > 3 * leadMm ? leadMm : 0;
  let solid = keep(keep(flat.extrude(to - from - drawn)).translate([0, 0, from]));
  if (drawn > 0) {
    const tip = flat.extrude(drawn, 0, 0, [1 - (2 * drawn) / (max[0] - min[0]), 1 - (2 * drawn) / (max[1] - min[1])]);
    solid = keep(solid.add(keep(keep(tip).translate([0, 0, to - drawn]))));
  }
  return way > 0 ? solid : keep(solid.mirror([0, 0, 1]));
}

/** Shells that hold no more than this are rounding, mm³. */
const filmMm3 = 0.1;

/** Shells of a body that are more than rounding. */
export const shellsOf = ({ keep, kernel }: Maker, solid: Solid): Solid[] =>
  // as a mesh, so that what hangs on by a corner alone is a shell of its own
  keep(toSolid(kernel, fromSolid(solid)))
    .decompose()
    .map(keep)
    .filter((s) => Math.abs(s.volume()) > filmMm3);

/**
 * A body without the shells that enclose next to nothing.
 *
 * @param of what it was made of: solid shells that hold none of it hang on to nothing, and go too
 */
export function withoutFilms(maker: Maker, solid: Solid, of: Solid): Solid {
  const shells = shellsOf(maker, solid);
  const kept =
    shells.length < 2 ? shells : shells.filter((s) => s.volume() < 0 || maker.keep(s.intersect(of)).volume() > filmMm3);
  return kept.length > 0 ? maker.keep(maker.kernel.Manifold.compose(kept)) : solid;
}
