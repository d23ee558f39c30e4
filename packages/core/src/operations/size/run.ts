import { type SizeParams, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { averageReadings } from '../../measuring/readings.ts';
import { MeshError } from '../../run/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { fitInBed } from '../../planning/bedFit.ts';
import { roomOf } from '../../planning/room.ts';
import { axes } from '../../mesh/axes.ts';

const bad = (message: string, hint: string, field: string): MeshError =>
  new MeshError('bad-params', message, hint, field);

/** The one factor that the params ask for, before stretch and shrinkage; null for a stretch or a bed. */
function plainFactor(params: SizeParams, size: Vec3): number | null {
  const ways = [
    params.factor !== undefined,
    params.to !== undefined || (params.axis !== undefined && params.ratio === undefined),
    params.measured !== undefined || params.real !== undefined,
    params.readings !== undefined,
    params.ratio !== undefined || params.original !== undefined,
    params.bed !== undefined,
    params.stretch !== undefined,
  ].filter(Boolean).length;
  if (ways !== 1)
    throw bad(
      ways === 0 ? 'No size was given.' : 'More than one way to a size was given.',
      'Give a factor, one dimension, measured and real lengths, a ratio with its original, a bed to fill, or a stretch.',
      'factor',
    );
  if (params.margin !== undefined && !params.bed)
    throw bad('A margin is for the bed, and no bed was given.', 'Give the bed too, or leave the margin out.', 'margin');
  const along = (k: number): number => {
    if (!(size[k] > 0)) throw bad(`The model has no extent along ${axes[k]}.`, 'Size it along another axis.', 'axis');
    return size[k];
  };
  if (params.factor !== undefined) return params.factor;
  if (params.ratio !== undefined || params.original !== undefined) {
    if (params.ratio === undefined || params.original === undefined)
      throw bad(
        'A ratio needs the length of the original, and the original its ratio.',
        'Such as 1:6 of 1 750 mm.',
        params.ratio === undefined ? 'ratio' : 'original',
      );
    const k = params.axis ? axes.indexOf(params.axis) : size.indexOf(Math.max(...size));
    return (params.ratio * params.original) / along(k);
  }
  if (params.axis !== undefined || params.to !== undefined) {
    if (params.axis === undefined || params.to === undefined)
      throw bad('A dimension needs both its axis and its length.', '', params.axis ? 'to' : 'axis');
    return params.to / along(axes.indexOf(params.axis));
  }
  if (params.measured !== undefined || params.real !== undefined) {
    if (params.measured === undefined || params.real === undefined)
      throw bad('Give both the measured and the real length.', '', params.measured ? 'real' : 'measured');
    return params.real / params.measured;
  }
  return params.readings ? averageReadings(params.readings).factor : null;
}

/** What the shrinkage adds to each axis. */
function shrinkageFactors(params: Pick<SizeParams, 'shrinkage' | 'shrinkageZ'>): Vec3 {
  const flat = 1 / (1 - (params.shrinkage ?? 0) / 100);
  return [flat, flat, params.shrinkageZ === undefined ? flat : 1 / (1 - params.shrinkageZ / 100)];
}

/**
 * Factors that the params ask for on a mesh, shrinkage included.
 *
 * @throws MeshError `bad-params` when none or several ways are named, or the outcome is absurd
 */
async function sizeFactors(params: SizeParams, mesh: TriMesh): Promise<Vec3> {
  const size = sizeOf(boundsOf(mesh));
  const one = plainFactor(params, size);
  const shrunk = shrinkageFactors(params);
  let factor: Vec3;
  if (params.stretch) factor = params.stretch;
  else if (one !== null) factor = [one, one, one];
  else {
    // what lies on the bed is the model with its shrinkage, so the room is what must hold that
    const room = roomOf(params.bed!, params.margin ?? 0);
    const f = (await fitInBed(scaleMesh(mesh, shrunk), room)).largestFactor;
    factor = [f, f, f];
  }
  factor = [factor[0] * shrunk[0], factor[1] * shrunk[1], factor[2] * shrunk[2]];
  const largest = Math.max(...size.map((s, i) => s * factor[i]));
  if (!(largest <= 1e6) || !(largest >= 1e-3))
    throw bad(
      `That makes the model ${largest.toPrecision(3)} mm across.`,
      'A size between 0.001 mm and 1 km is taken.',
      'factor',
    );
  return factor;
}

/** Scales about the origin. */
export const size = makeOperation(description, async ([mesh], params, context) => {
  const before = sizeOf(boundsOf(mesh));
  context.progress(0.1, params.bed ? 'Turning it on the bed' : 'Scaling');
  const factor = await sizeFactors(params, mesh);
  context.progress(0.8, 'Scaling');
  const out = scaleMesh(mesh, factor);
  const after = sizeOf(boundsOf(out));
  const shrunk = shrinkageFactors(params);
  return {
    outputs: [out],
    report: {
      factor: xyz(factor),
      before: xyz(before),
      size: xyz(after),
      volumeFactor: factor[0] * factor[1] * factor[2],
      cooled: xyz([after[0] / shrunk[0], after[1] / shrunk[1], after[2] / shrunk[2]]),
      oval: params.stretch ? Math.max(...params.stretch) / Math.min(...params.stretch) : 1,
      averaged: params.readings ? averageReadings(params.readings) : null,
    },
  };
});
