import { countOf } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';

export const doctor: CliCommand = {
  name: 'doctor',
  files: '',
  summary: 'looks a data folder over: database, files, lines, jobs',
  example: 'jasmorphe doctor --data data --mend',
  unitless: true,
  options: [
    { flags: '--data <folder>', help: 'the data folder', standard: 'data' },
    { flags: '--mend', help: 'mends what can be mended; the server must be stopped' },
    { flags: '--from <folder>', help: 'with --mend: a backup, from which missing and damaged files are fetched' },
    { flags: '--empty-trash', help: 'deletes what is in the trash for good' },
  ],
  async run(job) {
    const { options } = job as unknown as Job<{ data: string; mend?: boolean; from?: string; emptyTrash?: boolean }>;
    // the store is loaded for this alone
    const { examine, emptyTrash } = await import('@jasmorphe/server/pack/doctor');
    const problems = await examine(options.data, options.mend === true, options.from ?? null);
    const deleted = options.emptyTrash ? await emptyTrash(options.data) : null;
    return {
      report: { problems, ...(deleted === null ? {} : { deleted }) },
      card: {
        rows: [
          ['Problems', String(problems.length)],
          ...(deleted === null ? [] : ([['Deleted', countOf(deleted, 'file')]] as const)),
        ],
        findings: problems.map((p) => ({
          severity: p.mended ? ('note' as const) : ('failure' as const),
          message: `${p.message}${p.mended ? ' Mended.' : p.hint ? ` ${p.hint}` : ''}`,
        })),
      },
    };
  },
};
