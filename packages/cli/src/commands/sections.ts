import { areaText, fixed, inMm, whole } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';
import { direction, length } from '../values.ts';

export const sections: CliCommand = {
  name: 'sections',
  files: '<files...>',
  summary: 'cuts every layer: areas, outlines and islands',
  example: 'jasmorphe sections B2.stl --layer 0.2',
  options: [
    { flags: '--layer <mm>', help: 'layer height', parse: length, required: true },
    { flags: '--up <x,y,z>', help: 'direction that is up (default 0,0,1)', parse: direction },
  ],
  each: true,
  async run(job) {
    const { files, load, options, context } = job as unknown as Job<{ layer: number; up?: [number, number, number] }>;
    const { sweepLayers } = await import('@jasmorphe/core/section/layers');
    const r = sweepLayers(await load(files[0]), options.layer, options.up, context);
    return {
      report: r,
      card: {
        rows: [
          ['Layers', whole(r.layers)],
          ['Largest', areaText(r.maxAreaMm2)],
          ['Outlines', `${fixed(r.totalPerimeterMm / 1000, 1)} m`, 'of all layers'],
          ['Islands', whole(r.islands.length), 'regions with nothing under them'],
        ],
        tables:
          r.islands.length === 0
            ? []
            : [
                {
                  heads: ['Island in layer', 'At height', 'Area'],
                  rows: r.islands.map((i) => [whole(i.layer), inMm.length(i.zMm), areaText(i.areaMm2)]),
                },
              ],
      },
    };
  },
};
