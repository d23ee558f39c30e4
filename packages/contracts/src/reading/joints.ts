import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { OrderStep } from '@jasmorphe/core/operations/divide/describe';
import { isPrinted } from '@jasmorphe/core/planning/printState';
import { isStepOf, lastStepOf, type StepOf } from '../steps.ts';
import type { BodyView, PartView } from '../views.ts';

/** One step of putting a model together, and what it is known by. */
export interface Joint extends OrderStep {
  /** goes by the meshes that are joined: parts that are cut anew are joined anew */
  key: string;
  /** tags of what is put on */
  parts: string[];
  /** what is left of a part that stopped goes on to what stands of it */
  rest: boolean;
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

type Put = Pick<BodyView, 'line' | 'cursor' | 'parts'>;

/** The tag of a part as it was cut, of what is left of it as well. */
export const cutTag = (tag: string): string => tag.replace(/r\d+$/, '');

/** Recuts of a part that are in force, the first first. */
const recutsOf = ({ line, cursor }: Pick<PartView, 'line' | 'cursor'>): StepOf<'recut'>[] =>
  line.slice(0, cursor).filter((s) => isStepOf(s, catalogue.recut));

/** The rest of a part that stopped is glued on to what stands of it: what was up on the printer is put on from above. */
const restJoints = (part: PartView): Joint[] =>
  recutsOf(part).map((step, k): Joint => {
    const base = cutTag(part.tag);
    const [x, y, z] = step.params.up;
    const tag = `${base}r${k + 1}`;
    return {
      name: tag,
      parts: [tag],
      from: [k === 0 ? base : `${base}r${k}`],
      direction: { x: 0 - x, y: 0 - y, z: 0 - z },
      cut: 0,
      glueMm2: step.report.contactAreaMm2,
      key: keyOf(`${step.outputs[0]} on ${step.inputs[0]}`),
      rest: true,
    };
  });

/**
 * The steps of putting a model together again, in order; none where it is whole. What is left of a part that stopped is put on
 * its stump first, and goes where the part went.
 */
export function jointsOf(body: Put): Joint[] {
  const step = lastStepOf(body.line, body.cursor, catalogue.divide);
  if (!step || body.parts.length === 0) return [];
  const hashes = new Map(body.parts.map((p) => [cutTag(p.tag), p.meshHash]));
  const named = (tags: readonly string[]): string =>
    tags
      .map((t) => hashes.get(t) ?? t)
      .sort()
      .join();
  return [
    ...body.parts.flatMap(restJoints),
    ...step.report.order.map((o): Joint => {
      const parts = o.name.split('+');
      return { ...o, parts, key: keyOf(`${named(parts)} on ${named(o.from)}`), rest: false };
    }),
  ];
}

/** What of a joint is not off the bed yet, by its tags: the joint waits for it. */
export function waitsOf({ parts, from, rest }: Joint, { parts: all }: Pick<BodyView, 'parts'>): string[] {
  const of = new Map(all.map((p) => [cutTag(p.tag), p]));
  // the stump of a rest is there: it stopped
  return (rest ? parts : [...parts, ...from]).flatMap((tag) => {
    const part = of.get(cutTag(tag));
    if (!part) return [tag];
    // what was recut once more stands as far as it came
    return isPrinted(part) || (rest && part.tag !== tag) ? [] : [part.tag];
  });
}
