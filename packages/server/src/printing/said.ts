import { randomUUID } from 'node:crypto';
import { instantOf } from '@jasmorphe/core/planning/days/instants';
import type { Told } from '../store/Answers.ts';
import type { LogRow } from '../store/PrintLog.ts';
import { Refusal } from '../store/Refusal.ts';

/** When something happened, ISO 8601, and an id that all entries which one word makes have in common. */
export interface Said {
  at: string;
  saidId: string;
}

/** @throws MeshError `bad-params` where the time is none */
export const saidOf = ({ at }: Told): Said => ({
  at: (at === undefined ? new Date() : new Date(instantOf(at, 'at'))).toISOString(),
  saidId: randomUUID(),
});

/** What an entry of the log is about: a part, and the mesh that it had. */
export interface About {
  projectId: string;
  modelId: string;
  partId: string;
  meshHash: string;
  tag: string;
}

/** The entry that takes another back. */
export const withdrawal = (
  { projectId, modelId, partId, meshHash, tag }: About,
  correctsId: string,
  made: Said & { id: string },
): LogRow & About => ({ projectId, modelId, partId, meshHash, tag, correctsId, outcome: 'withdrawn', ...made });

/**
 * Refuses a height at which a part cannot have stopped.
 *
 * @param part its height in its pose, mm, and words that stand behind "as it lies"
 * @param field of the request
 * @throws Refusal `bad-params`
 */
export function mustReach(
  { tag, heightMm, lies = '' }: { tag: string; heightMm: number; lies?: string },
  stoppedMm: number,
  field: string,
): void {
  // calipers may read a little more than the file has
  if (stoppedMm <= heightMm + 0.5) return;
  throw new Refusal(
    'request',
    'bad-params',
    `${tag} is ${heightMm.toFixed(1)} mm high as it lies${lies}; it cannot have stopped at ${stoppedMm} mm.`,
    'Check the reading.',
    field,
  );
}
