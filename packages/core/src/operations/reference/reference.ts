import { IsObject, IsOptional } from 'class-validator';
import { boundsOf, sizeOf, xyz, type Vec3, type Xyz } from '../../mesh/TriMesh.ts';
import { makeReference, publishedMeasures } from '../../reference/makeReference.ts';
import { referenceKinds, type ReferenceKind } from '../../reference/ReferenceBody.ts';
import { anthropometrySource } from '../../trade/anthropometry.ts';
import { IsChoice } from '../checks.ts';
import type { Operation } from '../Operation.ts';

export class ReferenceParams {
  @IsOptional()
  @IsChoice(referenceKinds)
  kind: ReferenceKind = 'head';

  /** mm; the median man's where left out */
  @IsOptional()
  @IsObject()
  measures: Record<string, number> = {};
}

export interface ReferenceReport {
  kind: ReferenceKind;
  measures: Record<string, number>;
  landmarks: Record<string, Vec3>;
  size: Xyz;
  /** where the measures that were left out come from */
  source: string;
}

/** Makes a body to size things by. */
export const reference: Operation<ReferenceParams, ReferenceReport> = {
  name: 'reference',
  version: 1,
  summary: 'Makes a reference body: a head, a hand, a standing or seated figure',
  params: ReferenceParams,
  study: true,
  async run(_, { kind, measures }) {
    const body = makeReference(kind, measures);
    return {
      outputs: [body.mesh],
      report: {
        kind,
        measures: { ...publishedMeasures(kind), ...measures },
        landmarks: body.landmarks,
        size: xyz(sizeOf(boundsOf(body.mesh))),
        source: anthropometrySource,
      },
    };
  },
};
