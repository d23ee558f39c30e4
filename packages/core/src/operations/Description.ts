import type { Finding } from '../inspect/Finding.ts';
import type { Proof } from '../repair/proveSolid.ts';
import type { Speaker } from '../words/numbers.ts';

/** The stops of the route at which operations are offered. */
export const stops = ['intake', 'mend', 'size', 'hollow', 'divide', 'layout', 'print', 'finish'] as const;
export type Stop = (typeof stops)[number];

/**
 * What comes of an operation: another skin of the body, the parts that it comes apart into, a model of its own, a body to
 * size by, or nothing but a report or a file.
 */
export type Makes = 'skin' | 'parts' | 'model' | 'reference' | 'nothing';

/** One consequence of an operation, as cards and the command line list them. */
export interface FigureRow<Report> {
  label: string;
  /** how it was measured */
  method?: string;
  of: (report: Report, say: Speaker) => string;
  /** the same where room is short */
  brief?: (report: Report, say: Speaker) => string;
  /** it stands out: what was wanted did not come */
  bad?: (report: Report) => boolean;
  /** left out unless it is so of some answer */
  when?: (report: Report) => boolean;
}

/** How an operation is spoken of. */
export interface OperationWords<Params, Report> {
  /** one line for the forms, the command line and the API description */
  summary: string;
  /** a command line that does something useful with it; without one it is no command */
  example?: string;
  /** what it is called while it runs */
  title: string;
  /** what it did, in the past tense of the ledger */
  done: string;
  /** the button that does it */
  button: string;
  /** the one figure of a step in the ledger; none where it is left out */
  figure?: (params: Params, report: Report, say: Speaker) => string;
  /** what a step keeps when it replays on another mesh; nothing is said where it is left out */
  replays?: (params: Params, say: Speaker) => string;
  /** its consequences, one figure each */
  rows?: readonly FigureRow<Report>[];
  /** what came of it or why, in a sentence; empty where there is nothing to say */
  says?: (report: Report, say: Speaker) => string;
  /** what came of it piece by piece */
  table?: { heads: readonly string[]; rows: (report: Report, say: Speaker) => string[][] };
  /** a word for the name of a file of what it made */
  fileWord?: string;
}

/** What an operation is, apart from how it runs: light enough for a page's first load and for help on the command line. */
export interface Description<Name extends string = string, Params extends object = object, Report = unknown> {
  /** the word on the command line, in the ledger and in the API */
  name: Name;
  /** the word that it had before; whoever still says it is understood */
  formerly?: string;
  /** raise it when the same params would now give another result, so that stored steps are not mistaken for it */
  version: number;
  makes: Makes;
  /** what it works on: a file, a mesh, or nothing */
  takes: 'file' | 'mesh' | 'nothing';
  /** where it is offered; null where it serves others alone */
  stop: Stop | null;
  /** it is what its stop is about, not a tool beside */
  leads?: true;
  /** measures or shows only: it cannot stand in a line, and what it makes is never printed */
  study?: true;
  /** with these params it is a search that may take minutes on a large model */
  long?: (params: Params) => boolean;
  /** stays with a part, and changes neither its mesh nor how it lies */
  stays?: true;
  /** says how a part lies on the bed: not while a print of it stands there */
  lays?: true;
  /** makes solids of solids: what it made is tested */
  proves?: true;
  /** makes a skin of which what mending said no longer holds */
  reopens?: true;
  /** what its preview shows on the bench */
  shows: 'skin' | 'parts' | 'map' | 'nothing';
  params: new () => Params;
  /** what its card begins with, where a maker at the screen is better served than by the params' own defaults */
  begins?: Partial<Params>;
  /** hashes of further meshes that the params name; they come after the body's own among the inputs */
  companions?: (params: Params) => string[];
  /** what its step brings up, and the stops at which that matters; a study's is shown while it is looked at */
  findings?: { at: readonly Stop[]; of: (params: Params, report: Report) => Finding[] };
  /** a report as an earlier version kept it, with the fields that came since; nothing is measured anew */
  kept?: (report: Partial<Report>) => Report;
  words: OperationWords<Params, Report>;
  /** for types alone */
  readonly report?: Report;
}

/** What a report says of the solids that were made; null where the mesh was no closed one to begin with. */
export interface Proven {
  proof: Proof | null;
}

/**
 * A report as it was kept, by whichever version of the operation: fields that came later are there, so that whoever reads
 * it need not know when it was made.
 */
export function readReport({ kept, proves }: Description, report: unknown): unknown {
  const whole = { ...(proves ? { proof: null } : {}), ...(report as object) };
  return kept ? kept(whole) : whole;
}

/** A description, with its types checked. */
export const describe = <Name extends string, Params extends object, Report>(
  description: Description<Name, Params, Report>,
): Description<Name, Params, Report> => description;
