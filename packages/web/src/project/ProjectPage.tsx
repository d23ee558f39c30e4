import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import NativeSelect from '@mui/material/NativeSelect';
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { BodyView, ProjectView } from '@jasmorphe/contracts/views';
import { useBodyQuery, usePrintersQuery, useProjectQuery, useRemoveProjectMutation, wordsOf } from '../app/api.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { TopBar } from '../app/TopBar.tsx';
import { isOpen, useJobs } from '../app/useJobs.ts';
import { useAddressNote } from '../app/useAddressNote.ts';
import { useTitle } from '../app/useTitle.ts';
import { clearBench } from '../bench/benchSlice.ts';
import { JobLine } from '../jobs/JobsTray.tsx';
import { stageIds, type StageId } from '../stages/Stage.ts';
import { routeOf, stages } from '../stages/stages.ts';
import { Note } from '../ui/Note.tsx';
import { DropSheet } from './DropSheet.tsx';
import { FilePicker } from './FilePicker.tsx';
import { OfferedVersions } from './OfferedVersions.tsx';
import { RefusedFiles } from './RefusedFiles.tsx';
import { useImport } from './useImport.ts';
import { Workbench } from './Workbench.tsx';

const AboutPiece = lazyPart(() => import('../about/AboutPiece.tsx'));

/** Which project and which of its models one is at, and the way to bring in more. */
function Place({
  project,
  body,
  modelId,
  stage,
  importFiles,
}: {
  project: ProjectView;
  body: BodyView | undefined;
  modelId: string | undefined;
  stage: StageId;
  importFiles: (files: Iterable<File>) => Promise<void>;
}) {
  const navigate = useNavigate();
  const pick = useRef<() => void>(() => undefined);
  const [about, setAbout] = useState(false);
  return (
    <>
      <span className="slash">/</span>
      <b>{project.name}</b>
      <span className="label quiet">{project.note}</span>
      {project.models.length > 1 && (
        <NativeSelect
          value={modelId}
          inputProps={{ 'aria-label': 'Model' }}
          sx={{ maxWidth: 220 }}
          onChange={(e) => void navigate(`/project/${project.id}/${stage}?model=${e.target.value}`)}
        >
          {project.models.map((m) => (
            <option key={m.id} value={m.id}>
              {m.name}
            </option>
          ))}
        </NativeSelect>
      )}
      {project.models.length > 1 && (
        <Link to={`/project/${project.id}/kit`} data-testid="to-kit">
          Kit of {project.models.length}
        </Link>
      )}
      {body && (
        <Button variant="text" onClick={() => setAbout(true)}>
          About
        </Button>
      )}
      {about && body && <AboutPiece body={body} onClose={() => setAbout(false)} />}
      <Button variant="text" onClick={() => pick.current()}>
        Import …
      </Button>
      <FilePicker open={pick} onFiles={(files) => void importFiles(files)} />
    </>
  );
}

/** A project that has no model yet. */
function NoModel({ projectId, loading }: { projectId: string; loading: boolean }) {
  const imports = useJobs((jobs) => jobs.filter((j) => j.projectId === projectId && j.kind === 'import' && isOpen(j)));
  const navigate = useNavigate();
  const [remove] = useRemoveProjectMutation();
  return (
    <main className="shelf">
      {imports.length > 0 ? (
        <>
          {imports.slice(0, 3).map((j) => (
            <JobLine key={j.id} job={j} />
          ))}
          {imports.length > 3 && <p className="quiet">and {imports.length - 3} more</p>}
        </>
      ) : loading ? (
        <LinearProgress aria-label="Loading" />
      ) : (
        <>
          <p className="emptyState">Drop STL, OBJ, PLY or 3MF files, a folder of them or a ZIP here to begin.</p>
          <Button
            variant="text"
            onClick={() => void remove(projectId).then(({ error }) => error === undefined && navigate('/'))}
          >
            Take this empty project off the shelf
          </Button>
        </>
      )}
    </main>
  );
}

/** A project: route, findings, bench, decision, ledger. */
export default function ProjectPage() {
  const { projectId = '', stage: given } = useParams();
  const [search] = useSearchParams();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { data: project, error } = useProjectQuery(projectId);
  const { data: printers = [] } = usePrintersQuery();
  // a model of another project in the address is none of this one
  const wanted = search.get('model');
  const modelId = project?.modelIds.find((id) => id === wanted) ?? project?.modelIds[0];
  const { data: body, error: bodyError } = useBodyQuery(modelId ?? '', { skip: !modelId });
  useAddressNote(
    wanted !== null && project && !project.modelIds.includes(wanted)
      ? `${project.name} has no such model as the address asks for.`
      : null,
  );
  useAddressNote(
    given !== undefined && !stageIds.some((s) => s === given) ? `There is no stop "${given.slice(0, 40)}".` : null,
  );
  const target = useCallback(async () => projectId, [projectId]);
  const { over, importFiles } = useImport(target);
  const guess: StageId = body
    ? (routeOf(body, String).find((s) => s.state === 'attention' || s.state === 'open')?.id ??
      stageIds[stageIds.length - 1])
    : stageIds[0];
  const stage: StageId = stageIds.find((s) => s === given) ?? guess;
  // before anything on it says what the bench shall show: a body that was fetched a moment ago is there at once
  useLayoutEffect(() => void dispatch(clearBench()), [projectId, modelId, dispatch]);
  useEffect(() => {
    if (body && given !== stage)
      void navigate(`/project/${projectId}/${stage}${search.size > 0 ? `?${search.toString()}` : ''}`, {
        replace: true,
      });
  }, [body, given, stage, projectId, search, navigate]);
  const to = useCallback(
    (id: StageId) => `/project/${projectId}/${id}${modelId && search.get('model') ? `?model=${modelId}` : ''}`,
    [projectId, modelId, search],
  );
  const uploading = useAppSelector((s) => s.ui.uploads.some((u) => u.projectId === projectId));
  useTitle(project ? `${project.name}, ${stages[stage].title}` : 'Project');
  const trouble = error ?? bodyError;
  return (
    <div className="page project">
      <TopBar>
        {project && <Place project={project} body={body} modelId={modelId} stage={stage} importFiles={importFiles} />}
      </TopBar>
      <RefusedFiles projectId={projectId} />
      <OfferedVersions projectId={projectId} />
      {trouble !== undefined ? (
        <main className="shelf">
          <Note tone="failure">
            <b>{wordsOf(trouble).message}</b> {wordsOf(trouble).hint}
          </Note>
          <Button variant="text" component={Link} to="/">
            To the shelf
          </Button>
        </main>
      ) : body ? (
        <Workbench body={body} stage={stage} printers={printers} to={to} />
      ) : (
        project && <NoModel projectId={projectId} loading={modelId !== undefined || uploading} />
      )}
      {over && <DropSheet>Drop to import into this project</DropSheet>}
    </div>
  );
}
