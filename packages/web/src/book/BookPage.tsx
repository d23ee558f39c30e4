import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Link from '@mui/material/Link';
import { useEffect, useRef, useState } from 'react';
import { Link as RouteLink, useParams } from 'react-router';
import { hrefOf } from '../app/addresses.ts';
import { useProjectQuery, wordsOf } from '../app/api.ts';
import { TopBar } from '../app/TopBar.tsx';
import { useTitle } from '../app/useTitle.ts';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { useSettingsQuery } from '../workshop/workshopApi.ts';
import { Actions } from '../ui/layout.ts';

type Paper = 'a4' | 'letter';

const tables = ['parts', 'bedfuls', 'days', 'shopping', 'assembly'] as const;

/** The PDF of a book, fetched: its address in this page, or what the server said instead. */
function useBook(projectId: string, paper: Paper | undefined): { url: string | null; trouble: string | null } {
  const [state, setState] = useState<{ url: string | null; trouble: string | null }>({ url: null, trouble: null });
  useEffect(() => {
    if (!paper) return;
    const stop = new AbortController();
    let url: string | null = null;
    const fetchIt = async (): Promise<void> => {
      setState({ url: null, trouble: null });
      const answer = await fetch(hrefOf('GET /projects/{id}/book', { id: projectId }, { paper }), {
        signal: stop.signal,
      });
      if (!answer.ok) {
        const { message, hint } = wordsOf({ data: (await answer.json().catch(() => null)) as unknown });
        setState({ url: null, trouble: `${message} ${hint}` });
        return;
      }
      url = URL.createObjectURL(await answer.blob());
      if (stop.signal.aborted) URL.revokeObjectURL(url);
      else setState({ url, trouble: null });
    };
    fetchIt().catch(() => {
      if (stop.signal.aborted) return;
      const { message, hint } = wordsOf(null);
      setState({ url: null, trouble: `${message} ${hint}` });
    });
    return () => {
      stop.abort();
      if (url) URL.revokeObjectURL(url);
    };
  }, [projectId, paper]);
  return state;
}

/** The build book of a project, to be looked at, printed and taken along. */
export default function BookPage() {
  const { projectId = '' } = useParams();
  const { data: project, error } = useProjectQuery(projectId);
  const { data: settings, isError: noSettings } = useSettingsQuery();
  const [chosen, choose] = useState<Paper | null>(null);
  const paper = chosen ?? settings?.paper ?? (noSettings ? 'a4' : undefined);
  const { url, trouble } = useBook(projectId, error === undefined ? paper : undefined);
  const frame = useRef<HTMLIFrameElement>(null);
  useTitle(project ? `${project.name}, build book` : 'Build book');
  const path = { id: projectId };
  const said = error !== undefined ? wordsOf(error).message : trouble;
  return (
    <div className="page">
      <TopBar>
        <span className="slash">/</span>
        <b>{project && <RouteLink to={`/project/${projectId}`}>{project.name}</RouteLink>}</b>
        <span className="label quiet">Build book</span>
      </TopBar>
      <main className="bookPage">
        <Actions>
          <Toggles
            label="Paper"
            head="Paper"
            choices={[
              { value: 'a4', text: 'A4' },
              { value: 'letter', text: 'Letter' },
            ]}
            on={paper ? [paper] : []}
            onToggle={choose}
          />
          <Button variant="contained" disabled={!url} onClick={() => frame.current?.contentWindow?.print()}>
            Print it
          </Button>
          <Link href={hrefOf('GET /projects/{id}/book', path, { paper: paper ?? 'a4' })} underline="hover" download>
            Fetch it as PDF
          </Link>
          <span className="quiet">Tables:</span>
          {tables.map((t) => (
            <Link
              key={t}
              href={hrefOf('GET /projects/{id}/book/tables/{table}', { ...path, table: `${t}.csv` })}
              underline="hover"
              download
            >
              {t}
            </Link>
          ))}
          <Link href={hrefOf('GET /projects/{id}/book/tables', path)} underline="hover" download>
            all as JSON
          </Link>
        </Actions>
        {said !== null && (
          <Note tone="failure" role="alert">
            {said}
          </Note>
        )}
        {!url && said === null && (
          <>
            <LinearProgress aria-label="Drawing the book" />
            <p className="quiet">Drawing every part in lines. The first time takes longer.</p>
          </>
        )}
        {url && <iframe ref={frame} src={url} title="Build book" data-testid="book" />}
      </main>
    </div>
  );
}
