import { calibrationBy, rateBy } from '@jasmorphe/core/planning/days/failures';
import type { PlanLogEntry } from '@jasmorphe/core/planning/days/PlanRequest';
import { calibratedText, recordText } from '@jasmorphe/core/planning/days/planWords';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { fixed, massText, secondsText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';

/** @throws MeshError `bad-params` */
async function readLog(given: unknown): Promise<PlanLogEntry[]> {
  const [{ PlanLogEntry: Entry }, { parseParams }] = await Promise.all([
    import('@jasmorphe/core/planning/days/PlanRequest'),
    import('@jasmorphe/core/params/parseParams'),
  ]);
  if (!Array.isArray(given))
    throw new MeshError('bad-params', 'The log must be a list of prints.', 'See plan in the README.', 'log');
  return given.map((e) => parseParams(Entry, e));
}

export const estimate: CliCommand = {
  name: 'estimate',
  files: '<files...>',
  summary: 'time and material of one piece',
  example: 'jasmorphe estimate B2.stl --printer longbed.json',
  options: [
    { flags: '--printer <profile.json>', help: 'printer, settings and material', required: true },
    {
      flags: '--log <log.json>',
      help: 'prints of that printer with their true hours and those said beforehand, as in the project of plan: three set the hours right',
    },
    { flags: '--material <name>', help: 'by its own prints of the log, where there are three' },
  ],
  each: true,
  async run(job) {
    const { files, load, options, context } = job as unknown as Job<{
      printer: string;
      log?: string;
      material?: string;
    }>;
    const [{ readJson, readProfile }, { estimatePiece }, { expectedS }] = await Promise.all([
      import('../files.ts'),
      import('@jasmorphe/core/planning/estimate'),
      import('@jasmorphe/core/planning/bedfuls/packBeds'),
    ]);
    const profile = await readProfile(options.printer);
    const log = options.log ? await readLog(await readJson(options.log, 'log', 'log')) : [];
    const byLog = calibrationBy(log, profile.name, options.material);
    const rate = rateBy(log, profile.name);
    const r = estimatePiece(await load(files[0]), profile, context);
    return {
      report: {
        ...r,
        expectedS: expectedS(r.durationS * (byLog?.factor ?? 1), rate.perHour),
        ...(options.log ? { byLog: byLog && { ...byLog, durationS: r.durationS * byLog.factor } } : {}),
      },
      card: {
        rows: [
          ['Time', secondsText(r.durationS)],
          ...(options.log
            ? ([
                [
                  'By the log',
                  byLog ? calibratedText(r.durationS, byLog).replace('by its log ', '') : 'too few prints tell',
                  'true hours over hours said, in the middle (Theil 1950)',
                ],
              ] as const)
            : []),
          [
            'Expected',
            secondsText(expectedS(r.durationS * (byLog?.factor ?? 1), rate.perHour)),
            `in the mean, with what fails and begins anew, (e^(rt) − 1) / r: ${recordText(rate)}`,
          ],
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
