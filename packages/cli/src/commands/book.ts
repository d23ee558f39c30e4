import { MeshError } from '@jasmorphe/core/run/MeshError';
import { countOf, whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';
import { outputOption } from '../options.ts';

const papers = ['a4', 'letter'] as const;

export const book: CliCommand = {
  name: 'book',
  files: '<project>',
  summary: 'the build book of a project, by its name or id: cover, part map, bedfuls, part sheets, days, shopping',
  example: 'jasmorphe book "Window ammonite" -o ammonite.pdf --data data',
  unitless: true,
  options: [
    outputOption('the PDF'),
    { flags: '--data <folder>', help: 'the data folder', standard: 'data' },
    { flags: '--paper <paper>', help: 'a4 or letter (default as the settings say)', choices: papers },
    {
      flags: '--address <url>',
      help: 'of the server, for the codes on the sheets',
      standard: 'http://127.0.0.1:4780',
    },
  ],
  async run(given) {
    const { files, options, context } = given as unknown as Job<{
      data: string;
      paper?: (typeof papers)[number];
      address: string;
    }>;
    if (!/\.pdf$/i.test(options.output!))
      throw new MeshError('bad-params', `"${options.output}" is no PDF.`, 'Its name ends in .pdf.', 'output');
    const [{ bookFrom }, { writeOutput }] = await Promise.all([
      import('@jasmorphe/server/book/bookFrom'),
      import('../files.ts'),
    ]);
    const address = options.address.replace(/\/+$/, '');
    const { bytes, pages, tables } = await bookFrom(options.data, files[0], options.paper, address, context);
    await writeOutput(options.output!, bytes);
    return {
      report: { pages, bytes: bytes.length, tables },
      card: {
        rows: [
          ['Pages', whole(pages)],
          ['Parts', whole(tables.parts.rows.length)],
          ['Bedfuls', whole(tables.bedfuls.rows.length)],
        ],
        says: `${countOf(pages, 'page')} written to ${options.output}.`,
      },
    };
  },
};
