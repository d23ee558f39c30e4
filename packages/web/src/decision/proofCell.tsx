import type { ReactNode } from 'react';
import { proofText } from '@jasmorphe/core/operations/proofWords';
import type { Proof } from '@jasmorphe/core/repair/proveSolid';

export { proofMethod } from '@jasmorphe/core/operations/proofWords';

/** Whether what was made is a sound solid; nothing where that was not asked, as in steps of an earlier version. */
export function proofCell(proof: Proof | null | undefined): ReactNode {
  if (!proof) return null;
  return proof.sound ? proofText(proof) : <span className="cellFailed">{proofText(proof)}</span>;
}
