import { InvalidArgumentError } from 'commander';
import { readFileSync } from 'node:fs';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';

/** A list of cuts, or the report of `cuts --json` with one in it. */
export function cutsIn(file: string): PlaneCut[] {
  try {
    const read = JSON.parse(readFileSync(file, 'utf8')) as PlaneCut[] | { cuts: PlaneCut[] };
    const list = Array.isArray(read) ? read : read.cuts;
    if (!Array.isArray(list)) throw new Error('no list');
    return list;
  } catch {
    throw new InvalidArgumentError(`"${file}" is not a list of cuts.`);
  }
}
