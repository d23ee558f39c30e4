import { useEffect, useMemo, useRef } from 'react';
import type { DivideParams } from '@jasmorphe/core/operations/divide/describe';
import type { JoinPlace } from '@jasmorphe/core/params/checks';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { forgetDrafts, useDraft } from '../useDraft.ts';
import { ownOf } from './divideParams.ts';

/** What a divide is asked for by hand and that is not done yet: printers, cuts, joins, and what is kept clean. */
export interface InHand {
  /** ids of the printers that were chosen; null while nobody chose */
  printers: string[] | null;
  setPrinters: (ids: string[]) => void;
  /** cuts that were changed; null while nobody changed any */
  edited: PlaneCut[] | null;
  /** cuts by hand: those that were changed, else those that the divide in force was given */
  own: PlaneCut[] | null;
  setCuts: (cuts: PlaneCut[]) => void;
  places: JoinPlace[];
  setPlaces: (places: JoinPlace[]) => void;
  clean: CleanBox[];
  setClean: (boxes: CleanBox[]) => void;
  painted: CleanSpot[];
  setPainted: (spots: CleanSpot[]) => void;
}

/**
 * What is in hand outlives a reload, until it is done.
 *
 * @param old params of the divide in force, which hold where nothing is in hand
 * @param stepId of the divide in force
 */
export function useInHand(
  bodyId: string,
  hash: string,
  old: Partial<DivideParams>,
  stepId: string | undefined,
): InHand {
  const drafts = `divide ${bodyId} ${hash}`;
  const stepWas = useRef(stepId);
  useEffect(() => {
    // done, undone or done elsewhere: what was in hand stays on this page, and is not brought back
    if (stepWas.current !== stepId) forgetDrafts(drafts);
    stepWas.current = stepId;
  }, [stepId, drafts]);
  const [printers, setPrinters] = useDraft<string[]>(`${drafts} printers`);
  const [edited, setCuts] = useDraft<PlaneCut[]>(`${drafts} cuts`);
  const [placed, setPlaces] = useDraft<JoinPlace[]>(`${drafts} joins`);
  const [boxes, setClean] = useDraft<CleanBox[]>(`${drafts} clean`);
  const [spots, setPainted] = useDraft<CleanSpot[]>(`${drafts} paint`);
  return {
    printers,
    setPrinters,
    edited,
    own: edited ?? ownOf(old),
    setCuts,
    places: useMemo(() => placed ?? old.joinPlaces ?? [], [placed, old.joinPlaces]),
    setPlaces,
    clean: boxes ?? old.keepClean ?? [],
    setClean,
    painted: spots ?? old.painted ?? [],
    setPainted,
  };
}
