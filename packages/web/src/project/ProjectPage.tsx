import LinearProgress from '@mui/material/LinearProgress';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import {
  useBodyQuery,
  useJobsQuery,
  useMoveLineMutation,
  useMovePrintMutation,
  usePrintersQuery,
  useProjectQuery,
  useRemoveProjectMutation,
  wordsOf,
} from '../app/api.ts';
import { whole } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../app/Boundary.tsx';
import { useLength } from '../app/useLength.ts';
import { useKeys } from '../app/keys.ts';
import { useTitle } from '../app/useTitle.ts';
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
import { partInHand, PrintDecision } from '../stages/print/PrintDecision.tsx';
import { LookDecision, LookList } from '../stages/size/LookDecision.tsx';
import { lookIds, type LookId } from '../stages/size/looks.ts';
import { SizeDecision } from '../stages/size/SizeDecision.tsx';
import { routeOf, stageIds, stageNames, type StageId } from '../stages/stages.ts';
import { ToolDecision, ToolList } from '../tools/ToolDecision.tsx';
import { toolIds, type ToolId } from '../tools/tools.ts';
import { findingsOf } from './findingsOf.ts';
import { Route } from './Route.tsx';
import { RefusedFiles } from './RefusedFiles.tsx';
import { useImport } from './useImport.ts';

const Bench = lazyPart(() => import('../bench/Bench.tsx'), <div className="benchWait">Setting up the bench</div>);

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
      return <PrintDecision body={body} printers={printers} />;
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
  const [movePrint] = useMovePrintMutation();
  const partId = useAppSelector((s) => s.bench.partId);
  const laid = useAppSelector((s) => s.bench.laid);
  const { data: jobs = [] } = useJobsQuery();
  const studied = useAppSelector((s) => s.bench.studied);
  const unit = useAppSelector((s) => s.ui.unit);
  const findings = useMemo(() => findingsOf(body, stage, unit, studied), [body, stage, unit, studied]);
  const flags = useMemo<BenchFlag[]>(
    () =>
      findings
        .filter((f) => f.at !== null && f.aside === null)
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
  const inHand = stage === 'print' ? partInHand(body, partId) : undefined;
  const lying = inHand && laid ? inHand : null;
  // at the printer only what was said and done there is undone; the model's line is undone at its other stops
  const undo = (way: 'undo' | 'redo') => {
    if (body.busyJobId !== null) return;
    if (stage === 'print') {
      if (inHand && (way === 'undo' ? inHand.canUndoPrint : inHand.canRedoPrint))
        void movePrint({ partId: inHand.id, modelId: body.id, way });
    } else if (way === 'undo' ? body.canUndo : body.canRedo) void move({ bodyId: body.id, way });
  };
  useKeys({
    ArrowDown: () => walk(1),
    ArrowUp: () => walk(-1),
    Escape: () => {
      dispatch(pickFinding(null));
      dispatch(pickPart(null));
    },
    u: () => undo('undo'),
    'Shift+u': () => undo('redo'),
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
  const open = findings.filter((f) => f.aside === null).length;
  return (
    <>
      <Route stops={stops} stage={stage} to={to} />
      <div className="workbench">
        <aside className="panel left" aria-label="Findings">
          {parts.length > 0 && <PartsTable body={body} printers={printers} />}
          <div className="panelHead">
            <b>
              {open} {open === 1 ? 'finding' : 'findings'}
            </b>
            <span className="figure">{whole(body.mesh.facts.triangles)} triangles</span>
          </div>
          <Findings findings={findings} bodyId={body.id} empty={emptyWords[stage]} />
        </aside>
        <main className="benchPlace">
          <Bench
            hash={body.mesh.hash}
            facts={body.mesh.facts}
            parts={parts}
            flags={flags}
            caption={
              lying
                ? `${lying.tag} as it lies on the bed, ${length(lying.heightMm)} high`
                : `${length(size.x, false)} × ${length(size.y, false)} × ${length(size.z)}`
            }
            lying={lying}
          />
          <BenchTools body={body} atPrinter={inHand !== undefined} />
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
  // a model of another project in the address is none of this one
  const wanted = search.get('model');
  const modelId = project?.modelIds.find((id) => id === wanted) ?? project?.modelIds[0];
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
    (j) => j.projectId === projectId && j.kind === 'import' && (j.state === 'running' || j.state === 'queued'),
  );
  const to = useCallback(
    (id: StageId) => `/project/${projectId}/${id}${modelId && search.get('model') ? `?model=${modelId}` : ''}`,
    [projectId, modelId, search],
  );
  const [removeProject] = useRemoveProjectMutation();
  const uploading = useAppSelector((s) => s.ui.uploads.some((u) => u.projectId === projectId));
  useTitle(project ? `${project.name}, ${stageNames[stage]}` : 'Project');
  const trouble = error ?? bodyError;
  return (
    <div className="page project">
      <TopBar>
        {project && (
          <>
            <span className="slash">/</span>
            <b>{project.name}</b>
            <span className="label quiet">{project.note}</span>
            {project.models.length > 1 && (
              <select
                className="modelPick"
                aria-label="Model"
                value={modelId}
                onChange={(e) => void navigate(`/project/${projectId}/${stage}?model=${e.target.value}`)}
              >
                {project.models.map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.name}
                  </option>
                ))}
              </select>
            )}
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
      <RefusedFiles projectId={projectId} />
      {body && trouble === undefined ? (
        <Workbench body={body} stage={stage} printers={printers} to={to} />
      ) : (
        project &&
        trouble === undefined && (
          <main className="shelf">
            {imports.length > 0 ? (
              imports.map((j) => <JobLine key={j.id} job={j} />)
            ) : modelId || uploading ? (
              <LinearProgress aria-label="Loading" />
            ) : (
              <>
                <p className="emptyState">Drop an STL, OBJ, PLY or 3MF file here to begin.</p>
                <button
                  type="button"
                  className="plain accent"
                  onClick={() => void removeProject(projectId).then(() => navigate('/'))}
                >
                  Take this empty project off the shelf
                </button>
              </>
            )}
          </main>
        )
      )}
      {over && <div className="dropSheet">Drop to import into this project</div>}
    </div>
  );
}
