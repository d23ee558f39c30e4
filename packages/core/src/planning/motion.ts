import type { Section } from '../section/Slicer.ts';

/** A head stops where a line turns by more than this; what turns less it rounds as it goes (our own judgement). */
const cornerCos = Math.cos((20 * Math.PI) / 180);

/**
 * Time of a straight way from rest to rest: it speeds up, runs on, and slows down; too short a way is never run at full
 * speed (the trapezoid of any handbook of mechanics: L/v + v/a, or 2 √(L/a) where L < v²/a).
 */
export const trapezoidS = (lengthMm: number, speedMmS: number, accelerationMmS2: number): number =>
  lengthMm >= speedMmS ** 2 / accelerationMmS2
    ? lengthMm / speedMmS + speedMmS / accelerationMmS2
    : 2 * Math.sqrt(lengthMm / accelerationMmS2);

/** What speeding up and slowing down adds to so many ways of one length, s. */
export const haltsS = (ways: number, lengthMm: number, speedMmS: number, accelerationMmS2: number): number =>
  ways > 0 && lengthMm > 0 ? ways * (trapezoidS(lengthMm, speedMmS, accelerationMmS2) - lengthMm / speedMmS) : 0;

/** Ways from corner to corner along all contours of a section; a round one without corners is one way. */
export function waysOf({ contours }: Section): number {
  let ways = 0;
  for (const { points: p } of contours) {
    let corners = 0;
    const n = p.length / 2;
    // the last point that lies apart from the one that is looked at: steps of no length turn nowhere
    let [ax, ay] = [p[2 * n - 2], p[2 * n - 1]];
    let [ux, uy] = [0, 0];
    for (let k = 0; k <= n; k++) {
      const i = 2 * (k % n);
      const [dx, dy] = [p[i] - ax, p[i + 1] - ay];
      const long = Math.hypot(dx, dy);
      if (!(long > 1e-9)) continue;
      const [vx, vy] = [dx / long, dy / long];
      if ((ux !== 0 || uy !== 0) && ux * vx + uy * vy < cornerCos) corners++;
      [ux, uy, ax, ay] = [vx, vy, p[i], p[i + 1]];
    }
    ways += Math.max(1, corners);
  }
  return ways;
}

/** Mean length of the lines that run across a flat region, mm: π A / P (Crofton; Santaló 1976). */
export const chordMm = (areaMm2: number, perimeterMm: number): number =>
  perimeterMm > 0 ? (Math.PI * Math.max(0, areaMm2)) / perimeterMm : 0;
