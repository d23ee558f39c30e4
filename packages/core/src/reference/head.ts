import { MeshError } from '../run/MeshError.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { bodyMeasures } from '../trade/anthropometry.ts';
import type { ReferenceBody } from './ReferenceBody.ts';

/** mm */
export interface HeadMeasures {
  /** around, above the brows */
  girth: number;
  /** brow to the back */
  length: number;
  breadth: number;
  /** chin to the top */
  height: number;
  /** between the pupils */
  eyesApart: number;
}

/** Height of the section that has the full length, breadth and girth, as a share of the head's height. */
const girthAtShare = 0.66;
const eyeShare = 0.52;

/**
 * Shape of a head from the chin (0) to the top (1) and of the neck below: front and back from the middle in halves of
 * the length, and half the breadth in halves of the breadth. Drawn for this purpose; common proportions.
 */
const profile: [share: number, front: number, back: number, side: number][] = [
  [-0.5, 0.12, 0.66, 0.72],
  [-0.3, 0.14, 0.62, 0.7],
  [-0.14, 0.22, 0.56, 0.68],
  [-0.06, 0.48, 0.52, 0.66],
  [0, 0.78, 0.5, 0.5],
  [0.06, 0.88, 0.5, 0.58],
  [0.13, 0.9, 0.53, 0.68],
  [0.22, 0.9, 0.6, 0.78],
  [0.3, 0.94, 0.68, 0.85],
  [0.38, 0.95, 0.8, 0.9],
  [0.45, 0.94, 0.89, 0.94],
  [0.53, 0.94, 0.96, 0.97],
  [0.6, 0.985, 0.99, 0.99],
  [girthAtShare, 1, 1, 1],
  [0.74, 0.98, 0.99, 0.985],
  [0.82, 0.91, 0.94, 0.92],
  [0.89, 0.78, 0.83, 0.8],
  [0.94, 0.61, 0.66, 0.63],
  [0.975, 0.4, 0.44, 0.42],
  [0.994, 0.2, 0.22, 0.21],
];

/** Smooth curve through the rows of the profile (Catmull and Rom 1974, on uneven steps). */
function shapeAt(share: number): [number, number, number] {
  let i = 0;
  while (i < profile.length - 2 && profile[i + 1][0] < share) i++;
  const rows = [-1, 0, 1, 2].map((d) => profile[Math.min(profile.length - 1, Math.max(0, i + d))]);
  const [p0, p1, p2, p3] = rows;
  const width = p2[0] - p1[0];
  const s = Math.min(1, Math.max(0, (share - p1[0]) / width));
  return [1, 2, 3].map((c) => {
    const m1 = p2[0] > p0[0] ? ((p2[c] - p0[c]) / (p2[0] - p0[0])) * width : 0;
    const m2 = p3[0] > p1[0] ? ((p3[c] - p1[c]) / (p3[0] - p1[0])) * width : 0;
    const [s2, s3] = [s * s, s * s * s];
    return (2 * s3 - 3 * s2 + 1) * p1[c] + (s3 - 2 * s2 + s) * m1 + (3 * s2 - 2 * s3) * p2[c] + (s3 - s2) * m2;
  }) as [number, number, number];
}

/** Point of a superellipse |x/a|^n + |y/b|^n = 1 in the direction of an angle of its parameter (Lamé). */
const lame = (angle: number, n: number): [number, number] => {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [Math.sign(c) * Math.abs(c) ** (2 / n), Math.sign(s) * Math.abs(s) ** (2 / n)];
};

function perimeter(a: number, b: number, n: number, corners: number): number {
  let sum = 0;
  let last = lame(0, n);
  for (let i = 1; i <= corners; i++) {
    const next = lame((2 * Math.PI * i) / corners, n);
    sum += Math.hypot(a * (next[0] - last[0]), b * (next[1] - last[1]));
    last = next;
  }
  return sum;
}

/**
 * Exponent with which a superellipse of the breadth and length has the girth.
 *
 * @throws MeshError `bad-params` when no head has such measures
 */
function girthExponent(m: Pick<HeadMeasures, 'girth' | 'length' | 'breadth'>, corners: number): number {
  let [lo, hi] = [1.4, 6];
  const at = (n: number) => perimeter(m.breadth / 2, m.length / 2, n, corners);
  if (m.girth < at(lo) || m.girth > at(hi))
    throw new MeshError(
      'bad-params',
      `A head ${m.length} mm long and ${m.breadth} mm broad measures ${at(lo).toFixed(0)} to ${at(hi).toFixed(0)} mm around, not ${m.girth} mm.`,
      'Measure the girth with the tape just above the brows, length and breadth with two boards.',
      'girth',
    );
  for (let i = 0; i < 60; i++) {
    const mid = (lo + hi) / 2;
    if (at(mid) < m.girth) lo = mid;
    else hi = mid;
  }
  return (lo + hi) / 2;
}

const around = 128;
const levels = 120;
const neckShare = -0.42;

/** What stands out from the face (or sinks in), mm for a head of the usual height, at an angle from straight ahead. */
function relief(share: number, x: number, halfBreadth: number): number {
  const bump = (u: number, middle: number, wide: number) => Math.exp(-(((u - middle) / wide) ** 2));
  const across = x / halfBreadth;
  const noseWide = 0.13 + 0.08 * bump(share, 0.385, 0.05);
  const nose = share < 0.56 ? 25 * (share > 0.4 ? Math.max(0, (0.555 - share) / 0.155) : bump(share, 0.4, 0.022)) : 0;
  const eye = bump(share, eyeShare, 0.035) * (bump(across, 0.42, 0.2) + bump(across, -0.42, 0.2));
  const lips = 4 * bump(share, 0.28, 0.03) * bump(across, 0, 0.3);
  return nose * bump(across, 0, noseWide) - 7 * eye + lips;
}

