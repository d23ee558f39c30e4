import type { SectionProfile } from './sectionProfile.ts';

/** A section is a neck where both sides hold one this much larger (our own judgement). */
const narrow = 0.7;
/** Such planes that are looked at along one direction, the narrowest. */
const most = 3;
/** Nearer to a plane that is looked at anyway, as a share of the way between its neighbours, a neck is that plane. */
const there = 0.1;

/** Lowest point of the parabola through three points, within them; the middle one where they do not bend upward. */
function lowest(x: readonly number[], y: readonly number[]): number {
  const left = (y[1] - y[0]) / (x[1] - x[0]);
  const right = (y[2] - y[1]) / (x[2] - x[1]);
  const bend = (right - left) / (x[2] - x[0]);
  if (!(bend > 0)) return x[1];
  const at = (x[0] + x[1]) / 2 - left / (2 * bend);
  return Math.min(x[2], Math.max(x[0], at));
}

/** Necks along a direction: those of its planes that lie in one, and offsets of the others, rising. */
export interface Necks {
  known: number[];
  between: number[];
}

/**
 * Where a part is narrow between wider places, from the areas of its sections: local minima well below the largest section
 * on either side, each drawn to the lowest point of a parabola through its neighbours.
 */
export function necksOf({ offsets, areaMm2: area }: Pick<SectionProfile, 'offsets' | 'areaMm2'>): Necks {
  const n = offsets.length;
  const largestAfter = new Float64Array(n + 1);
  for (let i = n - 1; i >= 0; i--) largestAfter[i] = Math.max(area[i], largestAfter[i + 1]);
  const found: { at: number; own: number; share: number; near: boolean }[] = [];
  let largestBefore = 0;
  for (let i = 0; i < n; i++) {
    const beside = Math.min(largestBefore, largestAfter[i + 1]);
    largestBefore = Math.max(largestBefore, area[i]);
    if (i === 0 || i === n - 1 || !(area[i] > 0) || area[i] > narrow * beside) continue;
    // of a stretch that is as narrow throughout the first counts
    if (area[i] >= area[i - 1] || area[i] > area[i + 1]) continue;
    const at = lowest([offsets[i - 1], offsets[i], offsets[i + 1]], [area[i - 1], area[i], area[i + 1]]);
    const near = Math.abs(at - offsets[i]) < there * (offsets[i + 1] - offsets[i - 1]);
    found.push({ at, own: offsets[i], share: area[i] / beside, near });
  }
  const best = found.sort((a, b) => a.share - b.share).slice(0, most);
  return {
    known: best.filter((f) => f.near).map((f) => f.own),
    between: best
      .filter((f) => !f.near)
      .map((f) => f.at)
      .sort((a, b) => a - b),
  };
}

/** Two profiles along one direction as one, their planes rising. */
export function mergedProfiles(a: SectionProfile, b: SectionProfile): SectionProfile {
  const both = (x: Float64Array, y: Float64Array): Float64Array => Float64Array.of(...x, ...y);
  const all = both(a.offsets, b.offsets);
  const rising = Array.from(all.keys()).sort((i, j) => all[i] - all[j]);
  const merged = (key: 'offsets' | 'areaMm2' | 'seenMm' | 'seamMm' | 'parts' | 'larger'): Float64Array => {
    const values = both(a[key], b[key]);
    return Float64Array.from(rising, (i) => values[i]);
  };
  return {
    normal: a.normal,
    offsets: merged('offsets'),
    areaMm2: merged('areaMm2'),
    seenMm: merged('seenMm'),
    seamMm: merged('seamMm'),
    parts: merged('parts'),
    larger: merged('larger'),
  };
}
