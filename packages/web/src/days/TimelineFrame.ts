import { styled } from '@mui/material/styles';

/** Width of the names at the left, px. */
export const namesPx = 118;

/** The sheet that days are drawn on. */
export const TimelineFrame = styled('div')({
  position: 'relative',
  overflow: 'auto',
  flex: 1,
  minWidth: 0,
  background: 'var(--sheet)',
  '& .sheet': { position: 'relative', minHeight: '100%' },
  '& .day': { position: 'absolute', top: 0, bottom: 0, borderLeft: '1px solid var(--line)' },
  '& .day.weekend': { background: 'var(--paper)' },
  '& .day > b': { position: 'sticky', top: 0, display: 'block', padding: '8px 6px', whiteSpace: 'nowrap' },
  '& .home': { position: 'absolute', top: 34, height: 5, background: 'var(--verdigris)' },
  '& .now': { position: 'absolute', top: 30, bottom: 0, borderLeft: '2px solid var(--madder)', zIndex: 3 },
  '& .now span': {
    position: 'absolute',
    bottom: 4,
    left: 4,
    color: 'var(--madder)',
    fontWeight: 600,
    whiteSpace: 'nowrap',
    background: 'var(--sheet)',
  },
  '& .row': { position: 'absolute', left: 0, right: 0, borderTop: '1px solid var(--line2)' },
  '& .name': {
    position: 'sticky',
    left: 0,
    width: namesPx,
    padding: '10px 8px 0 14px',
    zIndex: 4,
    background: 'var(--sheet)',
    height: '100%',
    boxSizing: 'border-box',
  },
  '& .name small': { fontFamily: 'var(--mono)', fontSize: 10.5 },
  '& .hand': {
    position: 'absolute',
    display: 'flex',
    gap: 5,
    alignItems: 'center',
    whiteSpace: 'nowrap',
    fontSize: 11.5,
  },
  '& .hand::before': {
    content: '""',
    width: 7,
    height: 7,
    borderRadius: '50%',
    background: 'var(--verdigris)',
    flex: 'none',
  },
  '& .wait': {
    position: 'absolute',
    top: 8,
    height: 44,
    border: '1px dashed var(--ink3)',
    borderRadius: 3,
    padding: '4px 6px',
    fontSize: 11.5,
    overflow: 'hidden',
    whiteSpace: 'nowrap',
  },
  '& .tail': { position: 'absolute', top: 29, height: 1, background: 'var(--ink3)' },
  '& .path': { position: 'absolute', top: 28, height: 3, background: 'var(--verdigris)' },
});
