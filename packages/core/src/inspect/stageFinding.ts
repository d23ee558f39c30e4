import type { Xyz } from '../mesh/TriMesh.ts';
import type { Finding, FindingKind, FindingOf, FindingValues, Mender, Severity } from './Finding.ts';
import { keyOf, namedKey } from './findingKeys.ts';

/** A finding that a step of the route brings up, rather than the skin itself. */
export function stageFinding<K extends FindingKind>(
  kind: K,
  severity: Severity,
  values: FindingValues[K],
  more: {
    /** what it is about, where that has a name */
    name?: string;
    at?: Xyz;
    spanMm?: number;
    sure?: Finding['sure'];
    mends?: Mender[];
    count?: number;
  } = {},
): Finding {
  const { name, at = null, spanMm = 0, sure = 'counted', mends = [], count = 1 } = more;
  const key = name === undefined && at ? keyOf(kind, at, spanMm) : namedKey(kind, name ?? '');
  return { kind, key, severity, count, values, at, spanMm, sure, mends } as FindingOf<K> as Finding;
}

/** Middle of a box that is known by its lower corner and its size. */
export const middleOf = ({ min, size }: { min: Xyz; size: Xyz }): Xyz => ({
  x: min.x + size.x / 2,
  y: min.y + size.y / 2,
  z: min.z + size.z / 2,
});

/** Longest side. */
export const longestOf = (size: Xyz): number => Math.max(size.x, size.y, size.z);
