import { quietContext } from '../../run/context.ts';
import { boundsOf, boundsOfPoints, triangleCount, diagonalOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
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
  /** does every corner belong to a triangle? */
  private readonly allUsed: boolean;
  /** poses that were judged */
  judged = 0;

  private constructor(
    readonly skin: PosedSkin,
    private readonly aim: PoseAim,
  ) {
    this.neighbours = neighboursOf(skin.mesh);
    this.hair = 1e-5 * diagonalOf(skin.mesh);
    const { start } = this.neighbours;
    this.allUsed = start.every((from, v) => v + 1 === start.length || from < start[v + 1]);
  }

  static async of(mesh: TriMesh, aim: PoseAim): Promise<StandIn> {
    const light =
      triangleCount(mesh) > 1.5 * lightTriangles
        ? await simplifyTo(mesh, lightTriangles, mostOff * diagonalOf(mesh))
        : mesh;
    return new StandIn(posedSkin(light, aim.unseen, aim.hidden), aim);
  }

  /** Measures of the pose in which a direction of the mesh is up. */
  measure(up: Vec3): PoseMeasures {
    this.judged++;
    const { profile, bare } = this.aim;
    const { skin, neighbours } = this;
    const { mesh, areas } = skin;
    const rows = rotationToZ(up);
    const turned = placeMesh(mesh, rows);
    const bounds = this.allUsed ? boundsOfPoints(turned.positions) : boundsOf(turned);
    const [floor, top] = [bounds.min[2], bounds.max[2]];
    const rise = riseOf(skin, up);
    const columns = columnsOf(turned, bounds, cellFor(bounds, cells), quietContext);
    const rowsBack = transpose(rows);
    const back = (at: Vec3): Vec3 => applyMat3(rowsBack, at);
    const under = underneath(skin, rise, columns, { floor, top }, rulesOf(profile, bare, slabs), back);
    const foot = footOf(turned, rise, floor + profile.firstLayerMm);
    const centre = applyMat3(rows, skin.centre);
    const heights = new Float32Array(turned.positions.length / 3);
    for (let v = 0; v < heights.length; v++) heights[v] = turned.positions[3 * v + 2];
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
      tipDeg: tipDeg(foot.corners, centre, floor),
      heldDeg: tipDeg([...foot.corners, ...under.stood], centre, floor),
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
