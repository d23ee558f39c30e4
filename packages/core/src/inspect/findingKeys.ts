import type { Xyz } from '../mesh/TriMesh.ts';

/**
 * What a reason for setting a finding aside is kept by: its kind, the middle of its place and how large the place is. Not
 * its number among others, which changes when one of them is mended.
 */
export const keyOf = (kind: string, middle: Xyz, spanMm: number): string =>
  `${kind}@${[middle.x, middle.y, middle.z].map((c) => Number(c.toPrecision(5)) + 0).join(',')}~${Number(spanMm.toPrecision(3))}`;

/** Places this near count as one, as a share of their size. */
const nearShare = 0.25;
/** What has become this many times as large or as small is another thing. */
const grownBy = 1.5;
/** Rounding of a place, as a share of its coordinates. */
const roundedShare = 1e-3;

/** The key of a finding that is about no place, or about a thing with a name. */
export const namedKey = (kind: string, name: string): string => `${kind}#${name.slice(0, 40)}`;

interface Key {
  kind: string;
  at: number[];
  span: number;
}

function parse(key: string): Key | null {
  const [, kind, at, span] = /^([\w-]+)@([^~]+)~(.+)$/.exec(key) ?? [];
  return kind === undefined ? null : { kind, at: at.split(',').map(Number), span: Number(span) };
}

/** Do two keys speak of one thing: the same kind, about the same place, about as large? */
export function sameFinding(a: string, b: string): boolean {
  if (a === b) return true;
  const [p, q] = [parse(a), parse(b)];
  if (!p || !q || p.kind !== q.kind) return false;
  const large = Math.max(p.span, q.span);
  if (large > grownBy * Math.min(p.span, q.span) && large > 0) return false;
  const far = Math.hypot(...p.at.map((c, k) => c - q.at[k]));
  return far <= nearShare * large + roundedShare * Math.max(...p.at.map(Math.abs), ...q.at.map(Math.abs));
}

/** Names that findings had before they had keys: the first of a kind by its kind, the others with a number behind it. */
export function codesOf(findings: readonly { kind: string }[]): string[] {
  const kinds = new Map<string, number>();
  return findings.map(({ kind }) => {
    const n = (kinds.get(kind) ?? 0) + 1;
    kinds.set(kind, n);
    return n === 1 ? kind : `${kind}-${n}`;
  });
}

/** Names by which findings about a thing with a name were kept before they had keys. */
const oldNames: Record<string, string> = {
  'too-large': 'too-large',
  'print-stopped': 'stopped',
  'rest-waits': 'stopped',
};

function oldNameOf(key: string): string | null {
  const [kind, name] = key.split('#');
  return name && kind in oldNames ? `${oldNames[kind]}-${name}` : null;
}

/** The reason for which each finding was set aside, by key or by the name that it had earlier; null where it was not. */
export function asideOf<D extends { code: string }>(
  findings: readonly { kind: string; key: string }[],
  dismissals: readonly D[],
): (D | null)[] {
  const codes = codesOf(findings);
  return findings.map(
    ({ key }, i) =>
      dismissals.find((d) => sameFinding(d.code, key) || d.code === codes[i] || d.code === oldNameOf(key)) ?? null,
  );
}
