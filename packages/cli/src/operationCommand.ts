import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { descriptionOf, type OperationName, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { inMm } from '@jasmorphe/core/words/numbers';
import type { Card, CliCommand, Job } from './Command.ts';
import { spoken, spokenFindings } from './spoken.ts';
import { optionsOf, outputOption, paramsFrom, type OptionSpec } from './options.ts';

/** What a command for an operation has beyond what its description says. */
interface Extra<N extends OperationName, O, K> {
  /** another command for the same operation: its name, what it does, and an example */
  name?: string;
  summary?: string;
  example?: string;
  /** files that it takes; one, or any number each by itself, if left out */
  files?: string;
  /** options that stand for several params, or for none */
  options?: readonly OptionSpec[];
  /** params that those options give */
  params?: (options: O, given: Partial<ParamsOf<N>>) => Partial<ParamsOf<N>>;
  output?: OptionSpec;
  /** what is worked out beforehand, and the params that follow from it */
  before?: (inputs: TriMesh[], params: ParamsOf<N>, job: Job<O>) => Promise<{ params: ParamsOf<N>; known: K }>;
  /** writes what was made; the first mesh, as the output's name says, if left out; null writes nothing */
  write?: null | ((outputs: TriMesh[], report: ReportOf<N>, job: Job<O>, inputs: TriMesh[]) => Promise<void>);
  /** the report for programs, where its keys are others than the operation's own */
  report?: (report: ReportOf<N>, job: Job<O>, known?: K) => object;
  /** the card for people, where it has more than the operation's own */
  card?: (report: ReportOf<N>, known?: K) => Card;
}

/** The card of an operation's report: its own rows, sentence and table. */
export function cardOf(name: OperationName, report: unknown): Card {
  const { words } = descriptionOf(name);
  const table = words.table && { heads: words.table.heads, rows: words.table.rows(report, inMm) };
  return {
    rows: (words.rows ?? [])
      .filter((r) => !r.when || r.when(report))
      .map((r) => [r.label, r.of(report, inMm), r.method] as const),
    says: words.says?.(report, inMm),
    tables: table && table.rows.length > 0 ? [table] : [],
  };
}

/** The command of an operation: its options, limits and help come from its params, what it prints from its words. */
export function operationCommand<N extends OperationName, O extends object = object, K = undefined>(
  name: N,
  extra: Extra<N, O, K> = {},
): CliCommand {
  const { params: Params, words, makes, takes, findings, formerly } = descriptionOf(name);
  const writes = makes !== 'nothing' && extra.write !== null;
  return {
    name: extra.name ?? name,
    ...(formerly && !extra.name ? { formerly } : {}),
    files: extra.files ?? (takes === 'mesh' ? '<files...>' : ''),
    summary: extra.summary ?? words.summary.replace(/^./, (c) => c.toLowerCase()),
    example: extra.example ?? words.example ?? '',
    options: [...(writes ? [extra.output ?? outputOption()] : []), ...(extra.options ?? []), ...optionsOf(Params)],
    ...(extra.files === undefined && takes === 'mesh' ? { each: true as const } : {}),
    ...(takes === 'nothing' ? { unitless: true as const } : {}),
    async run(given) {
      const job = given as unknown as Job<O>;
      const output = job.options.output;
      const { writeMeshFile, checkOutput } = await import('./files.ts');
      if (writes && !extra.write) checkOutput(output!);
      const plain = paramsFrom(Params, job.options) as Partial<ParamsOf<N>>;
      const params = parseParams(Params, { ...plain, ...extra.params?.(job.options, plain) });
      const { operationOf } = await import('@jasmorphe/core/operations/runs');
      const inputs: TriMesh[] = [];
      for (const file of job.files) inputs.push(await job.load(file));
      const first = extra.before && (await extra.before(inputs, params as ParamsOf<N>, job));
      const { outputs, report: made } = await operationOf(name).run(inputs, first?.params ?? params, job.context);
      const report = made as ReportOf<N>;
      if (extra.write) await extra.write(outputs, report, job, inputs);
      else if (writes) await writeMeshFile(output!, outputs[0]);
      const found = findings?.of(params, report) ?? null;
      const told = extra.report?.(report, job, first?.known) ?? report;
      const card = extra.card?.(report, first?.known) ?? cardOf(name, report);
      return {
        report: spoken(found ? { ...told, findings: found } : told),
        card: { ...card, ...(found && { findings: spokenFindings(found) }) },
      };
    },
  };
}
