import { Bvh } from './Bvh.ts';
import { quietContext, type RunContext } from './context.ts';
import {
  boxesByLabel,
  buildEdges,
  diagonalOfLabel,
  openLoops,
  originOf,
  shellsOf,
  splitVertices,
  targetOf,
  twinsOf,
} from './edges.ts';
import { loopLength, loopPlace } from './loops.ts';
import { areaOf, triangleArea, triangleCentre, volumeOf } from './measures.ts';
import { selfIntersections } from './selfIntersections.ts';
import {
  boundsOf,
  sizeOf,
  subMesh,
  triangleCount,
  vertexCount,
  xyz,
  type TriMesh,
  type Vec3,
  type Xyz,
} from './TriMesh.ts';
import { weldExact } from './weld.ts';

export type Severity = 'failure' | 'attention' | 'note';

/** One measured fact with its place. `severity` failure: not a solid yet; attention: worth a look. */
export interface Finding {
  code: string;
  severity: Severity;
  count: number;
  message: string;
  at: Xyz;
  /** Size of the place, mm, for flying there. */
  spanMm: number;
}

/** Everything `inspect` measures. Lengths mm, areas mm2, volumes mm3. */
export interface Inspection {
  triangles: number;
  vertices: number;
  shells: number;
  openEdges: number;
  openLoops: number;
  nonManifoldEdges: number;
  nonManifoldVertices: number;
  inconsistentEdges: number;
  /** null when the test was left out */
  selfIntersectingPairs: number | null;
  degenerateTriangles: number;
  duplicateTriangles: number;
  watertight: boolean;
  areaMm2: number;
  volumeMm3: number | null;
  size: Xyz;
  min: Xyz;
  max: Xyz;
  findings: Finding[];
}

export interface InspectOptions {
  /** leave out the search for triangles that cross; `selfIntersectingPairs` is then null */
  skipSelfIntersections?: boolean;
  /** filled with what was found on the way, by triangle number of a mesh that is welded already */
  found?: { pairs?: number[] };
}

const figure = (value: number): string =>
  value >= 100 ? value.toFixed(0) : value >= 10 ? value.toFixed(1) : value.toFixed(2);
const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;

