import { useState } from 'react';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import type { DivideParams, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { bestLie, cellsFor, gridCuts, type CutAt } from '@jasmorphe/core/operations/divide/grid';
import { joinKinds, type JoinKind } from '@jasmorphe/core/operations/divide/joinKinds';
import { roomOf } from '@jasmorphe/core/planning/room';
import { figures } from '@jasmorphe/core/trade/figures';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { countOf, fixed, secondsText, whole } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../../app/Boundary.tsx';
import { usePrinter } from '../../app/usePrinter.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField, YesNoField } from '../../decision/Fields.tsx';
import { proofCell, proofMethod } from '../../decision/proofCell.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';

const AreaProfile = lazyPart(() => import('./AreaProfile.tsx'));

const usualBeds: { id: string; name: string; bed: [number, number, number] }[] = [
  { id: '', name: 'Usual bed', bed: [220, 220, 250] },
];

const joinWords: Record<JoinKind, string> = {
  none: 'glue only',
  pin: 'pins',
  dowel: 'dowels',
  key: 'square keys',
  magnet: 'magnets 6 × 2',
};

/** On which bed, and where shall it be cut? */
export function DivideDecision({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.divide);
  const base = useStageBase(body, after);
  const { printer, choose } = usePrinter(printers);
  const done = applied?.step.report;
  const old: Partial<DivideParams> = applied?.step.params ?? {};
  const all =
    printers.length > 0 ? printers.map((p) => ({ id: p.id, name: p.profile.name, bed: p.profile.bedMm })) : usualBeds;
  // three side by side: the one thought of, then the others in their order; the rest by the field below
  const beds = [...all.filter((b) => b.id === printer?.id), ...all.filter((b) => b.id !== printer?.id)].slice(0, 3);
  const [margin, setMargin] = useState(old.margin ?? figures.bedMarginMm.value);
  const [join, setJoin] = useState<JoinKind>(old.join ?? 'pin');
  const [clearance, setClearance] = useState(old.clearance ?? figures.fitClearanceMm.value);
  const [labels, setLabels] = useState(old.labels ?? true);
  const [asked, setAsked] = useState(false);
  const facts = base.facts ?? body.mesh.facts;
  const size: Vec3 = [facts.size.x, facts.size.y, facts.size.z];
  const cells = beds.map(({ bed }) => {
    try {
      return cellsFor(size, bestLie(size, roomOf(bed, margin)));
    } catch {
      return null;
    }
  });
  const fewest = cells.reduce<number>(
    (best, c, i) => (c !== null && (cells[best] === null || c < cells[best]!) ? i : best),
    0,
  );
  const doneIndex = done ? beds.findIndex((b) => b.bed.join() === old.bed?.join()) : -1;
  const [picked, setPicked] = useState<number | null>(null);
  const chosen = picked ?? (doneIndex >= 0 ? doneIndex : fewest);
  // what this card does not show, such as cuts of one's own, is kept as it was
  const paramsOf = (i: number) => ({
    plan: 'auto' as const,
    ...kept,
    bed: beds[i].bed,
    margin,
    join,
    clearance,
    labels,
  });
  const unchanged = (i: number) =>
    done !== undefined &&
    i === doneIndex &&
    margin === (old.margin ?? margin) &&
    join === (old.join ?? join) &&
    clearance === (old.clearance ?? clearance) &&
    labels === (old.labels ?? labels);
  // what was worked out before the step was done stays beside it
  const previews = usePreviews(
    body.id,
    base.hash,
    beds.map((_, i) =>
      (asked || done) && !unchanged(i) ? ask(catalogue.divide, paramsOf(i), { after, ifKnown: !asked }) : null,
    ),
  );
  const reports = beds.map((_, i) => (unchanged(i) ? done! : reportOf(previews[i], catalogue.divide)));
  const cell = (of: (r: DivideReport) => React.ReactNode) => reports.map((r) => (r ? of(r) : null));
  const tiny = (r: DivideReport) => r.parts.filter((p) => longestOf(p.size) < figures.sliverMm.value).length;
  // the cuts as they are, or as the even grid would put them
  const planned: CutAt[] = done
    ? done.cuts.map((c) => ({ axis: c.axis, mm: c.offset }))
    : cells[chosen] === null
      ? []
      : gridCuts([facts.min.x, facts.min.y, facts.min.z], size, bestLie(size, roomOf(beds[chosen].bed, margin)));
  const ready = isSound(facts) || facts.watertight;
  return (
    <Decision
      step={done ? 'Divided' : 'Decision'}
      question="Where shall it be cut?"
      lead={
        ready
          ? `Even planes for ${beds[chosen].name}, ${beds[chosen].bed.map((x) => length(x, false).replace(/\.0$/, '')).join(' × ')}, lying whichever way needs the fewest cells.`
          : 'The skin must be closed before it can be cut.'
      }
      options={beds.map((b, i) => ({ name: b.name, preview: previews[i], taken: unchanged(i) }))}
      rows={[
        {
          label: 'Cells',
          cells: cells.map((c) => (c === null ? 'no room' : whole(c))),
          method: 'from the overall size; lumps in one cell become parts of their own',
        },
        { label: 'Parts', cells: cell((r) => whole(r.parts.length)) },
        {
          label: 'Fit the bed',
          cells: cell((r) =>
            r.parts.every((p) => p.fits) ? (
              'all'
            ) : (
              <span className="cellFailed">{whole(r.parts.filter((p) => p.fits).length)}</span>
            ),
          ),
        },
        { label: 'Slivers', cells: cell((r) => whole(tiny(r))), method: 'parts under 15 mm across' },
        {
          label: 'Glue area',
          cells: cell((r) => `${fixed(r.cuts.reduce((n, c) => n + c.areaMm2, 0) / 100, 0)} cm²`),
          method: 'area of the model in the planes of the cuts',
        },
        { label: 'Sound solids', cells: reports.map((r) => proofCell(r?.proof)), method: proofMethod },
        { label: 'Joins', cells: cell((r) => whole(r.parts.reduce((n, p) => n + p.joins.length, 0) / 2)) },
        {
          label: 'Takes',
          cells: beds.map((_, i) => {
            const p = previews[i];
            const ms = unchanged(i) ? applied!.step.elapsedMs : p.state === 'ready' ? p.step.elapsedMs : null;
            return ms === null ? null : secondsText(ms / 1000);
          }),
        },
      ]}
      chosen={chosen}
      onChoose={setPicked}
      advised={fewest}
      advice={
        done ? (
          <>
            <b>{countOf(done.parts.length, 'part')}.</b> {done.reason}{' '}
            {tiny(done) > 0 && `${tiny(done)} ${tiny(done) === 1 ? 'is a sliver' : 'are slivers'} under 15 mm.`}
          </>
        ) : (
          <>
            <b>{beds[fewest].name} needs the fewest.</b> Fewer parts mean fewer seams, and more lost when one fails.{' '}
            {!asked && ready && (
              <button type="button" className="plain accent" onClick={() => setAsked(true)}>
                Work them out
              </button>
            )}
          </>
        )
      }
      fields={
        <>
          {all.length > 1 && (
            <ChoiceField
              label="Printer"
              value={beds[chosen].id}
              onChange={(id) => {
                choose(id);
                setPicked(0);
              }}
              choices={all.map((b) => ({ value: b.id, text: b.name }))}
            />
          )}
          <AreaProfile hash={base.hash} cuts={planned} />
          <ChoiceField
            label="Joins"
            value={join}
            onChange={setJoin}
            choices={joinKinds.map((k) => ({ value: k, text: joinWords[k] }))}
          />
          {join !== 'none' && (
            <LengthField
              label="Gap a side"
              hint={figures.fitClearanceMm.reason}
              mm={clearance}
              onChange={(v) => v !== null && setClearance(v)}
              zero
            />
          )}
          <LengthField
            label="Edge kept free"
            hint={figures.bedMarginMm.reason}
            mm={margin}
            onChange={(v) => v !== null && setMargin(v)}
            zero
          />
          <YesNoField label="Tags on cut faces" value={labels} onChange={setLabels} />
        </>
      }
      action={{
        label: done
          ? 'Cut it so instead'
          : cells[chosen] === 1
            ? `Print it whole on ${beds[chosen].name}`
            : `Cut for ${beds[chosen].name}`,
        disabled: !ready || sending || cells[chosen] === null || unchanged(chosen),
        run: () => run(paramsOf(chosen)),
      }}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
