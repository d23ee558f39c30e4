import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { countOf } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';

/** What is known of the layout so far, and what planning it will need. */
export function LayoutDecision({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
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
      <table className="consequences">
        <thead>
          <tr>
            <th>Printer</th>
            <th>Bed</th>
            <th>Kind</th>
          </tr>
        </thead>
        <tbody>
          {printers.map((p) => (
            <tr key={p.id}>
              <th scope="row">{p.profile.name}</th>
              <td className="figure">{p.profile.bedMm.map((x) => length(x, false).replace(/\.0$/, '')).join(' × ')}</td>
              <td>{p.profile.kind}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!report && <div className="warningBox advice">Divide the model first, or export it whole from the bench.</div>}
    </section>
  );
}
