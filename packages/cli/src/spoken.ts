import type { Finding } from '@jasmorphe/core/inspect/Finding';
import { codesOf } from '@jasmorphe/core/inspect/findingKeys';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';

/** Findings with a name within their list and their sentence in mm, for scripts. */
export function spokenFindings(findings: readonly Finding[]): (Finding & { code: string; message: string })[] {
  const codes = codesOf(findings);
  return findings.map((f, i) => ({ ...f, code: codes[i], message: findingSentence(f) }));
}

const hasFindings = (v: unknown): v is { findings: Finding[] } =>
  typeof v === 'object' && v !== null && Array.isArray((v as { findings?: unknown }).findings);

/** A report with its findings, and those of the inspections in it, spoken. */
export function spoken(report: object): object {
  return Object.fromEntries(
    Object.entries(report).map(([key, value]) => [
      key,
      key === 'findings' && Array.isArray(value)
        ? spokenFindings(value as Finding[])
        : hasFindings(value)
          ? spoken(value)
          : (value as unknown),
    ]),
  );
}
