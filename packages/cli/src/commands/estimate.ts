import { fixed, massText, secondsText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';

export const estimate: CliCommand = {
  name: 'estimate',
  files: '<files...>',
  summary: 'time and material of one piece',
  example: 'jasmorphe estimate B2.stl --printer longbed.json',
  options: [{ flags: '--printer <profile.json>', help: 'printer, settings and material', required: true }],
  each: true,
  async run(job) {
    const { files, load, options, context } = job as unknown as Job<{ printer: string }>;
    const [{ readProfile }, { estimatePiece }] = await Promise.all([
      import('../files.ts'),
      import('@jasmorphe/core/planning/estimate'),
    ]);
    const profile = await readProfile(options.printer);
    const r = estimatePiece(await load(files[0]), profile, context);
    return {
      report: r,
      card: {
        rows: [
          ['Time', secondsText(r.durationS)],
          ['Material', `${massText(r.materialG)}, ${fixed(r.materialMl, 1)} mL`],
          ...(r.filamentM > 0 ? ([['Filament', `${fixed(r.filamentM, 1)} m`]] as const) : []),
          ['Cost', fixed(r.cost, 2), 'at the price a kg of the profile'],
          ['Energy', `${fixed(r.energyKWh, 2)} kWh`, 'at the power of the profile'],
          ...(r.wearPct === null
            ? []
            : ([['Wear', `${fixed(r.wearPct, 1)} %`, 'of the hours that its nozzle or screen lasts']] as const)),
          ['Supports', volumeText(r.supportVolumeMm3)],
          ['Layers', whole(r.layers)],
        ],
        tables: [
          {
            heads: ['Phase', 'Time'],
            rows: Object.entries(r.byPhase).map(([phase, s]) => [phase, secondsText(s)]),
          },
        ],
      },
    };
  },
};
