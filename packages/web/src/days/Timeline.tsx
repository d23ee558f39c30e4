import { DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import type { DaysView } from '@jasmorphe/contracts/dayViews';
import type { DaysPlan, PlannedBedful } from '@jasmorphe/core/planning/days/DaysPlan';
import type { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { clockText } from '@jasmorphe/core/planning/days/planWords';
import { fixed, whole } from '@jasmorphe/core/words/numbers';
import { BedfulBar } from './BedfulBar.tsx';
import { handsOf } from './handsOf.ts';
import { namesPx, TimelineFrame } from './TimelineFrame.ts';
import { dayOf, homeOn, lanesOf, placeOf } from './timeScale.ts';

/** Width of a letter of a label, and heights of rows and lanes, px. */
const letterPx = 6.4;
const rowPx = 62;
const lanePx = 22;

/** Where a time stands, px from the left. */
type Scale = (at: string) => number;

/** A time in which something dries that was glued, filled or cured. */
interface Spell {
  from: string;
  to: string;
  says: string;
  how: string;
}

/** What dries when; what a print is still to cure counts where that takes hours. */
const dryingIn = (timed: readonly PlannedBedful[], bench: DaysPlan['bench']): Spell[] => [
  ...timed
    .filter((d) => d.doneAt !== null && Date.parse(d.doneAt) - Date.parse(d.offAt!) > 2 * 3_600_000)
    .map((d) => ({ from: d.offAt!, to: d.doneAt!, says: d.bedful, how: 'dries, cured' })),
  ...bench
    .filter((b) => b.what === 'glue dries' || b.what === 'filler dries')
    .map((b) => ({ from: b.from, to: b.to, says: b.project, how: b.what })),
];

/** A printer with its bedfuls. */
function PrinterRow({
  printer,
  days,
  top,
  x,
  chosen,
  toSettle,
  several,
  onChoose,
  onMove,
  onSend,
}: {
  printer: DaysView['printers'][number];
  /** its own, in their order */
  days: readonly PlannedBedful[];
  top: number;
  x: Scale;
  chosen: string | null;
  /** something about it is to be seen to */
  toSettle: (day: PlannedBedful) => boolean;
  /** there are several projects */
  several: boolean;
  onChoose: (id: string | null) => void;
  onMove: (day: PlannedBedful, hours: number) => void;
  /** to the printer so many rows below; false where there is none */
  onSend: (day: PlannedBedful, rows: number) => boolean;
}) {
  const deciding = days.filter((d) => d.decides);
  return (
    <div className="row" style={{ top, height: rowPx }}>
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
      {days.map((d) => {
        const left = x(d.startsAt!);
        return (
          <span key={d.id}>
            {!d.decides && <i className="tail" style={{ left, width: Math.max(0, x(d.offAt!) - left) }} />}
            <BedfulBar
              day={d}
              left={left}
              width={Math.max(18, x(d.endsAt!) - left)}
              chosen={chosen === d.id}
              toSettle={toSettle(d)}
              several={several}
              onChoose={() => onChoose(chosen === d.id ? null : d.id)}
              onMove={(hours) => onMove(d, hours)}
              onSend={(rows) => onSend(d, rows)}
            />
          </span>
        );
      })}
    </div>
  );
}

/** What the maker does with the own hands, in as many lanes as it takes. */
function HandsRow({
  hands,
  lanes,
  top,
  high,
  x,
}: {
  hands: ReturnType<typeof handsOf>;
  /** of each, from above */
  lanes: readonly number[];
  top: number;
  high: number;
  x: Scale;
}) {
  return (
    <div className="row" style={{ top, height: high }}>
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
  );
}

/** What dries. */
function DryingRow({ spells, top, x }: { spells: readonly Spell[]; top: number; x: Scale }) {
  return (
    <div className="row" style={{ top, height: rowPx }}>
      <div className="name">
        <b>Drying</b>
        <small>glue, filler, resin</small>
      </div>
      {spells.map((w) => (
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
  onSend,
}: {
  view: DaysView;
  home: HomeHours;
  /** across the window */
  days: number;
  chosen: string | null;
  onChoose: (id: string | null) => void;
  onMove: (day: PlannedBedful, hours: number) => void;
  /** to another printer, so many hours later; 0 leaves its day */
  onSend: (day: PlannedBedful, printerId: string, hours: number) => void;
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
  // those that something could be sent to as well
  const kinds = new Set(printers.filter((p) => timed.some((d) => d.printer === p.name)).map((p) => p.kind));
  const shown = printers.filter((p) => kinds.size === 0 || kinds.has(p.kind));
  const sent = (day: PlannedBedful, rows: number, hours: number): boolean => {
    const from = shown.findIndex((p) => p.name === day.printer);
    const to = shown[from + rows];
    if (rows === 0 || !to) return false;
    onSend(day, to.id, hours);
    return true;
  };
  const top = (row: number): number => 44 + row * rowPx;
  const youPx = Math.max(rowPx, 14 + lanePx * (1 + Math.max(0, ...lanes)));
  const height = top(shown.length) + youPx + rowPx + 24;
  // where no spool is listed nobody asked
  const isShort = (d: PlannedBedful): boolean => plan.spools.length > 0 && d.shortG > 0.5;
  return (
    <TimelineFrame>
      <DndContext
        sensors={sensors}
        onDragEnd={({ active, delta }) => {
          const day = timed.find((d) => d.id === active.id);
          const hours = (delta.x / pxPerDay) * 24;
          const moved = Math.abs(hours) >= 0.25 ? hours : 0;
          if (day && !sent(day, Math.round(delta.y / rowPx), moved) && moved !== 0) onMove(day, moved);
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
          {shown.map((printer, row) => (
            <PrinterRow
              key={printer.id}
              printer={printer}
              days={timed.filter((d) => d.printer === printer.name)}
              top={top(row)}
              x={x}
              chosen={chosen}
              toSettle={(d) => isShort(d) || d.draws.some((w) => !w.attended)}
              several={names.size > 1}
              onChoose={onChoose}
              onMove={onMove}
              onSend={(d, rows) => sent(d, rows, 0)}
            />
          ))}
          <HandsRow hands={hands} lanes={lanes} top={top(shown.length)} high={youPx} x={x} />
          <DryingRow spells={dryingIn(timed, plan.bench)} top={top(shown.length) + youPx} x={x} />
          <div className="now" style={{ left: x(now) }}>
            <span>now, {clockText(now)}</span>
          </div>
        </div>
      </DndContext>
    </TimelineFrame>
  );
}
