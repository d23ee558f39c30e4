import LinearProgress from '@mui/material/LinearProgress';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import {
  useBodyQuery,
  useJobsQuery,
  useMoveLineMutation,
  usePrintersQuery,
  useProjectQuery,
  useRemoveProjectMutation,
  wordsOf,
} from '../app/api.ts';
import { whole } from '../app/figures.ts';
import { useLength } from '../app/useLength.ts';
import { useKeys } from '../app/keys.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { TopBar } from '../app/TopBar.tsx';
import type { BenchFlag } from '../bench/Bench.tsx';
import { clearBench, pickFinding, pickPart, setExplode } from '../bench/benchSlice.ts';
import { BenchTools, FetchFiles } from '../bench/BenchTools.tsx';
import { Findings } from '../findings/Findings.tsx';
import { JobLine } from '../jobs/JobsTray.tsx';
import { Ledger } from '../ledger/Ledger.tsx';
import { DivideDecision } from '../stages/divide/DivideDecision.tsx';
import { FinishDecision } from '../stages/finish/FinishDecision.tsx';
import { HollowDecision } from '../stages/hollow/HollowDecision.tsx';
import { IntakeDecision } from '../stages/intake/IntakeDecision.tsx';
import { LayoutDecision } from '../stages/layout/LayoutDecision.tsx';
import { MendDecision } from '../stages/mend/MendDecision.tsx';
import { PartsTable } from '../stages/PartsTable.tsx';
import { PrintDecision } from '../stages/print/PrintDecision.tsx';
import { LookDecision, LookList } from '../stages/size/LookDecision.tsx';
import { lookIds, type LookId } from '../stages/size/looks.ts';
import { SizeDecision } from '../stages/size/SizeDecision.tsx';
import { routeOf, stageIds, type StageId } from '../stages/stages.ts';
import { ToolDecision, ToolList } from '../tools/ToolDecision.tsx';
import { toolIds, type ToolId } from '../tools/tools.ts';
import { findingsOf } from './findingsOf.ts';
import { Route } from './Route.tsx';
import { newProjectName, useImport } from './useImport.ts';

const Bench = lazy(() => import('../bench/Bench.tsx'));

/** Stops at which the skin may also be worked on by other means than the one of the route. */
const stagesWithTools: StageId[] = ['intake', 'mend', 'size'];

function StageDecision({ stage, body, printers }: { stage: StageId; body: BodyView; printers: PrinterView[] }) {
  const [search, setSearch] = useSearchParams();
  const tool = toolIds.find((id) => id === search.get('tool'));
  const look = lookIds.find((id) => id === search.get('tool'));
  const open = (id: ToolId | LookId | null) =>
    setSearch((s) => {
      if (id) s.set('tool', id);
      else s.delete('tool');
      return s;
    });
  if (tool && stagesWithTools.includes(stage) && body.parts.length === 0)
    return (
      <ToolDecision key={`${tool}|${body.id}|${body.mesh.hash}`} body={body} toolId={tool} onClose={() => open(null)} />
    );
  if (look && stage === 'size')
    return (
      <LookDecision
        key={`${look}|${body.id}|${body.mesh.hash}`}
        look={look}
        body={body}
        printers={printers}
        onClose={() => open(null)}
      />
    );
  return (
    <>
      <OwnDecision stage={stage} body={body} printers={printers} onBody={() => open('body')} />
      {stage === 'size' && <LookList onOpen={open} />}
      {stagesWithTools.includes(stage) && body.parts.length === 0 && <ToolList onOpen={open} />}
    </>
  );
}

function OwnDecision({
  stage,
  body,
  printers,
  onBody,
}: {
  stage: StageId;
  body: BodyView;
  printers: PrinterView[];
  onBody: () => void;
}) {
  // a fresh start whenever the line changes, so that no field keeps a figure of an earlier state
  const key = `${body.id}|${body.cursor}|${body.line.map((s) => s.id.slice(0, 8)).join()}`;
  switch (stage) {
    case 'intake':
      return <IntakeDecision key={key} body={body} />;
    case 'mend':
      return <MendDecision key={key} body={body} />;
    case 'size':
      return <SizeDecision key={key} body={body} printers={printers} onBody={onBody} />;
    case 'hollow':
      return <HollowDecision key={key} body={body} printers={printers} />;
    case 'divide':
      return <DivideDecision key={key} body={body} printers={printers} />;
    case 'layout':
      return <LayoutDecision body={body} printers={printers} />;
    case 'print':
      return <PrintDecision body={body} />;
    case 'finish':
      return <FinishDecision body={body} />;
  }
}

