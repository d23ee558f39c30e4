import { sliceContext, type RunContext } from '../../run/context.ts';
import { boxesByLabel, diagonalOfLabel, OPEN, originOf, shellsOf, targetOf, twinsOf } from '../../mesh/edges.ts';
import { triangleArea } from '../../mesh/measures.ts';
import { meshesByLabel, shellMeasures } from '../../mesh/shells.ts';
import { diagonalOf, subMesh, triangleCount, vertexCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { UnionFind } from '../../mesh/UnionFind.ts';
import { weldExact, weldWithin } from '../../mesh/weld.ts';
import { liesInside } from '../../repair/bodiesOf.ts';
import { settleDuplicates } from '../../repair/duplicates.ts';
import { fillHoles } from '../../repair/fillHoles.ts';
import { makeConsistent } from '../../repair/orient.ts';
import { separateSheets } from '../../repair/separateSheets.ts';
import { zipSeams } from '../../repair/zipSeams.ts';

export interface StitchOptions {
  /** shells smaller than this across are dropped, mm, and so are sheets; 0 keeps all */
  crumbMm: number;
  /** loops longer than this stay open, mm */
  fillLimitMm: number;
  /** is a loop, given by its half-edges, to be closed? All are, if left out */
  wanted?: (mesh: TriMesh, loop: Uint32Array) => boolean;
  /** how far apart open edges may lie and still be joined, mm */
  toleranceMm: number;
  /** patches of least area, drawn tight over the rim, rather than such as follow the surface */
  taut?: boolean;
}

/** What stitching did, in counts a maker can check. */
export interface StitchCounts {
  duplicatesDropped: number;
  verticesJoined: number;
  /** triangles divided because the other side of a seam had more corners */
  seamsZipped: number;
  edgesCutApart: number;
  trianglesTurned: number;
  shellsTurned: number;
  crumbsDropped: number;
  /** open sheets that enclose next to nothing when closed, such as the ground of a scan */
  sheetsDropped: number;
  holesFilled: number;
  holesLeft: number;
  /** patches that were bent to follow the surface; the others are flat or over three corners */
  patchesFollowing: number;
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
    seamsZipped: 0,
    edgesCutApart: 0,
    trianglesTurned: 0,
    shellsTurned: 0,
    crumbsDropped: 0,
    sheetsDropped: 0,
    holesFilled: 0,
    holesLeft: 0,
    patchesFollowing: 0,
    patchAreaMm2: 0,
  };
  context.progress(0, 'Joining open edges');
  let mesh = dropCollapsed(weldExact(source));
  const scale = diagonalOf(mesh);
  const single = settleDuplicates(mesh);
  counts.duplicatesDropped = single.dropped;
  mesh = single.mesh;
  const joined = weldWithin(mesh, options.toleranceMm, openVertices(mesh));
  if (joined.joined > 0) {
    mesh = settleDuplicates(joined.mesh).mesh;
    counts.verticesJoined = joined.joined;
  }
  for (let round = 0; round < 3; round++) {
    const zipped = zipSeams(mesh, options.toleranceMm);
    if (zipped.divided === 0) break;
    mesh = zipped.mesh;
    counts.seamsZipped += zipped.divided;
  }
  context.checkCancelled();
  context.progress(0.2, 'Turning triangles to face one way');
  const oriented = makeConsistent(mesh);
  counts.trianglesTurned = oriented.turned;
  const separated = separateSheets(oriented.mesh, 2e-5 * scale);
  counts.edgesCutApart = separated.cutEdges;
  mesh = separated.mesh;
  context.checkCancelled();
  if (options.crumbMm > 0) {
    const kept = dropCrumbs(mesh, options.crumbMm);
    counts.crumbsDropped = kept.dropped;
    mesh = kept.mesh;
  }
  context.progress(0.4, 'Closing holes');
  const fill = { limitMm: options.fillLimitMm, follow: options.taut !== true, wanted: options.wanted };
  let filled = fillHoles(mesh, fill, sliceContext(context, 0.4, 0.85));
  if (options.crumbMm > 0 && filled.filled > 0) {
    const sheets = trianglesOfSheets(filled.mesh, triangleCount(mesh));
    if (sheets.count > 0) {
      counts.sheetsDropped = sheets.count;
      mesh = subMesh(mesh, indicesWhere(sheets.flags.subarray(0, triangleCount(mesh)), 0));
      filled = fillHoles(mesh, fill, sliceContext(context, 0.4, 0.85));
    }
  }
  counts.holesFilled = filled.filled;
  counts.holesLeft = filled.left;
  counts.patchesFollowing = filled.followed;
  counts.patchAreaMm2 = filled.patchAreaMm2;
  context.progress(0.85, 'Turning shells right side out');
  const turned = turnShells(filled.mesh);
  counts.shellsTurned = turned.turned;
  return { mesh: weldExact(turned.mesh), kept: mesh, counts };
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
  const twin = twinsOf(mesh);
  const flags = new Uint8Array(vertexCount(mesh));
  for (let h = 0; h < twin.length; h++)
    if (twin[h] === OPEN) {
      flags[originOf(mesh, h)] = 1;
      flags[targetOf(mesh, h)] = 1;
    }
  return flags;
}

