import { descriptionOf } from '@jasmorphe/core/operations/catalogue';
import type { Description } from '@jasmorphe/core/operations/Description';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { codecs } from '../store/codecs.ts';
import type { JobRow } from '../store/JobRows.ts';
import { jobKindOf } from './kinds/index.ts';

type Waiting = Pick<JobRow, 'kind' | 'batchId' | 'payload'>;

/** A search that may take minutes, worked out in advance: it never holds the last thread while something short waits. */
export function isLongPreview({ kind, payload }: Waiting): boolean {
  if (kind !== 'preview') return false;
  try {
    const { operation, params } = codecs.payload.read(payload, kind);
    const description: Description = descriptionOf(operation);
    return description.long?.(readKept(description.params, params)) ?? false;
  } catch {
    // it fails as soon as it begins
    return false;
  }
}

/**
 * Which job begins next: what a maker waits for, in its order; then the preview that was asked for last, since that is what somebody
 * looks at now; then previews of batches, in theirs.
 *
 * Long previews have as many threads as there are; beside them one more job may run, so that what is short is not held up.
 *
 * @param waiting the oldest first
 * @param active those at work: whether each is a long preview
 * @param size how many may be at work at once
 */
export function nextJob<Row extends Waiting>(
  waiting: readonly Row[],
  active: readonly { long: boolean }[],
  size: number,
): Row | null {
  const longs = active.filter((job) => job.long).length;
  const room = { long: active.length < size, short: active.length - longs < size && active.length <= size };
  const inOrder = [
    ...waiting.filter((job) => !jobKindOf(job.kind).waits),
    ...waiting.filter((job) => jobKindOf(job.kind).waits && job.batchId === null).reverse(),
    ...waiting.filter((job) => jobKindOf(job.kind).waits && job.batchId !== null),
  ];
  return inOrder.find((job) => (isLongPreview(job) ? room.long : room.short)) ?? null;
}
