import type { Proof } from '../repair/proveSolid.ts';

export const proofMethod = 'closed, and none of the new triangles crosses another; exact predicates';

/** A change of volume by mending that is worth a word, as a share. */
const worthAWord = 5e-4;

/** It was asked, and it is no sound solid. */
export const isUnsound = ({ proof }: { proof: Proof | null }): boolean => proof !== null && !proof.sound;

/** Whether what was made is a sound solid; a dash where that was not asked, as in steps of an earlier version. */
export function proofText(proof: Proof | null | undefined): string {
  if (!proof) return '—';
  if (!proof.sound) return 'no';
  const change = proof.volumeChange ?? 0;
  return Math.abs(change) < worthAWord
    ? 'yes'
    : `yes, ${change < 0 ? '\u2212' : '+'}${(100 * Math.abs(change)).toPrecision(2)} % volume by mending`;
}
