import { countOf } from '@jasmorphe/core/words/numbers';
import { Note } from '../../ui/Note.tsx';
import type { StageProps } from '../Stage.ts';

/** What finishing will need; the cautions that hold in any case. */
export function FinishDecision({ body }: StageProps) {
  const printed = body.parts.filter((p) => p.state === 'printed');
  return (
    <section className="decision" aria-label="Decision">
      <div className="label accent">Finish</div>
      <h2 className="question">
        {printed.length > 0
          ? `${countOf(printed.length, 'part')} ${printed.length === 1 ? 'is' : 'are'} off the bed`
          : 'Nothing is off the bed yet'}
      </h2>
      <p className="lead" data-testid="later">
        The order of assembly, glue, filling and paint is not planned here yet: that will need the joins of the divide
        step and which seams will show.
      </p>
      <Note>
        <b>Before sanding:</b> dust of resin above all harms the lungs: sand wet, wear a respirator. Cyanoacrylate:
        ventilation, eyes, never on cotton or wool. What is worn needs sight, breath and no sharp edges.
      </Note>
      <p className="foot">
        Defer to product data sheets and local codes. Anything people stand on or under, or hung over them, is work for
        a licensed professional.
      </p>
    </section>
  );
}
