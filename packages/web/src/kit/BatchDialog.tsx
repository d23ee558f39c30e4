import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import type { BatchAnswers, KitView } from '@jasmorphe/contracts/kitViews';
import type { PrinterView } from '@jasmorphe/contracts/views';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { isFactor } from '@jasmorphe/core/params/checks';
import { figures } from '@jasmorphe/core/trade/figures';
import { countOf, fixed } from '@jasmorphe/core/words/numbers';
import { useBodyQuery, wordsOf } from '../app/api.ts';
import { useBatchAnswersQuery, useCancelBatchMutation, useRunBatchMutation } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { useSpeaker } from '../app/useLength.ts';
import { usePrinter } from '../app/usePrinter.ts';
import { ChoiceField, FactorField, LengthField } from '../forms/Fields.tsx';
import { FieldsContext, useHold } from '../forms/hold.ts';
import { PrinterField } from '../forms/PrinterField.tsx';
import { WrongField } from '../forms/WrongField.tsx';
import { FigureTable } from '../ui/FigureTable.tsx';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { kitFactor, sideOf, sides, type Side } from './factorOf.ts';

/** What can be done to all pieces of a kit. */
const deeds = ['mend', 'size', 'hollow', 'divide'] as const satisfies readonly OperationName[];
type Deed = (typeof deeds)[number];
const verbs: Record<Deed, string> = { mend: 'Mend', size: 'Size', hollow: 'Hollow', divide: 'Divide' };
const leads: Record<Deed, string> = {
  mend: 'Each becomes closed and free of crossings, by the way that suits it.',
  size: 'One factor for all, so that they still go together.',
  hollow: 'Each outer skin stays as it is; the wall is the same in all of them.',
  divide: 'What does not fit the bed is divided; what fits stays in one piece, ready to print.',
};

/** The factor as it is said: as such, or by how long one side of one piece is to be. */
interface SizeWish {
  way: 'factor' | 'length';
  factor: number;
  pieceId: string;
  side: Side;
  /** null: as long as it is */
  toMm: number | null;
}

/** The factor that a wish comes to; null while it is not known what the piece was sized by so far. */
function useFactorOf(kit: KitView, { way, factor, pieceId, side, toMm }: SizeWish): number | null {
  const piece = kit.pieces.find((p) => p.id === pieceId);
  const { currentData: body } = useBodyQuery(pieceId, { skip: way === 'factor' });
  if (way === 'factor') return factor;
  if (!piece || !body) return null;
  const soFar = lastStepOf(body.line, body.cursor, catalogue.size)?.report.factor.x ?? 1;
  const wanted = kitFactor(piece, side, toMm ?? sideOf(piece, side), soFar);
  return isFactor(wanted) ? wanted : null;
}

function SizeFields({
  kit,
  wish,
  factor,
  onChange,
}: {
  kit: KitView;
  wish: SizeWish;
  /** that the wish comes to */
  factor: number | null;
  onChange: (wish: SizeWish) => void;
}) {
  const set = (change: Partial<SizeWish>) => onChange({ ...wish, ...change });
  const piece = kit.pieces.find((p) => p.id === wish.pieceId);
  return (
    <>
      <ChoiceField
        label="The factor comes from"
        value={wish.way}
        choices={[
          { value: 'factor', text: 'a number' },
          { value: 'length', text: 'a length of one piece' },
        ]}
        onChange={(way) => set({ way })}
      />
      {wish.way === 'factor' ? (
        <FactorField
          label="Factor"
          hint="of the sizes as the files have them"
          value={wish.factor}
          onChange={(f) => set({ factor: f })}
        />
      ) : (
        piece && (
          <>
            <ChoiceField
              label="Piece"
              value={piece.id}
              choices={kit.pieces.filter((p) => p.aside === null).map((p) => ({ value: p.id, text: p.name }))}
              onChange={(pieceId) => set({ pieceId, toMm: null })}
            />
            <ChoiceField
              label="Side"
              value={wish.side}
              choices={sides.map((s) => ({ value: s, text: s }))}
              onChange={(side) => set({ side, toMm: null })}
            />
            <LengthField
              key={`${piece.id} ${wish.side}`}
              label="shall be"
              above0
              mm={wish.toMm ?? sideOf(piece, wish.side)}
              onChange={(toMm) => set({ toMm })}
            />
            {factor !== null && <p className="quiet">That is ×{fixed(factor, 4)} for all of them.</p>}
          </>
        )
      )}
    </>
  );
}

