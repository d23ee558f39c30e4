import { useEffect, useRef } from 'react';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { axes } from '@jasmorphe/core/mesh/axes';
import { heightOver, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { holdPlane, setExplode, type HeldPlane } from '../../bench/benchSlice.ts';
import { fullMesh } from '../../worker/fullMesh.ts';
import { settled } from './settled.ts';

const triple = (v: Vec3): [number, number, number] => [v[0], v[1], v[2]];
const keyOf = ({ normal, offset }: Pick<HeldPlane, 'normal' | 'offset'>, handles: string): string =>
  JSON.stringify([normal, offset, handles]);

/** Where a plane settles that was let go; its own offset where it is askew. */
async function snapped(
  hash: string,
  { normal, offset }: HeldPlane,
  { middle, size, rooms }: HeldModel,
): Promise<number> {
  const k = normal.findIndex((x) => x === 1);
  if (k < 0) return offset;
  await fullMesh().load(hash);
  const flats = await fullMesh().undersides(k as 0 | 1 | 2);
  const reach = { from: middle[k] - size[k] / 2, size: size[k] };
  return settled(
    offset,
    reach,
    flats.map((f) => f.at),
    rooms,
  );
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
 * the middle, or whole beds from an end, a plane across an axis settles there.
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
  const told = useRef(onChange);
  useEffect(() => {
    told.current = onChange;
  });
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
  useEffect(() => {
    if (!plane || !cut || keyOf(plane, handles) === given.current) return;
    let live = true;
    given.current = keyOf(plane, handles);
    const through = {
      ...(cut.through && { through: plane.at as Vec3 }),
      ...(cut.within && { within: cut.within }),
    };
    told.current({ normal: plane.normal, offset: plane.offset, ...through });
    void snapped(hash, plane, model)
      .then((offset) => {
        if (live && offset !== plane.offset) told.current({ normal: plane.normal, offset, ...through });
      })
      .catch(() => undefined);
    return () => void (live = false);
    // only what the handles did is told
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [plane]);
}
