import { InvalidArgumentError } from 'commander';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Xyz } from '@jasmorphe/core/mesh/TriMesh';
import type { JoinPlace, PartName } from '@jasmorphe/core/params/checks';
import { joinKinds, placedKinds } from '@jasmorphe/core/trade/joinKinds';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import type { CutAt } from '@jasmorphe/core/planning/cuts/grid';
import type { CutsReport } from '@jasmorphe/core/operations/cuts/describe';
import type { DividePlan, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { isPlanStyle, planNames, planStyles } from '@jasmorphe/core/planning/cuts/styles';
import { fixed, inMm, secondsText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import { bedOptions, paramsOfBeds, type BedOptions } from '../bedOptions.ts';
import { cutsIn } from '../cutsIn.ts';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { cardOf, operationCommand } from '../operationCommand.ts';
import { outputOption } from '../options.ts';
import { axisValues, numbers } from '../values.ts';

interface Options extends BedOptions {
  at?: CutAt[];
  cuts?: PlaneCut[];
  joinAt?: JoinPlace[];
  names?: PartName[];
  plan?: DividePlan[];
}

/** What was planned before the cutting: each plan asked for, and how long that took. */
interface Planned {
  plans: CutsReport[];
  planMs: number;
  cutsMs: number;
}

const planWords = ['auto', 'grid', ...planStyles] as const;

/** `fewest`, or several such as `fewest,clean`: the first is cut. */
function planList(text: string): DividePlan[] {
  const plans = text.split(',').map((p) => p.trim());
  const wrong = plans.find((p) => !(planWords as readonly string[]).includes(p));
  if (wrong !== undefined) throw new InvalidArgumentError(`"${wrong}" is no plan. Plans are ${planWords.join(', ')}.`);
  return plans as DividePlan[];
}

/** `12,30,80` or `12,30,80=dowel` */
function joinPlaces(text: string, before: JoinPlace[] = []): JoinPlace[] {
  const [place, kind] = text.split('=');
  if (kind !== undefined && !(placedKinds as readonly string[]).includes(kind))
    throw new InvalidArgumentError(`"${kind}" is not placed by hand. Such joins are ${placedKinds.join(', ')}.`);
  const at = numbers(3)(place) as [number, number, number];
  return [...before, { at, ...(kind === undefined ? {} : { kind: kind as JoinPlace['kind'] }) }];
}

/** The names in a report of `divide --json`. */
function namesIn(file: string): PartName[] {
  let parts: { name?: string; tag?: string; plain: { min: Xyz; size: Xyz; volumeMm3: number } }[];
  try {
    ({ parts } = JSON.parse(readFileSync(file, 'utf8')) as { parts: typeof parts });
    return parts.map(({ name, tag, plain }) => ({
      tag: (name ?? tag)!,
      min: [plain.min.x, plain.min.y, plain.min.z],
      size: [plain.size.x, plain.size.y, plain.size.z],
      volumeMm3: plain.volumeMm3,
    }));
  } catch {
    throw new InvalidArgumentError(`"${file}" is not the report of a divide.`);
  }
}

/** What divide and the commands that only tell of it have in common. */
const asked = {
  files: '<file>',
  options: [
    ...bedOptions,
    {
      flags: '--plan <plan,...>',
      help: "even planes along the model's own axes (grid), the bed lying as needs the fewest (auto), or a plan: fewest parts, least seam that shows (clean), least support, soonest printed. Several are compared, and the first is cut (default auto)",
      parse: planList,
    },
    { flags: '--at <axis=mm>', help: 'a cut of your own; may be repeated', parse: axisValues },
    {
      flags: '--cuts <cuts.json>',
      help: 'cuts of your own as a list: normal, offset, and where wanted through, within or loop, as the report of cuts gives them',
      parse: cutsIn,
    },
    {
      flags: '--join-at <x,y,z[=kind]>',
      help: `a join placed by hand on the face that two parts share there (${placedKinds.join(', ')}); may be repeated`,
      parse: joinPlaces,
    },
    {
      flags: '--names <report.json>',
      help: 'the report of an earlier divide (--json): parts that come out again keep their names',
      parse: namesIn,
    },
  ],
  params: ({ at, plan, cuts, joinAt, names, ...beds }: Options) => ({
    ...paramsOfBeds(beds),
    ...(cuts ? { cuts } : {}),
    ...(joinAt ? { joinPlaces: joinAt } : {}),
    ...(names ? { names } : {}),
    ...(plan ? { plan: plan[0] } : {}),
    ...(at ? { at } : {}),
  }),
};

/** A join once, as the part below the cut sees it. */
const joinRows = (parts: DivideReport['parts']) =>
  parts.flatMap((p) => p.joins.filter((j) => j.to > p.tag).map((j) => ({ part: p.tag, ...j })));

/** What joins would be made, with their figures; nothing is written. */
export const joins = operationCommand<'divide', Options>('divide', {
  ...asked,
  name: 'joins',
  summary: 'how the parts of a divide would be joined, with what is to be printed or bought for it; writes nothing',
  example: 'jasmorphe joins carnyx.stl --bed 220x220x250 --plan fewest --join dowel',
  write: null,
  async before(_inputs, params) {
    if (params.join === 'none' && !params.joinPlaces)
      throw new MeshError(
        'bad-params',
        'No kind of join was asked for.',
        `Give --join, one of ${joinKinds.filter((k) => k !== 'none').join(', ')}, or --join-at.`,
        'join',
      );
    return { params, known: undefined };
  },
  report: ({ parts, loose, mixable, faces, bareFaces, leftOut }) => ({
    joins: joinRows(parts),
    loose,
    mixable,
    faces,
    bareFaces,
    leftOut,
  }),
  card: ({ parts, loose, faces, bareFaces }) => ({
    rows: [
      ['Joins', whole(joinRows(parts).length)],
      ['Faces without a join', `${whole(bareFaces)} of ${whole(faces)}`],
    ],
    tables: [
      {
        heads: ['Part', 'On', 'Join', 'Across', 'Deep', 'Flesh beside'],
        rows: joinRows(parts).map((j) => [
          j.part,
          j.to,
          `${j.kind}${j.size ? ` ${j.size}` : ''}`,
          inMm.length(j.diameterMm),
          inMm.length(j.depthMm),
          inMm.length(j.wallMm),
        ]),
      },
      ...(loose.length > 0
        ? [{ heads: ['To print or buy', 'Size', 'Count'], rows: loose.map((l) => [l.kind, l.size, whole(l.count)]) }]
        : []),
    ],
  }),
});

/** How the parts of a divide would go together; nothing is written. */
export const order = operationCommand<'divide', Options>('divide', {
  ...asked,
  name: 'order',
  summary: 'how the parts of a divide would go together again, step by step; writes nothing',
  example: 'jasmorphe order carnyx.stl --bed 220x220x250 --plan fewest',
  write: null,
  report: ({ order: steps, parts }) => ({ order: steps, parts: parts.length }),
  card: ({ order: steps }) => ({
    rows: [['Steps', whole(steps.length)]],
    tables: [
      {
        heads: ['', 'Put', 'on', 'moved along', 'Glue'],
        rows: steps.map((s, i) => [
          whole(i + 1),
          s.name,
          s.from.join('+'),
          `${fixed(s.direction.x, 2)}, ${fixed(s.direction.y, 2)}, ${fixed(s.direction.z, 2)}`,
          `${fixed(s.glueMm2 / 100, 1)} cm²`,
        ]),
      },
    ],
  }),
});

export const divide = operationCommand<'divide', Options, Planned>('divide', {
  ...asked,
  output: outputOption('folder for the parts (3MF)'),
  async before(inputs, params, { options, context }) {
    const asked = (options.plan ?? []).filter(isPlanStyle);
    if (asked.length === 0 || params.at || params.cuts) return { params, known: { plans: [], planMs: 0, cutsMs: 0 } };
    const { parseParams } = await import('@jasmorphe/core/params/parseParams');
    const { operations } = await import('@jasmorphe/core/operations/runs');
    const began = performance.now();
    const plans: CutsReport[] = [];
    for (const plan of asked) {
      const { bed, margin, beds, keepClean, painted, kind, layer, nozzle, weights } = params;
      const { report } = await operations.cuts.run(
        inputs,
        parseParams(operations.cuts.params, {
          bed,
          margin,
          kind,
          ...(layer && { layer }),
          ...(nozzle && { nozzle }),
          plan,
          ...(beds && { beds }),
          ...(keepClean && { keepClean }),
          ...(painted && { painted }),
          ...(weights && { weights }),
        }),
        context,
      );
      plans.push(report);
    }
    const planMs = Math.round(performance.now() - began);
    // what was planned is cut as it was planned; without a cut it fits whole
    const own = plans.find((p) => p.plan === params.plan);
    return {
      params: own && own.cuts.length > 0 ? { ...params, cuts: own.cuts } : params,
      known: { plans, planMs, cutsMs: performance.now() },
    };
  },
  async write(outputs, { parts, loose }, { options }) {
    const { fileOf, writeFolder } = await import('../files.ts');
    const { looseMeshes } = await import('@jasmorphe/core/operations/divide/joins/looseMesh');
    await writeFolder(options.output!, [
      ...outputs.map((mesh, i) => fileOf(parts[i].tag, '3mf', mesh)),
      // apart from the parts, of which the folder is a list
      ...(await looseMeshes(loose)).map(({ name, mesh }) => ({
        ...fileOf(name.replaceAll(' ', '-'), '3mf', mesh),
        name: `loose/${name.replaceAll(' ', '-')}.3mf`,
      })),
    ]);
  },
  report: ({ parts, ...rest }, { options }, known) => ({
    parts: parts.map(({ tag, ...part }) => ({ name: tag, file: join(options.output!, `${tag}.3mf`), ...part })),
    ...rest,
    ...(known && known.plans.length > 0
      ? {
          plans: known.plans.map(({ cuts, picture: _, ...plan }) => ({ ...plan, cuts: cuts.length })),
          planMs: known.planMs,
          partsMs: Math.round(performance.now() - known.cutsMs),
        }
      : {}),
  }),
  card: (report, known) => {
    const card = cardOf('divide', report);
    if (!known || known.plans.length === 0) return card;
    return {
      ...card,
      tables: [
        {
          heads: ['Plan', 'Parts', 'Seam that shows', 'Room for support', 'Longest', 'All printed', 'Compared'],
          rows: known.plans.map((p) => [
            isPlanStyle(p.plan) ? planNames[p.plan] : '',
            whole(p.parts),
            inMm.length(p.seenSeamMm),
            volumeText(p.supportMm3),
            secondsText(p.longestS),
            secondsText(p.allS),
            fixed(p.looked, 0),
          ]),
        },
        ...(card.tables ?? []),
      ],
    };
  },
});
