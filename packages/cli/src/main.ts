import { Command, CommanderError, Option } from 'commander';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { lengthUnits, type LengthUnit } from '@jasmorphe/core/formats/units';
import { formatOfName, writeMesh } from '@jasmorphe/core/formats/writeMesh';
import type { RunContext } from '@jasmorphe/core/run/context';
import { deviationOf } from '@jasmorphe/core/mesh/deviation';
import { beginInspection, inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isMeshError, MeshError } from '@jasmorphe/core/mesh/MeshError';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { keepChoices } from '@jasmorphe/core/operations/crop/describe';
import { joinKinds } from '@jasmorphe/core/operations/divide/joinKinds';
import { mendMethods } from '@jasmorphe/core/operations/mend/describe';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import type { OperationResult } from '@jasmorphe/core/operations/Operation';
import { operationOf, operations } from '@jasmorphe/core/operations/runs';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { fitInBed } from '@jasmorphe/core/planning/bedFit';
import { estimatePiece } from '@jasmorphe/core/planning/estimate';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { Place } from '@jasmorphe/core/planning/placeKinds';
import { growSides } from '@jasmorphe/core/operations/thicken/midSurface';
import { referenceKinds } from '@jasmorphe/core/reference/ReferenceBody';
import { roomOf } from '@jasmorphe/core/planning/room';
import { secondThread } from '@jasmorphe/threads/secondThread';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { readInput, reasonOf, writeFolder, writeMeshFile } from './files.ts';
import { readable } from './report.ts';
import {
  axisValue,
  axisValues,
  bed,
  direction,
  factor,
  length,
  measures,
  number,
  numbers,
  placeOf,
  points,
  readings,
  stretch,
  whole,
  wholes,
} from './values.ts';
import { axes } from '@jasmorphe/core/mesh/axes';
import { measureKinds, type MeasureKind } from '@jasmorphe/core/measuring/measureKinds';
import { measureOn } from '@jasmorphe/core/measuring/measure';

interface Shared {
  json?: boolean;
  quiet?: boolean;
  unit?: LengthUnit;
}

/** Streams that a run writes to; tests hand in their own. */
export interface Streams {
  out: (text: string) => void;
  error: (text: string) => void;
  /** is the error stream a terminal that may show progress? */
  live: boolean;
}

const terminal: Streams = {
  out: (text) => process.stdout.write(text),
  error: (text) => process.stderr.write(text),
  live: process.stderr.isTTY === true,
};

/** Most memory that the process has held, MB (resident). */
const peakMemoryMb = (): number => Math.round(process.resourceUsage().maxRSS / 1024);

