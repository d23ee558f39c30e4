import type { NamedBed } from '@jasmorphe/core/params/checks';
import type { CleanBox } from '@jasmorphe/core/planning/cuts/CleanBox';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { OptionSpec } from './options.ts';
import { beds, boxes, wishes, type BedValue } from './values.ts';

/** What the options of beds give. */
export interface BedOptions {
  bed: BedValue[];
  keepClean?: CleanBox[];
  weigh?: Wishes;
}

/** The beds to cut for, and what must stay clean. */
export const bedOptions: readonly OptionSpec[] = [
  {
    flags: '--bed <[name=]XxYxZ>',
    help: 'room of the printer; with names it may be repeated for several',
    parse: beds,
    required: true,
  },
  {
    flags: '--keep-clean <x,y,z:x,y,z>',
    help: 'a box in which the skin must stay clean of seams; may be repeated',
    parse: boxes,
  },
  {
    flags: '--weigh <parts=1,seam=0.5,...>',
    help: 'what counts in a plan, each from 0 to 1: parts, seam, support, time; those left out count for nothing',
    parse: wishes,
  },
];

/** The params that those options give. */
export const paramsOfBeds = ({
  bed,
  keepClean,
  weigh,
}: BedOptions): { bed: [number, number, number]; beds?: NamedBed[]; keepClean?: CleanBox[]; weights?: Wishes } => ({
  bed: bed[0].bed,
  ...(bed[0].name === '' ? {} : { beds: bed }),
  ...(keepClean ? { keepClean } : {}),
  ...(weigh ? { weights: weigh } : {}),
});
