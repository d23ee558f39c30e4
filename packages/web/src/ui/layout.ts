import { styled } from '@mui/material/styles';

/** Buttons beside one another. */
export const Actions = styled('div')({ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 8, marginTop: 6 });

/** The same at the foot of a card: the button stays at hand and does not move while figures arrive above it. */
export const ActionsAtHand = styled(Actions)({
  position: 'sticky',
  bottom: 0,
  zIndex: 2,
  margin: '2px -16px 0',
  padding: '8px 16px',
  background: 'var(--sheet)',
  borderTop: '1px solid var(--line2)',
});

/** A piece of a card with a head of its own. */
export const Block = styled('section')({
  borderTop: '1px solid var(--line2)',
  paddingTop: 10,
  display: 'grid',
  gap: 6,
  justifyItems: 'start',
});

/** Sentences below one another, each with a dot. */
export const Bullets = styled('ul')({ margin: 0, paddingLeft: 18 });

/** Names and figures, two pairs in a line: `dt` and `dd`. */
export const FigurePairs = styled('dl')({
  display: 'grid',
  gridTemplateColumns: 'auto 1fr auto 1fr',
  gap: '2px 10px',
  margin: 0,
  '& dt': { color: 'var(--ink2)' },
  '& dd': { margin: 0 },
});

/** Files of a part to fetch, in a sentence; on a phone each is as high as a finger. */
export const FetchLine = styled('div')({
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'center',
  gap: '4px 14px',
  color: 'var(--ink2)',
  '& a': { minHeight: 40, display: 'inline-flex', alignItems: 'center' },
});

/** What cannot be, among figures. */
export const Failed = styled('strong')({ color: 'var(--madder)', fontWeight: 700 });

/** A chart that is clicked on. */
export const ChartFigure = styled('figure')({
  margin: '4px 0 6px',
  '& figcaption': { color: 'var(--ink2)', marginBottom: 4 },
  '& .recharts-wrapper': { cursor: 'crosshair' },
});

/** A spot of a colour. */
export const Swatch = styled('i')({
  display: 'inline-block',
  width: 14,
  height: 14,
  border: '1px solid var(--line)',
  borderRadius: 3,
  marginRight: 4,
  verticalAlign: -2,
});
