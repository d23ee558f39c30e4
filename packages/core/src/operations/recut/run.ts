import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { MeshError } from '../../run/MeshError.ts';
import { measureCut, cutSegments } from '../../section/cut.ts';
import { regionsOf } from '../../section/regions.ts';
import { Slicer } from '../../section/Slicer.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { normalize, placeMesh, rotationToZ } from '../../mesh/transform.ts';
import { subMesh, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { fromSolid, splitByPlane, toSolid, withSolids } from '../../solid/kernel.ts';

/** Lowest and highest reach of a mesh along a unit direction, mm. */
function extentAlong(mesh: TriMesh, up: Vec3): [number, number] {
  let lo = Infinity;
  let hi = -Infinity;
  const p = mesh.positions;
  for (let i = 0; i < p.length; i += 3) {
    const h = up[0] * p[i] + up[1] * p[i + 1] + up[2] * p[i + 2];
    if (h < lo) lo = h;
    if (h > hi) hi = h;
  }
  return [lo, hi];
}

/**
 * Whole layers at or below a height, and where the last one ends.
 *
 * @throws MeshError `bad-params` when not even the first layer stands
 */
export function layerBoundary(printed: number, layer: number, firstLayer: number): { layers: number; at: number } {
  // a reading that is a whole number of layers but for rounding counts as whole
  const layers = Math.floor((printed - firstLayer) / layer + 1e-6) + 1;
  if (layers < 1)
    throw new MeshError(
      'bad-params',
      `At ${Number(printed.toFixed(3))} mm not even the first layer of ${firstLayer} mm stands.`,
      'Print the whole part again.',
      'printed',
    );
  return { layers, at: firstLayer + (layers - 1) * layer };
}

/** How many separate areas a plane cuts out of a closed mesh; only triangles near the plane are looked at closely. */
function areasAt(mesh: TriMesh, up: Vec3, offset: number): number {
  const { positions: p, triangles } = mesh;
  // a little more than the triangles that cross, because turning rounds
  const slack = 1e-4 * (1 + Math.abs(offset));
  const near: number[] = [];
  for (let i = 0; i < triangles.length; i += 3) {
    let below = false;
    let above = false;
    for (let k = 0; k < 3; k++) {
      const v = 3 * triangles[i + k];
      const h = up[0] * p[v] + up[1] * p[v + 1] + up[2] * p[v + 2] - offset;
      if (h < slack) below = true;
      if (h > -slack) above = true;
    }
    if (below && above) near.push(i / 3);
  }
  const strip = placeMesh(subMesh(mesh, near), rotationToZ(up));
  return regionsOf(new Slicer(strip).at(offset)).length;
}

/** What is missing of a print that stopped: cut on the layer boundary at or below the measured height, upper piece kept in its place. */
export const recut = makeOperation(description, async ([mesh], params, context) => {
  const up = normalize(params.up);
  const [lo, hi] = extentAlong(mesh, up);
  const height = hi - lo;
  const first = params.firstLayer ?? params.layer;
  if (params.printed >= height)
    throw new MeshError(
      'bad-params',
      `${params.printed} mm is printed, and the part is only ${height.toFixed(2)} mm high: nothing is missing.`,
      'Check the reading and which way was up.',
      'printed',
    );
  const { layers, at } = layerBoundary(params.printed - params.backOff, params.layer, first);
  if (at >= height)
    throw new MeshError(
      'bad-params',
      'Nothing is left above the cut.',
      'Check the reading and the layer height.',
      'printed',
    );
  context.progress(0.2, 'Cutting');
  const rest = await withSolids((kernel, keep) => {
    const [above, below] = splitByPlane(keep(toSolid(kernel, mesh)), up, lo + at);
    keep(above);
    keep(below);
    return fromSolid(above);
  });
  if (rest.triangles.length === 0)
    throw new MeshError('cannot', 'The cut leaves nothing above it.', 'Check the reading.', 'printed');
  context.progress(0.8, 'Measuring the cut');
  const contact = measureCut(cutSegments(mesh, up, lo + at), up).areaMm2;
  const islands = areasAt(mesh, up, lo + at);
  return {
    outputs: [rest],
    report: {
      cutAtMm: at,
      layersKept: layers,
      remainingHeightMm: height - at,
      remainingVolumeMm3: volumeOf(rest),
      contactAreaMm2: contact,
      islandsAtCut: islands,
    },
  };
});
