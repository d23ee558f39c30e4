import { descriptionOf, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import type { CliCommand } from './Command.ts';
import { bedfuls } from './commands/bedfuls.ts';
import { book } from './commands/book.ts';
import { clearance } from './commands/clearance.ts';
import { convert } from './commands/convert.ts';
import { crop } from './commands/crop.ts';
import { cuts } from './commands/cuts.ts';
import { deviation } from './commands/deviation.ts';
import { divide, joins, order } from './commands/divide.ts';
import { doctor } from './commands/doctor.ts';
import { estimate } from './commands/estimate.ts';
import { gauge } from './commands/gauge.ts';
import { hollow } from './commands/hollow.ts';
import { inspect } from './commands/inspect.ts';
import { kit } from './commands/kit.ts';
import { layers } from './commands/layers.ts';
import { measure } from './commands/measure.ts';
import { mirror } from './commands/mirror.ts';
import { plan } from './commands/plan.ts';
import { backup, pack, restore, unpack } from './commands/packs.ts';
import { pose } from './commands/pose.ts';
import { reference } from './commands/reference.ts';
import { sections } from './commands/sections.ts';
import { size } from './commands/size.ts';
import { thickness } from './commands/thickness.ts';
import { stops } from './commands/stops.ts';
import { tips } from './commands/tips.ts';
import { whereabouts } from './commands/whereabouts.ts';
import { operationCommand } from './operationCommand.ts';

/** Operations whose command has more to it than their params: an option for several of them, other files, other keys. */
const own: { [N in OperationName]?: CliCommand } = {
  clearance,
  crop,
  cuts,
  divide,
  hollow,
  layers,
  measure,
  mirror,
  pose,
  reference,
  size,
  stops,
  thickness,
  tips,
  whereabouts,
};

/** Every command: those that look first, then the operations in the order of the route, then the rest. */
export const commands: readonly CliCommand[] = [
  inspect,
  ...operationNames
    .filter((name) => descriptionOf(name).words.example !== undefined)
    .map((name) => own[name] ?? operationCommand(name)),
  joins,
  order,
  gauge,
  sections,
  estimate,
  bedfuls,
  plan,
  book,
  deviation,
  convert,
  kit,
  pack,
  unpack,
  backup,
  restore,
  doctor,
];
