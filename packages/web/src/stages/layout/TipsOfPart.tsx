import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useEffect, useMemo, useState } from 'react';
import { tipKey } from '@jasmorphe/contracts/reading/poses';
import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { catalogue, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { tipReasonWords } from '@jasmorphe/core/operations/tips/describe';
import { tipSizes } from '@jasmorphe/core/trade/tipSizes';
import { countOf, whole } from '@jasmorphe/core/words/numbers';
import { hrefOf } from '../../app/addresses.ts';
import { useTickTipMutation } from '../../app/api.ts';
import { useKeys } from '../../app/keys.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { pickFinding, showTips, stepLayers, stepTips } from '../../bench/benchSlice.ts';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { JobPhase } from '../../jobs/JobProgress.tsx';
import { Note } from '../../ui/Note.tsx';
import { Actions, Block, FetchLine } from '../../ui/layout.ts';

type Report = ReportOf<'tips'>;

/** The bench draws so many at most; the first from the bed up. */
const mostShown = 600;

/** How many of each size there are: "3 fine, 20 middling". */
const sizesOf = ({ tips }: Pick<Report, 'tips'>): string =>
  tipSizes
    .map((size) => ({ size, n: tips.filter((t) => t.size === size).length }))
    .filter(({ n }) => n > 0)
    .map(({ size, n }) => `${whole(n)} ${size}`)
    .join(', ');

/** Tips that are stepped through, one after the other, from the bed up. */
function Steps({ report, part, own, layerMm }: { report: Report; part: PartView; own: BodyView; layerMm: number }) {
  const dispatch = useAppDispatch();
  const say = useSpeaker();
  const { length } = say;
  const shown = useAppSelector((s) => (s.bench.tips?.partId === part.id ? s.bench.tips : null));
  const [tick, ticking] = useTickTipMutation();
  const { tips } = report;
  const done = useMemo(() => new Set(own.tipsDone), [own.tipsDone]);
  const keys = useMemo(() => tips.map((t) => tipKey(part.mesh.hash, t.at)), [tips, part.mesh.hash]);
  const left = keys.filter((k) => !done.has(k)).length;
  const at = shown?.at ?? 0;
  useEffect(() => {
    const list = tips.slice(0, mostShown).map((t, i) => ({
      key: keys[i],
      at: [t.at.x, t.at.y, t.at.z] as [number, number, number],
      done: done.has(keys[i]),
    }));
    dispatch(showTips({ partId: part.id, list, layerMm }));
  }, [tips, keys, done, layerMm, part.id, dispatch]);
  useEffect(() => () => void dispatch(showTips(null)), [dispatch]);
  const flip = () => {
    if (!ticking.isLoading) void tick({ partId: part.id, key: keys[at], done: !done.has(keys[at]) });
  };
  useKeys('findings', {
    next: () => dispatch(stepTips(1)),
    previous: () => dispatch(stepTips(-1)),
    letGo: () => dispatch(pickFinding(null)),
  });
  useKeys('tips', { tick: flip });
  const tip = tips[at];
  if (!tip) return <p className="quiet">{catalogue.tips.words.says?.(report, say)}</p>;
  return (
    <>
      <p data-testid="tip">
        <b>
          Tip {whole(at + 1)} of {whole(tips.length)}
        </b>{' '}
        {tip.size}, {tipReasonWords[tip.reason]}; layer {whole(tip.layer + 1)}, {length(tip.zMm)} up
        {tip.overPart && ', over the part itself'}. {whole(left)} not looked at yet.
      </p>
      <Actions role="group" aria-label="Tips">
        <Button variant="outlined" onClick={() => dispatch(stepTips(-1))}>
          Back
        </Button>
        <Button variant="outlined" onClick={() => dispatch(stepTips(1))}>
          Next
        </Button>
        <Button variant="outlined" aria-pressed={done.has(keys[at])} disabled={ticking.isLoading} onClick={flip}>
          {done.has(keys[at]) ? 'Looked at' : 'Tick off'}
        </Button>
        <Button variant="text" onClick={() => dispatch(stepLayers(-1))} aria-label="One layer down">
          layer −
        </Button>
        <Button variant="text" onClick={() => dispatch(stepLayers(1))} aria-label="One layer up">
          layer +
        </Button>
      </Actions>
    </>
  );
}

/** Support tips of a part as it lies: how many of each size, one by one on the bench, and a file with struts under them. */
export function TipsOfPart({
  part,
  own,
  rotation,
  printer,
  layerMm,
  bare,
  taken,
}: {
  part: PartView;
  own: BodyView;
  rotation: number[][];
  printer: ParamsOf<'tips'>['printer'];
  layerMm: number;
  /** where no support may stand */
  bare: ParamsOf<'tips'>['bare'];
  /** it lies so already: its file can be fetched */
  taken: boolean;
}) {
  const [open, setOpen] = useState(false);
  const params = {
    rotation: rotation as ParamsOf<'tips'>['rotation'],
    ...(printer ? { printer } : {}),
    ...(bare ? { bare } : {}),
  };
  const [found] = usePreviews(part.id, part.mesh.hash, [open ? ask(catalogue.tips, params) : null]);
  const report = reportOf(found, catalogue.tips);
  const withStruts = (struts: 'bed' | 'part') =>
    hrefOf('GET /bodies/{id}/export', { id: part.id }, { format: '3mf', pose: 'bed', struts });
  return (
    <Block aria-label="Support tips">
      <div className="label">Support tips</div>
      {report && report.tips.length > 0 && (
        <p className="figure">
          {countOf(report.tips.length, 'tip')}: {sizesOf(report)}
        </p>
      )}
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Close the list' : 'Step through where support must touch'}
      </Button>
      {open && found.state === 'working' && <JobPhase jobId={found.jobId} before="Looking under overhangs" />}
      {open && found.state === 'failed' && (
        <Note tone="failure">
          <b>{found.error.message}</b> {found.error.hint}
        </Note>
      )}
      {open && report && <Steps key={report.tips.length} report={report} part={part} own={own} layerMm={layerMm} />}
      {taken && (
        <FetchLine>
          Fetch {part.tag} with struts
          <Link href={withStruts('bed')} underline="hover" download>
            that stand on the bed
          </Link>
          <Link href={withStruts('part')} underline="hover" download>
            or on the part too
          </Link>
        </FetchLine>
      )}
    </Block>
  );
}
