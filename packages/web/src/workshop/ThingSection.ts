import { styled } from '@mui/material/styles';
import { ActionsAtHand } from '../ui/layout.ts';

/** A form of the workshop. */
export const ThingSection = styled('section')({
  display: 'grid',
  gap: 12,
  maxWidth: 620,
  // there is room for long answers
  '& .MuiInput-root:has(select)': { maxWidth: 420 },
  '& > fieldset': { border: 0, borderTop: '1px solid var(--line)', margin: 0, padding: '6px 0 0' },
});

/** Its buttons, on the ground of the page. */
export const ThingActions = styled(ActionsAtHand)({
  bottom: -24,
  margin: 0,
  padding: '8px 0 28px',
  background: 'var(--paper)',
});

/** What can be done with a thing, in its row. */
export const RowActs = styled('span')({ display: 'inline-flex', gap: 12, fontFamily: 'var(--sans)' });
