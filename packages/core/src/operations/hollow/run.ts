import { type HollowParams, type Drain, type HollowReport, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { extractLevel } from '../../field/extractLevel.ts';
import type { Field } from '../../field/FieldBlock.ts';
import { makeSimpler } from '../../repair/makeSimpler.ts';
import { SignedDistance } from '../../field/SignedDistance.ts';
import { Bvh, treeOf, newHit } from '../../mesh/Bvh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { crossingsOf } from '../../mesh/crossings.ts';
import { sampleSurface } from '../../mesh/deviation.ts';
import { groupByLabel, shellsOf } from '../../mesh/edges.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { triangleArea, volumeOf } from '../../mesh/measures.ts';
import { countOf } from '../../words/numbers.ts';
import { MeshError } from '../../run/MeshError.ts';
import { applyMat3, placeMesh, rotationToZ, transpose } from '../../mesh/transform.ts';
import {
  boundsOf,
  concatMeshes,
  diagonalOf,
  flipMesh,
  sizeOf,
  subMesh,
  triangleCount,
  xyz,
  type TriMesh,
  type Vec3,
  countUp,
} from '../../mesh/TriMesh.ts';
import { fromSolid, toSolid, withSolids } from '../../solid/kernel.ts';
import { figures } from '../../trade/figures.ts';
import { trappedVolume } from './trapped.ts';

/** Grid edge that resolves the wall three times, within what memory and time allow. */
function defaultHollowDetail(mesh: TriMesh, wall: number): number {
  const scale = diagonalOf(mesh);
  return Math.min(Math.max(wall / 3, scale / 300), scale / 40);
}

/**
 * Takes the inside out, leaving a wall of even thickness. The outer skin stays bit for bit, but for drains and an
 * open base. The cavity is the level of the exact distance to the skin at the wall's depth.
 */
export const hollow = makeOperation(description, async ([input], params, context) => {
  const back = transpose(rotationToZ(params.up));
  const upright = params.up[0] === 0 && params.up[1] === 0 && params.up[2] > 0;
  const mesh = upright ? input : placeMesh(input, rotationToZ(params.up));
  const before = inspectMesh(mesh, { skipSelfIntersections: true, brief: true });
  if (!before.watertight || !((before.volumeMm3 ?? 0) > 0))
    throw new MeshError(
      'not-solid',
      `The mesh has no inside to take out: ${before.openEdges > 0 ? countOf(before.openEdges, 'open edge') : 'it is not closed and consistent'}.`,
      'Mend it first.',
    );
  const solidVolume = before.volumeMm3!;
  const scale = diagonalOf(mesh);
  const detail = params.detail ?? defaultHollowDetail(mesh, params.wall);
  if (scale / detail > 1400)
    throw new MeshError(
      'too-fine',
      `A detail of ${detail} mm on a model ${scale.toFixed(0)} mm across needs more memory than there is.`,
      `Try ${(scale / 700).toPrecision(2)} mm or more.`,
      'detail',
    );
  const floor = boundsOf(mesh).min[2];
  const base = params.openBase ? flatBase(mesh, floor, scale) : null;
  const field = wallField(mesh, params.wall, base, floor, context);
  const box = boundsOf(mesh);
  const grid = base ? { min: [box.min[0], box.min[1], floor - 3 * detail] as Vec3, max: box.max } : box;
  let cavity = extractLevel(field, grid, detail, sliceContext(context, 0, 0.6));
  if (cavity.triangles.length === 0)
    throw new MeshError(
      'cannot',
      `Nothing of the model is thicker than twice the wall of ${params.wall} mm, so there is no cavity.`,
      'Give a thinner wall, or print it solid.',
      'wall',
    );
  cavity = await makeSimpler(cavity, detail / 24, sliceContext(context, 0.6, 0.7));
  const pieces = shellsIn(cavity).filter((piece) => Math.abs(volumeOf(piece)) > (2 * detail) ** 3);
  const cavities = pieces.filter((p) => volumeOf(p) > 0);
  if (cavities.length === 0)
    throw new MeshError(
      'cannot',
      `Only pockets smaller than ${(2 * detail).toFixed(1)} mm would be left inside a wall of ${params.wall} mm.`,
      'Give a thinner wall, or print it solid.',
      'wall',
    );
  if (params.drains > 0) {
    const widest = Math.max(...cavities.map((c) => Math.min(...sizeOf(boundsOf(c)).slice(0, 2))));
    if (params.drain >= widest)
      throw new MeshError(
        'cannot',
        `A drain of ${params.drain} mm is as wide as the cavity that it is for: ${widest.toFixed(1)} mm.`,
        'Give a narrower drain, or none.',
        'drain',
      );
  }
  cavity = concatMeshes(pieces);
  context.progress(0.72, 'Measuring the wall');
  const wall = wallFigures(mesh, cavity, base, context);
  const drilled: { drains: Drain[]; tools: Tool[] }[] = cavities.map((c) =>
    drill(mesh, c, params, base !== null, context),
  );
  let trapped = 0;
  cavities.forEach((c, i) => {
    context.checkCancelled();
    context.progress(0.78 + (0.1 * i) / cavities.length, 'Letting the liquid run out');
    const exits = drilled[i].drains.map((d) => ({ at: [d.at.x, d.at.y, d.at.z] as Vec3, radius: d.diameterMm / 2 }));
    if (base && boundsOf(c).min[2] < floor) return;
    trapped += exits.length === 0 ? volumeOf(c) : trappedVolume(c, exits);
  });
  const tools = drilled.flatMap((d) => d.tools);
  const { shell, plugs } = await assemble(mesh, cavity, tools, base !== null, params, context);
  const turnBack = (m: TriMesh) => (upright ? m : placeMesh(m, back));
  const volume = volumeOf(shell);
  return {
    outputs: [turnBack(shell), ...plugs.map(turnBack)],
    report: {
      wall,
      cavities: cavities.map((c, i) => ({
        volumeMm3: volumeOf(c),
        drains: drilled[i].drains.map((d) => ({ ...d, at: xyz(applyMat3(back, [d.at.x, d.at.y, d.at.z])) })),
      })),
      solidVolumeMm3: solidVolume,
      volumeMm3: volume,
      savedPct: 100 * (1 - volume / solidVolume),
      trappedMm3: trapped,
      detailMm: detail,
      plugs: plugs.length,
    },
  };
});

/** Triangles that are not part of the flat underside. */
function flatBase(mesh: TriMesh, floor: number, scale: number): Uint32Array {
  const { positions: p, triangles } = mesh;
  const keep: number[] = [];
  let area = 0;
  for (let t = 0; t < triangleCount(mesh); t++) {
    const flat = [0, 1, 2].every((k) => p[3 * triangles[3 * t + k] + 2] - floor < 1e-5 * scale);
    if (flat) area += triangleArea(p, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]);
    else keep.push(t);
  }
  if (area < 1e-3 * scale * scale)
    throw new MeshError(
      'cannot',
      `The underside is not flat: only ${area.toFixed(1)} mm² of it lies on the bed, so it cannot be opened.`,
      'Cut a flat foot first, or hollow with drains instead.',
      'openBase',
    );
  return Uint32Array.from(keep);
}

