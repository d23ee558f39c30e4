import { clockText, latenessText, whatIfName } from '@jasmorphe/core/planning/days/planWords';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import type { WhatIf } from '@jasmorphe/core/planning/days/whatIfs';
import { massText, secondsText } from '@jasmorphe/core/words/numbers';
import { FigureTable } from '../ui/FigureTable.tsx';

type Compared = Omit<WhatIf, 'kind' | 'what'>;

/** The plan beside how it would be with one thing changed. */
export function WhatIfTable({ plan, others }: { plan: DaysPlan; others: readonly WhatIf[] }) {
  const all: Compared[] = [plan, ...others];
  const late = all.some((c) => c.lateProbability !== null);
  const short = (at: string | null): string => clockText(at, false).split(' ').slice(0, 2).join(' ');
  const row = (key: string, of: (c: Compared) => string, says?: string) => ({
    key,
    cells: [key, ...all.map(of)],
    ...(says ? { says } : {}),
  });
  return (
    <div className="whatIf">
      <FigureTable
        label="What if"
        heads={['', 'As planned', ...others.map(whatIfName)]}
        rows={[
          row('Ready', (c) => short(c.ready), 'if nothing fails'),
          row('9 of 10 by', (c) => short(c.readyP90), 'from 400 courses of failures'),
          ...(late
            ? [
                row(
                  'Late',
                  (c) => `${Math.round(100 * (c.lateProbability ?? 0))} %`,
                  latenessText(plan.lateProbability ?? 0),
                ),
              ]
            : []),
          row('Printing', (c) => secondsText(c.printS), 'with other settings by volume and skin of the parts'),
          row('Your own', (c) => secondsText(c.handsS), 'beds, resin, glue and seams'),
          row('Material', (c) => massText(c.materialG)),
        ]}
      />
    </div>
  );
}
