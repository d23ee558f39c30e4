import { styled } from '@mui/material/styles';

/** A key of the keyboard. */
export const KeyCap = styled('span')(({ theme }) => ({
  fontFamily: 'var(--mono)',
  fontSize: 10.5,
  fontWeight: 400,
  border: '1px solid var(--line)',
  borderRadius: theme.shape.borderRadius,
  padding: '1px 5px',
  color: 'var(--ink2)',
  display: 'inline-block',
  lineHeight: 1.4,
  '.MuiButton-contained &': { color: 'inherit', borderColor: 'currentcolor', marginLeft: 8, opacity: 0.75 },
}));
