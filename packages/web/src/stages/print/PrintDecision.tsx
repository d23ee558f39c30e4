import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { lazyPart } from '../../app/Boundary.tsx';
import type { StageProps } from '../Stage.ts';
import { useHeldPart } from '../useHeldPart.ts';
import { AtTheMachine } from './AtTheMachine.tsx';
import { PrintLog } from './PrintLog.tsx';
import { RecutDesk } from './RecutDesk.tsx';

// the forms of a bedful come once the stop is there
const BedfulsHere = lazyPart(async () => ({ default: (await import('./BedfulsHere.tsx')).BedfulsHere }));

/** The part that the print stop is about: the one picked, or else what needs a hand most. */
export function partInHand(body: BodyView, picked: string | null): PartView | undefined {
  const first = (state: PartView['state']) => body.parts.find((p) => p.state === state);
  return (
    body.parts.find((p) => p.id === picked) ??
    first('failed') ??
    first('printing') ??
    body.parts.find((p) => p.rests > 0 && p.state === 'planned') ??
    first('planned') ??
    body.parts[0]
  );
}

/** The print stop: states of the parts, the log, and what to do with a part that stopped. */
export function PrintDecision({ body, printers }: StageProps) {
  const part = useHeldPart((picked) => partInHand(body, picked));
  if (!part)
    return (
      <section className="decision" aria-label="Decision">
        <div className="label accent">Print</div>
        <h2 className="question">There is nothing to print yet</h2>
        <p className="lead" data-testid="later">
          Divide the model into parts that fit a bed; what fits whole becomes one part. Each is then started, passed or
          stopped at a height here.
        </p>
      </section>
    );
  const Desk = part.state === 'failed' ? RecutDesk : AtTheMachine;
  return (
    <>
      <BedfulsHere body={body} />
      <Desk key={part.id + part.mesh.hash} part={part} body={body} printers={printers} />
      <PrintLog body={body} />
    </>
  );
}
