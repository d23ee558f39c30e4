import { placeMesh, type Mat3 } from '@jasmorphe/core/mesh/transform';
import type { CleanPlace } from '@jasmorphe/core/planning/cuts/CleanBox';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { boxesOf } from '../boxesOf.ts';
import { operationCommand } from '../operationCommand.ts';
import { outputOption } from '../options.ts';
import { cleanPlaces } from '../values.ts';

interface TipsOptions {
  printer?: string;
  bare?: CleanPlace[];
}

export const tips = operationCommand<'tips', TipsOptions>('tips', {
  options: [
    {
      ...outputOption('where to write the struts as the part lies; a .3mf has the part beside them, each an object'),
      required: undefined,
    },
    { flags: '--printer <profile.json>', help: 'printer, settings and material; usual ones of filament if left out' },
    { flags: '--bare <x,y,z:x,y,z>', help: 'a box in which no support may stand; may be repeated', parse: cleanPlaces },
  ],
  params: ({ bare }) => (bare ? { bare: boxesOf(bare) } : {}),
  async before(_, params, { options }) {
    const { checkOutput, readProfile } = await import('../files.ts');
    if (options.output) {
      checkOutput(options.output);
      if (!params.struts)
        throw new MeshError('bad-params', 'A list of tips writes no mesh.', 'Ask for --struts too.', 'output');
    }
    return {
      params: options.printer ? { ...params, printer: await readProfile(options.printer) } : params,
      known: undefined,
    };
  },
  async write([struts], { rotation, tips: found }, { options }, [part]) {
    if (!options.output) return;
    if (!struts)
      throw new MeshError(
        'cannot',
        found.length === 0
          ? 'It needs no support as it lies: nothing was written.'
          : 'There is no tip that a strut reaches: nothing was written.',
        found.length === 0 ? '' : 'Let struts stand on the part with --on-part, or lay it otherwise.',
        'output',
      );
    const { titleOf, writeMeshFile, writeOutput } = await import('../files.ts');
    const laid = placeMesh(struts, rotation as unknown as Mat3);
    if (!options.output.toLowerCase().endsWith('.3mf')) {
      await writeMeshFile(options.output, laid);
      return;
    }
    const { writeThreeMf } = await import('@jasmorphe/core/formats/threeMf');
    const lying = placeMesh(part, rotation as unknown as Mat3);
    const objects = [
      { name: 'part', mesh: lying },
      { name: 'struts', mesh: laid },
    ];
    await writeOutput(options.output, writeThreeMf(objects, { title: titleOf(options.output) }));
  },
});