function wallField(mesh: TriMesh, wall: number, base: Uint32Array | null, floor: number, context: RunContext): Field {
  const distance = new SignedDistance(mesh, base ?? undefined);
  const { pairs } = crossingsOf(mesh, context);
  if (pairs.length > 0 || shellsOf(mesh).count > 1) {
    const crossed = new Uint8Array(triangleCount(mesh));
    for (const t of pairs) crossed[t] = 1;
    distance.noteCrossed(crossed);
  }
  const lift = base ? 1e-4 * diagonalOf(mesh) : 0;
  // below an open base the section at the base goes on downwards
  const clamp = (z: number) => (base ? Math.max(z, floor + lift) : z);
  return {
    distance: (x, y, z, limit) => distance.distance(x, y, clamp(z), limit),
    inside: (x, y, z) => distance.insideByNearest(x, y, clamp(z)),
    depth: wall,
    closed: true,
  };
}

function shellsIn(mesh: TriMesh): TriMesh[] {
  const shells = shellsOf(mesh);
  return groupByLabel(shells.label, shells.count).map((g) => subMesh(mesh, g));
}

function wallFigures(
  mesh: TriMesh,
  cavity: TriMesh,
  base: Uint32Array | null,
  context: RunContext,
): HollowReport['wall'] {
  const tree = new Bvh(mesh, base ?? undefined);
  const hit = newHit();
  const floor = boundsOf(mesh).min[2];
  const { points } = sampleSurface(cavity, 20_000, context.seed);
  const found: number[] = [];
  const take = (x: number, y: number, z: number) => {
    if (!base || z > floor) found.push(tree.nearest(x, y, z, Infinity, hit).distance);
  };
  for (let i = 0; i < points.length; i += 3) take(points[i], points[i + 1], points[i + 2]);
  found.sort((a, b) => a - b);
  let least = found[0] ?? 0;
  const p = cavity.positions;
  for (let i = 0; i < p.length; i += 3)
    if (!base || p[i + 2] > floor)
      least = Math.min(least, tree.nearest(p[i], p[i + 1], p[i + 2], Infinity, hit).distance);
  return { minMm: least, p05Mm: found[Math.floor(0.05 * found.length)] ?? 0, medianMm: found[found.length >> 1] ?? 0 };
}

