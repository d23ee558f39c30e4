import { axes } from '../../mesh/axes.ts';
import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { OPEN, openLoops, twinsOf } from '../../mesh/edges.ts';
import { mirrorPlane } from '../../mesh/mirrorPlane.ts';
import { MeshError } from '../../run/MeshError.ts';
import {
  boundsOf,
  concatMeshes,
  diagonalOf,
  flipMesh,
  sizeOf,
  subMesh,
  triangleCount,
  xyz,
  type TriMesh,
  type Vec3,
} from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { clipMesh } from '../../section/clip.ts';

/** Makes a whole of half a model: the other half is its mirror image, the seam welded. */
export const mirror = makeOperation(description, async ([input], params, context) => {
  const source = weldExact(input);
  const scale = diagonalOf(source);
  const found = mirrorPlane(source, scale);
  const axis = params.axis ?? found?.axis;
  const at = params.at ?? (axis && found?.axis === axis ? found.at : undefined);
  if (!axis || at === undefined)
    throw new MeshError(
      'no-seam',
      'The open edges do not lie in one plane, so the seam is not known.',
      'Give the axis and where the seam lies along it.',
      'at',
    );
  const k = axes.indexOf(axis);
  const { min, max } = boundsOf(source);
  const side = params.keep ?? (max[k] - at >= at - min[k] ? 'above' : 'below');
  const sign = side === 'above' ? 1 : -1;
  const reach = params.weld ?? 1e-4 * scale;
  const seam = Math.fround(at);
  const positions = source.positions.slice();
  for (let i = k; i < positions.length; i += 3) if (Math.abs(positions[i] - at) <= reach) positions[i] = seam;
  const normal = [0, 0, 0];
  normal[k] = sign;
  context.progress(0.3, 'Cutting at the seam');
  const clipped = clipMesh({ positions, triangles: source.triangles }, normal as unknown as Vec3, sign * seam).mesh;
  for (let i = k; i < clipped.positions.length; i += 3)
    if (Math.abs(clipped.positions[i] - at) <= reach) clipped.positions[i] = seam;
  const half = withoutSeamFaces(clipped, k, seam);
  if (triangleCount(half) === 0)
    throw new MeshError('nothing-left', 'Nothing lies on that side of the seam.', 'Keep the other side.', 'keep');
  const other = half.positions.slice();
  for (let i = k; i < other.length; i += 3) other[i] = other[i] === seam ? seam : 2 * seam - other[i];
  context.progress(0.7, 'Welding the seam');
  const mesh = weldExact(concatMeshes([half, flipMesh({ positions: other, triangles: half.triangles })]));
  const twin = twinsOf(mesh);
  let seamVertices = 0;
  for (let i = k; i < mesh.positions.length; i += 3) if (mesh.positions[i] === seam) seamVertices++;
  return {
    outputs: [mesh],
    report: {
      axis,
      atMm: at,
      seamVertices,
      openEdges: twin.reduce((n, g) => n + (g === OPEN ? 1 : 0), 0),
      openLoops: openLoops(mesh).length,
      size: xyz(sizeOf(boundsOf(mesh))),
    },
  };
});

/** Without triangles that lie in the seam: the wall of a half that was closed. */
function withoutSeamFaces(mesh: TriMesh, k: number, seam: number): TriMesh {
  const keep: number[] = [];
  for (let t = 0; t < triangleCount(mesh); t++)
    if (![0, 1, 2].every((c) => mesh.positions[3 * mesh.triangles[3 * t + c] + k] === seam)) keep.push(t);
  return subMesh(mesh, keep);
}
