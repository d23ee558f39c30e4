import Button from '@mui/material/Button';
import { useCallback, useRef } from 'react';
import { useNavigate } from 'react-router';
import { useCreateProjectMutation, useJobsQuery, useShelfQuery, wordsOf } from '../app/api.ts';
import { TopBar } from '../app/TopBar.tsx';
import { JobLine } from '../jobs/JobsTray.tsx';
import { newProjectName, useImport } from '../project/useImport.ts';
import { ProjectCard } from './ProjectCard.tsx';

const accepted = '.stl,.obj,.ply,.3mf';

/** Home: every project as a card, with what needs attention today. */
export function Shelf() {
  const { data: projects, error, isLoading } = useShelfQuery();
  const { data: jobs = [] } = useJobsQuery();
  const [create] = useCreateProjectMutation();
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const newProject = useCallback(async (): Promise<string | null> => {
    const made = await create({ name: newProjectName });
    if (!made.data) return null;
    void navigate(`/project/${made.data.id}/intake`);
    return made.data.id;
  }, [create, navigate]);
  const { over, importFiles } = useImport(newProject);
  const imports = jobs.filter((j) => j.kind === 'import' && (j.state === 'running' || j.state === 'queued'));
  return (
    <div className="page">
      <TopBar>
        <b>Shelf</b>
      </TopBar>
      <main className="shelf">
        <div className="shelfHead">
          <h1 className="question">{projects && projects.length > 0 ? 'On the shelf' : 'The shelf is empty'}</h1>
          <Button variant="contained" onClick={() => input.current?.click()}>
            Import a model
          </Button>
          <input
            ref={input}
            type="file"
            hidden
            multiple
            accept={accepted}
            onChange={(e) => void importFiles(e.target.files ?? [])}
            data-testid="file-input"
          />
        </div>
        {error !== undefined && (
          <p className="warningBox failure">
            {wordsOf(error).message} {wordsOf(error).hint}
          </p>
        )}
        {imports.map((job) => (
          <JobLine key={job.id} job={job} />
        ))}
        {!isLoading && projects?.length === 0 && (
          <p className="quiet">Drop an STL, OBJ, PLY or 3MF file anywhere on this page to begin a project.</p>
        )}
        <div className="cards">
          {projects?.map((p) => (
            <ProjectCard key={p.id} project={p} />
          ))}
        </div>
      </main>
      {over && <div className="dropSheet">Drop to begin a project</div>}
    </div>
  );
}
