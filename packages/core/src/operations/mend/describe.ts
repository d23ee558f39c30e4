import { fixed, whole, countOf } from '../../words/numbers.ts';
import { Param, saysLength, saysWhen } from '../../params/Param.ts';
import { IsArray, IsBoolean, IsIn, IsInt, IsOptional, Min } from 'class-validator';
import type { Deviation } from '../../mesh/deviation.ts';
import { readInspection, type Inspection } from '../../inspect/Inspection.ts';
import { IsLengthMm, IsMm } from '../../params/checks.ts';
import type { PatchCost } from './cost.ts';
import type { StitchCounts } from './stitch.ts';
import { describe } from '../Description.ts';

const mendMethods = ['auto', 'stitch', 'join', 'wrap'] as const;

export type MendMethod = (typeof mendMethods)[number];

export type Method = Exclude<MendMethod, 'auto'>;

export class MendParams {
  @Param(
    'stitch keeps every good triangle; join also unites overlapping shells; wrap makes a new skin; auto takes, shell by shell, the first that works',
    { says: (m: string) => (m === 'auto' ? null : `by ${m}`) },
  )
  @IsOptional()
  @IsIn(mendMethods)
  method: MendMethod = 'auto';

  @Param('detail of a wrap; a three-hundredth of the diagonal if left out', { says: saysLength('detail') })
  @IsOptional()
  @IsLengthMm()
  detail?: number;

  @Param('gaps up to this width are closed: open edges this near are joined, a wrap closes slots this wide', {
    says: saysLength('gaps closed up to'),
  })
  @IsOptional()
  @IsMm()
  closeGaps?: number;

  @Param('a wrap lies this far outside the old skin: for parts that only nearly touch', {
    says: saysLength('grown by'),
  })
  @IsOptional()
  @IsMm()
  grow?: number;

  @Param('open loops longer than this stay open; all are closed if left out', { says: saysLength('loops up to') })
  @IsOptional()
  @IsLengthMm()
  fillLimit?: number;

  @Param('open loops to close, by their numbers in the findings; all, if left out', {
    says: (l: number[]) => `${countOf(l.length, 'loop')} closed`,
  })
  @IsOptional()
  @IsArray()
  @IsInt({ each: true })
  @Min(1, { each: true })
  loops?: number[];

  @Param('draw patches tight over their rims, instead of such as follow the surface around them', {
    says: saysWhen('patches drawn tight'),
  })
  @IsOptional()
  @IsBoolean()
  taut: boolean = false;

  @Param('shells smaller than this across count as crumbs; a fiftieth of the diagonal if left out', {
    says: saysLength('crumbs under'),
  })
  @IsOptional()
  @IsMm()
  crumb?: number;

  @Param('keep tiny loose shells', { says: saysWhen('crumbs kept') })
  @IsOptional()
  @IsBoolean()
  keepCrumbs: boolean = false;
}

/** What became of shells. */
const doneBy: Readonly<Record<Method, string>> = { stitch: 'stitched', join: 'joined', wrap: 'given a new skin' };

/** What was done to some of the shells. */
export interface MendPart {
  method: Method;
  shells: number;
  triangles: number;
}

export interface MendReport {
  /** the strongest that was needed anywhere */
  method: Method;
  /** patches were drawn tight, as asked or because others would have bulged */
  taut: boolean;
  /** which shells were kept, which joined, which wrapped */
  parts: MendPart[];
  before: Inspection;
  after: Inspection;
  /** of the old skin that can be seen: neither what was dropped as a crumb or sheet, nor what lay buried inside, nor patches */
  deviation: Deviation;
  /** what was made up to close holes; null where nothing was */
  patches: PatchCost | null;
  /** share of the old skin's area that lay inside the body, from samples */
  buriedPct: number;
  /** null when the mesh had no volume before */
  volumeChangePct: number | null;
  /** growth of the bounds along x, y and z, mm */
  sizeChange: { x: number; y: number; z: number };
  /** share of the old triangles that are still there, bit for bit */
  untouchedPct: number;
  stitched: StitchCounts;
  /** closed, oriented, free of crossings, and taken by the solid kernel */
  sound: boolean;
  /** why this method, or what is still wrong and what to try */
  reason: string;
}

