import { shelfOf } from '@jasmorphe/contracts/reading/shelf';
import type { PrinterKind } from '@jasmorphe/core/params/checks';
import { calibratedText } from '@jasmorphe/core/planning/days/planWords';
import { materialFor } from '@jasmorphe/core/planning/days/spools';
import { useHoursByLogQuery } from '../app/daysApi.ts';
import { useMaterialsQuery, useSpoolsQuery } from '../workshop/workshopApi.ts';

/**
 * What a time that was worked out comes to by the log of the printer, of the material that its colour is printed of where
 * enough tell of that; nothing while too few prints tell.
 */
export function ByLog({
  printerId,
  seconds,
  kind,
  colour,
}: {
  printerId: string | null | undefined;
  seconds: number;
  kind: PrinterKind;
  colour: string;
}) {
  const { data } = useHoursByLogQuery();
  const { data: spools = [] } = useSpoolsQuery();
  const { data: materials = [] } = useMaterialsQuery();
  const own = data?.filter((r) => r.printerId === printerId) ?? [];
  const material = materialFor({ kind, material: '', colour }, shelfOf(spools, materials));
  const found = own.find((r) => r.material === material) ?? own.find((r) => r.material === '');
  if (!found) return null;
  return <small data-testid="by-log">{calibratedText(seconds, found).replace(/^./, (c) => c.toUpperCase())}</small>;
}
