import type { JobRow } from '../../store/JobRows.ts';
import type { JobKind } from '../JobKind.ts';
import { importFile } from './importFile.ts';
import { dryLine, line } from './line.ts';
import { preview } from './preview.ts';
import { reference } from './reference.ts';
import { sample } from './sample.ts';

/** Every kind of job. */
const jobKinds = { import: importFile, line, replay: dryLine, preview, sample, reference } as const;

/** The kind of that name, its payload widened for code that handles all kinds alike. */
export const jobKindOf = (kind: JobRow['kind']): JobKind => jobKinds[kind];
