import { whyOf } from '@jasmorphe/core/operations/pose/why';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { inMm } from '@jasmorphe/core/words/numbers';
import type { CleanPlace, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { boxesOf } from '../boxesOf.ts';
import { cutsIn } from '../cutsIn.ts';
import { operationCommand } from '../operationCommand.ts';
import { outputOption } from '../options.ts';
import { cleanPlaces, spots } from '../values.ts';

interface PoseOptions {
  printer?: string;
  bare?: CleanPlace[];
  unseen?: PlaneCut[];
  hidden?: CleanSpot[];
}

export const pose = operationCommand<'pose', PoseOptions>('pose', {
  options: [
    { ...outputOption('where to write it as it lies; its ending picks the format'), required: undefined },
    { flags: '--printer <profile.json>', help: 'printer, settings and material; usual ones of filament if left out' },
    { flags: '--bare <x,y,z:x,y,z>', help: 'a box in which no support may stand; may be repeated', parse: cleanPlaces },
    {
      flags: '--unseen <cuts.json>',
      help: 'cuts whose faces are glued to others, as the report of cuts or divide lists them: marks do not matter there',
      parse: cutsIn,
    },
    {
      flags: '--hidden <x,y,z:r>',
      help: 'skin that nobody looks at: a point of it and how far around; may be repeated',
      parse: spots,
    },
  ],
  params: ({ bare, unseen, hidden }) => ({
    ...(bare ? { bare: boxesOf(bare) } : {}),
    ...(unseen ? { unseen } : {}),
    ...(hidden ? { hidden } : {}),
  }),
  async before(_, params, { options }) {
    const { checkOutput, readProfile } = await import('../files.ts');
    if (options.output) checkOutput(options.output);
    return {
      params: options.printer ? { ...params, printer: await readProfile(options.printer) } : params,
      known: undefined,
    };
  },
  async write(_, report, { options }, [mesh]) {
    if (!options.output) return;
    const { writeMeshFile } = await import('../files.ts');
    const { layOnBed } = await import('@jasmorphe/core/planning/partPose');
    await writeMeshFile(options.output, layOnBed(mesh, takenOf(report).rotation));
  },
  report: (report) => ({
    ...report,
    poses: report.poses.map((p) => ({ ...p, why: whyOf(p, report.poses, inMm) })),
  }),
});
