import { ofPart, severityRank, type Finding } from '@jasmorphe/core/inspect/Finding';
import { asideOf, codesOf, namedKey } from '@jasmorphe/core/inspect/findingKeys';
import { stageFinding } from '@jasmorphe/core/inspect/stageFinding';
import { catalogue, descriptionOf, operationNames } from '@jasmorphe/core/operations/catalogue';
import type { Stop } from '@jasmorphe/core/operations/Description';
import { printFindings } from '@jasmorphe/core/planning/printFindings';
import { isWaiting } from '@jasmorphe/core/planning/printState';
import { poseAfter } from './poses.ts';
import { stopsOf } from './stops.ts';
import { lastStepOf } from '../steps.ts';
import type { BodyView, DismissalView, PartView } from '../views.ts';

/** A finding as it stands with a body: with the reason for which it was set aside, if it was. */
export type BodyFinding = Finding & {
  /** its kind, with a number behind it where there are several: changes with the mesh, unlike `key` */
  code: string;
  aside: DismissalView | null;
};

const printsOf = ({ parts }: BodyView): Finding[] =>
  printFindings(parts.map((p) => ({ ...p, min: p.mesh.facts.min, size: p.mesh.facts.size })));

/** What of a body wants to be looked at today: prints that stopped, rests that wait, and how much there is to mend. */
export function attentionOf(body: BodyView): Finding[] {
  const failures = findingsOfBody(body, null).filter((f) => f.severity === 'failure' && f.aside === null);
  const { name, id } = body;
  return [
    ...printsOf(body),
    ...(failures.length > 0
      ? [stageFinding('to-mend', 'failure', { name, count: failures.length }, { name: id })]
      : []),
  ];
}

/** What is to be minded of how parts lie, each by its tag; what starts in mid-air is for whoever looks at that part. */
const posesIn = ({ parts }: BodyView): Finding[] =>
  parts.flatMap(({ line, cursor, tag, posed }) => {
    const step = posed && poseAfter(line, cursor);
    if (!step) return [];
    return (catalogue.pose.findings?.of(step.params, step.report) ?? [])
      .filter((f) => f.severity !== 'note')
      .map((f) => ({ ...ofPart(f, tag), key: f.at ? f.key : namedKey(f.kind, tag) }));
  });

/** What is to be minded of stops that are kept with a part that waits. */
export function stopFindings(part: PartView): Finding[] {
  const kept = isWaiting(part) ? stopsOf(part) : null;
  if (!kept) return [];
  const { tag } = part;
  if (kept.lapsed) return [stageFinding('stops-lapsed', 'attention', { tag }, { name: tag })];
  const { params, report } = kept.step;
  return (catalogue.stops.findings?.of(params, report) ?? []).map((f) => ({
    ...ofPart(f, tag),
    key: namedKey(f.kind, `${tag} ${f.key}`),
  }));
}

/** The part that a finding is about; empty where it is about none in particular. */
export const tagOf = ({ values }: Pick<Finding, 'values'>): string => values.tag ?? '';

/** What is said of a part as a whole is not said again where another step tells the same of it, and where it is. */
const saidOnce = (all: readonly Finding[]): Finding[] =>
  all.filter((f) => {
    const tag = tagOf(f);
    return f.at || tag === '' || !all.some((g) => g.at && g.kind === f.kind && tagOf(g) === tag);
  });

/** Findings that no operation of the model's own line brings up, and the stops at which they matter. */
const ofParts: readonly { at: readonly Stop[]; of: (body: BodyView) => Finding[] }[] = [
  { at: ['divide', 'layout', 'print'], of: printsOf },
  { at: ['layout'], of: posesIn },
  { at: ['layout', 'print'], of: (body) => body.parts.flatMap(stopFindings) },
];

/**
 * What the program measured that matters at a stop, worst first; findings set aside come last. The same on screen and
 * from the API.
 *
 * @param stop null for what was measured of the mesh alone
 * @param studied what studies brought up that are being looked at
 */
export function findingsOfBody(body: BodyView, stop: Stop | null, studied: readonly Finding[] = []): BodyFinding[] {
  const all: Finding[] = [...body.mesh.facts.findings, ...studied];
  if (stop !== null) {
    for (const name of operationNames) {
      const { findings, makes } = descriptionOf(name);
      if (!findings?.at.includes(stop) || (makes === 'parts' && body.parts.length === 0)) continue;
      const step = lastStepOf(body.line, body.cursor, { name });
      if (step) all.push(...findings.of(step.params, step.report));
    }
    for (const { at, of } of ofParts) if (at.includes(stop)) all.push(...of(body));
  }
  const said = saidOnce(all);
  const codes = codesOf(said);
  const aside = asideOf(said, body.dismissals);
  return said
    .map((f, i) => ({ ...f, code: codes[i], aside: aside[i] }))
    .sort(
      (a, b) =>
        Number(a.aside !== null) - Number(b.aside !== null) || severityRank[a.severity] - severityRank[b.severity],
    );
}
