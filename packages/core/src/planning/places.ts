import type { PlaceKind, Place } from '../trade/placeKinds.ts';
import { quietContext, type RunContext } from '../run/context.ts';
import { hullPoints } from '../solid/kernel.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { fitPoints, flatFit, posePoints } from './bedFit.ts';

export interface PlaceVerdict {
  name: string;
  kind: PlaceKind;
  fits: boolean;
  /** the largest scale at which it would */
  largestFactor: number;
  /** of the parts it comes apart into */
  parts: { fit: number; of: number; misfits: number[] } | null;
}

const room = (p: Place): Vec3 => [p.widthMm ?? Infinity, p.depthMm ?? Infinity, p.heightMm ?? Infinity];

/** What a place leaves for a hull in any turning; a pass goes straight through. */
const openTo = (p: Place): Vec3 => (p.kind === 'pass' ? [room(p)[0], room(p)[2], Infinity] : room(p));

/** How far a hull could be scaled and still meet a place. */
const factorIn = (points: Float32Array, place: Place): number =>
  place.kind === 'stand' ? flatFit(points, room(place)).value : fitPoints(points, openTo(place)).largestFactor;

/** Does a hull scaled by `factor` meet a place? Sooner answered than how far it could be scaled. */
const meets = (points: Float32Array, place: Place, factor: number): boolean =>
  place.kind === 'stand'
    ? flatFit(points, room(place)).value >= factor * (1 - 1e-5)
    : posePoints(points, openTo(place).map((x) => x / factor) as unknown as Vec3).fits;

/**
 * Tests a model, and the parts it comes apart into, against places, in any turning that the place allows.
 *
 * @param factor measured as if scaled by this
 */
export async function testPlaces(
  model: TriMesh,
  parts: TriMesh[],
  places: readonly Place[],
  factor: number,
  context: RunContext = quietContext,
): Promise<PlaceVerdict[]> {
  const whole = await hullPoints(model);
  const hulls: Float32Array[] = [];
  for (const p of parts) hulls.push(await hullPoints(p));
  // rounding of stored coordinates is no reason to turn a model away
  const enough = (f: number) => f / factor >= 1 - 1e-5;
  return places.map((place, i) => {
    context.checkCancelled();
    context.progress(i / places.length, `Trying ${place.name}`);
    const f = factorIn(whole, place);
    const misfits = hulls.flatMap((h, k) => (meets(h, place, factor) ? [] : [k]));
    return {
      name: place.name,
      kind: place.kind,
      fits: enough(f),
      largestFactor: f,
      parts: parts.length > 0 ? { fit: parts.length - misfits.length, of: parts.length, misfits } : null,
    };
  });
}
