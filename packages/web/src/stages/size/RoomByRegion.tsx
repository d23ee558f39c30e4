import type { RegionClearance } from '@jasmorphe/core/worn/clearance';
import { useLength } from '../../app/useLength.ts';

/** Room between a body and a piece, region by region. */
export function RoomByRegion({ regions }: { regions: RegionClearance[] }) {
  const length = useLength();
  return (
    <table className="readingList" aria-label="Room by region">
      <thead>
        <tr>
          <th>Region</th>
          <th>Least</th>
          <th>5 %</th>
          <th>Typical</th>
        </tr>
      </thead>
      <tbody>
        {regions.map((r) => (
          <tr key={r.name} className={r.leastMm < 0 ? 'suspect' : ''}>
            <td>{r.name}</td>
            <td className="figure">{length(r.leastMm, false)}</td>
            <td className="figure">{length(r.p05Mm, false)}</td>
            <td className="figure">{length(r.typicalMm, false)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
