import { whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';
import { outputOption } from '../options.ts';

export const convert: CliCommand = {
  name: 'convert',
  files: '<files...>',
  summary: 'between STL, OBJ, PLY and 3MF',
  example: 'jasmorphe convert scan.ply -o scan.3mf',
  options: [outputOption()],
  each: true,
  async run(job) {
    const { files, load, options } = job as unknown as Job;
    const [{ checkOutput, writeMeshFile }, { inspectMesh }] = await Promise.all([
      import('../files.ts'),
      import('@jasmorphe/core/inspect/inspect'),
    ]);
    checkOutput(options.output!);
    const mesh = await load(files[0]);
    await writeMeshFile(options.output!, mesh);
    const { triangles, shells } = inspectMesh(mesh, { skipSelfIntersections: true });
    return {
      report: { triangles, shells },
      card: {
        rows: [
          ['Triangles', whole(triangles)],
          ['Shells', whole(shells)],
        ],
      },
    };
  },
};
