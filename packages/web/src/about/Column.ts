import { styled } from '@mui/material/styles';

/** One of the two columns of what is said about a thing. */
export const Column = styled('section')({
  display: 'grid',
  gap: 12,
  alignContent: 'start',
  '& figure': { margin: 0 },
  '& img': { maxWidth: '100%', maxHeight: 220 },
});
