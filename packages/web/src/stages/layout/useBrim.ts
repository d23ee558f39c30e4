import { useMemo, useState } from 'react';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { PrinterView } from '@jasmorphe/contracts/views';

/** A printer with the brim that one part gets: its own, or that with which the part was laid. */
export function useBrim(
  printer: PrinterView | undefined,
  taken: StepOf<'pose'> | undefined,
): { printer: PrinterView | undefined; brimMm: number; setBrim: (mm: number) => void } {
  const [own, setBrim] = useState<number | null>(null);
  const before = taken?.params.printer ? (taken.params.printer.brimMm ?? 0) : null;
  const brimMm = own ?? before ?? printer?.profile.brimMm ?? 0;
  const brimmed = useMemo(() => printer && { ...printer, profile: { ...printer.profile, brimMm } }, [printer, brimMm]);
  return { printer: brimmed, brimMm, setBrim };
}
