import { useMemo } from 'react';
import { Plane, Vector3 } from 'three';
import type { PartView } from '@jasmorphe/contracts/views';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { pickPoint, type ShownTips } from './benchSlice.ts';
import { Clay } from './Clay.tsx';
import { stoppedTint } from './partTint.ts';
import { Tips } from './Tips.tsx';
import type { Laid } from './useLaid.ts';

/**
 * How far up a part on the bed is shown: to the layer that is looked at, or to the support tip that is stepped to.
 *
 * @returns the height, null where all of it is; and the tips with the place of that one, as the part lies
 */
export function useLyingCut(
  part: PartView | null,
  laid: Laid | null,
): { upTo: number | null; tips: { shown: ShownTips; place: [number, number, number] } | null } {
  const tips = useAppSelector((s) => s.bench.tips);
  const layer = useAppSelector((s) => s.bench.upTo);
  return useMemo(() => {
    const tip = laid && tips && tips.partId === part?.id ? tips.list[tips.at] : undefined;
    const stepped = laid && tips && tip ? { shown: tips, place: laid.onto(tip.at) } : null;
    if (laid && layer && layer.partId === part?.id) return { upTo: layer.mm, tips: stepped };
    return { upTo: stepped && stepped.place[2] + stepped.shown.above * stepped.shown.layerMm, tips: stepped };
  }, [part?.id, laid, tips, layer]);
}

/** A part alone as it lies on the bed; what is laid after a height is seen through, so that one looks onto that layer. */
export function LyingPart({
  part,
  laid,
  upTo,
  inColours,
  tips,
  dot,
  colours,
}: {
  part: PartView;
  laid: Laid;
  upTo: number | null;
  /** what leans out too far is painted */
  inColours: boolean;
  tips: ShownTips | null;
  /** radius of the dot of a tip, mm */
  dot: number;
  colours: Tokens;
}) {
  const dispatch = useAppDispatch();
  const asks = useAppSelector((s) => s.bench.asks > 0 && s.bench.asksOn === 'model');
  const clip = useMemo(() => (upTo === null ? null : new Plane(new Vector3(0, 0, -1), upTo)), [upTo]);
  return (
    <>
      {clip && <Clay geometry={laid.geometry} colour={colours.clay} clip={null} opacity={0.12} />}
      <Clay
        geometry={laid.geometry}
        colour={part.state === 'failed' ? stoppedTint(colours) : colours.clay}
        clip={clip}
        inColours={inColours}
        onPick={asks ? (at) => dispatch(pickPoint(at)) : undefined}
        takesPaint
        back={laid.back}
        onto={laid.onto}
        colours={colours}
      />
      {tips && <Tips tips={tips} onto={laid.onto} least={dot} upTo={upTo ?? Infinity} colours={colours} />}
    </>
  );
}
