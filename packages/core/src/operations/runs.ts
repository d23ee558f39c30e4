import { bedfuls } from './bedfuls/run.ts';
import { clearance } from './clearance/run.ts';
import { crop } from './crop/run.ts';
import { cuts } from './cuts/run.ts';
import { divide } from './divide/run.ts';
import { exportMesh } from './export/run.ts';
import { fit } from './fit/run.ts';
import { foot } from './foot/run.ts';
import { hollow } from './hollow/run.ts';
import { importMesh } from './import/run.ts';
import { drawing } from './drawing/run.ts';
import { layers } from './layers/run.ts';
import { measure } from './measure/run.ts';
import { mend } from './mend/run.ts';
import { mirror } from './mirror/run.ts';
import { move } from './move/run.ts';
import { pose } from './pose/run.ts';
import { practice } from './practice/run.ts';
import { recut } from './recut/run.ts';
import { reference } from './reference/run.ts';
import { refine } from './refine/run.ts';
import { sample } from './sample/run.ts';
import { simplify } from './simplify/run.ts';
import { size } from './size/run.ts';
import { thicken } from './thicken/run.ts';
import { thickness } from './thickness/run.ts';
import { stops } from './stops/run.ts';
import { tips } from './tips/run.ts';
import { traits } from './traits/run.ts';
import { whereabouts } from './whereabouts/run.ts';
import type { OperationName } from './catalogue.ts';
import type { Operation } from './Operation.ts';

/** How every operation runs. Heavy: geometry and the solid kernel come with it. */
export const operations = {
  import: importMesh,
  crop,
  mend,
  mirror,
  foot,
  refine,
  simplify,
  practice,
  size,
  move,
  thicken,
  hollow,
  divide,
  pose,
  tips,
  stops,
  drawing,
  layers,
  bedfuls,
  recut,
  export: exportMesh,
  sample,
  fit,
  measure,
  thickness,
  clearance,
  whereabouts,
  traits,
  cuts,
  reference,
} as const satisfies Record<OperationName, unknown>;

/** The operation of that name, with its types widened for runners that handle all of them alike. */
export const operationOf = (name: OperationName): Operation => operations[name] as unknown as Operation;
