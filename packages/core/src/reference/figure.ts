import type { Vec3 } from '../mesh/TriMesh.ts';
import { segmentShares as part } from '../trade/anthropometry.ts';
import { skinOver, standing, type Limb } from './limbs.ts';
import type { ReferenceBody } from './ReferenceBody.ts';

/** mm */
export interface StandingMeasures {
  stature: number;
  shoulderBreadth: number;
  hipBreadth: number;
}

/** mm */
export interface SeatedMeasures {
  /** seat to the top of the head */
  sittingHeight: number;
  /** floor to the hollow of the knee */
  kneeHollow: number;
  /** back of the seat to the front of the knee */
  seatToKnee: number;
  shoulderBreadth: number;
  hipBreadth: number;
}

const both = <T>(make: (side: 1 | -1) => T[]): T[] => [...make(1), ...make(-1)];

/** Trunk, neck and head above a hip joint at height `hip`, for a person of this stature. */
function trunk(h: number, hip: number, shoulders: number, hips: number): Limb[] {
  const up = (share: number): number => hip + (share - part.hip) * h;
  const chest = 0.36 * shoulders;
  return [
    { from: [0, 0, up(0.5)], to: [0, 0, up(0.56)], radii: [0.4 * hips, 0.4 * hips], flat: 0.68 },
    { from: [0, 0, up(0.56)], to: [0, 0, up(0.64)], radii: [0.38 * hips, 0.8 * chest], flat: 0.68 },
    { from: [0, 0, up(0.66)], to: [0, 0, up(0.74)], radii: [0.88 * chest, chest], flat: 0.66 },
    { from: [0, 0, up(0.79)], to: [0, 0, up(0.88)], radii: [0.036 * h, 0.032 * h] },
    { from: [0, -0.008 * h, up(0.912)], to: [0, 0.004 * h, up(0.955)], radii: [0.04 * h, 0.045 * h] },
    ...both((s): Limb[] => [
      {
        from: [0, 0, up(0.8)],
        to: [s * (shoulders / 2 - 0.031 * h), 0, up(part.shoulder) - 0.012 * h],
        radii: [0.036 * h, 0.03 * h],
      },
    ]),
  ];
}

/** A person standing with hanging arms on z = 0, of the stature, shoulder and hip breadth given. */
export function makeStanding(m: StandingMeasures): ReferenceBody {
  const h = m.stature;
  const shoulder = m.shoulderBreadth / 2 - 0.03 * h;
  const limbs: Limb[] = [
    ...trunk(h, part.hip * h, m.shoulderBreadth, m.hipBreadth),
    ...both((s): Limb[] => {
      const top: Vec3 = [s * shoulder, 0, part.shoulder * h - 0.012 * h];
      const elbow: Vec3 = [s * (shoulder + 0.012 * h), 0.006 * h, top[2] - part.upperArm * h];
      const wrist: Vec3 = [s * (shoulder + 0.016 * h), -0.012 * h, elbow[2] - part.forearm * h];
      const hip: Vec3 = [s * 0.25 * m.hipBreadth, 0, 0.5 * h];
      const knee: Vec3 = [s * 0.23 * m.hipBreadth, -0.004 * h, part.knee * h];
      const ankle: Vec3 = [s * 0.22 * m.hipBreadth, 0.01 * h, part.ankle * h];
      return [
        { from: top, to: elbow, radii: [0.029 * h, 0.024 * h] },
        { from: elbow, to: wrist, radii: [0.024 * h, 0.016 * h] },
        {
          from: wrist,
          to: [wrist[0], wrist[1] - 0.006 * h, wrist[2] - 0.075 * h],
          radii: [0.018 * h, 0.02 * h],
        },
        { from: hip, to: knee, radii: [0.046 * h, 0.031 * h] },
        { from: knee, to: ankle, radii: [0.031 * h, 0.021 * h] },
        {
          from: [ankle[0], 0.012 * h, 0.024 * h],
          to: [ankle[0] + s * 0.01 * h, -0.095 * h, 0.018 * h],
          radii: [0.024 * h, 0.018 * h],
        },
      ];
    }),
  ];
  const { mesh, place } = standing(skinOver(limbs, 0.022 * h, h / 150), h);
  const at = (x: number, y: number, share: number): Vec3 => place([x, y, share * h]);
  return {
    mesh,
    landmarks: {
      top: [0, 0, h],
      'between the eyes': at(0, -0.05 * h, part.eye),
      'left shoulder': at(m.shoulderBreadth / 2, 0, part.shoulder),
      'right shoulder': at(-m.shoulderBreadth / 2, 0, part.shoulder),
      navel: at(0, -0.07 * h, 0.6),
      'left knee': at(0.23 * m.hipBreadth, -0.035 * h, part.knee),
      'right knee': at(-0.23 * m.hipBreadth, -0.035 * h, part.knee),
      'ground between the feet': [0, 0, 0],
    },
    regions: [
      { name: 'head', at: at(0, 0, 0.94) },
      { name: 'chest and back', at: at(0, 0, 0.74) },
      { name: 'waist and hips', at: at(0, 0, 0.56) },
      { name: 'left arm', at: at(shoulder, 0, 0.62) },
      { name: 'right arm', at: at(-shoulder, 0, 0.62) },
      { name: 'left leg', at: at(0.23 * m.hipBreadth, 0, 0.26) },
      { name: 'right leg', at: at(-0.23 * m.hipBreadth, 0, 0.26) },
    ],
  };
}

