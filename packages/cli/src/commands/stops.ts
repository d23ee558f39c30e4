import { InvalidArgumentError } from 'commander';
import type { StopWish } from '@jasmorphe/core/planning/layers/StopWish';
import type { StopKind } from '@jasmorphe/core/trade/stopKinds';
import { operationCommand } from '../operationCommand.ts';
import { direction, length } from '../values.ts';

interface StopsOptions {
  printer?: string;
  colour?: StopWish[];
  insert?: StopWish[];
  other?: StopWish[];
  high?: number;
}

/** `12.5`, or a point `x,y,z`, and what it is for behind `=`. */
const wish =
  (what: StopKind) =>
  (text: string, before: StopWish[] = []): StopWish[] => {
    const [place, words = '', ...more] = text.split('=');
    if (more.length > 0) throw new InvalidArgumentError(`"${text}" is not of the form 12.5=brass or x,y,z=brass.`);
    const where = place.includes(',') ? { at: direction(place) } : { mm: length(place) };
    return [...before, { what, words, highMm: 0, ...where }];
  };

export const stops = operationCommand<'stops', StopsOptions>('stops', {
  options: [
    { flags: '--printer <profile.json>', help: 'printer, settings and material; usual ones of filament if left out' },
    {
      flags: '--colour <mm=name>',
      help: 'another colour from a height on, or from x,y,z of the part; may be repeated',
      parse: wish('colour'),
    },
    {
      flags: '--insert <x,y,z=name>',
      help: 'something is put into the hollow in which that point lies; may be repeated',
      parse: wish('insert'),
    },
    { flags: '--other <mm=name>', help: 'a stop for anything else; may be repeated', parse: wish('other') },
    { flags: '--high <mm>', help: 'height of what is put in', parse: length },
  ],
  params: ({ colour = [], insert = [], other = [], high = 0 }) => ({
    stops: [...colour, ...insert.map((w) => ({ ...w, highMm: high })), ...other],
  }),
  async before(_, params, { options }) {
    const { readProfile } = await import('../files.ts');
    return {
      params: options.printer ? { ...params, printer: await readProfile(options.printer) } : params,
      known: undefined,
    };
  },
});
