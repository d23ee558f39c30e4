import Button from '@mui/material/Button';
import { useState } from 'react';
import type { PrinterView } from '@jasmorphe/contracts/views';
import { isSound, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { sliversOf, type DivideParams, type DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { bestLie, cellsFor, gridCuts, type CutAt } from '@jasmorphe/core/operations/divide/grid';
import { joinKinds, type JoinKind } from '@jasmorphe/core/operations/divide/joinKinds';
import { roomOf } from '@jasmorphe/core/planning/room';
import { figures } from '@jasmorphe/core/trade/figures';
import { countOf, whole } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../../app/Boundary.tsx';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Decision } from '../../decision/Decision.tsx';
import { elapsedRow, rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ParamChoice, ParamFields, ParamLength, ParamYesNo } from '../../forms/ParamFields.tsx';
import { PrinterField } from '../../forms/PrinterField.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import type { StageProps } from '../Stage.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';

const AreaProfile = lazyPart(() => import('./AreaProfile.tsx'));

interface BedChoice {
  id: string;
  name: string;
  bed: [number, number, number];
}

/** How many beds stand side by side; the rest by the field below. */
const sideBySide = 3;
const usualBed: BedChoice = { id: '', name: 'Usual bed', bed: [220, 220, 250] };

const joinWords: Record<JoinKind, string> = {
  none: 'glue only',
  pin: 'pins',
  dowel: 'dowels',
  key: 'square keys',
  magnet: 'magnets 6 × 2',
};

/** Beds to cut for: the one thought of, then the others in their order. */
export function bedsOf(printers: readonly PrinterView[], first: string | undefined): BedChoice[] {
  const all = printers.map((p) => ({ id: p.id, name: p.profile.name, bed: p.profile.bedMm }));
  if (all.length === 0) return [usualBed];
  return [...all.filter((b) => b.id === first), ...all.filter((b) => b.id !== first)].slice(0, sideBySide);
}

const sizeOf = ({ size }: Inspection): Vec3 => [size.x, size.y, size.z];

/** How many cells of the bed's room the size takes; null where it has no room at all. */
export function cellsOn(size: Vec3, bed: [number, number, number], margin: number): number | null {
  try {
    return cellsFor(size, bestLie(size, roomOf(bed, margin)));
  } catch {
    return null;
  }
}

/** The place of the fewest; 0 where none is known. */
export const fewestOf = (cells: readonly (number | null)[]): number =>
  cells.reduce<number>((best, c, i) => (c !== null && (cells[best] === null || c < cells[best]) ? i : best), 0);

/** The cuts as they are, or as the even grid would put them. */
function cutsOf(done: DivideReport | undefined, facts: Inspection, bed: BedChoice, margin: number): CutAt[] {
  if (done) return done.cuts.map((c) => ({ axis: c.axis, mm: c.offset }));
  const size = sizeOf(facts);
  return cellsOn(size, bed.bed, margin) === null
    ? []
    : gridCuts([facts.min.x, facts.min.y, facts.min.z], size, bestLie(size, roomOf(bed.bed, margin)));
}

/** On which bed, and where shall it be cut? */
export function DivideDecision({ body, printers }: StageProps) {
  const length = useLength();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.divide);
  const base = useStageBase(body, after);
  const { printer, choose } = usePrinter(printers);
  const done = applied?.step.report;
  const old: Partial<DivideParams> = applied?.step.params ?? {};
  const beds = bedsOf(printers, printer?.id);
  const form = useParamsForm(catalogue.divide.params, { ...catalogue.divide.begins, ...old });
  const { margin, join, clearance, labels } = form.values;
  const [asked, setAsked] = useState(false);
  const facts = base.facts ?? body.mesh.facts;
  const cells = beds.map(({ bed }) => cellsOn(sizeOf(facts), bed, margin));
  const fewest = fewestOf(cells);
  const doneIndex = done ? beds.findIndex((b) => b.bed.join() === old.bed?.join()) : -1;
  const [picked, setPicked] = useState<number | null>(null);
  const chosen = picked ?? (doneIndex >= 0 ? doneIndex : fewest);
  const bed = beds[chosen];
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
  const slivers = done ? sliversOf(done.parts).length : 0;
  const ready = isSound(facts) || facts.watertight;
  return (
    <Decision
      step={done ? 'Divided' : 'Decision'}
      question="Where shall it be cut?"
      lead={
        ready
          ? `Even planes for ${bed.name}, ${bed.bed.map((x) => length(x, false).replace(/\.0$/, '')).join(' × ')}, lying whichever way needs the fewest cells.`
          : 'The skin must be closed before it can be cut.'
      }
      options={beds.map((b, i) => ({ name: b.name, preview: previews[i], taken: unchanged(i) }))}
      rows={[
        {
          label: 'Cells',
          cells: cells.map((c) => (c === null ? 'no room' : whole(c))),
          method: 'from the overall size; lumps in one cell become parts of their own',
        },
        ...rowsOf(catalogue.divide, reports, { length }),
        elapsedRow(previews, (i) => (unchanged(i) ? applied!.step.elapsedMs : null)),
      ]}
      chosen={chosen}
      onChoose={setPicked}
      advised={fewest}
      advice={
        done ? (
          <>
            <b>{countOf(done.parts.length, 'part')}.</b> {done.reason}{' '}
            {slivers > 0 &&
              `${slivers} ${slivers === 1 ? 'is a sliver' : 'are slivers'} under ${figures.sliverMm.value} mm.`}
          </>
        ) : (
          <>
            <b>{beds[fewest].name} needs the fewest.</b> Fewer parts mean fewer seams, and more lost when one fails.{' '}
            {!asked && ready && (
              <Button variant="text" onClick={() => setAsked(true)}>
                Work them out
              </Button>
            )}
          </>
        )
      }
      fields={
        <>
          <PrinterField
            printers={printers}
            value={bed.id}
            onChange={(id) => {
              choose(id);
              setPicked(0);
            }}
          />
          <AreaProfile hash={base.hash} cuts={cutsOf(done, facts, bed, margin)} />
          <ParamFields of={form}>
            <ParamChoice name="join" label="Joins" choices={joinKinds.map((k) => ({ value: k, text: joinWords[k] }))} />
            {join !== 'none' && (
              <ParamLength name="clearance" label="Gap a side" hint={figures.fitClearanceMm.reason} />
            )}
            <ParamLength name="margin" label="Edge kept free" hint={figures.bedMarginMm.reason} />
            <ParamYesNo name="labels" label="Tags on cut faces" />
          </ParamFields>
        </>
      }
      action={{
        label: done
          ? 'Cut it so instead'
          : cells[chosen] === 1
            ? `Print it whole on ${bed.name}`
            : `Cut for ${bed.name}`,
        disabled: !ready || sending || cells[chosen] === null || unchanged(chosen),
        run: () => run(paramsOf(chosen)),
      }}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
