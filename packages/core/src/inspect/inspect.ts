import { inspectionVersion, type Inspection } from './Inspection.ts';
import { quietContext, type RunContext } from '../run/context.ts';
import { beginCrossings, crossingsAfter, crossingsOf } from '../mesh/crossings.ts';
import { refuseCrowds } from '../mesh/crowds.ts';
import { findDuplicates } from '../mesh/duplicates.ts';
import { edgesOf, openLoops, originOf, shellsOf, splitVertices, twinsOf } from '../mesh/edges.ts';
import type { Finding, Surveyed } from './Finding.ts';
import { findingsIn, surfaceFindings } from './findingsIn.ts';
import { triangleArea, volumeOf } from '../mesh/measures.ts';
import type { Crossings } from '../mesh/selfIntersections.ts';
import { isFlatShell, shellMeasures } from '../mesh/shells.ts';
import { boundsOf, sizeOf, triangleCount, vertexCount, xyz, type TriMesh } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';

export interface InspectOptions {
  /** leave out the search for triangles that cross; `selfIntersectingPairs` is then null */
  skipSelfIntersections?: boolean;
  /** leave out what does not keep a mesh from being a solid: thin walls and gaps, facets */
  brief?: boolean;
  /** give findings the lines that a drawing of them needs */
  lines?: boolean;
  /** a mesh that this one came out of and that was inspected: triangles of both need not be tested again */
  before?: TriMesh;
}

/**
 * Measures a mesh after exact welding and lists what is wrong, worst first. Changes nothing.
 *
 * @throws MeshError `cannot` for a heap of triangles that meet in one corner, or lie on one another, past telling apart
 */
export function inspectMesh(
  mesh: TriMesh,
  options: InspectOptions = {},
  context: RunContext = quietContext,
): Inspection {
  const survey = surveyMesh(mesh, options, context);
  if (options.skipSelfIntersections) return report(survey, null, context);
  context.progress(0.4, 'Looking for crossing triangles');
  const { mesh: welded } = survey.measured;
  const crossings = options.before ? crossingsAfter(welded, options.before, context) : crossingsOf(welded, context);
  return report(survey, crossings, context);
}

/** The same, looking for crossings on the second thread meanwhile where there is one. Ask for the result later. */
export function beginInspection(
  mesh: TriMesh,
  options: Omit<InspectOptions, 'before' | 'skipSelfIntersections'>,
  context: RunContext,
): () => Promise<Inspection> {
  const welded = weldExact(mesh);
  refuseCrowds(welded);
  const crossings = beginCrossings(welded, context);
  const survey = surveyMesh(welded, options, context);
  return async () => {
    context.progress(0.4, 'Looking for crossing triangles');
    return report(survey, await crossings(), context);
  };
}

function flatShellsOf(mesh: TriMesh): number {
  const { volume, area } = shellMeasures(mesh);
  return volume.reduce((n, v, s) => n + (isFlatShell(v, area[s]) ? 1 : 0), 0);
}

/** All that is measured but for the crossings. */
interface Survey {
  measured: Surveyed;
  surface: Finding[];
  /** what the inspection says besides */
  facts: Omit<Inspection, 'selfIntersectingPairs' | 'shellList' | 'findings'>;
}

function surveyMesh(mesh: TriMesh, options: InspectOptions, context: RunContext): Survey {
  context.checkCancelled();
  context.progress(0, 'Welding');
  const welded = weldExact(mesh);
  context.checkCancelled();
  refuseCrowds(welded);
  const { positions, triangles } = welded;
  const n = triangleCount(welded);
  context.checkCancelled();
  context.progress(0.1, 'Edges');
  const edges = edgesOf(welded);
  context.checkCancelled();
  const twin = twinsOf(welded);
  context.checkCancelled();
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
  const loops = openEdges > 0 ? openLoops(welded) : [];
  context.checkCancelled();
  const shells = shellsOf(welded);
  context.checkCancelled();
  const split = splitVertices(welded);
  context.checkCancelled();
  let degenerate = 0;
  let firstDegenerate = -1;
  let areaMm2 = 0;
  for (let t = 0; t < n; t++) {
    const area = triangleArea(positions, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]);
    areaMm2 += area;
    if (area === 0 && degenerate++ === 0) firstDegenerate = t;
  }
  const duplicates = findDuplicates(welded);
  context.checkCancelled();
  const box = boundsOf(welded);
  const watertight = n > 0 && openEdges === 0 && nonManifoldEdges === 0 && inconsistentEdges === 0 && edges.count > 0;
  const volume = watertight ? volumeOf(welded) : null;
  const measured: Surveyed = {
    mesh: welded,
    edges,
    twin,
    loops,
    shells,
    watertight,
    volume,
    lines: options.lines ?? false,
    box,
    counted: {
      openEdges,
      nonManifoldEdges,
      firstNonManifold,
      inconsistentEdges,
      firstInconsistent,
      split,
      duplicates: duplicates.count,
      firstDuplicate: duplicates.first,
      degenerate,
      firstDegenerate,
    },
    context,
  };
  context.progress(0.2, 'Looking at the surface');
  return {
    measured,
    surface: options.brief ? [] : surfaceFindings(measured),
    facts: {
      triangles: n,
      vertices: vertexCount(welded),
      shells: n === 0 ? 0 : shells.count,
      flatShells: watertight && shells.count > 1 ? flatShellsOf(welded) : 0,
      openEdges,
      openLoops: loops.length,
      nonManifoldEdges,
      nonManifoldVertices: split.length,
      inconsistentEdges,
      degenerateTriangles: degenerate,
      duplicateTriangles: duplicates.count,
      watertight,
      areaMm2,
      volumeMm3: volume,
      size: xyz(sizeOf(box)),
      min: xyz(box.min),
      max: xyz(box.max),
    },
  };
}

function report({ measured, surface, facts }: Survey, crossings: Crossings | null, context: RunContext): Inspection {
  context.progress(0.85, 'Putting findings together');
  const looked = findingsIn(measured, crossings ?? { count: 0, pairs: [] }, surface);
  context.progress(1, 'Inspected');
  return { version: inspectionVersion, ...facts, selfIntersectingPairs: crossings?.count ?? null, ...looked };
}