/**
 * A head from five measures. In the plane at 0.66 of its height it has exactly the girth, length and breadth given, and
 * from chin to top exactly the height; the rest follows common proportions. Its middle in that plane stands over the origin,
 * its chin at z = 0.
 *
 * @throws MeshError `bad-params` when the measures do not go together
 */
export function makeHead(m: HeadMeasures): ReferenceBody {
  for (const [name, mm] of Object.entries(m))
    if (!(mm > 20) || !(mm < 2000))
      throw new MeshError('bad-params', `${name} of ${mm} mm is no measure of a head.`, 'Give it in mm.', name);
  const n = girthExponent(m, around);
  const [a, b] = [m.breadth / 2, m.length / 2];
  const unit = m.height / bodyMeasures.headHeight.men[1];
  const point = (share: number, angle: number): Vec3 => {
    const [front, back, side] = shapeAt(share);
    // squarer at the girth than at the jaw and at the top
    const soft = Math.min(1, Math.abs(share - girthAtShare) / 0.3);
    const [x, y] = lame(angle, n + soft * (Math.min(n, 2.1) - n));
    const px = a * side * x;
    // y of the parameter points to the back
    const reach = y < 0 ? front : back;
    const facing = y < 0 ? Math.min(1, Math.max(0, (-y - 0.3) / 0.4)) : 0;
    const out = share > 0.62 || share < 0.1 ? 0 : facing * relief(share, px, a) * unit;
    return [px, b * reach * y - out, share * m.height];
  };
  const shares = Array.from({ length: levels }, (_, i) => {
    const s = i / (levels - 1);
    // closer together towards the top, where the skin lies flat
    return neckShare + (0.994 - neckShare) * (s < 0.75 ? s : 1 - (1 - s) ** 1.6 * (0.25 / 0.25 ** 1.6));
  });
  // the section that the measures hold for is one of the levels
  const nearest = shares.reduce(
    (best, s, i) => (Math.abs(s - girthAtShare) < Math.abs(shares[best] - girthAtShare) ? i : best),
    0,
  );
  shares[nearest] = girthAtShare;
  const positions = new Float32Array(3 * (levels * around + 2));
  shares.forEach((share, i) => {
    for (let j = 0; j < around; j++) positions.set(point(share, (2 * Math.PI * j) / around), 3 * (i * around + j));
  });
  const top = levels * around;
  positions.set([0, 0.02 * b, m.height], 3 * top);
  positions.set([0, 0.26 * b, neckShare * m.height], 3 * top + 3);
  const triangles: number[] = [];
  for (let i = 0; i + 1 < levels; i++)
    for (let j = 0; j < around; j++) {
      const k = (j + 1) % around;
      const [p, q, r, s] = [i * around + j, i * around + k, (i + 1) * around + k, (i + 1) * around + j];
      triangles.push(p, q, r, p, r, s);
    }
  for (let j = 0; j < around; j++) {
    const k = (j + 1) % around;
    triangles.push((levels - 1) * around + j, (levels - 1) * around + k, top, k, j, top + 1);
  }
  const mesh: TriMesh = { positions, triangles: Uint32Array.from(triangles) };
  const ahead = (share: number): Vec3 => point(share, -Math.PI / 2);
  const behind = (share: number): Vec3 => point(share, Math.PI / 2);
  const left = (share: number): Vec3 => point(share, 0);
  const right = (share: number): Vec3 => point(share, Math.PI);
  const pupil = (side: 1 | -1): Vec3 => {
    // the angle at which the skin at eye level is as far to the side as the pupil
    let [lo, hi] = [0.05, Math.PI / 2];
    for (let i = 0; i < 50; i++) {
      const mid = (lo + hi) / 2;
      if (point(eyeShare, -mid)[0] > m.eyesApart / 2) lo = mid;
      else hi = mid;
    }
    const [x, y, z] = point(eyeShare, -lo);
    return [side * x, y, z];
  };
  return {
    mesh,
    landmarks: {
      top: [0, 0.02 * b, m.height],
      brow: ahead(0.6),
      'bridge of the nose': ahead(0.53),
      'tip of the nose': ahead(0.4),
      mouth: ahead(0.28),
      chin: ahead(0.05),
      'back of the head': behind(girthAtShare),
      'left ear': left(0.48),
      'right ear': right(0.48),
      'left eye': pupil(1),
      'right eye': pupil(-1),
    },
    regions: [
      { name: 'crown', at: [0, 0, m.height] },
      { name: 'forehead', at: ahead(0.76) },
      { name: 'brow and eyes', at: ahead(0.55) },
      { name: 'nose', at: ahead(0.4) },
      { name: 'mouth and chin', at: ahead(0.2) },
      { name: 'left side', at: left(0.62) },
      { name: 'right side', at: right(0.62) },
      { name: 'left jaw', at: left(0.22) },
      { name: 'right jaw', at: right(0.22) },
      { name: 'back', at: behind(0.66) },
      { name: 'nape', at: behind(0.25) },
      { name: 'neck', at: [0, 0.2 * b, -0.3 * m.height] },
    ],
  };
}
