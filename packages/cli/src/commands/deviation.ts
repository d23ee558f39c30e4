import { inMm } from '@jasmorphe/core/words/numbers';
import type { CliCommand } from '../Command.ts';

export const deviation: CliCommand = {
  name: 'deviation',
  files: '<a> <b>',
  summary: 'two-way distance between two surfaces',
  example: 'jasmorphe deviation scan.stl mended.stl',
  options: [],
  async run({ files: [a, b], load, context }) {
    const { deviationOf } = await import('@jasmorphe/core/mesh/deviation');
    const { leftPct: _, ...r } = deviationOf(await load(a), await load(b), undefined, context);
    const { length } = inMm;
    return {
      report: r,
      card: {
        rows: [
          ['Worst', length(r.maxMm), 'two-way'],
          ['95 % are under', length(r.p95Mm)],
          ['typical', length(r.meanMm)],
          ['Worst of the first', length(r.aToB.maxMm), 'to the second'],
          ['of the second', length(r.bToA.maxMm), 'to the first'],
          ['Samples every', length(r.spacingMm)],
        ],
      },
    };
  },
};
