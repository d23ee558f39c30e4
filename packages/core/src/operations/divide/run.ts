import { volumeOf } from '../../mesh/measures.ts';
import { identity3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh } from '../../mesh/TriMesh.ts';
import { apartOf, assemblyOf, inSlideOrder } from '../../planning/cuts/assembly.ts';
import { checkFacesOut } from '../../planning/cuts/checkCuts.ts';
import { fromPlane, reachOver } from '../../planning/cuts/cutSolid.ts';
import { overBy } from '../../planning/cuts/planDivision.ts';
import { drawnApart } from '../../planning/cuts/planPicture.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { fitsQuickly } from '../../planning/cuts/quickFit.ts';
import { roomiestPlaces } from '../../planning/cuts/roomiestPlaces.ts';
import { isPlanStyle } from '../../planning/cuts/styles.ts';
import { flattestPose, type PartPose } from '../../planning/partPose.ts';
import { roomsOf, type RoomOfBed } from '../../planning/room.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { MeshError } from '../../run/MeshError.ts';
import { fromSolid, toSolid, withSolids, type Solid } from '../../solid/kernel.ts';
import { makeOperation } from '../makeOperation.ts';
import { chooseCuts } from './chooseCuts.ts';
import type { Lump } from './contact.ts';
import { cutBodies, cutsOfReport } from './cutBodies.ts';
import { description, type DividedPart, type DivideParams } from './describe.ts';
import { addBands } from './joins/bands.ts';
import { addJoins, type JoinsMade } from './joins/joins.ts';
import { joinMethods } from './joins/kinds/index.ts';
import { holding, sitesOf, type Site } from './joins/sites.ts';
import { levelsOf } from './levels.ts';
import { nameLumps, plainOf } from './names.ts';
import { engraveTags } from './tags.ts';
import { glueOf, leaning, lookOf, slideOr, waysOffLoops } from './together.ts';

/** Places of a face that are shown for a join by hand, and how much room each has around it, mm. */
const placesShown = { most: 6, roomMm: 2 };

/** How far bands go straight up from a cut, mm: as deep as the joins reach. */
const bandStraight = ({ join, clearance, joinMm }: DivideParams): number =>
  joinMethods[join === 'none' ? 'pin' : join].reach({ clearance, widest: joinMm });

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

/** What is known of a part before it is laid. */
type Unlaid = Pick<DividedPart, 'tag' | 'joins' | 'plain' | 'beside' | 'apart'> & { solid: Solid };

/** Parts as they fit the beds, each as it lies there. */
async function laidParts(
  unlaid: readonly Unlaid[],
  rooms: readonly RoomOfBed[],
  work: RunContext,
): Promise<{ outputs: TriMesh[]; parts: DividedPart[] }> {
  const outputs: TriMesh[] = [];
  const parts: DividedPart[] = [];
  const spaces = rooms.map((r) => r.room);
  for (const [i, { solid, tag, ...known }] of unlaid.entries()) {
    work.checkCancelled();
    work.progress(i / unlaid.length, `Does ${tag} fit?`);
    const part = fromSolid(solid);
    const { fits, rotation, heightMm, footMm2, printer } = await poseOn(part, rooms);
    const box = boundsOf(part);
    outputs.push(part);
    parts.push({
      tag,
      volumeMm3: volumeOf(part),
      size: xyz(sizeOf(box)),
      min: xyz(box.min),
      fits,
      overMm: fits ? 0 : await overBy(part, spaces),
      printer,
      pose: { rotation },
      heightMm,
      footMm2,
      ...known,
    });
  }
  return { outputs, parts };
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
    const { bodies, faces } = cutBodies({ kernel, keep }, solid, cuts, planned || params.cuts !== undefined, work);
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
    const meeting = sitesOf(keep, lumps, cuts);
    const sites = holding(meeting);
    const beside = besideOf(sites, lumps, cuts);
    // as they were cut: joins are not in one another's way, and tags are of no account
    const look = lookOf(keep, bare, meeting, params.join === 'dovetail');
    const drawn = drawnApart(keep, lumps, cuts);
    const found = assemblyOf(nodes, cuts, look);
    const foundWays = waysOffLoops(found, bare, cuts);
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
              locked: new Set(
                foundWays.flatMap((way, i) => (way === undefined || way === 'across' ? [] : [found[i].cut])),
              ),
              mesh,
              fits: (points) => fitsQuickly(points, spaces, [identity3]),
            },
            sliceContext(work, 0.55, 0.7),
          );
    const steps = inSlideOrder(
      found,
      (s) => made?.slides.get(s.whole) ?? null,
      (part, way) => reachOver(bare[part], { normal: way, offset: 0 }).hi,
    );
    const ways = steps.map((s) => foundWays[found.findIndex((f) => f.parts === s.parts)]);
    const untagged = params.labels
      ? engraveTags({ kernel, keep }, lumps, cuts, { heightMm: params.labelMm, depthMm: params.labelDepthMm })
      : 0;
    const { outputs, parts } = await laidParts(
      lumps.map((l, i) => ({
        tag: l.tag,
        solid: l.solid,
        joins: made?.joins[i] ?? [],
        plain: plain[i],
        beside: beside[i],
        apart: xyz(apart[i]),
      })),
      rooms,
      sliceContext(work, 0.7, 1),
    );
    return {
      outputs,
      report: {
        parts,
        cuts: cutsOfReport(mesh, cuts, faces),
        order: steps.map((s, i) => ({
          name: s.parts.map((p) => parts[p].tag).join('+'),
          from: s.on.map((p) => parts[p].tag),
          direction: xyz(leaning(ways[i]) ?? slideOr(made, s, cuts)),
          cut: s.cut + 1,
          glueMm2: glueOf(sites, s),
        })),
        interlocked: steps.flatMap((s, i) =>
          ways[i] === null || (ways[i] === undefined && s.stuck) ? [s.parts.map((p) => parts[p].tag).join('+')] : [],
        ),
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
