import type { CrossSection } from 'manifold-3d';
import { vec3 } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import type { AssemblyLook, AssemblyStep } from '../../planning/cuts/assembly.ts';
import type { Keep } from '../../planning/cuts/bodies.ts';
import { toZ } from '../../planning/cuts/planeFrame.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { fromSolid, type Solid } from '../../solid/kernel.ts';
import { wayOff } from './comesOff.ts';
import type { JoinsMade } from './joins/joins.ts';
import type { Site } from './joins/sites.ts';

/** Area that is glued in a step of putting together, mm². */
export const glueOf = (sites: readonly Site[], { cut, parts, on }: AssemblyStep): number =>
  sites.reduce((n, f) => {
    const meets = (a: number, b: number): boolean => parts.includes(a) && on.includes(b);
    return n + (f.cut === cut && (meets(f.above, f.below) || meets(f.below, f.above)) ? f.areaMm2 : 0);
  }, 0);

/** Along the face where dovetails slide, which are told for what lies above; else as the step says. */
export function slideOr(made: JoinsMade | null, step: AssemblyStep, cuts: readonly PlaneCut[]): Vec3 {
  const slide = made?.slides.get(step.whole);
  if (!slide) return step.direction;
  const down = step.direction.every((x, k) => Math.abs(x + cuts[step.cut].normal[k]) < 1e-9);
  return down ? slide : vec3((k) => -slide[k]);
}

/** Outlines that overlap by less pass one another, mm²: what rounding leaves where parts share a wall. */
const passMm2 = 0.5;

/** What the order of assembly asks of parts: which meet, and whether one passes another, by their outlines along the way. */
export function lookOf(keep: Keep, solids: readonly Solid[], sites: readonly Site[], slides: boolean): AssemblyLook {
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
export function waysOffLoops(
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
export const leaning = (way: 'across' | Vec3 | null | undefined): Vec3 | null =>
  way === undefined || way === null || way === 'across' ? null : vec3((k) => -way[k]);
