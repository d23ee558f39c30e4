import type { BodyView, StepView } from '@jasmorphe/contracts/views';

/** What a step will do when it replays on another mesh: which of its figures it keeps. */
function replayWords(step: StepView, length: (mm: number) => string): string | null {
  const p = step.params as Record<string, unknown>;
  switch (step.operation) {
    case 'mend':
      return 'mending is worked out anew';
    case 'size':
      return p.factor
        ? `size keeps its factor of ${Number((p.factor as number).toPrecision(6))}`
        : p.to
          ? `size keeps ${length(p.to as number)} along ${String(p.axis)}`
          : p.bed
            ? 'size fills the same bed'
            : 'size keeps its ways and figures';
    case 'hollow':
      return `hollow keeps its wall of ${length(p.wall as number)}`;
    case 'thicken':
      return `walls are grown to ${length(p.min as number)} again`;
    case 'divide':
      return p.at ? 'divide keeps its own cuts' : 'divide cuts for the same bed, in as many parts as it then takes';
    case 'foot':
      return 'the foot is cut again';
    case 'crop':
      return 'the crop keeps its place';
    default:
      return null;
  }
}

/** What the steps in force after one of them will do once it is changed; empty when there are none. */
export function laterWords(body: BodyView, index: number, length: (mm: number) => string): string {
  const words = body.line
    .slice(index + 1, body.cursor)
    .map((s) => replayWords(s, length))
    .filter((w) => w !== null);
  if (words.length === 0) return '';
  return `After it ${words.join('; ')}.`;
}