const emptyWords: Record<StageId, string> = {
  intake: 'Nothing stands out in the file.',
  mend: 'Nothing is wrong: no open edge, no crossing, one way round.',
  size: 'Nothing at this size needs a word.',
  hollow: 'Nothing stands in the way of hollowing.',
  divide: 'Nothing stands in the way of cutting.',
  layout: 'Nothing to say of the parts.',
  print: 'Every print so far went well.',
  finish: 'Nothing to say before finishing.',
};

function Workbench({
  body,
  stage,
  printers,
  to,
}: {
  body: BodyView;
  stage: StageId;
  printers: PrinterView[];
  to: (id: StageId) => string;
}) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const length = useLength();
  const finding = useAppSelector((s) => s.bench.finding);
  const [move] = useMoveLineMutation();
  const { data: jobs = [] } = useJobsQuery();
  const studied = useAppSelector((s) => s.bench.studied);
  const findings = useMemo(() => findingsOf(body, stage, length, studied), [body, stage, length, studied]);
  const flags = useMemo<BenchFlag[]>(
    () =>
      findings
        .filter((f) => f.at !== null && f.dismissed === null)
        .map((f) => ({ number: f.number, tone: f.severity, at: f.at!, span: f.span, lines: f.lines })),
    [findings],
  );
  const showParts = stageIds.indexOf(stage) >= stageIds.indexOf('divide');
  const parts = useMemo(() => (showParts ? body.parts : []), [showParts, body.parts]);
  useEffect(() => {
    dispatch(pickFinding(null));
    dispatch(setExplode(stage === 'divide' && parts.length > 0 ? 0.5 : 0));
  }, [stage, parts.length, body.mesh.hash, dispatch]);
  const walk = (by: number) =>
    findings.length > 0 &&
    dispatch(
      pickFinding(
        (((((finding ?? (by > 0 ? 0 : 1)) - 1 + by) % findings.length) + findings.length) % findings.length) + 1,
      ),
    );
  useKeys({
    ArrowDown: () => walk(1),
    ArrowUp: () => walk(-1),
    Escape: () => {
      dispatch(pickFinding(null));
      dispatch(pickPart(null));
    },
    u: () => body.canUndo && void move({ bodyId: body.id, way: 'undo' }),
    'Shift+u': () => body.canRedo && void move({ bodyId: body.id, way: 'redo' }),
    ...Object.fromEntries(stageIds.map((id, i) => [String(i + 1), () => void navigate(to(id))])),
  });
  const stops = useMemo(() => routeOf(body, length), [body, length]);
  const size = body.mesh.facts.size;
  const working = jobs.filter(
    (j) =>
      (j.bodyId === body.id || body.parts.some((p) => p.id === j.bodyId)) &&
      j.kind === 'line' &&
      (j.state === 'running' || j.state === 'queued'),
  );
  const open = findings.filter((f) => f.dismissed === null).length;
  return (
    <>
      <Route stops={stops} stage={stage} to={to} />
      <div className="workbench">
        <aside className="panel left" aria-label="Findings">
          {parts.length > 0 && <PartsTable body={body} />}
          <div className="panelHead">
            <b>
              {open} {open === 1 ? 'finding' : 'findings'}
            </b>
            <span className="figure">{whole(body.mesh.facts.triangles)} triangles</span>
          </div>
          <Findings findings={findings} bodyId={body.id} empty={emptyWords[stage]} />
        </aside>
        <main className="benchPlace">
          <Suspense fallback={<div className="benchWait">Setting up the bench</div>}>
            <Bench
              hash={body.mesh.hash}
              facts={body.mesh.facts}
              parts={parts}
              flags={flags}
              caption={`${length(size.x, false)} × ${length(size.y, false)} × ${length(size.z)}`}
            />
          </Suspense>
          <BenchTools body={body} />
          <FetchFiles body={body} />
          {working.length > 0 && (
            <div className="working" role="status">
              {working.map((j) => (
                <JobLine key={j.id} job={j} />
              ))}
            </div>
          )}
        </main>
        <aside className="panel right">
          <StageDecision stage={stage} body={body} printers={printers} />
        </aside>
      </div>
      <Ledger body={body} />
    </>
  );
}

