import { quietContext } from '../../run/context.ts';
import { boundsOf, triangleCount, diagonalOf, type Box3, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { applyMat3, placeMesh, rotationToZ, transpose } from '../../mesh/transform.ts';
import { simplifyTo } from '../../repair/makeSimpler.ts';
import type { CleanBox, CleanSpot } from '../cuts/CleanBox.ts';
import type { PlaneCut } from '../cuts/PlaneCut.ts';
import { roughDurationS } from '../estimate.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { cellFor, columnsOf } from './columns.ts';
import { neighboursOf, startsInAir, type Neighbours } from './minima.ts';
import type { PoseMeasures } from './poseCost.ts';
import { posedSkin, riseOf, type PosedSkin } from './PosedSkin.ts';
import { footOf, tipDeg } from './stance.ts';
import { rulesOf, underneath } from './underneath.ts';

/** Triangles of the stand-in, and how far it may lie from the solid's skin, as a share of its diagonal. */
const lightTriangles = 6000;
const mostOff = 0.01;
/** Cells along the longer side from above. */
const cells = 72;
/** Slabs in which sections are summed up. */
const slabs = 64;

/** Skin that lies more level than this prints without steps. */
const level = Math.cos(Math.PI / 180);

/**
 * Mean height of the layers' steps on seen skin: a layer's height by the upright share of the normal (cusp height:
 * Dolenc and Mäkelä 1994).
 */
export function stepsOf(
  { areas, seen }: PosedSkin,
  rise: Float32Array,
  layerMm: number,
): { stepMm: number; seenMm2: number } {
  let sum = 0;
  let seenMm2 = 0;
  for (let t = 0; t < rise.length; t++) {
    if (!seen[t]) continue;
    seenMm2 += areas[t];
    const r = Math.abs(rise[t]);
    if (r < level) sum += areas[t] * r;
  }
  return { stepMm: seenMm2 > 0 ? (layerMm * sum) / seenMm2 : 0, seenMm2 };
}

/** What poses are judged for. */
export interface PoseAim {
  profile: PrinterProfile;
  /** planes in which the part is glued to others */
  unseen: readonly PlaneCut[];
  /** skin that nobody looks at, in the mesh's own place */
  hidden: readonly CleanSpot[];
  /** boxes that are kept bare of support, in the mesh's own place */
  bare: readonly CleanBox[];
}

/** A solid with few triangles in its place, on which poses are judged within a millisecond or two. */
export class StandIn {
  private readonly neighbours: Neighbours;
  private readonly hair: number;
  /** poses that were judged */
  judged = 0;

  private constructor(
    readonly skin: PosedSkin,
    private readonly aim: PoseAim,
  ) {
    this.neighbours = neighboursOf(skin.mesh);
    this.hair = 1e-5 * diagonalOf(skin.mesh);
  }

  static async of(mesh: TriMesh, aim: PoseAim): Promise<StandIn> {
    const light =
      triangleCount(mesh) > 1.5 * lightTriangles
        ? await simplifyTo(mesh, lightTriangles, mostOff * diagonalOf(mesh))
        : mesh;
    return new StandIn(posedSkin(light, aim.unseen, aim.hidden), aim);
  }

  /** How far it reaches as it is turned, and how high each corner lies. */
  private reachOf({ positions }: TriMesh): { bounds: Box3; heights: Float32Array } {
    const heights = new Float32Array(positions.length / 3);
    let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    const { start } = this.neighbours;
    for (let v = 0; v < heights.length; v++) {
      const z = (heights[v] = positions[3 * v + 2]);
      // no triangle has it
      if (start[v] === start[v + 1]) continue;
      const x = positions[3 * v];
      const y = positions[3 * v + 1];
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
      if (z < z0) z0 = z;
      if (z > z1) z1 = z;
    }
    return x1 < x0
      ? { bounds: boundsOf(this.skin.mesh), heights }
      : { bounds: { min: [x0, y0, z0], max: [x1, y1, z1] }, heights };
  }

  /** Measures of the pose in which a direction of the mesh is up. */
  measure(up: Vec3): PoseMeasures {
    this.judged++;
    const { profile, bare } = this.aim;
    const { skin, neighbours } = this;
    const { mesh, areas } = skin;
    const rows = rotationToZ(up);
    const turned = placeMesh(mesh, rows);
    const { bounds, heights } = this.reachOf(turned);
    const [floor, top] = [bounds.min[2], bounds.max[2]];
    const rise = riseOf(skin, up);
    const columns = columnsOf(turned, bounds, cellFor(bounds, cells), quietContext);
    const rowsBack = transpose(rows);
    const back = (at: Vec3): Vec3 => applyMat3(rowsBack, at);
    const under = underneath(skin, rise, columns, { floor, top }, rulesOf(profile, bare, slabs), back);
    const foot = footOf(turned, rise, floor + profile.firstLayerMm);
    const centre = applyMat3(rows, skin.centre);
    const tilt = new Float32Array(heights.length);
    const { triangles } = mesh;
    for (let t = 0; t < rise.length; t++) {
      const tilted = rise[t] * areas[t];
      tilt[triangles[3 * t]] += tilted;
      tilt[triangles[3 * t + 1]] += tilted;
      tilt[triangles[3 * t + 2]] += tilted;
    }
    const slabMm2 = under.areas;
    let maxPeelMm2 = 0;
    let peelJumpMm2 = 0;
    slabMm2.forEach((a, i) => {
      maxPeelMm2 = Math.max(maxPeelMm2, a);
      if (i > 0) peelJumpMm2 = Math.max(peelJumpMm2, a - slabMm2[i - 1]);
    });
    return {
      heightMm: top - floor,
      footMm2: foot.areaMm2,
      tipDeg: tipDeg([...foot.corners, ...under.stood], centre, floor),
      scarMm2: under.scarMm2,
      ...stepsOf(skin, rise, profile.layerMm),
      islands: startsInAir(neighbours, heights, tilt, floor + profile.firstLayerMm, this.hair),
      maxPeelMm2,
      peelJumpMm2,
      durationS: roughDurationS(
        { volumeMm3: skin.volumeMm3, areaMm2: skin.areaMm2, heightMm: top - floor, columnsMm3: under.supportMm3 },
        profile,
      ),
    };
  }
}
