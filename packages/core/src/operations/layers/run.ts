import { applyMat3 } from '../../mesh/transform.ts';
import { xyz } from '../../mesh/TriMesh.ts';
import { insertAt } from '../../planning/layers/insertAt.ts';
import { middleOfLayer, pauseAt, topOfLayer } from '../../planning/layers/layerBounds.ts';
import { sumLayers } from '../../planning/layers/sumLayers.ts';
import { variableHeights } from '../../planning/layers/variableHeights.ts';
import { posedSkin, riseOf } from '../../planning/pose/PosedSkin.ts';
import type { PrinterProfile } from '../../planning/PrinterProfile.ts';
import { figures } from '../../trade/figures.ts';
import { layDown } from '../layDown.ts';
import { makeOperation } from '../makeOperation.ts';
import { description, type FastRun, type LayersReport } from './describe.ts';

/** Layers that are told at most, and jumps and places in mid-air. */
const mostShown = 400;
const mostJumps = 8;
const mostIslands = 100;
/** Runs of fast layers that are fewer than these many layers apart are one; shorter ones are let go. */
const runsApart = 5;
const leastRun = 3;

/** Runs of layers that are laid too soon one after the other. */
function fastRuns(times: Float64Array, profile: PrinterProfile): FastRun[] {
  const out: FastRun[] = [];
  times.forEach((s, i) => {
    if (s >= figures.coolLayerS.value) return;
    const last = out.at(-1);
    if (last && i - last.toLayer <= runsApart) {
      last.toLayer = i;
      last.toMm = topOfLayer(i, profile);
      last.leastS = Math.min(last.leastS, s);
    } else
      out.push({
        fromLayer: i,
        toLayer: i,
        fromMm: topOfLayer(i - 1, profile),
        toMm: topOfLayer(i, profile),
        leastS: s,
      });
  });
  return out.filter((f) => f.toLayer - f.fromLayer + 1 >= leastRun);
}

/** Looks through all layers of a part as it lies, at the printer's own heights. */
export const layers = makeOperation(
  description,
  async ([source], { pauses = [], inserts = [], insertHeight, ...how }, context) => {
    const { profile, mesh, lying, rows, back, floor, heightMm } = layDown(source, how);
    const { areas, perimeters, ways, times, islands, maxAreaMm2 } = sumLayers(lying, profile, context);
    const every = Math.max(1, Math.ceil(areas.length / mostShown));
    const jumps = areas
      .map((a, layer) => ({ layer, zMm: middleOfLayer(layer, profile), byMm2: layer > 0 ? a - areas[layer - 1] : 0 }))
      .filter((j) => j.byMm2 > 0)
      .sort((a, b) => b.byMm2 - a.byMm2)
      .slice(0, mostJumps);
    const skin = posedSkin(mesh, []);
    const report: LayersReport = {
      kind: profile.kind,
      layerMm: profile.layerMm,
      heightMm,
      layers: areas.length,
      shown: areas.flatMap((areaMm2, layer) =>
        layer % every === 0 || layer === areas.length - 1
          ? [
              {
                layer,
                zMm: middleOfLayer(layer, profile),
                areaMm2,
                perimeterMm: perimeters[layer],
                durationS: times[layer],
              },
            ]
          : [],
      ),
      maxAreaMm2,
      jumps,
      islands: islands.slice(0, mostIslands).map(({ at, ...island }) => ({
        ...island,
        at: xyz(applyMat3(back, [at.x, at.y, at.z])),
      })),
      fast: profile.kind === 'filament' ? fastRuns(times, profile) : [],
      variable: variableHeights(
        lying,
        riseOf(skin, rows[2]),
        skin.areas,
        floor,
        { areas, perimeters, ways, layerMm: profile.layerMm, heightMm },
        profile,
      ),
      pauses: pauses.map((mm) => pauseAt(mm, heightMm, profile)),
      inserts: inserts.map((at) => insertAt(lying, applyMat3(rows, at), insertHeight, floor, profile)),
    };
    return { outputs: [], report };
  },
);
