import type { CliCommand } from './Command.ts';
import { clearance } from './commands/clearance.ts';
import { convert } from './commands/convert.ts';
import { crop } from './commands/crop.ts';
import { deviation } from './commands/deviation.ts';
import { divide } from './commands/divide.ts';
import { doctor } from './commands/doctor.ts';
import { estimate } from './commands/estimate.ts';
import { fit } from './commands/fit.ts';
import { foot } from './commands/foot.ts';
import { hollow } from './commands/hollow.ts';
import { inspect } from './commands/inspect.ts';
import { measure } from './commands/measure.ts';
import { mend } from './commands/mend.ts';
import { mirror } from './commands/mirror.ts';
import { places } from './commands/places.ts';
import { recut } from './commands/recut.ts';
import { reference } from './commands/reference.ts';
import { refine } from './commands/refine.ts';
import { sample } from './commands/sample.ts';
import { scan } from './commands/scan.ts';
import { sections } from './commands/sections.ts';
import { simplify } from './commands/simplify.ts';
import { size } from './commands/size.ts';
import { thicken } from './commands/thicken.ts';
import { thickness } from './commands/thickness.ts';

/** Every command, in the order of the route. */
export const commands: readonly CliCommand[] = [
  inspect,
  mend,
  crop,
  mirror,
  foot,
  refine,
  simplify,
  size,
  measure,
  fit,
  thickness,
  thicken,
  places,
  reference,
  clearance,
  sample,
  hollow,
  divide,
  sections,
  estimate,
  recut,
  deviation,
  convert,
  scan,
  doctor,
];
