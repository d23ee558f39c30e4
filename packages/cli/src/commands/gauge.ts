import type { CliCommand, Job } from '../Command.ts';
import { outputOption } from '../options.ts';
import { number } from '../values.ts';

const stepList = (text: string): number[] => text.split(',').map(number);

export const gauge: CliCommand = {
  name: 'gauge',
  files: '',
  summary: 'a fit gauge: a comb of holes and a pin that tells which gap a printer needs',
  example: 'jasmorphe gauge -o gauge.stl',
  options: [
    outputOption('where to write; its ending picks the format'),
    { flags: '--steps <mm,mm,...>', help: 'gaps on each side (default 0.05 to 0.4 by 0.05)', parse: stepList },
  ],
  unitless: true,
  async run(given) {
    const { options } = given as unknown as Job<{ steps?: number[] }>;
    const [{ checkOutput, writeMeshFile }, { fitGauge, gaugeSteps }, { figures }, { fixed }] = await Promise.all([
      import('../files.ts'),
      import('@jasmorphe/core/operations/divide/fitGauge'),
      import('@jasmorphe/core/trade/figures'),
      import('@jasmorphe/core/words/numbers'),
    ]);
    checkOutput(options.output!);
    const steps = options.steps ?? gaugeSteps;
    await writeMeshFile(options.output!, await fitGauge(steps));
    const pinMm = figures.joinAcrossMm.value;
    return {
      report: { steps: steps.map((mm) => ({ mm, holeMm: pinMm + 2 * mm })), pinMm },
      card: {
        rows: [
          ['Steps', steps.map((mm) => fixed(mm, 2)).join(', '), 'gap on each side, mm'],
          ['Pin', `${fixed(pinMm, 1)} mm across`],
        ],
        says: 'Print it as parts are printed, and keep the step into which the pin goes snugly with the printer.',
      },
    };
  },
};
