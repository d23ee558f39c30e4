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
  /** no way was found in which nothing is in its way */
  stuck: boolean;
}

/** What is asked of the parts themselves. */
export interface AssemblyLook {
  /** do any of these share a face, on a cut or on any? The cut on which they share most, or -1 */
  touch: (some: readonly number[], others: readonly number[], cut?: number) => number;
  /** does nothing of the others stand in the way of these when they go off along a direction? */
  free: (some: readonly number[], others: readonly number[], off: Vec3) => boolean;
  /** do parts slide on along the face of what was cut there? Their way is known later, and put in order then */
  slides: (whole: CutNode) => boolean;
}

/** What is together before a cut is closed: on one side of it. */
interface Group {
  parts: number[];
  side: 1 | -1;
}

const partsOf = (groups: readonly Group[]): number[] => groups.flatMap((g) => g.parts);

/** Groups by what touches what, over any of them: each such set can be put together by itself. */
function connected(groups: readonly Group[], touch: (a: Group, b: Group) => boolean): Group[][] {
  const out: Group[][] = [];
  const left = new Set(groups);
  for (const first of groups) {
    if (!left.delete(first)) continue;
    const own = [first];
    for (const a of own)
      for (const b of left)
        if (touch(a, b)) {
          left.delete(b);
          own.push(b);
        }
    out.push(own);
  }
  return out;
}

/**
 * How parts go together again: what a cut parted last is joined first. Found by taking apart (Homem de Mello and Sanderson,
 * AND/OR graph representation of assembly plans, IEEE Trans. Robotics and Automation 6(2), 1990): of the bodies that a cut left
 * one goes off along the cut's normal, or several that hold together, if nothing is in its way and what is left still holds
 * together. What goes off from many goes off from fewer, so that no choice is to be regretted. Each such step joins two that
 * are each in one: what holds together in `n` parts takes `n - 1` of them.
 */
