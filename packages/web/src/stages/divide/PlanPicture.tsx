import type { PlanPicture as Picture } from '@jasmorphe/core/planning/cuts/planPicture';
import { useAppSelector } from '../../app/store.ts';
import { tokens } from '../../app/tokens.ts';

/** A pale tint for each part, neighbours a golden angle apart as on the bench. */
const tint = (i: number, dark: boolean): string => `hsl(${(38 + 137.508 * i) % 360} 20% ${dark ? 42 : 70}%)`;

/** The parts of a plan drawn apart, small. */
export function PlanPicture({ picture, of }: { picture: Picture; of: string }) {
  const scheme = useAppSelector((s) => s.ui.scheme);
  const colours = tokens[scheme];
  const { wide, high, parts } = picture;
  return (
    <svg
      width={52}
      height={58}
      viewBox={`-2 -2 ${wide + 4} ${high + 4}`}
      role="img"
      aria-label={`${of}: ${parts.length} ${parts.length === 1 ? 'part' : 'parts'}, drawn apart`}
    >
      {parts.map((rings, i) => (
        <path
          key={i}
          d={rings.map((r) => `M${r.join(' ')}Z`).join('')}
          fill={tint(i, scheme === 'dark')}
          fillRule="evenodd"
          stroke={colours.ink2}
          strokeWidth={1}
        />
      ))}
    </svg>
  );
}
