import type { DivideReport } from '@jasmorphe/core/operations/divide/divide';
import type { ImportReport } from '@jasmorphe/core/operations/import/importMesh';
import type { MendReport } from '@jasmorphe/core/operations/mend/mend';
import type { RecutReport } from '@jasmorphe/core/operations/recut/recut';
import type { OperationName } from '@jasmorphe/core/operations/registry';
import type { SizeReport } from '@jasmorphe/core/operations/size/size';
import type { StepView } from '@jasmorphe/contracts/views';
import { fixed, whole } from '../app/figures.ts';

/** What a step did, in the past tense of the ledger. */
export const stepTitle: Record<OperationName, string> = {
  import: 'Imported',
  mend: 'Mended',
  size: 'Sized',
  hollow: 'Hollowed',
  divide: 'Divided',
  recut: 'Recut',
  export: 'Exported',
};

/** The one figure of a step. */
export function stepFigure(step: StepView, length: (mm: number) => string): string {
  switch (step.operation) {
    case 'import':
      return whole((step.report as ImportReport).triangles);
    case 'mend': {
      const r = step.report as MendReport;
      return `${r.method}, dev ${length(r.deviation.maxMm)}`;
    }
    case 'size': {
      const { factor } = step.report as SizeReport;
      return factor.x === factor.y && factor.y === factor.z
        ? `×${fixed(factor.x, factor.x >= 10 ? 1 : 2)}`
        : `×${[factor.x, factor.y, factor.z].map((f) => fixed(f, 2)).join(' ')}`;
    }
    case 'hollow':
      return length((step.params as { wall: number }).wall);
    case 'divide':
      return `${whole((step.report as DivideReport).parts.length)} parts`;
    case 'recut':
      return `at ${length((step.report as RecutReport).cutAtMm)}`;
    case 'export':
      return '';
  }
}
