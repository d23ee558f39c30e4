import { fixed } from '@jasmorphe/core/words/numbers';
import { cardOf, operationCommand } from '../operationCommand.ts';
import { length } from '../values.ts';

interface LayersOptions {
  printer?: string;
  pause?: number[];
}

export const layers = operationCommand<'layers', LayersOptions>('layers', {
  options: [
    { flags: '--printer <profile.json>', help: 'printer, settings and material; usual ones of filament if left out' },
    {
      flags: '--pause <mm,mm>',
      help: 'heights at which the print is to stop, such as for another colour',
      parse: (text) => text.split(',').map(length),
    },
  ],
  params: ({ pause }) => (pause ? { pauses: pause } : {}),
  async before(_, params, { options }) {
    const { readProfile } = await import('../files.ts');
    return {
      params: options.printer ? { ...params, printer: await readProfile(options.printer) } : params,
      known: undefined,
    };
  },
  card(report) {
    const card = cardOf('layers', report);
    const stops = [
      ...report.pauses.map((p) => [
        'stop',
        p ? `after layer ${p.afterLayer + 1}, at ${fixed(p.atMm, 2)} mm` : 'below the first layer, or above the part',
      ]),
      ...report.inserts.map((i) => [
        'put in',
        !i
          ? 'no hollow there'
          : i.atMm === null
            ? 'at any time: nothing closes over it'
            : `after layer ${i.afterLayer! + 1}, at ${fixed(i.atMm, 2)} mm`,
      ]),
    ];
    return {
      ...card,
      tables: [...(card.tables ?? []), ...(stops.length > 0 ? [{ heads: ['Pause', 'When'], rows: stops }] : [])],
    };
  },
});
