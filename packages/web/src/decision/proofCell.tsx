import type { ReactNode } from 'react';
import type { Proof } from '@jasmorphe/core/repair/proveSolid';

export const proofMethod = 'closed, and none of the new triangles crosses another; exact predicates';

/** Whether what was made is a sound solid; nothing where that was not asked, as in steps of an earlier version. */
export function proofCell(proof: Proof | null | undefined): ReactNode {
  if (!proof) return null;
  return proof.sound ? 'yes' : <span className="cellFailed">no</span>;
}
