import type { RunContext } from '../run/context.ts';
import type { Edges } from '../mesh/edges.ts';
import { xyz, type Box3, type TriMesh, type Vec3, type Xyz } from '../mesh/TriMesh.ts';

export type Severity = 'failure' | 'attention' | 'note';

/**
 * One measured fact with its place and cause. `severity` failure: not a solid yet; attention: worth a look.
 * The first of a kind has the kind as its code, the others a number behind it.
 */
export interface Finding {
  code: string;
  severity: Severity;
  count: number;
  message: string;
  at: Xyz;
  /** Size of the place, mm, for flying there. */
  spanMm: number;
  /** counted: exact; sampled: looked at in points spread over the surface; likely: a reading that may be wrong */
  sure: 'counted' | 'sampled' | 'likely';
  /** what mends it, weakest first; empty where there is nothing to mend */
  mends: ('stitch' | 'join' | 'wrap' | 'refine' | 'mirror' | 'size' | 'crop')[];
  /** length of an open loop or a crossing curve, mm */
  lengthMm?: number;
  /** number of an open loop, to close it alone */
  loop?: number;
  /** segments that show it on a drawing: x, y, z of both ends, mm */
  lines?: number[];
}

/** A shell and how it lies to the others, by their places in the list. */
export interface ShellFacts {
  triangles: number;
  size: Xyz;
  at: Xyz;
  closed: boolean;
  /** null where it is open */
  volumeMm3: number | null;
  /** the smallest shell that it lies wholly inside */
  inside: number | null;
  /** shells that it crosses or touches */
  crosses: number[];
}

/** What `inspect` has measured when findings are put together, but for the crossings. */
export interface Measured {
  mesh: TriMesh;
  edges: Edges;
  twin: Int32Array;
  loops: Uint32Array[];
  shells: { label: Uint32Array; count: number };
  watertight: boolean;
  volume: number | null;
  lines: boolean;
  box: Box3;
  counted: {
    openEdges: number;
    nonManifoldEdges: number;
    firstNonManifold: number;
    inconsistentEdges: number;
    firstInconsistent: number;
    split: Uint32Array;
    duplicates: number;
    firstDuplicate: number;
    degenerate: number;
    firstDegenerate: number;
  };
  context: RunContext;
}

/** Collects findings; repeats of a kind get a number behind their code. */
export class Findings {
  readonly list: Finding[] = [];
  private readonly kinds = new Map<string, number>();

  add(kind: string, f: Omit<Finding, 'code' | 'at'> & { at: Vec3 }): void {
    const n = (this.kinds.get(kind) ?? 0) + 1;
    this.kinds.set(kind, n);
    this.list.push({ ...f, code: n === 1 ? kind : `${kind}-${n}`, at: xyz(f.at) });
  }
}

/** More places of one kind than this are told in one sentence. */
export const mostPlaces = 6;
/** Segments of a finding that are kept for the drawing. */
export const mostLines = 600;

export const figure = (value: number): string =>
  value >= 100
    ? value.toFixed(0)
    : value >= 10
      ? value.toFixed(1)
      : value >= 0.01
        ? value.toFixed(2)
        : value.toPrecision(1);
export const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;
export const middle = (a: Vec3, b: Vec3): Vec3 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
export const short = (x: number): number => Number(x.toPrecision(7));

export function putLine(lines: number[], { positions: p }: TriMesh, a: number, b: number): void {
  for (const v of [a, b]) lines.push(short(p[3 * v]), short(p[3 * v + 1]), short(p[3 * v + 2]));
}
