import { exposureOf, layingS, linesOf } from '../estimate.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';

/**
 * Time of each layer of a part as it lies, support left out, s.
 *
 * @param areas mm², perimeters mm, ways from corner to corner of each layer
 */
export function layerTimes(
  areas: readonly number[],
  perimeters: readonly number[],
  ways: readonly number[],
  profile: PrinterProfile,
): Float64Array {
  if (profile.kind === 'resin') return Float64Array.from(areas, (_, i) => profile.liftS + exposureOf(i, profile));
  const { wallMm, fillMm, haltS } = linesOf(areas, perimeters, profile, ways);
  return wallMm.map((mm, i) => layingS(mm, fillMm[i], profile.layerMm, profile, haltS[i]));
}
