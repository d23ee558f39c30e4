import type { Mat4 } from 'manifold-3d';
import { cross, normalize, vec3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { Solid } from '../../solid/kernel.ts';
import { apartOf } from './assembly.ts';
import { kernelBodies, type Bodies, type Keep } from './bodies.ts';
import { cutSolid, type CrumbRule, type CutBody } from './cutSolid.ts';
import type { PlaneCut } from './PlaneCut.ts';

/** Outlines of the parts of a plan, drawn apart as seen from a corner, the farthest first. */
export interface PlanPicture {
  wide: number;
  high: number;
  /** x, y of the corners of each part's outlines, y down, within `wide` and `high` */
  parts: number[][][];
}

/** Longest side of a picture, in its own units. */
const longest = 240;
/** How far the farthest part goes, as a share of the diagonal. */
const spread = 0.14;
/** From where it is seen: front, right and above. */
const eye = normalize([0.5, -1, 0.45]);

/** Draws bodies apart. @returns their outlines, the farthest first, each with the number of its body */
export function drawnApart(
  keep: Keep,
  bodies: readonly CutBody[],
  cuts: readonly PlaneCut[],
): { wide: number; high: number; parts: { body: number; rings: number[][] }[] } {
  const boxes = bodies.map((b) => b.solid.boundingBox());
  const side = (k: number): number => Math.max(...boxes.map((b) => b.max[k])) - Math.min(...boxes.map((b) => b.min[k]));
  const diagonal = Math.hypot(side(0), side(1), side(2));
  const right = normalize(
    cross(
      vec3((k) => -eye[k]),
      [0, 0, 1],
    ),
  );
  const up = cross(eye, right);
  const turn: Mat4 = [right[0], up[0], eye[0], 0, right[1], up[1], eye[1], 0, right[2], up[2], eye[2], 0, 0, 0, 0, 1];
  const moves = apartOf(
    bodies.map((b) => b.node),
    cuts,
  );
  const seen = bodies.map(({ solid }, body) => {
    const moved = keep(solid.translate(vec3((k) => spread * diagonal * moves[body][k]) as [number, number, number]));
    const turned = keep(moved.transform(turn));
    const box = turned.boundingBox();
    const shadow = keep(turned.project());
    // what is smaller than the drawing tells apart is drawn all the same
    const flat = keep(shadow.simplify(diagonal / 400)).toPolygons();
    return { body, depth: (box.min[2] + box.max[2]) / 2, rings: flat.length > 0 ? flat : shadow.toPolygons() };
  });
  seen.sort((a, b) => a.depth - b.depth);
  const all = seen.flatMap((s) => s.rings.flat());
  const low: Vec3 = [Math.min(...all.map((p) => p[0])), Math.max(...all.map((p) => p[1])), 0];
  const size = [Math.max(...all.map((p) => p[0])) - low[0], low[1] - Math.min(...all.map((p) => p[1]))];
  const scale = longest / Math.max(1e-9, ...size);
  return {
    wide: Math.ceil(size[0] * scale),
    high: Math.ceil(size[1] * scale),
    parts: seen.map(({ body, rings }) => ({
      body,
      rings: rings.map((ring) =>
        ring.flatMap(([x, y]) => [Math.round((x - low[0]) * scale), Math.round((low[1] - y) * scale)]),
      ),
    })),
  };
}

/**
 * Draws a plan on the stand-in it was made on; where that falls into another number of parts than there are, on the solid itself.
 *
 * @param truth the solid, and how many parts it was cut into
 */
export function planPicture(
  keep: Keep,
  standIn: Solid,
  cuts: readonly PlaneCut[],
  crumbs: CrumbRule,
  truth: { parts: number; solid: () => Solid; bodies: () => Bodies },
): PlanPicture {
  const light = cutSolid(keep, kernelBodies(keep), standIn, cuts, crumbs);
  const bodies = light.length === truth.parts ? light : cutSolid(keep, truth.bodies(), truth.solid(), cuts, crumbs);
  const { parts, ...size } = drawnApart(keep, bodies, cuts);
  return { ...size, parts: parts.map((p) => p.rings) };
}
