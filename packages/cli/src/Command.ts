import type { OperationContext } from '@jasmorphe/core/operations/Operation';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import type { OptionSpec } from './options.ts';

/** What a command says to people: figures, sentences, tables. */
export interface Card {
  /** label, figure, and how it was measured */
  rows: readonly (readonly [label: string, figure: string, method?: string])[];
  /** what it comes to, in a sentence */
  says?: string;
  findings?: readonly { severity: 'failure' | 'attention' | 'note'; message: string; mends?: readonly string[] }[];
  tables?: readonly { heads: readonly string[]; rows: readonly (readonly string[])[] }[];
}

/** What a command found or made: for programs and for people. */
export interface Answer {
  report: object;
  card: Card;
}

/** What a command is given when it runs. */
export interface Job<O = Record<string, unknown>> {
  /** the files of one run: as many as the command takes at a time */
  files: string[];
  options: O & { output?: string };
  context: OperationContext;
  /** reads and imports a mesh file; `-` is standard input */
  load: (path: string) => Promise<TriMesh>;
  /** Says something beside the report. */
  note: (text: string) => void;
}

/** A command of the command line. Light: what it runs is loaded when it runs. */
export interface CliCommand {
  name: string;
  /** the name it had before, which still runs it */
  formerly?: string;
  /** files that it takes, as its usage shows them */
  files: string;
  summary: string;
  /** a whole command line that does something useful */
  example: string;
  options: readonly OptionSpec[];
  /** takes any number of files and treats each by itself; what it writes goes into a folder then */
  each?: true;
  /** reads no mesh, so that a unit means nothing to it */
  unitless?: true;
  run: (job: Job<never>) => Promise<Answer>;
}
