import type { CrossSection, Mat4 } from 'manifold-3d';
import type { Solid } from '../../solid/kernel.ts';
import { axes } from '../../mesh/axes.ts';
import type { CutAt } from './grid.ts';

export interface Lump {
  solid: Solid;
  level: number;
  tag: string;
}

export type Keep = <S extends { delete(): void }>(solid: S) => S;

/** Turns axis k to z by a cyclic exchange of axes (column-major). */
export function toZ(k: number): Mat4 {
  const m = new Array<number>(16).fill(0);
  for (let row = 0; row < 3; row++) m[4 * ((k + 1 + row) % 3) + row] = 1;
  m[15] = 1;
  return m as unknown as Mat4;
}

/** The way back from `toZ`. */
export function fromZ(k: number): Mat4 {
  const m = new Array<number>(16).fill(0);
  for (let row = 0; row < 3; row++) m[4 * row + ((k + 1 + row) % 3)] = 1;
  m[15] = 1;
  return m as unknown as Mat4;
}

/** Lumps with a face on the plane of a cut, and the side of the plane they lie on. */
export function facesOn(lumps: readonly Lump[], cut: CutAt): { index: number; above: boolean }[] {
  const k = axes.indexOf(cut.axis);
  const out: { index: number; above: boolean }[] = [];
  lumps.forEach(({ solid }, index) => {
    const { min, max } = solid.boundingBox();
    const tolerance = 1e-4 * (1 + Math.abs(cut.mm));
    if (Math.abs(max[k] - cut.mm) < tolerance) out.push({ index, above: false });
    if (Math.abs(min[k] - cut.mm) < tolerance) out.push({ index, above: true });
  });
  return out;
}

/** The face of a lump on a cut, as a cross-section in the two other axes. */
export function faceOf(keep: Keep, solid: Solid, cut: CutAt, above: boolean): CrossSection {
  const turned = keep(solid.transform(toZ(axes.indexOf(cut.axis))));
  const into = 2e-4 * (1 + Math.abs(cut.mm));
  return keep(turned.slice(cut.mm + (above ? into : -into)));
}

/**
 * Places well inside a face: the point farthest from its outline, then others at least `apart` from those before.
 *
 * @returns u, v and the free radius around each
 */
export function roomiestPlaces(
  face: CrossSection,
  most: number,
  least: number,
): { u: number; v: number; radius: number }[] {
  const polygons = face.toPolygons();
  if (polygons.length === 0) return [];
  const { min, max } = face.bounds();
  const steps = 36;
  const candidates: { u: number; v: number; radius: number }[] = [];
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < steps; j++) {
      const u = min[0] + ((max[0] - min[0]) * (i + 0.5)) / steps;
      const v = min[1] + ((max[1] - min[1]) * (j + 0.5)) / steps;
      let inside = false;
      let nearest = Infinity;
      for (const polygon of polygons)
        for (let a = 0, b = polygon.length - 1; a < polygon.length; b = a++) {
          const [x1, y1] = polygon[b];
          const [x2, y2] = polygon[a];
          if (y2 > v !== y1 > v && u < ((x1 - x2) * (v - y2)) / (y1 - y2) + x2) inside = !inside;
          const dx = x2 - x1;
          const dy = y2 - y1;
          const s = Math.max(0, Math.min(1, ((u - x1) * dx + (v - y1) * dy) / (dx * dx + dy * dy || 1)));
          nearest = Math.min(nearest, Math.hypot(u - x1 - s * dx, v - y1 - s * dy));
        }
      if (inside && nearest >= least) candidates.push({ u, v, radius: nearest });
    }
  const chosen: typeof candidates = [];
  const span = Math.hypot(max[0] - min[0], max[1] - min[1]);
  while (chosen.length < most && candidates.length > 0) {
    let best = -1;
    let score = 0;
    candidates.forEach((c, i) => {
      const apart = chosen.length === 0 ? span : Math.min(...chosen.map((p) => Math.hypot(p.u - c.u, p.v - c.v)));
      if (apart < span / 4 && chosen.length > 0) return;
      const s = c.radius * (chosen.length === 0 ? 1 : apart / span);
      if (s > score) {
        score = s;
        best = i;
      }
    });
    if (best < 0) break;
    chosen.push(candidates[best]);
  }
  return chosen;
}

/** A solid made around the w axis at (u, v, 0), moved to its place on a cut. */
export function place(keep: Keep, local: Solid, cut: CutAt, u: number, v: number): Solid {
  return keep(keep(local.translate([u, v, cut.mm])).transform(fromZ(axes.indexOf(cut.axis))));
}
