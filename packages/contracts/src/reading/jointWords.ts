import type { Joint } from './joints.ts';
import type { Xyz } from '@jasmorphe/core/mesh/TriMesh';
import type { DivideReport } from '@jasmorphe/core/operations/divide/describe';
import type { PlacedJoin } from '@jasmorphe/core/operations/divide/joins/Join';
import { figures } from '@jasmorphe/core/trade/figures';
import { joinKinds, wordsOfJoin } from '@jasmorphe/core/trade/joinKinds';
import { countOf } from '@jasmorphe/core/words/numbers';

/** The joins that close in one step, each once. */
export const joinsOf = ({ parts }: DivideReport, { parts: put, from, cut }: Joint): PlacedJoin[] =>
  parts.filter((p) => put.includes(p.tag)).flatMap((p) => p.joins.filter((j) => j.cut === cut && from.includes(j.to)));

const ways: readonly (readonly [keyof Xyz, 1 | -1, string])[] = [
  ['z', -1, 'from above, straight down'],
  ['z', 1, 'from below, straight up'],
  ['x', 1, 'from the left'],
  ['x', -1, 'from the right'],
  ['y', 1, 'from the front'],
  ['y', -1, 'from the back'],
];

/** From where something comes that moves so, in words. */
export function wayWords(direction: Xyz): string {
  const [axis, sign, words] = ways.reduce((best, w) =>
    w[1] * direction[w[0]] > best[1] * direction[best[0]] ? w : best,
  );
  return sign * direction[axis] > 0.95 ? words : `${words.split(',')[0]}, aslant`;
}

/** Sizes with how many of each there are: `2 of 6 x 11.8`. */
function sizes(joins: readonly PlacedJoin[]): string {
  const count = new Map<string, number>();
  for (const j of joins) count.set(j.size, (count.get(j.size) ?? 0) + 1);
  return [...count].map(([size, n]) => `${n} of ${size}`).join(', ');
}

/** What to mind at a joint, the first thing first. */
export function adviceFor(joint: Joint, joins: readonly PlacedJoin[], waits: readonly string[]): string[] {
  const out: string[] = [];
  if (waits.length > 0) out.push(`Not off the bed yet: ${waits.join(', ')}.`);
  if (joint.rest)
    return [
      ...out,
      'It is what is left of a print that stopped: the cut face goes down on to the last good layer.',
      'Roughen both faces with coarse paper, glue, and weight it down for about 30 min.',
    ];
  out.push('Put it together dry first.');
  // the same of several kinds is said once
  const said = joinKinds.flatMap((kind) => {
    const { advice } = wordsOfJoin(kind);
    const own = joins.filter((j) => j.kind === kind);
    return advice && own.length > 0 ? [advice.replace('{sizes}', sizes(own))] : [];
  });
  out.push(...new Set(said));
  if (joins.length === 0) out.push('No join holds it: clamp it, or hold it by hand until the glue has set.');
  if (!joins.some((j) => wordsOfJoin(j.kind).dry))
    out.push(
      joint.glueMm2 > figures.slowGlueMm2.value
        ? 'Roughen both faces. Epoxy: fast glue sets before so large a face is closed.'
        : 'Roughen both faces. Cyanoacrylate will do; epoxy where there is a gap or load.',
    );
  if (joint.parts.length > 1)
    out.push(`${countOf(joint.parts.length, 'part')} that are together already go on at once.`);
  return out;
}
