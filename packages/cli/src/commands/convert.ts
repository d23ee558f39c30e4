import type { FileWords } from '@jasmorphe/core/formats/threeMf';
import { whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';
import { outputOption } from '../options.ts';

export const convert: CliCommand = {
  name: 'convert',
  files: '<files...>',
  summary: 'between STL, OBJ, PLY and 3MF',
  example: 'jasmorphe convert scan.ply -o scan.3mf',
  options: [
    outputOption(),
    { flags: '--title <text>', help: 'title of the work, for a 3MF; the name of the file if left out' },
    { flags: '--designer <text>', help: 'who designed it, for a 3MF' },
    { flags: '--licence <text>', help: 'its licence terms, for a 3MF' },
  ],
  each: true,
  async run(job) {
    const { files, load, options } = job as unknown as Job<Partial<FileWords>>;
    const [{ checkOutput, writeMeshFile }, { inspectMesh }] = await Promise.all([
      import('../files.ts'),
      import('@jasmorphe/core/inspect/inspect'),
    ]);
    checkOutput(options.output!);
    const mesh = await load(files[0]);
    const words = Object.entries({ title: options.title, designer: options.designer, licence: options.licence });
    await writeMeshFile(options.output!, mesh, Object.fromEntries(words.filter(([, text]) => text)));
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
