import Button from '@mui/material/Button';
import { useState } from 'react';
import { cavitiesOf, isSound } from '@jasmorphe/core/inspect/Inspection';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { HollowParams } from '@jasmorphe/core/operations/hollow/describe';
import { figures } from '@jasmorphe/core/trade/figures';
import { countOf, fixed, massText } from '@jasmorphe/core/words/numbers';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Decision } from '../../decision/Decision.tsx';
import { elapsedRow, rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ParamFields, ParamLength, ParamNumber, ParamYesNo } from '../../forms/ParamFields.tsx';
import { PrinterField } from '../../forms/PrinterField.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { laterWords } from '../laterSteps.ts';
import type { StageProps } from '../Stage.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';

/** Larger than this it is made as a shell, mm. */
const largeMm = 400;

/** The wall that is usual, and for what. */
export function usualWall(resin: boolean, longestMm: number): { mm: number; of: string } {
  if (longestMm <= largeMm) return { mm: figures.largeResinWallMm.value, of: resin ? 'resin' : 'a piece of this size' };
  return resin
    ? { mm: figures.largeResinWallMm.value, of: 'a large resin piece' }
    : { mm: figures.shellWallMm.value, of: 'a large filament shell' };
}

/** Walls to choose among: the one in the field, a thinner and a thicker one. */
export const wallsAround = (wall: number): number[] => [0.7, 1, 1.4].map((k) => Number((wall * k).toPrecision(3)));

/** How thick shall the wall be? Estimates at once, exact figures when asked. */
export function HollowDecision({ body, printers }: StageProps) {
  const length = useLength();
  const say = useSpeaker();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.hollow);
  const base = useStageBase(body, after);
  const { printer, choose, resin, density } = usePrinter(printers);
  const done = applied?.step.report;
  const old: Partial<HollowParams> = applied?.step.params ?? {};
  // until its figures are here the mesh on the bench stands in; it has the same size
  const facts = base.facts ?? body.mesh.facts;
  const usual = usualWall(resin, longestOf(facts.size));
  const form = useParamsForm(catalogue.hollow.params, { wall: usual.mm, ...old, drains: old.drains });
  const { wall, drain, openBase } = form.values;
  // resin must run out of every cavity; nothing runs out of filament
  const usualDrains = resin ? figures.drainsPerCavity.value : 0;
  const drains = form.values.drains ?? usualDrains;
  const [asked, setAsked] = useState(false);
  const [chosen, setChosen] = useState(1);
  const walls = wallsAround(wall);
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
  // what is hollow already is not called solid
  const cavities = done ? { count: 0, volumeMm3: 0 } : cavitiesOf(facts);
  const solid = done ? done.solidVolumeMm3 : facts.volumeMm3;
  const reports = walls.map((w, i) => (unchanged(w) ? done! : reportOf(previews[i], catalogue.hollow)));
  // a thin shell holds about its skin times its wall; shown with a sign that it is an estimate
  const rough = (of: (mm3: number) => string) =>
    walls.map((w, i) => {
      if (solid === null || previews[i].state === 'working' || previews[i].state === 'failed') return null;
      return `≈ ${of(Math.min(solid, facts.areaMm2 * w))}`;
    });
  const mass = (mm3: number) => massText((mm3 / 1000) * density);
  const roughMass = rough(mass);
  const [saved, material, ...others] = rowsOf(
    catalogue.hollow,
    reports,
    { ...say, liquid: resin },
    {
      leave: ['Solid', 'typical'],
      rough: {
        Saved: rough((mm3) => `${fixed(100 * (1 - mm3 / (solid ?? 1)), 0)} %`),
        Material: rough((mm3) => say.volume(mm3, resin)),
      },
    },
  );
  const ready = isSound(facts) || done !== undefined;
  const trapped = () => {
    if (old.openBase) return 'The underside is open: whatever is inside runs out.';
    if (!resin) return '';
    return done!.trappedMm3 > 1
      ? `${say.volume(done!.trappedMm3, true)} of liquid could not run out: give each cavity ${figures.drainsPerCavity.value} drains.`
      : 'Nothing is trapped.';
  };
  const holds =
    cavities.count > 0
      ? `It has ${countOf(cavities.count, 'hollow')} of ${say.volume(cavities.volumeMm3, resin)} in it already; its material is ${solid === null ? '—' : say.volume(solid)}.`
      : `Solid it holds ${solid === null ? '—' : say.volume(solid)}.`;
  return (
    <Decision
      step={done ? 'Hollowed' : 'Decision'}
      question="How thick shall the wall be?"
      lead={
        ready
          ? `${holds} The outer skin stays exactly as it is.`
          : 'The skin must be closed before there is an inside to take out.'
      }
      options={walls.map((w, i) => ({ name: length(w), preview: previews[i], taken: unchanged(w) }))}
      rows={[
        saved,
        material,
        {
          label: 'Mass',
          cells: reports.map((r, i) => (r ? mass(r.volumeMm3) : roughMass[i])),
          method: `at ${density} g/cm³, common practice`,
        },
        ...others,
        elapsedRow(previews, (i) => (unchanged(walls[i]) ? applied!.step.elapsedMs : null)),
      ]}
      chosen={chosen}
      onChoose={setChosen}
      advised={1}
      advice={
        done ? (
          <>
            <b>{fixed(done.savedPct, 0)} % saved.</b> {trapped()} {laterWords(body, applied.index, say)}
          </>
        ) : (
          <>
            <b>{length(wall)} is the usual wall</b> for {usual.of} (common practice). Figures with ≈ are the skin times
            the wall.{' '}
            {!asked && ready && (
              <Button variant="text" onClick={() => setAsked(true)}>
                Work all three out
              </Button>
            )}
          </>
        )
      }
      fields={
        <>
          <PrinterField printers={printers} value={printer?.id} onChange={choose} />
          <ParamFields of={form}>
            <ParamLength name="wall" label="Wall" hint={figures.shellWallMm.reason} onChanged={() => setChosen(1)} />
            <ParamNumber
              name="drains"
              label="Drains a cavity"
              hint={figures.drainsPerCavity.reason}
              standing={drains}
            />
            {drains > 0 && <ParamLength name="drain" label="Drain across" hint={figures.drainMm.reason} />}
            <ParamYesNo name="openBase" label="Open the underside" />
          </ParamFields>
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
