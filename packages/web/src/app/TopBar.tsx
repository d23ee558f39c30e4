import Badge from '@mui/material/Badge';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { KeyCap } from '../ui/KeyCap.tsx';
import { Tip } from '../ui/Tip.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { shownKey } from './keys.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { isOpen, useJobs } from './useJobs.ts';
import { setScheme, setUnit, toggleJobs, toggleKeys, type DisplayUnit } from './uiSlice.ts';
import { MoonIcon, SunIcon } from '../ui/icons.tsx';

/** How many are at work, as a figure beside the word. */
const busyLook = {
  '& .MuiBadge-invisible': { display: 'none' },
  '& .MuiBadge-badge': {
    position: 'static',
    transform: 'none',
    marginLeft: '5px',
    minWidth: 0,
    height: 'auto',
    padding: 0,
    background: 'none',
    color: 'var(--ochre)',
    fontFamily: 'var(--mono)',
  },
};

const units: DisplayUnit[] = ['mm', 'in'];

/** Name, place, and the switches that are the same everywhere. */
export function TopBar({ children }: { children?: ReactNode }) {
  const dispatch = useAppDispatch();
  const { unit, scheme } = useAppSelector((s) => s.ui);
  const busy = useJobs((jobs) => jobs.filter(isOpen).length);
  const other = scheme === 'light' ? 'dark' : 'light';
  const schemeName = other === 'dark' ? 'Dark' : 'Light';
  return (
    <header className="topBar">
      <Link to="/" className="wordMark" aria-label="Jasmorphe, to the shelf">
        Jas<b>morphe</b>
      </Link>
      <div className="place">{children}</div>
      <div className="switches" role="group" aria-label="Display">
        <Toggles
          label="Unit of length"
          choices={units.map((u) => ({ value: u, text: u }))}
          on={[unit]}
          onToggle={(u) => dispatch(setUnit(u))}
        />
        <Button variant="text" color="inherit" onClick={() => dispatch(toggleJobs())} data-testid="jobs-button">
          <Badge badgeContent={busy} color="warning" variant="standard" sx={busyLook}>
            Jobs
          </Badge>
        </Button>
        <Button variant="text" color="inherit" component={Link} to="/days">
          Days
        </Button>
        <Button variant="text" color="inherit" component={Link} to="/workshop">
          Workshop
        </Button>
        <Button variant="text" color="inherit" component={Link} to="/">
          Shelf
        </Button>
        <Tip says={schemeName}>
          <IconButton aria-label={schemeName} onClick={() => dispatch(setScheme(other))}>
            {other === 'dark' ? <MoonIcon fontSize="inherit" /> : <SunIcon fontSize="inherit" />}
          </IconButton>
        </Tip>
        <IconButton aria-label="Keys" onClick={() => dispatch(toggleKeys())}>
          <KeyCap>{shownKey('page', 'sheet')}</KeyCap>
        </IconButton>
      </div>
    </header>
  );
}
