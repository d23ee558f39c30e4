import { vec3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { CutNode } from './cutSolid.ts';
import type { PlaneCut } from './PlaneCut.ts';

/** One step of putting parts together again. */
export interface AssemblyStep {
  /** numbers of the parts that are put on, together */
  parts: number[];
  /** numbers of those that they are put on to */
  on: number[];
  /** way in which they are moved, length 1 */
  direction: Vec3;
  cut: number;
  /** what is whole after it */
  whole: CutNode;
}

/** What is asked of the parts themselves. */
export interface AssemblyLook {
  /** do any of these share a face on a cut? */
  touch: (some: readonly number[], others: readonly number[], cut: number) => boolean;
  /** does nothing of the others stand in the way of these when they come along a direction? */
  free: (some: readonly number[], others: readonly number[], direction: Vec3) => boolean;
  /** must all that lies above go on in one movement, as along slides? */
  atOnce: (whole: CutNode) => boolean;
}

/**
 * How parts go together again: what a cut parted last is joined first. What lay above a cut is put on to what lay below
 * along the cut's normal; a plane lies between the two but for crumbs that stayed with their neighbour, so nothing stands
 * in the way, and pins along the normal slide in. Where a cut left several bodies on a side they go on one by one, each
 * when it touches what is together already and nothing on its own side is in its way; what cannot goes on at once.
 */
export function assemblyOf(
  nodes: readonly CutNode[],
  cuts: readonly PlaneCut[],
  { touch, free, atOnce }: AssemblyLook,
): AssemblyStep[] {
  const steps: AssemblyStep[] = [];
  const children = new Map<CutNode, Set<CutNode>>();
  for (const node of nodes)
    for (let n = node; n.parent; n = n.parent) children.set(n.parent, (children.get(n.parent) ?? new Set()).add(n));
  const number = new Map(nodes.map((n, i) => [n, i]));
  const put = (node: CutNode): number[] => {
    const own = number.get(node);
    if (own !== undefined) return [own];
    const below: number[][] = [];
    const above: number[][] = [];
    let cut = 0;
    for (const child of children.get(node) ?? []) {
      cut = Math.abs(child.side) - 1;
      (child.side > 0 ? above : below).push(put(child));
    }
    const down = vec3((k) => -cuts[cut].normal[k]);
    const add = (parts: number[], on: number[], direction: Vec3): void => {
      steps.push({ parts, on, direction, cut, whole: node });
    };
    if (below.length === 0) return above.flat();
    const onBelow = [below.reduce((a, b) => (b.length > a.length ? b : a))];
    const onAbove: number[][] = [];
    const waiting = {
      above: [...above],
      below: below.filter((b) => b !== onBelow[0]),
    };
    /** Puts on one body of a side that is ready, if there is one. */
    const one = (side: 'above' | 'below'): boolean => {
      const [same, other] = side === 'above' ? [onAbove, onBelow] : [onBelow, onAbove];
      const direction = side === 'above' ? down : cuts[cut].normal;
      const next = waiting[side].find((body) => touch(body, other.flat(), cut) && free(body, same.flat(), direction));
      if (!next) return false;
      add(next, [...onBelow, ...onAbove].flat(), direction);
      waiting[side].splice(waiting[side].indexOf(next), 1);
      same.push(next);
      return true;
    };
    if (!atOnce(node)) while (one('above') || one('below'));
    if (waiting.above.length > 0) {
      add(waiting.above.flat(), [...onBelow, ...waiting.below, ...onAbove].flat(), down);
    } else if (waiting.below.length > 0) {
      add(waiting.below.flat(), [...onBelow, ...onAbove].flat(), cuts[cut].normal);
    }
    return [...below, ...above].flat();
  };
  const roots = new Set<CutNode>();
  for (let n of nodes) {
    while (n.parent) n = n.parent;
    roots.add(n);
  }
  roots.forEach((r) => put(r));
  return steps;
}

/**
 * How far each part is moved to be seen apart: at every cut both sides go off along its normal, as they came together, so
 * that no part passes through another. The farthest goes one unit.
 */
export function apartOf(nodes: readonly CutNode[], cuts: readonly PlaneCut[]): Vec3[] {
  // what one cut parts stays close where many cuts were made before it
  const moves = nodes.map((node) => {
    const move: [number, number, number] = [0, 0, 0];
    for (let n = node; n.parent; n = n.parent) {
      const { normal } = cuts[Math.abs(n.side) - 1];
      for (let k = 0; k < 3; k++) move[k] += Math.sign(n.side) * normal[k];
    }
    return move;
  });
  const farthest = Math.max(1e-9, ...moves.map((m) => Math.hypot(...m)));
  return moves.map((m) => vec3((k) => m[k] / farthest));
}
