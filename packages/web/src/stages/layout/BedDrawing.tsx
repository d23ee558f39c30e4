import type { DrawnBed } from './beds.ts';
import { TagOnBed } from './TagOnBed.tsx';

/** A bed from above with its parts, as a drawing. */
export function BedDrawing({ bed: { bedMm, printer, parts } }: { bed: DrawnBed }) {
  const [wide, deep] = bedMm;
  return (
    <svg
      viewBox={`-2 -2 ${wide + 4} ${deep + 4}`}
      width="132"
      role="img"
      aria-label={`${printer} from above: ${parts.map((p) => p.tag).join(', ')}`}
    >
      <rect width={wide} height={deep} fill="var(--bench)" stroke="var(--ink2)" strokeWidth={wide / 200} />
      {parts.map(({ tag, at, path }) => (
        // the front of the bed is at the foot of the drawing
        <g key={tag} transform={`translate(${at.x} ${deep - at.y})`}>
          <path d={path} transform="scale(1 -1)" fill="var(--clay)" />
          <TagOnBed tag={tag} size={wide / 12} />
        </g>
      ))}
    </svg>
  );
}