/** What it would give on each piece, as far as that is known. */
function Answers({ answers: { operation, answers, batch } }: { answers: BatchAnswers }) {
  const say = useSpeaker();
  const { words } = descriptionOf(operation);
  const rows = (words.rows ?? []).slice(0, 5);
  return (
    <>
      {batch.open > 0 && <LinearProgress variant="determinate" value={100 * batch.progress} aria-label={batch.title} />}
      <FigureTable
        label="What each would give"
        heads={['Piece', ...rows.map((r) => r.label)]}
        rows={answers.map((a) => ({
          key: a.bodyId,
          cells: [
            a.name,
            ...(a.step
              ? rows.map((r) => (r.when && !r.when(a.step!.report) ? '—' : r.of(a.step!.report, say)))
              : [
                  <span key="why" className={a.state === 'failed' ? 'cellFailed' : 'quiet'}>
                    {a.error?.message ?? (a.state === 'waiting' ? 'working' : a.state)}
                  </span>,
                  ...rows.slice(1).map(() => ''),
                ]),
          ],
          says: a.error?.hint,
        }))}
      />
      {batch.refused.length > 0 && (
        <Note tone="attention">
          {batch.refused.slice(0, 4).map((r) => (
            <div key={r.file}>
              <b>{r.file}</b> {r.message}
            </div>
          ))}
        </Note>
      )}
    </>
  );
}

/** Does one thing to many pieces: what each would give is shown before it is done. */
export function BatchDialog({
  kit,
  pieceIds,
  printers,
  onClose,
}: {
  kit: KitView;
  pieceIds: readonly string[];
  printers: PrinterView[];
  onClose: () => void;
}) {
  const dispatch = useAppDispatch();
  const [deed, setDeed] = useState<Deed>('mend');
  const [wish, setWish] = useState<SizeWish>({
    way: 'factor',
    factor: 1,
    pieceId: pieceIds[0],
    side: 'longest',
    toMm: null,
  });
  const factor = useFactorOf(kit, wish);
  const [wall, setWall] = useState<number | null>(figures.shellWallMm.value);
  const { printer, choose } = usePrinter(printers);
  const [run, running] = useRunBatchMutation();
  const [cancel] = useCancelBatchMutation();
  const [dryId, setDryId] = useState<string | null>(null);
  const { currentData: answers } = useBatchAnswersQuery(dryId ?? '', { skip: dryId === null });
  const own: Record<Deed, object> = {
    mend: {},
    size: { factor: factor === null ? null : Number(factor.toPrecision(9)) },
    hollow: { wall },
    divide: { bed: printer?.profile.bedMm ?? [220, 220, 250] },
  };
  const params = { ...descriptionOf(deed).begins, ...own[deed] };
  const forget = () => {
    if (dryId && answers && answers.batch.open > 0) void cancel(dryId);
    setDryId(null);
  };
  const changed =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      forget();
      set(value);
    };
  const ask = async (dry: boolean) => {
    const { data, error } = await run({
      projectId: kit.projectId,
      operation: deed,
      params,
      bodyIds: [...pieceIds],
      dry,
    });
    if (error) {
      const { message, hint } = wordsOf(error);
      dispatch(say({ text: message, hint, tone: 'failure' }));
    } else if (dry) setDryId(data.id);
    else onClose();
  };
  const unknown = (deed === 'hollow' && wall === null) || (deed === 'size' && factor === null);
  const { wrong, held, fields } = useHold(() => undefined, unknown || running.isLoading);
  const close = () => {
    forget();
    onClose();
  };
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="batch-title">
      <DialogTitle id="batch-title">What shall be done to {countOf(pieceIds.length, 'piece')}?</DialogTitle>
      <DialogContent>
        <Toggles
          label="What to do"
          choices={deeds.map((d) => ({ value: d, text: verbs[d] }))}
          on={[deed]}
          onToggle={changed((d: Deed) => setDeed(d))}
        />
        <p className="lead">{leads[deed]}</p>
        <FieldsContext value={fields}>
          <div className="fields">
            {deed === 'size' && <SizeFields kit={kit} wish={wish} factor={factor} onChange={changed(setWish)} />}
            {deed === 'hollow' && <LengthField label="Wall" above0 mm={wall} onChange={changed(setWall)} />}
            {deed === 'divide' && <PrinterField printers={printers} value={printer?.id} onChange={changed(choose)} />}
          </div>
        </FieldsContext>
        <WrongField wrong={wrong} />
        {answers && <Answers answers={answers} />}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={close}>
          Close
        </Button>
        <Button variant="outlined" disabled={held} onClick={() => void ask(true)}>
          Work out what each gives
        </Button>
        <Button variant="contained" disabled={held} onClick={() => void ask(false)} data-testid="do-to-all">
          {verbs[deed]} {countOf(pieceIds.length, 'piece')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
