import type { BodyView } from '@jasmorphe/contracts/views';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { useFactsQuery } from '../app/api.ts';
import { meshHashAfter } from '@jasmorphe/contracts/steps';

/**
 * The mesh that a stop's own step starts from, which is not the one on the bench once later steps have changed it.
 * Figures are null while they are being fetched.
 */
export function useStageBase(body: BodyView, after: number): { hash: string; facts: Inspection | null } {
  const hash = meshHashAfter(body.line, after) ?? body.mesh.hash;
  const here = hash === body.mesh.hash;
  const { data } = useFactsQuery(hash, { skip: here });
  return { hash, facts: here ? body.mesh.facts : (data?.facts ?? null) };
}
