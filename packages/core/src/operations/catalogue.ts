import { description as bedfuls } from './bedfuls/describe.ts';
import { description as clearance } from './clearance/describe.ts';
import { description as crop } from './crop/describe.ts';
import { description as cuts } from './cuts/describe.ts';
import { description as divide } from './divide/describe.ts';
import { description as exportMesh } from './export/describe.ts';
import { description as fit } from './fit/describe.ts';
import { description as foot } from './foot/describe.ts';
import { description as hollow } from './hollow/describe.ts';
import { description as importMesh } from './import/describe.ts';
import { description as drawing } from './drawing/describe.ts';
import { description as layers } from './layers/describe.ts';
import { description as measure } from './measure/describe.ts';
import { description as mend } from './mend/describe.ts';
import { description as mirror } from './mirror/describe.ts';
import { description as move } from './move/describe.ts';
import { description as pose } from './pose/describe.ts';
import { description as practice } from './practice/describe.ts';
import { description as recut } from './recut/describe.ts';
import { description as reference } from './reference/describe.ts';
import { description as refine } from './refine/describe.ts';
import { description as sample } from './sample/describe.ts';
import { description as simplify } from './simplify/describe.ts';
import { description as size } from './size/describe.ts';
import { description as thicken } from './thicken/describe.ts';
import { description as thickness } from './thickness/describe.ts';
import { description as stops } from './stops/describe.ts';
import { description as tips } from './tips/describe.ts';
import { description as traits } from './traits/describe.ts';
import { description as whereabouts } from './whereabouts/describe.ts';
import type { Description } from './Description.ts';

/**
 * What every operation is. The job runner, the routes, the command line, the forms, the ledger and the API description all
 * ask here; how they run is a second list that only workers load.
 */
export const catalogue = {
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
} as const;

export type OperationName = keyof typeof catalogue;
export const operationNames = Object.keys(catalogue) as OperationName[];

/** Params and report of the operation of that name. */
export type ParamsOf<N extends OperationName> = InstanceType<(typeof catalogue)[N]['params']>;
export type ReportOf<N extends OperationName> = NonNullable<(typeof catalogue)[N]['report']>;

/** The description of that name, with its types widened for code that handles all of them alike. */
export const descriptionOf = (name: OperationName): Description<OperationName> =>
  catalogue[name] as unknown as Description<OperationName>;

/** The name of an operation as it is now, for a word that may be the one it had before; any other word is given back. */
export const nameNow = (word: unknown): unknown =>
  operationNames.find((name) => descriptionOf(name).formerly === word) ?? word;