/** Drops pieces, connected through corners at least, that are smaller than `limitMm` across, but never the last one. */
export function dropCrumbs(mesh: TriMesh, limitMm: number): { mesh: TriMesh; dropped: number } {
  const shells = piecesOf(mesh);
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

/** Labels of triangles that hang together, if only by a corner: tatters of one skin. */
function piecesOf(mesh: TriMesh): { label: Uint32Array; count: number } {
  const { triangles } = mesh;
  const sets = new UnionFind(triangles.length / 3);
  const first = new Int32Array(vertexCount(mesh)).fill(-1);
  for (let h = 0; h < triangles.length; h++) {
    const t = (h / 3) | 0;
    if (first[triangles[h]] < 0) first[triangles[h]] = t;
    else sets.union(first[triangles[h]], t);
  }
  return sets.labels();
}

/** A shell with less volume for its skin than this counts as a sheet; a plate a fortieth as thick as wide has 0.003 (closed form). */
const sheetShare = 0.003;
/** Of a sheet that was closed about half is patch: one with this share, and small beside the rest, is no body either. */
const patchShare = 0.42;
const smallShare = 0.05;

/**
 * Shells that were open and enclose next to nothing once closed, unless every shell is one.
 *
 * @param old triangles before this one were there before holes were filled
 */
function trianglesOfSheets(mesh: TriMesh, old: number): { flags: Uint8Array; count: number } {
  const { label, count } = shellsOf(mesh);
  const patched = new Uint8Array(count);
  const patchArea = new Float64Array(count);
  const { positions: p, triangles: f } = mesh;
  for (let t = old; t < label.length; t++) {
    patched[label[t]] = 1;
    patchArea[label[t]] += triangleArea(p, f[3 * t], f[3 * t + 1], f[3 * t + 2]);
  }
  const { volume, area } = shellMeasures(mesh);
  const largest = area.reduce((a, b) => Math.max(a, b), 0);
  let sheets = 0;
  for (let s = 0; s < count; s++) {
    const thin = Math.abs(volume[s]) < sheetShare * area[s] ** 1.5;
    const scrap = patchArea[s] > patchShare * area[s] && area[s] < smallShare * largest;
    if (!thin && !scrap) patched[s] = 0;
    sheets += patched[s];
  }
  const flags = new Uint8Array(label.length);
  if (sheets === count) return { flags, count: 0 };
  for (let t = 0; t < label.length; t++) flags[t] = patched[label[t]];
  return { flags, count: sheets };
}

/** Only this many of the largest shells are asked whether a shell that faces in lies inside them. */
const mostHomes = 400;

/**
 * Shells turned by volume and nesting: a shell that faces in and lies inside another that faces out is a cavity and
 * stays; any other that faces in is inside out and is turned.
 */
function turnShells(mesh: TriMesh): { mesh: TriMesh; turned: number } {
  const { label, count } = shellsOf(mesh);
  const { volume, boxes } = shellMeasures(mesh);
  if (volume.every((v) => v >= 0)) return { mesh, turned: 0 };
  const large = Array.from(volume.keys())
    .sort((a, b) => Math.abs(volume[b]) - Math.abs(volume[a]) || a - b)
    .slice(0, mostHomes);
  const wanted = new Uint8Array(count);
  for (const s of large) wanted[s] = 1;
  for (let s = 0; s < count; s++) if (volume[s] < 0) wanted[s] = 1;
  const parts = meshesByLabel(mesh, label, count, wanted);
  const turn = new Uint8Array(count);
  let turned = 0;
  for (let i = 0; i < count; i++) {
    if (volume[i] >= 0) continue;
    let around = 0;
    for (const j of large) {
      if (Math.abs(volume[j]) <= Math.abs(volume[i])) break;
      if (![0, 1, 2].every((k) => boxes[6 * j + k] <= boxes[6 * i + k] && boxes[6 * j + 3 + k] >= boxes[6 * i + 3 + k]))
        continue;
      if (liesInside(parts[i]!, parts[j]!)) around++;
    }
    if (around % 2 === 0) {
      turn[i] = 1;
      turned++;
    }
  }
  if (turned === 0) return { mesh, turned };
  const triangles = mesh.triangles.slice();
  for (let t = 0; t < label.length; t++)
    if (turn[label[t]]) {
      triangles[3 * t + 1] = mesh.triangles[3 * t + 2];
      triangles[3 * t + 2] = mesh.triangles[3 * t + 1];
    }
  return { mesh: { positions: mesh.positions, triangles }, turned };
}

/** The mesh without shells so small that only rounding can have made them. */
export function dropDust(mesh: TriMesh): TriMesh {
  const { label, count } = shellsOf(mesh);
  if (count < 2) return mesh;
  const { volume } = shellMeasures(mesh);
  let largest = 0;
  for (const v of volume) largest = Math.max(largest, Math.abs(v));
  const keep: number[] = [];
  for (let t = 0; t < label.length; t++) if (Math.abs(volume[label[t]]) > 1e-5 * largest) keep.push(t);
  return keep.length === label.length || keep.length === 0 ? mesh : subMesh(mesh, keep);
}
