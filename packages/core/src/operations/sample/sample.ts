import { IsOptional } from 'class-validator';
import { MeshError } from '../../mesh/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh, type Xyz } from '../../mesh/TriMesh.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { fromSolid, toSolid, withSolids } from '../../solid/kernel.ts';
import { weldExact } from '../../mesh/weld.ts';
import { IsLengthMm, IsTriple } from '../checks.ts';
import type { Operation } from '../Operation.ts';

/** Either `largest`, or `at` with `across`. */
export class SampleParams {
  /** Longest side of a small copy, mm. */
  @IsOptional()
  @IsLengthMm()
  largest?: number;

  /** Middle of a region at full size, mm. */
  @IsOptional()
  @IsTriple()
  at?: [number, number, number];

  /** Side of the cube that is cut out around it, mm. */
  @IsOptional()
  @IsLengthMm()
  across?: number;
}

export interface SampleReport {
  kind: 'small' | 'region';
  factor: number;
  size: Xyz;
  volumeMm3: number;
  /** share of the whole model's volume at full size, percent */
  sharePct: number;
}

/** A test piece to print before the weeks: the whole made small, or a region at full size with its cuts closed. */
export const sample: Operation<SampleParams, SampleReport> = {
  name: 'sample',
  version: 2,
  summary: 'Makes a test piece: a small copy, or a region at full size',
  params: SampleParams,
  async run([mesh], { largest, at, across }, context) {
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
        kind: largest !== undefined ? 'small' : 'region',
        factor,
        size: xyz(sizeOf(boundsOf(out))),
        volumeMm3,
        sharePct: full > 0 ? (100 * volumeMm3) / full : 0,
      },
    };
  },
};
