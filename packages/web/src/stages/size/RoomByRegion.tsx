import type { RegionClearance } from '@jasmorphe/core/worn/clearance';
import { useLength } from '../../app/useLength.ts';
import { FigureTable } from '../../ui/FigureTable.tsx';

/** Room between a body and a piece, region by region. */
export function RoomByRegion({ regions }: { regions: RegionClearance[] }) {
  const length = useLength();
  return (
    <FigureTable
      label="Room by region"
      heads={['Region', 'Least', '5 %', 'Typical']}
      rows={regions.map((r) => ({
        key: r.name,
        cells: [r.name, length(r.leastMm, false), length(r.p05Mm, false), length(r.typicalMm, false)],
        marked: r.leastMm < 0,
      }))}
    />
  );
}
