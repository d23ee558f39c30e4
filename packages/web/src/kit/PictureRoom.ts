import { styled } from '@mui/material/styles';

/** Room for the small picture of a piece, taken whether it is there yet or not. */
export const PictureRoom = styled('span')({
  display: 'block',
  flex: 'none',
  width: 54,
  height: 36,
  '& img': { display: 'block', width: '100%', height: '100%', objectFit: 'contain' },
});
