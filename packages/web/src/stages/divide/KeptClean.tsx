import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import CloseIcon from '@mui/icons-material/Close';
import { useEffect } from 'react';
import type { CleanBox } from '@jasmorphe/core/planning/cuts/CleanBox';
import { vec3 } from '@jasmorphe/core/mesh/transform';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { askForPlace, askForPoints } from '../../bench/benchSlice.ts';
import { LengthField } from '../../forms/Fields.tsx';

/** How large a place that is picked is taken, as a share of the model's longest side. */
const usualShare = 0.12;

/** The edges of a box, to be drawn. */
export function edgesOfBox({ min, max }: CleanBox): number[] {
  const out: number[] = [];
  const at = (i: number): number[] => [0, 1, 2].map((k) => ((i >> k) & 1 ? max[k] : min[k]));
  for (let a = 0; a < 8; a++) for (let k = 0; k < 3; k++) if (!((a >> k) & 1)) out.push(...at(a), ...at(a | (1 << k)));
  return out;
}

export const acrossOf = ({ min, max }: CleanBox): number => max[0] - min[0];

export const grown = (box: CleanBox, across: number): CleanBox => {
  const middle = vec3((k) => (box.min[k] + box.max[k]) / 2);
  return { min: vec3((k) => middle[k] - across / 2), max: vec3((k) => middle[k] + across / 2) };
};

/** Places of the skin in which no seam shall show, picked on the bench. */
export function KeptClean({
  boxes,
  longestMm,
  onChange,
}: {
  boxes: readonly CleanBox[];
  longestMm: number;
  onChange: (boxes: CleanBox[]) => void;
}) {
  const dispatch = useAppDispatch();
  const points = useAppSelector((s) => s.bench.points);
  const asking = useAppSelector((s) => s.bench.purpose === 'clean');
  useEffect(() => {
    if (!asking || points.length === 0) return;
    const [x, y, z] = points[0];
    dispatch(askForPoints(0));
    onChange([...boxes, grown({ min: [x, y, z], max: [x, y, z] }, usualShare * longestMm)]);
    // a place is taken once, when it is picked
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [points]);
  useEffect(() => () => void dispatch(askForPoints(0)), [dispatch]);
  return (
    <div className="keptClean">
      {boxes.length > 0 && (
        <ul aria-label="Places kept clean">
          {boxes.map((box, i) => (
            <li key={i}>
              <LengthField
                label={`Kept clean, ${i + 1}`}
                hint="across; no seam shall show in there"
                mm={acrossOf(box)}
                onChange={(mm) => mm !== null && mm > 0 && onChange(boxes.map((b, k) => (k === i ? grown(b, mm) : b)))}
              />
              <IconButton
                size="small"
                aria-label={`Let seams into place ${i + 1}`}
                onClick={() => onChange(boxes.filter((_, k) => k !== i))}
              >
                <CloseIcon fontSize="inherit" />
              </IconButton>
            </li>
          ))}
        </ul>
      )}
      <Button
        variant="text"
        sx={{ alignSelf: 'flex-start' }}
        aria-pressed={asking}
        onClick={() => dispatch(asking ? askForPoints(0) : askForPlace('clean'))}
      >
        {asking ? 'Click the place on the model' : 'Keep a place clean'}
      </Button>
    </div>
  );
}
