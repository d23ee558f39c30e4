import { calibratedText } from '@jasmorphe/core/planning/days/planWords';
import { useHoursByLogQuery } from '../app/daysApi.ts';

/** What a time that was worked out comes to by the log of the printer; nothing while too few prints tell. */
export function ByLog({ printerId, seconds }: { printerId: string | null | undefined; seconds: number }) {
  const { data } = useHoursByLogQuery();
  const found = data?.find((r) => r.printerId === printerId && r.material === '');
  if (!found) return null;
  return <small data-testid="by-log">{calibratedText(seconds, found).replace(/^./, (c) => c.toUpperCase())}</small>;
}
