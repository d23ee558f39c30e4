import { createSvgIcon } from '@mui/material/utils';

const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 2, strokeLinecap: 'round' } as const;

/** Takes away what it stands beside. */
export const CloseIcon = createSvgIcon(<path {...line} d="M6 6 18 18M18 6 6 18" />, 'Close');

/** More that can be done. */
export const MoreIcon = createSvgIcon(
  <>
    <circle cx="12" cy="5" r="2" />
    <circle cx="12" cy="12" r="2" />
    <circle cx="12" cy="19" r="2" />
  </>,
  'More',
);

/** The dark scheme. */
export const MoonIcon = createSvgIcon(
  <path {...line} strokeLinejoin="round" d="M20 14.5A8.5 8.5 0 1 1 9.5 4a7 7 0 0 0 10.5 10.5Z" />,
  'Moon',
);

/** The light scheme. */
export const SunIcon = createSvgIcon(
  <>
    <circle {...line} cx="12" cy="12" r="4" />
    <path
      {...line}
      d="M12 2.5v2M12 19.5v2M2.5 12h2M19.5 12h2M5.3 5.3l1.4 1.4M17.3 17.3l1.4 1.4M5.3 18.7l1.4-1.4M17.3 6.7l1.4-1.4"
    />
  </>,
  'Sun',
);
