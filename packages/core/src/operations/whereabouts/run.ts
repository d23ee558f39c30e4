import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { testPlaces } from '../../planning/places.ts';

/** Where can it stand, and how can it travel? */
export const whereabouts = makeOperation(description, async ([mesh, ...parts], params, context) => {
  return { outputs: [], report: { places: await testPlaces(mesh, parts, params.places, params.factor, context) } };
});
