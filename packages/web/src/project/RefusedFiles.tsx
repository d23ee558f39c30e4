import Button from '@mui/material/Button';
import { Bullets } from '../ui/layout.ts';
import { Note } from '../ui/Note.tsx';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { forgetRefused } from '../app/uiSlice.ts';
import { useJobs } from '../app/useJobs.ts';

/** Files that were dropped and could not be read, each with why; the others went in. */
export function RefusedFiles({ projectId }: { projectId: string }) {
  const dispatch = useAppDispatch();
  const { refused, forgotten } = useAppSelector((s) => s.ui);
  const failed = useJobs((jobs) =>
    jobs.filter(
      (j) => j.projectId === projectId && j.kind === 'import' && j.state === 'failed' && !forgotten.includes(j.id),
    ),
  )
    .map((j) => ({ id: j.id, fileName: j.title.replace(/^Import /, ''), why: j.error?.message ?? 'It failed.' }))
    .reverse();
  const list = [...refused.filter((r) => r.projectId === projectId).map((r, i) => ({ ...r, id: `r${i}` })), ...failed];
  if (list.length === 0) return null;
  return (
    <Note
      tone="failure"
      sx={{ flex: 'none', maxHeight: '30vh', overflowY: 'auto' }}
      role="alert"
      data-testid="refused-files"
    >
      <b>
        {list.length} {list.length === 1 ? 'file' : 'files'} could not be read. The others are in.
      </b>
      <Bullets>
        {list.map((r) => (
          <li key={r.id}>
            <b>{r.fileName}</b> {r.why}
          </li>
        ))}
      </Bullets>
      <Button variant="text" onClick={() => dispatch(forgetRefused(failed.map((f) => f.id)))}>
        Close
      </Button>
    </Note>
  );
}
