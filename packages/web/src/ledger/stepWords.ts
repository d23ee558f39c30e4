import type { CropReport } from '@jasmorphe/core/operations/crop/crop';
import type { DivideReport } from '@jasmorphe/core/operations/divide/divide';
import type { FootReport } from '@jasmorphe/core/operations/foot/foot';
import type { ImportReport } from '@jasmorphe/core/operations/import/importMesh';
import type { MendReport } from '@jasmorphe/core/operations/mend/mend';
import type { MirrorReport } from '@jasmorphe/core/operations/mirror/mirror';
import type { RecutReport } from '@jasmorphe/core/operations/recut/recut';
import type { RefineReport } from '@jasmorphe/core/operations/refine/refine';
import type { OperationName } from '@jasmorphe/core/operations/registry';
import type { SimplifyReport } from '@jasmorphe/core/operations/simplify/simplify';
import type { SizeReport } from '@jasmorphe/core/operations/size/size';
import type { ThickenReport } from '@jasmorphe/core/operations/thicken/thicken';
import type { StepView } from '@jasmorphe/contracts/views';
import { countOf, fixed, whole } from '../app/figures.ts';

const past: Partial<Record<OperationName, string>> = {
  foot: 'Given a foot',
  scan: 'Scanned by stand-in',
  divide: 'Divided',
  simplify: 'Simplified',
  recut: 'Recut',
  sample: 'Cut as a test piece',
};

/** What a step did, in the past tense of the ledger. */
export const stepTitle = (name: OperationName): string =>
  past[name] ??
  `${name.charAt(0).toUpperCase()}${name.slice(1)}${name.endsWith('e') ? 'd' : name === 'crop' ? 'ped' : 'ed'}`;

/** The one figure of a step. */
export function stepFigure(step: StepView, length: (mm: number) => string): string {
  switch (step.operation) {
    case 'import':
      return whole((step.report as ImportReport).triangles);
    case 'mend': {
      const r = step.report as MendReport;
      return `${r.method}, dev ${length(r.deviation.maxMm)}`;
    }
    case 'crop':
      return `−${whole((step.report as CropReport).trianglesBefore - (step.report as CropReport).trianglesAfter)}`;
    case 'mirror':
      return `across ${(step.report as MirrorReport).axis}`;
    case 'foot':
      return length((step.report as FootReport).heightMm);
    case 'refine':
    case 'simplify':
      return whole((step.report as RefineReport | SimplifyReport).trianglesAfter);
    case 'scan':
      return `seed ${whole((step.params as { seed: number }).seed)}`;
    case 'size': {
      const { factor } = step.report as SizeReport;
      return factor.x === factor.y && factor.y === factor.z
        ? `×${fixed(factor.x, factor.x >= 10 ? 1 : 2)}`
        : `×${[factor.x, factor.y, factor.z].map((f) => fixed(f, 2)).join(' ')}`;
    }
    case 'hollow':
      return length((step.params as { wall: number }).wall);
    case 'divide':
      return countOf((step.report as DivideReport).parts.length, 'part');
    case 'recut':
      return `at ${length((step.report as RecutReport).cutAtMm)}`;
    case 'thicken':
      return `to ${length((step.report as ThickenReport).minMm)}`;
    default:
      return '';
  }
}
