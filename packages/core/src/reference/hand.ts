import type { Vec3 } from '../mesh/TriMesh.ts';
import { skinOver, standing, type Limb } from './limbs.ts';
import type { ReferenceBody } from './ReferenceBody.ts';

/** mm */
export interface HandMeasures {
  /** wrist crease to the tip of the middle finger */
  length: number;
  /** across the knuckles, without the thumb */
  breadth: number;
}

/** Fingers from the little one to the index: place of the knuckle across, its height, and the tip, as shares of breadth and length. */
const fingers: [name: string, across: number, knuckle: number, tip: number][] = [
  ['little finger', 0.37, 0.5, 0.79],
  ['ring finger', 0.13, 0.54, 0.94],
  ['middle finger', -0.12, 0.555, 1],
  ['index finger', -0.37, 0.54, 0.92],
];

/** An open left hand, palm to -y, wrist at z = 0, fingers up, of the length and breadth given. */
export function makeHand(m: HandMeasures): ReferenceBody {
  const { length: l, breadth: b } = m;
  const r = 0.105 * b;
  const limbs: Limb[] = fingers.flatMap(([, across, knuckle, tip]): Limb[] => {
    const foot: Vec3 = [0.55 * across * b, 0, 0.06 * l];
    const base: Vec3 = [across * b, 0, knuckle * l];
    const end: Vec3 = [1.12 * across * b, -0.02 * l, tip * l - 0.9 * r];
    return [
      { from: foot, to: base, radii: [0.17 * b, 0.145 * b] },
      { from: base, to: end, radii: [1.15 * r, 0.9 * r] },
    ];
  });
  const thumb: Vec3[] = [
    [-0.25 * b, -0.02 * l, 0.13 * l],
    [-0.52 * b, -0.08 * l, 0.33 * l],
    [-0.66 * b, -0.1 * l, 0.55 * l],
  ];
  limbs.push(
    { from: thumb[0], to: thumb[1], radii: [0.19 * b, 0.14 * b] },
    { from: thumb[1], to: thumb[2], radii: [0.135 * b, 0.1 * b] },
    { from: [0, 0, 0.14 * b], to: [0, 0, 0.2 * l], radii: [0.27 * b, 0.3 * b], flat: 0.6 },
  );
  const { mesh, place } = standing(skinOver(limbs, 0.09 * b, l / 90), l);
  return {
    mesh,
    landmarks: {
      'wrist crease': [0, 0, 0],
      ...Object.fromEntries(
        fingers.map(([name, across, , tip]) => [`tip of the ${name}`, place([1.12 * across * b, -0.02 * l, tip * l])]),
      ),
      'tip of the thumb': place(thumb[2]),
    },
    regions: [
      { name: 'palm', at: [0, -0.1 * b, 0.3 * l] },
      { name: 'back of the hand', at: [0, 0.1 * b, 0.3 * l] },
      { name: 'thumb', at: place(thumb[2]) },
      ...fingers.map(([name, across, knuckle, tip]) => ({
        name,
        at: place([across * b, 0, ((knuckle + tip) / 2) * l]),
      })),
    ],
  };
}
