import List from '@mui/material/List';
import ListItem from '@mui/material/ListItem';
import { styled } from '@mui/material/styles';

/** Things in lines, each with what can be done with it. Numbered ones: `component="ol"`. */
export const Rows = styled(List)({ width: '100%', fontSize: 12 }) as typeof List;
export const Row = styled(ListItem)({
  padding: 0,
  gap: 8,
  justifyContent: 'space-between',
  borderTop: '1px solid var(--line2)',
  '& > button': { flex: 'none' },
});
