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
/** Heights at which is looked what of one lies below what of another. */
const levels = 16;

/** A part turned so that it goes off along z, and what is known of it so. */
interface Turned {
  solid: Solid;
  outline: CrossSection;
  lo: number;
  hi: number;
}

/** What the order of assembly asks of parts: which meet, and whether one passes another on its way. */
export function lookOf(keep: Keep, solids: readonly Solid[], sites: readonly Site[], slides: boolean): AssemblyLook {
  const turned = new Map<string, Turned>();
  const along = (part: number, off: Vec3): Turned => {
    const key = `${part} ${off.join()}`;
    const known = turned.get(key);
    if (known) return known;
    const solid = keep(solids[part].transform(toZ(off)));
    const { min, max } = solid.boundingBox();
    const made = { solid, outline: keep(solid.project()), lo: min[2], hi: max[2] };
    turned.set(key, made);
    return made;
  };
  /** One goes off along z where nothing of it lies below anything of the other. */
  const passes = (a: Turned, b: Turned): boolean => {
    if (b.hi <= a.lo || keep(a.outline.intersect(b.outline)).area() < passMm2) return true;
    const [from, to] = [Math.max(a.lo, b.lo), Math.min(a.hi, b.hi)];
    // it lies below the other as a whole
    if (to <= from) return false;
    for (let i = 0; i <= levels; i++) {
      const z = from + ((to - from) * i) / levels;
      const under = keep(keep(a.solid.trimByPlane([0, 0, -1], -z)).project());
      const over = keep(keep(b.solid.trimByPlane([0, 0, 1], z)).project());
      if (keep(under.intersect(over)).area() >= passMm2) return false;
    }
    return true;
  };
  const known = new Map<string, boolean>();
  const passing = (a: number, b: number, off: Vec3): boolean => {
    const key = `${a} ${b} ${off.join()}`;
    const found = known.get(key) ?? passes(along(a, off), along(b, off));
    known.set(key, found);
    return found;
  };
  return {
    slides: () => slides,
    touch: (some, others, cut) => {
      let [best, most] = [-1, 0];
      for (const s of sites)
        if (
          (cut === undefined || s.cut === cut) &&
          s.areaMm2 > most &&
          ((some.includes(s.above) && others.includes(s.below)) || (some.includes(s.below) && others.includes(s.above)))
        )
          [best, most] = [s.cut, s.areaMm2];
      return best;
    },
    free: (some, others, off) => some.every((a) => others.every((b) => passing(a, b, off))),
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
