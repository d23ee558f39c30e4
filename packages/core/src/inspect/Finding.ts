import type { Axis } from '../mesh/axes.ts';
import type { RunContext } from '../run/context.ts';
import type { Edges } from '../mesh/edges.ts';
import { sizeOf, xyz, type Box3, type TriMesh, type Vec3, type Xyz } from '../mesh/TriMesh.ts';
import type { StopKind, StopTrouble } from '../trade/stopKinds.ts';
import { keyOf } from './findingKeys.ts';

export type Severity = 'failure' | 'attention' | 'note';

/** Worst first. */
export const severityRank: Record<Severity, number> = { failure: 0, attention: 1, note: 2 };

/** What is known of each kind of finding, in figures; lengths mm, areas mm². */
export interface FindingValues {
  'open-loops':
    | { place: number; of: number; lengthMm: number; /** 0 where it is flat */ bentMm: number }
    | { more: number; lengthMm: number };
  half: { axis: Axis; atMm: number };
  ground: { longMm: number; wideMm: number; flatMm: number };
  buried: { spanMm: number };
  /** null: all of it */
  'inside-out': { spanMm: number | null };
  crumbs: { crumbs: number; underMm: number };
  shells: { shells: number };
  crossings:
    | { shells: number; sizesMm: number[]; triangles: number; lengthMm: number }
    | { more: number; places: number; atLeast: boolean };
  'non-manifold-edges': { edges: number };
  'inconsistent-edges': { edges: number };
  'non-manifold-vertices': { points: number };
  duplicates: { triangles: number };
  degenerate: { triangles: number };
  facets: { riseMm: number; edges: number };
  'near-skins': { leastMm: number; areaMm2: number };
  'thin-walls': { leastMm: number; areaMm2: number };
  'thin-gaps': { leastMm: number; areaMm2: number };
  'file-note': { text: string };
  /** by an early version, which kept sentences and no figures; until it is looked for again */
  'said-before': { text: string };
  'unit-guess': { unit: string; reason: string };
  undrained: { cavities: number };
  'too-large': { tag: string; overMm?: number };
  slivers: { tags: string[]; underMm: number };
  'join-left-out': { why: 'noFace' | 'noRoom' };
  /** cut faces without the join that was asked for, of all that parts share */
  'faces-bare': { bare: number; of: number; join: string };
  'could-mix': { pairs: string[] };
  interlocked: { tags: string[] };
  'print-stopped': { tag: string; heightMm: number };
  'rest-waits': { tag: string };
  'to-mend': { name: string; count: number };
  'thin-place': { leastMm: number; areaMm2: number; underMm: number };
  'place-denied': {
    place: string;
    way: 'stand' | 'pass' | 'lie';
    largestFactor: number;
    parts: { fit: number; of: number } | null;
  };
  'too-fast': { fromLayer: number; toLayer: number; fromMm: number; toMm: number; leastS: number };
  'stands-out': { tag?: string; byMm: number };
  'no-stop': { tag?: string; what: StopKind; trouble: StopTrouble };
  'stops-lapsed': { tag: string };
  'no-strut': { places: number };
  'off-bed': { tag: string };
  /** with the support that stands on the bed, and its foot and height, where they are told */
  topples: { tag: string; tipDeg: number; heldDeg?: number; footMm2?: number; heightMm?: number };
  cup: { tag: string; volumeMm3: number; fromMm: number };
  'starts-in-air': { tag: string; places: number; largestMm2: number };
  contact: { through: boolean; region: string; deepestMm: number; areaMm2: number };
}

export type FindingKind = keyof FindingValues;

/** What may mend a finding: ways of mending, and operations. */
export type Mender =
  | 'stitch'
  | 'join'
  | 'wrap'
  | 'refine'
  | 'mirror'
  | 'size'
  | 'crop'
  | 'thicken'
  | 'hollow'
  | 'divide';

/** What is known of a finding beside its kind and its figures. */
export interface FindingFacts {
  /** its kind and place: what a reason for setting it aside is kept by (`sameFinding`) */
  key: string;
  severity: Severity;
  count: number;
  /** null where it is about no place */
  at: Xyz | null;
  /** Size of the place, mm, for flying there. */
  spanMm: number;
  /** counted: exact; sampled: looked at in points spread over the surface; likely: a reading that may be wrong */
  sure: 'counted' | 'sampled' | 'likely';
  /** what mends it, weakest first; empty where there is nothing to mend */
  mends: Mender[];
  /** length of an open loop or a crossing curve, mm */
  lengthMm?: number;
  /** number of an open loop, to close it alone */
  loop?: number;
  /** segments that show it on a drawing: x, y, z of both ends, mm */
  lines?: number[];
}

/** Where findings of several parts stand together, each has the part that it is about. */
interface OfPart {
  tag?: string;
}

/** A kind of finding with its figures. */
type Measured = { [K in FindingKind]: { kind: K; values: FindingValues[K] & OfPart } };

/** A finding of one kind. */
export type FindingOf<K extends FindingKind> = FindingFacts & Measured[K];

/**
 * One measured fact with its place and cause: its kind tells which figures it has. `severity` failure: not a solid yet; attention:
 * worth a look. Its sentence is made by whoever shows it (`findingSentence`).
 */
export type Finding = FindingFacts & Measured[FindingKind];

/** A finding of one part where those of several stand together. */
export const ofPart = (finding: Finding, tag: string): Finding =>
  ({ ...finding, values: { ...finding.values, tag } }) as Finding;

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
export interface Surveyed {
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

/** A finding before it is put into the list. */
export type FoundHere<K extends FindingKind> = Omit<FindingFacts, 'key' | 'at'> & {
  values: FindingValues[K];
  at: Vec3;
  /** middle of the place, where `at` is one point of it */
  middle?: Vec3;
  /** it speaks of all there are of its kind, wherever they lie: `at` is one of them, and the place is the whole mesh */
  ofAll?: true;
};

/** Collects findings and names each by its kind and place. */
export class Findings {
  readonly list: Finding[] = [];

  /** @param box of the whole mesh */
  constructor(private readonly box: Box3) {}

  add<K extends FindingKind>(kind: K, { at, middle: place = at, ofAll, ...f }: FoundHere<K>): void {
    const { min, max } = this.box;
    const key = ofAll
      ? keyOf(`${kind}-all`, xyz(middle(min, max)), Math.hypot(...sizeOf(this.box)))
      : keyOf(kind, xyz(place), f.spanMm);
    this.list.push({ kind, key, ...f, at: xyz(at) } as FindingOf<K> as Finding);
  }
}

/** More places of one kind than this are told in one sentence. */
export const mostPlaces = 6;
/** Segments of a finding that are kept for the drawing. */
export const mostLines = 600;

export const middle = (a: Vec3, b: Vec3): Vec3 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
export const short = (x: number): number => Number(x.toPrecision(7));

export function putLine(lines: number[], { positions: p }: TriMesh, a: number, b: number): void {
  for (const v of [a, b]) lines.push(short(p[3 * v]), short(p[3 * v + 1]), short(p[3 * v + 2]));
}
