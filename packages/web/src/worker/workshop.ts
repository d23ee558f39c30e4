import { weldExact } from '@jasmorphe/core/mesh/weld';
import { transfer } from 'comlink';
import earcut from 'earcut';
import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { measureOn, type Measurement } from '@jasmorphe/core/measuring/measure';
import type { MeasureKind } from '@jasmorphe/core/measuring/measureKinds';
import { Bvh, newHit, treeOf, type NearestHit } from '@jasmorphe/core/mesh/Bvh';
import { quietContext } from '@jasmorphe/core/run/context';
import { oncePerMesh } from '@jasmorphe/core/mesh/oncePerMesh';
import { OPEN, twinsOf } from '@jasmorphe/core/mesh/edges';
import { triangleCentre, triangleNormal } from '@jasmorphe/core/mesh/measures';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { WallProbe } from '@jasmorphe/core/mesh/thickness';
import { dot, scaleMesh } from '@jasmorphe/core/mesh/transform';
import { boundsOf, triangleCount, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { insideSkin } from '@jasmorphe/core/worn/insideSkin';
import { WornBody } from '@jasmorphe/core/worn/WornBody';
import type { Placement } from '@jasmorphe/core/worn/Placement';
import { naturalPlanes, type NaturalPlane } from '@jasmorphe/core/planning/cuts/naturalPlanes';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { creaseLoops, type CreaseLoop } from '@jasmorphe/core/planning/cuts/creaseLoops';
import { mirrorsOf, type Mirror } from '@jasmorphe/core/planning/cuts/symmetry';
import { seamLines } from '@jasmorphe/core/planning/cuts/seamLines';
import { regionsOf } from '@jasmorphe/core/section/regions';
import { Slicer } from '@jasmorphe/core/section/Slicer';
import { hrefOf } from '../app/addresses.ts';

/** A cut through the full mesh at right angles to an axis. */
export interface CutView {
  /** triangles of the cut face, x, y, z per corner */
  face: Float32Array;
  /** outlines, x, y, z per end, two ends a segment */
  lines: Float32Array;
  areaMm2: number;
  regions: number;
  at: number;
  tookMs: number;
}

/** How far each vertex of a drawn skin lies from another skin, mm. */
export interface DistanceView {
  distances: Float32Array;
  maxMm: number;
  meanMm: number;
  /** all but one in a hundred are nearer */
  p99Mm: number;
}

/** Meshes that were asked about last, by their hashes, fetched once each: every question names the one that it is about. */
const meshes = new Map<string, Promise<TriMesh>>();
const mostMeshes = 4;

const fetchMesh = async (wanted: string): Promise<TriMesh> => {
  const response = await fetch(hrefOf('GET /meshes/{hash}', { hash: wanted }));
  if (!response.ok) throw new Error(`mesh ${wanted.slice(0, 8)} cannot be loaded`);
  return fromCanonical(new Uint8Array(await response.arrayBuffer()));
};

function kept(wanted: string): Promise<TriMesh> {
  const found = meshes.get(wanted) ?? fetchMesh(wanted);
  // the last asked for goes last
  meshes.delete(wanted);
  meshes.set(wanted, found);
  // one that did not come is asked for again, unless that was done already
  found.catch(() => meshes.get(wanted) === found && meshes.delete(wanted));
  if (meshes.size > mostMeshes) meshes.delete(meshes.keys().next().value!);
  return found;
}

/** The mesh with its axes exchanged in a circle, so that axis k stands where z was; a rotation, so it stays right side out. */
function alongZ(source: TriMesh, k: number): TriMesh {
  if (k === 2) return source;
  const positions = new Float32Array(source.positions.length);
  for (let i = 0; i < positions.length; i += 3)
    for (let r = 0; r < 3; r++) positions[i + r] = source.positions[i + ((k + 1 + r) % 3)];
  return { positions, triangles: source.triangles };
}

/** What cuts a mesh across each axis. */
const slicers = [0, 1, 2].map((k) => oncePerMesh((mesh) => new Slicer(alongZ(mesh, k))));

/** A piece with the inside that faces a body; the last one is kept, because maps are asked for again and again. */
let inside: { key: string; tree: Bvh; normalSide: (hit: NearestHit, p: Vec3) => number } | null = null;

/** What is asked about meshes at full size, off the page's own thread. */
export const workshop = {
  /** Fetches the full mesh once; figures come from it, never from the display mesh. */
  async load(wanted: string): Promise<{ triangles: number }> {
    return { triangles: triangleCount(await kept(wanted)) };
  },

  async cut(wanted: string, axis: 0 | 1 | 2, share: number): Promise<CutView> {
    const full = await kept(wanted);
    const started = performance.now();
    const slicer = slicers[axis](full);
    const { min, max } = boundsOf(slicer.mesh);
    // a cut exactly in a flat end would be nothing but rounding
    const at = min[2] + Math.min(0.9995, Math.max(0.0005, share)) * (max[2] - min[2]);
    const section = slicer.at(at);
    const face: number[] = [];
    const lines: number[] = [];
    const put = (out: number[], x: number, y: number) => {
      const p = [0, 0, 0];
      p[(axis + 1) % 3] = x;
      p[(axis + 2) % 3] = y;
      p[axis] = at;
      out.push(p[0], p[1], p[2]);
    };
    for (const { points, closed } of section.contours) {
      const n = points.length / 2;
      for (let i = 0; i + (closed ? 0 : 1) < n; i++) {
        const j = (i + 1) % n;
        put(lines, points[2 * i], points[2 * i + 1]);
        put(lines, points[2 * j], points[2 * j + 1]);
      }
    }
    const regions = regionsOf(section);
    for (const { outer, holes } of regions) {
      const flat: number[] = [];
      const starts: number[] = [];
      for (const c of [outer, ...holes]) {
        if (flat.length > 0) starts.push(flat.length / 2);
        for (const v of c.points) flat.push(v);
      }
      for (const i of earcut(flat, starts)) put(face, flat[2 * i], flat[2 * i + 1]);
    }
    const view: CutView = {
      face: Float32Array.from(face),
      lines: Float32Array.from(lines),
      areaMm2: section.areaMm2,
      regions: regions.length,
      at,
      tookMs: performance.now() - started,
    };
    return transfer(view, [view.face.buffer, view.lines.buffer]);
  },

  /** Distances from points, x, y, z each, to the full skin of a mesh. */
  async distances(points: Float32Array, to: string): Promise<DistanceView> {
    const tree = treeOf(await kept(to));
    const distances = new Float32Array(points.length / 3);
    const hit = newHit();
    let maxMm = 0;
    let sum = 0;
    for (let v = 0; v < distances.length; v++) {
      const d = tree.nearest(points[3 * v], points[3 * v + 1], points[3 * v + 2], Infinity, hit).distance;
      distances[v] = d;
      sum += d;
      if (d > maxMm) maxMm = d;
    }
    const sorted = distances.slice().sort();
    const p99Mm = sorted.length > 0 ? sorted[Math.floor(0.99 * (sorted.length - 1))] : 0;
    return transfer({ distances, maxMm, p99Mm, meanMm: sum / Math.max(1, distances.length) }, [distances.buffer]);
  },

  /** Length between points picked on the drawn mesh, which are put on the full one first. */
  async measure(wanted: string, kind: MeasureKind, points: Vec3[], axis: 0 | 1 | 2): Promise<Measurement> {
    const full = await kept(wanted);
    const tree = treeOf(full);
    const hit = newHit();
    const on = points.map(([x, y, z]): Vec3 => {
      tree.nearest(x, y, z, Infinity, hit);
      return [...hit.point];
    });
    try {
      return measureOn(full, kind, on, axis);
    } catch (error) {
      // errors cross to the page as their words alone
      throw new Error(isMeshError(error) ? `${error.message} ${error.hint}` : 'This cannot be measured.', {
        cause: error,
      });
    }
  },

  /** Wall thickness of a mesh under points of its drawn skin, mm; Infinity where there is no far side. */
  async thickness(wanted: string, points: Float32Array): Promise<Float32Array> {
    const mesh = await kept(wanted);
    const tree = treeOf(mesh);
    const probe = new WallProbe(mesh);
    const hit = newHit();
    const out = new Float32Array(points.length / 3);
    for (let v = 0; v < out.length; v++) {
      tree.nearest(points[3 * v], points[3 * v + 1], points[3 * v + 2], Infinity, hit, hit.triangle);
      // a vertex lies on a rim as often as not: a little towards the middle of its triangle
      const c = triangleCentre(mesh, hit.triangle);
      const [x, y, z] = [0, 1, 2].map((k) => hit.point[k] + 0.1 * (c[k] - hit.point[k]));
      out[v] = probe.at(x, y, z, hit.triangle);
    }
    return transfer(out, [out.buffer]);
  },

  /**
   * Room between a body and the inside of a piece, mm, at points of the drawn body; negative where the body stands past the
   * inside, NaN where no inside faces it.
   *
   * @param factor the piece is measured as if scaled by this about its origin
   */
  async clearance(
    pieceHash: string,
    bodyHash: string,
    placement: Placement,
    factor: number,
    points: Float32Array,
  ): Promise<Float32Array> {
    const key = `${pieceHash}|${bodyHash}|${JSON.stringify(placement)}|${factor}`;
    if (inside?.key !== key) {
      const full = await kept(pieceHash);
      const body = await kept(bodyHash);
      const piece = factor === 1 ? full : scaleMesh(full, [factor, factor, factor]);
      // where the body is open its own sides say nothing
      const closed = !twinsOf(body).includes(OPEN);
      const skin = insideSkin(piece, new WornBody(body, closed), placement, quietContext);
      const facing: number[] = [];
      for (let t = 0; t < piece.triangles.length / 3; t++)
        if ([0, 1, 2].every((k) => skin.inner[piece.triangles[3 * t + k]] === 1)) facing.push(t);
      const around: TriMesh = { positions: skin.points, triangles: piece.triangles };
      const tree = new Bvh(around, Uint32Array.from(facing));
      inside = {
        key,
        tree,
        normalSide: (hit, p) => {
          const n = triangleNormal(around, hit.triangle);
          return dot(n, [p[0] - hit.point[0], p[1] - hit.point[1], p[2] - hit.point[2]]);
        },
      };
    }
    const hit = newHit();
    const out = new Float32Array(points.length / 3).fill(NaN);
    for (let v = 0; v < out.length; v++) {
      const p: Vec3 = [points[3 * v], points[3 * v + 1], points[3 * v + 2]];
      const d = inside.tree.nearest(p[0], p[1], p[2], 120, hit).distance;
      if (!Number.isFinite(d)) continue;
      const along = inside.normalSide(hit, p);
      // beside a rim nothing lies over the body, and on which side of it a point stands says nothing
      if (d === 0 || Math.abs(along) > 0.6 * d) out[v] = along < 0 ? -d : d;
    }
    return transfer(out, [out.buffer]);
  },

  /** Area of the section at evenly spaced places along an axis, mm and mm2. */
  async profile(wanted: string, axis: 0 | 1 | 2, places: number): Promise<{ at: number; areaMm2: number }[]> {
    const slicer = slicers[axis](await kept(wanted));
    const { min, max } = boundsOf(slicer.mesh);
    const heights = Float64Array.from({ length: places }, (_, i) => min[2] + ((i + 0.5) / places) * (max[2] - min[2]));
    const out: { at: number; areaMm2: number }[] = [];
    slicer.sweep(heights, (section, i) => out.push({ at: heights[i], areaMm2: section.areaMm2 }));
    return out;
  },

  /** Where flat undersides begin along an axis, those that save most support first. */
  async undersides(wanted: string, axis: 0 | 1 | 2): Promise<NaturalPlane[]> {
    return naturalPlanes(await kept(wanted), axis);
  },

  /** Planes that the mesh is mirrored in. */
  async mirrors(wanted: string): Promise<Mirror[]> {
    return mirrorsOf(await kept(wanted));
  },

  /** Closed creases, those around the most skin first. */
  async creases(wanted: string): Promise<CreaseLoop[]> {
    return creaseLoops(weldExact(await kept(wanted)));
  },

  /** The seams that cuts would leave on the skin, a list of segments a cut: x, y, z per end. */
  async seams(wanted: string, cuts: PlaneCut[]): Promise<number[][]> {
    const mesh = await kept(wanted);
    return seamLines(mesh, cuts, treeOf(mesh)).map((lines) => Array.from(lines));
  },
};

export type Workshop = typeof workshop;
