import { boundsOf, sizeOf, type TriMesh, type Vec3, xyz, type Xyz } from '../../mesh/TriMesh.ts';
import { applyMat3, placeMesh, transpose, type Mat3 } from '../../mesh/transform.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { sweepLayers, type Island } from '../../section/layers.ts';
import { waysOf } from '../motion.ts';
import { estimateFromLayers, type LayerSums } from '../estimate.ts';
import { columnsOf } from './columns.ts';
import { CupFinder, type Cup } from './cups.ts';
import { handSOf, poseCost, type PoseMeasures } from './poseCost.ts';
import { riseOf, type PosedSkin } from './PosedSkin.ts';
import { stepsOf, type PoseAim } from './StandIn.ts';
import { footOf, tipDeg } from './stance.ts';
import { fineCellOf, rulesOf, underneath, type Underneath } from './underneath.ts';

/** Resin layers are looked at in so many at most: time follows their number, and that is exact. */
const mostResinLayers = 900;

/** What a pose comes to, measured on the solid itself. */
export interface PoseFigures extends Omit<PoseMeasures, 'seenMm2'>, Omit<Underneath, 'stood' | 'areas'> {
  /** direction of the model that is up */
  up: Xyz;
  /** rows of the rotation; the last is what is up */
  rotation: number[][];
  /** of its box as it lies; what was judged before this was told has none */
  size?: Xyz;
  /** the largest of what starts in mid-air */
  islandPlaces: Island[];
  /** height above the bed of the largest jump */
  peelJumpAtMm: number;
  /** hollows that are shut off against the film while they are laid, mm³, the largest first */
  cups: Cup[];
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
  const sums: LayerSums = { layerMm: lookedEveryMm, heightMm, areas: [], perimeters: [], ways: [] };
  const cups = resin ? new CupFinder(lookedEveryMm) : null;
  let [maxPeelMm2, peelJumpMm2, peelJumpAtMm, before] = [0, 0, 0, -1];
  const report = sweepLayers(turned, lookedEveryMm, [0, 0, 1], sliceContext(context, 0.1, 1), (section, regions, i) => {
    const area = Math.max(0, section.areaMm2);
    sums.areas.push(area);
    sums.perimeters.push(section.perimeterMm);
    if (!resin) sums.ways?.push(waysOf(section));
    maxPeelMm2 = Math.max(maxPeelMm2, area);
    if (before >= 0 && area - before > peelJumpMm2) {
      peelJumpMm2 = area - before;
      peelJumpAtMm = (i + 0.5) * lookedEveryMm;
    }
    before = area;
    cups?.layer(regions, section.z - floor);
  });
  const { islands } = report;
  const estimate = estimateFromLayers(sums, under.supportMm3, profile);
  const centre = applyMat3(rotation, skin.centre);
  const measures = {
    heightMm,
    footMm2: foot.areaMm2,
    tipDeg: tipDeg(foot.corners, centre, floor),
    heldDeg: tipDeg([...foot.corners, ...under.stood], centre, floor),
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
    size: xyz(sizeOf(bounds)),
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
