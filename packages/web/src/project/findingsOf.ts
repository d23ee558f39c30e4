import { findingsOfBody, tagOf } from '@jasmorphe/contracts/reading/findings';
import type { BodyView } from '@jasmorphe/contracts/views';
import type { Finding } from '@jasmorphe/core/inspect/Finding';
import { findingMethod, findingSentence } from '@jasmorphe/core/inspect/findingWords';
import type { DisplayUnit } from '../app/uiSlice.ts';
import type { ShownFinding } from '../findings/Findings.tsx';
import type { StageId } from '../stages/Stage.ts';

/** What matters at this stop, worst first, numbered for the bench, in words of the unit on display. */
export const findingsOf = (
  body: BodyView,
  stage: StageId,
  unit: DisplayUnit,
  studied: readonly Finding[] = [],
): ShownFinding[] =>
  findingsOfBody(body, stage, studied).map((f, i) => ({
    number: i + 1,
    key: f.key,
    severity: f.severity,
    message: findingSentence(f, unit),
    at: f.at && [f.at.x, f.at.y, f.at.z],
    span: f.spanMm,
    tag: tagOf(f),
    aside: f.aside,
    method: findingMethod(f),
    mends: f.mends,
    lines: f.lines,
  }));
