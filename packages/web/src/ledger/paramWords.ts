import type { StepView } from '@jasmorphe/contracts/views';
import { fixed, whole } from '../app/figures.ts';

type Say = (value: never, length: (mm: number) => string) => string | null;

const size =
  (what: string): Say =>
  (mm: number, length) =>
    `${what} ${length(mm)}`;
const when =
  (what: string): Say =>
  (on: boolean) =>
    on ? what : null;
const joins: Record<string, string> = { pin: 'pins', dowel: 'dowels', key: 'square keys', magnet: 'magnets' };

/** How each figure of a step is said; what goes without saying, or is said by the step's own figure, is left out. */
const sayings: Record<string, Say> = {
  wall: size('wall'),
  drains: (n: number) => (n > 0 ? `${whole(n)} ${n === 1 ? 'drain' : 'drains'} a cavity` : null),
  drain: size('drains'),
  openBase: when('underside open'),
  plugs: when('with plugs'),
  detail: size('detail'),
  bed: (b: number[], length) => `bed ${b.map((x) => length(x)).join(' × ')}`,
  margin: (mm: number, length) => (mm > 0 ? `${length(mm)} kept free` : null),
  join: (j: string) => (j === 'none' ? 'glued only' : `joined by ${joins[j] ?? j}`),
  clearance: size('gap'),
  labels: when('tags engraved'),
  at: (cuts: unknown[]) => (Array.isArray(cuts) ? `${whole(cuts.length)} cuts of one's own` : null),
  maxParts: (n: number) => `at most ${whole(n)} parts`,
  factor: (f: number) => `×${Number(f.toPrecision(6))}`,
  to: size('to'),
  axis: (a: string) => `along ${a}`,
  stretch: (f: number[]) => `×${f.map((x) => fixed(x, 2)).join(' × ')}`,
  ratio: (r: number) => (r < 1 ? `1 : ${Number((1 / r).toPrecision(4))}` : `${Number(r.toPrecision(4))} : 1`),
  original: size('of an original of'),
  measured: size('what measures'),
  real: size('is really'),
  readings: (r: unknown[]) => `${whole(r.length)} ${r.length === 1 ? 'reading' : 'readings'}`,
  shrinkage: (p: number) => (p > 0 ? `${Number(p.toPrecision(3))} % shrinkage made up for` : null),
  method: (m: string) => (m === 'auto' ? null : `by ${m}`),
  taut: when('patches drawn tight'),
  loops: (l: number[]) => `${whole(l.length)} ${l.length === 1 ? 'loop' : 'loops'} closed`,
  fillLimit: size('loops up to'),
  closeGaps: size('gaps closed up to'),
  grow: size('grown by'),
  crumb: size('crumbs under'),
  keepCrumbs: when('crumbs kept'),
  unit: (u: string) => (u === 'auto' ? null : `taken as ${u}`),
  object: (n: number) => `object ${whole(n + 1)} of the file`,
  printed: size('stood'),
  layer: size('layers of'),
  firstLayer: size('first layer'),
  backOff: (mm: number, length) => (mm > 0 ? `cut ${length(mm)} lower` : null),
  tolerance: size('within'),
  height: size('cut off'),
  min: size('walls of at least'),
  side: (s: string) => (s === 'both' ? null : `grown ${s}`),
  triangles: (n: number) => `to ${whole(n)} triangles`,
  severity: (s: number) => `severity ${fixed(s, 2)}`,
  ground: when('ground taken off'),
  up: ([x, y, z]: number[]) =>
    x === 0 && y === 0 && z > 0 ? null : `up along ${[x, y, z].map((c) => fixed(c, 2)).join(', ')}`,
};

/** The figures of a step in workshop words, for the ledger. */
export function paramWords(step: StepView, length: (mm: number) => string): string[] {
  return Object.entries(step.params).flatMap(([key, value]) => {
    if (value === null || value === undefined || !Object.hasOwn(sayings, key)) return [];
    const said = sayings[key](value as never, length);
    return said === null ? [] : [said];
  });
}