export const description = describe<'mend', MendParams, MendReport>({
  name: 'mend',
  version: 6,
  makes: 'skin',
  takes: 'mesh',
  stop: 'mend',
  leads: true,
  shows: 'skin',
  params: MendParams,
  kept(r) {
    const [before, after] = [readInspection(r.before), readInspection(r.after)];
    const grown = (k: 'x' | 'y' | 'z') => after.size[k] - before.size[k];
    const sizeChange = { x: grown('x'), y: grown('y'), z: grown('z') };
    return { taut: false, parts: [], patches: null, buriedPct: 0, sizeChange, ...r, before, after } as MendReport;
  },
  words: {
    summary: 'Closes, orients and unites a mesh into a sound solid',
    example: 'jasmorphe mend scan.stl -o mended.stl --close-gaps 0.3',
    title: 'Mend',
    done: 'Mended',
    button: 'Mend it',
    figure: (_, r, { length }) => `${r.method}, dev ${length(r.deviation.maxMm)}`,
    replays: () => 'mending is worked out anew',
    rows: [
      {
        label: 'Valid solid',
        of: (r) => (r.sound ? 'yes' : 'no'),
        bad: (r) => !r.sound,
        method: 'closed, consistently turned, free of crossings; exact predicates',
      },
      {
        label: 'How',
        of: (r) => r.parts.map((p) => `${countOf(p.shells, 'shell')} ${doneBy[p.method]}`).join(', ') || r.method,
        brief: (r) => r.parts.map((p) => `${p.method} ${p.shells}`).join(', ') || r.method,
        method: 'shells that were kept, united or given a new skin',
      },
      {
        label: 'Triangles',
        of: (r) => `${whole(r.after.triangles)}, were ${whole(r.before.triangles)}`,
        brief: (r) => whole(r.after.triangles),
      },
      {
        label: 'Triangles kept',
        of: (r) => `${fixed(r.untouchedPct, 1)} %`,
        method: 'share of the old triangles with the same three corners',
      },
      {
        label: 'Deviation, worst',
        of: (r, { length }) => length(r.deviation.maxMm),
        method: 'of the old skin and what stands for it, two-way; patches are counted apart',
      },
      {
        label: 'typical',
        of: (r, { length }) => length(r.deviation.meanMm),
        method: 'mean over evenly spread samples',
      },
      {
        label: 'Patches reach',
        of: (r, { length }) => (r.patches ? length(r.patches.farthestMm) : '—'),
        when: (r) => r.patches !== null,
        method: 'how far what closes a hole lies from the old skin; nothing says where the skin was',
      },
      {
        label: 'and hold',
        of: (r, { volume }) => (r.patches ? `${r.patches.bulgeMm3 > 0 ? '+' : ''}${volume(r.patches.bulgeMm3)}` : '—'),
        when: (r) => r.patches !== null,
        method: 'volume beyond a cone from the middle of each rim',
      },
      {
        label: 'Volume',
        of: (r) =>
          r.volumeChangePct === null ? '—' : `${r.volumeChangePct > 0 ? '+' : ''}${fixed(r.volumeChangePct, 2)} %`,
        method: 'against the volume before, where there was one',
      },
      {
        label: 'Size',
        of({ sizeChange }, { length }) {
          const most = Object.values(sizeChange).reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0);
          return Math.abs(most) < 0.005 ? 'same' : `${most > 0 ? '+' : ''}${length(most)}`;
        },
        method: 'of the side that changes most; crumbs and loose ground count while they are there',
      },
      {
        label: 'Skin buried',
        of: (r) => `${fixed(r.buriedPct, 1)} %`,
        method: 'share of the old triangles that lay inside the body',
      },
      { label: 'Holes closed', of: (r) => whole(r.stitched.holesFilled) },
      {
        label: 'Dropped',
        of: (r) => whole(r.stitched.crumbsDropped + r.stitched.sheetsDropped),
        method: 'crumbs, and loose sheets such as the ground of a scan',
      },
      {
        label: 'Shells',
        of: (r) => `${whole(r.after.shells)}, were ${whole(r.before.shells)}`,
        brief: (r) => whole(r.after.shells),
        method: 'skins that share no edge: separate bodies and cavities',
      },
    ],
    says: (r) => r.reason,
    fileWord: 'mended',
  },
});