/** Runs one command line. Returns the exit code: 0 done, 1 could not be done, 2 wrong usage. */
export async function main(args: string[], streams: Streams = terminal): Promise<number> {
  let json = false;
  const second = secondThread();
  const progress = (quiet: boolean): RunContext => {
    let last = '';
    return {
      seed: 1,
      aside: second.aside,
      checkCancelled() {},
      progress(fraction, phase) {
        if (quiet || !streams.live) return;
        const line = `${String(Math.round(100 * fraction)).padStart(3)} % ${phase}`;
        if (line !== last) streams.error(`\r\x1b[K${(last = line)}`);
      },
    };
  };
  const program = new Command('jasmorphe');
  program
    .description('Mends, sizes, hollows, divides and recuts meshes for props and large models. Lengths are in mm.')
    .exitOverride()
    .configureOutput({ writeOut: streams.out, writeErr: () => undefined });

  /** Adds the options that every command has, and runs `work` with timing and the shared report keys. */
  const command = <O extends object>(
    spec: string,
    summary: string,
    options: (c: Command) => Command,
    work: (files: string[], o: O & Shared, context: RunContext) => Promise<object>,
  ) => {
    const c = options(
      program
        .command(spec)
        .description(summary)
        .exitOverride()
        .configureOutput({ writeOut: streams.out, writeErr: () => undefined }),
    );
    c.option('--json', 'one JSON object on standard output, nothing else')
      .option('--quiet', 'no progress')
      .addOption(new Option('--unit <unit>', 'unit of the input file (default mm)').choices(lengthUnits))
      .action(async (...all: unknown[]) => {
        const o = all.at(-2) as O & Shared;
        const files = all
          .slice(0, -2)
          .flat()
          .filter((f) => f !== undefined) as string[];
        json = o.json === true;
        const started = performance.now();
        const report = await work(files, o, progress(o.quiet === true || o.json === true));
        const full = { ...report, elapsedMs: Math.round(performance.now() - started), peakMemoryMb: peakMemoryMb() };
        if (streams.live && !o.quiet && !o.json) streams.error('\r\x1b[K');
        streams.out(o.json ? `${JSON.stringify(full)}\n` : `${readable(full)}\n`);
      });
  };

  const load = async (path: string, o: Shared, context: RunContext): Promise<TriMesh> => {
    const { mesh, note } = await readInput(path, o.unit, context);
    if (note && !o.quiet && !o.json) streams.error(`${note}\n`);
    return mesh;
  };
  const plain = (c: Command) => c;
  const output = (c: Command) => c.requiredOption('-o, --output <file>', 'where to write; its ending picks the format');

  command('inspect <file>', 'measures a mesh and lists what is wrong with it', plain, async ([file], o, context) =>
    beginInspection(await load(file, o, context), {}, context)(),
  );

  command<{
    output: string;
    method: string;
    detail?: number;
    closeGaps?: number;
    grow?: number;
    fillLimit?: number;
    loops?: number[];
    crumb?: number;
    keepCrumbs?: boolean;
    taut?: boolean;
  }>(
    'mend <file>',
    'makes one sound solid, or several if they are truly apart',
    (c) =>
      output(c)
        .addOption(new Option('--method <method>', 'how').choices(mendMethods).default('auto'))
        .option('--detail <mm>', 'detail of a wrap', number)
        .option('--close-gaps <mm>', 'close gaps up to this width', number)
        .option('--grow <mm>', 'lay a wrap this far outside the old skin', number)
        .option('--fill-limit <mm>', 'leave longer open loops open', number)
        .option('--loops <n,n>', 'close these open loops alone, by their numbers in inspect', wholes)
        .option('--crumb <mm>', 'shells smaller than this across are crumbs', number)
        .option('--taut', 'draw patches tight over their rims, rather than along the surface')
        .option('--keep-crumbs', 'keep tiny loose shells'),
    async ([file], o, context) => {
      formatOfName(o.output);
      const params = parseParams(operations.mend.params, {
        method: o.method,
        detail: o.detail,
        closeGaps: o.closeGaps,
        grow: o.grow,
        fillLimit: o.fillLimit,
        loops: o.loops,
        crumb: o.crumb,
        keepCrumbs: o.keepCrumbs ?? false,
        taut: o.taut ?? false,
      });
      const { outputs, report } = await operations.mend.run([await load(file, o, context)], params, context);
      await writeMeshFile(o.output, outputs[0]);
      return report;
    },
  );

  /** A command that reads one mesh, runs an operation on it, and writes the one mesh that comes out. */
  const single = <O extends { output: string }>(
    spec: string,
    name: OperationName,
    options: (c: Command) => Command,
    paramsOf: (o: O) => object,
  ) =>
    command<O>(
      `${spec} <file>`,
      operationOf(name).words.summary.replace(/^./, (c: string) => c.toLowerCase()),
      (c) => options(output(c)),
      async ([file], o, context) => {
        formatOfName(o.output);
        const operation = operationOf(name);
        const params = parseParams(operation.params, paramsOf(o));
        const { outputs, report } = await operation.run([await load(file, o, context)], params, context);
        await writeMeshFile(o.output, outputs[0]);
        return report as object;
      },
    );

  single<{
    output: string;
    box?: number[];
    plane?: number[];
    ground?: boolean;
    groundMargin?: number;
    keep?: string;
    at?: [number, number, number];
  }>(
    'crop',
    'crop',
    (c) =>
      c
        .option('--box <x0,y0,z0,x1,y1,z1>', 'keep what lies in this box', numbers(6))
        .option('--plane <x,y,z,offset>', 'keep what lies on the side of this normal', numbers(4))
        .option('--ground', 'find the ground that it stood on and take it off')
        .option('--ground-margin <mm>', 'how far above the ground to cut', number)
        .addOption(new Option('--keep <what>', 'which loose pieces stay').choices([...keepChoices]))
        .option('--at <x,y,z>', 'a point on the piece to keep', direction),
    (o) => ({
      min: o.box?.slice(0, 3),
      max: o.box?.slice(3),
      normal: o.plane?.slice(0, 3),
      offset: o.plane?.[3],
      ground: o.ground ?? false,
      groundMargin: o.groundMargin,
      keep: o.keep ?? (o.at ? 'picked' : undefined),
      at: o.at,
    }),
  );

  single<{ output: string; height?: number; up?: [number, number, number] }>(
    'foot',
    'foot',
    (c) =>
      c
        .option('--height <mm>', 'how much to cut off; the height proposed if left out', number)
        .option('--up <x,y,z>', 'direction that is up', direction),
    (o) => ({ height: o.height, up: o.up }),
  );

  single<{ output: string; tolerance?: number; crease?: number }>(
    'refine',
    'refine',
    (c) =>
      c
        .option('--tolerance <mm>', 'how far flats may stand off the curve', number)
        .option('--crease <deg>', 'edges folded more sharply stay creases', number),
    (o) => ({ tolerance: o.tolerance, crease: o.crease }),
  );

  single<{ output: string; tolerance?: number; triangles?: number }>(
    'simplify',
    'simplify',
    (c) =>
      c
        .option('--tolerance <mm>', 'how far the surface may move', number)
        .option('--triangles <n>', 'triangles wanted instead', whole),
    (o) => ({ tolerance: o.tolerance, triangles: o.triangles }),
  );

  single<{ output: string; at?: { axis: string; mm: number }; keep?: string; weld?: number }>(
    'mirror',
    'mirror',
    (c) =>
      c
        .option('--at <axis=mm>', 'where the seam lies; found from the open edges if left out', axisValue)
        .addOption(new Option('--keep <side>', 'side of the seam that is mirrored').choices(['above', 'below']))
        .option('--weld <mm>', 'points this near to the seam are set on it', number),
    (o) => ({ axis: o.at?.axis, at: o.at?.mm, keep: o.keep, weld: o.weld }),
  );

  single<{ output: string; severity?: number; seed?: number; ground: boolean; occlusion: boolean }>(
    'scan',
    'scan',
    (c) =>
      c
        .option('--severity <0-1>', 'from a careful scan to a hopeless one', number)
        .option('--seed <n>', 'another seed, another scan', whole)
        .option('--no-ground', 'without the ground that it stands on')
        .option('--no-occlusion', 'also what a camera would not see'),
    (o) => ({ severity: o.severity, seed: o.seed, ground: o.ground, occlusion: o.occlusion }),
  );

  single<{
    output: string;
    factor?: number;
    to?: { axis: string; mm: number };
    measured?: number;
    real?: number;
    reading?: { measured: number; real: number }[];
    ratio?: number;
    original?: number;
    along?: string;
    fillBed?: number[];
    margin?: number;
    stretch?: number[];
    shrinkage?: number;
    shrinkageZ?: number;
  }>(
    'size',
    'size',
    (c) =>
      c
        .option('--factor <f>', 'by this factor, such as 4, 400%, +5% or 1:6', factor)
        .option('--to <axis=mm>', 'to this size along an axis', axisValue)
        .option('--measured <mm>', 'a length as it is on the model', length)
        .option('--real <mm>', 'the same length as it should be', length)
        .option(
          '--reading <mm=mm>',
          'a length on the model and its true length; repeat it to average several',
          readings,
        )
        .option('--ratio <1:n>', 'model to original', factor)
        .option('--original <mm>', 'length of the original', length)
        .addOption(new Option('--along <axis>', 'side that the original length is of').choices([...axes]))
        .option('--fill-bed <XxYxZ>', 'the largest that fits this room in any pose', bed)
        .option('--margin <mm>', 'kept free at each side of that bed', number)
        .option('--stretch <x=f,y=f,z=f>', 'by a factor for each axis', stretch)
        .option('--shrinkage <pct>', 'by how much the material shrinks, made up for on top', number)
        .option('--shrinkage-z <pct>', 'the same along z where it differs', number),
    (o) => ({
      factor: o.factor,
      axis: o.to?.axis ?? o.along,
      to: o.to?.mm,
      measured: o.measured,
      real: o.real,
      readings: o.reading,
      ratio: o.ratio,
      original: o.original,
      bed: o.fillBed,
      margin: o.margin,
      stretch: o.stretch,
      shrinkage: o.shrinkage,
      shrinkageZ: o.shrinkageZ,
    }),
  );

  command<{
    output: string;
    wall: number;
    detail?: number;
    openBase?: boolean;
    drain?: number;
    drains?: number;
    up?: [number, number, number];
    plugs?: string;
  }>(
    'hollow <file>',
    'takes the inside out, leaving a wall',
    (c) =>
      output(c)
        .requiredOption('--wall <mm>', 'thickness of the wall', number)
        .option('--detail <mm>', 'edge of a grid cube of the distance field', number)
        .option('--open-base', 'open the flat underside')
        .option('--drain <mm>', 'diameter of drains', number)
        .option('--drains <n>', 'drains for each cavity', whole)
        .option('--up <x,y,z>', 'direction that is up on the printer', direction)
        .option('--plugs <dir>', 'also write a plug for each drain into this folder'),
    async ([file], o, context) => {
      const format = formatOfName(o.output);
      const drains = o.drains ?? (o.drain !== undefined || o.plugs !== undefined ? 2 : 0);
      const params = parseParams(operations.hollow.params, {
        wall: o.wall,
        detail: o.detail,
        openBase: o.openBase ?? false,
        drain: o.drain,
        drains,
        up: o.up,
        plugs: o.plugs !== undefined,
      });
      const { outputs, report } = await operations.hollow.run([await load(file, o, context)], params, context);
      const [shell, ...plugs] = outputs;
      if (o.plugs !== undefined)
        await writeFolder(
          o.plugs,
          plugs.map((mesh, i) => ({
            name: `plug-${i + 1}.${format}`,
            bytes: writeMesh(mesh, format, `plug-${i + 1}`),
          })),
        );
      await writeMeshFile(o.output, shell);
      return report;
    },
  );

  command<{
    output: string;
    bed: [number, number, number];
    margin?: number;
    maxParts?: number;
    plan?: string;
    at?: { axis: string; mm: number }[];
    join?: string;
    clearance?: number;
    labels?: boolean;
  }>(
    'divide <file>',
    'cuts a solid into parts that fit the bed',
    (c) =>
      c
        .requiredOption('-o, --output <dir>', 'folder for the parts (3MF)')
        .requiredOption('--bed <XxYxZ>', 'room of the printer', bed)
        .option('--margin <mm>', 'kept free at each side', number)
        .option('--max-parts <n>', 'give up beyond this many', whole)
        .addOption(new Option('--plan <plan>', 'how to choose the cuts').choices(['auto', 'grid']))
        .option('--at <axis=mm>', 'a cut of your own; may be repeated', axisValues)
        .addOption(new Option('--join <kind>', 'what holds the parts together').choices([...joinKinds]))
        .option('--clearance <mm>', 'gap around a join', number)
        .option('--labels', 'engrave tags in the cut faces'),
    async ([file], o, context) => {
      const params = parseParams(operations.divide.params, {
        bed: o.bed,
        margin: o.margin,
        maxParts: o.maxParts,
        plan: o.plan,
        at: o.at,
        join: o.join,
        clearance: o.clearance,
        labels: o.labels ?? false,
      });
      const { outputs, report } = await operations.divide.run([await load(file, o, context)], params, context);
      await writeFolder(
        o.output,
        outputs.map((mesh, i) => ({
          name: `${report.parts[i].tag}.3mf`,
          bytes: writeMesh(mesh, '3mf', report.parts[i].tag),
        })),
      );
      const { parts, ...rest } = report;
      return {
        parts: parts.map(({ tag, ...part }) => ({ name: tag, file: join(o.output, `${tag}.3mf`), ...part })),
        ...rest,
      };
    },
  );

  command<{
    output: string;
    printed: number;
    layer?: number;
    firstLayer?: number;
    up?: [number, number, number];
    backOff?: number;
  }>(
    'recut <file>',
    'keeps what is missing of a print that stopped',
    (c) =>
      output(c)
        .requiredOption('--printed <mm>', 'height that stands, by calipers', number)
        .option('--layer <mm>', 'layer height', number)
        .option('--first-layer <mm>', 'first layer', number)
        .option('--up <x,y,z>', 'direction that was up', direction)
        .option('--back-off <mm>', 'stay this far below the measured height', number),
    async ([file], o, context) => {
      formatOfName(o.output);
      const params = parseParams(operations.recut.params, {
        printed: o.printed,
        layer: o.layer,
        firstLayer: o.firstLayer,
        up: o.up,
        backOff: o.backOff,
      });
      const { outputs, report }: OperationResult<object> = await operations.recut.run(
        [await load(file, o, context)],
        params,
        context,
      );
      await writeMeshFile(o.output, outputs[0]);
      return report;
    },
  );

  command<{ bed: [number, number, number]; margin?: number }>(
    'fit <file>',
    'does it fit the bed whole, and how turned',
    (c) =>
      c
        .requiredOption('--bed <XxYxZ>', 'room of the printer', bed)
        .option('--margin <mm>', 'kept free at each side', number),
    async ([file], o, context) => fitInBed(await load(file, o, context), roomOf(o.bed, o.margin ?? 0)),
  );

  command<{ layer: number; up?: [number, number, number] }>(
    'sections <file>',
    'cuts every layer',
    (c) =>
      c
        .requiredOption('--layer <mm>', 'layer height', number)
        .option('--up <x,y,z>', 'direction that is up', direction),
    async ([file], o, context) => sweepLayers(await load(file, o, context), o.layer, o.up, context),
  );

  command<{ printer: string }>(
    'estimate <file>',
    'time and material of one piece',
    (c) => c.requiredOption('--printer <profile.json>', 'printer, settings and material'),
    async ([file], o, context) => {
      let profile: unknown;
      try {
        profile = JSON.parse(await readFile(o.printer, 'utf8'));
      } catch (error) {
        throw new MeshError(
          'bad-params',
          `The printer profile "${o.printer}" cannot be read: ${reasonOf(error)}.`,
          'It is a JSON file; see the README.',
          'printer',
        );
      }
      return estimatePiece(await load(file, o, context), parseParams(PrinterProfile, profile), context);
    },
  );

  command<{ min?: number; factor?: number }>(
    'thickness <file>',
    'wall thickness over the surface',
    (c) =>
      c
        .option('--min <mm>', 'report the share that is thinner, and where', number)
        .option('--factor <f>', 'as if scaled by this', factor),
    async ([file], o, context) => {
      const params = parseParams(operations.thickness.params, { min: o.min, factor: o.factor });
      const { report } = await operations.thickness.run([await load(file, o, context)], params, context);
      if (o.min !== undefined) return report;
      const { places: _places, thinAreaMm2: _area, ...plainReport } = report;
      return { ...plainReport, belowMinAreaPct: null };
    },
  );

  single<{ output: string; min?: number; side?: string }>(
    'thicken',
    'thicken',
    (c) =>
      c
        .option('--min <mm>', 'what walls shall measure at least', number)
        .addOption(new Option('--side <side>', 'where they grow').choices([...growSides])),
    (o) => ({ min: o.min, side: o.side }),
  );

  single<{ output: string; largest?: number; at?: number[]; across?: number }>(
    'sample',
    'sample',
    (c) =>
      c
        .option('--largest <mm>', 'longest side of a small copy', length)
        .option('--at <x,y,z>', 'middle of a region at full size', direction)
        .option('--across <mm>', 'how far across that region is', length),
    (o) => ({ largest: o.largest, at: o.at, across: o.across }),
  );

  command<{ output: string; kind?: string; measure?: Record<string, number> }>(
    'reference',
    'makes a reference body: a head, a hand, a standing or seated figure',
    (c) =>
      output(c)
        .addOption(new Option('--kind <kind>', 'what body').choices([...referenceKinds]))
        .option('--measure <name=mm>', 'a measure, such as girth=572; may be repeated', measures),
    async (_, o, context) => {
      formatOfName(o.output);
      const params = parseParams(operations.reference.params, { kind: o.kind, measures: o.measure });
      const { outputs, report } = await operations.reference.run([], params, context);
      await writeMeshFile(o.output, outputs[0]);
      return report;
    },
  );

  command<{
    kind?: string;
    measure?: Record<string, number>;
    move?: number[];
    seat?: boolean;
    turn?: number[];
    lining?: number;
    want?: number;
    factor?: number;
  }>(
    'clearance <piece> [scan]',
    'measures the room between a piece and a body that it is worn on: a kind of body, or a scan',
    (c) =>
      c
        .addOption(new Option('--kind <kind>', 'what body, if no scan is given').choices([...referenceKinds]))
        .option('--measure <name=mm>', 'a measure of it, such as girth=572; may be repeated', measures)
        .option('--move <x,y,z>', 'where the body stands in the piece', direction)
        .option('--seat', 'let the body settle in the piece by itself')
        .option('--turn <x,y,z>', 'how it is turned there, degrees about x, then y, then z', direction)
        .option('--lining <mm>', 'padding inside the piece', length)
        .option('--want <mm>', 'clearance that the suggested factor is to leave', length)
        .option('--factor <f>', 'as if the piece were scaled by this', factor),
    async ([file, scan], o, context) => {
      const params = parseParams(operations.clearance.params, {
        kind: o.kind,
        measures: o.measure,
        move: o.move,
        seat: o.seat,
        turn: o.turn,
        lining: o.lining,
        want: o.want,
        factor: o.factor,
      });
      const inputs = [await load(file, o, context)];
      if (scan) inputs.push(await load(scan, o, context));
      return (await operations.clearance.run(inputs, params, context)).report;
    },
  );

  command<{ stand?: Place[]; pass?: Place[]; lie?: Place[]; factor?: number }>(
    'places <file> [parts...]',
    'tests a model, and the parts it comes apart into, against rooms, doors and car boots',
    (c) =>
      c
        .option('--stand <WxDxH>', 'stands in it the way up it is; - for no limit, such as -x-x2300', placeOf('stand'))
        .option('--pass <WxH>', 'passes this opening in any turning', placeOf('pass'))
        .option('--lie <WxDxH>', 'lies in it in any turning', placeOf('lie'))
        .option('--factor <f>', 'as if scaled by this', factor),
    async (files, o, context) => {
      const given = [...(o.stand ?? []), ...(o.pass ?? []), ...(o.lie ?? [])];
      const params = parseParams(operations.places.params, {
        places: given.length > 0 ? given : undefined,
        factor: o.factor,
      });
      const meshes: TriMesh[] = [];
      for (const file of files) meshes.push(await load(file, o, context));
      return (await operations.places.run(meshes, params, context)).report;
    },
  );

  command('deviation <a> <b>', 'two-way distance between two surfaces', plain, async ([a, b], o, context) => {
    const { leftPct: _, ...deviation } = deviationOf(
      await load(a, o, context),
      await load(b, o, context),
      undefined,
      context,
    );
    return deviation;
  });

  command<{ kind: MeasureKind; at: [number, number, number][]; axis: string }>(
    'measure <file>',
    'measures a length on a model between points',
    (c) =>
      c
        .addOption(new Option('--kind <kind>', 'what to measure').choices([...measureKinds]).default('points'))
        .requiredOption('--at <x,y,z>', 'a point on the model; repeat it for each point', points)
        .addOption(
          new Option('--axis <axis>', 'along it, or square to it for a girth').choices([...axes]).default('z'),
        ),
    async ([file], o, context) => {
      const mesh = await load(file, o, context);
      return measureOn(mesh, o.kind, o.at, axes.indexOf(o.axis as 'z') as 0 | 1 | 2);
    },
  );

  command<{ output: string }>('convert <file>', 'between STL, OBJ, PLY and 3MF', output, async ([file], o, context) => {
    formatOfName(o.output);
    const mesh = await load(file, o, context);
    await writeMeshFile(o.output, mesh);
    const { triangles, shells } = inspectMesh(mesh, { skipSelfIntersections: true });
    return { triangles, shells };
  });

  command<{ data: string; mend?: boolean; emptyTrash?: boolean }>(
    'doctor',
    'looks a data folder over: database, files, lines, jobs',
    (c) =>
      c
        .option('--data <folder>', 'the data folder', 'data')
        .option('--mend', 'mends what can be mended; the server must be stopped')
        .option('--empty-trash', 'deletes what is in the trash for good'),
    async (_files, o) => {
      // the store is loaded for this alone
      const { examine, emptyTrash } = await import('@jasmorphe/server/store/doctor');
      const problems = await examine(o.data, o.mend === true);
      return { problems, ...(o.emptyTrash ? { deleted: await emptyTrash(o.data) } : {}) };
    },
  );

  try {
    await program.parseAsync(args, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.exitCode === 0) return 0;
      if (args.includes('--json'))
        streams.out(
          `${JSON.stringify({ error: { code: 'usage', message: error.message.replace(/^error: /, ''), hint: 'See jasmorphe --help.' } })}\n`,
        );
      streams.error(`${error.message.replace(/^error: /, '')}\nSee jasmorphe --help.\n`);
      return 2;
    }
    const known = isMeshError(error)
      ? error
      : new MeshError('cannot', error instanceof Error ? error.message : String(error));
    if (json || args.includes('--json'))
      streams.out(`${JSON.stringify({ error: { code: known.code, message: known.message, hint: known.hint } })}\n`);
    streams.error(`${streams.live ? '\r\x1b[K' : ''}${known.message}${known.hint ? `\n${known.hint}` : ''}\n`);
    return 1;
  } finally {
    await second.close();
  }
}
