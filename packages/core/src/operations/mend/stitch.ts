import { sliceContext, type RunContext } from '../../mesh/context.ts';
import {
  boxesByLabel,
  buildEdges,
  diagonalOfLabel,
  groupByLabel,
  OPEN,
  originOf,
  shellsOf,
  targetOf,
  twinsOf,
} from '../../mesh/edges.ts';
import { findDuplicates, crumbShare } from '../../mesh/inspect.ts';
import { areaOf, volumeOf } from '../../mesh/measures.ts';
import {
  concatMeshes,
  diagonalOf,
  flipMesh,
  subMesh,
  triangleCount,
  vertexCount,
  type TriMesh,
} from '../../mesh/TriMesh.ts';
import { weldExact, weldWithin } from '../../mesh/weld.ts';
import { WindingTree } from '../../mesh/WindingTree.ts';
import { fillHoles } from '../../repair/fillHoles.ts';
import { makeConsistent } from '../../repair/orient.ts';
import { separateSheets } from '../../repair/separateSheets.ts';

export interface StitchOptions {
  keepCrumbs: boolean;
  /** loops longer than this stay open, mm */
  fillLimitMm: number;
  /** how far apart open edges may lie and still be joined, mm */
  toleranceMm: number;
}

/** What stitching did, in counts a maker can check. */
export interface StitchCounts {
  duplicatesDropped: number;
  verticesJoined: number;
  edgesCutApart: number;
  trianglesTurned: number;
  shellsTurned: number;
  crumbsDropped: number;
  /** open sheets that enclose next to nothing when closed, such as the ground of a scan */
  sheetsDropped: number;
  holesFilled: number;
  holesLeft: number;
  patchAreaMm2: number;
}

/**
 * Closes and orients a mesh while keeping every good triangle bit for bit: drops collapsed and duplicate triangles,
 * joins open edges within a tolerance, cuts non-manifold places apart, makes neighbours agree, drops crumbs, fills
 * holes, and turns shells right side out.
 *
 * @returns the closed mesh; `kept` is what of the source went into it, before holes were filled
 */
export function stitch(
  source: TriMesh,
  options: StitchOptions,
  context: RunContext,
): { mesh: TriMesh; kept: TriMesh; counts: StitchCounts } {
  const counts: StitchCounts = {
    duplicatesDropped: 0,
    verticesJoined: 0,
    edgesCutApart: 0,
    trianglesTurned: 0,
    shellsTurned: 0,
    crumbsDropped: 0,
    sheetsDropped: 0,
    holesFilled: 0,
    holesLeft: 0,
    patchAreaMm2: 0,
  };
  context.progress(0, 'Joining open edges');
  let mesh = dropCollapsed(weldExact(source));
  const scale = diagonalOf(mesh);
  const duplicates = findDuplicates(mesh);
  if (duplicates.count > 0) {
    counts.duplicatesDropped = duplicates.count;
    mesh = subMesh(mesh, indicesWhere(duplicates.flags, 0));
  }
  const joined = weldWithin(mesh, options.toleranceMm, openVertices(mesh));
  if (joined.joined > 0) {
    const after = findDuplicates(joined.mesh);
    mesh = after.count > 0 ? subMesh(joined.mesh, indicesWhere(after.flags, 0)) : joined.mesh;
    counts.verticesJoined = joined.joined;
  }
  context.checkCancelled();
  context.progress(0.2, 'Turning triangles to face one way');
  const oriented = makeConsistent(mesh, buildEdges(mesh));
  counts.trianglesTurned = oriented.turned;
  const separated = separateSheets(oriented.mesh, 2e-5 * scale);
  counts.edgesCutApart = separated.cutEdges;
  mesh = separated.mesh;
  context.checkCancelled();
  if (!options.keepCrumbs) {
    const kept = dropCrumbs(mesh, crumbShare * scale);
    counts.crumbsDropped = kept.dropped;
    mesh = kept.mesh;
  }
  context.progress(0.4, 'Closing holes');
  let filled = fillHoles(mesh, options.fillLimitMm, sliceContext(context, 0.4, 0.85));
  if (!options.keepCrumbs && filled.filled > 0) {
    const sheets = trianglesOfSheets(filled.mesh, triangleCount(mesh));
    if (sheets.count > 0) {
      counts.sheetsDropped = sheets.count;
      mesh = subMesh(mesh, indicesWhere(sheets.flags.subarray(0, triangleCount(mesh)), 0));
      filled = fillHoles(mesh, options.fillLimitMm, sliceContext(context, 0.4, 0.85));
    }
  }
  counts.holesFilled = filled.filled;
  counts.holesLeft = filled.left;
  counts.patchAreaMm2 = filled.patchAreaMm2;
  context.progress(0.85, 'Turning shells right side out');
  const turned = turnShells(filled.mesh);
  counts.shellsTurned = turned.turned;
  return { mesh: weldUnused(turned.mesh), kept: mesh, counts };
}

function indicesWhere(flags: Uint8Array, value: number): Uint32Array {
  const out: number[] = [];
  for (let i = 0; i < flags.length; i++) if (flags[i] === value) out.push(i);
  return Uint32Array.from(out);
}

/** Without the triangles that have two corners on one vertex. */
export function dropCollapsed(mesh: TriMesh): TriMesh {
  const { triangles: t } = mesh;
  let live = 0;
  for (let i = 0; i < t.length; i += 3) if (t[i] !== t[i + 1] && t[i + 1] !== t[i + 2] && t[i + 2] !== t[i]) live++;
  if (live * 3 === t.length) return mesh;
  const keep = new Uint32Array(live);
  let n = 0;
  for (let i = 0; i < t.length; i += 3)
    if (t[i] !== t[i + 1] && t[i + 1] !== t[i + 2] && t[i + 2] !== t[i]) keep[n++] = i / 3;
  return subMesh(mesh, keep);
}

