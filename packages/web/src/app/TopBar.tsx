import DarkModeOutlined from '@mui/icons-material/DarkModeOutlined';
import LightModeOutlined from '@mui/icons-material/LightModeOutlined';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useJobsQuery } from './api.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { setScheme, setUnit, toggleJobs, toggleKeys, type DisplayUnit } from './uiSlice.ts';

/** Name, place, and the switches that are the same everywhere. */
export function TopBar({ children }: { children?: ReactNode }) {
  const dispatch = useAppDispatch();
  const { unit, scheme } = useAppSelector((s) => s.ui);
  const { data: jobs = [] } = useJobsQuery();
  const busy = jobs.filter((j) => j.state === 'running' || j.state === 'queued').length;
  return (
    <header className="topBar">
      <Link to="/" className="wordMark" aria-label="Jasmorphe, to the shelf">
        Jas<b>morphe</b>
      </Link>
      <div className="place">{children}</div>
      <div className="switches" role="group" aria-label="Display">
        {(['mm', 'in'] as DisplayUnit[]).map((u) => (
          <button
            key={u}
            type="button"
            className={`plain figure${unit === u ? ' on' : ''}`}
            aria-pressed={unit === u}
            onClick={() => dispatch(setUnit(u))}
          >
            {u}
          </button>
        ))}
        <button type="button" className="plain" onClick={() => dispatch(toggleJobs())} data-testid="jobs-button">
          Jobs{busy > 0 && <b className="count">{busy}</b>}
        </button>
        <Link to="/" className="plain">
          Shelf
        </Link>
        <button
          type="button"
          className="plain icon"
          aria-label={scheme === 'light' ? 'Dark' : 'Light'}
          onClick={() => dispatch(setScheme(scheme === 'light' ? 'dark' : 'light'))}
        >
          {scheme === 'light' ? <DarkModeOutlined fontSize="inherit" /> : <LightModeOutlined fontSize="inherit" />}
        </button>
        <button type="button" className="key" aria-label="Keys" onClick={() => dispatch(toggleKeys())}>
          ?
        </button>
      </div>
    </header>
  );
}
