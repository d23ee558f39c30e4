import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { KeyboardEvent } from 'react';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { TagOnBed } from './TagOnBed.tsx';
import type { BedMove, DrawnBed, DrawnPart } from './beds.ts';

/** Beds are drawn so wide, px. */
export const bedPx = 300;

const arrows: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

function HandPart({
  part,
  bed,
  picked,
  clashes,
  turnedDeg,
  onPick,
  onMove,
}: {
  part: DrawnPart;
  bed: DrawnBed;
  picked: boolean;
  clashes: boolean;
  /** since its shadow was drawn */
  turnedDeg: number;
  onPick: () => void;
  onMove: (move: BedMove) => void;
}) {
  const { setNodeRef, listeners, attributes, transform, isDragging } = useDraggable({ id: part.tag });
  const [wide, deep] = bed.bedMm;
  const mm = wide / bedPx;
  const key = (e: KeyboardEvent): void => {
    const arrow = arrows[e.key];
    if (arrow) {
      const step = e.shiftKey ? 10 : 1;
      onMove({ kind: 'shift', tag: part.tag, by: { x: arrow[0] * step, y: arrow[1] * step } });
    } else if (e.key === '[' || e.key === ']') onMove({ kind: 'turn', tag: part.tag, byDeg: e.key === '[' ? 15 : -15 });
    else if (e.key === 'Enter' || e.key === ' ') onPick();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const x = part.at.x + (transform?.x ?? 0) * mm;
  const y = deep - part.at.y + (transform?.y ?? 0) * mm;
  return (
    <g
      ref={(node) => setNodeRef(node as unknown as HTMLElement | null)}
      {...listeners}
      {...attributes}
      role="button"
      tabIndex={0}
      className="handPart"
      transform={`translate(${x} ${y})`}
      aria-label={`${part.tag}${clashes ? ', overlaps or reaches out' : ''}`}
      aria-pressed={picked}
      style={{ cursor: isDragging ? 'grabbing' : 'grab', touchAction: 'none', opacity: isDragging ? 0.8 : 1 }}
      onClick={onPick}
      onKeyDown={key}
    >
      <path
        d={part.path}
        transform={`scale(1 -1) rotate(${turnedDeg})`}
        fill={clashes ? 'var(--madder)' : picked ? 'var(--verdigris)' : 'var(--clay)'}
        fillOpacity={clashes ? 0.6 : picked ? 0.45 : 1}
      />
      <TagOnBed tag={part.tag} size={wide / 14} marked={clashes} />
    </g>
  );
}

/** A bed on which parts are moved by hand. */
export function HandBed({
  bed,
  no,
  picked,
  clashing,
  drawnDeg,
  profile,
  onPick,
  onMove,
}: {
  bed: DrawnBed;
  no: number;
  /** of its printer */
  profile: Pick<PrinterProfile, 'marginMm' | 'keepOuts'>;
  picked: string | null;
  /** tags that overlap */
  clashing: ReadonlySet<string>;
  /** turns at which the shadows were drawn, by tag */
  drawnDeg: ReadonlyMap<string, number>;
  onPick: (tag: string) => void;
  onMove: (move: BedMove) => void;
}) {
  const { setNodeRef } = useDroppable({ id: `bed ${no}` });
  const [wide, deep] = bed.bedMm;
  return (
    <svg
      ref={(node) => setNodeRef(node as unknown as HTMLElement | null)}
      width={bedPx}
      height={(bedPx * deep) / wide}
      viewBox={`0 0 ${wide} ${deep}`}
      style={{ overflow: 'visible' }}
      role="group"
      aria-label={`Bed ${no + 1}, ${bed.printer}, from above`}
    >
      <rect width={wide} height={deep} fill="var(--bench)" stroke="var(--ink2)" strokeWidth={wide / 200} />
      <rect
        x={profile.marginMm}
        y={profile.marginMm}
        width={wide - 2 * profile.marginMm}
        height={deep - 2 * profile.marginMm}
        fill="none"
        stroke="var(--ink3)"
        strokeWidth={wide / 400}
        strokeDasharray={`${wide / 60} ${wide / 90}`}
      />
      {profile.keepOuts.map(({ min, max }, i) => (
        <rect
          key={i}
          x={min[0]}
          y={deep - max[1]}
          width={max[0] - min[0]}
          height={max[1] - min[1]}
          fill="var(--line)"
          stroke="var(--ink3)"
          strokeWidth={wide / 400}
        />
      ))}
      {bed.parts.map((part) => (
        <HandPart
          key={part.tag}
          part={part}
          bed={bed}
          picked={picked === part.tag}
          clashes={clashing.has(part.tag)}
          turnedDeg={part.turnDeg - (drawnDeg.get(part.tag) ?? part.turnDeg)}
          onPick={() => onPick(part.tag)}
          onMove={onMove}
        />
      ))}
    </svg>
  );
}