/** Measures a mesh after exact welding and lists what is wrong, worst first. Changes nothing. */
export function inspectMesh(
  mesh: TriMesh,
  options: InspectOptions = {},
  context: RunContext = quietContext,
): Inspection {
  context.progress(0, 'Welding');
  const welded = weldExact(mesh);
  const { positions, triangles } = welded;
  const n = triangleCount(welded);
  context.checkCancelled();
  context.progress(0.1, 'Edges');
  const edges = buildEdges(welded);
  const twin = twinsOf(welded, edges);
  let openEdges = 0;
  let nonManifoldEdges = 0;
  let inconsistentEdges = 0;
  let firstNonManifold = -1;
  let firstInconsistent = -1;
  for (let e = 0; e < edges.count; e++) {
    const i = edges.start[e];
    const sides = edges.start[e + 1] - i;
    if (sides === 1) openEdges++;
    else if (sides > 2) {
      if (nonManifoldEdges++ === 0) firstNonManifold = edges.order[i];
    } else if (originOf(welded, edges.order[i]) === originOf(welded, edges.order[i + 1]))
      if (inconsistentEdges++ === 0) firstInconsistent = edges.order[i];
  }
  const loops = openEdges > 0 ? openLoops(welded, twin) : [];
  const shells = shellsOf(welded, edges);
  const split = splitVertices(welded, edges);
  let degenerate = 0;
  let firstDegenerate = -1;
  for (let t = 0; t < n; t++)
    if (triangleArea(positions, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]) === 0)
      if (degenerate++ === 0) firstDegenerate = t;
  const duplicates = findDuplicates(welded);
  context.checkCancelled();
  let crossings: { count: number; pairs: number[] } | null = null;
  if (!options.skipSelfIntersections) {
    context.progress(0.4, 'Looking for crossing triangles');
    crossings = selfIntersections(welded, new Bvh(welded), 400_000, context);
    if (options.found) options.found.pairs = crossings.pairs;
  }
  const box = boundsOf(welded);
  const watertight = n > 0 && openEdges === 0 && nonManifoldEdges === 0 && inconsistentEdges === 0 && edges.count > 0;
  const volume = watertight ? volumeOf(welded) : null;

  const findings: Finding[] = [];
  const add = (code: string, severity: Severity, count: number, message: string, at: Vec3, spanMm: number) =>
    findings.push({ code, severity, count, message, at: xyz(at), spanMm });
  const vertexAt = (v: number): Vec3 => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
  if (loops.length > 0) {
    let longest = loops[0];
    let length = -1;
    for (const loop of loops) {
      const l = loopLength(welded, loop);
      if (l > length) {
        length = l;
        longest = loop;
      }
    }
    const place = loopPlace(welded, longest);
    add(
      'open-loops',
      'failure',
      loops.length,
      `${counted(loops.length, 'loop', 'loops')} of open edge (${counted(openEdges, 'edge', 'edges')}), the longest ${figure(length)} mm. Without closing ${loops.length === 1 ? 'it' : 'them'} there is no inside.`,
      place.at,
      place.span,
    );
  }
  if (crossings && crossings.count > 0) {
    const place = spanOf(welded, crossings.pairs);
    add(
      'crossings',
      'failure',
      crossings.count,
      `${counted(crossings.count, 'pair', 'pairs')} of triangles cross or touch. Walls would print inside the body.`,
      triangleCentre(welded, crossings.pairs[0]),
      place,
    );
  }
  if (nonManifoldEdges > 0)
    add(
      'non-manifold-edges',
      'failure',
      nonManifoldEdges,
      `${counted(nonManifoldEdges, 'edge joins', 'edges join')} more than two sheets of skin.`,
      vertexAt(originOf(welded, firstNonManifold)),
      0,
    );
  if (inconsistentEdges > 0)
    add(
      'inconsistent-edges',
      'failure',
      inconsistentEdges,
      `Along ${counted(inconsistentEdges, 'edge', 'edges')} one side faces out and the other in.`,
      vertexAt(targetOf(welded, firstInconsistent)),
      0,
    );
  if (volume !== null && volume < 0)
    add('inside-out', 'failure', 1, 'The skin faces inward: the body is inside out.', middle(box.min, box.max), 0);
  if (shells.count > 1) {
    const boxes = boxesByLabel(welded, shells.label, shells.count);
    const limit = crumbShare * Math.hypot(...sizeOf(box));
    let crumbs = 0;
    let crumb = -1;
    let smallest = 0;
    for (let s = 0; s < shells.count; s++) {
      if (diagonalOfLabel(boxes, s) < diagonalOfLabel(boxes, smallest)) smallest = s;
      if (diagonalOfLabel(boxes, s) < limit && crumbs++ === 0) crumb = s;
    }
    const place = (s: number): Vec3 =>
      [0, 1, 2].map((k) => (boxes[6 * s + k] + boxes[6 * s + 3 + k]) / 2) as unknown as Vec3;
    if (crumbs > 0)
      add(
        'crumbs',
        'attention',
        crumbs,
        `${counted(crumbs, 'crumb', 'crumbs')}, each under ${figure(limit)} mm across. Mending drops them unless told to keep them.`,
        place(crumb),
        diagonalOfLabel(boxes, crumb),
      );
    const cavities = watertight ? cavitiesAmong(welded, shells.label, shells.count) : 0;
    const big = shells.count - crumbs - cavities;
    if (big > 1)
      add(
        'shells',
        'attention',
        big,
        `${big} separate shells. Where they overlap they must become one skin.`,
        place(smallest),
        diagonalOfLabel(boxes, smallest),
      );
  }
  if (split.length > 0)
    add(
      'non-manifold-vertices',
      'attention',
      split.length,
      `At ${counted(split.length, 'point', 'points')} two sheets touch in a single point.`,
      vertexAt(split[0]),
      0,
    );
  if (duplicates.count > 0)
    add(
      'duplicates',
      'attention',
      duplicates.count,
      `${counted(duplicates.count, 'triangle lies', 'triangles lie')} on another with the same corners.`,
      triangleCentre(welded, duplicates.first),
      0,
    );
  if (degenerate > 0)
    add(
      'degenerate',
      'note',
      degenerate,
      `${counted(degenerate, 'triangle has', 'triangles have')} no area.`,
      triangleCentre(welded, firstDegenerate),
      0,
    );
  const rank: Record<Severity, number> = { failure: 0, attention: 1, note: 2 };
  findings.sort((a, b) => rank[a.severity] - rank[b.severity]);
  context.progress(1, 'Inspected');
  return {
    triangles: n,
    vertices: vertexCount(welded),
    shells: n === 0 ? 0 : shells.count,
    openEdges,
    openLoops: loops.length,
    nonManifoldEdges,
    nonManifoldVertices: split.length,
    inconsistentEdges,
    selfIntersectingPairs: crossings ? crossings.count : null,
    degenerateTriangles: degenerate,
    duplicateTriangles: duplicates.count,
    watertight,
    areaMm2: areaOf(welded),
    volumeMm3: volume,
    size: xyz(sizeOf(box)),
    min: xyz(box.min),
    max: xyz(box.max),
    findings,
  };
}

