import { useEffect, useMemo, useState } from 'react';
import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import type { BenchFlag, BenchPart } from './benchParts.ts';
import { partBudget } from './budget.ts';
import { loadDisplay } from './displayMesh.ts';

/** A place may lie so far outside the box of its part, mm: boxes and places are rounded. */
const slackMm = 0.5;

/**
 * The part in whose skin a place of the whole lies: by its box, and where the boxes of several hold it, by the vertex that
 * is nearest; undefined where none does.
 *
 * @param verticesOf x, y, z each, of a part
 */
export async function holderOf<P extends Pick<BenchPart, 'id' | 'mesh'>>(
  at: Triple,
  parts: readonly P[],
  verticesOf: (part: P) => Promise<ArrayLike<number>>,
): Promise<string | undefined> {
  const near = parts.filter(({ mesh: { facts } }) => {
    const low = [facts.min.x, facts.min.y, facts.min.z];
    const high = [facts.max.x, facts.max.y, facts.max.z];
    return at.every((x, k) => x >= low[k] - slackMm && x <= high[k] + slackMm);
  });
  if (near.length < 2) return near[0]?.id;
  const far = await Promise.all(
    near.map(async (part) => {
      const v = await verticesOf(part);
      let least = Infinity;
      for (let i = 0; i < v.length; i += 3)
        least = Math.min(least, (v[i] - at[0]) ** 2 + (v[i + 1] - at[1]) ** 2 + (v[i + 2] - at[2]) ** 2);
      return least;
    }),
  );
  return near[far.indexOf(Math.min(...far))].id;
}

/** A flag where it stands now. */
export interface StandingFlag extends BenchFlag {
  /** how far the part that it stands on is from its place in the whole, mm */
  shift: Triple;
}

const atHome: Triple = [0, 0, 0];
const none: ReadonlyMap<number, string> = new Map();

/**
 * Flags as they go with the parts that they stand on; those of parts that are not shown are left out. As long as that is not
 * known, or not asked for, they stand where they are in the whole.
 *
 * @param parts all of the model, whichever are shown
 * @param wanted parts are apart, or not all are shown
 * @param shiftOf how far a part is from its place; null where it is not shown
 */
export function useFlagsOnParts(
  flags: readonly BenchFlag[],
  parts: readonly BenchPart[],
  wanted: boolean,
  shiftOf: (partId: string) => Triple | null,
): StandingFlag[] {
  const [known, setKnown] = useState<{ of: readonly BenchFlag[]; holders: ReadonlyMap<number, string> } | null>(null);
  useEffect(() => {
    if (!wanted || flags.length === 0) return;
    let live = true;
    const vertices = async (part: BenchPart) => (await loadDisplay(part.mesh.hash, partBudget(parts.length))).positions;
    const holder = async ({ tag, at }: BenchFlag) =>
      (tag && parts.find((p) => p.tag === tag)?.id) || holderOf(at, parts, vertices);
    Promise.all(flags.map(async (f) => [f.number, await holder(f)] as const)).then(
      (found) => {
        if (!live) return;
        const holders = new Map(found.flatMap(([number, id]) => (id === undefined ? [] : [[number, id] as const])));
        setKnown({ of: flags, holders });
      },
      // a mesh that cannot be fetched says so where it should stand
      () => undefined,
    );
    return () => void (live = false);
  }, [flags, parts, wanted]);
  const holders = wanted && known?.of === flags ? known.holders : none;
  return useMemo(
    () =>
      flags.flatMap((flag): StandingFlag[] => {
        const id = holders.get(flag.number);
        const shift = id === undefined ? atHome : shiftOf(id);
        return shift ? [{ ...flag, shift, at: flag.at.map((x, k) => x + shift[k]) as Triple }] : [];
      }),
    [flags, holders, shiftOf],
  );
}
