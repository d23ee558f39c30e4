import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { MeshError } from '../../run/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh } from '../../mesh/TriMesh.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { fromSolid, toSolid, withSolids } from '../../solid/kernel.ts';
import { weldExact } from '../../mesh/weld.ts';

/** A test piece to print before the weeks: the whole made small, or a region at full size with its cuts closed. */
export const sample = makeOperation(description, async ([mesh], { largest, at, across }, context) => {
  if ((largest !== undefined) === (at !== undefined) || (at !== undefined) !== (across !== undefined))
    throw new MeshError(
      'bad-params',
      'A test piece is either a small copy or a region.',
      'Give the longest side of the copy, or the middle of the region and how far across it is.',
      'largest',
    );
  const full = Math.abs(volumeOf(mesh));
  context.progress(0.3, 'Cutting the test piece');
  const factor = largest === undefined ? 1 : largest / Math.max(...sizeOf(boundsOf(mesh)));
  let out: TriMesh;
  if (largest !== undefined) out = scaleMesh(mesh, [factor, factor, factor]);
  else {
    const side = across!;
    out = await withSolids((kernel, keep) => {
      const cube = keep(keep(kernel.Manifold.cube([side, side, side], true)).translate(at!));
      return fromSolid(keep(keep(toSolid(kernel, weldExact(mesh))).intersect(cube)));
    });
    if (out.triangles.length === 0)
      throw new MeshError(
        'cannot',
        `Nothing of the model lies within ${side / 2} mm of that point.`,
        'Pick a point on the model.',
        'at',
      );
  }
  const volumeMm3 = Math.abs(volumeOf(out));
  return {
    outputs: [out],
    report: {
      kind: largest !== undefined ? ('small' as const) : ('region' as const),
      factor,
      size: xyz(sizeOf(boundsOf(out))),
      volumeMm3,
      sharePct: full > 0 ? (100 * volumeMm3) / full : 0,
    },
  };
});
