import Button from '@mui/material/Button';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { styled } from '@mui/material/styles';
import { DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent, type DragMoveEvent } from '@dnd-kit/core';
import { useState } from 'react';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { TurnRule } from '@jasmorphe/core/planning/bedfuls/aims';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { figures } from '@jasmorphe/core/trade/figures';
import { massText, secondsText } from '@jasmorphe/core/words/numbers';
import { useKeepBedfulsMutation, useRatesQuery } from '../../app/daysApi.ts';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ChoiceField } from '../../forms/Fields.tsx';
import { CarefulDialog } from '../../ui/CarefulDialog.tsx';
import { Note } from '../../ui/Note.tsx';
import { afterMove, drawnOf, placedOf, wouldClash, type BedMove, type DrawnBed } from './beds.ts';
import { bedfulParams } from './bedfulParams.ts';
import { bedPx, HandBed } from './HandBed.tsx';
import { Actions } from '../../ui/layout.ts';

const Beds = styled('div')({
  display: 'flex',
  flexWrap: 'wrap',
  gap: '18px 22px',
  padding: '12px 0',
  '& section': { display: 'grid', gap: 4, alignContent: 'start' },
});

/** Where a part that is dragged would lie: on which bed, and its middle there. */
function dropOf({ active, over, delta }: DragMoveEvent | DragEndEvent, beds: readonly DrawnBed[]) {
  const tag = String(active.id);
  const from = beds.findIndex((b) => b.parts.some((p) => p.tag === tag));
  const part = beds[from]?.parts.find((p) => p.tag === tag);
  if (!part) return null;
  const bed = over ? Number(String(over.id).slice(4)) : from;
  const mm = beds[bed].bedMm[0] / bedPx;
  if (bed === from || !over)
    return { tag, part, bed: from, at: { x: part.at.x + delta.x * mm, y: part.at.y - delta.y * mm } };
  // the middle of what is dragged, as it is seen over the other bed
  const own = active.rect.current.translated;
  if (!own) return null;
  const x = (own.left + own.width / 2 - over.rect.left) * mm;
  const y = beds[bed].bedMm[1] - (own.top + own.height / 2 - over.rect.top) * mm;
  return { tag, part, bed, at: { x, y } };
}

/** What can be done with the part that is picked. */
function MovePicked({
  tag,
  at,
  beds,
  onMove,
}: {
  tag: string;
  /** index of the bed that it lies on */
  at: number;
  /** how many there are */
  beds: number;
  onMove: (move: BedMove) => void;
}) {
  return (
    <Actions>
      <b>{tag}</b>
      <Button variant="outlined" onClick={() => onMove({ kind: 'turn', tag, byDeg: 15 })}>
        Turn left
      </Button>
      <Button variant="outlined" onClick={() => onMove({ kind: 'turn', tag, byDeg: -15 })}>
        Turn right
      </Button>
      <ChoiceField
        label="goes to"
        value={String(at)}
        choices={[
          ...Array.from({ length: beds }, (_, i) => ({ value: String(i), text: `bed ${i + 1}` })),
          { value: 'new', text: 'a bed of its own' },
          { value: 'any', text: 'wherever it goes' },
        ]}
        onChange={(to) => onMove({ kind: 'send', tag, to: to === 'any' ? null : to === 'new' ? 'new' : Number(to) })}
      />
    </Actions>
  );
}

/** Why parts cannot stay where they lie. */
function Clashes({ tags, inTurn }: { tags: readonly string[]; inTurn: boolean }) {
  const one = tags.length === 1;
  return (
    <Note tone="failure">
      {tags.join(', ')} {one ? 'overlaps' : 'overlap'} or {one ? 'reaches' : 'reach'} beyond the bed, or{' '}
      {one ? 'has' : 'have'} other settings than the first part there
      {inTurn && ', or the carriage would hit what stands'}.
    </Note>
  );
}

