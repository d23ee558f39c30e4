import { Argument, Command, CommanderError, Option } from 'commander';
import { lengthUnits, type LengthUnit } from '@jasmorphe/core/formats/units';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import type { Answer, CliCommand, Job } from './Command.ts';
import { commands } from './commands.ts';
import { completionScript, shells, type Shell } from './completion.ts';
import { commanderOption } from './options.ts';
import { progressLine } from './progressLine.ts';
import { paintOf, render } from './render.ts';
import { version } from './version.ts';

interface Shared {
  json?: boolean;
  quiet?: boolean;
  unit?: LengthUnit;
  output?: string;
}

/** Streams that a run reads from and writes to; tests hand in their own. */
export interface Streams {
  out: (text: string) => void;
  error: (text: string) => void;
  /** is the error stream a terminal that may show progress? */
  live: boolean;
  /** may the output be coloured? */
  colour?: boolean;
  /** all that comes in on standard input */
  stdin?: () => Promise<Uint8Array>;
}

const terminal: Streams = {
  out: (text) => process.stdout.write(text),
  error: (text) => process.stderr.write(text),
  live: process.stderr.isTTY === true,
  colour: process.stdout.isTTY === true && !process.env.NO_COLOR,
};

/** Most memory that the process has held, MB (resident). */
const peakMemoryMb = (): number => Math.round(process.resourceUsage().maxRSS / 1024);

/** What went wrong with one file of several. */
interface Failed {
  file: string;
  code: string;
  message: string;
  hint: string;
}

/** What is wrong, in words; a trouble of the disk or the database too. */
async function told(error: unknown): Promise<{ code: string; message: string; hint: string }> {
  if (isMeshError(error)) return error;
  const { troubleOf } = await import('@jasmorphe/server/store/troubles');
  return troubleOf(error) ?? new MeshError('cannot', error instanceof Error ? error.message : String(error));
}

/** Runs one command line. Returns the exit code: 0 done, 1 could not be done, 2 wrong usage. */
export async function main(args: string[], streams: Streams = terminal): Promise<number> {
  let json = false;
  let failures = 0;
  const silent = { writeOut: streams.out, writeErr: () => undefined };
  const program = new Command('jasmorphe');
  program
    .description('Mends, sizes, hollows, divides and recuts meshes for props and large models. Lengths are in mm.')
    .version(version, '--version', 'what version this is')
    .addHelpText(
      'after',
      '\nFiles may be patterns such as "kit/*.stl"; - is standard input.\nHelp on a command: jasmorphe help mend',
    )
    .exitOverride()
    .configureOutput(silent);
  for (const spec of commands) {
    const c = program.command(spec.files ? `${spec.name} ${spec.files}` : spec.name).description(spec.summary);
    if (spec.formerly) c.alias(spec.formerly);
    for (const option of spec.options) c.addOption(commanderOption(option));
    c.option('--json', 'one JSON object on standard output, nothing else').option('--quiet', 'no progress');
    if (!spec.unitless)
      c.addOption(new Option('--unit <unit>', 'unit of the input file (default mm)').choices(lengthUnits));
    c.addHelpText('after', `\nExample:\n  ${spec.example}`)
      .exitOverride()
      .configureOutput(silent)
      .action(async (...all: unknown[]) => {
        const options = all.at(-2) as Shared;
        const given = all
          .slice(0, -2)
          .flat()
          .filter((f) => f !== undefined) as string[];
        json = options.json === true;
        failures = await runCommand(spec, given, options, streams);
      });
  }
  program
    .command('completion')
    .description('prints a script that completes commands and options in a shell')
    .addArgument(new Argument('<shell>', 'which shell').choices([...shells]))
    .addHelpText('after', '\nExample:\n  jasmorphe completion bash >> ~/.bashrc')
    .exitOverride()
    .configureOutput(silent)
    .action((shell: Shell) => streams.out(completionScript(shell, commands, lengthUnits)));
  try {
    await program.parseAsync(args, { from: 'user' });
    return failures > 0 ? 1 : 0;
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.exitCode === 0) return 0;
      const message = error.message.replace(/^error: /, '');
      const asked = program.commands.find((c) => c.name() === args[0] || c.aliases().includes(args[0]));
      const hint = `See jasmorphe ${asked ? `help ${asked.name()}` : '--help'}.`;
      if (args.includes('--json')) streams.out(`${JSON.stringify({ error: { code: 'usage', message, hint } })}\n`);
      streams.error(`${message}\n${hint}\n`);
      return 2;
    }
    const { code, message, hint } = await told(error);
    if (json || args.includes('--json')) streams.out(`${JSON.stringify({ error: { code, message, hint } })}\n`);
    streams.error(`${streams.live ? '\r\u001b[K' : ''}${message}${hint ? `\n${hint}` : ''}\n`);
    return 1;
  }
}

