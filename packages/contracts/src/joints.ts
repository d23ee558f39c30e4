import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { OrderStep } from '@jasmorphe/core/operations/divide/describe';
import { lastStepOf } from './steps.ts';
import type { BodyView } from './views.ts';

/** One step of putting a model together, and what it is known by. */
export interface Joint extends OrderStep {
  /** goes by the meshes that are joined: parts that are cut anew are joined anew */
  key: string;
  /** tags of what is put on */
  parts: string[];
}

/** A short key of a text: two FNV-1a hashes of 32 bits (Fowler, Noll and Vo), the second of the text backwards. */
function keyOf(text: string): string {
  let a = 0x811c9dc5;
  let b = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    a = Math.imul(a ^ text.charCodeAt(i), 0x01000193);
    b = Math.imul(b ^ text.charCodeAt(text.length - 1 - i), 0x01000193);
  }
  return [a, b].map((h) => (h >>> 0).toString(16).padStart(8, '0')).join('');
}

/** The steps of putting a model together again, in order; none where it is whole. */
export function jointsOf(body: Pick<BodyView, 'line' | 'cursor' | 'parts'>): Joint[] {
  const step = lastStepOf(body.line, body.cursor, catalogue.divide);
  if (!step || body.parts.length === 0) return [];
  // what is left of a part that stopped goes where the part went
  const hashes = new Map(body.parts.map((p) => [p.tag, p.mesh.hash]));
  const named = (tags: readonly string[]): string =>
    tags
      .map((t) => hashes.get(t) ?? t)
      .sort()
      .join();
  return step.report.order.map((o) => {
    const parts = o.name.split('+');
    return { ...o, parts, key: keyOf(`${named(parts)} on ${named(o.from)}`) };
  });
}
