import { IsBoolean, IsIn, IsOptional } from 'class-validator';
import { sliceContext, type RunContext } from '../../mesh/context.ts';
import { deviationOf, type Deviation } from '../../mesh/deviation.ts';
import { crumbShare, inspectMesh, isSound, type Inspection } from '../../mesh/inspect.ts';
import { MeshError } from '../../mesh/MeshError.ts';
import { areaOf, triangleCentre } from '../../mesh/measures.ts';
import { buildEdges } from '../../mesh/edges.ts';
import { makeConsistent } from '../../repair/orient.ts';
import { Bvh, newHit } from '../../mesh/Bvh.ts';
import { WindingTree } from '../../mesh/WindingTree.ts';
import { diagonalOf, subMesh, triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { IsLengthMm, IsMm } from '../checks.ts';
import type { Operation } from '../Operation.ts';
import { joinShells } from './join.ts';
import { settleCrossings } from '../../repair/settleCrossings.ts';
import { dropCollapsed, dropCrumbs, dropDust, stitch, type StitchCounts } from './stitch.ts';
import { defaultDetail, wrapMesh } from './wrap.ts';

export const mendMethods = ['auto', 'stitch', 'join', 'wrap'] as const;
export type MendMethod = (typeof mendMethods)[number];

export class MendParams {
  /** stitch keeps every good triangle; join also unites overlapping shells; wrap makes a new skin; auto tries them in turn. */
  @IsOptional()
  @IsIn(mendMethods)
  method: MendMethod = 'auto';

  /** Detail of a wrap, mm; a two-hundredth of the diagonal if left out. */
  @IsOptional()
  @IsLengthMm()
  detail?: number;

  /** Gaps up to this width are closed, mm. */
  @IsOptional()
  @IsMm()
  closeGaps?: number;

  /** Open loops longer than this stay open, mm; all are closed if left out. */
  @IsOptional()
  @IsLengthMm()
  fillLimit?: number;

  @IsOptional()
  @IsBoolean()
  keepCrumbs: boolean = false;
}

export interface MendReport {
  method: Exclude<MendMethod, 'auto'>;
  before: Inspection;
  after: Inspection;
  /** of the skin that can be seen: neither what was dropped as a crumb or sheet nor what lay buried inside */
  deviation: Deviation;
  /** share of the old skin, by triangles, that lay inside the body */
  buriedPct: number;
  /** null when the mesh had no volume before */
  volumeChangePct: number | null;
  /** share of the old triangles that are still there, bit for bit */
  untouchedPct: number;
  stitched: StitchCounts;
  /** closed, oriented, free of crossings, and taken by the solid kernel */
  sound: boolean;
  /** why this method, or what is still wrong and what to try */
  reason: string;
}

interface Candidate {
  mesh: TriMesh;
  method: MendReport['method'];
  after: Inspection;
  reason: string;
}

/** Makes one sound solid, or several if they are truly apart, with the least change that reaches it. */
export const mend: Operation<MendParams, MendReport> = {
  name: 'mend',
  version: 1,
  summary: 'Closes, orients and unites a mesh into a sound solid',
  params: MendParams,
  async run([input], params, context) {
    const source = weldExact(input);
    context.progress(0, 'Looking at what is wrong');
    const before = inspectMesh(source, {}, sliceContext(context, 0, 0.12));
    const scale = diagonalOf(source);
    if (dropCollapsed(source).triangles.length === 0 || areaOf(source) === 0)
      throw new MeshError(
        'not-solid',
        `None of the ${triangleCount(source)} triangles has any area.`,
        'Export the model again; there is nothing here to mend.',
      );
    const detail = params.detail ?? defaultDetail(source);
    if (detail < scale / 2000)
      throw new MeshError(
        'too-fine',
        `A detail of ${detail} mm on a model ${scale.toFixed(0)} mm across needs more memory than there is.`,
        `Try ${(scale / 1000).toPrecision(2)} mm or more.`,
        'detail',
      );
    const tolerance = Math.max(params.closeGaps ?? 0, 2e-5 * scale);
    const stitched = stitch(
      source,
      { keepCrumbs: params.keepCrumbs, fillLimitMm: params.fillLimit ?? Infinity, toleranceMm: tolerance },
      sliceContext(context, 0.12, 0.35),
    );
    let candidate: Candidate = {
      mesh: stitched.mesh,
      method: 'stitch',
      after: inspectMesh(stitched.mesh, {}, sliceContext(context, 0.35, 0.42)),
      reason: 'Stitching was enough: every good triangle is kept.',
    };
    // loops that were to stay open are no reason to try something stronger
    const wants = params.method === 'auto' && stitched.counts.holesLeft > 0 ? 'stitch' : params.method;
    if (wants === 'wrap')
      candidate = await wrapped(
        wrapSource(source, stitched),
        detail,
        params.closeGaps,
        'You asked for a new skin.',
        context,
      );
    else if (wants === 'join' || (wants === 'auto' && !solidEnough(candidate))) {
      const joined = await joinedFrom(
        stitched.mesh,
        candidate,
        scale,
        params.keepCrumbs ? 0 : crumbShare * scale,
        sliceContext(context, 0.42, 0.6),
      );
      if (joined && (isSound(joined.after) || wants === 'join')) candidate = joined;
      else if (wants === 'auto')
        candidate = await wrapped(
          wrapSource(source, stitched),
          detail,
          params.closeGaps,
          `Stitching left ${wrongWith(candidate.after)}, and joining could not settle it.`,
          sliceContext(context, 0.6, 0.85),
        );
    }
    const { mesh, after } = candidate;
    const sound = isSound(after);
    if (mesh.triangles.length === 0 || (after.watertight && !((after.volumeMm3 ?? 0) > 0)))
      throw new MeshError(
        'not-solid',
        `After ${candidate.method === 'wrap' ? 'wrapping' : 'mending'} nothing encloses any volume: the mesh is a sheet without an inside.`,
        'Give the sheet a thickness where it was made, or wrap it with a gap to close.',
      );
    let reason = candidate.reason;
    if (!sound) {
      const next =
        candidate.method === 'stitch' ? 'Try join.' : candidate.method === 'join' ? 'Try wrap.' : 'Try a finer detail.';
      reason = `Not a sound solid yet: ${wrongWith(after)}. ${next}`;
    }
    context.progress(0.88, 'Measuring what the mending cost');
    const seen = withoutBuried(stitched.kept, mesh, 1e-3 * scale);
    const deviation = deviationOf(seen.mesh, mesh, 40_000, sliceContext(context, 0.88, 1));
    const volumeBefore = before.volumeMm3 !== null && before.shells === 1 ? before.volumeMm3 : null;
    return {
      outputs: [mesh],
      report: {
        method: candidate.method,
        before,
        after,
        deviation,
        buriedPct: seen.buriedPct,
        volumeChangePct:
          volumeBefore && after.volumeMm3 !== null
            ? (100 * (after.volumeMm3 - Math.abs(volumeBefore))) / Math.abs(volumeBefore)
            : null,
        untouchedPct: untouchedShare(source, mesh),
        stitched: stitched.counts,
        sound,
        reason,
      },
    };
  },
};

const solidEnough = (c: Candidate): boolean => isSound(c.after);

/** The first thing that keeps a mesh from being a sound solid, in words. */
export function wrongWith(i: Inspection): string {
  if (i.openEdges > 0) return `${i.openEdges} open edges`;
  if (i.nonManifoldEdges > 0) return `${i.nonManifoldEdges} edges with more than two sheets`;
  if (i.inconsistentEdges > 0) return `${i.inconsistentEdges} edges whose sides disagree`;
  if ((i.selfIntersectingPairs ?? 0) > 0) return `${i.selfIntersectingPairs} pairs of crossing triangles`;
  if (i.nonManifoldVertices > 0) return `${i.nonManifoldVertices} points where sheets touch`;
  return 'no volume';
}

async function joinedFrom(
  mesh: TriMesh,
  from: Candidate,
  scale: number,
  crumbMm: number,
  context: RunContext,
): Promise<Candidate | null> {
  if (!from.after.watertight) return null;
  const reason = 'Shells overlapped and were united; skins buried inside are gone.';
  let result = mesh;
  if (from.after.shells > 1) {
    try {
      // uniting can cut off new crumbs where shells only just overlapped
      result = dropCrumbs(weldExact(await joinShells(mesh, sliceContext(context, 0, 0.5))), crumbMm).mesh;
    } catch (error) {
      if (error instanceof MeshError && error.code === 'not-solid') return null;
      throw error;
    }
  }
  let after = inspectMesh(result);
  if (isSound(after)) return { mesh: result, method: 'join', after, reason };
  if (after.nonManifoldEdges > 0 || after.nonManifoldVertices > 0) {
    const again = stitch(result, { keepCrumbs: true, fillLimitMm: Infinity, toleranceMm: 0 }, context);
    result = again.mesh;
    after = inspectMesh(result);
  }
  if (!isSound(after)) {
    const again = settleCrossings(result, scale, sliceContext(context, 0.5, 1));
    if (again) {
      const settled = dropCrumbs(dropDust(again), crumbMm).mesh;
      const checked = inspectMesh(settled);
      if (isSound(checked))
        return {
          mesh: settled,
          method: 'join',
          after: checked,
          reason:
            from.after.shells > 1 ? reason : 'Triangles that crossed were taken out and the surface closed again.',
        };
    }
  }
  return { mesh: result, method: 'join', after, reason };
}

/**
 * What a wrap goes round: the stitched mesh, which is closed, unless stitching had to invent or drop much of the skin.
 * Then the torn skin itself, made to face one way: its winding number bridges the tears better than patches do.
 */
function wrapSource(source: TriMesh, stitched: { mesh: TriMesh; kept: TriMesh; counts: StitchCounts }): TriMesh {
  const whole = areaOf(source);
  if (stitched.counts.patchAreaMm2 < 0.1 * whole && areaOf(stitched.kept) > 0.85 * whole) return stitched.mesh;
  const torn = dropCollapsed(source);
  return makeConsistent(torn, buildEdges(torn)).mesh;
}

async function wrapped(
  mesh: TriMesh,
  detail: number,
  gaps: number | undefined,
  why: string,
  context: RunContext,
): Promise<Candidate> {
  const skin = await wrapMesh(mesh, detail, (gaps ?? 0) / 2, context);
  return {
    mesh: skin,
    method: 'wrap',
    after: inspectMesh(skin),
    reason: `${why} A new skin was made at ${Number(detail.toPrecision(3))} mm detail; finer relief is lost.`,
  };
}

/** The triangles of `before` that do not lie deeper inside `after` than `depthMm`. */
function withoutBuried(before: TriMesh, after: TriMesh, depthMm: number): { mesh: TriMesh; buriedPct: number } {
  const tree = new Bvh(after);
  const winding = new WindingTree(tree);
  const hit = newHit();
  const keep: number[] = [];
  const n = triangleCount(before);
  for (let t = 0; t < n; t++) {
    const [x, y, z] = triangleCentre(before, t);
    if (tree.nearest(x, y, z, depthMm, hit).distance < Infinity || winding.at(x, y, z) < 0.5) keep.push(t);
  }
  return keep.length === 0
    ? { mesh: before, buriedPct: 0 }
    : { mesh: subMesh(before, keep), buriedPct: (100 * (n - keep.length)) / n };
}

/** Percentage of a's triangles that stand in b with exactly the same corners. */
function untouchedShare(a: TriMesh, b: TriMesh): number {
  const key = (m: TriMesh, t: number): string => {
    const corners = [0, 1, 2].map((k) => {
      const v = 3 * m.triangles[3 * t + k];
      return `${m.positions[v]},${m.positions[v + 1]},${m.positions[v + 2]}`;
    });
    return corners.sort().join(';');
  };
  const n = triangleCount(a);
  if (n === 0) return 100;
  const kept = new Set<string>();
  // every k-th triangle is enough for a percentage on a large mesh
  const stride = Math.max(1, Math.floor(n / 100_000));
  for (let t = 0; t < n; t += stride) kept.add(key(a, t));
  let found = 0;
  const wanted = kept.size;
  for (let t = 0; t < triangleCount(b); t++) if (kept.delete(key(b, t))) found++;
  return (100 * found) / wanted;
}