/** Shells of a closed mesh that face inward: hollows in the body rather than bodies. */
function cavitiesAmong(mesh: TriMesh, label: Uint32Array, count: number): number {
  const { positions: p, triangles: t } = mesh;
  const six = new Float64Array(count);
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    six[label[i / 3]] +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  const inward = six.filter((v) => v < 0).length;
  return inward === count ? 0 : inward;
}

/** A shell smaller than this share of the whole diagonal counts as a crumb (common practice). */
export const crumbShare = 0.02;

/** True when nothing stands between the mesh and the solid kernel. Crossings not looked for do not count. */
export const isSound = (i: Inspection): boolean =>
  i.watertight && i.nonManifoldVertices === 0 && (i.selfIntersectingPairs ?? 0) === 0 && (i.volumeMm3 ?? 0) > 0;

const middle = (a: Vec3, b: Vec3): Vec3 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];

/**
 * Triangles over the same three vertices as an earlier one, whichever way they face.
 *
 * @returns `flags` 1 for each; `twinOf` the earlier triangle of those that are flagged
 */
export function findDuplicates(mesh: TriMesh): {
  count: number;
  first: number;
  flags: Uint8Array;
  twinOf: Uint32Array;
} {
  const { triangles } = mesh;
  const n = triangles.length / 3;
  const flags = new Uint8Array(n);
  const twinOf = new Uint32Array(n);
  const head = new Int32Array(vertexCount(mesh)).fill(-1);
  const next = new Int32Array(n);
  let count = 0;
  let first = -1;
  for (let t = 0; t < n; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    const low = Math.min(a, b, c);
    const high = Math.max(a, b, c);
    const sum = a + b + c;
    let s = head[low];
    for (; s >= 0; s = next[s]) {
      const x = triangles[3 * s];
      const y = triangles[3 * s + 1];
      const z = triangles[3 * s + 2];
      if (x + y + z === sum && Math.max(x, y, z) === high) break;
    }
    if (s >= 0) {
      flags[t] = 1;
      twinOf[t] = s;
      if (count++ === 0) first = t;
    } else {
      next[t] = head[low];
      head[low] = t;
    }
  }
  return { count, first, flags, twinOf };
}

function spanOf(mesh: TriMesh, list: number[]): number {
  return Math.hypot(...sizeOf(boundsOf(subMesh(mesh, list.slice(0, 20_000)))));
}
