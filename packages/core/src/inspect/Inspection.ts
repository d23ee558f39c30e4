import type { Finding, FindingFacts, ShellFacts } from './Finding.ts';
import type { Xyz } from '../mesh/TriMesh.ts';

/** Raise it when inspecting the same mesh would now say something else. */
export const inspectionVersion = 2;

/** Everything `inspect` measures. Lengths mm, areas mm2, volumes mm3. */
export interface Inspection {
  /** of the way of inspecting; what an earlier one found is looked for again. Absent before there were versions */
  version?: number;
  triangles: number;
  vertices: number;
  shells: number;
  /** closed shells that enclose nothing, such as two triangles back to back; not kept by meshes inspected before it was */
  flatShells?: number;
  openEdges: number;
  openLoops: number;
  nonManifoldEdges: number;
  nonManifoldVertices: number;
  inconsistentEdges: number;
  /** null when the test was left out; at `mostCounted` counting ended */
  selfIntersectingPairs: number | null;
  degenerateTriangles: number;
  duplicateTriangles: number;
  watertight: boolean;
  areaMm2: number;
  volumeMm3: number | null;
  size: Xyz;
  min: Xyz;
  max: Xyz;
  /** the largest shells, at most fifty */
  shellList: ShellFacts[];
  findings: Finding[];
}

/**
 * True when nothing stands between the mesh and the solid kernel: closed, no sheet lying upon another or upon itself, no
 * crossing, a volume. Crossings not looked for do not count.
 */
export const isSound = (i: Inspection): boolean =>
  i.watertight &&
  i.nonManifoldVertices === 0 &&
  i.duplicateTriangles === 0 &&
  (i.flatShells ?? 0) === 0 &&
  (i.selfIntersectingPairs ?? 0) === 0 &&
  (i.volumeMm3 ?? 0) > 0;

/**
 * Hollows that are shut in within a solid: closed shells that lie in another and look the other way. What is open to the outside,
 * as through a drain, cannot be told from the outside.
 */
export function cavitiesOf({ shellList = [] }: Partial<Pick<Inspection, 'shellList'>>): {
  count: number;
  volumeMm3: number;
} {
  const shut = shellList.filter(({ inside, volumeMm3 }) => {
    const around = inside === null ? null : shellList[inside].volumeMm3;
    return volumeMm3 !== null && around !== null && volumeMm3 < 0 && around > 0;
  });
  return { count: shut.length, volumeMm3: shut.reduce((n, s) => n - s.volumeMm3!, 0) };
}

/** A finding as it was kept before findings had kinds and values: a sentence under a code. */
interface OldFinding extends Omit<FindingFacts, 'key'> {
  code: string;
  message: string;
}

/** An inspection as it was kept, whatever version it is of: old findings keep their sentence until they are made again. */
export function readInspection(kept: unknown): Inspection {
  const facts = kept as Omit<Inspection, 'findings'> & { findings?: (Finding | OldFinding)[] };
  return {
    ...facts,
    findings: (facts.findings ?? []).map((f): Finding => {
      if ('kind' in f) return f;
      const { code, message, ...rest } = f;
      return { ...rest, kind: 'said-before', key: code, values: { text: message } };
    }),
  };
}
