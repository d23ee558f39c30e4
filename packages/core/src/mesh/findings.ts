import { figures } from '../trade/figures.ts';
import { treeOf } from './Bvh.ts';
import type { RunContext } from './context.ts';
import { crossingSegment } from './crossingSegment.ts';
import { sampleSurface } from './deviation.ts';
import { boxesByLabel, diagonalOfLabel, OPEN, originOf, targetOf, twinsOf, type Edges } from './edges.ts';
import { findGround } from './ground.ts';
import { loopLength } from './loops.ts';
import { areaOf, triangleCentre, triangleNormal } from './measures.ts';
import { measuresByLabel, meshesByLabel } from './shells.ts';
import {
  boundsOf,
  nextHalfEdge,
  sizeOf,
  triangleCount,
  xyz,
  type Box3,
  type TriMesh,
  type Vec3,
  type Xyz,
} from './TriMesh.ts';
import { UnionFind } from './UnionFind.ts';
import { windingOf } from './WindingTree.ts';

export type Severity = 'failure' | 'attention' | 'note';

/**
 * One measured fact with its place and cause. `severity` failure: not a solid yet; attention: worth a look.
 * The first of a kind has the kind as its code, the others a number behind it.
 */
export interface Finding {
  code: string;
  severity: Severity;
  count: number;
  message: string;
  at: Xyz;
  /** Size of the place, mm, for flying there. */
  spanMm: number;
  /** counted: exact; sampled: looked at in points spread over the surface; likely: a reading that may be wrong */
  sure: 'counted' | 'sampled' | 'likely';
  /** what mends it, weakest first; empty where there is nothing to mend */
  mends: ('stitch' | 'join' | 'wrap' | 'refine' | 'mirror' | 'size' | 'crop')[];
  /** length of an open loop or a crossing curve, mm */
  lengthMm?: number;
  /** number of an open loop, to close it alone */
  loop?: number;
  /** segments that show it on a drawing: x, y, z of both ends, mm */
  lines?: number[];
}

/** A shell and how it lies to the others, by their places in the list. */
export interface ShellFacts {
  triangles: number;
  size: Xyz;
  at: Xyz;
  closed: boolean;
  /** null where it is open */
  volumeMm3: number | null;
  /** the smallest shell that it lies wholly inside */
  inside: number | null;
  /** shells that it crosses or touches */
  crosses: number[];
}

/** A shell smaller than this share of the whole diagonal counts as a crumb (common practice). */
export const crumbShare = 0.02;

/** More places of one kind than this are told in one sentence. */
const mostPlaces = 6;
const mostShells = 50;
/** Segments of a finding that are kept for the drawing. */
const mostLines = 600;
const samplesOfWalls = 6000;

const figure = (value: number): string =>
  value >= 100
    ? value.toFixed(0)
    : value >= 10
      ? value.toFixed(1)
      : value >= 0.01
        ? value.toFixed(2)
        : value.toPrecision(1);
const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;
const middle = (a: Vec3, b: Vec3): Vec3 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];

/** What `inspect` has measured when findings are put together. */
export interface Measured {
  mesh: TriMesh;
  edges: Edges;
  twin: Int32Array;
  loops: Uint32Array[];
  shells: { label: Uint32Array; count: number };
  watertight: boolean;
  volume: number | null;
  pairs: number[];
  crossingCount: number;
  brief: boolean;
  lines: boolean;
  box: Box3;
  counted: {
    openEdges: number;
    nonManifoldEdges: number;
    firstNonManifold: number;
    inconsistentEdges: number;
    firstInconsistent: number;
    split: Uint32Array;
    duplicates: number;
    firstDuplicate: number;
    degenerate: number;
    firstDegenerate: number;
  };
  context: RunContext;
}

/** Collects findings; repeats of a kind get a number behind their code. */
class Findings {
  readonly list: Finding[] = [];
  private readonly kinds = new Map<string, number>();

