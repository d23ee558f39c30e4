import { basename } from 'node:path';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { sliceContext } from '@jasmorphe/core/run/context';
import { bedfulAims, turnRules, type BedfulAim, type TurnRule } from '@jasmorphe/core/planning/bedfuls/aims';
import { schools, type School } from '@jasmorphe/core/planning/pose/schools';
import { fixed, massText, secondsText, whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';
import type { LyingPart } from '@jasmorphe/core/planning/bedfuls/bedfulsOf';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { count, length } from '../values.ts';

interface Options {
  printer: string[];
  for?: BedfulAim;
  apart?: number;
  school?: School;
  asItLies?: boolean;
  inTurn?: boolean;
  copies?: number;
  turn?: TurnRule;
}

/** Most that each file is printed. */
const mostCopies = 100;

const nameOf = (file: string): string => basename(file).replace(/\.[^.]+$/, '');

/** A name for a file, of what a person called a thing. */
const plain = (name: string): string => name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-+|-+$/g, '') || 'printer';

export const bedfuls: CliCommand = {
  name: 'bedfuls',
  files: '<files...>',
  summary: 'what goes on which bed in one go: parts by their true shadows, on one printer or several',
  example: 'jasmorphe bedfuls parts/*.stl --printer longbed.json --printer smallbed.json -o bedfuls',
  options: [
    {
      flags: '--printer <profile.json>',
      help: 'printer, settings and material; may be repeated',
      parse: (text: string, before: string[] = []) => [...before, text],
      required: true,
    },
    { flags: '-o, --output <folder>', help: 'a folder for a 3MF of each bedful, its parts in their places' },
    { flags: '--for <aim>', help: 'what counts (default fewest)', choices: bedfulAims },
    {
      flags: '--copies <n>',
      help: `how many are printed of each file, up to ${mostCopies} (default 1)`,
      parse: count(mostCopies),
    },
    { flags: '--apart <mm>', help: 'room between parts (default 5 mm)', parse: length },
    {
      flags: '--in-turn',
      help: 'parts of filament are printed one after the other: room for the head, the highest last',
    },
    { flags: '--turn <how>', help: 'how parts may be turned about the vertical (default any)', choices: turnRules },
    { flags: '--school <school>', help: 'how each part is laid (default best)', choices: schools },
    { flags: '--as-it-lies', help: 'each file is laid already: it is turned about the vertical alone' },
  ],
  async run(job) {
    const { files, load, options, context } = job as unknown as Job<Options>;
    const [{ readProfile, writeFolder }, { bedfulsOf }, { layPart }, { writeThreeMf }, { placeOnBed }] =
      await Promise.all([
        import('../files.ts'),
        import('@jasmorphe/core/planning/bedfuls/bedfulsOf'),
        import('@jasmorphe/core/planning/bedfuls/layPart'),
        import('@jasmorphe/core/formats/threeMf'),
        import('@jasmorphe/core/planning/bedfuls/placeOnBed'),
      ]);
    const printers: PrinterProfile[] = [];
    for (const path of options.printer) printers.push(await readProfile(path));
    const names = new Set(printers.map((p) => p.name));
    if (names.size < printers.length)
      throw new MeshError('bad-params', 'Two printers have one name.', 'Name them apart in their profiles.', 'printer');
    const unplaced: { file: string; message: string }[] = [];
    const known: { file: string; mesh: TriMesh; name: string }[] = [];
    const laid: LyingPart[] = [];
    for (const [i, file] of files.entries()) {
      const own = sliceContext(context, (0.7 * i) / files.length, (0.7 * (i + 1)) / files.length);
      try {
        const mesh = await load(file);
        const part = await layPart(mesh, printers, options.asItLies ? null : (options.school ?? 'best'), own);
        for (let n = 1; n <= (options.copies ?? 1); n++) {
          laid.push(part);
          known.push({ file, mesh, name: `${nameOf(file)}${n > 1 ? ` ${n}` : ''}` });
        }
      } catch (error) {
        if (!isMeshError(error) || error.code === 'cancelled') throw error;
        unplaced.push({ file, message: [error.message, error.hint].filter(Boolean).join(' ') });
      }
    }
    const aim = options.for ?? 'fewest';
    const { bedfuls: found, left } = bedfulsOf(laid, printers, aim, sliceContext(context, 0.7, 1), {
      apartMm: options.apart,
      inTurn: options.inTurn,
      turn: options.turn,
    });
    for (const file of new Set(left.map((part) => known[part].file)))
      unplaced.push({ file, message: 'It fits the bed of no printer, in any pose that was tried.' });
    const told = found.map((bedful, i) => ({
      printer: printers[bedful.printer].name,
      parts: bedful.parts.map(({ part, at, turnDeg }) => {
        const [x, y, z] = laid[part].rotations[bedful.printer]![2];
        return { file: known[part].file, at, turnDeg, up: { x, y, z } };
      }),
      fillPct: bedful.fillPct,
      durationS: bedful.durationS,
      expectedS: bedful.expectedS,
      inTurn: bedful.inTurn,
      materialG: bedful.materialG,
      file: options.output ? `bedful-${i + 1}_${plain(printers[bedful.printer].name)}.3mf` : null,
    }));
    if (options.output && found.length > 0)
      await writeFolder(
        options.output,
        found.map((bedful, i) => ({
          name: told[i].file!,
          bytes: writeThreeMf(
            bedful.parts.map((placed) => ({
              name: known[placed.part].name,
              mesh: placeOnBed(known[placed.part].mesh, laid[placed.part].rotations[bedful.printer]!, placed),
            })),
            { title: told[i].file!.replace(/\.3mf$/, '') },
          ),
        })),
      );
    if (found.length === 0)
      throw new MeshError('cannot', unplaced[0]?.message ?? 'There is nothing to put on a bed.', '', 'files');
    return {
      report: { bedfuls: told, unplaced, for: aim },
      card: {
        rows: [
          ['Bedfuls', whole(told.length)],
          ['Hours', secondsText(told.reduce((n, b) => n + b.durationS, 0)), 'of all printers together'],
          ['Longest', secondsText(Math.max(...told.map((b) => b.durationS)))],
          ['Material', massText(told.reduce((n, b) => n + b.materialG, 0))],
        ],
        findings: unplaced.map(({ file, message }) => ({
          severity: 'failure' as const,
          message: `${file}: ${message}`,
        })),
        tables: [
          {
            heads: ['Bedful', 'Printer', 'Parts', 'Full', 'Time', 'Material'],
            rows: told.map((b, i) => [
              `${i + 1}`,
              b.printer,
              found[i].parts.map(({ part }) => known[part].name).join(b.inTurn ? ' → ' : ' '),
              `${fixed(b.fillPct, 0)} %`,
              secondsText(b.durationS),
              massText(b.materialG),
            ]),
          },
        ],
      },
    };
  },
};
