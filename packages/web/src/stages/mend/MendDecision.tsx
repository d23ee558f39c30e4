import { useState } from 'react';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { BodyView } from '@jasmorphe/contracts/views';
import { isSound, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import type { MendParams, MendReport } from '@jasmorphe/core/operations/mend/describe';
import { fixed, secondsText, volumeText } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { CompareTools } from '../../bench/CompareTools.tsx';
import { Decision } from '../../decision/Decision.tsx';
import { LengthField, YesNoField } from '../../decision/Fields.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { laterWords } from '../laterSteps.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';

const ways = ['stitch', 'taut', 'join', 'wrap'] as const;
type Way = (typeof ways)[number];
const names: Record<Way, string> = { stitch: 'Stitch', taut: 'Tight', join: 'Join', wrap: 'Wrap' };
/** Above this the methods are worked out only when asked for. */
const atOnce = 400_000;

type MendFields = Partial<Omit<MendParams, 'method' | 'taut'>>;

/** How shall the skin be closed? */
export function MendDecision({ body }: { body: BodyView }) {
  const length = useLength();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.mend);
  const base = useStageBase(body, after);
  const [old] = useState(() => applied?.step.params ?? {});
  const [fields, setFields] = useState<MendFields>(old);
  const set = (change: Partial<MendFields>) => setFields((f) => ({ ...f, ...change }));
  const [asked, setAsked] = useState(body.mesh.triangles <= atOnce);
  const [picked, setPicked] = useState<number | null>(null);
  const paramsOf = (way: Way): Partial<MendParams> => ({
    ...kept,
    method: way === 'taut' ? 'stitch' : way,
    ...fieldsOf(way, fields),
    ...(way === 'taut' ? { taut: true } : {}),
  });
  const done = applied?.step.report;
  const doneWay: Way | null = done ? (done.method === 'stitch' && done.taut ? 'taut' : done.method) : null;
  const loops = (done ? done.before : body.mesh.facts).openLoops;
  // a tight patch is another answer only where there is something to close
  const methods = ways.filter((w) => w !== 'taut' || loops > 0);
  const unchanged = (m: Way) =>
    doneWay === m && JSON.stringify(fieldsOf(m, fields)) === JSON.stringify(fieldsOf(m, old));
  // once it is done, what was worked out before stays beside it; more only when it is asked for
  const previews = usePreviews(
    body.id,
    base.hash,
    methods.map((m) =>
      asked && !unchanged(m)
        ? ask(catalogue.mend, paramsOf(m), { after, ifKnown: done !== undefined && fields === old })
        : null,
    ),
  );
  const reports = methods.map((m, i) => (unchanged(m) ? done! : reportOf(previews[i], catalogue.mend)));
  // a weaker way that is still being worked out may yet turn out to be enough
  const sound = reports.findIndex((r) => r?.sound);
  const advised = previews.slice(0, Math.max(0, sound)).some((p) => p.state === 'working') ? -1 : sound;
  const appliedIndex = doneWay ? methods.indexOf(doneWay) : -1;
  const chosen = picked ?? (done ? appliedIndex : advised >= 0 ? advised : 0);
  const cell = (of: (r: MendReport) => React.ReactNode) => reports.map((r) => (r ? of(r) : null));
  const afterHash = unchanged(methods[chosen])
    ? applied!.step.outputs[0]
    : previews[chosen].state === 'ready'
      ? previews[chosen].step.outputs[0]
      : null;
  const beforeHash = base.hash;
  const soundAlready = !done && isSound(body.mesh.facts);
  return (
    <Decision
      step={done ? 'Mended' : 'Decision'}
      question={soundAlready ? 'The skin is closed already' : 'How shall the skin be closed?'}
      lead={
        done
          ? `This is what came out. ${laterWords(body, applied!.index, length)}`
          : 'Worked out on this mesh, not guessed. Deviation is of the skin that can be seen.'
      }
      options={methods.map((m, i) => ({ name: names[m], preview: previews[i], taken: unchanged(m) }))}
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
          method: 'of the old skin and what stands for it, two-way; patches are counted apart',
        },
        { label: 'typical', cells: cell((r) => length(r.deviation.meanMm)), method: 'mean over evenly spread samples' },
        ...(reports.some((r) => r?.patches)
          ? [
              {
                label: 'Patches reach',
                cells: cell((r) => (r.patches ? length(r.patches.farthestMm) : '—')),
                method: 'how far what closes a hole lies from the old skin; nothing says where the skin was',
              },
              {
                label: 'and hold',
                cells: cell((r) =>
                  r.patches ? `${r.patches.bulgeMm3 > 0 ? '+' : ''}${volumeText(r.patches.bulgeMm3)}` : '—',
                ),
                method: 'volume beyond a cone from the middle of each rim',
              },
            ]
          : []),
        {
          label: 'Volume',
          cells: cell((r) =>
            r.volumeChangePct === null ? '—' : `${r.volumeChangePct > 0 ? '+' : ''}${fixed(r.volumeChangePct, 2)} %`,
          ),
          method: 'against the volume before, where there was one',
        },
        {
          label: 'Size',
          cells: cell((r) => {
            const most = Object.values(r.sizeChange).reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0);
            return Math.abs(most) < 0.005 ? 'same' : `${most > 0 ? '+' : ''}${length(most, false)}`;
          }),
          method: 'of the side that changes most; crumbs and loose ground count while they are there',
        },
        {
          label: 'Skin buried',
          cells: cell((r) => `${fixed(r.buriedPct, 1)} %`),
          method: 'share of the old triangles that lay inside the body',
        },
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
          label: 'How',
          cells: cell((r) => (
            <span className="howCell">
              {r.parts.map((p) => (
                <span key={p.method}>
                  {p.method} {p.shells}
                </span>
              ))}
            </span>
          )),
          method: 'shells that were kept, united or given a new skin',
        },
        {
          label: 'Takes',
          cells: methods.map((m, i) => {
            const p = previews[i];
            const ms = unchanged(m) ? applied!.step.elapsedMs : p.state === 'ready' ? p.step.elapsedMs : null;
            return ms === null ? null : secondsText(ms / 1000);
          }),
        },
      ]}
      chosen={chosen}
      onChoose={setPicked}
      advised={done ? null : advised}
      advice={
        done ? (
          <>
            <b>{names[doneWay!]}.</b> {done.reason}
          </>
        ) : fields.loops && reports[0] ? (
          <>
            <b>Loops stay open as you wish.</b> {reports[0].reason}
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
          'The ways are being worked out on this mesh.'
        ) : (
          <button type="button" className="plain accent" onClick={() => setAsked(true)}>
            Work out all ways
          </button>
        )
      }
      look={afterHash && !soundAlready && <CompareTools before={beforeHash} after={afterHash} />}
      fields={
        <>
          {loops > 1 && (
            <LoopsField
              before={done?.before ?? body.mesh.facts}
              value={fields.loops}
              onChange={(v) => set({ loops: v })}
            />
          )}
          <LengthField
            label="Close loops up to"
            hint="Longer loops stay open; all are closed if left empty"
            mm={fields.fillLimit ?? null}
            onChange={(v) => set({ fillLimit: v ?? undefined })}
            optional
          />
          <LengthField
            label="Close gaps up to"
            hint="Open edges this near are joined; a wrap closes slots this wide"
            mm={fields.closeGaps ?? null}
            onChange={(v) => set({ closeGaps: v ?? undefined })}
            optional
          />
          <LengthField
            label="Crumbs are under"
            hint="Loose shells smaller than this across are dropped; a fiftieth of the model if left empty (common practice)"
            mm={fields.crumb ?? null}
            onChange={(v) => set({ crumb: v ?? undefined })}
            optional
          />
          <YesNoField
            label="Keep crumbs"
            hint="No loose shell is dropped"
            value={fields.keepCrumbs ?? false}
            onChange={(v) => set({ keepCrumbs: v })}
          />
          <LengthField
            label="Detail of a wrap"
            hint="A three-hundredth of the diagonal if left empty"
            mm={fields.detail ?? null}
            onChange={(v) => set({ detail: v ?? undefined })}
            optional
          />
          <LengthField
            label="Grow a wrap by"
            hint="The new skin lies this far outside the old one, so that parts which nearly touch become one"
            mm={fields.grow ?? null}
            onChange={(v) => set({ grow: v ?? undefined })}
            optional
          />
        </>
      }
      action={{
        label: done
          ? `${names[methods[chosen]]} instead`
          : {
              stitch: 'Stitch the skin',
              taut: 'Stitch with tight patches',
              join: 'Join the skin',
              wrap: 'Wrap a new skin',
            }[methods[chosen]],
        disabled: sending || unchanged(methods[chosen]),
        run: () => run(paramsOf(methods[chosen])),
      }}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}

