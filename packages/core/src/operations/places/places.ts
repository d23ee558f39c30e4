import { IsArray, IsOptional } from 'class-validator';
import { examplePlaces, testPlaces, type Place, type PlaceVerdict } from '../../planning/places.ts';
import { IsFactor, IsMeshHash, IsPlaces } from '../checks.ts';
import type { Operation } from '../Operation.ts';

export class PlacesParams {
  @IsOptional()
  @IsPlaces()
  places: Place[] = examplePlaces;

  /** Measured as if scaled by this. */
  @IsOptional()
  @IsFactor()
  factor: number = 1;

  /** Hashes of the parts that the model comes apart into. */
  @IsOptional()
  @IsArray()
  @IsMeshHash({ each: true })
  parts: string[] = [];
}

/** Where can it stand, and how can it travel? */
export const places: Operation<PlacesParams, { places: PlaceVerdict[] }> = {
  name: 'places',
  version: 1,
  summary: 'Tests a model against rooms, benches, doors and car boots',
  params: PlacesParams,
  study: true,
  companions: (params) => params.parts,
  async run([mesh, ...parts], params, context) {
    return { outputs: [], report: { places: await testPlaces(mesh, parts, params.places, params.factor, context) } };
  },
};
