import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { countOf } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { FigureTable } from '../../ui/FigureTable.tsx';
import { Note } from '../../ui/Note.tsx';
import type { StageProps } from '../Stage.ts';

/** What is known of the layout so far, and what planning it will need. */
export function LayoutDecision({ body, printers }: StageProps) {
  const length = useLength();
  const report = lastStepOf(body.line, body.cursor, catalogue.divide)?.report;
  return (
    <section className="decision" aria-label="Decision">
      <div className="label accent">Lay out</div>
      <h2 className="question">
        {report
          ? `${countOf(report.parts.length, 'part')} ${report.parts.length === 1 ? 'waits' : 'wait'} for a bed`
          : 'There are no parts yet'}
      </h2>
      <p className="lead" data-testid="later">
        Poses, supports, bedfuls and hours are not planned here yet: that will need the printers below, a material for
        each part, and your own failure rate from the log.
      </p>
      <FigureTable
        label="Printers"
        heads={['Printer', 'Bed', 'Kind']}
        rows={printers.map(({ id, profile }) => ({
          key: id,
          cells: [
            profile.name,
            profile.bedMm.map((x) => length(x, false).replace(/\.0$/, '')).join(' × '),
            profile.kind,
          ],
        }))}
      />
      {!report && <Note tone="advice">Divide the model first, or fetch it whole from the bench.</Note>}
    </section>
  );
}
