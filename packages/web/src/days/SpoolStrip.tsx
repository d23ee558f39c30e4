import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import { spoolsFor } from '@jasmorphe/core/planning/days/planWords';
import { countOf, massText, secondsText } from '@jasmorphe/core/words/numbers';

/** What is on the shelf, what is to be bought, and how many hours of one's own it takes. */
export function SpoolStrip({ plan }: { plan: DaysPlan }) {
  return (
    <footer className="strip figure">
      <span>
        <span className="label">On the shelf</span>{' '}
        {plan.spools.length === 0
          ? 'no spool or bottle is listed'
          : plan.spools
              .map((s) => `${s.name} ${massText(s.leftG + s.usedG)}${s.usedG > 0 ? `, ${massText(s.leftG)} then` : ''}`)
              .join(' · ')}
      </span>
      <span>
        {plan.buy.length === 0
          ? 'Nothing to buy'
          : `To buy: ${plan.buy
              .map(
                (b) =>
                  `${[b.colour, b.material || b.kind].filter(Boolean).join(' ')} ${massText(b.grams)} (${countOf(spoolsFor(b.grams), b.kind === 'resin' ? 'bottle' : 'spool')} of 1 kg; ${massText(b.allowanceG)} of it for failures)`,
              )
              .join(' · ')}`}
        {plan.days.length > 0 && ` · ${secondsText(plan.handsS)} of your own`}
      </span>
    </footer>
  );
}
