import type { BodyView } from '@jasmorphe/contracts/views';
import type { Inspection } from '@jasmorphe/core/mesh/inspect';
import { useFactsQuery } from '../app/api.ts';

/** Hash of the mesh after so many steps of a model's line; a divide leaves the whole as it was. */
export function hashAfter(body: BodyView, count: number): string {
  const step = body.line.slice(0, count).findLast((s) => s.operation !== 'divide' && s.outputs.length > 0);
  return step?.outputs[0] ?? body.mesh.hash;
}

/**
 * The mesh that a stop's own step starts from, which is not the one on the bench once later steps have changed it.
 * Figures are null while they are being fetched.
 */
export function useStageBase(body: BodyView, after: number): { hash: string; facts: Inspection | null } {
  const hash = hashAfter(body, after);
  const here = hash === body.mesh.hash;
  const { data } = useFactsQuery(hash, { skip: here });
  return { hash, facts: here ? body.mesh.facts : (data?.facts ?? null) };
}
