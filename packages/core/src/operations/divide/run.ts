import { type DivideParams, type DividedPart, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { MeshError } from '../../run/MeshError.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { identity3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { assemblyOf, apartOf } from '../../planning/cuts/assembly.ts';
import { axisOf, checkCuts, checkFacesOut, checkPlannable } from '../../planning/cuts/checkCuts.ts';
import { cutSolid, sectionAt } from '../../planning/cuts/cutSolid.ts';
import { bestLie, cellsFor, gridCuts } from '../../planning/cuts/grid.ts';
import { crumbRule } from '../../planning/cuts/planCuts.ts';
import { exactBodies, overBy, planDivision } from '../../planning/cuts/planDivision.ts';
import { planeOf, type PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { fitsQuickly } from '../../planning/cuts/quickFit.ts';
import { isPlanStyle, planNames } from '../../planning/cuts/styles.ts';
import { flattestPose, type PartPose } from '../../planning/partPose.ts';
import { usualProfile } from '../../planning/PrinterProfile.ts';
import { roomsOf, type RoomOfBed } from '../../planning/room.ts';
import { measureCut, cutSegments } from '../../section/cut.ts';
import { fromSolid, toSolid, withSolids } from '../../solid/kernel.ts';
import { axes } from '../../mesh/axes.ts';
import type { Lump } from './contact.ts';
import { addJoins } from './joins.ts';
import { levelsOf } from './levels.ts';
import { engraveTags } from './tags.ts';

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

/** Chooses the cuts: those given, the even grid, or a plan. */
async function chooseCuts(
  mesh: TriMesh,
  { at, cuts, plan, kind, layer, keepClean }: DivideParams,
  rooms: readonly RoomOfBed[],
  context: RunContext,
): Promise<Chosen> {
  if (at || cuts) {
    const seen = new Set<string>();
    const own = (at ?? [])
      .filter(({ axis, mm }) => !seen.has(`${axis}${mm}`) && seen.add(`${axis}${mm}`))
      .sort((a, b) => axes.indexOf(a.axis) - axes.indexOf(b.axis) || a.mm - b.mm)
      .map(planeOf);
    const all = [...own, ...(cuts ?? [])];
    checkCuts(mesh, all);
    // a plan that was made before is cut as it was made
    return { cuts: all, reason: isPlanStyle(plan) ? `Planned: ${planNames[plan].toLowerCase()}.` : 'Your own cuts.' };
  }
  if (!isPlanStyle(plan)) return gridOf(mesh, plan, rooms);
  checkPlannable(
    mesh,
    rooms.map((r) => r.room),
  );
  const planned = await planDivision(
    mesh,
    {
      rooms: rooms.map((r) => r.room),
      printers: rooms.length,
      style: plan,
      clean: keepClean,
      profile: usualProfile(kind, layer),
    },
    context,
  );
  return {
    cuts: planned.cuts,
    reason: planned.grid
      ? 'Nothing better than the even grid was found.'
      : `Best of ${planned.looked} ways to cut compared.`,
  };
}

/** A, B, ... Z, AA, AB ... */
export function letters(n: number): string {
  let out = '';
  for (let i = n; i >= 0; i = Math.floor(i / 26) - 1) out = String.fromCharCode(65 + (i % 26)) + out;
  return out;
}

/** Letters by level from below, numbers by place within it. */
function nameLumps(lumps: Lump[]): void {
  const order = ({ solid, level }: Lump): Vec3 => {
    const { min, max } = solid.boundingBox();
    return [level, Math.round((min[1] + max[1]) / 2), (min[0] + max[0]) / 2];
  };
  lumps.sort((a, b) => {
    const p = order(a);
    const q = order(b);
    return p[0] - q[0] || p[1] - q[1] || p[2] - q[2];
  });
  const perLevel = new Map<number, number>();
  for (const lump of lumps) {
    const number = (perLevel.get(lump.level) ?? 0) + 1;
    perLevel.set(lump.level, number);
    lump.tag = `${letters(lump.level)}${number}`;
  }
}

/** How a part lies on the first bed on which it fits; else as it comes nearest on the first. */
async function poseOn(part: TriMesh, rooms: readonly RoomOfBed[]): Promise<PartPose & { printer: string }> {
  let nearest: (PartPose & { printer: string }) | null = null;
  for (const { name, room } of rooms) {
    const pose = { ...(await flattestPose(part, room)), printer: name };
    if (pose.fits) return pose;
    nearest ??= pose;
  }
  return nearest!;
}

/** Cuts a solid by planes into parts that fit the bed; every part keeps its place. */
export const divide = makeOperation(description, async ([mesh], params, context) => {
  const rooms = roomsOf(params.bed, params.margin, params.beds);
  const planned = isPlanStyle(params.plan) && !params.at && !params.cuts;
  const from = planned ? 0.5 : 0;
  const { cuts, reason } = await chooseCuts(mesh, params, rooms, sliceContext(context, 0, from));
  return withSolids(async (kernel, keep) => {
    const work = sliceContext(context, from, 1);
    work.progress(0, 'Cutting');
    const solid = keep(toSolid(kernel, mesh));
    const whole = solid.volume();
    checkFacesOut(whole);
    const joint = cuts.map(() => ({ areaMm2: 0, seamMm: 0 }));
    const bodies = cutSolid(
      keep,
      exactBodies(kernel, keep),
      solid,
      cuts,
      planned || params.cuts ? crumbRule : undefined,
      {
        cut(number) {
          work.checkCancelled();
          work.progress((0.5 * number) / cuts.length, `Cut ${number + 1} of ${cuts.length}`);
        },
        body(body, number) {
          if (!cuts[number].through) return;
          const section = sectionAt(keep, body, cuts[number]);
          joint[number].areaMm2 += section.area();
          for (const ring of section.toPolygons())
            ring.forEach(([x, y], i) => {
              const [u, v] = ring[(i + 1) % ring.length];
              joint[number].seamMm += Math.hypot(u - x, v - y);
            });
        },
      },
    );
    if (params.maxParts !== undefined && bodies.length > params.maxParts)
      throw new MeshError(
        'cannot',
        `${bodies.length} parts are needed, and at most ${params.maxParts} were allowed.`,
        'Allow more parts, give a larger bed, or size the model down.',
        'maxParts',
      );
    const levels = levelsOf(bodies, cuts, rooms);
    const lumps: Lump[] = bodies.map((body, i) => ({ ...body, level: levels[i], tag: '' }));
    nameLumps(lumps);
    const sum = lumps.reduce((v, l) => v + l.solid.volume(), 0);
    const nodes = lumps.map((l) => l.node);
    const apart = apartOf(nodes, cuts);
    work.progress(0.55, 'Placing joins');
    const spaces = rooms.map((r) => r.room);
    const joins =
      params.join === 'none'
        ? lumps.map(() => [])
        : await addJoins(
            kernel,
            keep,
            lumps,
            cuts,
            params.join,
            params.clearance,
            (points) => fitsQuickly(points, spaces, [identity3]),
            work,
          );
    if (params.labels) engraveTags(kernel, keep, lumps, cuts);
    const outputs: TriMesh[] = [];
    const parts: DividedPart[] = [];
    for (let i = 0; i < lumps.length; i++) {
      work.checkCancelled();
      work.progress(0.7 + (0.3 * i) / lumps.length, `Does ${lumps[i].tag} fit?`);
      const part = fromSolid(lumps[i].solid);
      const { fits, rotation, heightMm, footMm2, printer } = await poseOn(part, rooms);
      const box = boundsOf(part);
      outputs.push(part);
      parts.push({
        tag: lumps[i].tag,
        volumeMm3: volumeOf(part),
        size: xyz(sizeOf(box)),
        min: xyz(box.min),
        fits,
        overMm: fits ? 0 : await overBy(part, spaces),
        printer,
        pose: { rotation },
        heightMm,
        footMm2,
        joins: joins[i],
        apart: xyz(apart[i]),
      });
    }
    return {
      outputs,
      report: {
        parts,
        cuts: cuts.map((cut, i) => {
          const { normal, offset, through } = cut;
          const measured = through
            ? joint[i]
            : (({ areaMm2, lengthMm }) => ({ areaMm2, seamMm: lengthMm }))(
                measureCut(cutSegments(mesh, normal, offset), normal),
              );
          return {
            axis: axisOf(normal),
            normal: xyz(normal),
            offset,
            through: through ? xyz(through) : null,
            ...measured,
          };
        }),
        order: assemblyOf(nodes, cuts).map((s) => ({
          name: s.parts.map((p) => parts[p].tag).join('+'),
          from: s.on.map((p) => parts[p].tag),
          direction: xyz(s.direction),
          cut: s.cut + 1,
        })),
        volumeError: whole > 0 ? Math.abs(sum - whole) / whole : 0,
        reason,
      },
    };
  });
});
