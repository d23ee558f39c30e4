import { riskText } from '@jasmorphe/core/planning/days/planWords';
import { useRatesQuery } from '../app/daysApi.ts';

/** What a time comes to in the mean with what fails, by the printer's own rate; nothing until that is known. */
export function RiskOf({ printerId, seconds }: { printerId: string | null | undefined; seconds: number }) {
  const { data } = useRatesQuery();
  const rate = data?.find((r) => r.printerId === printerId);
  return rate ? <small data-testid="risk">{riskText(seconds, rate)}</small> : null;
}
