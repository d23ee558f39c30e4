import type { Solid } from '../../solid/kernel.ts';

/** Notes a solid for freeing, and hands it back. */
export type Keep = <S extends { delete(): void }>(solid: S) => S;

/** Apart from one another, each with the cavities in it. */
export type Bodies = (solid: Solid) => Solid[];

/**
 * The bodies of a solid by the kernel, which remembers where each triangle came from, as long as it has no cavity beside
 * which there is more than one body.
 *
 * @param settle tells bodies apart then; without it cavities are left out, which does for a judgement
 */
export function kernelBodies(keep: Keep, settle?: Bodies): Bodies {
  return (solid) => {
    if (solid.isEmpty()) return [];
    const pieces = solid.decompose().map(keep);
    if (pieces.length < 2) return pieces;
    // a cavity faces inward
    const outer = pieces.filter((p) => p.volume() > 0);
    if (outer.length === pieces.length) return pieces;
    if (outer.length === 1) return [solid];
    return settle ? settle(solid) : outer;
  };
}
