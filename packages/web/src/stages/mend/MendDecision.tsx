import Button from '@mui/material/Button';
import { useState } from 'react';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { MendParams, MendReport } from '@jasmorphe/core/operations/mend/describe';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { CompareTools } from '../../bench/CompareTools.tsx';
import { Decision } from '../../decision/Decision.tsx';
import { elapsedRow, rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ParamFields, ParamLength, ParamYesNo } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { laterWords } from '../laterSteps.ts';
import type { StageProps } from '../Stage.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';
import { LoopsField } from './LoopsField.tsx';

const ways = ['stitch', 'taut', 'join', 'wrap'] as const;
export type MendWay = (typeof ways)[number];
const names: Record<MendWay, string> = { stitch: 'Stitch', taut: 'Tight', join: 'Join', wrap: 'Wrap' };
const deeds: Record<MendWay, string> = {
  stitch: 'Stitch the skin',
  taut: 'Stitch with tight patches',
  join: 'Join the skin',
  wrap: 'Wrap a new skin',
};
/** Above this the methods are worked out only when asked for. */
const atOnce = 400_000;

type Given = Partial<Omit<MendParams, 'method' | 'taut'>>;

/** The figures of a way that were given, in one order. */
export const givenOf = (way: MendWay, f: Given): Given => ({
  ...(f.loops ? { loops: f.loops } : {}),
  ...(f.fillLimit ? { fillLimit: f.fillLimit } : {}),
  ...(f.closeGaps ? { closeGaps: f.closeGaps } : {}),
  ...(f.crumb ? { crumb: f.crumb } : {}),
  ...(f.keepCrumbs ? { keepCrumbs: true } : {}),
  ...(f.detail && way === 'wrap' ? { detail: f.detail } : {}),
  ...(f.grow && way === 'wrap' ? { grow: f.grow } : {}),
});

/** The way that a step went. */
export const wayOf = (r: MendReport): MendWay => (r.method === 'stitch' && r.taut ? 'taut' : r.method);

/** How shall the skin be closed? */
export function MendDecision({ body }: StageProps) {
  const length = useLength();
  const say = useSpeaker();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.mend);
  const base = useStageBase(body, after);
  const old: Partial<MendParams> = applied?.step.params ?? {};
  const form = useParamsForm(catalogue.mend.params, old);
  const given: Given = form.values;
  const [asked, setAsked] = useState(body.mesh.triangles <= atOnce);
  const [picked, setPicked] = useState<number | null>(null);
  const paramsOf = (way: MendWay): Partial<MendParams> => ({
    ...kept,
    method: way === 'taut' ? 'stitch' : way,
    ...givenOf(way, given),
    ...(way === 'taut' ? { taut: true } : {}),
  });
  const done = applied?.step.report;
  const doneWay = done ? wayOf(done) : null;
  const before = done ? done.before : body.mesh.facts;
  // a tight patch is another answer only where there is something to close
  const methods = ways.filter((w) => w !== 'taut' || before.openLoops > 0);
  const same = (way: MendWay) => JSON.stringify(givenOf(way, given)) === JSON.stringify(givenOf(way, old));
  const unchanged = (way: MendWay) => doneWay === way && same(way);
  // once it is done, what was worked out before stays beside it; more only when it is asked for
  const previews = usePreviews(
    body.id,
    base.hash,
    methods.map((m) =>
      asked && !unchanged(m)
        ? ask(catalogue.mend, paramsOf(m), { after, ifKnown: done !== undefined && ways.every(same) })
        : null,
    ),
  );
  const reports = methods.map((m, i) => (unchanged(m) ? done! : reportOf(previews[i], catalogue.mend)));
  // a weaker way that is still being worked out may yet turn out to be enough
  const sound = reports.findIndex((r) => r?.sound);
  const advised = previews.slice(0, Math.max(0, sound)).some((p) => p.state === 'working') ? -1 : sound;
  const chosen = picked ?? (doneWay ? methods.indexOf(doneWay) : Math.max(0, advised));
  const way = methods[chosen];
  const preview = previews[chosen];
  const afterHash = unchanged(way)
    ? applied!.step.outputs[0]
    : preview.state === 'ready'
      ? preview.step.outputs[0]
      : null;
  const soundAlready = !done && isSound(body.mesh.facts);
  const advice = () => {
    if (done) return [`${names[doneWay!]}.`, done.reason];
    if (given.loops && reports[0]) return ['Loops stay open as you wish.', reports[0].reason];
    if (soundAlready) return ['Nothing to mend.', 'No open edge, no crossing. You can go on to Size.'];
    if (advised >= 0) return [`${names[methods[advised]]} is advised.`, reports[advised]!.reason];
    return asked ? ['', 'The ways are being worked out on this mesh.'] : null;
  };
  const said = advice();
  return (
    <Decision
      step={done ? 'Mended' : 'Decision'}
      question={soundAlready ? 'The skin is closed already' : 'How shall the skin be closed?'}
      lead={
        done
          ? `This is what came out. ${laterWords(body, applied.index, say)}`
          : 'Worked out on this mesh, not guessed. Deviation is of the skin that can be seen.'
      }
      options={methods.map((m, i) => ({ name: names[m], preview: previews[i], taken: unchanged(m) }))}
      rows={[
        ...rowsOf(catalogue.mend, reports, { ...say, length: (mm) => length(mm, false) }),
        elapsedRow(previews, (i) => (unchanged(methods[i]) ? applied!.step.elapsedMs : null)),
      ]}
      chosen={chosen}
      onChoose={setPicked}
      advised={done ? null : advised}
      advice={
        said ? (
          <>
            <b>{said[0]}</b> {said[1]}
          </>
        ) : (
          <Button variant="text" onClick={() => setAsked(true)}>
            Work out all ways
          </Button>
        )
      }
      look={afterHash && !soundAlready && <CompareTools before={base.hash} after={afterHash} />}
      fields={
        <ParamFields of={form}>
          {before.openLoops > 1 && (
            <LoopsField before={before} value={given.loops} onChange={(loops) => form.set({ loops })} />
          )}
          <ParamLength name="fillLimit" label="Close loops up to" />
          <ParamLength name="closeGaps" label="Close gaps up to" />
          <ParamLength name="crumb" label="Crumbs are under" />
          <ParamYesNo name="keepCrumbs" label="Keep crumbs" />
          <ParamLength name="detail" label="Detail of a wrap" />
          <ParamLength name="grow" label="Grow a wrap by" />
        </ParamFields>
      }
      action={{
        label: done ? `${names[way]} instead` : deeds[way],
        disabled: sending || unchanged(way),
        run: () => run(paramsOf(way)),
      }}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
