import type { CrossSection } from 'manifold-3d';
import type { Keep } from '../../planning/cuts/bodies.ts';
import { roomiestPlaces } from '../../planning/cuts/roomiestPlaces.ts';
import { type DivideParams, type DividedPart, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { MeshError } from '../../run/MeshError.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { identity3, vec3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh, type Vec3, type Xyz } from '../../mesh/TriMesh.ts';
import { apartOf, assemblyOf, type AssemblyLook, type AssemblyStep } from '../../planning/cuts/assembly.ts';
import { axisOf, checkCuts, checkFacesOut, checkPlannable } from '../../planning/cuts/checkCuts.ts';
import { lengthOf } from '../../planning/cuts/creaseLoops.ts';
import { fromPlane, cutSolid, sectionAt, sectionIn, sidesOf } from '../../planning/cuts/cutSolid.ts';
import { toZ } from '../../planning/cuts/planeFrame.ts';
import { bestLie, cellsFor, gridCuts } from '../../planning/cuts/grid.ts';
import { crumbRule } from '../../planning/cuts/planCuts.ts';
import { drawnApart } from '../../planning/cuts/planPicture.ts';
import { aimOf, exactBodies, overBy, planDivision } from '../../planning/cuts/planDivision.ts';
import { planeOf, type PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { fitsQuickly } from '../../planning/cuts/quickFit.ts';
import { isPlanStyle, planNames } from '../../planning/cuts/styles.ts';
import { flattestPose, type PartPose } from '../../planning/partPose.ts';
import { roomsOf, type RoomOfBed } from '../../planning/room.ts';
import { measureCut, cutSegments } from '../../section/cut.ts';
import { fromSolid, toSolid, withSolids, type Solid } from '../../solid/kernel.ts';
import type { PartName } from '../../params/checks.ts';
import { axes } from '../../mesh/axes.ts';
import type { Lump } from './contact.ts';
import { wayOff } from './comesOff.ts';
import { addBands } from './joins/bands.ts';
import { boltReach } from './joins/bolts.ts';
import { reachOf } from './joins/decide.ts';
import { addJoins, type JoinsMade } from './joins/joins.ts';
import { sitesOf, type Site } from './joins/sites.ts';
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

/** A, B, ... Z, AA, AB ... */
export function letters(n: number): string {
  let out = '';
  for (let i = n; i >= 0; i = Math.floor(i / 26) - 1) out = String.fromCharCode(65 + (i % 26)) + out;
  return out;
}

interface Plain {
  min: Xyz;
  size: Xyz;
  volumeMm3: number;
}

const plainOf = ({ solid }: Lump): Plain => {
  const { min, max } = solid.boundingBox();
  return { min: xyz(min), size: xyz(vec3((k) => max[k] - min[k])), volumeMm3: solid.volume() };
};

/** Is a part the one that had a name before? The kernel keeps coordinates as 32 bit floats. */
function isNamed(part: Plain, name: PartName): boolean {
  const slack = 1e-3 + 1e-5 * Math.max(...name.size.map(Math.abs), ...name.min.map(Math.abs));
  const { min, size } = part;
  return (
    [min.x, min.y, min.z].every((x, k) => Math.abs(x - name.min[k]) <= slack) &&
    [size.x, size.y, size.z].every((x, k) => Math.abs(x - name.size[k]) <= slack) &&
    Math.abs(part.volumeMm3 - name.volumeMm3) <= 1e-4 * name.volumeMm3
  );
}

/**
 * Letters by level from below, numbers by place within it. A part that was there before keeps its name, and no other
 * part gets that of one that was printed.
 */
function nameLumps(lumps: Lump[], names: readonly PartName[]): void {
  const order = ({ solid, level }: Lump): Vec3 => {
    const { min, max } = solid.boundingBox();
    return [level, Math.round((min[1] + max[1]) / 2), (min[0] + max[0]) / 2];
  };
  lumps.sort((a, b) => {
    const p = order(a);
    const q = order(b);
    return p[0] - q[0] || p[1] - q[1] || p[2] - q[2];
  });
  const taken = new Set(names.filter((n) => n.spent).map((n) => n.tag));
  const free = new Set(names);
  for (const lump of lumps) {
    const plain = plainOf(lump);
    const known = [...free].find((n) => isNamed(plain, n));
    if (!known || lumps.some((l) => l.tag === known.tag)) continue;
    lump.tag = known.tag;
    taken.add(known.tag);
    free.delete(known);
  }
  const perLevel = new Map<number, number>();
  for (const lump of lumps) {
    if (lump.tag !== '') continue;
    let number = perLevel.get(lump.level) ?? 0;
    do lump.tag = `${letters(lump.level)}${++number}`;
    while (taken.has(lump.tag));
    perLevel.set(lump.level, number);
  }
}

/** Places of a face that are shown for a join by hand, and how much room each has around it, mm. */
const placesShown = { most: 6, roomMm: 2 };

/** How far bands go straight up from a cut, mm: as deep as the joins reach. */
const bandStraight = ({ join, clearance, joinMm }: DivideParams): number =>
  join === 'bolt' ? boltReach : reachOf({ kind: join === 'none' ? 'pin' : join, clearance, widest: joinMm });

/** Parts that share a face with each, the largest face first. */
function besideOf(sites: readonly Site[], lumps: readonly Lump[], cuts: readonly PlaneCut[]): DividedPart['beside'][] {
  const faces = lumps.map(() => new Map<string, DividedPart['beside'][number]>());
  for (const { cut, below, above, areaMm2, shared, over } of sites) {
    const rooms = roomiestPlaces(shared, placesShown.most, placesShown.roomMm).map(({ u, v }) =>
      xyz(fromPlane({ ...cuts[cut], offset: cuts[cut].offset + (over?.(u, v) ?? 0) }, u, v)),
    );
    for (const [own, other] of [
      [below, above],
      [above, below],
    ]) {
      const { tag } = lumps[other];
      const known = faces[own].get(tag);
      // the cut of the larger face, where they touch on two
      if (!known) faces[own].set(tag, { tag, areaMm2, cut: cut + 1, rooms });
      else {
        const larger = areaMm2 > known.areaMm2 ? { cut: cut + 1, rooms } : { cut: known.cut, rooms: known.rooms };
        faces[own].set(tag, { tag, areaMm2: known.areaMm2 + areaMm2, ...larger });
      }
    }
  }
  return faces.map((f) => [...f.values()].sort((p, q) => q.areaMm2 - p.areaMm2));
}

const glueOf = (sites: readonly Site[], { cut, parts, on }: AssemblyStep): number =>
  sites.reduce((n, f) => {
    const meets = (a: number, b: number): boolean => parts.includes(a) && on.includes(b);
    return n + (f.cut === cut && (meets(f.above, f.below) || meets(f.below, f.above)) ? f.areaMm2 : 0);
  }, 0);

/** Along the face where dovetails slide, which are told for what lies above; else as the step says. */
function slideOr(made: JoinsMade | null, step: AssemblyStep, cuts: readonly PlaneCut[]): Vec3 {
  const slide = made?.slides.get(step.whole);
  if (!slide) return step.direction;
  const down = step.direction.every((x, k) => Math.abs(x + cuts[step.cut].normal[k]) < 1e-9);
  return down ? slide : vec3((k) => -slide[k]);
}

/** What the order of assembly asks of parts: which meet, and whether one passes another, by their outlines along the way. */
function lookOf(keep: Keep, solids: readonly Solid[], sites: readonly Site[], slides: boolean): AssemblyLook {
  const outlines = new Map<string, CrossSection>();
  const along = (part: number, direction: Vec3): CrossSection => {
    // the same outline seen from both ends, for those that come from below
    const up = direction.find((x) => x !== 0)! < 0 ? vec3((k) => -direction[k]) : direction;
    const key = `${part} ${up.join()}`;
    const known = outlines.get(key);
    if (known) return known;
    const made = keep(keep(solids[part].transform(toZ(up))).project());
    outlines.set(key, made);
    return made;
  };
  return {
    atOnce: () => slides,
    touch: (some, others, cut) =>
      sites.some(
        (s) =>
          s.cut === cut &&
          ((some.includes(s.above) && others.includes(s.below)) ||
            (some.includes(s.below) && others.includes(s.above))),
      ),
    free: (some, others, direction) =>
      some.every((a) => others.every((b) => keep(along(a, direction).intersect(along(b, direction))).area() < passMm2)),
  };
}

/** How parts come off over cuts along loops: across, in another way, or not at all that was found; undefined over planes. */
function waysOffLoops(
  steps: readonly AssemblyStep[],
  solids: readonly Solid[],
  cuts: readonly PlaneCut[],
): ('across' | Vec3 | null | undefined)[] {
  const meshes = new Map<number, TriMesh>();
  const meshOf = (part: number): TriMesh => {
    const known = meshes.get(part) ?? fromSolid(solids[part]);
    meshes.set(part, known);
    return known;
  };
  return steps.map(({ cut, parts, on, direction }) => {
    if (!cuts[cut].loop) return undefined;
    const off = vec3((k) => -direction[k]);
    const way = wayOff(parts.map(meshOf), on.map(meshOf), off);
    return way === off ? 'across' : way;
  });
}

/** The way in which parts are put on that leans from the normal of their cut. */
const leaning = (way: 'across' | Vec3 | null | undefined): Vec3 | null =>
  way === undefined || way === null || way === 'across' ? null : vec3((k) => -way[k]);

/** Outlines that overlap by less pass one another, mm²: what rounding leaves where parts share a wall. */
const passMm2 = 0.5;

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
        body(body, number, made) {
          const { through, within, loop } = cuts[number];
          if (loop) {
            joint[number].seamMm = lengthOf(loop);
            // the face is on both sides, the skin on one
            joint[number].areaMm2 += (made.reduce((n, s) => n + s.surfaceArea(), 0) - body.surfaceArea()) / 2;
          }
          if (loop || (!through && !within)) return;
          const whole = sectionAt(keep, body, cuts[number]);
          const section = within ? sectionIn(keep, whole, cuts[number], within) : whole;
          joint[number].areaMm2 += section.area();
          for (const ring of section.toPolygons())
            ring.forEach(([x, y], i) => {
              const [u, v] = ring[(i + 1) % ring.length];
              joint[number].seamMm += Math.hypot(u - x, v - y);
            });
        },
      },
    );
    for (const [i, cut] of cuts.entries()) {
      if (!cut.loop) continue;
      if (!bodies.some((b) => sidesOf(b).some((s) => Math.abs(s) === i + 1)))
        throw new MeshError(
          'cannot',
          `Cut ${i + 1} along a crease parts nothing: the crease does not close around a piece, or folds over itself.`,
          'Cut it with a plane there instead.',
          'cuts',
        );
    }
    if (params.maxParts !== undefined && bodies.length > params.maxParts)
      throw new MeshError(
        'cannot',
        `${bodies.length} parts are needed, and at most ${params.maxParts} were allowed.`,
        'Allow more parts, give a larger bed, or size the model down.',
        'maxParts',
      );
    const levels = levelsOf(bodies, cuts, rooms);
    const lumps: Lump[] = bodies.map((body, i) => ({ ...body, level: levels[i], tag: '' }));
    nameLumps(lumps, params.names ?? []);
    const plain = lumps.map(plainOf);
    const sum = lumps.reduce((v, l) => v + l.solid.volume(), 0);
    const nodes = lumps.map((l) => l.node);
    const apart = apartOf(nodes, cuts);
    work.progress(0.55, 'Placing joins');
    const spaces = rooms.map((r) => r.room);
    const bare = lumps.map((l) => l.solid);
    const bandMm3 =
      params.bandMm > 0
        ? addBands(
            { kernel, keep },
            lumps,
            cuts,
            solid,
            mesh,
            { wide: params.bandMm, straight: bandStraight(params) },
            sliceContext(work, 0.5, 0.55),
          )
        : 0;
    const sites = sitesOf(keep, lumps, cuts);
    const beside = besideOf(sites, lumps, cuts);
    // as they were cut: joins are not in one another's way, and tags are of no account
    const look = lookOf(keep, bare, sites, params.join === 'dovetail');
    const drawn = drawnApart(keep, lumps, cuts);
    const steps = assemblyOf(nodes, cuts, look);
    const ways = waysOffLoops(steps, bare, cuts);
    const made: JoinsMade | null =
      params.join === 'none' && !params.joinPlaces
        ? null
        : await addJoins(
            { kernel, keep },
            lumps,
            cuts,
            {
              kind: params.join === 'none' ? 'pin' : params.join,
              automatic: params.join !== 'none',
              clearance: params.clearance,
              widest: params.joinMm,
              places: params.joinPlaces ?? [],
              locked: new Set(ways.flatMap((way, i) => (way === undefined || way === 'across' ? [] : [steps[i].cut]))),
              mesh,
              fits: (points) => fitsQuickly(points, spaces, [identity3]),
            },
            sliceContext(work, 0.55, 0.7),
          );
    const untagged = params.labels
      ? engraveTags({ kernel, keep }, lumps, cuts, { heightMm: params.labelMm, depthMm: params.labelDepthMm })
      : 0;
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
        joins: made?.joins[i] ?? [],
        plain: plain[i],
        beside: beside[i],
        apart: xyz(apart[i]),
      });
    }
    return {
      outputs,
      report: {
        parts,
        cuts: cuts.map((cut, i) => {
          const { normal, offset, through, within, loop } = cut;
          const measured =
            through || within || loop
              ? joint[i]
              : (({ areaMm2, lengthMm }) => ({ areaMm2, seamMm: lengthMm }))(
                  measureCut(cutSegments(mesh, normal, offset), normal),
                );
          return {
            axis: axisOf(normal),
            normal: xyz(normal),
            offset,
            through: through ? xyz(through) : null,
            loop: loop ? loop.map(xyz) : null,
            within: within ? { min: xyz(within.min), max: xyz(within.max) } : null,
            ...measured,
          };
        }),
        order: steps.map((s, i) => ({
          name: s.parts.map((p) => parts[p].tag).join('+'),
          from: s.on.map((p) => parts[p].tag),
          direction: xyz(leaning(ways[i]) ?? slideOr(made, s, cuts)),
          cut: s.cut + 1,
          glueMm2: glueOf(sites, s),
        })),
        interlocked: steps.flatMap((s, i) => (ways[i] === null ? [s.parts.map((p) => parts[p].tag).join('+')] : [])),
        loose: made?.loose ?? [],
        mixable: made?.mixable ?? [],
        leftOut: made?.leftOut ?? [],
        faces: made?.faces ?? 0,
        bareFaces: made?.bare ?? 0,
        untagged,
        bandMm3,
        map: {
          wide: drawn.wide,
          high: drawn.high,
          parts: drawn.parts.map(({ body, rings }) => ({ tag: lumps[body].tag, rings })),
        },
        volumeError: whole > 0 ? Math.abs(sum - whole) / whole : 0,
        reason,
      },
    };
  });
});