export function assemblyOf(nodes: readonly CutNode[], cuts: readonly PlaneCut[], look: AssemblyLook): AssemblyStep[] {
  const steps: AssemblyStep[] = [];
  const children = new Map<CutNode, Set<CutNode>>();
  for (const node of nodes)
    for (let n = node; n.parent; n = n.parent) children.set(n.parent, (children.get(n.parent) ?? new Set()).add(n));
  const number = new Map(nodes.map((n, i) => [n, i]));

  /** Puts bodies together that a cut parted and that hold together; `base` stays where it is. */
  const close = (groups: readonly Group[], base: Group, cut: number, whole: CutNode): void => {
    if (groups.length < 2) return;
    const { normal } = cuts[cut];
    const edges = new Map(groups.map((g) => [g, new Set<Group>()]));
    for (const a of groups)
      for (const b of groups) if (a !== b && look.touch(a.parts, b.parts, cut) >= 0) edges.get(a)!.add(b);
    const holds = (some: readonly Group[]): Group[][] => connected(some, (a, b) => edges.get(a)!.has(b));
    const off = (g: readonly Group[]): Vec3[] => {
      const sides = new Set(g.map((x) => x.side));
      return ([1, -1] as const).flatMap((side) => (sides.has(side) ? [vec3((k) => side * normal[k])] : []));
    };
    const sideOf = (way: Vec3): 1 | -1 => (way.every((x, k) => Math.sign(x) === Math.sign(normal[k])) ? 1 : -1);
    const goes = (some: readonly Group[], rest: readonly Group[], way: Vec3): boolean => {
      const side = sideOf(way);
      return some.every((a) =>
        // the cut lies between what goes off on its own side and what is on the other
        rest.every((b) => (a.side === side && b.side !== side) || look.free(a.parts, b.parts, way)),
      );
    };
    const takeApart = (set: readonly Group[]): void => {
      if (set.length < 2) return;
      const candidates = set.flatMap((g): Group[][] => {
        const rest = holds(set.filter((x) => x !== g));
        // one by itself; where others hang on it alone, one of those, or it with all of them
        if (rest.length === 1) return g === base ? [] : [[g]];
        const hanging = rest.filter((part) => !part.includes(base));
        return g === base ? hanging : [...hanging, [g, ...hanging.flat()]];
      });
      candidates.sort((a, b) => a.length - b.length);
      const tries = candidates.flatMap((some) => {
        const rest = set.filter((x) => !some.includes(x));
        return off(some).map((way) => ({ some, rest, way }));
      });
      const free = look.slides(whole) ? tries[0] : tries.find((t) => goes(t.some, t.rest, t.way));
      const found = free ?? tries[0];
      takeApart(found.some);
      takeApart(found.rest);
      steps.push({
        parts: partsOf(found.some),
        on: partsOf(found.rest),
        direction: vec3((k) => 0 - found.way[k]),
        cut,
        whole,
        stuck: free === undefined,
      });
    };
    takeApart(groups);
  };

  /** Puts together what a node was cut into. @returns what then holds together, each by itself: one as a rule */
  const put = (node: CutNode): number[][] => {
    const own = number.get(node);
    if (own !== undefined) return [[own]];
    const groups: Group[] = [];
    let cut = 0;
    for (const child of children.get(node) ?? []) {
      cut = Math.abs(child.side) - 1;
      for (const parts of put(child)) groups.push({ parts, side: child.side > 0 ? 1 : -1 });
    }
    return connected(groups, (a, b) => look.touch(a.parts, b.parts, cut) >= 0).map((set) => {
      const below = set.filter((g) => g.side < 0);
      close(
        set,
        (below.length > 0 ? below : set).reduce((a, b) => (b.parts.length > a.parts.length ? b : a)),
        cut,
        node,
      );
      return partsOf(set);
    });
  };
  const roots = new Map<CutNode, true>();
  for (let n of nodes) {
    while (n.parent) n = n.parent;
    roots.set(n, true);
  }
  let together = [...roots.keys()].flatMap((root) => put(root).map((parts) => ({ parts, whole: root })));
  // what meets only over a cut that was made before or after the one that parted it
  for (let grown = true; grown;) {
    grown = false;
    for (const b of together.slice(1)) {
      const a = together.find((x) => x !== b && look.touch(x.parts, b.parts) >= 0);
      if (!a) continue;
      const [on, some] = a.parts.length >= b.parts.length ? [a, b] : [b, a];
      const cut = look.touch(on.parts, some.parts);
      const away = vec3((k) => cuts[cut].normal[k]);
      const down = vec3((k) => -cuts[cut].normal[k]);
      const up = look.free(some.parts, on.parts, away);
      steps.push({
        parts: some.parts,
        on: on.parts,
        direction: up ? down : away,
        cut,
        whole: on.whole,
        stuck: !up && !look.free(some.parts, on.parts, down),
      });
      together = [
        { parts: [...on.parts, ...some.parts], whole: on.whole },
        ...together.filter((x) => x !== a && x !== b),
      ];
      grown = true;
      break;
    }
  }
  return steps;
}

/** What slides on along the same face goes on one by one, what goes farthest first. @param reach of a part along a direction */
export function inSlideOrder(
  steps: readonly AssemblyStep[],
  wayOf: (step: AssemblyStep) => Vec3 | null,
  reach: (part: number, way: Vec3) => number,
): AssemblyStep[] {
  const out: AssemblyStep[] = [];
  for (let i = 0; i < steps.length;) {
    const way = wayOf(steps[i]);
    let end = i + 1;
    const last = (): AssemblyStep => steps[end - 1];
    // each of them goes on to what all before it made
    while (
      way !== null &&
      end < steps.length &&
      steps[end].whole === steps[i].whole &&
      wayOf(steps[end])?.join() === way.join() &&
      steps[end].on.length === last().on.length + last().parts.length
    )
      end++;
    const run = steps.slice(i, end);
    if (way === null || run.length === 1) out.push(...run);
    else {
      const farthest = (s: AssemblyStep): number => Math.max(...s.parts.map((p) => reach(p, way)));
      let { on } = run[0];
      for (const step of [...run].sort((a, b) => farthest(b) - farthest(a))) {
        out.push({ ...step, on });
        on = [...on, ...step.parts];
      }
    }
    i = end;
  }
  return out;
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
