import type { Finding, Severity } from '@jasmorphe/core/inspect/Finding';
import { asideOf } from '@jasmorphe/core/inspect/findingKeys';
import { descriptionOf, operationNames } from '@jasmorphe/core/operations/catalogue';
import type { Description, Stop } from '@jasmorphe/core/operations/Description';
import { printFindings } from '@jasmorphe/core/planning/printFindings';
import { lastStepOf } from './steps.ts';
import type { BodyView, DismissalView } from './views.ts';

/** A finding as it stands with a body: with the reason for which it was set aside, if it was. */
export interface BodyFinding extends Finding {
  aside: DismissalView | null;
}

const rank: Record<Severity, number> = { failure: 0, attention: 1, note: 2 };
const printStops: readonly Stop[] = ['divide', 'layout', 'print'];

/**
 * What the program measured that matters at a stop, worst first; findings set aside come last. The same on screen, from
 * the API and in the shelf's account.
 *
 * @param stop null for what was measured of the mesh alone
 * @param studied what studies brought up that are being looked at
 */
export function findingsOfBody(body: BodyView, stop: Stop | null, studied: readonly Finding[] = []): BodyFinding[] {
  const all: Finding[] = [...body.mesh.facts.findings, ...studied];
  if (stop !== null) {
    for (const name of operationNames) {
      const { findings, makes } = descriptionOf(name) as unknown as Description;
      if (!findings?.at.includes(stop) || (makes === 'parts' && body.parts.length === 0)) continue;
      const step = lastStepOf(body.line, body.cursor, { name });
      if (step) all.push(...findings.of(step.params, step.report));
    }
    if (printStops.includes(stop))
      all.push(...printFindings(body.parts.map((p) => ({ ...p, min: p.mesh.facts.min, size: p.mesh.facts.size }))));
  }
  const aside = asideOf(all, body.dismissals);
  return all
    .map((f, i) => ({ ...f, aside: aside[i] }))
    .sort((a, b) => Number(a.aside !== null) - Number(b.aside !== null) || rank[a.severity] - rank[b.severity]);
}
