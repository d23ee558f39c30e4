import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';
import { useDraggable } from '@dnd-kit/core';
import type { KeyboardEvent } from 'react';
import type { PlannedBedful } from '@jasmorphe/core/planning/days/DaysPlan';
import { clockText } from '@jasmorphe/core/planning/days/planWords';
import { secondsText } from '@jasmorphe/core/words/numbers';

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

/** One bedful on its printer's row; dragged, or moved with the arrows: by an hour, or to the printer above or below. */
export function BedfulBar({
  day,
  left,
  width,
  chosen,
  toSettle,
  several,
  onChoose,
  onMove,
  onSend,
}: {
  day: PlannedBedful;
  left: number;
  width: number;
  chosen: boolean;
  toSettle: boolean;
  several: boolean;
  onChoose: () => void;
  onMove: (hours: number) => void;
  /** to the printer so many rows below */
  onSend: (rows: number) => void;
}) {
  const { setNodeRef, listeners, attributes, transform } = useDraggable({ id: day.id, disabled: day.running });
  const key = (e: KeyboardEvent): void => {
    const hours = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    const rows = { ArrowUp: -1, ArrowDown: 1 }[e.key];
    if ((hours === undefined && rows === undefined) || day.running) return;
    e.preventDefault();
    e.stopPropagation();
    if (hours !== undefined) onMove(e.shiftKey ? 6 * hours : hours);
    else if (rows !== undefined) onSend(rows);
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
      style={{ left, width, transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined }}
      aria-pressed={chosen}
      title={says}
      data-testid="bar"
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
