import Button from '@mui/material/Button';
import CssBaseline from '@mui/material/CssBaseline';
import { StyledEngineProvider, ThemeProvider } from '@mui/material/styles';
import { useEffect, useLayoutEffect, useMemo } from 'react';
import { BrowserRouter, Link, Route, Routes } from 'react-router';
import { JobsTray } from '../jobs/JobsTray.tsx';
import { Shelf } from '../shelf/Shelf.tsx';
import { lazyPart } from './Boundary.tsx';
import { AtStake } from './AtStake.tsx';
import { LinkNote } from './LinkNote.tsx';
import { TopBar } from './TopBar.tsx';
import { KeysSheet } from './KeysSheet.tsx';
import { Notices } from './Notices.tsx';
import { useSettingsQuery } from '../workshop/workshopApi.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { setUnit } from './uiSlice.ts';
import { themeOf } from './theme.ts';

const ProjectPage = lazyPart(() => import('../project/ProjectPage.tsx'));
const WorkshopPage = lazyPart(() => import('../workshop/WorkshopPage.tsx'));
const DaysPage = lazyPart(() => import('../days/DaysPage.tsx'));
const BookPage = lazyPart(() => import('../book/BookPage.tsx'));
const KitPage = lazyPart(() => import('../kit/KitPage.tsx'));

function NoSuchPage() {
  return (
    <div className="page">
      <TopBar />
      <main className="shelf">
        <h1 className="question">There is no such page</h1>
        <p className="quiet">The address may be old, or was typed with a slip.</p>
        <Button variant="text" component={Link} to="/">
          To the shelf
        </Button>
      </main>
    </div>
  );
}

/** A browser that nobody has chosen a unit in takes the workshop's. */
function useUsualUnit(): void {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.ui.unitChosen);
  const { data: settings } = useSettingsQuery(undefined, { skip: chosen });
  useEffect(() => {
    if (settings && !chosen) dispatch(setUnit(settings.unit));
  }, [settings, chosen, dispatch]);
}

export function App() {
  useUsualUnit();
  const scheme = useAppSelector((s) => s.ui.scheme);
  const theme = useMemo(() => themeOf(scheme), [scheme]);
  useLayoutEffect(() => document.documentElement.setAttribute('data-scheme', scheme), [scheme]);
  return (
    // page layout and bench overlays come after the components' own styles
    <StyledEngineProvider injectFirst>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<Shelf />} />
            <Route path="/project/:projectId/kit" element={<KitPage />} />
            <Route path="/project/:projectId/book" element={<BookPage />} />
            <Route path="/project/:projectId/:stage?" element={<ProjectPage />} />
            <Route path="/days" element={<DaysPage />} />
            <Route path="/workshop/:room?" element={<WorkshopPage />} />
            <Route path="*" element={<NoSuchPage />} />
          </Routes>
          <AtStake />
          <LinkNote />
          <JobsTray />
          <KeysSheet />
          <Notices />
        </BrowserRouter>
      </ThemeProvider>
    </StyledEngineProvider>
  );
}
