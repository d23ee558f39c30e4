import { isStopped } from '@jasmorphe/core/planning/printState';
import type { StageProps } from '../Stage.ts';
import { useHeldPart } from '../useHeldPart.ts';
import { AtTheMachine } from './AtTheMachine.tsx';
import { BedfulsHere } from './BedfulsHere.tsx';
import { partInHand } from './partInHand.ts';
import { PrintLog } from './PrintLog.tsx';
import { RecutDesk } from './RecutDesk.tsx';

/** The print stop: states of the parts, the log, and what to do with a part that stopped. */
export function PrintDecision({ body, printers }: StageProps) {
  const part = useHeldPart((picked) => partInHand(body, picked));
  if (!part)
    return (
      <>
        <section className="decision" aria-label="Decision">
          <div className="label accent">Print</div>
          <h2 className="question">There is nothing to print yet</h2>
          <p className="lead" data-testid="later">
            Divide the model into parts that fit a bed; what fits whole becomes one part. Each is then started, passed
            or stopped at a height here.
          </p>
        </section>
        <PrintLog body={body} />
      </>
    );
  const Desk = isStopped(part) ? RecutDesk : AtTheMachine;
  return (
    <>
      <BedfulsHere body={body} />
      <Desk key={part.id + part.mesh.hash} part={part} body={body} printers={printers} />
      <PrintLog body={body} />
    </>
  );
}
