import type { BodyView } from '@jasmorphe/contracts/views';

/** Hash of the mesh after so many steps of a model's line; a divide leaves the whole as it was. */
export function hashAfter(body: BodyView, count: number): string {
  const step = body.line.slice(0, count).findLast((s) => s.operation !== 'divide' && s.outputs.length > 0);
  return step?.outputs[0] ?? body.mesh.hash;
}
