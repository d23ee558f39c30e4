import { printStops } from '../../planning/layers/stops.ts';
import { parseParams } from '../../params/parseParams.ts';
import { StopWish } from '../../planning/layers/StopWish.ts';
import { sumLayers } from '../../planning/layers/sumLayers.ts';
import { layDown } from '../layDown.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

/** After which layers the print of a part stops as it lies. */
export const stops = makeOperation(description, async ([source], { stops: wishes, ...how }, context) => {
  const { profile, lying, rows, floor, heightMm } = layDown(source, how);
  const { times } = sumLayers(lying, profile, context);
  const asked = wishes.map((w) => parseParams(StopWish, w));
  return {
    outputs: [],
    report: {
      stops: printStops(lying, rows, asked, floor, heightMm, times, profile),
      rotation: rows.map((row) => [...row]),
      heightMm,
      layerMm: profile.layerMm,
      firstLayerMm: profile.firstLayerMm,
      layers: times.length,
    },
  };
});
