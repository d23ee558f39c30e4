import { useState } from 'react';
import { paramFact } from '@jasmorphe/core/params/facts';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import type { HollowParams, HollowReport } from '@jasmorphe/core/operations/hollow/describe';
import { figures } from '@jasmorphe/core/trade/figures';
import { fixed, massText, secondsText, volumeText } from '@jasmorphe/core/words/numbers';
import { usePrinter } from '../../app/usePrinter.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField, NumberField, YesNoField } from '../../decision/Fields.tsx';
import { proofCell, proofMethod } from '../../decision/proofCell.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { laterWords } from '../laterSteps.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';

/** How thick shall the wall be? Estimates at once, exact figures when asked. */
export function HollowDecision({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.hollow);
  const base = useStageBase(body, after);
  const { printer, choose, resin, density } = usePrinter(printers);
  const done = applied?.step.report;
  const old: Partial<HollowParams> = applied?.step.params ?? {};
  // until its figures are here the mesh on the bench stands in; it has the same size
  const facts = base.facts ?? body.mesh.facts;
  const large = Math.max(facts.size.x, facts.size.y, facts.size.z) > 400;
  const [wall, setWall] = useState(
    old.wall ??
      (resin ? figures.largeResinWallMm.value : large ? figures.shellWallMm.value : figures.largeResinWallMm.value),
  );
  const [drain, setDrain] = useState(old.drain ?? figures.drainMm.value);
  const [given, setDrains] = useState<number | null>(old.drains ?? null);
  // resin must run out of every cavity; nothing runs out of filament
  const drains = given ?? (resin ? figures.drainsPerCavity.value : 0);
  const [openBase, setOpenBase] = useState(old.openBase ?? false);
  const [asked, setAsked] = useState(false);
  const [chosen, setChosen] = useState(1);
  const walls = [0.7, 1, 1.4].map((k) => Number((wall * k).toPrecision(3)));
  const paramsOf = (w: number) => ({ ...kept, wall: w, drain, drains, openBase });
  const unchanged = (w: number) =>
    done !== undefined &&
    w === old.wall &&
    drain === (old.drain ?? drain) &&
    drains === old.drains &&
    openBase === (old.openBase ?? false);
  // what was worked out before the step was done stays beside it
  const previews = usePreviews(
    body.id,
    base.hash,
    walls.map((w) =>
      (asked || done) && !unchanged(w) ? ask(catalogue.hollow, paramsOf(w), { after, ifKnown: !asked }) : null,
    ),
  );
  const solid = done ? done.solidVolumeMm3 : facts.volumeMm3;
  const reports = walls.map((w, i) => (unchanged(w) ? done! : reportOf(previews[i], catalogue.hollow)));
  // a thin shell holds about its skin times its wall; shown with a sign that it is an estimate
  const guess = (w: number) => (solid === null ? null : Math.min(solid, facts.areaMm2 * w));
  const cells = (exact: (r: HollowReport) => string, rough?: (v: number) => string) =>
    reports.map((r, i) => {
      if (r) return exact(r);
      if (previews[i].state === 'working' || previews[i].state === 'failed') return null;
      const v = rough ? guess(walls[i]) : null;
      return v !== null && rough ? `≈ ${rough(v)}` : null;
    });
  const ready = isSound(facts) || done !== undefined;
  return (
    <Decision
      step={done ? 'Hollowed' : 'Decision'}
      question="How thick shall the wall be?"
      lead={
        ready
          ? `Solid it holds ${solid === null ? '—' : volumeText(solid)}. The outer skin stays exactly as it is.`
          : 'The skin must be closed before there is an inside to take out.'
      }
      options={walls.map((w, i) => ({ name: length(w), preview: previews[i], taken: unchanged(w) }))}
      rows={[
        {
          label: 'Saved',
          cells: cells(
            (r) => `${fixed(r.savedPct, 1)} %`,
            (v) => `${fixed(100 * (1 - v / (solid ?? 1)), 0)} %`,
          ),
        },
        {
          label: 'Material',
          cells: cells(
            (r) => volumeText(r.volumeMm3, resin),
            (v) => volumeText(v, resin),
          ),
        },
        {
          label: 'Mass',
          cells: cells(
            (r) => massText((r.volumeMm3 / 1000) * density),
            (v) => massText((v / 1000) * density),
          ),
          method: `at ${density} g/cm³, common practice`,
        },
        {
          label: 'Thinnest wall',
          cells: cells((r) => length(r.wall.minMm)),
          method: 'distance from the cavity to the outer skin, at every corner',
        },
        { label: 'Sound solid', cells: reports.map((r) => proofCell(r?.proof)), method: proofMethod },
        { label: 'Cavities', cells: cells((r) => String(r.cavities.length)) },
        { label: 'Drains', cells: cells((r) => String(r.cavities.reduce((n, c) => n + c.drains.length, 0))) },
        {
          label: 'Trapped liquid',
          cells: cells((r) => volumeText(r.trappedMm3, resin)),
          method: 'flood of a grid from the drains, standing as it does now',
        },
        {
          label: 'Takes',
          cells: walls.map((w, i) => {
            const p = previews[i];
            const ms = unchanged(w) ? applied!.step.elapsedMs : p.state === 'ready' ? p.step.elapsedMs : null;
            return ms === null ? null : secondsText(ms / 1000);
          }),
        },
      ]}
      chosen={chosen}
      onChoose={setChosen}
      advised={1}
      advice={
        done ? (
          <>
            <b>{fixed(done.savedPct, 0)} % saved.</b>{' '}
            {old.openBase
              ? 'The underside is open: whatever is inside runs out.'
              : resin && done.trappedMm3 > 1
                ? `${volumeText(done.trappedMm3, true)} of liquid could not run out: give each cavity ${figures.drainsPerCavity.value} drains.`
                : resin
                  ? 'Nothing is trapped.'
                  : ''}{' '}
            {laterWords(body, applied!.index, length)}
          </>
        ) : (
          <>
            <b>{length(wall)} is the usual wall</b> for{' '}
            {resin
              ? large
                ? 'a large resin piece'
                : 'resin'
              : large
                ? 'a large filament shell'
                : 'a piece of this size'}{' '}
            (common practice). Figures with ≈ are the skin times the wall.{' '}
            {!asked && ready && (
              <button type="button" className="plain accent" onClick={() => setAsked(true)}>
                Work all three out
              </button>
            )}
          </>
        )
      }
      fields={
        <>
          {printers.length > 1 && (
            <ChoiceField
              label="Printer"
              value={printer?.id ?? ''}
              onChange={choose}
              choices={printers.map((p) => ({ value: p.id, text: p.profile.name }))}
            />
          )}
          <LengthField
            label="Wall"
            hint={figures.shellWallMm.reason}
            mm={wall}
            onChange={(v) => v && (setWall(v), setChosen(1))}
          />
          <NumberField
            label="Drains a cavity"
            hint={figures.drainsPerCavity.reason}
            param={paramFact(catalogue.hollow.params, 'drains')}
            value={drains}
            onChange={setDrains}
          />
          {drains > 0 && (
            <LengthField
              label="Drain across"
              hint={figures.drainMm.reason}
              mm={drain}
              onChange={(v) => v && setDrain(v)}
            />
          )}
          <YesNoField label="Open the underside" value={openBase} onChange={setOpenBase} />
        </>
      }
      action={{
        label: done ? `Hollow to ${length(walls[chosen])} instead` : `Hollow to ${length(walls[chosen])}`,
        disabled: !ready || sending || unchanged(walls[chosen]),
        run: () => run(paramsOf(walls[chosen])),
      }}
      foot={resin ? 'Uncured resin sensitises skin for life: gloves, eyes, ventilation.' : undefined}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
