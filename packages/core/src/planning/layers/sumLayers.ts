import type { TriMesh } from '../../mesh/TriMesh.ts';
import type { RunContext } from '../../run/context.ts';
import { sweepLayers } from '../../section/layers.ts';
import { waysOf } from '../motion.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { layerTimes } from './layerTimes.ts';

/** All layers of a part as it lies, at the printer's own heights: areas, outlines, ways along them and times. */
export function sumLayers(lying: TriMesh, profile: PrinterProfile, context: RunContext) {
  const areas: number[] = [];
  const perimeters: number[] = [];
  const ways: number[] = [];
  const { islands, maxAreaMm2 } = sweepLayers(
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
  return { areas, perimeters, ways, islands, maxAreaMm2, times: layerTimes(areas, perimeters, ways, profile) };
}
