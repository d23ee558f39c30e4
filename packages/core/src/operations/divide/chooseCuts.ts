import { axes } from '../../mesh/axes.ts';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { checkCuts, checkPlannable } from '../../planning/cuts/checkCuts.ts';
import { bestLie, cellsFor, gridCuts } from '../../planning/cuts/grid.ts';
import { aimOf, planDivision } from '../../planning/cuts/planDivision.ts';
import { planeOf, type PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { isPlanStyle, planNames } from '../../planning/cuts/styles.ts';
import type { RoomOfBed } from '../../planning/room.ts';
import type { RunContext } from '../../run/context.ts';
import type { DivideParams } from './describe.ts';

interface Chosen {
  cuts: PlaneCut[];
  reason: string;
}

const inWords = (size: Vec3): string => size.map((x) => Math.round(x)).join(' × ');

/** The even grid with the fewest cells over the beds, and for `auto` over the ways they can lie. */
function gridOf(mesh: TriMesh, plan: DivideParams['plan'], rooms: readonly RoomOfBed[]): Chosen {
  const box = boundsOf(mesh);
  const size = sizeOf(box);
  const lying = rooms.map(({ room }) => (plan === 'grid' ? room : bestLie(size, room)));
  const best = lying.reduce((a, b) => (cellsFor(size, b) < cellsFor(size, a) ? b : a));
  const cells = cellsFor(size, best);
  checkPlannable(mesh, [best]);
  const asItStands = rooms.some(({ room }) => room === best);
  return {
    cuts: gridCuts(box.min, size, best).map(planeOf),
    reason: asItStands
      ? `Even cells within ${inWords(best)} mm.`
      : `Parts lie turned on the bed: ${cells} cells rather than ${Math.min(...rooms.map((r) => cellsFor(size, r.room)))}.`,
  };
}

/**
 * Chooses the cuts: those given, the even grid, or a plan.
 *
 * @throws MeshError `bad-params` for cuts that miss the mesh, `cannot` where none can be planned
 */
export async function chooseCuts(
  mesh: TriMesh,
  params: DivideParams,
  rooms: readonly RoomOfBed[],
  context: RunContext,
): Promise<Chosen> {
  const { at, cuts, plan, weights } = params;
  if (at || cuts) {
    const seen = new Set<string>();
    const own = (at ?? [])
      .filter(({ axis, mm }) => !seen.has(`${axis}${mm}`) && seen.add(`${axis}${mm}`))
      .sort((a, b) => axes.indexOf(a.axis) - axes.indexOf(b.axis) || a.mm - b.mm)
      .map(planeOf);
    const all = [...own, ...(cuts ?? [])];
    checkCuts(mesh, all);
    // a plan that was made before is cut as it was made
    return {
      cuts: all,
      reason: weights
        ? 'Planned as you weighed it.'
        : isPlanStyle(plan)
          ? `Planned: ${planNames[plan].toLowerCase()}.`
          : 'Your own cuts.',
    };
  }
  if (!isPlanStyle(plan)) return gridOf(mesh, plan, rooms);
  checkPlannable(
    mesh,
    rooms.map((r) => r.room),
  );
  const planned = await planDivision(mesh, aimOf(rooms, plan, params), context);
  return {
    cuts: planned.cuts,
    reason: planned.grid
      ? 'Nothing better than the even grid was found.'
      : `Best of ${planned.looked} ways to cut compared.`,
  };
}