/** A person seated upright, feet on z = 0, the back of the seat at y = 0, hands on the thighs. */
export function makeSeated(m: SeatedMeasures): ReferenceBody {
  // sitting height is about 0.52 of the stature (the same survey's medians)
  const h = m.sittingHeight / 0.52;
  const seat = m.kneeHollow;
  const thigh = 0.043 * h;
  const hip = seat + thigh;
  const height = seat + m.sittingHeight;
  const lean = -0.062 * h;
  const knee: Vec3 = [0, -m.seatToKnee + 0.033 * h, seat + 0.03 * h];
  const shoulder = m.shoulderBreadth / 2 - 0.03 * h;
  const moved = trunk(h, hip, m.shoulderBreadth, m.hipBreadth).map((l) => ({
    ...l,
    from: [l.from[0], l.from[1] + lean, l.from[2]] as Vec3,
    to: [l.to[0], l.to[1] + lean, l.to[2]] as Vec3,
  }));
  const shoulderAt = hip + (part.shoulder - part.hip) * h - 0.012 * h;
  const limbs: Limb[] = [
    ...moved,
    ...both((s): Limb[] => {
      const top: Vec3 = [s * shoulder, lean, shoulderAt];
      const elbow: Vec3 = [s * (shoulder + 0.012 * h), lean - 0.03 * h, top[2] - 0.98 * part.upperArm * h];
      const x = 0.24 * m.hipBreadth * s;
      const wrist: Vec3 = [x * 1.3, elbow[1] - 0.84 * part.forearm * h, seat + 2.3 * thigh];
      return [
        { from: top, to: elbow, radii: [0.029 * h, 0.024 * h] },
        { from: elbow, to: wrist, radii: [0.024 * h, 0.016 * h] },
        { from: wrist, to: [x, wrist[1] - 0.07 * h, wrist[2] - 0.02 * h], radii: [0.018 * h, 0.018 * h] },
        { from: [x, lean - 0.01 * h, hip], to: [x, knee[1], knee[2]], radii: [thigh, 0.033 * h] },
        { from: [x, knee[1], knee[2]], to: [x, knee[1] + 0.01 * h, part.ankle * h], radii: [0.031 * h, 0.021 * h] },
        {
          from: [x, knee[1] + 0.014 * h, 0.024 * h],
          to: [x + s * 0.01 * h, knee[1] - 0.09 * h, 0.018 * h],
          radii: [0.024 * h, 0.018 * h],
        },
      ];
    }),
  ];
  const { mesh, place } = standing(skinOver(limbs, 0.022 * h, h / 150), height);
  return {
    mesh,
    landmarks: {
      top: [0, lean, height],
      'seat, at its back': [0, 0, seat],
      'left knee': place([0.24 * m.hipBreadth, -m.seatToKnee, knee[2]]),
      'right knee': place([-0.24 * m.hipBreadth, -m.seatToKnee, knee[2]]),
      'left shoulder': place([m.shoulderBreadth / 2, lean, shoulderAt]),
      'right shoulder': place([-m.shoulderBreadth / 2, lean, shoulderAt]),
      'ground between the feet': place([0, knee[1], 0]),
    },
    regions: [
      { name: 'head', at: [0, lean, height - 0.06 * h] },
      { name: 'chest and back', at: [0, lean, hip + 0.22 * h] },
      { name: 'hips', at: [0, lean, hip] },
      { name: 'left thigh', at: [0.24 * m.hipBreadth, knee[1] / 2, hip] },
      { name: 'right thigh', at: [-0.24 * m.hipBreadth, knee[1] / 2, hip] },
      { name: 'left shin and foot', at: [0.24 * m.hipBreadth, knee[1], seat / 2] },
      { name: 'right shin and foot', at: [-0.24 * m.hipBreadth, knee[1], seat / 2] },
    ],
  };
}
