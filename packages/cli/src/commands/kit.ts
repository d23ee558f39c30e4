import type { LengthUnit } from '@jasmorphe/core/formats/units';
import type { ExportFormat } from '@jasmorphe/core/formats/exportFormats';
import { countOf, fixed, inMm, whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';
import { outputOption } from '../options.ts';
import { factor, length } from '../values.ts';

interface KitFlags {
  factor?: number;
  mend?: boolean;
  hollow?: number;
  format?: ExportFormat;
  unit?: LengthUnit;
}

interface PieceReport {
  file: string;
  triangles: number;
  size: { x: number; y: number; z: number };
  watertight: boolean;
  out: string;
  variantOf: string | null;
  copies: number;
}

export const kit: CliCommand = {
  name: 'kit',
  files: '<files...>',
  summary: 'does the same to all files of a kit: folders, archives, files',
  example: 'jasmorphe kit carnyx/ --factor 3 --mend -o scaled/',
  options: [
    outputOption('folder for the pieces'),
    { flags: '--factor <f>', help: 'scales all of them', parse: factor },
    { flags: '--mend', help: 'mends each first' },
    { flags: '--hollow <mm>', help: 'hollows each to a wall of so much', parse: length },
    {
      flags: '--format <format>',
      help: 'format of the pieces; as they came if left out',
      choices: ['stl', 'obj', 'ply', '3mf'],
    },
  ],
  async run(given) {
    const job = given as unknown as Job<KitFlags>;
    const { doKit } = await import('../kit/doKit.ts');
    const { pieces, failed, unit, reason } = await doKit(job.files, {
      ...job.options,
      output: job.options.output!,
      context: job.context,
    });
    const rows: PieceReport[] = pieces;
    return {
      report: { pieces: rows, failed, unit, unitReason: reason },
      card: {
        rows: [
          ['Pieces', whole(rows.length)],
          ['Could not be done', whole(failed.length)],
          ['Unit', unit, reason],
        ],
        findings: failed.map((f) => ({ severity: 'failure' as const, message: `${f.file}: ${f.message}` })),
        tables: [
          {
            heads: ['Piece', 'Copies', 'Size', 'Triangles', 'Closed', 'Form of'],
            rows: rows.map((p) => [
              p.file,
              `×${whole(p.copies)}`,
              [p.size.x, p.size.y, p.size.z].map((mm) => fixed(mm, 1)).join(' × '),
              whole(p.triangles),
              p.watertight ? 'yes' : 'no',
              p.variantOf ?? '—',
            ]),
          },
        ],
        says: `${countOf(rows.length, 'piece')} in ${inMm.length(Math.max(0, ...rows.flatMap((p) => Object.values(p.size))))} at the longest.`,
      },
    };
  },
};
