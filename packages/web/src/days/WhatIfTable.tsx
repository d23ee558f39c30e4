import type { ReactNode } from 'react';
import { clockText, latenessText, whatIfName } from '@jasmorphe/core/planning/days/planWords';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import type { WhatIf } from '@jasmorphe/core/planning/days/whatIfs';
import { massText, secondsText } from '@jasmorphe/core/words/numbers';
import { FigureTable } from '../ui/FigureTable.tsx';
import { Tip } from '../ui/Tip.tsx';

type Compared = Omit<WhatIf, 'kind' | 'what'>;

const day = (at: string | null): string => clockText(at, false).split(' ').slice(0, 2).join(' ');

const head = (of: ReactNode, says: string): ReactNode => (
  <Tip says={says}>
    <span>{of}</span>
  </Tip>
);

/** One figure above another. */
const pair = (above: string, below: string): ReactNode => (
  <>
    {above}
    <br />
    <span className="quiet">{below}</span>
  </>
);

/** The plan above how it would be with one thing changed. */
export function WhatIfTable({ plan, others }: { plan: DaysPlan; others: readonly WhatIf[] }) {
  const all: (Compared & { name: string })[] = [
    { ...plan, name: 'As planned' },
    ...others.map((o) => ({ ...o, name: whatIfName(o) })),
  ];
  const late = all.some((c) => c.lateProbability !== null);
  return (
    <div className="whatIf">
      <FigureTable
        label="What if"
        heads={[
          '',
          head(
            pair('Ready', '9 of 10'),
            'Above: if nothing fails. Below: nine times of ten, from 400 courses of failures',
          ),
          ...(late ? [head('Late', latenessText(plan.lateProbability ?? 0))] : []),
          head(
            pair('Printing', 'yours'),
            'Above: with other settings or cuts by volume and skin of the parts; parts of other cuts are put on beds by their boxes. Below: beds, resin, glue and seams',
          ),
          'Material',
        ]}
        rows={all.map((c, i) => ({
          key: `${i}${c.name}`,
          cells: [
            c.name,
            pair(day(c.ready), day(c.readyP90)),
            ...(late ? [`${Math.round(100 * (c.lateProbability ?? 0))} %`] : []),
            pair(secondsText(c.printS), secondsText(c.handsS)),
            massText(c.materialG),
          ],
        }))}
      />
    </div>
  );
}
