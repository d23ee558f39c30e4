import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { measureKinds, type MeasureKind } from '@jasmorphe/core/measuring/measureKinds';
import { pointsOf } from '@jasmorphe/core/measuring/measure';
import { averageReadings, type Reading } from '@jasmorphe/core/measuring/readings';
import { axes, type Axis } from '@jasmorphe/core/mesh/axes';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { askForPoints, dropPoints, setMarks } from '../../bench/benchSlice.ts';
import { ChoiceField, LengthField } from '../../forms/Fields.tsx';
import { FigureTable } from '../../ui/FigureTable.tsx';
import { fullMesh } from '../../worker/fullMesh.ts';

/** A length measured on the model, and what it is in truth. */
export interface TakenReading extends Reading {
  says: string;
  lines: number[];
}

const kindWords: Record<MeasureKind, string> = {
  points: 'two points',
  axis: 'two points, along an axis',
  circle: 'a circle, by three points',
  rim: 'a round rim',
  girth: 'a girth',
};

/**
 * Measures known lengths on the bench and asks what they are in truth.
 *
 * @param scale lengths measured now, divided by this, are lengths on the model before it was sized
 */
export function Readings({
  hash,
  scale,
  readings,
  onChange,
}: {
  hash: string;
  scale: number;
  readings: TakenReading[];
  onChange: (readings: TakenReading[]) => void;
}) {
  const dispatch = useAppDispatch();
  const length = useLength();
  const points = useAppSelector((s) => s.bench.points);
  const [kind, setKind] = useState<MeasureKind>('points');
  const [axis, setAxis] = useState<Axis>('z');
  const [trouble, setTrouble] = useState('');
  const wanted = pointsOf[kind];
  useEffect(() => {
    dispatch(askForPoints(wanted));
    return () => void dispatch(askForPoints(0));
  }, [wanted, kind, dispatch]);
  useEffect(() => {
    dispatch(setMarks(readings.map((r) => r.lines)));
    return () => void dispatch(setMarks([]));
  }, [readings, dispatch]);
  const latest = useRef({ readings, onChange });
  useEffect(() => void (latest.current = { readings, onChange }), [readings, onChange]);
  useEffect(() => {
    if (points.length < wanted) return;
    let live = true;
    fullMesh()
      .measure(hash, kind, points, axes.indexOf(axis) as 0 | 1 | 2)
      .then(
        ({ lengthMm, says, lines }) => {
          if (!live) return;
          setTrouble('');
          const { readings: before, onChange: change } = latest.current;
          const measured = lengthMm / scale;
          // a first guess at its true length: what the readings so far make of it
          const factor = before.length > 0 ? averageReadings(before).factor : scale;
          change([...before, { measured, real: measured * factor, says, lines }]);
          dispatch(dropPoints());
        },
        (error: unknown) => {
          if (!live) return;
          setTrouble(error instanceof Error ? error.message : 'This cannot be measured.');
          dispatch(dropPoints());
        },
      );
    return () => void (live = false);
  }, [points, wanted, hash, kind, axis, scale, dispatch]);
  const averaged = readings.length > 0 ? averageReadings(readings) : null;
  return (
    <div data-testid="readings">
      <ChoiceField
        label="Measure"
        value={kind}
        onChange={setKind}
        choices={measureKinds.map((value) => ({ value, text: kindWords[value] }))}
      />
      {(kind === 'axis' || kind === 'girth') && (
        <ChoiceField
          label={kind === 'girth' ? 'Tape square to' : 'Along'}
          value={axis}
          onChange={setAxis}
          choices={axes.map((value) => ({ value, text: value }))}
        />
      )}
      <p className="lead">
        {trouble ||
          (points.length === 0
            ? `Click ${wanted === 1 ? 'a point' : `${wanted} points`} on the model.`
            : `${points.length} of ${wanted} points.`)}
      </p>
      {averaged && (
        <FigureTable
          label="Readings"
          heads={['On the model', 'In truth', 'Factor', '']}
          rows={readings.map((r, i) => ({
            key: i,
            marked: averaged.each[i].suspect,
            says: r.says,
            cells: [
              <span className="figure">{length(r.measured)}</span>,
              <LengthField
                label={`Reading ${i + 1} in truth`}
                hideLabel
                mm={r.real}
                above0
                onChange={(v) => v !== null && onChange(readings.map((x, j) => (j === i ? { ...x, real: v } : x)))}
              />,
              <>
                ×{fixed(averaged.each[i].factor, averaged.each[i].factor >= 10 ? 2 : 3)}
                {averaged.each[i].suspect && ` ${fixed(averaged.each[i].offPct, 0)} % off`}
              </>,
              <Button
                variant="text"
                color="inherit"
                size="small"
                aria-label={`Drop reading ${i + 1}`}
                onClick={() => onChange(readings.filter((_, j) => j !== i))}
              >
                drop
              </Button>,
            ],
          }))}
        />
      )}
      {averaged && readings.length > 1 && (
        <p className="lead">
          Average ×{fixed(averaged.factor, 3)}, spread {fixed(averaged.spreadPct, 1)} %.
          {averaged.without &&
            ` Without what stands out: ×${fixed(averaged.without.factor, 3)}, ${fixed(averaged.without.spreadPct, 1)} %.`}
        </p>
      )}
    </div>
  );
}
