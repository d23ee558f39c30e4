import { memo, useEffect, useMemo } from 'react';
import { shallowEqual } from 'react-redux';
import { useNavigate, useSearchParams } from 'react-router';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { sizeText, whole } from '@jasmorphe/core/words/numbers';
import { useBodyQuery, useMoveLineMutation, useMovePrintMutation } from '../app/api.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useKeys } from '../app/keys.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { isOpen, useJobs } from '../app/useJobs.ts';
import { useLength } from '../app/useLength.ts';
import type { BenchFlag, BenchPart } from '../bench/benchParts.ts';
import { pickFinding, pickPart, setExplode, type ShownJoint } from '../bench/benchSlice.ts';
import { BenchTools } from '../bench/BenchTools.tsx';
import { FetchFiles } from '../bench/FetchFiles.tsx';
import { Findings, type ShownFinding } from '../findings/Findings.tsx';
import { JobLine } from '../jobs/JobsTray.tsx';
import { Ledger } from '../ledger/Ledger.tsx';
import { lineMovedBy } from '../ledger/lineMovedBy.ts';
import { stageIds, type StageId } from '../stages/Stage.ts';
import { routeOf, stages } from '../stages/stages.ts';
import { findingsOf } from './findingsOf.ts';
import { useAddressNote } from '../app/useAddressNote.ts';
import { Route } from './Route.tsx';
import { StageDecision } from './StageDecision.tsx';

const Bench = lazyPart(() => import('../bench/Bench.tsx'), <div className="benchWait">Setting up the bench</div>);
const PartsTable = lazyPart(() => import('../stages/PartsTable.tsx'), <div className="partsTable" aria-busy />);

/** What the bench flies to and draws of the findings; those set aside are left out. */
const flagsOf = (findings: readonly ShownFinding[]): BenchFlag[] =>
  findings
    .filter((f) => f.at !== null && f.aside === null)
    .map((f) => ({ number: f.number, tone: f.severity, at: f.at!, span: f.span, tag: f.tag, lines: f.lines }));

/** A part that the address names, as a code on a printed sheet does, is picked; once, so that another may be picked after it. */
function usePartOfAddress({ parts, name }: BodyView): void {
  const dispatch = useAppDispatch();
  const [search, setSearch] = useSearchParams();
  const named = search.get('part');
  const id = parts.find((p) => p.tag === named)?.id;
  useAddressNote(named !== null && id === undefined ? `${name} has no part ${named.slice(0, 40)}.` : null);
  useEffect(() => {
    if (named === null) return;
    if (id !== undefined) dispatch(pickPart(id));
    setSearch(
      (old) => {
        old.delete('part');
        return old;
      },
      { replace: true },
    );
  }, [named, id, dispatch, setSearch]);
}

/** Answers to the keys of route, findings and ledger. */
function useWorkbenchKeys({
  body,
  own,
  stage,
  findings,
  to,
}: {
  body: BodyView;
  /** the part whose line is worked on here, where that is not the model's */
  own: BodyView | undefined;
  stage: StageId;
  findings: number;
  to: (id: StageId) => string;
}): void {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const finding = useAppSelector((s) => s.bench.finding);
  const partId = useAppSelector((s) => s.bench.partId);
  const [move] = useMoveLineMutation();
  const [movePrint] = useMovePrintMutation();
  const walk = (by: number) => {
    if (findings === 0) return;
    const next = ((((finding ?? (by > 0 ? 0 : 1)) - 1 + by) % findings) + findings) % findings;
    dispatch(pickFinding(next + 1));
  };
  const undo = (way: 'undo' | 'redo') => {
    const whose = lineMovedBy(body, own, way);
    if (whose && body.busyJobId === null) void move({ bodyId: whose.id, way });
  };
  // what was said at the printer is taken back there, and is no step of a line
  const word = (way: 'undo' | 'redo') => {
    const { saysPrints, inHand } = stages[stage].parts ?? {};
    const part = saysPrints && body.busyJobId === null ? inHand?.(body, partId) : undefined;
    if (part && (way === 'undo' ? part.canUndoPrint : part.canRedoPrint))
      void movePrint({ partId: part.id, modelId: body.id, way });
  };
  useKeys('findings', {
    next: () => walk(1),
    previous: () => walk(-1),
    letGo: () => {
      dispatch(pickFinding(null));
      dispatch(pickPart(null));
    },
  });
  useKeys('ledger', { undo: () => undo('undo'), redo: () => undo('redo') });
  useKeys('words', { takeBack: () => word('undo'), sayAgain: () => word('redo') });
  useKeys('route', { stop: (at) => void navigate(to(stageIds[at])) });
}

/** Does a part lie as these rows of a rotation lay it, but for a turn about the vertical? */
export const liesSo = ({ up }: Pick<PartView, 'up'>, rows: readonly (readonly number[])[]): boolean =>
  up.reduce((sum, c, k) => sum + c * rows[2][k], 0) > Math.cos((0.3 * Math.PI) / 180);

