import { styled } from '@mui/material/styles';

/** The board of days, what is decided beside it, the shelf at the foot. */
export const DaysLayout = styled('div')({
  flex: 1,
  minHeight: 0,
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) 340px',
  gridTemplateRows: 'minmax(0, 1fr) auto',
  '& .board': { display: 'flex', flexDirection: 'column', minWidth: 0, minHeight: 0 },
  '& .boardHead': {
    display: 'flex',
    gap: 14,
    alignItems: 'center',
    padding: '6px 14px',
    borderBottom: '1px solid var(--line2)',
  },
  '& .side': {
    borderLeft: '1px solid var(--line)',
    padding: 16,
    overflowY: 'auto',
    display: 'flex',
    flexDirection: 'column',
    gap: 12,
  },
  // what scrolls by itself would shrink to nothing
  '& .side > *': { flexShrink: 0 },
  '& .side ul': { margin: 0, paddingLeft: 16, display: 'grid', gap: 4 },
  '& .strip': {
    gridColumn: '1 / -1',
    borderTop: '1px solid var(--line)',
    padding: '8px 14px',
    display: 'flex',
    gap: 14,
    flexWrap: 'wrap',
    justifyContent: 'space-between',
  },
  '& .side a': { color: 'var(--verdigris)' },
  '& .whatIf': { overflowX: 'auto' },
  '& .whatIf td': { whiteSpace: 'nowrap', fontSize: 11 },
  '@media (max-width: 860px)': {
    display: 'block',
    overflowY: 'auto',
    '& .board': { height: 420 },
    '& .side': { borderLeft: 0, borderTop: '1px solid var(--line)', overflow: 'visible' },
  },
});
