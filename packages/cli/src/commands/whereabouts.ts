import type { Place } from '@jasmorphe/core/trade/placeKinds';
import { operationCommand } from '../operationCommand.ts';
import { placeOf } from '../values.ts';

export const whereabouts = operationCommand<'whereabouts', { stand?: Place[]; pass?: Place[]; lie?: Place[] }>(
  'whereabouts',
  {
    files: '<file> [parts...]',
    options: [
      {
        flags: '--stand <WxDxH>',
        help: 'stands in it the way up it is; - for no limit, such as -x-x2300',
        parse: placeOf('stand'),
      },
      { flags: '--pass <WxH>', help: 'passes this opening in any turning', parse: placeOf('pass') },
      { flags: '--lie <WxDxH>', help: 'lies in it in any turning', parse: placeOf('lie') },
    ],
    params({ stand = [], pass = [], lie = [] }) {
      const given = [...stand, ...pass, ...lie];
      return given.length > 0 ? { places: given } : {};
    },
  },
);
