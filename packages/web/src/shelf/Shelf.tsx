import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useCallback, useRef } from 'react';
import { useNavigate } from 'react-router';
import { useCreateProjectMutation, useHealthQuery, useJobsQuery, useShelfQuery, wordsOf } from '../app/api.ts';
import { useTitle } from '../app/useTitle.ts';
import { TopBar } from '../app/TopBar.tsx';
import { JobLine } from '../jobs/JobsTray.tsx';
import { DropSheet } from '../project/DropSheet.tsx';
import { FilePicker } from '../project/FilePicker.tsx';
import { projectNameOf } from '../project/projectName.ts';
import { useImport } from '../project/useImport.ts';
import { Note } from '../ui/Note.tsx';
import { ProjectCard } from './ProjectCard.tsx';

/** Home: every project as a card, with what needs attention today. */
export function Shelf() {
  const { data: projects, error, isLoading } = useShelfQuery();
  const { data: jobs = [] } = useJobsQuery();
  const [create] = useCreateProjectMutation();
  const navigate = useNavigate();
  const pick = useRef<() => void>(() => undefined);
  const { data: health } = useHealthQuery();
  useTitle('Shelf');
  const newProject = useCallback(
    async (files: File[]): Promise<string | null> => {
      const made = await create({ name: projectNameOf(files) });
      if (!made.data) return null;
      void navigate(`/project/${made.data.id}/intake`);
      return made.data.id;
    },
    [create, navigate],
  );
  const { over, importFiles } = useImport(newProject);
  const imports = jobs.filter((j) => j.kind === 'import' && (j.state === 'running' || j.state === 'queued'));
  return (
    <div className="page">
      <TopBar>
        <b>Shelf</b>
      </TopBar>
      <main className="shelf">
        <div className="shelfHead">
          <h1 className="question">{projects?.length === 0 ? 'The shelf is empty' : 'On the shelf'}</h1>
          <Button variant="contained" onClick={() => pick.current()}>
            Import a model
          </Button>
          <FilePicker open={pick} onFiles={(files) => void importFiles(files)} />
        </div>
        {error !== undefined && (
          <Note tone="failure">
            <b>{wordsOf(error).message}</b> {wordsOf(error).hint}
          </Note>
        )}
        {health?.problems.map((p) => (
          <Note key={p.code} tone="failure">
            <b>{p.message}</b> {p.hint}
          </Note>
        ))}
        {isLoading && <LinearProgress aria-label="Loading" />}
        {imports.map((job) => (
          <JobLine key={job.id} job={job} />
        ))}
        {projects?.length === 0 && (
          <p className="quiet">
            Drop STL, OBJ, PLY or 3MF files, a folder of them or a ZIP anywhere on this page to begin a project.
          </p>
        )}
        <div className="cards">
          {projects?.map((p) => (
            <ProjectCard key={p.id} project={p} />
          ))}
        </div>
      </main>
      {over && <DropSheet>Drop to begin a project</DropSheet>}
    </div>
  );
}