/** The figures of a method that were given, in one order. */
const fieldsOf = (method: string, f: MendFields): MendFields => ({
  ...(f.loops ? { loops: f.loops } : {}),
  ...(f.fillLimit ? { fillLimit: f.fillLimit } : {}),
  ...(f.closeGaps ? { closeGaps: f.closeGaps } : {}),
  ...(f.crumb ? { crumb: f.crumb } : {}),
  ...(f.keepCrumbs ? { keepCrumbs: true } : {}),
  ...(f.detail && method === 'wrap' ? { detail: f.detail } : {}),
  ...(f.grow && method === 'wrap' ? { grow: f.grow } : {}),
});

/** Which open loops are closed, one by one; those beyond the listed ones go together. */
function LoopsField({
  before,
  value,
  onChange,
}: {
  before: Inspection;
  value: number[] | undefined;
  onChange: (loops: number[] | undefined) => void;
}) {
  const length = useLength();
  const listed = before.findings.filter((f) => f.loop !== undefined).sort((a, b) => a.loop! - b.loop!);
  const rest = Array.from({ length: before.openLoops }, (_, i) => i + 1).slice(listed.length);
  const closes = (n: number) => value === undefined || value.includes(n);
  const toggle = (numbers: number[]) => {
    const now = new Set(value ?? Array.from({ length: before.openLoops }, (_, i) => i + 1));
    const on = numbers.every((n) => now.has(n));
    for (const n of numbers)
      if (on) now.delete(n);
      else now.add(n);
    onChange(now.size === before.openLoops ? undefined : [...now].sort((a, b) => a - b));
  };
  return (
    <fieldset className="loopsField">
      <legend>Open loops to close</legend>
      {listed.map((f) => (
        <label key={f.loop}>
          <input type="checkbox" checked={closes(f.loop!)} onChange={() => toggle([f.loop!])} />
          <span className="figure">
            {f.loop} · {length(f.lengthMm ?? 0)} round
          </span>
        </label>
      ))}
      {rest.length > 0 && (
        <label>
          <input type="checkbox" checked={rest.every(closes)} onChange={() => toggle(rest)} />
          <span className="figure">the other {rest.length}</span>
        </label>
      )}
    </fieldset>
  );
}
