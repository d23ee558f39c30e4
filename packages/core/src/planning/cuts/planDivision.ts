import { identity3, vec3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { bodiesOf } from '../../repair/bodiesOf.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { fromSolid, hullPoints, toSolid, withSolids, type Kernel, type Solid } from '../../solid/kernel.ts';
import { fitPoints, posePoints } from '../bedFit.ts';
import { kernelBodies, type Bodies, type Keep } from './bodies.ts';
import { cutSolid } from './cutSolid.ts';
import { bestLie, cellsFor, gridCuts } from './grid.ts';
import { crumbRule, groundOf, judgeCuts, planOn, standInOf, type PlanAim, type PlanFigures } from './planCuts.ts';
import { mostCuts, planeOf, type PlaneCut } from './PlaneCut.ts';
import { planCost } from './planCost.ts';
import { principalAxes } from './principalAxes.ts';
import { fitsQuickly } from './quickFit.ts';
import { planPicture, type PlanPicture } from './planPicture.ts';
import type { Wishes } from '../../params/Wishes.ts';
import type { BedSettings, PrinterKind } from '../../params/checks.ts';
import { usualProfile, type PrinterProfile } from '../PrinterProfile.ts';
import type { RoomOfBed } from '../room.ts';
import type { CleanBox, CleanSpot } from './CleanBox.ts';
import { weighed, weightsOf, type PlanStyle } from './styles.ts';

/** A plan that was proved on the solid itself. */
export interface Division {
  cuts: PlaneCut[];
  /** ways to cut that were compared, most of them for a part of the model */
  looked: number;
  /** of the stand-in, but for the number of parts and of those that fit */
  figures: PlanFigures;
  picture: PlanPicture;
  /** nothing better than the even grid was found */
  grid: boolean;
}

/** What cuts and divide both say of a plan. */
interface Asked extends BedSettings {
  kind: PrinterKind;
  keepClean?: readonly CleanBox[];
  painted?: readonly CleanSpot[];
  weights?: Wishes;
  quick?: boolean;
}

/** What a plan is made for, from what was asked. */
export const aimOf = (
  rooms: readonly RoomOfBed[],
  style: PlanStyle,
  { keepClean = [], painted = [], weights, quick, ...usual }: Asked,
): PlanAim => ({
  rooms: rooms.map((r) => r.room),
  style,
  ...(weights && { weights: weighed(weights) }),
  clean: [...keepClean, ...painted],
  ...(quick && { quick }),
  profiles: rooms.map((r) => profileOn(r, usual)),
});

/** What prints on a bed: what was said of it, else what was said of all. A nozzle or kind of its own has its own usual layer. */
function profileOn(bed: BedSettings, all: BedSettings & { kind: PrinterKind }): PrinterProfile {
  const { kind, layer, nozzle } = (bed.kind ?? bed.nozzle) ? { kind: all.kind, ...bed } : { ...all, ...bed };
  return usualProfile(kind, layer, nozzle);
}

/** The bodies of a solid, each with its cavities; by winding number where boxes do not tell. */
export const exactBodies = (kernel: Kernel, keep: Keep): Bodies =>
  kernelBodies(keep, (solid) => bodiesOf(fromSolid(solid)).map((body) => keep(toSolid(kernel, body))));

/** Cuts of the even grid of a bed, lying whichever way needs the fewest. */
function gridPlanes(mesh: TriMesh, rooms: readonly Vec3[]): PlaneCut[] {
  const box = boundsOf(mesh);
  const size = sizeOf(box);
  const room = rooms.map((r) => bestLie(size, r)).reduce((a, b) => (cellsFor(size, b) < cellsFor(size, a) ? b : a));
  return gridCuts(box.min, size, room).map(planeOf);
}

/** Does a part fit one of the rooms? Quickly where that finds a pose, else by the full search. */
async function fitsAny(part: TriMesh, rooms: readonly Vec3[]): Promise<boolean> {
  const points = await hullPoints(part);
  return (
    fitsQuickly(points, rooms, [identity3, principalAxes(part.positions, part.triangles)]) ||
    rooms.some((room) => posePoints(points, room).fits)
  );
}

interface Search {
  style: PlanStyle;
  broad?: number;
  /** cuts in many more directions are looked at */
  wide?: boolean;
}

/**
 * With whose weights plans of a style are looked for, and how broadly: seams kept short often leave fewer parts too, and a
 * narrower beam sometimes keeps what a broader one crowds out, and so do fewer directions. What one search cut the others find ready.
 */
const searchedFor: Record<PlanStyle, readonly Search[]> = {
  fewest: [{ style: 'fewest' }, { style: 'clean' }, { style: 'fewest', broad: 0.5 }, { style: 'clean', wide: true }],
  clean: [{ style: 'clean' }],
  support: [{ style: 'support' }],
  soon: [{ style: 'soon' }],
};

/** Of more parts than this the widest search would take too long, and is narrower. */
const manyParts = 40;
const broadOfMany = 0.5;

/** A plan with more parts than this share of the cells of the even grid is held against it. */
const nearGrid = 0.6;

/** Is nothing but the number of parts to be best, after a full search? */
const onlyParts = ({ style, weights, quick }: PlanAim): boolean => style === 'fewest' && !weights && !quick;

/** Cells that the planes of a grid make of the room. */
const cellsOfGrid = (grid: readonly PlaneCut[]): number =>
  [0, 1, 2].reduce((n, k) => n * (1 + grid.filter((c) => Math.abs(c.normal[k]) === 1).length), 1);

/** A plan that was cut in truth. */
interface Proved {
  planned: readonly PlaneCut[];
  /** and those that what did not fit after all wanted besides */
  cuts: PlaneCut[];
  figures: PlanFigures;
}

/** So many plans are cut in truth at most. */
const mostProved = 3;

/** How often parts that fit on the stand-in and not in truth are planned again, each time for a little less room. */
const most = 3;
const lessRoom = 0.985;

/**
 * Plans the cuts of a closed mesh for the beds given: on a light stand-in, then proved on the mesh itself, where parts that
 * do not fit after all are cut on. The even grid is taken where it is better.
 *
 * @throws MeshError `not-solid`, `cancelled`
 */
export async function planDivision(mesh: TriMesh, aim: PlanAim, context: RunContext): Promise<Division> {
  return withSolids(async (kernel, keep) => {
    const stand = await standInOf(kernel, keep, mesh, aim.rooms, sliceContext(context, 0, 0.15));
    const ground = groundOf(stand, aim, context);
    const many = ground.whole.reduce((n, p) => n + p.expected, 0) > manyParts;
    const own: readonly Search[] = aim.weights || aim.quick ? [{ style: aim.style }] : searchedFor[aim.style];
    const tries = own.map(({ wide, ...search }, i, all) =>
      planOn(
        wide ? groundOf(stand, aim, context, true) : ground,
        { ...aim, ...search, ...(wide && many && { broad: broadOfMany }) },
        sliceContext(context, 0.15 + (0.6 * i) / all.length, 0.15 + (0.6 * (i + 1)) / all.length),
      ),
    );
    const grid = gridPlanes(mesh, aim.rooms);
    // a grid of many cells is no rival, and takes long to judge
    const rival = !aim.quick && grid.length > 0 && grid.length < mostCuts / 40 ? judgeCuts(stand, grid, aim) : null;
    const judged = [...tries, ...(rival ? [{ cuts: grid, figures: rival }] : [])];
    const weights = aim.weights ?? weightsOf[aim.style];
    const scale = { room: aim.rooms[0], allS: judged[0].figures.allS };
    const costOf = (figures: PlanFigures): number => planCost(figures, weights, scale);
    const proofs = sliceContext(context, 0.78, 0.95);
    proofs.progress(0, 'Cutting in truth');
    const proveOne = async (
      planned: readonly PlaneCut[],
      known: PlanFigures | null,
      on: RunContext,
    ): Promise<Proved> => {
      const { cuts, parts, fitting } = await prove(kernel, keep, mesh, planned, aim, on);
      const asPlanned = known && cuts.length === planned.length ? known : judgeCuts(stand, cuts, aim);
      return { planned, cuts, figures: { ...asPlanned, parts, fitting } };
    };
    let best: Proved | null = null;
    let proved = 0;
    // a plan whose parts fit in truth too costs what was thought; one with a part that does not may be dearer than the next
    for (const { cuts, figures } of [...judged].sort((a, b) => costOf(a.figures) - costOf(b.figures))) {
      if (best && (costOf(figures) >= costOf(best.figures) || proved >= mostProved)) break;
      const next = await proveOne(cuts, figures, sliceContext(proofs, proved / mostProved, (proved + 1) / mostProved));
      proved++;
      if (!best || costOf(next.figures) < costOf(best.figures)) best = next;
    }
    let chosen = best!;
    // one that was too large to be judged may still have fewer parts than a plan of nearly as many
    if (grid.length > 0 && !rival && onlyParts(aim) && chosen.figures.parts > nearGrid * cellsOfGrid(grid)) {
      const even = await proveOne(grid, null, sliceContext(context, 0.95, 1));
      if (even.figures.fitting === even.figures.parts && even.figures.parts < chosen.figures.parts) chosen = even;
    }
    return {
      cuts: chosen.cuts,
      looked: tries.reduce((n, t) => n + t.looked, 0),
      grid: chosen.planned === grid,
      figures: chosen.figures,
      picture: planPicture(keep, stand.solid, chosen.cuts, crumbRule, {
        parts: chosen.figures.parts,
        solid: () => keep(toSolid(kernel, mesh)),
        bodies: () => exactBodies(kernel, keep),
      }),
    };
  });
}

/** Cuts the mesh itself, and what does not fit after all once more. */
async function prove(
  kernel: Kernel,
  keep: Keep,
  mesh: TriMesh,
  planned: readonly PlaneCut[],
  aim: PlanAim,
  context: RunContext,
): Promise<{ cuts: PlaneCut[]; parts: number; fitting: number }> {
  const cuts = [...planned];
  const bodies = exactBodies(kernel, keep);
  let all: Solid[] = cutSolid(keep, bodies, keep(toSolid(kernel, mesh)), cuts, crumbRule, {
    cut: () => context.checkCancelled(),
  }).map((b) => b.solid);
  for (let round = 1; ; round++) {
    const tooLarge: Solid[] = [];
    for (const solid of all) {
      context.checkCancelled();
      if (!(await fitsAny(fromSolid(solid), aim.rooms))) tooLarge.push(solid);
    }
    if (tooLarge.length === 0 || round > most)
      return { cuts, parts: all.length, fitting: all.length - tooLarge.length };
    const rooms = aim.rooms.map((r) => r.map((x) => x * lessRoom ** round) as unknown as Vec3);
    const next = all.filter((s) => !tooLarge.includes(s));
    let cutOn = false;
    for (const solid of tooLarge) {
      const part = fromSolid(solid);
      const stand = await standInOf(kernel, keep, part, rooms, context);
      const { cuts: more } = planOn(groundOf(stand, { ...aim, rooms }, context), { ...aim, rooms }, context);
      // a cut through everything would go through other parts too
      const own = more.filter((c) => c.through);
      cuts.push(...own);
      if (own.length > 0) cutOn = true;
      next.push(...cutSolid(keep, bodies, solid, own, crumbRule).map((b) => b.solid));
    }
    all = next;
    if (!cutOn) return { cuts, parts: all.length, fitting: all.length - tooLarge.length };
  }
}

/** A part that fits no bed in any pose. */
export interface Misfit {
  /** middle of its box, mm */
  at: Vec3;
  /** how much longer than the bed takes it is, in the pose in which it comes nearest, mm */
  overMm: number;
}

/** How much too long a part is for the rooms, in the pose in which it comes nearest, mm. */
export async function overBy(part: TriMesh, rooms: readonly Vec3[]): Promise<number> {
  const points = await hullPoints(part);
  const factor = Math.max(...rooms.map((room) => fitPoints(points, room).largestFactor));
  return (1 - Math.min(1, factor)) * Math.max(...sizeOf(boundsOf(part)));
}

/** What a maker's own cuts come to, proved on the mesh itself. */
export async function judgeDivision(
  mesh: TriMesh,
  cuts: readonly PlaneCut[],
  aim: PlanAim,
  context: RunContext,
): Promise<{ figures: PlanFigures; picture: PlanPicture; misfits: Misfit[] }> {
  return withSolids(async (kernel, keep) => {
    const stand = await standInOf(kernel, keep, mesh, aim.rooms, sliceContext(context, 0, 0.4));
    const figures = judgeCuts(stand, cuts, aim);
    context.progress(0.5, 'Cutting in truth');
    const all = cutSolid(keep, exactBodies(kernel, keep), keep(toSolid(kernel, mesh)), cuts, crumbRule, {
      cut: () => context.checkCancelled(),
    });
    const misfits: Misfit[] = [];
    for (const { solid } of all) {
      context.checkCancelled();
      const part = fromSolid(solid);
      if (await fitsAny(part, aim.rooms)) continue;
      const { min, max } = boundsOf(part);
      misfits.push({ at: vec3((k) => (min[k] + max[k]) / 2), overMm: await overBy(part, aim.rooms) });
    }
    return {
      figures: { ...figures, parts: all.length, fitting: all.length - misfits.length },
      picture: planPicture(keep, stand.solid, cuts, crumbRule, {
        parts: all.length,
        solid: () => keep(toSolid(kernel, mesh)),
        bodies: () => exactBodies(kernel, keep),
      }),
      misfits,
    };
  });
}
