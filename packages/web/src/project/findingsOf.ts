import type { BodyView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { Severity } from '@jasmorphe/core/inspect/Finding';
import type { ShownFinding } from '../findings/Findings.tsx';
import { ownStep, type StageId } from '../stages/stages.ts';

/** What was measured is said in mm; where inches are on display the lengths in its sentence become inches. */
function inUnit(message: string, length: (mm: number) => string): string {
  if (!length(25.4).endsWith(' in')) return message;
  return message.replace(/(\d[\d\u2009 ]*(?:\.\d+)?) mm\b(?![²³])/g, (_, figure: string) =>
    length(Number(figure.replace(/[\u2009 ]/g, ''))),
  );
}

interface Raw {
  code: string;
  severity: Severity;
  message: string;
  at: [number, number, number] | null;
  span: number;
  method?: string;
  mends?: string[];
  lines?: number[];
}

/** What the program measured that matters at this stop, worst first; findings set aside come last. */
export function findingsOf(
  body: BodyView,
  stage: StageId,
  length: (mm: number) => string,
  studied: Raw[] = [],
): ShownFinding[] {
  const raw: Raw[] = body.mesh.facts.findings.map((f) => ({
    code: f.code,
    severity: f.severity,
    message: inUnit(f.message, length),
    at: [f.at.x, f.at.y, f.at.z],
    span: f.spanMm,
    method: {
      counted: 'counted, exactly',
      sampled: 'seen at points spread over the skin',
      likely: 'likely, by its shape',
    }[f.sure],
    mends: f.mends,
    lines: f.lines,
  }));
  raw.push(...studied);
  const intake = ownStep(body, catalogue.import);
  if ((stage === 'intake' || stage === 'size') && intake) {
    const r = intake.step.report;
    for (const note of r.notes ?? [])
      raw.push({
        code: 'file-note',
        severity: 'attention',
        message: note,
        at: null,
        span: 0,
        method: 'read in the file',
      });
    if (r.unitFrom === 'guess')
      raw.push({
        code: 'unit-guess',
        severity: 'attention',
        message: `The file states no unit. ${r.unit} was taken: ${r.unitReason}.`,
        at: null,
        span: 0,
        method: 'from the largest side, common practice',
      });
  }
  const hollow = ownStep(body, catalogue.hollow);
  if (hollow?.inForce && (stage === 'hollow' || stage === 'print' || stage === 'layout')) {
    const r = hollow.step.report;
    // an open underside drains by itself
    const open = hollow.step.params.openBase;
    const undrained = open ? 0 : r.cavities.filter((c) => c.drains.length < 2).length;
    if (undrained > 0)
      raw.push({
        code: 'undrained',
        severity: 'note',
        message: `${undrained} ${undrained === 1 ? 'cavity has' : 'cavities have'} fewer than two drains. Nothing for filament; a resin print could be torn off the plate.`,
        at: null,
        span: 0,
        method: 'common practice',
      });
  }
  if (body.parts.length > 0 && (stage === 'divide' || stage === 'layout' || stage === 'print')) {
    const r = ownStep(body, catalogue.divide)?.step.report;
    for (const p of r?.parts ?? [])
      if (!p.fits)
        raw.push({
          code: `too-large-${p.tag}`,
          severity: 'failure',
          message: `${p.tag} does not fit the bed in any pose.`,
          at: centreOf(p),
          span: Math.max(p.size.x, p.size.y, p.size.z),
          method: '3 000 poses, then a climb from the best',
        });
    const slivers = (r?.parts ?? []).filter((p) => Math.max(p.size.x, p.size.y, p.size.z) < 15);
    if (slivers.length > 0)
      raw.push({
        code: 'slivers',
        severity: 'attention',
        message: `${slivers.length} ${slivers.length === 1 ? 'part is a sliver' : 'parts are slivers'} under 15 mm: ${slivers
          .slice(0, 6)
          .map((p) => p.tag)
          .join(', ')}${slivers.length > 6 ? ' …' : ''}.`,
        at: centreOf(slivers[0]),
        span: 15,
        method: 'longest side of each part',
      });
    for (const p of body.parts) {
      const rest = p.rests > 0 && p.state === 'planned';
      if (p.state !== 'failed' && !rest) continue;
      raw.push({
        code: `stopped-${p.id}`,
        severity: rest ? 'attention' : 'failure',
        message: rest
          ? `${p.tag}, the rest of a part that stopped, waits to be printed.`
          : `${p.tag} stopped at ${length(p.failedAtMm ?? 0)}. Decide what can be saved.`,
        at: centreOf({ min: p.mesh.facts.min, size: p.mesh.facts.size }),
        span: p.mesh.facts.size.z,
        method: 'print log',
      });
    }
  }
  const rank: Record<Severity, number> = { failure: 0, attention: 1, note: 2 };
  const aside = new Map(body.dismissals.map((d) => [d.code, d.reason]));
  return raw
    .sort((a, b) => Number(aside.has(a.code)) - Number(aside.has(b.code)) || rank[a.severity] - rank[b.severity])
    .map((f, i) => ({ ...f, number: i + 1, dismissed: aside.get(f.code) ?? null }));
}

const centreOf = (p: {
  min: { x: number; y: number; z: number };
  size: { x: number; y: number; z: number };
}): [number, number, number] => [p.min.x + p.size.x / 2, p.min.y + p.size.y / 2, p.min.z + p.size.z / 2];
