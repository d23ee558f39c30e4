import type { Vec3 } from '../../mesh/TriMesh.ts';

/** Something that must stay clean: a box, mm. */
export interface CleanBox {
  min: Vec3;
  max: Vec3;
}

/** Skin that was painted to stay clean: what lies in a ball, mm. */
export interface CleanSpot {
  at: Vec3;
  radiusMm: number;
}

export type CleanPlace = CleanBox | CleanSpot;

/** What a seam counts for where the maker wants none. */
export const keptClean = 8;

const isSpot = (place: CleanPlace): place is CleanSpot => 'radiusMm' in place;

/** Where a line between two points enters and leaves a place, as shares of its length; null where it passes by. */
function spanIn(place: CleanPlace, from: Vec3, to: Vec3): [number, number] | null {
  let enter = 0;
  let leave = 1;
  if (isSpot(place)) {
    // |from + s d - at|² = r²
    let a = 0;
    let b = 0;
    let c = -place.radiusMm * place.radiusMm;
    for (let k = 0; k < 3; k++) {
      const d = to[k] - from[k];
      const e = from[k] - place.at[k];
      a += d * d;
      b += d * e;
      c += e * e;
    }
    if (a === 0) return c <= 0 ? [0, 1] : null;
    const inRoot = b * b - a * c;
    if (inRoot <= 0) return null;
    const root = Math.sqrt(inRoot);
    enter = Math.max(0, (-b - root) / a);
    leave = Math.min(1, (-b + root) / a);
  } else
    for (let k = 0; k < 3; k++) {
      const d = to[k] - from[k];
      if (d === 0) {
        if (from[k] < place.min[k] || from[k] > place.max[k]) return null;
        continue;
      }
      const a = (place.min[k] - from[k]) / d;
      const b = (place.max[k] - from[k]) / d;
      enter = Math.max(enter, Math.min(a, b));
      leave = Math.min(leave, Math.max(a, b));
    }
  return leave > enter ? [enter, leave] : null;
}

/** The share of a line between two points that lies in any of the places; where they overlap it counts once. */
export function shareIn(places: readonly CleanPlace[], from: Vec3, to: Vec3): number {
  const spans: [number, number][] = [];
  for (const place of places) {
    const span = spanIn(place, from, to);
    if (span) spans.push(span);
  }
  spans.sort((a, b) => a[0] - b[0]);
  let share = 0;
  let done = 0;
  for (const [enter, leave] of spans) {
    if (leave <= done) continue;
    share += leave - Math.max(enter, done);
    done = leave;
  }
  return share;
}

/** Places that a plane comes through at all. */
export const placesOn = (places: readonly CleanPlace[], normal: Vec3, offset: number): CleanPlace[] =>
  places.filter((place) => {
    if (isSpot(place)) {
      const { at, radiusMm } = place;
      return Math.abs(normal[0] * at[0] + normal[1] * at[1] + normal[2] * at[2] - offset) < radiusMm;
    }
    let middle = 0;
    let half = 0;
    for (let k = 0; k < 3; k++) {
      middle += (normal[k] * (place.min[k] + place.max[k])) / 2;
      half += (Math.abs(normal[k]) * (place.max[k] - place.min[k])) / 2;
    }
    return Math.abs(middle - offset) <= half;
  });
