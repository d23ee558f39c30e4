import { adviceForPart } from '@jasmorphe/contracts/reading/partAdvice';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import { figures } from '@jasmorphe/core/trade/figures';
import { ByLog } from '../../days/ByLog.tsx';
import { RiskOf } from '../../days/RiskOf.tsx';
import { Note } from '../../ui/Note.tsx';
import { AdviceOfPart } from './AdviceOfPart.tsx';
import { BareAndHidden } from './BareAndHidden.tsx';
import { LayersOfPart } from './LayersOfPart.tsx';
import { StopsOfPart } from './StopsOfPart.tsx';
import { TipsOfPart } from './TipsOfPart.tsx';
import type { Bare } from './useBare.ts';
import type { usePoses } from './usePoses.ts';

/** What there is to know of a part as it lies: hours and risk, what to set, support tips, stops, layers. */
export function BesidePose({
  part,
  body,
  own,
  poses: { pose, turned, picked },
  printer,
  asked,
  bare,
  drafts,
  taken,
  fixed,
}: {
  part: PartView;
  /** the model that it is a part of */
  body: BodyView;
  /** the part as a body of its own; undefined while it is fetched */
  own: BodyView | undefined;
  poses: ReturnType<typeof usePoses>;
  /** with the brim of this part */
  printer: PrinterView | undefined;
  /** what its poses were asked with */
  asked: Partial<ParamsOf<'pose'>>;
  bare: Bare;
  /** by what drafts of this part are known */
  drafts: string;
  /** it lies so */
  taken: boolean;
  /** it is on a bed, or stopped there: it cannot be laid otherwise */
  fixed: boolean;
}) {
  return (
    <>
      {turned.state === 'failed' && picked === 'own' && (
        <Note tone="failure">
          <b>{turned.error.message}</b> {turned.error.hint}
        </Note>
      )}
      {pose && (
        <>
          <ByLog
            printerId={printer?.id}
            seconds={pose.durationS}
            kind={printer?.profile.kind ?? 'filament'}
            colour={body.colour}
          />
          <RiskOf printerId={printer?.id} seconds={pose.durationS} />
          <AdviceOfPart advice={adviceForPart(body, part, pose, printer?.profile ?? {})} />
        </>
      )}
      <BareAndHidden longestMm={longestOf(part.mesh.facts.size)} of={bare} />
      {pose && own && (
        <TipsOfPart
          part={part}
          own={own}
          rotation={pose.rotation}
          printer={asked.printer}
          layerMm={printer?.profile.layerMm ?? figures.layerMm.value}
          bare={asked.bare}
          taken={taken}
        />
      )}
      {pose && (
        <StopsOfPart
          drafts={drafts}
          part={part}
          rotation={pose.rotation}
          printer={asked.printer}
          taken={taken}
          fixed={fixed}
        />
      )}
      {pose && <LayersOfPart part={part} rotation={pose.rotation} printer={asked.printer} />}
    </>
  );
}
