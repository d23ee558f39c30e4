import { vec3 } from '@jasmorphe/core/mesh/transform';
import type { CleanBox } from '@jasmorphe/core/planning/cuts/CleanBox';

/** The edges of a box, to be drawn. */
export function edgesOfBox({ min, max }: CleanBox): number[] {
  const out: number[] = [];
  const at = (i: number): number[] => [0, 1, 2].map((k) => ((i >> k) & 1 ? max[k] : min[k]));
  for (let a = 0; a < 8; a++) for (let k = 0; k < 3; k++) if (!((a >> k) & 1)) out.push(...at(a), ...at(a | (1 << k)));
  return out;
}

/** How far it is across. */
export const acrossOf = ({ min, max }: CleanBox): number => max[0] - min[0];

/** A cube about the middle of a box, so far across. */
export const grown = (box: CleanBox, across: number): CleanBox => {
  const middle = vec3((k) => (box.min[k] + box.max[k]) / 2);
  return { min: vec3((k) => middle[k] - across / 2), max: vec3((k) => middle[k] + across / 2) };
};
