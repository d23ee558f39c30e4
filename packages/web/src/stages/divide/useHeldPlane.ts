import { useEffect, useEffectEvent, useRef } from 'react';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { axes } from '@jasmorphe/core/mesh/axes';
import { heightOver, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import type { Mirror } from '@jasmorphe/core/planning/cuts/symmetry';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { holdPlane, setExplode, type HeldPlane } from '../../bench/benchSlice.ts';
import { fullMesh } from '../../worker/fullMesh.ts';
import { settled, settledInMirror } from './settled.ts';

const triple = (v: Vec3): [number, number, number] => [v[0], v[1], v[2]];
const keyOf = ({ normal, offset }: Pick<HeldPlane, 'normal' | 'offset'>, handles: string): string =>
  JSON.stringify([normal, offset, handles]);

/**
 * Where a plane settles that was let go: in a plane that the model is mirrored in, or, across an axis, at what speaks for an
 * offset there. As it lies where nothing does.
 */
async function snapped(hash: string, plane: HeldPlane, { middle, size, rooms }: HeldModel): Promise<Mirror> {
  const { normal, offset, handles } = plane;
  const mirrors = await fullMesh().mirrors(hash);
  const mirror = settledInMirror(plane, mirrors, { middle, longest: Math.max(...size) }, handles === 'turn');
  const k = normal.findIndex((x) => x === 1);
  if (k < 0 || (mirror && handles === 'turn')) return mirror ?? { normal, offset };
  // moved across an axis: whatever is nearest, a mirror as well as a flat
  const flats = await fullMesh().undersides(hash, k as 0 | 1 | 2);
  const reach = { from: middle[k] - size[k] / 2, size: size[k] };
  const speaking = [...flats.map((f) => f.at), ...(mirror ? [mirror.offset] : [])];
  return { normal, offset: settled(offset, reach, speaking, rooms) };
}

/** What a plane is held in. */
export interface HeldModel {
  middle: Vec3;
  size: Vec3;
  /** rooms that parts may lie in, mm */
  rooms: readonly Vec3[];
}

/**
 * Holds a cut on the bench with handles, and tells where it was drawn to. Let go near to where a flat underside begins,
 * the middle, or whole beds from an end, a plane across an axis settles there; near to a plane that the model is mirrored
 * in, any plane does, turned into it by up to three degrees.
 */
export function useHeldPlane(
  hash: string,
  cut: PlaneCut | null,
  handles: 'move' | 'turn',
  model: HeldModel,
  onChange: (cut: PlaneCut) => void,
): void {
  const dispatch = useAppDispatch();
  const plane = useAppSelector((s) => s.bench.plane);
  const given = useRef('');
  const key = cut ? keyOf({ normal: triple(cut.normal), offset: cut.offset }, handles) : '';
  const at = cut ? (cut.through ?? model.middle) : model.middle;
  const place = JSON.stringify(at);
  useEffect(() => {
    if (key === given.current) return;
    given.current = key;
    if (key === '') {
      dispatch(holdPlane(null));
      return;
    }
    const [normal, offset] = JSON.parse(key) as [Vec3, number];
    const about = JSON.parse(place) as Vec3;
    const h = heightOver({ normal, offset }, about);
    // parts that are drawn apart are not where the plane is
    dispatch(setExplode(0));
    dispatch(
      holdPlane({
        normal: triple(normal),
        offset,
        at: triple(axes.map((_, k) => about[k] - h * normal[k]) as unknown as Vec3),
        handles,
      }),
    );
  }, [key, place, handles, dispatch]);
  useEffect(
    () => () => {
      given.current = '';
      dispatch(holdPlane(null));
    },
    [dispatch],
  );
  const settle = useEffectEvent((to: PlaneCut) => onChange(to));
  /** tells of what the handles did, and of nothing else that changes */
  const tell = useEffectEvent((drawn: HeldPlane | null, isLive: () => boolean) => {
    if (!drawn || !cut || keyOf(drawn, handles) === given.current) return;
    given.current = keyOf(drawn, handles);
    const through = {
      ...(cut.through && { through: drawn.at as Vec3 }),
      ...(cut.within && { within: cut.within }),
    };
    onChange({ normal: drawn.normal, offset: drawn.offset, ...through });
    void snapped(hash, drawn, model)
      .then(({ normal, offset }) => {
        if (isLive() && (offset !== drawn.offset || normal !== drawn.normal)) settle({ normal, offset, ...through });
      })
      .catch(() => undefined);
  });
  useEffect(() => {
    let live = true;
    tell(plane, () => live);
    return () => void (live = false);
  }, [plane]);
}
