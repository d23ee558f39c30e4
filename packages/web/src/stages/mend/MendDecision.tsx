import { useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { isSound } from '@jasmorphe/core/mesh/inspect';
import type { MendReport } from '@jasmorphe/core/operations/mend/mend';
import { fixed, secondsText } from '../../app/figures.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { LengthField, YesNoField } from '../../decision/Fields.tsx';
import { reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { useStep } from '../useStep.ts';

const methods = ['stitch', 'join', 'wrap'] as const;
const names = { stitch: 'Stitch', join: 'Join', wrap: 'Wrap' };
/** Above this the methods are worked out only when asked for. */
const atOnce = 400_000;

/** How shall the skin be closed? */
export function MendDecision({ body }: { body: BodyView }) {
  const length = useLength();
  const { run, applied, sending } = useStep(body, 'mend', 'mend');
  const [fillLimit, setFillLimit] = useState<number | null>(
    (applied?.step.params as { fillLimit?: number } | undefined)?.fillLimit ?? null,
  );
  const [keepCrumbs, setKeepCrumbs] = useState(
    Boolean((applied?.step.params as { keepCrumbs?: boolean } | undefined)?.keepCrumbs),
  );
  const [detail, setDetail] = useState<number | null>(
    (applied?.step.params as { detail?: number } | undefined)?.detail ?? null,
  );
  const [asked, setAsked] = useState(body.mesh.triangles <= atOnce);
  const [picked, setPicked] = useState<number | null>(null);
  const paramsOf = (method: string) => ({
    method,
    keepCrumbs,
    ...(fillLimit ? { fillLimit } : {}),
    ...(detail && method === 'wrap' ? { detail } : {}),
  });
  const working = asked && !applied;
  const previews = usePreviews(
    body.id,
    body.mesh.hash,
    methods.map((m) => (working ? { operation: 'mend', params: paramsOf(m) } : null)),
  );
  const done = applied?.step.report as MendReport | undefined;
  const reports = methods.map((m, i) => (done ? (done.method === m ? done : null) : reportOf<MendReport>(previews[i])));
  const advised = reports.findIndex((r) => r?.sound);
  const appliedIndex = done ? methods.indexOf(done.method) : -1;
  const chosen = picked ?? (done ? appliedIndex : advised >= 0 ? advised : 0);
  const cell = (of: (r: MendReport) => React.ReactNode) => reports.map((r) => (r ? of(r) : null));
  const soundAlready = !done && isSound(body.mesh.facts);
  return (
    <Decision
      step={done ? 'Mended' : 'Decision'}
      question={soundAlready ? 'The skin is closed already' : 'How shall the skin be closed?'}
      lead={
        done
          ? 'This is what came out. Another method or figure replays the steps after it.'
          : 'Worked out on this mesh, not guessed. Deviation is of the skin that can be seen.'
      }
      options={methods.map((m, i) => ({ name: names[m], preview: done ? undefined : previews[i] }))}
      rows={[
        {
          label: 'Valid solid',
          cells: cell((r) => (r.sound ? 'yes' : <span className="cellFailed">no</span>)),
          method: 'closed, consistently turned, free of crossings; exact predicates',
        },
        {
          label: 'Triangles kept',
          cells: cell((r) => `${fixed(r.untouchedPct, 1)} %`),
          method: 'share of the old triangles with the same three corners',
        },
        {
          label: 'Deviation, worst',
          cells: cell((r) => length(r.deviation.maxMm)),
          method: 'two-way distance at samples and corners',
        },
        { label: 'typical', cells: cell((r) => length(r.deviation.meanMm)), method: 'mean over evenly spread samples' },
        { label: 'Holes closed', cells: cell((r) => String(r.stitched.holesFilled)) },
        {
          label: 'Dropped',
          cells: cell((r) => String(r.stitched.crumbsDropped + r.stitched.sheetsDropped)),
          method: 'crumbs, and loose sheets such as the ground of a scan',
        },
        {
          label: 'Bodies',
          cells: cell((r) => String(r.after.shells)),
          method: 'skins that share no edge: separate bodies and cavities',
        },
        {
          label: 'Takes',
          cells: methods.map((_, i) =>
            done && i === appliedIndex
              ? secondsText(applied!.step.elapsedMs / 1000)
              : previews[i].state === 'ready'
                ? secondsText(previews[i].step.elapsedMs / 1000)
                : null,
          ),
        },
      ]}
      chosen={chosen}
      onChoose={setPicked}
      advised={done ? null : advised}
      advice={
        done ? (
          <>
            <b>{names[done.method]}.</b> {done.reason}
          </>
        ) : soundAlready ? (
          <>
            <b>Nothing to mend.</b> No open edge, no crossing. You can go on to Size.
          </>
        ) : advised >= 0 ? (
          <>
            <b>{names[methods[advised]]} is advised.</b> {reports[advised]!.reason}
          </>
        ) : asked ? (
          'The three methods are being worked out on this mesh.'
        ) : (
          <button type="button" className="plain accent" onClick={() => setAsked(true)}>
            Work out the three methods
          </button>
        )
      }
      fields={
        <>
          <LengthField
            label="Close loops up to"
            hint="Longer loops stay open; all are closed if left empty"
            mm={fillLimit}
            onChange={setFillLimit}
            optional
          />
          <LengthField
            label="Detail of a wrap"
            hint="A two-hundredth of the diagonal if left empty"
            mm={detail}
            onChange={setDetail}
            optional
          />
          <YesNoField
            label="Keep crumbs"
            hint="Shells under a fiftieth of the model across are dropped otherwise (common practice)"
            value={keepCrumbs}
            onChange={setKeepCrumbs}
          />
        </>
      }
      action={{
        label: done
          ? `${names[methods[chosen]]} instead`
          : { stitch: 'Stitch the skin', join: 'Join the skin', wrap: 'Wrap a new skin' }[methods[chosen]],
        disabled:
          sending ||
          (done !== undefined &&
            JSON.stringify(paramsOf(methods[chosen])) === JSON.stringify(cleaned(applied!.step.params))),
        run: () => run(paramsOf(methods[chosen])),
      }}
      busy={body.busyJobId !== null}
    />
  );
}

const cleaned = (p: Record<string, unknown>) => ({
  method: p.method,
  keepCrumbs: p.keepCrumbs,
  ...(p.fillLimit ? { fillLimit: p.fillLimit } : {}),
  ...(p.detail ? { detail: p.detail } : {}),
});
