import { layerTimes } from '../../planning/layers/layerTimes.ts';
import { printStops } from '../../planning/layers/stops.ts';
import { waysOf } from '../../planning/motion.ts';
import { parseParams } from '../../params/parseParams.ts';
import { StopWish } from '../../planning/layers/StopWish.ts';
import { sweepLayers } from '../../section/layers.ts';
import { layDown } from '../layDown.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

/** After which layers the print of a part stops as it lies. */
export const stops = makeOperation(description, async ([source], { stops: wishes, ...how }, context) => {
  const { profile, lying, rows, floor, heightMm } = layDown(source, how);
  const areas: number[] = [];
  const perimeters: number[] = [];
  const ways: number[] = [];
  sweepLayers(
    lying,
    profile.layerMm,
    [0, 0, 1],
    context,
    (section) => {
      areas.push(Math.max(0, section.areaMm2));
      perimeters.push(section.perimeterMm);
      ways.push(waysOf(section));
    },
    profile.firstLayerMm,
  );
  const times = layerTimes(areas, perimeters, ways, profile);
  const asked = wishes.map((w) => parseParams(StopWish, w));
  return {
    outputs: [],
    report: {
      stops: printStops(lying, rows, asked, floor, heightMm, times, profile),
      rotation: rows.map((row) => [...row]),
      heightMm,
      layerMm: profile.layerMm,
      firstLayerMm: profile.firstLayerMm,
      layers: areas.length,
    },
  };
});
