import { quietContext, type RunContext } from '../run/context.ts';
import { MeshError } from '../run/MeshError.ts';
import { placeMesh, rotationToZ, transpose, applyMat3 } from '../mesh/transform.ts';
import { boundsOf, xyz, type TriMesh, type Vec3, type Xyz } from '../mesh/TriMesh.ts';
import { regionsOf, regionsOverlap, type Region } from './regions.ts';
import { Slicer, type Section } from './Slicer.ts';

export interface Island {
  /** layer number from 0 */
  layer: number;
  /** height of the layer's middle above the lowest point */
  zMm: number;
  areaMm2: number;
  /** a point of the island, in the mesh's own coordinates */
  at: Xyz;
}

export interface LayerReport {
  layers: number;
  totalAreaMm2: number;
  totalPerimeterMm: number;
  maxAreaMm2: number;
  islands: Island[];
}

/** Most layers a sweep may have: 3 m at 0.02 mm. */
const mostLayers = 150_000;

/**
 * Cuts a mesh into layers along `up`, each at its middle height: area and perimeter of every layer, and islands
 * (regions with nothing under them in the layer below; those of the first layer stand on the bed and are none).
 *
 * @param layer mm
 * @param each called with every section, bottom to top, in coordinates turned so that `up` is z; `starts` are those of its
 *   regions with nothing under them, all of them in the first layer
 * @param firstLayer mm, where the first is not as high as the others
 * @param lift mm by which the mesh hangs over the bed from which layers are counted; those under it are left out, and all of its
 *   own first layer are starts
 */
export function sweepLayers(
  mesh: TriMesh,
  layer: number,
  up: Vec3 = [0, 0, 1],
  context: RunContext = quietContext,
  each?: (section: Section, regions: Region[], index: number, starts: readonly Region[]) => void,
  firstLayer: number = layer,
  lift: number = 0,
): LayerReport {
  const turn = rotationToZ(up);
  const turned = placeMesh(mesh, turn);
  const back = transpose(turn);
  const { min, max } = boundsOf(turned);
  // a height that is a whole number of layers but for float32 rounding must not gain a layer
  const bed = min[2] - lift;
  const all = Math.max(1, 1 + Math.ceil((max[2] - bed - firstLayer) / layer - 1e-4));
  const middleOf = (i: number): number => bed + (i === 0 ? firstLayer / 2 : firstLayer + (i - 0.5) * layer);
  // the first whose middle meets the mesh
  const first = lift > 0 ? Math.min(all - 1, Math.max(0, Math.ceil((lift - firstLayer) / layer + 0.5))) : 0;
  const skipped = first > 0 && middleOf(first - 1) > min[2] ? first - 1 : first;
  const count = all - skipped;
  if (!(layer > 0) || count > mostLayers)
    throw new MeshError(
      'bad-params',
      `A layer of ${layer} mm makes ${count} layers; at most ${mostLayers} are cut.`,
      'Give a layer between 0.02 and 1 mm.',
      'layer',
    );
  const heights = Float64Array.from({ length: count }, (_, i) =>
    Math.min(middleOf(i + skipped), max[2] - 1e-6 * (max[2] - min[2])),
  );
  const report: LayerReport = { layers: count, totalAreaMm2: 0, totalPerimeterMm: 0, maxAreaMm2: 0, islands: [] };
  let below: Region[] = [];
  new Slicer(turned).sweep(heights, (section, i) => {
    if ((i & 15) === 0) {
      context.checkCancelled();
      context.progress(i / count, `Layer ${i + 1} of ${count}`);
    }
    const regions = regionsOf(section);
    report.totalAreaMm2 += section.areaMm2;
    report.totalPerimeterMm += section.perimeterMm;
    report.maxAreaMm2 = Math.max(report.maxAreaMm2, section.areaMm2);
    const starts = i === 0 ? regions : regions.filter((region) => !below.some((b) => regionsOverlap(region, b)));
    if (i > 0)
      for (const region of starts)
        report.islands.push({
          layer: i,
          zMm: section.z - min[2],
          areaMm2: region.areaMm2,
          at: xyz(applyMat3(back, [region.outer.points[0], region.outer.points[1], section.z])),
        });
    below = regions;
    each?.(section, regions, i, starts);
  });
  return report;
}
