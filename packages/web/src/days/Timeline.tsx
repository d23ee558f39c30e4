import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';
import { DndContext, PointerSensor, useDraggable, useSensor, useSensors } from '@dnd-kit/core';
import type { KeyboardEvent } from 'react';
import type { DaysView } from '@jasmorphe/contracts/dayViews';
import type { PlannedBedful } from '@jasmorphe/core/planning/days/DaysPlan';
import type { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { clockText } from '@jasmorphe/core/planning/days/planWords';
import { fixed, secondsText, whole } from '@jasmorphe/core/words/numbers';
import { handsOf } from './handsOf.ts';
import { dayOf, homeOn, lanesOf, placeOf } from './timeScale.ts';

/** Width of the names at the left, and of a letter of a label, px. */
const namesPx = 118;
const letterPx = 6.4;
const rowPx = 62;
const lanePx = 22;

const Frame = styled('div')({
  position: 'relative',
  overflow: 'auto',
  flex: 1,
  minWidth: 0,
  background: 'var(--sheet)',
  '& .sheet': { position: 'relative', minHeight: '100%' },
  '& .day': { position: 'absolute', top: 0, bottom: 0, borderLeft: '1px solid var(--line)' },
  '& .day.weekend': { background: 'var(--paper)' },
  '& .day > b': { position: 'sticky', top: 0, display: 'block', padding: '8px 6px', whiteSpace: 'nowrap' },
  '& .home': { position: 'absolute', top: 34, height: 5, background: 'var(--verdigris)' },
  '& .now': { position: 'absolute', top: 30, bottom: 0, borderLeft: '2px solid var(--madder)', zIndex: 3 },
  '& .now span': {
    position: 'absolute',
    bottom: 4,
    left: 4,
    color: 'var(--madder)',
    fontWeight: 600,
    whiteSpace: 'nowrap',
    background: 'var(--sheet)',
  },
  '& .row': { position: 'absolute', left: 0, right: 0, borderTop: '1px solid var(--line2)' },
  '& .name': {
    position: 'sticky',
    left: 0,
    width: namesPx,
    padding: '10px 8px 0 14px',
    zIndex: 4,
    background: 'var(--sheet)',
    height: '100%',
    boxSizing: 'border-box',
  },
  '& .name small': { fontFamily: 'var(--mono)', fontSize: 10.5 },
  '& .hand': {
    position: 'absolute',
    display: 'flex',
    gap: 5,
    alignItems: 'center',
    whiteSpace: 'nowrap',
    fontSize: 11.5,
  },
  '& .hand::before': {
    content: '""',
    width: 7,
    height: 7,
    borderRadius: '50%',
    background: 'var(--verdigris)',
    flex: 'none',
  },
  '& .wait': {
    position: 'absolute',
    top: 8,
    height: 44,
    border: '1px dashed var(--ink3)',
    borderRadius: 3,
    padding: '4px 6px',
    fontSize: 11.5,
    overflow: 'hidden',
    whiteSpace: 'nowrap',
  },
  '& .tail': { position: 'absolute', top: 29, height: 1, background: 'var(--ink3)' },
  '& .path': { position: 'absolute', top: 28, height: 3, background: 'var(--verdigris)' },
});

const Box = styled(ButtonBase)({
  position: 'absolute',
  top: 8,
  height: 44,
  display: 'block',
  textAlign: 'left',
  font: 'inherit',
  fontSize: 12,
  padding: '4px 6px',
  border: '1px solid var(--ink2)',
  borderRadius: 3,
  background: 'var(--sheet)',
  overflow: 'hidden',
  whiteSpace: 'nowrap',
  zIndex: 2,
  cursor: 'grab',
  touchAction: 'none',
  '& small': { fontFamily: 'var(--mono)', fontSize: 10.5 },
  '&.running': { background: 'var(--verdigrisGround)', cursor: 'pointer' },
  '&.toSettle': { background: 'var(--ochreGround)' },
  '&.chosen': { outline: '2px solid var(--verdigris)', outlineOffset: 1 },
  '&:focus-visible': { outline: '2px solid var(--verdigris)', outlineOffset: 1 },
});

/** One bedful on its printer's row; dragged, or moved by an hour with the arrows. */
function Bar({
  day,
  left,
  width,
  pxPerDay,
  chosen,
  toSettle,
  several,
  onChoose,
  onMove,
}: {
  day: PlannedBedful;
  left: number;
  width: number;
  pxPerDay: number;
  chosen: boolean;
  toSettle: boolean;
  several: boolean;
  onChoose: () => void;
  onMove: (hours: number) => void;
}) {
  const { setNodeRef, listeners, attributes, transform } = useDraggable({ id: day.id, disabled: day.running });
  const key = (e: KeyboardEvent): void => {
    const hours = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (hours === undefined || day.running) return;
    e.preventDefault();
    e.stopPropagation();
    onMove(e.shiftKey ? 6 * hours : hours);
  };
  const says = day.running
    ? `${day.bedful} prints on ${day.printer} until ${clockText(day.endsAt)}`
    : `${day.bedful}, ${day.printer}: load ${clockText(day.loadAt)}, printed by ${clockText(day.endsAt)}, off ${clockText(day.offAt)}`;
  return (
    <Box
      ref={setNodeRef}
      {...listeners}
      {...attributes}
      role="button"
      // what runs is not moved, but looked at
      aria-disabled={false}
      className={[day.running && 'running', toSettle && 'toSettle', chosen && 'chosen'].filter(Boolean).join(' ')}
      style={{ left, width, transform: transform ? `translateX(${transform.x}px)` : undefined }}
      aria-pressed={chosen}
      title={says}
      data-testid="bar"
      data-px-per-day={pxPerDay}
      onClick={onChoose}
      onKeyDown={key}
    >
      <b>
        {width < 70 ? (
          <>
            <span className="srOnly">Bedful </span>
            {day.bedful.replace(/^Bedful /, '')}
          </>
        ) : (
          day.bedful
        )}
      </b>
      {several && ` ${day.project}`}
      <small>{secondsText(day.durationS)}</small>
    </Box>
  );
}

/** All printers, the maker and what dries, day by day. */
export function Timeline({
  view,
  home,
  days,
  chosen,
  onChoose,
  onMove,
}: {
  view: DaysView;
  home: HomeHours;
  /** across the window */
  days: number;
  chosen: string | null;
  onChoose: (id: string | null) => void;
  onMove: (day: PlannedBedful, hours: number) => void;
}) {
  const { plan, printers, now } = view;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const pxPerDay = Math.max(38, 806 / days);
  const first = plan.from < now ? plan.from : now;
  const x = (at: string): number => namesPx + placeOf(at, first) * pxPerDay;
  const timed = plan.days.filter((d) => d.loadAt !== null);
  const ends = [...timed.map((d) => d.doneAt!), ...plan.bench.map((b) => b.to), plan.deadline ?? now];
  const last = Math.max(days, Math.ceil(Math.max(...ends.map((at) => placeOf(at, first)))) + 1);
  const names = new Set(timed.map((d) => d.project));
  const hands = handsOf(plan);
  const lanes = lanesOf(hands.map((h) => ({ from: x(h.at), to: x(h.at) + 16 + letterPx * h.says.length })));
  const drying = [
    ...timed
      .filter((d) => d.doneAt !== null && Date.parse(d.doneAt) - Date.parse(d.offAt!) > 2 * 3_600_000)
      .map((d) => ({ from: d.offAt!, to: d.doneAt!, says: d.bedful, how: 'dries, cured' })),
    ...plan.bench
      .filter((b) => b.what === 'glue dries' || b.what === 'filler dries')
      .map((b) => ({ from: b.from, to: b.to, says: b.project, how: b.what })),
  ];
  const used = printers.filter((p) => timed.some((d) => d.printer === p.name));
  const shown = used.length > 0 ? used : printers;
  const top = (row: number): number => 44 + row * rowPx;
  const youPx = Math.max(rowPx, 14 + lanePx * (1 + Math.max(0, ...lanes)));
  const height = top(shown.length) + youPx + rowPx + 24;
  const unsettled = new Set(plan.notes.flatMap((n) => ('bedful' in n && n.kind !== 'unseen' ? [n.bedful] : [])));
  return (
    <Frame>
      <DndContext
        sensors={sensors}
        onDragEnd={({ active, delta }) => {
          const day = timed.find((d) => d.id === active.id);
          const hours = (delta.x / pxPerDay) * 24;
          if (day && Math.abs(hours) >= 0.25) onMove(day, hours);
        }}
      >
        <div className="sheet" style={{ width: namesPx + last * pxPerDay, height }}>
          {Array.from({ length: last }, (_, n) => {
            const day = dayOf(n, first);
            const there = homeOn(day, home);
            return (
              <div
                key={n}
                className={`day${day.weekend ? ' weekend' : ''}`}
                style={{ left: namesPx + n * pxPerDay, width: pxPerDay }}
              >
                <b>{pxPerDay > 60 || n % 7 === 0 ? day.name : day.name.slice(4)}</b>
                {there && (
                  <i className="home" style={{ left: there[0] * pxPerDay, width: (there[1] - there[0]) * pxPerDay }} />
                )}
              </div>
            );
          })}
          {shown.map((printer, row) => {
            const own = timed.filter((d) => d.printer === printer.name);
            const deciding = own.filter((d) => d.decides);
            return (
              <div key={printer.id} className="row" style={{ top: top(row), height: rowPx }}>
                <div className="name">
                  <b>{printer.name}</b>
                  <small>
                    {printer.lifeH > 0
                      ? `${whole(printer.hours - printer.sinceH)} of ${whole(printer.lifeH)} h`
                      : `${fixed(printer.hours, 0)} h run`}
                  </small>
                </div>
                {deciding.length > 0 && (
                  <i
                    className="path"
                    style={{ left: x(deciding[0].loadAt!), width: x(deciding.at(-1)!.offAt!) - x(deciding[0].loadAt!) }}
                  />
                )}
                {own.map((d) => {
                  const left = x(d.startsAt!);
                  return (
                    <span key={d.id}>
                      {!d.decides && <i className="tail" style={{ left, width: Math.max(0, x(d.offAt!) - left) }} />}
                      <Bar
                        day={d}
                        left={left}
                        width={Math.max(18, x(d.endsAt!) - left)}
                        pxPerDay={pxPerDay}
                        chosen={chosen === d.id}
                        toSettle={unsettled.has(d.bedful) && d.shortG + d.draws.filter((w) => !w.attended).length > 0}
                        several={names.size > 1}
                        onChoose={() => onChoose(chosen === d.id ? null : d.id)}
                        onMove={(hours) => onMove(d, hours)}
                      />
                    </span>
                  );
                })}
              </div>
            );
          })}
          <div className="row" style={{ top: top(shown.length), height: youPx }}>
            <div className="name">
              <b>You</b>
              <small>at home: green</small>
            </div>
            {hands.map((h, i) => (
              <span
                key={`${h.at}${h.says}`}
                className="hand"
                title={`${clockText(h.at)}: ${h.says}`}
                style={{ left: x(h.at) - 3, top: 8 + lanes[i] * lanePx }}
              >
                {h.says}
              </span>
            ))}
          </div>
          <div className="row" style={{ top: top(shown.length) + youPx, height: rowPx }}>
            <div className="name">
              <b>Drying</b>
              <small>glue, filler, resin</small>
            </div>
            {drying.map((w) => (
              <span
                key={`${w.from}${w.says}`}
                className="wait"
                title={`${w.says}: ${w.how} until ${clockText(w.to)}`}
                style={{ left: x(w.from), width: Math.max(14, x(w.to) - x(w.from)) }}
              >
                <b>{w.says}</b>
                <small>{w.how}</small>
              </span>
            ))}
          </div>
          <div className="now" style={{ left: x(now) }}>
            <span>now, {clockText(now)}</span>
          </div>
        </div>
      </DndContext>
    </Frame>
  );
}
