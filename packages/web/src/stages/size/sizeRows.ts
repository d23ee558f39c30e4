import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { axes } from '@jasmorphe/core/mesh/axes';
import type { Xyz, Triple } from '@jasmorphe/core/mesh/TriMesh';
import type { HollowReport } from '@jasmorphe/core/operations/hollow/describe';
import type { SizeReport } from '@jasmorphe/core/operations/size/describe';
import type { ThicknessReport } from '@jasmorphe/core/operations/thickness/describe';
import { thinnerPct } from '@jasmorphe/core/operations/thickness/thinnerPct';
import { figures } from '@jasmorphe/core/trade/figures';
import { fixed, massText, type Speaker } from '@jasmorphe/core/words/numbers';
import type { ConsequenceRow } from '../../decision/Consequences.tsx';

export type { Triple } from '@jasmorphe/core/mesh/TriMesh';

export const cube = (f: Triple): number => f[0] * f[1] * f[2];
export const mean = (f: Triple): number => Math.cbrt(cube(f));
export const same = (f: Triple): boolean => f[0] === f[1] && f[1] === f[2];

/** What the rows of the size card follow from. */
export interface SizeBasis {
  /** size before the step, mm */
  before: Xyz;
  /** of the mesh that the step starts from; null while they are fetched */
  facts: Inspection | null;
  thick: ThicknessReport | null;
  /** of the step in force */
  done: SizeReport | undefined;
  /** it was hollowed before this step */
  hollowed: boolean;
  /** a hollow that will replay after this step */
  hollow: { wall: number; report: HollowReport } | null;
  resin: boolean;
  density: number;
  /** thinnest wall that holds, mm */
  least: number;
  /** how much larger than wanted the file is, for the shrinkage */
  grown: number;
  length: (mm: number, withUnit?: boolean) => string;
  say: Speaker;
}

/** The thinnest wall of a mesh, mm, whichever look found it. */
const thinnestOf = ({ p01Mm, places }: ThicknessReport, facts: Inspection | null): number =>
  Math.min(
    p01Mm,
    ...places.map((p) => p.leastMm),
    ...(facts?.findings ?? []).flatMap((f) => (f.kind === 'thin-walls' ? [f.values.leastMm] : [])),
  );

/** What the model would be at each of several factors; null columns are not known yet. */
export function sizeRows(basis: SizeBasis, columns: readonly (Triple | null)[]): ConsequenceRow[] {
  const { before, facts, thick, done, hollowed, hollow, resin, density, least, grown, length, say } = basis;
  const volume = facts?.volumeMm3 == null ? null : Math.abs(facts.volumeMm3);
  const row = (label: string, of: (f: Triple) => string, method?: string): ConsequenceRow => ({
    label,
    cells: columns.map((f) => (f ? of(f) : null)),
    method,
  });
  // a shell holds about its skin times its wall; exact only for the size that it was hollowed at
  const shell = (f: Triple) => {
    if (volume === null || !facts || !hollow) return '—';
    if (done && f.every((x, k) => Math.abs((x * grown) / done.factor[axes[k]] - 1) < 1e-6))
      return say.volume(hollow.report.volumeMm3, resin);
    return `≈ ${say.volume(Math.min(volume * cube(f), facts.areaMm2 * mean(f) ** 2 * hollow.wall), resin)}`;
  };
  // walls and flats are known for even factors alone
  const even = (of: (t: ThicknessReport, f: number) => string) => (f: Triple) =>
    thick && same(f) ? of(thick, mean(f)) : '—';
  return [
    row('Width', (f) => length(before.x * f[0], false)),
    row('Depth', (f) => length(before.y * f[1], false)),
    row('Height', (f) => length(before.z * f[2], false)),
    row(
      hollowed ? 'Material' : 'Volume, solid',
      (f) => (volume === null ? '—' : say.volume(volume * cube(f), resin)),
      `${hollowed ? 'of the hollow model; ' : ''}grows with the cube of the factor`,
    ),
    row(
      hollowed ? 'Mass' : 'Mass, solid',
      (f) => (volume === null ? '—' : massText(((volume * cube(f)) / 1000) * density)),
      `at ${density} g/cm³, common practice`,
    ),
    ...(hollow
      ? [
          row('Material, hollow', shell, 'once hollow has replayed; ≈ is the skin times the wall'),
          row('Wall, hollow', () => length(hollow.wall), 'hollow keeps its own wall when it replays'),
        ]
      : []),
    row(`${length(1)} of wall is`, (f) => length(mean(f)), 'walls drawn in the file scale too'),
    row(
      'Thinnest wall',
      even((t, f) => length(thinnestOf(t, facts) * f)),
      'the thinnest place that was found; ray along the inward normal',
    ),
    row(
      'of 99 % of the skin',
      even((t, f) => length(t.p01Mm * f)),
      'all but one in a hundred of the skin',
    ),
    row(
      'Skin too thin',
      even((t, f) => `${fixed(thinnerPct(t.quantilesMm, least / f), 1)} %`),
      `share of the skin under which the wall is below ${length(least)}, common practice`,
    ),
    row(
      'Flats stand off',
      even((t, f) => (t.flats ? length(t.flats.riseMm * f) : 'none')),
      `deepest flat of what is meant to be round; ${say.fine(figures.facetMm.value, 2)} can be seen and felt`,
    ),
    row(
      'their facets across',
      even((t, f) => (t.flats ? length(t.flats.facetMm * f) : '—')),
      'width of the facet that stands off most; Refine divides it',
    ),
    row('Material', (f) => `×${fixed(cube(f), cube(f) >= 10 ? 0 : 2)}`, 'cube of the factor'),
  ];
}
