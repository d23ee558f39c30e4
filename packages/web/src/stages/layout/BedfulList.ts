import { styled } from '@mui/material/styles';

/** Bedfuls below one another, each drawn at the left. */
export const BedfulList = styled('ol')({
  listStyle: 'none',
  margin: 0,
  padding: 0,
  display: 'grid',
  gap: 10,
  width: '100%',
  '& > li': { display: 'grid', gridTemplateColumns: '132px 1fr', gap: 10, alignItems: 'start' },
});
