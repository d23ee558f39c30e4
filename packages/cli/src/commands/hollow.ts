import { operationCommand } from '../operationCommand.ts';

export const hollow = operationCommand<'hollow', { plugs?: string }>('hollow', {
  options: [{ flags: '--plugs <dir>', help: 'also write a plug for each drain into this folder' }],
  // whoever names a drain or plugs wants drains
  params: ({ plugs }, { drains, drain }) => ({
    drains: drains ?? (drain !== undefined || plugs !== undefined ? 2 : 0),
    plugs: plugs !== undefined,
  }),
  async write([shell, ...plugs], _report, { options }) {
    const { checkOutput, fileOf, writeFolder, writeMeshFile } = await import('../files.ts');
    const format = checkOutput(options.output!);
    if (options.plugs !== undefined)
      await writeFolder(
        options.plugs,
        plugs.map((mesh, i) => fileOf(`plug-${i + 1}`, format, mesh)),
      );
    await writeMeshFile(options.output!, shell);
  },
});