  add(kind: string, f: Omit<Finding, 'code' | 'at'> & { at: Vec3 }): void {
    const n = (this.kinds.get(kind) ?? 0) + 1;
    this.kinds.set(kind, n);
    this.list.push({ ...f, code: n === 1 ? kind : `${kind}-${n}`, at: xyz(f.at) });
  }
}

/** Findings grouped by place and cause, worst first, and the shells they speak of. */
export function findingsIn(m: Measured): { findings: Finding[]; shellList: ShellFacts[] } {
  const { mesh, counted: c } = m;
  const { positions } = mesh;
  const out = new Findings();
  const { box } = m;
  const scale = Math.hypot(...sizeOf(box));
  const vertexAt = (v: number): Vec3 => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
  openings(m, out, scale);
  const shells = shellFindings(m, out, scale);
  crossingPlaces(m, out, shells);
  if (c.nonManifoldEdges > 0)
    out.add('non-manifold-edges', {
      severity: 'failure',
      count: c.nonManifoldEdges,
      message: `${counted(c.nonManifoldEdges, 'edge joins', 'edges join')} more than two sheets of skin.`,
      at: vertexAt(originOf(mesh, c.firstNonManifold)),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch', 'wrap'],
      ...(m.lines ? { lines: edgeLines(m, (sides) => sides > 2) } : {}),
    });
  if (c.inconsistentEdges > 0)
    out.add('inconsistent-edges', {
      severity: 'failure',
      count: c.inconsistentEdges,
      message: `Along ${counted(c.inconsistentEdges, 'edge', 'edges')} one side faces out and the other in.`,
      at: vertexAt(targetOf(mesh, c.firstInconsistent)),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (m.volume !== null && m.volume < 0)
    out.add('inside-out', {
      severity: 'failure',
      count: 1,
      message: 'The skin faces inward: the body is inside out.',
      at: middle(box.min, box.max),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (c.split.length > 0)
    out.add('non-manifold-vertices', {
      severity: 'attention',
      count: c.split.length,
      message: `At ${counted(c.split.length, 'point', 'points')} two sheets touch in a single point.`,
      at: vertexAt(c.split[0]),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (c.duplicates > 0)
    out.add('duplicates', {
      severity: 'attention',
      count: c.duplicates,
      message: `${counted(c.duplicates, 'triangle lies', 'triangles lie')} on another with the same corners.`,
      at: triangleCentre(mesh, c.firstDuplicate),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (c.degenerate > 0)
    out.add('degenerate', {
      severity: 'note',
      count: c.degenerate,
      message: `${counted(c.degenerate, 'triangle has', 'triangles have')} no area.`,
      at: triangleCentre(mesh, c.firstDegenerate),
      spanMm: 0,
      sure: 'counted',
      mends: ['stitch'],
    });
  if (!m.brief && triangleCount(mesh) > 0 && scale > 0) {
    facets(m, out);
    if (c.openEdges > 0) ground(m, out);
    wallsAndGaps(m, out, scale);
  }
  const rank: Record<Severity, number> = { failure: 0, attention: 1, note: 2 };
  return { findings: out.list.sort((a, b) => rank[a.severity] - rank[b.severity]), shellList: shells.list };
}

function edgeLines(m: Measured, wanted: (sides: number) => boolean): number[] {
  const lines: number[] = [];
  const { order, start, count } = m.edges;
  for (let e = 0; e < count && lines.length < 6 * mostLines; e++)
    if (wanted(start[e + 1] - start[e]))
      putLine(lines, m.mesh, originOf(m.mesh, order[start[e]]), targetOf(m.mesh, order[start[e]]));
  return lines;
}

const short = (x: number): number => Number(x.toPrecision(7));

function putLine(lines: number[], { positions: p }: TriMesh, a: number, b: number): void {
  for (const v of [a, b]) lines.push(short(p[3 * v]), short(p[3 * v + 1]), short(p[3 * v + 2]));
}

/** Open loops, the longest by themselves, and whether they are the seam of half a model. */
function openings(m: Measured, out: Findings, scale: number): void {
  const { mesh, loops } = m;
  if (loops.length === 0) return;
  const p = mesh.positions;
  const lengths = loops.map((l) => loopLength(mesh, l));
  const order = loopOrder(lengths);
  const half = mirrorPlane(m.mesh, scale);
  order.slice(0, mostPlaces).forEach((i, place) => {
    const loop = loops[i];
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (const h of loop)
      for (let k = 0; k < 3; k++) {
        lo[k] = Math.min(lo[k], p[3 * originOf(mesh, h) + k]);
        hi[k] = Math.max(hi[k], p[3 * originOf(mesh, h) + k]);
      }
    const span = Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]);
    const off = outOfPlane(mesh, loop);
    const v = 3 * originOf(mesh, loop[0]);
    const lines: number[] = [];
    if (m.lines)
      for (let q = 0; q < loop.length; q += Math.ceil(loop.length / mostLines))
        putLine(lines, mesh, originOf(mesh, loop[q]), targetOf(mesh, loop[q]));
    out.add('open-loops', {
      severity: 'failure',
      count: loop.length,
      message: `Open loop ${place + 1} of ${loops.length}, ${figure(lengths[i])} mm round, ${off <= 0.01 * span ? 'flat' : `bent by ${figure(off)} mm`}. Without closing it there is no inside.`,
      at: [p[v], p[v + 1], p[v + 2]],
      spanMm: span,
      sure: 'counted',
      mends: ['stitch', 'wrap'],
      lengthMm: lengths[i],
      loop: place + 1,
      ...(m.lines ? { lines } : {}),
    });
  });
  if (loops.length > mostPlaces) {
    const rest = order.slice(mostPlaces);
    const v = 3 * originOf(mesh, loops[rest[0]][0]);
    const lines: number[] = [];
    if (m.lines)
      for (const i of rest)
        for (const h of loops[i])
          if (lines.length < 6 * mostLines) putLine(lines, mesh, originOf(mesh, h), targetOf(mesh, h));
    out.add('open-loops', {
      severity: 'failure',
      count: rest.length,
      message: `${counted(rest.length, 'more open loop', 'more open loops')}, none over ${figure(lengths[rest[0]])} mm round.`,
      at: [p[v], p[v + 1], p[v + 2]],
      spanMm: lengths[rest[0]],
      sure: 'counted',
      mends: ['stitch', 'wrap'],
      ...(m.lines ? { lines } : {}),
    });
  }
  if (half)
    out.add('half', {
      severity: 'note',
      count: 1,
      message: `All open edges lie in the plane ${half.axis} = ${figure(half.at)}, with the model on one side of it: half of a mirrored model? Then mirror it, or set the open loops aside.`,
      at: half.place,
      spanMm: scale / 2,
      sure: 'likely',
      mends: ['mirror'],
    });
}

/** Loops by length, the longest first: the numbers that findings and `mend` call them by. */
export const loopOrder = (lengths: number[]): number[] =>
  lengths.map((_, i) => i).sort((a, b) => lengths[b] - lengths[a] || a - b);

/** How far the corners of a loop stand off its plane, mm. */
function outOfPlane(mesh: TriMesh, loop: Uint32Array): number {
  const p = mesh.positions;
  const c = [0, 0, 0];
  for (const h of loop) for (let k = 0; k < 3; k++) c[k] += p[3 * originOf(mesh, h) + k] / loop.length;
  const n = [0, 0, 0];
  for (const h of loop)
    for (let k = 0; k < 3; k++) {
      const a = 3 * originOf(mesh, h);
      const b = 3 * targetOf(mesh, h);
      const [u, v] = [(k + 1) % 3, (k + 2) % 3];
      n[k] += (p[a + u] - c[u]) * (p[b + v] - c[v]) - (p[a + v] - c[v]) * (p[b + u] - c[u]);
    }
  const l = Math.hypot(n[0], n[1], n[2]) || 1;
  let off = 0;
  for (const h of loop) {
    const a = 3 * originOf(mesh, h);
    off = Math.max(off, Math.abs((p[a] - c[0]) * n[0] + (p[a + 1] - c[1]) * n[1] + (p[a + 2] - c[2]) * n[2]) / l);
  }
  return off;
}

/** The plane square to an axis at an end of the model that holds every open edge, if there is one. */
export function mirrorPlane(mesh: TriMesh, scale: number): { axis: 'x' | 'y' | 'z'; at: number; place: Vec3 } | null {
  const twin = twinsOf(mesh);
  const p = mesh.positions;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let h = 0; h < twin.length; h++)
    if (twin[h] === OPEN)
      for (let k = 0; k < 3; k++) {
        const x = p[3 * originOf(mesh, h) + k];
        lo[k] = Math.min(lo[k], x);
        hi[k] = Math.max(hi[k], x);
      }
  const { min, max } = boundsOf(mesh);
  for (let k = 0; k < 2; k++) {
    if (hi[k] < lo[k] || !(hi[k] - lo[k] < 1e-4 * scale)) continue;
    const at = (lo[k] + hi[k]) / 2;
    if (Math.min(at - min[k], max[k] - at) > 1e-4 * scale) continue;
    return {
      axis: (['x', 'y', 'z'] as const)[k],
      at,
      place: [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2],
    };
  }
  return null;
}

interface Shells {
  list: ShellFacts[];
  /** place in the list of each label, -1 beyond its end */
  place: Int32Array;
}

/** Crumbs, buried skins, shells inside out, and bodies that stand apart. */
function shellFindings(m: Measured, out: Findings, scale: number): Shells {
  const { mesh, shells, twin } = m;
  const { label, count } = shells;
  const none = { list: [], place: new Int32Array(count).fill(-1) };
  if (triangleCount(mesh) === 0) return none;
  const boxes = boxesByLabel(mesh, label, count);
  const { volume } = measuresByLabel(mesh, label, count);
  const triangles = new Uint32Array(count);
  const open = new Uint8Array(count);
  for (let t = 0; t < label.length; t++) triangles[label[t]]++;
  for (let h = 0; h < twin.length; h++) if (twin[h] < 0) open[label[(h / 3) | 0]] = 1;
  const centre = (s: number): Vec3 =>
    [0, 1, 2].map((k) => (boxes[6 * s + k] + boxes[6 * s + 3 + k]) / 2) as unknown as Vec3;
  const span = (s: number) => diagonalOfLabel(boxes, s);
  const order = Array.from({ length: count }, (_, s) => s).sort((a, b) => span(b) - span(a) || a - b);
  const named = order.slice(0, mostShells);
  const place = new Int32Array(count).fill(-1);
  named.forEach((s, i) => (place[s] = i));
  const list: ShellFacts[] = named.map((s) => ({
    triangles: triangles[s],
    size: xyz([0, 1, 2].map((k) => boxes[6 * s + 3 + k] - boxes[6 * s + k]) as unknown as Vec3),
    at: xyz(centre(s)),
    closed: !open[s],
    volumeMm3: open[s] ? null : volume[s],
    inside: null,
    crosses: [],
  }));
  const crossed = new Map<number, Set<number>>();
  for (let i = 0; i < m.pairs.length; i += 2) {
    const a = place[label[m.pairs[i]]];
    const b = place[label[m.pairs[i + 1]]];
    if (a < 0 || b < 0 || a === b) continue;
    for (const [x, y] of [
      [a, b],
      [b, a],
    ]) {
      const set = crossed.get(x);
      if (set) set.add(y);
      else crossed.set(x, new Set([y]));
    }
  }
  for (const [i, set] of crossed) list[i].crosses = [...set].sort((x, y) => x - y);
  if (count === 1) return { list, place };
  const limit = crumbShare * scale;
  let crumbs = 0;
  let crumb = -1;
  for (const s of order) if (span(s) < limit && crumbs++ === 0) crumb = s;
  // nesting, among the shells that are named
  const wanted = new Uint8Array(count);
  for (const s of named) wanted[s] = 1;
  let meshes: (TriMesh | null)[] | null = null;
  let cavities = 0;
  named.forEach((s, i) => {
    // crumbs go anyway: where they lie is not worth a tree of the largest shell
    if (span(s) < limit) return;
    for (let j = i - 1; j >= 0; j--) {
      const home = named[j];
      if (open[home]) continue;
      if (
        ![0, 1, 2].every(
          (k) => boxes[6 * home + k] <= boxes[6 * s + k] && boxes[6 * home + 3 + k] >= boxes[6 * s + 3 + k],
        )
      )
        continue;
      if (list[i].crosses.includes(j)) continue;
      meshes ??= meshesByLabel(mesh, label, count, wanted);
      const q = meshes[s]!.positions;
      if (Math.abs(windingOf(meshes[home]!).at(q[0], q[1], q[2])) < 0.5) continue;
      list[i].inside = j;
      break;
    }
    if (open[s]) return;
    const home = list[i].inside;
    if (home !== null) {
      const outward = volume[s] > 0 === volume[named[home]] > 0;
      if (!outward) cavities++;
      else
        out.add('buried', {
          severity: 'failure',
          count: triangles[s],
          message: `A skin ${figure(span(s))} mm across lies buried inside the body. It would print as a wall where nothing should be.`,
          at: centre(s),
          spanMm: span(s),
          sure: 'counted',
          mends: ['join'],
        });
    } else if (volume[s] < 0 && m.volume !== null && m.volume > 0)
      out.add('inside-out', {
        severity: 'failure',
        count: triangles[s],
        message: `A shell ${figure(span(s))} mm across faces inward and lies in no other: it is inside out.`,
        at: centre(s),
        spanMm: span(s),
        sure: 'counted',
        mends: ['stitch'],
      });
  });
  if (crumbs > 0)
    out.add('crumbs', {
      severity: 'attention',
      count: crumbs,
      message: `${counted(crumbs, 'crumb', 'crumbs')}, each under ${figure(limit)} mm across. Mending drops them unless told to keep them.`,
      at: centre(crumb),
      spanMm: span(crumb),
      sure: 'counted',
      mends: ['stitch'],
    });
  const big = count - crumbs - cavities;
  if (big > 1)
    out.add('shells', {
      severity: 'attention',
      count: big,
      message: `${big} separate shells. Where they overlap they must become one skin.`,
      at: centre(order[Math.min(big, count) - 1]),
      spanMm: span(order[Math.min(big, count) - 1]),
      sure: 'counted',
      mends: ['join'],
    });
  return { list, place };
}

/** Crossing triangles by place: those that cross each other or share a corner belong together. */
function crossingPlaces(m: Measured, out: Findings, shells: Shells): void {
  const { mesh, pairs } = m;
  if (m.crossingCount === 0) return;
  const { positions: p, triangles } = mesh;
  const number = new Map<number, number>();
  const list: number[] = [];
  for (const t of pairs)
    if (!number.has(t)) {
      number.set(t, list.length);
      list.push(t);
    }
  const sets = new UnionFind(list.length);
  for (let i = 0; i < pairs.length; i += 2) sets.union(number.get(pairs[i])!, number.get(pairs[i + 1])!);
  const atVertex = new Map<number, number>();
  list.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const v = triangles[3 * t + k];
      const other = atVertex.get(v);
      if (other === undefined) atVertex.set(v, i);
      else sets.union(other, i);
    }
  });
  const { label, count } = sets.labels();
  const groups = Array.from({ length: count }, () => ({
    pairs: 0,
    triangles: 0,
    length: 0,
    lo: [Infinity, Infinity, Infinity],
    hi: [-Infinity, -Infinity, -Infinity],
    at: [0, 0, 0] as [number, number, number],
    shells: new Set<number>(),
    lines: [] as number[],
  }));
  list.forEach((t, i) => {
    const g = groups[label[i]];
    g.triangles++;
    g.shells.add(m.shells.label[t]);
  });
  for (let i = 0; i < pairs.length; i += 2) {
    const g = groups[label[number.get(pairs[i])!]];
    const seg = crossingSegment(mesh, pairs[i], pairs[i + 1]);
    if (g.pairs++ === 0) {
      const c = triangleCentre(mesh, pairs[i]);
      for (let k = 0; k < 3; k++) g.at[k] = seg ? (seg[k] + seg[3 + k]) / 2 : c[k];
    }
    if (seg) g.length += Math.hypot(seg[0] - seg[3], seg[1] - seg[4], seg[2] - seg[5]);
    if (seg && m.lines && g.lines.length < 6 * mostLines) for (let q = 0; q < 6; q++) g.lines.push(short(seg[q]));
    for (const t of [pairs[i], pairs[i + 1]])
      for (let c = 0; c < 3; c++)
        for (let k = 0; k < 3; k++) {
          const x = p[3 * triangles[3 * t + c] + k];
          g.lo[k] = Math.min(g.lo[k], x);
          g.hi[k] = Math.max(g.hi[k], x);
        }
  }
  const span = (g: (typeof groups)[number]) => Math.hypot(...[0, 1, 2].map((k) => g.hi[k] - g.lo[k]));
  groups.sort((a, b) => b.length - a.length || b.pairs - a.pairs);
  for (const g of groups.slice(0, mostPlaces)) {
    const names = [...g.shells].map((s) => shells.place[s]).sort((a, b) => a - b);
    const sizes = names
      .filter((i) => i >= 0)
      .slice(0, 2)
      .map((i) => `${figure(Math.max(shells.list[i].size.x, shells.list[i].size.y, shells.list[i].size.z))} mm`);
    const who =
      g.shells.size === 1
        ? 'The skin crosses itself'
        : g.shells.size === 2
          ? `Two shells, ${sizes.join(' and ')}, overlap`
          : `${g.shells.size} shells overlap`;
    out.add('crossings', {
      severity: 'failure',
      count: g.pairs,
      message: `${who}: ${g.triangles} triangles cross${g.length > 0 ? `, along ${figure(g.length)} mm` : ' or lie on one another'}. Walls would print inside the body.`,
      at: g.at,
      spanMm: span(g),
      sure: 'counted',
      mends: ['join', 'wrap'],
      lengthMm: g.length,
      ...(m.lines ? { lines: g.lines } : {}),
    });
  }
  const rest = groups.slice(mostPlaces);
  const unlisted = m.crossingCount - pairs.length / 2;
  if (rest.length > 0 || unlisted > 0) {
    const n = rest.reduce((sum, g) => sum + g.pairs, 0) + unlisted;
    const at = rest[0] ?? groups[0];
    out.add('crossings', {
      severity: 'failure',
      count: n,
      message: `${counted(n, 'more pair', 'more pairs')} of triangles cross or touch, at ${counted(Math.max(1, rest.length), 'smaller place', 'smaller places')}.`,
      at: at.at,
      spanMm: span(at),
      sure: 'counted',
      mends: ['join', 'wrap'],
      ...(m.lines ? { lines: rest.flatMap((g) => g.lines).slice(0, 6 * mostLines) } : {}),
    });
  }
}

/** Edges of a surface meant to be round whose flats are deep enough to show at the present size. */
function facets(m: Measured, out: Findings): void {
  const { mesh, edges } = m;
  const { positions: p, triangles } = mesh;
  const n = triangleCount(mesh);
  const normal = new Float32Array(3 * n);
  for (let t = 0; t < n; t++) {
    const a = 3 * triangles[3 * t];
    const b = 3 * triangles[3 * t + 1];
    const c = 3 * triangles[3 * t + 2];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    normal[3 * t] = uy * vz - uz * vy;
    normal[3 * t + 1] = uz * vx - ux * vz;
    normal[3 * t + 2] = ux * vy - uy * vx;
  }
  const least = Math.cos((figures.creaseDeg.value * Math.PI) / 180);
  let shown = 0;
  let worst = 0;
  let worstEdge = -1;
  for (let e = 0; e < edges.count; e++) {
    const i = edges.start[e];
    if (edges.start[e + 1] - i !== 2) continue;
    const h = edges.order[i];
    const s = (h / 3) | 0;
    const t = (edges.order[i + 1] / 3) | 0;
    const ss = normal[3 * s] ** 2 + normal[3 * s + 1] ** 2 + normal[3 * s + 2] ** 2;
    const tt = normal[3 * t] ** 2 + normal[3 * t + 1] ** 2 + normal[3 * t + 2] ** 2;
    const st =
      normal[3 * s] * normal[3 * t] + normal[3 * s + 1] * normal[3 * t + 1] + normal[3 * s + 2] * normal[3 * t + 2];
    const cosine = st / Math.sqrt(ss * tt);
    if (!(cosine > least) || cosine > 0.9997) continue;
    const a = 3 * triangles[h];
    const b = 3 * triangles[nextHalfEdge(h)];
    const edge = Math.sqrt((p[b] - p[a]) ** 2 + (p[b + 1] - p[a + 1]) ** 2 + (p[b + 2] - p[a + 2]) ** 2);
    // the narrower of the two facets, across the edge: the rise of an arc over that chord
    const width = Math.sqrt(Math.min(ss, tt)) / edge;
    const rise = (width / 2) * Math.tan(Math.acos(Math.min(1, cosine)) / 4);
    if (rise < figures.facetMm.value) continue;
    shown++;
    if (rise > worst) {
      worst = rise;
      worstEdge = h;
    }
  }
  if (shown === 0) return;
  const v = 3 * triangles[worstEdge];
  out.add('facets', {
    severity: 'attention',
    count: shown,
    message: `Facets will show at this size: flats stand up to ${figure(worst)} mm off a smooth curve, at ${counted(shown, 'edge', 'edges')}.`,
    at: [p[v], p[v + 1], p[v + 2]],
    spanMm: 0,
    sure: 'likely',
    mends: ['refine'],
  });
}

/** A patch of what a scanned thing stood on. */
function ground(m: Measured, out: Findings): void {
  const found = findGround(m.mesh);
  if (!found) return;
  const [a, b] = [...found.size].sort((x, y) => y - x);
  out.add('ground', {
    severity: 'attention',
    count: 1,
    message: `A patch of ground, ${figure(a)} × ${figure(b)} mm, flat within ${figure(found.flatMm)} mm. Crop it off before mending.`,
    at: found.at,
    spanMm: a,
    sure: 'likely',
    mends: ['crop'],
  });
}

/** Walls, gaps and skins nearer than a printer can tell apart, looked for along normals from points spread over the surface. */
function wallsAndGaps(m: Measured, out: Findings, scale: number): void {
  const { mesh } = m;
  const tree = treeOf(mesh);
  const area = areaOf(mesh);
  if (!(area > 0)) return;
  const { points, triangles } = sampleSurface(mesh, samplesOfWalls, 11);
  const spacing = Math.sqrt(area / samplesOfWalls);
  const start = 1e-7 * scale;
  const close = 1e-4 * scale;
  const walls: number[] = [];
  const gaps: number[] = [];
  const near: number[] = [];
  const depth = new Float64Array(triangles.length);
  const gap = new Float64Array(triangles.length);
  for (let i = 0; i < triangles.length; i++) {
    if ((i & 511) === 0) m.context.checkCancelled();
    const n = triangleNormal(mesh, triangles[i]);
    if (n[0] === 0 && n[1] === 0 && n[2] === 0) continue;
    const from: Vec3 = [points[3 * i], points[3 * i + 1], points[3 * i + 2]];
    // only faces about parallel count: the sides of a wedge are no wall
    const facing = (d: number): boolean => {
      if (!Number.isFinite(d)) return false;
      const q = triangleNormal(mesh, tree.lastHit);
      return n[0] * q[0] + n[1] * q[1] + n[2] * q[2] < -0.8;
    };
    depth[i] = tree.firstHit(from, [-n[0], -n[1], -n[2]], start, triangles[i]);
    const wall = facing(depth[i]);
    gap[i] = tree.firstHit(from, n, start, triangles[i]);
    const slot = facing(gap[i]);
    if ((wall && depth[i] < close) || (slot && gap[i] < close)) near.push(i);
    else {
      if (wall && depth[i] < figures.thinWallMm.value) walls.push(i);
      if (slot && gap[i] < figures.thinGapMm.value) gaps.push(i);
    }
  }
  const tell = (
    kind: string,
    found: number[],
    say: (least: number, cm2: string) => string,
    value: Float64Array,
    mends: Finding['mends'],
  ) => {
    if (found.length < 3) return;
    for (const group of byPlace(points, found, 3 * spacing).slice(0, 3)) {
      if (group.length < 3) continue;
      let least = group[0];
      const lo = [Infinity, Infinity, Infinity];
      const hi = [-Infinity, -Infinity, -Infinity];
      for (const i of group) {
        if (value[i] < value[least]) least = i;
        for (let k = 0; k < 3; k++) {
          lo[k] = Math.min(lo[k], points[3 * i + k]);
          hi[k] = Math.max(hi[k], points[3 * i + k]);
        }
      }
      out.add(kind, {
        severity: 'attention',
        count: group.length,
        message: say(value[least], figure((group.length * spacing * spacing) / 100)),
        at: [points[3 * least], points[3 * least + 1], points[3 * least + 2]],
        spanMm: Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]),
        sure: 'sampled',
        mends,
      });
    }
  };
  const nearest = Float64Array.from(depth, (d, i) => Math.min(d || Infinity, gap[i] || Infinity));
  tell(
    'near-skins',
    near,
    (least, cm2) =>
      `Two skins lie within ${figure(least)} mm of each other over ${cm2} cm². Move them apart or unite them.`,
    nearest,
    ['join', 'wrap'],
  );
  tell(
    'thin-walls',
    walls,
    (least, cm2) => `A wall is only ${figure(least)} mm thick at this size, over ${cm2} cm². It may vanish or break.`,
    depth,
    ['size', 'wrap'],
  );
  tell(
    'thin-gaps',
    gaps,
    (least, cm2) => `A gap is only ${figure(least)} mm wide at this size, over ${cm2} cm². It will close in printing.`,
    gap,
    ['size', 'wrap'],
  );
}

/** Groups of samples whose neighbours lie within `reach`, the largest first. */
function byPlace(points: Float32Array, list: number[], reach: number): number[][] {
  const cells = new Map<string, number[]>();
  const cellOf = (i: number) => [0, 1, 2].map((k) => Math.floor(points[3 * i + k] / reach));
  list.forEach((i, place) => {
    const key = cellOf(i).join();
    const cell = cells.get(key);
    if (cell) cell.push(place);
    else cells.set(key, [place]);
  });
  const sets = new UnionFind(list.length);
  list.forEach((i, place) => {
    const [x, y, z] = cellOf(i);
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (let dz = -1; dz <= 1; dz++)
          for (const other of cells.get([x + dx, y + dy, z + dz].join()) ?? []) {
            const j = list[other];
            const d = Math.hypot(...[0, 1, 2].map((k) => points[3 * i + k] - points[3 * j + k]));
            if (d <= reach) sets.union(place, other);
          }
  });
  const { label, count } = sets.labels();
  const groups: number[][] = Array.from({ length: count }, () => []);
  list.forEach((i, place) => groups[label[place]].push(i));
  return groups.sort((a, b) => b.length - a.length);
}
