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
}

/**
 * How parts go together again: what a cut parted last is joined first. What lay above a cut is put on to what lay below
 * along the cut's normal; a plane lies between the two but for crumbs
 * that stayed with their neighbour, so nothing stands in the way, and pins along the normal slide in.
 */
export function assemblyOf(nodes: readonly CutNode[], cuts: readonly PlaneCut[]): AssemblyStep[] {
  const steps: AssemblyStep[] = [];
  const children = new Map<CutNode, Set<CutNode>>();
  for (const node of nodes)
    for (let n = node; n.parent; n = n.parent) children.set(n.parent, (children.get(n.parent) ?? new Set()).add(n));
  const number = new Map(nodes.map((n, i) => [n, i]));
  const put = (node: CutNode): number[] => {
    const own = number.get(node);
    if (own !== undefined) return [own];
    const below: number[] = [];
    const above: number[] = [];
    let cut = 0;
    for (const child of children.get(node) ?? []) {
      cut = Math.abs(child.side) - 1;
      (child.side > 0 ? above : below).push(...put(child));
    }
    steps.push({ parts: above, on: below, direction: vec3((k) => -cuts[cut].normal[k]), cut });
    return [...below, ...above];
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
