import { useEffect, useEffectEvent } from 'react';
import type { ReferenceView } from '@jasmorphe/contracts/views';
import { useChangeReferenceMutation } from '../../app/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { moveBody, showBody, showMap, tellStudied, type PlacedBody } from '../../bench/benchSlice.ts';

/**
 * A reference on the bench while it is looked at: shown where it stands, and where the bench or the fields move it to is
 * kept a moment after it comes to rest.
 *
 * @returns the figure on the bench when it is this reference, and a way to move it
 */
export function usePlacedBody(
  bodyId: string,
  reference: ReferenceView | undefined,
  hidden: boolean,
): { mine: PlacedBody | null; place: (next: Partial<Pick<PlacedBody, 'move' | 'turn'>>) => void } {
  const dispatch = useAppDispatch();
  const figure = useAppSelector((s) => s.bench.body);
  const [change] = useChangeReferenceMutation();
  const shownId = hidden ? null : (reference?.id ?? null);
  const show = useEffectEvent((id: string | null) => {
    dispatch(
      showBody(
        reference && id
          ? { id, hash: reference.meshHash, move: reference.move, turn: reference.turn, handles: null }
          : null,
      ),
    );
  });
  // only when another body is shown: its own moves come from the bench
  useEffect(() => show(shownId), [shownId]);
  useEffect(
    () => () => {
      dispatch(showBody(null));
      dispatch(showMap(null));
      dispatch(tellStudied([]));
    },
    [dispatch],
  );
  const mine = figure && reference && figure.id === reference.id ? figure : null;
  const moved = mine ? JSON.stringify([mine.move, mine.turn]) : '';
  const keep = useEffectEvent((place: string) => {
    if (!reference || place === JSON.stringify([reference.move, reference.turn])) return;
    const [move, turn] = JSON.parse(place) as [PlacedBody['move'], PlacedBody['turn']];
    void change({ id: reference.id, bodyId, move, turn });
  });
  const shown = mine?.id;
  useEffect(() => {
    if (moved === '' || shown === undefined) return;
    const timer = setTimeout(() => keep(moved), 600);
    return () => clearTimeout(timer);
  }, [moved, shown]);
  return {
    mine,
    place: (next) => mine && dispatch(moveBody({ move: mine.move, turn: mine.turn, ...next })),
  };
}
