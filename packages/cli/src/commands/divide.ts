import { InvalidArgumentError } from 'commander';
import { join } from 'node:path';
import type { CutAt } from '@jasmorphe/core/planning/cuts/grid';
import type { CutsReport } from '@jasmorphe/core/operations/cuts/describe';
import type { DividePlan } from '@jasmorphe/core/operations/divide/describe';
import { isPlanStyle, planNames, planStyles } from '@jasmorphe/core/planning/cuts/styles';
import { fixed, inMm, secondsText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import { bedOptions, paramsOfBeds, type BedOptions } from '../bedOptions.ts';
import { cardOf, operationCommand } from '../operationCommand.ts';
import { outputOption } from '../options.ts';
import { axisValues } from '../values.ts';

interface Options extends BedOptions {
  at?: CutAt[];
  plan?: DividePlan[];
}

/** What was planned before the cutting: each plan asked for, and how long that took. */
interface Planned {
  plans: CutsReport[];
  planMs: number;
  cutsMs: number;
}

const planWords = ['auto', 'grid', ...planStyles] as const;

/** `fewest`, or several such as `fewest,clean`: the first is cut. */
function planList(text: string): DividePlan[] {
  const plans = text.split(',').map((p) => p.trim());
  const wrong = plans.find((p) => !(planWords as readonly string[]).includes(p));
  if (wrong !== undefined) throw new InvalidArgumentError(`"${wrong}" is no plan. Plans are ${planWords.join(', ')}.`);
  return plans as DividePlan[];
}

export const divide = operationCommand<'divide', Options, Planned>('divide', {
  files: '<file>',
  output: outputOption('folder for the parts (3MF)'),
  options: [
    ...bedOptions,
    {
      flags: '--plan <plan,...>',
      help: "even planes along the model's own axes (grid), the bed lying as needs the fewest (auto), or a plan: fewest parts, least seam that shows (clean), least support, soonest printed. Several are compared, and the first is cut (default auto)",
      parse: planList,
    },
    { flags: '--at <axis=mm>', help: 'a cut of your own; may be repeated', parse: axisValues },
  ],
  params: ({ at, plan, ...beds }) => ({
    ...paramsOfBeds(beds),
    ...(plan ? { plan: plan[0] } : {}),
    ...(at ? { at } : {}),
  }),
  async before(inputs, params, { options, context }) {
    const asked = (options.plan ?? []).filter(isPlanStyle);
    if (asked.length === 0 || params.at) return { params, known: { plans: [], planMs: 0, cutsMs: 0 } };
    const { parseParams } = await import('@jasmorphe/core/params/parseParams');
    const { operations } = await import('@jasmorphe/core/operations/runs');
    const began = performance.now();
    const plans: CutsReport[] = [];
    for (const plan of asked) {
      const { bed, margin, beds, keepClean, kind, layer } = params;
      const { report } = await operations.cuts.run(
        inputs,
        parseParams(operations.cuts.params, {
          bed,
          margin,
          kind,
          ...(layer && { layer }),
          plan,
          ...(beds && { beds }),
          ...(keepClean && { keepClean }),
        }),
        context,
      );
      plans.push(report);
    }
    const planMs = Math.round(performance.now() - began);
    // what was planned is cut as it was planned; without a cut it fits whole
    const own = plans.find((p) => p.plan === params.plan);
    return {
      params: own && own.cuts.length > 0 ? { ...params, cuts: own.cuts } : params,
      known: { plans, planMs, cutsMs: performance.now() },
    };
  },
  async write(outputs, { parts }, { options }) {
    const { fileOf, writeFolder } = await import('../files.ts');
    await writeFolder(
      options.output!,
      outputs.map((mesh, i) => fileOf(parts[i].tag, '3mf', mesh)),
    );
  },
  report: ({ parts, ...rest }, { options }, known) => ({
    parts: parts.map(({ tag, ...part }) => ({ name: tag, file: join(options.output!, `${tag}.3mf`), ...part })),
    ...rest,
    ...(known && known.plans.length > 0
      ? {
          plans: known.plans.map(({ cuts, ...plan }) => ({ ...plan, cuts: cuts.length })),
          planMs: known.planMs,
          partsMs: Math.round(performance.now() - known.cutsMs),
        }
      : {}),
  }),
  card: (report, known) => {
    const card = cardOf('divide', report);
    if (!known || known.plans.length === 0) return card;
    return {
      ...card,
      tables: [
        {
          heads: ['Plan', 'Parts', 'Seam that shows', 'Room for support', 'Longest', 'All printed', 'Compared'],
          rows: known.plans.map((p) => [
            isPlanStyle(p.plan) ? planNames[p.plan] : '',
            whole(p.parts),
            inMm.length(p.seenSeamMm),
            volumeText(p.supportMm3),
            secondsText(p.longestS),
            secondsText(p.allS),
            fixed(p.looked, 0),
          ]),
        },
        ...(card.tables ?? []),
      ],
    };
  },
});