/** Bedfuls by hand: parts dragged, turned and sent from bed to bed; what is not put stays where the program puts it. */
export default function ArrangeBeds({
  body,
  parts,
  printers,
  start,
  inTurn = false,
  turn = 'any',
  onClose,
}: {
  body: BodyView;
  /** those that wait */
  parts: readonly LaidPart[];
  printers: readonly PrinterView[];
  start: readonly DrawnBed[];
  /** parts are printed one after the other */
  inTurn?: boolean;
  /** how those may be turned that are not put by hand */
  turn?: TurnRule;
  onClose: () => void;
}) {
  const [past, setPast] = useState<readonly (readonly DrawnBed[])[]>([start]);
  const [picked, pick] = useState<string | null>(null);
  const [hover, setHover] = useState<{ tag: string; clashes: boolean } | null>(null);
  const [keep, keeping] = useKeepBedfulsMutation();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 3 } }));
  const beds = past.at(-1)!;
  const { data: rates, isLoading: looking } = useRatesQuery();
  const [preview] = usePreviews(body.id, body.mesh.hash, [
    looking
      ? null
      : ask(catalogue.bedfuls, {
          ...bedfulParams(parts, printers, 'fewest', { inTurn, turn, rates }),
          placed: placedOf(beds),
        }),
  ]);
  const report = reportOf(preview, catalogue.bedfuls);
  // what the program put itself stands behind what was put by hand
  const shown = report ? report.bedfuls.map(drawnOf) : beds;
  const drawn = new Map(shown.flatMap((b) => b.parts.map((p) => [p.tag, p])));
  const told = (bed: DrawnBed): DrawnBed => ({
    ...bed,
    parts: bed.parts.map((p) => ({ ...p, path: drawn.get(p.tag)?.path ?? p.path })),
  });
  const all = report ? shown : beds.map(told);
  const drawnDeg = new Map(shown.flatMap((b) => b.parts.map((p) => [p.tag, p.turnDeg])));
  const clashing = new Set(all.flatMap((b) => b.parts.flatMap((p) => (p.clashes ? [p.tag] : []))));
  if (hover) clashing[hover.clashes ? 'add' : 'delete'](hover.tag);
  const move = (m: BedMove): void => setPast([...past, afterMove(all, m)]);
  const profileOf = ({ printer }: DrawnBed): PrinterProfile =>
    printers.find((p) => p.profile.name === printer)?.profile ?? new PrinterProfile();
  const gapOn = (bed: DrawnBed): number =>
    Math.max(figures.partsApartMm.value, inTurn ? profileOf(bed).headRadiusMm : 0);
  const at = all.findIndex((b) => b.parts.some((p) => p.tag === picked));
  const ready = preview.state === 'ready' && report !== null;
  return (
    <CarefulDialog
      unkept={past.length > 1 ? 'What you moved is not kept.' : null}
      onClose={onClose}
      fullWidth
      maxWidth="lg"
      aria-labelledby="arrange-title"
      actions={(leave) => (
        <>
          <Button variant="text" disabled={past.length < 2} onClick={() => setPast(past.slice(0, -1))}>
            One step back
          </Button>
          <Button variant="text" onClick={leave}>
            Leave it
          </Button>
          <Button
            variant="contained"
            disabled={!ready || clashing.size > 0 || keeping.isLoading}
            onClick={() => {
              if (preview.state !== 'ready') return;
              void keep({ modelId: body.modelId, stepId: preview.step.id }).then((answer) => {
                if ('data' in answer) onClose();
              });
            }}
          >
            {ready ? 'Keep these bedfuls' : 'Looking at it'}
          </Button>
        </>
      )}
    >
      <DialogTitle id="arrange-title">Which part lies where?</DialogTitle>
      <DialogContent>
        <p className="quiet">
          Drag parts, also from bed to bed; or pick one and use the arrows (1 mm, with Shift 10) and [ ] to turn it by
          15 degrees. What overlaps is marked with ! and red.{' '}
          {inTurn
            ? 'They are printed one after the other: the head has room between them, and one alone may be higher than its carriage.'
            : `Half of the gap of ${figures.partsApartMm.value} mm around each part is kept free.`}
        </p>
        <DndContext
          sensors={sensors}
          onDragMove={(e) => {
            const drop = dropOf(e, all);
            setHover(
              drop && {
                tag: drop.tag,
                clashes: wouldClash(drop.part, drop.at, all[drop.bed], gapOn(all[drop.bed])),
              },
            );
          }}
          onDragCancel={() => setHover(null)}
          onDragEnd={(e) => {
            setHover(null);
            const drop = dropOf(e, all);
            if (drop) move({ kind: 'put', tag: drop.tag, bed: drop.bed, at: drop.at });
          }}
        >
          <Beds>
            {all.map((bed, i) => {
              const { durationS = 0, materialG = 0, settings = '' } = report?.bedfuls[i] ?? {};
              return (
                <section key={i} aria-label={`Bed ${i + 1}`}>
                  <div>
                    <b>{i + 1}</b> {printers.length === 1 && bed.printer}
                    <span className="figure quiet">
                      {ready && ` ${secondsText(durationS)} · ${massText(materialG)}`}
                    </span>
                  </div>
                  <small>{settings}</small>
                  {printers.length > 1 && (
                    <ChoiceField
                      label="on"
                      value={bed.printer}
                      choices={printers.map(({ profile: { name } }) => ({ value: name, text: name }))}
                      onChange={(name) => {
                        const [x, y] = printers.find((p) => p.profile.name === name)!.profile.bedMm;
                        move({ kind: 'printer', bed: i, printer: name, bedMm: [x, y] });
                      }}
                    />
                  )}
                  <HandBed
                    bed={bed}
                    no={i}
                    picked={picked}
                    clashing={clashing}
                    drawnDeg={drawnDeg}
                    profile={profileOf(bed)}
                    onPick={(tag) => pick(tag === picked ? null : tag)}
                    onMove={move}
                  />
                </section>
              );
            })}
          </Beds>
        </DndContext>
        {picked !== null && at >= 0 && <MovePicked tag={picked} at={at} beds={all.length} onMove={move} />}
        {preview.state === 'failed' && preview.error.code !== 'cancelled' && (
          <Note tone="failure">
            <b>{preview.error.message}</b> {preview.error.hint}
          </Note>
        )}
        {ready && clashing.size > 0 && <Clashes tags={[...clashing]} inTurn={inTurn} />}
        {ready && report.left.length > 0 && (
          <Note tone="failure">No bed takes {report.left.join(', ')} as they lie.</Note>
        )}
      </DialogContent>
    </CarefulDialog>
  );
}
