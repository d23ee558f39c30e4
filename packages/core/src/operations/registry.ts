import { clearance } from './clearance/clearance.ts';
import { crop } from './crop/crop.ts';
import { divide } from './divide/divide.ts';
import { exportMesh } from './export/exportMesh.ts';
import { fit } from './fit/fit.ts';
import { foot } from './foot/foot.ts';
import { hollow } from './hollow/hollow.ts';
import { importMesh } from './import/importMesh.ts';
import { measure } from './measure/measure.ts';
import { mend } from './mend/mend.ts';
import { mirror } from './mirror/mirror.ts';
import { places } from './places/places.ts';
import { recut } from './recut/recut.ts';
import { reference } from './reference/reference.ts';
import { refine } from './refine/refine.ts';
import { sample } from './sample/sample.ts';
import { scan } from './scan/scan.ts';
import { simplify } from './simplify/simplify.ts';
import { size } from './size/size.ts';
import { thicken } from './thicken/thicken.ts';
import { thickness } from './thickness/thickness.ts';
import type { Operation } from './Operation.ts';
import { proving } from './proving.ts';

/** Every operation; those that make solids of solids test what they made. The job runner, the command line, the forms and the API description all come from this list. */
export const operations = {
  import: importMesh,
  crop,
  mend,
  mirror: proving(mirror),
  foot: proving(foot),
  refine: proving(refine),
  simplify: proving(simplify),
  scan,
  size,
  thicken: proving(thicken),
  hollow: proving(hollow),
  divide: proving(divide),
  recut: proving(recut),
  export: exportMesh,
  sample: proving(sample),
  fit,
  measure,
  thickness,
  clearance,
  places,
  reference,
} as const;

export type OperationName = keyof typeof operations;
export const operationNames = Object.keys(operations) as OperationName[];

/** The operation of that name, with its types widened for runners that handle all of them alike. */
export const operationOf = (name: OperationName): Operation<object, unknown> =>
  operations[name] as unknown as Operation<object, unknown>;
