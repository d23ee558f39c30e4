import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { flatsOf } from '../../inspect/facets.ts';
import { byPlace } from '../../inspect/byPlace.ts';
import { areaOf } from '../../mesh/measures.ts';
import { isWall, sampleWalls, thicknessFigures } from '../../mesh/thickness.ts';
import { xyz } from '../../mesh/TriMesh.ts';

const samples = 40_000;
const mostPlaces = 12;

/** Measures walls, as they are or as they would be at another size, and where they are too thin. */
export const thickness = makeOperation(description, async ([mesh], { min, factor }, context) => {
  const walls = sampleWalls(mesh, samples, context);
  const { points, triangles, depth, far } = walls;
  for (let i = 0; i < depth.length; i++) depth[i] *= factor;
  const thin: number[] = [];
  for (let i = 0; i < depth.length; i++) if (depth[i] < min && isWall(mesh, triangles[i], far[i])) thin.push(i);
  const area = areaOf(mesh) / Math.max(1, depth.length);
  const spacing = Math.sqrt(area);
  // both sides of one wall are one place: they lie within the thickness of each other
  const groups = byPlace(points, thin, Math.max(3 * spacing, (1.1 * min) / factor)).filter((g) => g.length > 2);
  const flats = flatsOf(mesh, 0);
  const sorted = depth.filter((d) => Number.isFinite(d)).sort();
  return {
    outputs: [],
    report: {
      ...thicknessFigures(walls, min),
      flats: flats && { ...flats, riseMm: flats.riseMm * factor, facetMm: flats.facetMm * factor },
      thinAreaMm2: thin.length * area * factor ** 2,
      places: groups.slice(0, mostPlaces).map((group) => {
        let least = group[0];
        const lo = [Infinity, Infinity, Infinity];
        const hi = [-Infinity, -Infinity, -Infinity];
        for (const i of group) {
          if (depth[i] < depth[least]) least = i;
          for (let k = 0; k < 3; k++) {
            lo[k] = Math.min(lo[k], points[3 * i + k]);
            hi[k] = Math.max(hi[k], points[3 * i + k]);
          }
        }
        return {
          at: xyz([points[3 * least], points[3 * least + 1], points[3 * least + 2]]),
          areaMm2: (group.length * area * factor ** 2) / 2,
          leastMm: depth[least],
          spanMm: factor * Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]),
        };
      }),
      quantilesMm:
        sorted.length === 0
          ? []
          : Array.from(
              { length: 101 },
              (_, i) => sorted[Math.min(sorted.length - 1, Math.floor((i * sorted.length) / 100))],
            ),
    },
  };
});
