import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Stack from '@mui/material/Stack';
import { styled } from '@mui/material/styles';
import { useCallback, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { KitView, PieceView } from '@jasmorphe/contracts/kitViews';
import { countOf } from '@jasmorphe/core/words/numbers';
import { usePrintersQuery, useProjectQuery, wordsOf } from '../app/api.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useKitQuery, useReadAlikeMutation, useRemovePieceMutation } from '../app/kitApi.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { TopBar } from '../app/TopBar.tsx';
import { useTitle } from '../app/useTitle.ts';
import { clearBench, pickPart } from '../bench/benchSlice.ts';
import { DropSheet } from '../project/DropSheet.tsx';
import { FilePicker } from '../project/FilePicker.tsx';
import { OfferedVersions } from '../project/OfferedVersions.tsx';
import { RefusedFiles } from '../project/RefusedFiles.tsx';
import { useImport } from '../project/useImport.ts';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { BatchDialog } from './BatchDialog.tsx';
import { BatchLine } from './BatchLine.tsx';
import { benchOf } from './benchOf.ts';
import { PieceTable } from './PieceTable.tsx';
import { TestPieces } from './TestPieces.tsx';
import { Variants } from './Variants.tsx';
import { Actions, Block } from '../ui/layout.ts';

const Bench = lazyPart(() => import('../bench/Bench.tsx'), <div className="benchWait">Setting up the bench</div>);

const ActionsBelow = styled(Actions)({ gap: 14, margin: 0, padding: '8px 14px', borderTop: '1px solid var(--line)' });

/** The whole kit, or the piece in hand, on the bench. */
function KitBench({ kit, piece, alone }: { kit: KitView; piece: PieceView | undefined; alone: boolean }) {
  const shown = useMemo(() => benchOf(kit, alone && piece ? piece.id : null), [kit, alone, piece]);
  if (shown.parts.length === 0) return <div className="benchWait">Every piece is set aside</div>;
  return (
    <Bench
      hash=""
      facts={shown.facts}
      parts={shown.parts}
      flags={[]}
      caption={
        alone && piece
          ? piece.name
          : `${countOf(shown.parts.length, 'piece')}, ${kit.frame.shared ? 'as the files place them' : 'side by side'}`
      }
    />
  );
}

/** What there is to decide about the kit as a whole, and what is being done to it. */
function KitSide({ kit, onPick }: { kit: KitView; onPick: (id: string) => void }) {
  const [alike] = useReadAlikeMutation();
  const recent = kit.batches.filter((b) => b.kind !== 'preview' || b.open > 0).slice(0, 4);
  return (
    <Stack sx={{ gap: '10px', padding: '12px 14px' }}>
      {kit.trouble !== null && <Note tone="failure">{kit.trouble}</Note>}
      {recent.map((b) => (
        <BatchLine key={b.id} batch={b} />
      ))}
      {kit.unit && (
        <Block aria-label="Unit">
          <div className="label accent">Unit of the kit</div>
          <p>
            <b>{kit.unit.unit}</b>: {kit.unit.reason}.
          </p>
          {kit.oddUnits.length > 0 && (
            <Note tone="attention">
              {countOf(kit.oddUnits.length, 'piece')} {kit.oddUnits.length === 1 ? 'was' : 'were'} read in another unit.{' '}
              <Button variant="text" onClick={() => void alike(kit.projectId)}>
                Read all in {kit.unit.unit}
              </Button>
            </Note>
          )}
        </Block>
      )}
      <Variants kit={kit} />
      {kit.pieces.length > 1 && <TestPieces kit={kit} onPick={onPick} />}
      <p className="quiet foot">
        Shown {kit.frame.shared ? 'as the files place them' : 'side by side'}: {kit.frame.reason}.
      </p>
    </Stack>
  );
}

/** Chosen pieces and what can be done to them. */
function KitActions({
  kit,
  selected,
  onDo,
  onCleared,
}: {
  kit: KitView;
  selected: ReadonlySet<string>;
  onDo: () => void;
  onCleared: () => void;
}) {
  const [remove] = useRemovePieceMutation();
  const [sure, setSure] = useState(false);
  const printed = kit.pieces.filter((p) => p.aside === null).length;
  const removeAll = async () => {
    for (const id of selected) await remove(id);
    onCleared();
  };
  return (
    <ActionsBelow>
      <Button variant="contained" onClick={onDo} disabled={selected.size === 0 && printed === 0}>
        {selected.size > 0 ? `Do to ${countOf(selected.size, 'piece')} …` : 'Do to all …'}
      </Button>
      {selected.size > 0 &&
        (sure ? (
          <>
            <span>A removed piece does not come back.</span>
            <Button variant="outlined" onClick={() => void removeAll()}>
              Remove {countOf(selected.size, 'piece')} for good
            </Button>
            <Button variant="text" onClick={() => setSure(false)}>
              Keep
            </Button>
          </>
        ) : (
          <Button variant="text" onClick={() => setSure(true)}>
            Remove …
          </Button>
        ))}
    </ActionsBelow>
  );
}

/** All pieces of a project: the table, the whole on the bench, and what is done to many at once. */
export default function KitPage() {
  const { projectId = '' } = useParams();
  const dispatch = useAppDispatch();
  const { data: project } = useProjectQuery(projectId);
  const { data: kit, error } = useKitQuery(projectId);
  const { data: printers = [] } = usePrintersQuery();
  const picked = useAppSelector((s) => s.bench.partId);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [doing, setDoing] = useState(false);
  const [shown, setShown] = useState<'whole' | 'piece'>('whole');
  const pick = useRef<() => void>(() => undefined);
  const target = useCallback(async () => projectId, [projectId]);
  const { over, importFiles } = useImport(target);
  useTitle(project ? `${project.name}, kit` : 'Kit');
  useLayoutEffect(() => void dispatch(clearBench()), [projectId, dispatch]);
  const here = useMemo(
    () => new Set([...selected].filter((id) => kit?.pieces.some((p) => p.id === id))),
    [selected, kit],
  );
  const piece = kit?.pieces.find((p) => p.id === picked);
  const onPick = (id: string) => dispatch(pickPart(id === picked ? null : id));
  const doTo = here.size > 0 ? [...here] : (kit?.pieces ?? []).filter((p) => p.aside === null).map((p) => p.id);
  return (
    <div className="page project">
      <TopBar>
        <span className="slash">/</span>
        <b>{project?.name}</b>
        <Link to={`/project/${projectId}`}>One by one</Link>
        <Button variant="text" onClick={() => pick.current()}>
          Import …
        </Button>
        <FilePicker open={pick} onFiles={(files) => void importFiles(files)} />
      </TopBar>
      <RefusedFiles projectId={projectId} />
      <OfferedVersions projectId={projectId} />
      {error !== undefined ? (
        <main className="shelf">
          <Note tone="failure">
            <b>{wordsOf(error).message}</b> {wordsOf(error).hint}
          </Note>
        </main>
      ) : !kit ? (
        <LinearProgress aria-label="Loading" />
      ) : (
        <div className="kit">
          <section className="panel kitTable" aria-label="Pieces of the kit">
            <PieceTable kit={kit} selected={here} onSelect={setSelected} picked={picked} onPick={onPick} />
            <KitActions
              key={[...here].join()}
              kit={kit}
              selected={here}
              onDo={() => setDoing(true)}
              onCleared={() => setSelected(new Set())}
            />
          </section>
          <main className="benchPlace">
            <KitBench kit={kit} piece={piece} alone={shown === 'piece'} />
            <div className="benchTools">
              <div className="tool">
                <Toggles
                  label="What the bench shows"
                  choices={[
                    { value: 'whole', text: 'Whole kit' },
                    { value: 'piece', text: piece ? piece.name : 'One piece' },
                  ]}
                  on={[shown]}
                  onToggle={(s) => setShown(s)}
                />
              </div>
            </div>
          </main>
          <aside className="panel right" aria-label="The kit as a whole">
            <KitSide kit={kit} onPick={onPick} />
          </aside>
        </div>
      )}
      {doing && kit && <BatchDialog kit={kit} pieceIds={doTo} printers={printers} onClose={() => setDoing(false)} />}
      {over && <DropSheet>Drop files, a folder or an archive to add them to the kit</DropSheet>}
    </div>
  );
}
