import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useEffect, useRef, useState } from 'react';
import type { BodyView, ReferenceView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/describe';
import { useAppDispatch } from '../../app/store.ts';
import { moveBody, tellStudied, type PlacedBody } from '../../bench/benchSlice.ts';
import { ask, reportOf, usePreviews, type Preview } from '../../decision/usePreviews.ts';
import { clearanceParams } from './clearanceParams.ts';

export interface ClearanceStudies {
  asIs: Preview;
  scaled: Preview;
  /** room at the size that the model has, and at the one that just fits */
  report: ClearanceReport | null;
  fitted: ClearanceReport | null;
  /** by which it just fits, and the point that stays where it is; null where nothing makes it fit */
  factor: number | null;
  about: Triple;
  settling: boolean;
  letSettle: () => void;
}

/** Looks for a place where the body settles in, when asked, and puts it there. */
function useSettling(body: BodyView, reference: ReferenceView | undefined, mine: PlacedBody | null) {
  const dispatch = useAppDispatch();
  // the turn that it has when it is let go is the one it keeps
  const [turn, setTurn] = useState<Triple | null>(null);
  const settled = useRef<string | null>(null);
  const [seat] = usePreviews(body.id, body.mesh.hash, [
    turn && mine && reference
      ? ask(catalogue.clearance, { ...clearanceParams(reference, { move: [0, 0, 0], turn }), seat: true })
      : null,
  ]);
  useEffect(() => {
    if (seat.state !== 'ready' || turn === null || settled.current === seat.step.id) return;
    settled.current = seat.step.id;
    const found = reportOf(seat, catalogue.clearance)?.move;
    if (found) dispatch(moveBody({ move: [found.x, found.y, found.z], turn }));
  }, [turn, seat, dispatch]);
  return {
    settling: turn !== null && seat.state === 'working',
    letSettle: () => {
      settled.current = null;
      if (mine) setTurn([...mine.turn]);
    },
  };
}

/** Measures the room around a body where it stands on the bench, and tells what stands out. */
export function useClearanceStudies(
  body: BodyView,
  reference: ReferenceView | undefined,
  mine: PlacedBody | null,
): ClearanceStudies {
  const dispatch = useAppDispatch();
  const of = (factor?: number, about?: Triple) =>
    mine && reference ? ask(catalogue.clearance, clearanceParams(reference, mine, factor, about)) : null;
  const [asIs] = usePreviews(body.id, body.mesh.hash, [of()]);
  const report = reportOf(asIs, catalogue.clearance);
  const factor = report?.suggestedFactor ? Number(report.suggestedFactor.toPrecision(5)) : null;
  const about: Triple = report ? [report.about.x, report.about.y, report.about.z] : [0, 0, 0];
  const [scaled] = usePreviews(body.id, body.mesh.hash, [factor === null ? null : of(factor, about)]);
  useEffect(() => {
    const { findings, params } = catalogue.clearance;
    dispatch(tellStudied(report ? findings!.of(new params(), report) : []));
  }, [report, dispatch]);
  return {
    asIs,
    scaled,
    report,
    fitted: reportOf(scaled, catalogue.clearance),
    factor,
    about,
    ...useSettling(body, reference, mine),
  };
}
