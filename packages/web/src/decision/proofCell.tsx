import type { ReactNode } from 'react';
import type { Proof } from '@jasmorphe/core/repair/proveSolid';

export const proofMethod = 'closed, and none of the new triangles crosses another; exact predicates';

/** A change of volume by mending that is worth a word, as a share. */
const worthAWord = 5e-4;

/** Whether what was made is a sound solid; nothing where that was not asked, as in steps of an earlier version. */
export function proofCell(proof: Proof | null | undefined): ReactNode {
  if (!proof) return null;
  if (!proof.sound) return <span className="cellFailed">no</span>;
  const change = proof.volumeChange ?? 0;
  if (Math.abs(change) < worthAWord) return 'yes';
  return `yes, ${change < 0 ? '−' : '+'}${(100 * Math.abs(change)).toPrecision(2)} % volume by mending`;
}
