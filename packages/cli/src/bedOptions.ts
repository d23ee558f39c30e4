import type { BedSettings, NamedBed } from '@jasmorphe/core/params/checks';
import type { CleanBox, CleanPlace, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { OptionSpec } from './options.ts';
import { beds, cleanPlaces, wishes, type BedValue } from './values.ts';

/** What the options of beds give. */
export interface BedOptions {
  bed: BedValue[];
  keepClean?: CleanPlace[];
  weigh?: Wishes;
}

/** The beds to cut for, and what must stay clean. */
export const bedOptions: readonly OptionSpec[] = [
  {
    flags: '--bed <[name=]XxYxZ>',
    help: 'room of the printer; with names it may be repeated for several; kind=resin, layer=0.4, nozzle=0.8 and margin=5 may follow, each after a comma',
    parse: beds,
    required: true,
  },
  {
    flags: '--keep-clean <x,y,z:x,y,z>',
    help: 'a box, or as x,y,z:radius a spot, in which the skin must stay clean of seams; may be repeated',
    parse: cleanPlaces,
  },
  {
    flags: '--weigh <parts=1,seam=0.5,...>',
    help: 'what counts in a plan, each from 0 to 1: parts, seam, support, time, symmetry; those left out count for nothing',
    parse: wishes,
  },
];

/** The params that those options give. */
export const paramsOfBeds = ({
  bed,
  keepClean,
  weigh,
}: BedOptions): BedSettings & {
  bed: [number, number, number];
  beds?: NamedBed[];
  keepClean?: CleanBox[];
  painted?: CleanSpot[];
  weights?: Wishes;
} => {
  const [{ name, ...one }] = bed;
  const boxes = keepClean?.filter((p): p is CleanBox => 'min' in p) ?? [];
  const painted = keepClean?.filter((p): p is CleanSpot => 'radiusMm' in p) ?? [];
  return {
    ...(name === '' ? one : { bed: one.bed, beds: bed }),
    ...(boxes.length > 0 ? { keepClean: boxes } : {}),
    ...(painted.length > 0 ? { painted } : {}),
    ...(weigh ? { weights: weigh } : {}),
  };
};
