import { refusalOf } from '../../solid/refusal.ts';
import { type MendMethod, type Method, type MendPart, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { begin } from '../../run/secondThread.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { pairsText } from '../../mesh/crossingCount.ts';
import { crossingsOf } from '../../mesh/crossings.ts';
import { groupByLabel, openLoops, originOf, shellsOf } from '../../mesh/edges.ts';
import { loopLength, loopOrder } from '../../mesh/loops.ts';
import { beginInspection, inspectMesh } from '../../inspect/inspect.ts';
import { crumbShare } from '../../inspect/shellFindings.ts';
import { isSound, type Inspection } from '../../inspect/Inspection.ts';
import { areaOf, triangleArea, triangleCentre, volumeOf } from '../../mesh/measures.ts';
import { once } from '../../mesh/once.ts';
import { MeshError } from '../../run/MeshError.ts';
import type { Crossings } from '../../mesh/selfIntersections.ts';
import { concatMeshes, diagonalOf, subMesh, triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { UnionFind } from '../../mesh/UnionFind.ts';
import { countOf, whole } from '../../words/numbers.ts';
import { weldExact } from '../../mesh/weld.ts';
import { windingOf } from '../../mesh/WindingTree.ts';
import { costOf } from './cost.ts';
import { joinShells, uniteTouching } from './join.ts';
import { dropFlatShells } from '../../repair/proveSolid.ts';
import { dropCollapsed, dropCrumbs, stitch } from './stitch.ts';
import { tornSkin } from './tornSkin.ts';
import { defaultDetail, wrapMesh } from './wrap.ts';

/** Volume over area to the power of 1.5 below which a closed skin is a sheet folded upon itself: a plate 30 000 times as wide as thick. */
const thinnest = 1e-5;
/** Where more of the skin than this had to be invented, the patches are doubted. */
const inventedShare = 0.1;

/** A tight patch is taken instead of a new skin only where nearly all of the old triangles are good. */
const mostlyKept = 0.9;

interface Candidate {
  mesh: TriMesh;
  method: Method;
  parts: MendPart[];
  after: Inspection;
  reason: string;
  /** what the solid kernel says, asked for as soon as there was a mesh */
  refusal: () => Promise<string | null>;
}

/** Makes one sound solid, or several if they are truly apart, with the least change that reaches it. */
export const mend = makeOperation(description, async ([input], params, context) => {
  const source = weldExact(input);
  context.progress(0, 'Looking at what is wrong');
  const inspected = beginInspection(source, {}, sliceContext(context, 0, 0.12));
  const scale = diagonalOf(source);
  if (dropCollapsed(source).triangles.length === 0 || areaOf(source) === 0)
    throw new MeshError(
      'not-solid',
      `None of the ${triangleCount(source)} triangles has any area.`,
      'Export the model again; there is nothing here to mend.',
    );
  const wrapOptions = {
    detailMm: params.detail ?? defaultDetail(source, params.grow, params.closeGaps),
    growMm: params.grow ?? 0,
    gapsMm: params.closeGaps ?? 0,
  };
  const crumbMm = params.keepCrumbs ? 0 : (params.crumb ?? crumbShare * scale);
  const stitchOptions = {
    crumbMm,
    fillLimitMm: params.fillLimit ?? Infinity,
    wanted: params.loops ? loopsByNumber(source, params.loops) : undefined,
    toleranceMm: Math.max(params.closeGaps ?? 0, 2e-5 * scale),
    taut: params.taut,
  };
  let stitched = stitch(source, stitchOptions, sliceContext(context, 0.12, 0.35));
  context.checkCancelled();
  // loops that were to stay open are no reason to try something stronger
  const wants = params.method === 'auto' && stitched.counts.holesLeft > 0 ? 'stitch' : params.method;
  const torn = once(() => tornSkin(source, context));
  const invented = stitched.counts.patchAreaMm2 / areaOf(source);
  context.checkCancelled();
  // patches over tatters can bound quite another body than all of the skin suggests
  const trusted = (volume: number) => invented < inventedShare || torn().mayBe(volume);
  const wrapWhole = (why: string) =>
    wrapped(
      trusted(volumeOf(stitched.mesh)) ? stitched.mesh : torn().skin,
      wrapOptions,
      why,
      crumbMm,
      sliceContext(context, 0.6, 0.85),
    );
  let tautly = params.taut;
  let candidate: Candidate;
  let before: Inspection;
  if (wants === 'wrap') {
    before = noHeap(await inspected());
    candidate = await wrapWhole('You asked for a new skin.');
  } else {
    before = noHeap(await inspected());
    const inShells = sliceContext(context, 0.35, 0.6);
    candidate = await byShells(source, stitched.mesh, wants, wrapOptions, crumbMm, inShells);
    if (wants === 'auto' && !isSound(candidate.after))
      candidate = await wrapWhole(`Stitching and joining left ${wrongWith(candidate.after)}.`);
    else if (wants === 'auto' && !trusted(candidate.after.volumeMm3 ?? 0)) {
      // a large opening is no reason to give up a clean skin: a tight patch may be all that is wanted
      const tight = stitch(source, { ...stitchOptions, taut: true }, sliceContext(context, 0.6, 0.65));
      const clean = await byShells(source, tight.mesh, wants, wrapOptions, crumbMm, sliceContext(context, 0.65, 0.7));
      if (
        isSound(clean.after) &&
        clean.method === 'stitch' &&
        tight.kept.triangles.length >= mostlyKept * source.triangles.length
      ) {
        stitched = tight;
        tautly = true;
        candidate = {
          ...clean,
          reason:
            'A patch that follows the surface would bulge, so the opening is closed by a tight one. Every good triangle is kept.',
        };
      } else {
        const skin = await wrapWhole(
          'So much of the skin is missing that patches alone gave another body than all of it suggests.',
        );
        if (isSound(skin.after) && skin.after.volumeMm3! > 0) candidate = skin;
      }
    }
  }
  const { mesh, after } = candidate;
  if (mesh.triangles.length === 0 || (after.watertight && !((after.volumeMm3 ?? 0) > thinnest * after.areaMm2 ** 1.5)))
    throw new MeshError(
      'not-solid',
      `After ${candidate.method === 'wrap' ? 'wrapping' : 'mending'} nothing encloses any volume: the mesh is a sheet without an inside.`,
      'Give the sheet a thickness where it was made, or wrap it with a grown skin.',
    );
  context.progress(0.86, 'Measuring what the mending cost');
  // a new skin follows the old one within its detail: only what lies deeper can be buried
  const nearMm = Math.max(1e-4 * scale, candidate.method === 'wrap' ? wrapOptions.detailMm / 2 : 0);
  const cost = costOf(source, stitched.kept, stitched.mesh, mesh, nearMm, sliceContext(context, 0.86, 0.97));
  context.progress(0.97, 'Asking the solid kernel');
  const refused = isSound(after) ? await candidate.refusal() : null;
  const sound = isSound(after) && refused === null;
  let reason = candidate.reason;
  if (!sound) {
    const next =
      candidate.method === 'stitch' ? 'Try join.' : candidate.method === 'join' ? 'Try wrap.' : 'Try a finer detail.';
    reason = `Not a sound solid yet: ${refused ?? wrongWith(after)}. ${next}`;
  }
  const volumeBefore = before.volumeMm3 !== null && before.shells === 1 ? before.volumeMm3 : null;
  return {
    outputs: [mesh],
    report: {
      method: candidate.method,
      taut: candidate.method !== 'wrap' && tautly,
      parts: candidate.parts,
      before,
      after,
      ...cost,
      volumeChangePct:
        volumeBefore && after.volumeMm3 !== null
          ? (100 * (after.volumeMm3 - Math.abs(volumeBefore))) / Math.abs(volumeBefore)
          : null,
      sizeChange: {
        x: after.size.x - before.size.x,
        y: after.size.y - before.size.y,
        z: after.size.z - before.size.z,
      },
      stitched: stitched.counts,
      sound,
      reason,
    },
  };
});

/** Tells the loops that findings call by these numbers, wherever stitching has left them, by the places of their corners. */
function loopsByNumber(source: TriMesh, numbers: number[]): (mesh: TriMesh, loop: Uint32Array) => boolean {
  const key = (mesh: TriMesh, h: number) => [0, 1, 2].map((k) => mesh.positions[3 * originOf(mesh, h) + k]).join();
  const loops = openLoops(source);
  const order = loopOrder(loops.map((l) => loopLength(source, l)));
  const places = new Set<string>();
  for (const n of numbers) for (const h of loops[order[n - 1]] ?? []) places.add(key(source, h));
  return (mesh, loop) => loop.some((h) => places.has(key(mesh, h)));
}

/**
 * Keeps shells that nothing crosses as they are, joins those that cross each other or themselves, and, where that does
 * not settle and `auto` allows it, wraps only them. Skins buried inside others go, unless only stitching was asked for.
 *
 * @param source inspected already
 * @param mesh the same, stitched
 * @param united bodies that touch have been united in `mesh` already
 */
async function byShells(
  source: TriMesh,
  mesh: TriMesh,
  wants: MendMethod,
  wrapOptions: { detailMm: number; growMm: number; gapsMm: number },
  crumbMm: number,
  context: RunContext,
  united = false,
): Promise<Candidate> {
  const all = triangleCount(mesh);
  const { label, count } = shellsOf(mesh);
  const asStitched = (): Candidate => {
    const refusal = begin(context, 'refusal', refusalOf, mesh);
    return {
      mesh,
      method: 'stitch',
      parts: [{ method: 'stitch', shells: count, triangles: all }],
      after: inspectMesh(mesh, { before: source }, sliceContext(context, 0.3, 1)),
      reason: 'Stitching was enough: every good triangle is kept.',
      refusal,
    };
  };
  const { watertight } = inspectMesh(mesh, { before: source, brief: true }, sliceContext(context, 0, 0.3));
  if (wants === 'stitch' || !watertight) return asStitched();
  const { count: crossings, pairs } = crossingsOf(mesh);
  // stitching parts bodies that touch by moving corners a little; where they touch in faces, they are united instead
  const touching = !united ? await uniteTouching(weldExact(source), context) : null;
  if (touching) {
    const one = await byShells(source, touching.mesh, wants, wrapOptions, crumbMm, context, true);
    const others = one.parts.filter((p) => p.method !== 'stitch' || touching.mesh.triangles.length / 3 > p.triangles);
    return {
      ...one,
      method: one.method === 'stitch' ? 'join' : one.method,
      parts: [{ method: 'join', shells: touching.shells, triangles: touching.triangles }, ...others],
      reason: `Bodies that touched in their faces were united there.${one.method === 'stitch' ? '' : ` ${one.reason}`}`,
    };
  }
  const sets = new UnionFind(count);
  const crossed = new Uint8Array(count);
  for (let i = 0; i < pairs.length; i += 2) {
    sets.union(label[pairs[i]], label[pairs[i + 1]]);
    crossed[label[pairs[i]]] = crossed[label[pairs[i + 1]]] = 1;
  }
  const clusters = sets.labels();
  const active = new Uint8Array(clusters.count);
  for (let s = 0; s < count; s++) if (crossed[s]) active[clusters.label[s]] = 1;
  const clusterOf = new Uint32Array(all);
  for (let t = 0; t < all; t++) clusterOf[t] = active[clusters.label[label[t]]] ? 1 + clusters.label[label[t]] : 0;
  const groups = groupByLabel(clusterOf, clusters.count + 1);
  const pieces: TriMesh[] = [partOf(mesh, groups[0])];
  const parts: MendPart[] = [];
  const shellsIn = (c: number) => clusters.label.filter((l) => l === c).length;
  const stitchedShells = count - crossed.reduce((n, x) => n + x, 0);
  if (stitchedShells > 0) parts.push({ method: 'stitch', shells: stitchedShells, triangles: groups[0].length });
  let failed: TriMesh | null = null;
  for (let c = 0; c < clusters.count; c++) {
    if (!active[c]) continue;
    const cluster = partOf(mesh, groups[c + 1]);
    const joined = await joinShells(
      cluster,
      sliceContext(context, 0.3, 0.8),
      2 * crossings === pairs.length ? pairsWithin(pairs, groups[c + 1], clusterOf, c + 1) : undefined,
    );
    if (joined) {
      pieces.push(joined);
      parts.push({ method: 'join', shells: shellsIn(c), triangles: groups[c + 1].length });
    } else if (wants === 'auto') {
      pieces.push(await wrapMesh(cluster, wrapOptions, sliceContext(context, 0.5, 0.9)));
      parts.push({ method: 'wrap', shells: shellsIn(c), triangles: groups[c + 1].length });
    } else {
      failed = cluster;
      pieces.push(cluster);
      parts.push({ method: 'join', shells: shellsIn(c), triangles: groups[c + 1].length });
    }
  }
  let result = concatMeshes(pieces);
  const bounding = dropBuried(result, context);
  const buried = bounding !== result;
  // uniting can cut off new crumbs where shells only just overlapped
  result = weldExact(dropCrumbs(dropFlatShells(weldExact(bounding)).mesh, crumbMm).mesh);
  if (parts.length === 1 && parts[0].method === 'stitch' && !buried) return asStitched();
  const refusal = begin(context, 'refusal', refusalOf, result);
  const checked = inspectMesh(result, { before: source }, sliceContext(context, 0.9, 1));
  const some = (m: Method) => parts.filter((p) => p.method === m);
  const method: Method = some('wrap').length > 0 ? 'wrap' : 'join';
  const told: string[] = [];
  if (some('join').length > 0 && !failed)
    told.push(
      some('join').some((p) => p.shells > 1)
        ? 'Shells overlapped and were united along the curves where they cross; skins buried inside are gone.'
        : 'The skin crossed itself and was cut along the curves where it does; what lay inside is gone.',
    );
  if (buried && some('join').length === 0) told.push('Skins buried inside the body are gone.');
  if (some('wrap').length > 0)
    told.push(
      `${some('wrap').reduce((n, p) => n + p.shells, 0)} ${some('wrap')[0].shells === 1 && some('wrap').length === 1 ? 'shell' : 'shells'} could not be joined and got a new skin at ${Number(wrapOptions.detailMm.toPrecision(3))} mm detail.`,
    );
  if (stitchedShells > 0 && parts.length > 1)
    told.push(
      stitchedShells === 1
        ? 'The other shell stays bit for bit.'
        : `The other ${stitchedShells} shells stay bit for bit.`,
    );
  return { mesh: result, method, parts, after: checked, reason: told.join(' '), refusal };
}

/** Some triangles of a mesh; the mesh itself where that is all of them. */
const partOf = (mesh: TriMesh, triangles: Uint32Array): TriMesh =>
  triangles.length === triangleCount(mesh) ? mesh : subMesh(mesh, triangles);

/** The pairs of one cluster, in its own numbers. */
function pairsWithin(pairs: number[], group: Uint32Array, clusterOf: Uint32Array, cluster: number): Crossings {
  const place = new Map<number, number>();
  const wanted = new Set<number>();
  for (const t of pairs) if (clusterOf[t] === cluster) wanted.add(t);
  group.forEach((t, i) => {
    if (wanted.has(t)) place.set(t, i);
  });
  const out: number[] = [];
  for (let i = 0; i < pairs.length; i += 2)
    if (clusterOf[pairs[i]] === cluster) out.push(place.get(pairs[i])!, place.get(pairs[i + 1])!);
  return { count: out.length / 2, pairs: out };
}

/** More shells than this are not asked, one by one, whether they lie inside others. */
const mostAsked = 20_000;

/** Without the shells that lie wholly inside the body of others, cavities being no such thing. */
function dropBuried(mesh: TriMesh, context: RunContext): TriMesh {
  const { label, count } = shellsOf(mesh);
  if (count < 2 || count > mostAsked) return mesh;
  const best = new Int32Array(count).fill(-1);
  const area = new Float64Array(count);
  const { positions: p, triangles } = mesh;
  for (let t = 0; t < label.length; t++) {
    const a = triangleArea(p, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]);
    if (a > area[label[t]]) {
      area[label[t]] = a;
      best[label[t]] = t;
    }
  }
  const winding = windingOf(mesh);
  const gone = new Uint8Array(count);
  let any = false;
  for (let s = 0; s < count; s++) {
    if ((s & 255) === 0) context.checkCancelled();
    if (best[s] < 0) continue;
    const [x, y, z] = triangleCentre(mesh, best[s]);
    if (Math.round(winding.at(x, y, z, best[s]) - 0.5) >= 1) {
      gone[s] = 1;
      any = true;
    }
  }
  if (!any) return mesh;
  const keep: number[] = [];
  for (let t = 0; t < label.length; t++) if (!gone[label[t]]) keep.push(t);
  return subMesh(mesh, keep);
}

/** Of a heap so many pairs cross, and so many for each triangle. */
const heap = { pairs: 100_000, each: 20 };

/** @throws MeshError `cannot` where triangles lie through one another at random: a skin round them would take hours, and be none */
function noHeap(found: Inspection): Inspection {
  const pairs = found.selfIntersectingPairs ?? 0;
  if (pairs > heap.pairs && pairs > heap.each * found.triangles)
    throw new MeshError(
      'cannot',
      `Of its ${whole(found.triangles)} triangles ${pairsText(pairs)} pairs cross: that is a heap, and the skin of nothing.`,
      'Was it exported whole? Look at it in the program that made it.',
    );
  return found;
}

/** The first thing that keeps a mesh from being a sound solid, in words. */
function wrongWith(i: Inspection): string {
  if (i.openEdges > 0) return countOf(i.openEdges, 'open edge');
  if (i.nonManifoldEdges > 0) return `${countOf(i.nonManifoldEdges, 'edge')} with more than two sheets`;
  if (i.inconsistentEdges > 0) return `${countOf(i.inconsistentEdges, 'edge')} whose sides disagree`;
  if ((i.selfIntersectingPairs ?? 0) > 0)
    return `${pairsText(i.selfIntersectingPairs!)} ${i.selfIntersectingPairs === 1 ? 'pair' : 'pairs'} of crossing triangles`;
  if (i.nonManifoldVertices > 0) return `${countOf(i.nonManifoldVertices, 'point')} where sheets touch`;
  return 'no volume';
}

async function wrapped(
  mesh: TriMesh,
  options: { detailMm: number; growMm: number; gapsMm: number },
  why: string,
  crumbMm: number,
  context: RunContext,
): Promise<Candidate> {
  const raw = await wrapMesh(mesh, options, context);
  // a grid leaves crumbs beside the body where thin tatters pass between its points
  const skin = dropCrumbs(dropFlatShells(weldExact(raw)).mesh, crumbMm).mesh;
  const refusal = begin(context, 'refusal', refusalOf, skin);
  return {
    refusal,
    mesh: skin,
    method: 'wrap',
    parts: [{ method: 'wrap', shells: shellsOf(mesh).count, triangles: triangleCount(mesh) }],
    // wrapping may have tested for crossings already
    after: inspectMesh(skin, { before: raw }, sliceContext(context, 0.9, 1)),
    reason: `${why} A new skin was made at ${Number(options.detailMm.toPrecision(3))} mm detail; finer relief is lost.`,
  };
}