/** A project: route, findings, bench, decision, ledger. */
export function ProjectPage() {
  const { projectId = '', stage: given } = useParams();
  const [search] = useSearchParams();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { data: project, error } = useProjectQuery(projectId);
  const { data: jobs = [] } = useJobsQuery();
  const { data: printers = [] } = usePrintersQuery();
  const modelId = search.get('model') ?? project?.modelIds[0];
  const { data: body, error: bodyError } = useBodyQuery(modelId ?? '', { skip: !modelId });
  const input = useRef<HTMLInputElement>(null);
  const target = useCallback(async () => projectId, [projectId]);
  const { over, importFiles } = useImport(target);
  const guess: StageId = body
    ? (routeOf(body, String).find((s) => s.state === 'attention' || s.state === 'open')?.id ?? 'print')
    : 'intake';
  const stage: StageId = stageIds.find((s) => s === given) ?? guess;
  useEffect(() => void dispatch(clearBench()), [projectId, modelId, dispatch]);
  useEffect(() => {
    if (body && given !== stage)
      void navigate(`/project/${projectId}/${stage}${search.size > 0 ? `?${search.toString()}` : ''}`, {
        replace: true,
      });
  }, [body, given, stage, projectId, search, navigate]);
  const imports = jobs.filter(
    (j) =>
      j.projectId === projectId &&
      j.kind === 'import' &&
      j.state !== 'done' &&
      j.state !== 'cancelled' &&
      (j.state !== 'failed' || !modelId),
  );
  const to = useCallback(
    (id: StageId) => `/project/${projectId}/${id}${modelId && search.get('model') ? `?model=${modelId}` : ''}`,
    [projectId, modelId, search],
  );
  // a project that was begun for a file which then could not be read is not left on the shelf
  const [removeProject] = useRemoveProjectMutation();
  const own = jobs.filter((j) => j.projectId === projectId);
  const inVain =
    project?.modelIds.length === 0 &&
    project.name === newProjectName &&
    own.length > 0 &&
    own.every((j) => j.kind === 'import' && (j.state === 'failed' || j.state === 'cancelled'));
  useEffect(() => {
    if (inVain) void removeProject(projectId).then(() => navigate('/', { replace: true }));
  }, [inVain, projectId, removeProject, navigate]);
  const trouble = error ?? bodyError;
  return (
    <div className="page project">
      <TopBar>
        {project && (
          <>
            <span className="slash">/</span>
            <b>{project.name}</b>
            <span className="label quiet">{project.note}</span>
            {project.modelIds.length > 1 &&
              project.modelIds.map((id, i) => (
                <Link
                  key={id}
                  className={`plain figure${id === modelId ? ' on' : ''}`}
                  to={`/project/${projectId}/${stage}?model=${id}`}
                >
                  model {i + 1}
                </Link>
              ))}
            <button type="button" className="plain accent" onClick={() => input.current?.click()}>
              Import …
            </button>
            <input
              ref={input}
              type="file"
              hidden
              multiple
              accept=".stl,.obj,.ply,.3mf"
              onChange={(e) => void importFiles(e.target.files ?? [])}
              data-testid="file-input"
            />
          </>
        )}
      </TopBar>
      {trouble !== undefined && (
        <main className="shelf">
          <p className="warningBox failure">
            <b>{wordsOf(trouble).message}</b> {wordsOf(trouble).hint}
          </p>
          <Link to="/">To the shelf</Link>
        </main>
      )}
      {body && trouble === undefined ? (
        <Workbench body={body} stage={stage} printers={printers} to={to} />
      ) : (
        project &&
        trouble === undefined && (
          <main className="shelf">
            {imports.length > 0 ? (
              imports.map((j) => <JobLine key={j.id} job={j} />)
            ) : modelId ? (
              <LinearProgress aria-label="Loading" />
            ) : (
              <p className="emptyState">Drop an STL, OBJ, PLY or 3MF file here to begin.</p>
            )}
          </main>
        )
      )}
      {over && <div className="dropSheet">Drop to import into this project</div>}
    </div>
  );
}
