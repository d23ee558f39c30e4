import type { Advice } from '@jasmorphe/core/planning/advice';
import { Block, Bullets } from '../../ui/layout.ts';

/** What to set in the layer program for a part as it lies, each with its reason. */
export function AdviceOfPart({ advice }: { advice: readonly Advice[] }) {
  if (advice.length === 0) return null;
  return (
    <Block aria-label="Advice">
      <div className="label">Set for it</div>
      <Bullets>
        {advice.map(({ text, reason }) => (
          <li key={text}>
            {text} <small>{reason.replace(/^./, (c) => c.toUpperCase())}.</small>
          </li>
        ))}
      </Bullets>
    </Block>
  );
}
