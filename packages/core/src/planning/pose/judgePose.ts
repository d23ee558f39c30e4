import { boundsOf, xyz, type TriMesh, type Vec3, type Xyz } from '../../mesh/TriMesh.ts';
import { applyMat3, placeMesh, transpose, type Mat3 } from '../../mesh/transform.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { sweepLayers, type Island } from '../../section/layers.ts';
import { estimateFromLayers, type LayerSums } from '../estimate.ts';
import { columnsOf } from './columns.ts';
import { CupFinder, type Cup } from './cups.ts';
import { handSOf, poseCost } from './poseCost.ts';
import { riseOf, type PosedSkin } from './PosedSkin.ts';
import { stepsOf, type PoseAim } from './StandIn.ts';
import { footOf, tipDeg } from './stance.ts';
import { fineCellOf, rulesOf, underneath } from './underneath.ts';

/** Resin layers are looked at in so many at most: time follows their number, and that is exact. */
const mostResinLayers = 900;

/** What a pose comes to, measured on the solid itself. */
export interface PoseFigures {
  /** direction of the model that is up */
  up: Xyz;
  /** rows of the rotation; the last is what is up */
  rotation: number[][];
  heightMm: number;
  /** area that the first layer lays on the bed */
  footMm2: number;
  /** how far it may lean before it falls, with what support stands on the bed; negative where it falls by itself */
  tipDeg: number;
  overhangMm2: number;
  supportMm3: number;
  toBedMm3: number;
  toPartMm3: number;
  insideMm3: number;
  bareMm2: number;
  bridgedMm2: number;
  scarMm2: number;
  /** mean height of the layers' steps on seen skin */
  stepMm: number;
  islands: number;
  /** the largest of them */
  islandPlaces: Island[];
  maxPeelMm2: number;
  peelJumpMm2: number;
  /** height above the bed of that jump */
  peelJumpAtMm: number;
  /** hollows that are shut off against the film while they are laid, mm³, the largest first */
  cups: Cup[];
  durationS: number;
  materialG: number;
  /** the maker's own time: support off, marks and steps sanded */
  handS: number;
  /** machine with what is lost, and hands */
  costS: number;
  layers: number;
  /** distance of the lines along which support was measured, and of the layers that were looked at */
  spacingMm: number;
  lookedEveryMm: number;
}

/** Islands that are smaller are laid by no nozzle and no pixel: corners of triangles on a layer, mm². */
const leastIslandMm2 = 0.01;
const mostIslands = 60;
const mostCups = 12;

/** Measures a pose on the solid itself: support along lines through it, islands, peel and hours from its layers. */
export function judgePose(
  skin: PosedSkin,
  rotation: Mat3,
  { profile, bare }: PoseAim,
  context: RunContext,
): PoseFigures {
  const turned: TriMesh = placeMesh(skin.mesh, rotation);
  const bounds = boundsOf(turned);
  const [floor, top] = [bounds.min[2], bounds.max[2]];
  const up = rotation[2];
  const rise = riseOf(skin, up);
  const spacingMm = fineCellOf(bounds);
  context.progress(0, 'Looking under overhangs');
  const columns = columnsOf(turned, bounds, spacingMm, context);
  const back = transpose(rotation);
  const under = underneath(skin, rise, columns, { floor, top }, rulesOf(profile, bare, 1), (at: Vec3) =>
    applyMat3(back, at),
  );
  const foot = footOf(turned, rise, floor + profile.firstLayerMm);
  const heightMm = top - floor;
  const resin = profile.kind === 'resin';
  const lookedEveryMm = resin ? Math.max(profile.layerMm, heightMm / mostResinLayers) : profile.layerMm;
  const sums: LayerSums = { layerMm: lookedEveryMm, heightMm, areas: [], perimeters: [] };
  const cups = resin ? new CupFinder(lookedEveryMm) : null;
  let [maxPeelMm2, peelJumpMm2, peelJumpAtMm, before] = [0, 0, 0, -1];
  const report = sweepLayers(turned, lookedEveryMm, [0, 0, 1], sliceContext(context, 0.1, 1), (section, regions, i) => {
    const area = Math.max(0, section.areaMm2);
    sums.areas.push(area);
    sums.perimeters.push(section.perimeterMm);
    maxPeelMm2 = Math.max(maxPeelMm2, area);
    if (before >= 0 && area - before > peelJumpMm2) {
      peelJumpMm2 = area - before;
      peelJumpAtMm = (i + 0.5) * lookedEveryMm;
    }
    before = area;
    cups?.layer(regions, section.z - floor);
  });
  const islands = report.islands.filter((i) => i.areaMm2 >= leastIslandMm2);
  const estimate = estimateFromLayers(sums, under.supportMm3, profile);
  const centre = applyMat3(rotation, skin.centre);
  const measures = {
    heightMm,
    footMm2: foot.areaMm2,
    tipDeg: tipDeg([...foot.corners, ...under.stood], centre, floor),
    scarMm2: under.scarMm2,
    ...stepsOf(skin, rise, profile.layerMm),
    islands: islands.length,
    maxPeelMm2,
    peelJumpMm2,
    durationS: estimate.durationS,
  };
  const { stood: _stood, areas: _areas, ...room } = under;
  const { seenMm2: _seen, ...told } = measures;
  const own = ({ at, ...island }: Island): Island => ({ ...island, at: xyz(applyMat3(back, [at.x, at.y, at.z])) });
  return {
    up: xyz(up),
    rotation: rotation.map((r) => [...r]),
    ...room,
    ...told,
    islandPlaces: [...islands]
      .sort((a, b) => b.areaMm2 - a.areaMm2)
      .slice(0, mostIslands)
      .map(own),
    peelJumpAtMm,
    cups: (cups?.found() ?? []).slice(0, mostCups).map(({ at: { x, y, z }, ...cup }) => ({
      ...cup,
      at: xyz(applyMat3(back, [x, y, z + floor])),
    })),
    materialG: estimate.materialG,
    handS: handSOf(measures),
    costS: poseCost(measures, profile),
    layers: estimate.layers,
    spacingMm,
    lookedEveryMm,
  };
}