/** A hole straight down from a cavity through the skin. */
interface Tool {
  x: number;
  y: number;
  top: number;
  bottom: number;
  /** where the skin begins and ends along the hole, for the plug */
  skinTop: number;
  skinBottom: number;
}

/**
 * Chooses drains: the lowest point of the cavity first, then the lowest places well apart from those chosen, because
 * one hole lets liquid out and another lets air in.
 */
function drill(
  mesh: TriMesh,
  cavity: TriMesh,
  params: HollowParams,
  open: boolean,
  context: RunContext,
): { drains: Drain[]; tools: Tool[] } {
  if (params.drains === 0) return { drains: [], tools: [] };
  const box = boundsOf(cavity);
  if (open && box.min[2] < boundsOf(mesh).min[2]) return { drains: [], tools: [] };
  context.checkCancelled();
  const tree = treeOf(mesh);
  const p = cavity.positions;
  const order = countUp(p.length / 3).sort((a, b) => p[3 * a + 2] - p[3 * b + 2] || a - b);
  const drains: Drain[] = [];
  const tools: Tool[] = [];
  const d = params.drain;
  let apart = Math.max(2 * d, Math.hypot(box.max[0] - box.min[0], box.max[1] - box.min[1]) / 2);
  while (drains.length < params.drains) {
    const highest = drains.length === 0 ? Infinity : box.min[2] + Math.max(0.3 * (box.max[2] - box.min[2]), 2 * d);
    let found = -1;
    for (const v of order) {
      const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
      if (z > highest) break;
      if (drains.every((q) => Math.hypot(q.at.x - x, q.at.y - y) >= apart)) {
        found = v;
        break;
      }
    }
    if (found < 0) {
      if (apart <= 1.5 * d) break;
      apart = Math.max(1.5 * d, apart / 1.6);
      continue;
    }
    const [x, y, z] = [p[3 * found], p[3 * found + 1], p[3 * found + 2]];
    const skinBottom = z - Math.min(tree.firstHit([x, y, z], [0, 0, -1], 1e-5), z - boundsOf(mesh).min[2]);
    drains.push({ at: { x, y, z }, diameterMm: d });
    tools.push({ x, y, top: z + d, bottom: skinBottom - d, skinTop: z, skinBottom });
  }
  return { drains, tools };
}

async function assemble(
  mesh: TriMesh,
  cavity: TriMesh,
  tools: Tool[],
  open: boolean,
  params: HollowParams,
  context: RunContext,
): Promise<{ shell: TriMesh; plugs: TriMesh[] }> {
  // with neither drains nor an open base nothing is cut: the cavity goes in, and the skin stays bit for bit
  if (tools.length === 0 && !open) return { shell: concatMeshes([mesh, flipMesh(cavity)]), plugs: [] };
  return withSolids((kernel, keep) => {
    context.progress(0.9, tools.length > 0 ? 'Drilling drains' : 'Opening the base');
    let solid = open
      ? keep(keep(toSolid(kernel, mesh)).subtract(keep(toSolid(kernel, cavity))))
      : keep(toSolid(kernel, concatMeshes([mesh, flipMesh(cavity)])));
    const r = params.drain / 2;
    const holes = tools.map((t) =>
      keep(keep(kernel.Manifold.cylinder(t.top - t.bottom, r, r, 32)).translate([t.x, t.y, t.bottom])),
    );
    if (holes.length > 0) solid = keep(solid.subtract(keep(kernel.Manifold.union(holes))));
    const fit = r - figures.plugClearanceMm.value;
    const plugs =
      params.plugs && fit > 0
        ? tools.map((t) =>
            fromSolid(
              keep(
                keep(kernel.Manifold.cylinder(t.skinTop - t.skinBottom, fit, fit * 0.97, 32)).translate([
                  t.x,
                  t.y,
                  t.skinBottom,
                ]),
              ),
            ),
          )
        : [];
    // slivers that a hole leaves where it just grazes the skin are dust, not parts
    const lumps = solid.decompose().map(keep);
    const dust = 1e-7 * solid.volume();
    const kept = lumps.filter((l) => Math.abs(l.volume()) > dust);
    return { shell: kept.length === lumps.length ? fromSolid(solid) : concatMeshes(kept.map(fromSolid)), plugs };
  });
}
