import { countOf, whole } from '@jasmorphe/core/words/numbers';
import type { Card, CliCommand, Job } from '../Command.ts';
import { outputOption, type OptionSpec } from '../options.ts';

const dataOption: OptionSpec = { flags: '--data <folder>', help: 'the data folder', standard: 'data' };

interface Count {
  projects: number;
  models: number;
  meshes: number;
  bytes: number;
}

const cardOf = ({ projects, models, meshes, bytes }: Count, says: string): Card => ({
  rows: [
    ['Projects', whole(projects)],
    ['Pieces', whole(models)],
    ['Meshes', whole(meshes)],
    ['Size', `${whole(Math.ceil(bytes / 2 ** 20))} MB`],
  ],
  says,
});

export const pack: CliCommand = {
  name: 'pack',
  files: '<project>',
  summary: 'packs a whole project, by its name or id, into one archive',
  example: 'jasmorphe pack "Heron mask" -o mask.jasmorphe.zip --data data',
  unitless: true,
  options: [
    outputOption('the archive'),
    dataOption,
    { flags: '--word', help: 'altered files that may not be passed on are for yourself alone' },
  ],
  async run(given) {
    const { files, options } = given as unknown as Job<{ data: string; word?: boolean }>;
    const { packFrom } = await import('@jasmorphe/server/pack/dataFolder');
    const count = await packFrom(options.data, files[0], options.output!, options.word === true);
    return { report: count, card: cardOf(count, `Packed into ${options.output}.`) };
  },
};

export const unpack: CliCommand = {
  name: 'unpack',
  files: '<archive>',
  summary: 'unpacks the archive of a project into a data folder that no server works in',
  example: 'jasmorphe unpack mask.jasmorphe.zip --data data',
  unitless: true,
  options: [dataOption],
  async run(given) {
    const { files, options } = given as unknown as Job<{ data: string }>;
    const { unpackInto } = await import('@jasmorphe/server/pack/dataFolder');
    const done = await unpackInto(options.data, files[0]);
    return { report: done, card: cardOf(done, `Unpacked as project ${done.projectId}.`) };
  },
};

export const backup: CliCommand = {
  name: 'backup',
  files: '<folder>',
  summary: 'saves a data folder into another, even while it is in use',
  example: 'jasmorphe backup /media/stick/jasmorphe --data data',
  unitless: true,
  options: [dataOption],
  async run(given) {
    const { files, options, context } = given as unknown as Job<{ data: string }>;
    const { backUpFolder } = await import('@jasmorphe/server/pack/dataFolder');
    const done = await backUpFolder(options.data, files[0], (f) => context.progress(f, 'Copying'));
    const says = [
      `Saved into ${done.folder}; ${whole(done.copied)} files were new.`,
      done.mended > 0 && `${countOf(done.mended, 'file')} of the data folder came back from it.`,
      done.damaged > 0 &&
        `${countOf(done.damaged, 'file')} damaged or missing, and not in it: "jasmorphe doctor" tells more.`,
    ];
    return { report: done, card: cardOf(done, says.filter(Boolean).join(' ')) };
  },
};

export const restore: CliCommand = {
  name: 'restore',
  files: '<folder>',
  summary: 'puts a backup into a data folder that holds nothing yet',
  example: 'jasmorphe restore /media/stick/jasmorphe --data fresh',
  unitless: true,
  options: [
    dataOption,
    { flags: '--anyway', help: 'goes on without files that are missing from the backup, or damaged there' },
  ],
  async run(given) {
    const { files, options } = given as unknown as Job<{ data: string; anyway?: boolean }>;
    const { restoreFolder } = await import('@jasmorphe/server/pack/dataFolder');
    const done = await restoreFolder(options.data, files[0], options.anyway === true);
    const lost =
      done.lost > 0
        ? ` ${countOf(done.lost, 'file')} missing: their steps are worked out anew when they are asked for.`
        : '';
    return { report: done, card: cardOf(done, `Restored into ${options.data}.${lost}`) };
  },
};