/** Runs a command on its files and says what came of it. Returns how many of several files failed; one alone throws. */
async function runCommand(spec: CliCommand, given: string[], options: Shared, streams: Streams): Promise<number> {
  const started = performance.now();
  const quiet = options.quiet === true || options.json === true;
  const paint = paintOf(streams.colour === true);
  const { filesOf, makeFolderFor, outputsOf, readInput } = await import('./files.ts');
  const { secondThread } = await import('@jasmorphe/threads/secondThread');
  const files = spec.each ? await filesOf(given) : given;
  // one file that a pattern stands for is treated as several are: scripts should not depend on how many there happen to be
  const several = spec.each === true && (files.length > 1 || files[0] !== given[0]);
  const outputs = several && options.output !== undefined ? outputsOf(options.output, files) : null;
  const folder = outputs && (await makeFolderFor(outputs, files));
  const second = secondThread();
  const runOn = async (own: string[], output: string | undefined): Promise<Answer> => {
    const progress = progressLine(streams.error);
    const job: Job<object> = {
      files: own,
      options: { ...options, output },
      context: {
        seed: 1,
        secondThread: second.run,
        checkCancelled() {},
        progress(fraction, phase) {
          if (!quiet && streams.live) progress.say(fraction, phase);
        },
      },
      async load(path): Promise<TriMesh> {
        const { mesh, note } = await readInput(path, options.unit, job.context, streams.stdin);
        if (note && !quiet) job.note(note);
        return mesh;
      },
      note(text) {
        progress.clear();
        streams.error(`${text}\n`);
      },
    };
    try {
      return await spec.run(job as Job<never>);
    } finally {
      progress.clear();
    }
  };
  const spent = () => ({ elapsedMs: Math.round(performance.now() - started), peakMemoryMb: peakMemoryMb() });
  const print = (card: Answer['card']) => streams.out(`${render(card, paint)}\n`);
  try {
    if (!several) {
      const { report, card } = await runOn(files, options.output);
      if (options.json) streams.out(`${JSON.stringify({ ...report, ...spent() })}\n`);
      else print(card);
      return 0;
    }
    const done: object[] = [];
    const failed: Failed[] = [];
    for (const [i, file] of files.entries()) {
      if (!options.json) streams.out(`${i > 0 ? '\n' : ''}${paint.strong(file)}\n`);
      try {
        const { report, card } = await runOn([file], outputs?.[i]);
        done.push({ file, ...(outputs && { out: outputs[i] }), ...report });
        if (!options.json) print(card);
      } catch (error) {
        const { code, message, hint } = await told(error);
        failed.push({ file, code, message, hint });
        if (!options.json) streams.error(`${message}${hint ? `\n${hint}` : ''}\n`);
      }
    }
    if (done.length === 0) await folder?.undo();
    if (options.json) streams.out(`${JSON.stringify({ files: done, failed, ...spent() })}\n`);
    else if (failed.length > 0) streams.error(`\n${failed.length} of ${files.length} files could not be done.\n`);
    return failed.length;
  } finally {
    await second.close();
  }
}
