import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { GrowableFloats } from '../../mesh/Growable.ts';
import { dualContour } from '../../field/dualContour.ts';
import { scanConvert } from '../../field/scanConvert.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { edgesOf, originOf, targetOf } from '../../mesh/edges.ts';
import { areaOf } from '../../mesh/measures.ts';
import { MeshError } from '../../run/MeshError.ts';
import { diagonalOf, triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { splitEdges } from '../../mesh/splitEdges.ts';
import { weldExact } from '../../mesh/weld.ts';
import { scanStandIn, type ScanFlaws } from './standIn.ts';

/** A scan has its triangles all much alike, about this many of them. */
const triangles = 60_000;
/** A grid finer than this share of the diagonal would take more time than it gives. */
const finest = 1 / 500;

/** A skin made anew whose area differs by more than this share has lost walls. */
const faithful = 0.04;

/** Practice material: a clean model as the stand-in scanner would give it. */
export const practice = makeOperation(description, async ([input], params, context) => {
  const source = weldExact(input);
  const scale = diagonalOf(source);
  if (triangleCount(source) === 0 || !(scale > 0))
    throw new MeshError('not-solid', 'There is nothing to scan.', 'Choose a model with some extent.');
  // a grid of this cell puts two triangles on each square of it
  const cell = Math.max(finest * scale, Math.sqrt((2 * areaOf(source)) / triangles));
  const fine = triangleCount(source) > triangles ? source : resampled(source, cell, sliceContext(context, 0, 0.2));
  const s = params.severity;
  const flaws: ScanFlaws = {
    seed: params.seed,
    noiseMm: (0.0006 + 0.006 * s) * scale,
    holes: Math.round(2 + 14 * s),
    holeMm: (0.01 + 0.022 * s) * scale,
    islands: Math.round(4 + 36 * s),
    ground: params.ground,
    seenFrom: params.occlusion ? Math.round(1 + 3 * s) : 0,
    thinMm: params.occlusion ? 0.008 * s * scale : 0,
    flips: 0.01 * s * s,
  };
  const mesh = weldExact(scanStandIn(fine, flaws, sliceContext(context, 0.2, 0.8)));
  return {
    outputs: [mesh],
    report: {
      flaws,
      trianglesBefore: triangleCount(source),
      after: inspectMesh(mesh, { brief: true }, sliceContext(context, 0.8, 1)),
    },
  };
});

/** A skin of even triangles; where the grid is too coarse for thin walls, the old skin with its edges halved. */
function resampled(mesh: TriMesh, cell: number, context: RunContext): TriMesh {
  const body = scanConvert(mesh, cell, sliceContext(context, 0, 0.5));
  const skin = dualContour(body, mesh, 0, sliceContext(context, 0.5, 1));
  const change = areaOf(skin) / areaOf(mesh) - 1;
  return Math.abs(change) < faithful ? skin : halved(mesh, 1.5 * cell);
}

function halved(start: TriMesh, limitMm: number): TriMesh {
  let mesh = start;
  for (let round = 0; round < 12 && triangleCount(mesh) < 2 * triangles; round++) {
    const { positions: p, triangles: faces } = mesh;
    const edges = edgesOf(mesh);
    const half = new Int32Array(faces.length).fill(-1);
    const points = new GrowableFloats(2 * p.length + 3072);
    points.data.set(p);
    points.length = p.length;
    for (let e = 0; e < edges.count; e++) {
      const h = edges.order[edges.start[e]];
      const a = 3 * originOf(mesh, h);
      const b = 3 * targetOf(mesh, h);
      if (Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]) <= limitMm) continue;
      for (let i = edges.start[e]; i < edges.start[e + 1]; i++) half[edges.order[i]] = points.length / 3;
      points.push3((p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2, (p[a + 2] + p[b + 2]) / 2);
    }
    if (points.length === p.length) break;
    const positions = points.taken();
    mesh = { positions, triangles: splitEdges(faces, positions, half) };
  }
  return mesh;
}
