import { originOf, targetOf } from '../mesh/edges.ts';
import { triangleCentre } from '../mesh/measures.ts';
import type { Crossings } from '../mesh/selfIntersections.ts';
import { sizeOf, triangleCount, type Vec3 } from '../mesh/TriMesh.ts';
import { crossingPlaces } from './crossingPlaces.ts';
import { facets } from './facets.ts';
import {
  Findings,
  middle,
  mostLines,
  putLine,
  severityRank,
  type Finding,
  type Surveyed,
  type ShellFacts,
} from './Finding.ts';
import { ground, openings } from './openings.ts';
import { shellFindings } from './shellFindings.ts';
import { wallsAndGaps } from './wallsAndGaps.ts';

/** Findings that do not keep a mesh from being a solid: facets, ground, thin walls and gaps. */
export function surfaceFindings(m: Surveyed): Finding[] {
  const out = new Findings(m.box);
  const scale = Math.hypot(...sizeOf(m.box));
  if (triangleCount(m.mesh) > 0 && scale > 0) {
    facets(m, out);
    if (m.counted.openEdges > 0) ground(m, out);
    wallsAndGaps(m, out, scale);
  }
  return out.list;
}

/**
 * Findings grouped by place and cause, worst first, and the shells they speak of.
 *
 * @param surface what `surfaceFindings` found
 */
export function findingsIn(
  m: Surveyed,
  crossings: Crossings,
  surface: Finding[],
): { findings: Finding[]; shellList: ShellFacts[] } {
  const { mesh, counted: c } = m;
  const { positions } = mesh;
  const out = new Findings(m.box);
  const { box } = m;
  const scale = Math.hypot(...sizeOf(box));
  const vertexAt = (v: number): Vec3 => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
  openings(m, out, scale);
  const shells = shellFindings(m, crossings.pairs, out, scale);
  crossingPlaces(m, crossings, out, shells);
  if (c.nonManifoldEdges > 0)
    out.add('non-manifold-edges', {
      ofAll: true,
      severity: 'failure',
      count: c.nonManifoldEdges,
      values: { edges: c.nonManifoldEdges },
      at: vertexAt(originOf(mesh, c.firstNonManifold)),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch', 'wrap'],
      ...(m.lines ? { lines: edgeLines(m, (sides) => sides > 2) } : {}),
    });
  if (c.inconsistentEdges > 0)
    out.add('inconsistent-edges', {
      ofAll: true,
      severity: 'failure',
      count: c.inconsistentEdges,
      values: { edges: c.inconsistentEdges },
      at: vertexAt(targetOf(mesh, c.firstInconsistent)),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (m.volume !== null && m.volume < 0)
    out.add('inside-out', {
      ofAll: true,
      severity: 'failure',
      count: 1,
      values: { spanMm: null },
      at: middle(box.min, box.max),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (c.split.length > 0)
    out.add('non-manifold-vertices', {
      ofAll: true,
      severity: 'attention',
      count: c.split.length,
      values: { points: c.split.length },
      at: vertexAt(c.split[0]),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (c.duplicates > 0)
    out.add('duplicates', {
      ofAll: true,
      severity: 'attention',
      count: c.duplicates,
      values: { triangles: c.duplicates },
      at: triangleCentre(mesh, c.firstDuplicate),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (c.degenerate > 0)
    out.add('degenerate', {
      ofAll: true,
      severity: 'note',
      count: c.degenerate,
      values: { triangles: c.degenerate },
      at: triangleCentre(mesh, c.firstDegenerate),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  return {
    findings: [...out.list, ...surface].sort((a, b) => severityRank[a.severity] - severityRank[b.severity]),
    shellList: shells.list,
  };
}

function edgeLines(m: Surveyed, wanted: (sides: number) => boolean): number[] {
  const lines: number[] = [];
  const { order, start, count } = m.edges;
  for (let e = 0; e < count && lines.length < 6 * mostLines; e++)
    if (wanted(start[e + 1] - start[e]))
      putLine(lines, m.mesh, originOf(m.mesh, order[start[e]]), targetOf(m.mesh, order[start[e]]));
  return lines;
}
