import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import ListItemText from '@mui/material/ListItemText';
import ListSubheader from '@mui/material/ListSubheader';

export interface Offer<T extends string> {
  id: T;
  name: string;
  summary: string;
  testId: string;
}

/** What else can be opened here, each with a word on what it is for. */
export function Offers<T extends string>({
  head,
  offers,
  onOpen,
}: {
  head: string;
  offers: readonly Offer<T>[];
  onOpen: (id: T) => void;
}) {
  return (
    <List
      component="nav"
      sx={{ borderTop: '1px solid var(--line)', padding: '12px 16px 16px' }}
      aria-label={head}
      subheader={<ListSubheader component="div">{head}</ListSubheader>}
    >
      {offers.map(({ id, name, summary, testId }) => (
        <ListItemButton key={id} component="button" onClick={() => onOpen(id)} data-testid={testId}>
          <ListItemText primary={name} secondary={summary} />
        </ListItemButton>
      ))}
    </List>
  );
}