/** The parts of a joint alone: those that stay, and those that are put on, held off along the way they come. */
function partsOfJoint(all: readonly PartView[], { put, on, direction: [x, y, z] }: ShownJoint): BenchPart[] {
  return all.flatMap((p): BenchPart[] =>
    put.includes(p.id) ? [{ ...p, apart: [-x / 2, -y / 2, -z / 2] }] : on.includes(p.id) ? [{ ...p, still: true }] : [],
  );
}

/** What is being done to a body and its parts, and how far it is. */
function Working({ body }: { body: BodyView }) {
  const working = useJobs((jobs) => {
    const mine = new Set([body.id, ...body.parts.map((p) => p.id)]);
    return jobs.filter((j) => j.kind === 'line' && isOpen(j) && mine.has(j.bodyId ?? ''));
  });
  if (working.length === 0) return null;
  return (
    <div className="working" role="status">
      {working.map((j) => (
        <JobLine key={j.id} job={j} />
      ))}
    </div>
  );
}

interface WorkbenchProps {
  body: BodyView;
  stage: StageId;
  printers: PrinterView[];
  to: (id: StageId) => string;
}

/** A body at a stop: route, findings, bench, decision, ledger. What the page around it learns does not draw it anew. */
export const Workbench = memo(function Workbench({ body, stage, printers, to }: WorkbenchProps) {
  const dispatch = useAppDispatch();
  const length = useLength();
  // places that are picked and a plane that is dragged are the bench's own matter
  const { partId, laid, lie, studied, joint } = useAppSelector(
    ({ bench: b }) => ({ partId: b.partId, laid: b.laid, lie: b.lie, studied: b.studied, joint: b.joint }),
    shallowEqual,
  );
  const unit = useAppSelector((s) => s.ui.unit);
  const { parts: here, empty } = stages[stage];
  const findings = useMemo(() => findingsOf(body, stage, unit, studied), [body, stage, unit, studied]);
  const flags = useMemo(() => flagsOf(findings), [findings]);
  // a place of the model is picked on the model in one piece
  const asks = useAppSelector((s) => s.bench.asks > 0);
  const parts = useMemo(
    () => (!here || (asks && here.wholeWhileAsked) ? [] : joint ? partsOfJoint(body.parts, joint) : body.parts),
    [here, body.parts, joint, asks],
  );
  const stops = useMemo(() => routeOf(body, length), [body, length]);
  const inHand = here?.inHand?.(body, partId);
  const { data: laidBody } = useBodyQuery(inHand?.id ?? '', { skip: !here?.ownLine || !inHand });
  // while another part is fetched the last one is still at hand
  const own = here?.ownLine && laidBody && laidBody.id === inHand?.id ? laidBody : undefined;
  usePartOfAddress(body);
  useWorkbenchKeys({ body, own, stage, findings: findings.length, to });
  useEffect(() => {
    dispatch(pickFinding(null));
    dispatch(setExplode(body.parts.length > 0 ? (here?.apart ?? 0) : 0));
  }, [stage, here, body.parts.length, body.mesh.hash, dispatch]);
  const looked = lie && inHand && lie.partId === inHand.id ? lie : null;
  const lying = inHand && laid ? (looked ? { ...inHand, rotation: looked.rows } : inHand) : null;
  const open = findings.filter((f) => f.aside === null).length;
  return (
    <>
      <Route stops={stops} stage={stage} to={to} />
      <div className="workbench">
        <aside className="panel left" aria-label="Findings">
          {parts.length > 0 && <PartsTable body={body} printers={printers} lays={here?.lies === true} />}
          <div className="panelHead">
            <b>
              {open} {open === 1 ? 'finding' : 'findings'}
            </b>
            <span className="figure">{whole(body.mesh.facts.triangles)} triangles</span>
          </div>
          <Findings findings={findings} bodyId={body.id} empty={empty} />
        </aside>
        <main className="benchPlace">
          <Bench
            hash={body.mesh.hash}
            facts={body.mesh.facts}
            parts={parts}
            whole={body.parts}
            flags={flags}
            caption={
              lying
                ? `${lying.tag} as it ${looked && !liesSo(inHand!, looked.rows) ? 'would lie' : `lies on the bed, ${length(lying.heightMm)} high`}`
                : sizeText(body.mesh.facts.size, length)
            }
            lying={lying}
            overhangDeg={looked?.overhangDeg ?? null}
          />
          <BenchTools body={body} atPrinter={inHand !== undefined} />
          <FetchFiles body={body} />
          <Working body={body} />
        </main>
        <aside className="panel right" aria-label="Decision">
          <StageDecision stage={stage} body={body} printers={printers} />
        </aside>
      </div>
      <Ledger body={body} own={own} />
    </>
  );
});
