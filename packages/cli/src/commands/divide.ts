import { join } from 'node:path';
import type { CutAt } from '@jasmorphe/core/operations/divide/grid';
import { operationCommand } from '../operationCommand.ts';
import { outputOption } from '../options.ts';
import { axisValues } from '../values.ts';

export const divide = operationCommand<'divide', { at?: CutAt[] }>('divide', {
  files: '<file>',
  output: outputOption('folder for the parts (3MF)'),
  options: [{ flags: '--at <axis=mm>', help: 'a cut of your own; may be repeated', parse: axisValues }],
  params: ({ at }) => (at ? { at } : {}),
  async write(outputs, { parts }, { options }) {
    const { fileOf, writeFolder } = await import('../files.ts');
    await writeFolder(
      options.output!,
      outputs.map((mesh, i) => fileOf(parts[i].tag, '3mf', mesh)),
    );
  },
  report: ({ parts, ...rest }, { options }) => ({
    parts: parts.map(({ tag, ...part }) => ({ name: tag, file: join(options.output!, `${tag}.3mf`), ...part })),
    ...rest,
  }),
});