function openVertices(mesh: TriMesh): Uint8Array {
  const twin = twinsOf(mesh, buildEdges(mesh));
  const flags = new Uint8Array(vertexCount(mesh));
  for (let h = 0; h < twin.length; h++)
    if (twin[h] === OPEN) {
      flags[originOf(mesh, h)] = 1;
      flags[targetOf(mesh, h)] = 1;
    }
  return flags;
}

/** Drops shells smaller than `limitMm` across, but never the last one. */
export function dropCrumbs(mesh: TriMesh, limitMm: number): { mesh: TriMesh; dropped: number } {
  const shells = shellsOf(mesh, buildEdges(mesh));
  const boxes = boxesByLabel(mesh, shells.label, shells.count);
  const drop = new Uint8Array(shells.count);
  let dropped = 0;
  for (let s = 0; s < shells.count; s++)
    if (diagonalOfLabel(boxes, s) < limitMm) {
      drop[s] = 1;
      dropped++;
    }
  if (dropped === 0 || dropped === shells.count) return { mesh, dropped: 0 };
  const keep: number[] = [];
  for (let t = 0; t < triangleCount(mesh); t++) if (!drop[shells.label[t]]) keep.push(t);
  return { mesh: subMesh(mesh, keep), dropped };
}

/** A shell with less volume for its skin than this counts as a sheet; a plate a fortieth as thick as wide has 0.003 (closed form). */
const sheetShare = 0.003;

/**
 * Shells that were open and enclose next to nothing once closed, unless every shell is one.
 *
 * @param old triangles before this one were there before holes were filled
 */
function trianglesOfSheets(mesh: TriMesh, old: number): { flags: Uint8Array; count: number } {
  const { label, count } = shellsOf(mesh, buildEdges(mesh));
  const patched = new Uint8Array(count);
  for (let t = old; t < label.length; t++) patched[label[t]] = 1;
  const flags = new Uint8Array(label.length);
  let sheets = 0;
  groupByLabel(label, count).forEach((group, s) => {
    if (!patched[s]) return;
    const shell = subMesh(mesh, group);
    if (Math.abs(volumeOf(shell)) >= sheetShare * areaOf(shell) ** 1.5) return;
    sheets++;
    for (const t of group) flags[t] = 1;
  });
  return sheets === count ? { flags: new Uint8Array(label.length), count: 0 } : { flags, count: sheets };
}

/**
 * Shells turned by volume and nesting: a shell that faces in and lies inside another that faces out is a cavity and
 * stays; any other that faces in is inside out and is turned.
 */
export function turnShells(mesh: TriMesh): { mesh: TriMesh; turned: number } {
  const shells = shellsOf(mesh, buildEdges(mesh));
  const parts = groupByLabel(shells.label, shells.count).map((g) => subMesh(mesh, g));
  const volumes = parts.map(volumeOf);
  const negative = volumes.map((v, i) => (v < 0 ? i : -1)).filter((i) => i >= 0);
  if (negative.length === 0) return { mesh, turned: 0 };
  const outward = parts.map((part, i) => (volumes[i] < 0 ? flipMesh(part) : part));
  const trees = new Map<number, WindingTree>();
  let turned = 0;
  const out = parts.slice();
  for (const i of negative) {
    let around = 0;
    for (let j = 0; j < parts.length; j++) {
      if (j === i || Math.abs(volumes[j]) <= Math.abs(volumes[i])) continue;
      let tree = trees.get(j);
      if (!tree) trees.set(j, (tree = WindingTree.of(outward[j])));
      if (liesInside(parts[i], tree)) around++;
    }
    if (around % 2 === 0) {
      out[i] = outward[i];
      turned++;
    }
  }
  return turned === 0 ? { mesh, turned } : { mesh: concatMeshes(out), turned };
}

/** Is all of a shell inside another? Looked at in up to 60 of its corners: a shell that merely overlaps sticks out somewhere. */
export function liesInside(shell: TriMesh, other: WindingTree): boolean {
  const p = shell.positions;
  const stride = 3 * Math.max(1, Math.floor(p.length / 3 / 60));
  for (let i = 0; i < p.length; i += stride) if (other.at(p[i], p[i + 1], p[i + 2]) < 0.5) return false;
  return true;
}

/** The mesh without shells so small that only rounding can have made them. */
export function dropDust(mesh: TriMesh): TriMesh {
  const shells = shellsOf(mesh, buildEdges(mesh));
  if (shells.count === 1) return mesh;
  const parts = groupByLabel(shells.label, shells.count).map((g) => subMesh(mesh, g));
  const volumes = parts.map((p) => Math.abs(volumeOf(p)));
  const limit = 1e-5 * Math.max(...volumes);
  return volumes.every((v) => v > limit) ? mesh : concatMeshes(parts.filter((_, i) => volumes[i] > limit));
}

/** The mesh without vertices that no triangle uses. */
function weldUnused(mesh: TriMesh): TriMesh {
  const used = new Uint8Array(vertexCount(mesh));
  for (const v of mesh.triangles) used[v] = 1;
  if (!used.includes(0)) return mesh;
  return subMesh(
    mesh,
    Uint32Array.from({ length: triangleCount(mesh) }, (_, t) => t),
  );
}
