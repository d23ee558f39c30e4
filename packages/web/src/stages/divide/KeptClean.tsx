import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import CloseIcon from '@mui/icons-material/Close';
import { useEffect } from 'react';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { vec3 } from '@jasmorphe/core/mesh/transform';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { askForPlace, askForPoints, holdBrush, mostDabs } from '../../bench/benchSlice.ts';
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

/** How broad the brush is to begin with, as a share of the model's longest side. */
const usualBrush = 0.03;

/** Skin painted to stay clean: the brush, how broad it is, and how to take paint away again. */
function Brushes({
  painted,
  longestMm,
  onWiped,
}: {
  painted: readonly CleanSpot[];
  longestMm: number;
  onWiped: () => void;
}) {
  const dispatch = useAppDispatch();
  const brush = useAppSelector((s) => s.bench.brush);
  const full = painted.length >= mostDabs;
  const usual = Math.max(1, Math.round(usualBrush * longestMm));
  const take = (wipes: boolean) => {
    dispatch(askForPoints(0));
    dispatch(holdBrush(brush && brush.wipes === wipes ? null : { radiusMm: brush?.radiusMm ?? usual, wipes }));
  };
  return (
    <>
      <div className="brushes">
        <Button variant="text" aria-pressed={brush?.wipes === false} onClick={() => take(false)}>
          {brush?.wipes === false ? 'Draw over the skin' : 'Paint skin clean'}
        </Button>
        {painted.length > 0 && (
          <>
            <Button variant="text" aria-pressed={brush?.wipes === true} onClick={() => take(true)}>
              Rub out
            </Button>
            <Button variant="text" onClick={onWiped}>
              Take all paint off
            </Button>
          </>
        )}
      </div>
      {brush && (
        <LengthField
          label="Brush"
          hint={
            full
              ? `across; ${mostDabs} dabs are as many as are kept: rub some out, or take a broader brush`
              : 'across; drawn over the model, it paints skin that no seam shall cross'
          }
          mm={2 * brush.radiusMm}
          onChange={(mm) => mm !== null && mm > 0 && dispatch(holdBrush({ ...brush, radiusMm: mm / 2 }))}
        />
      )}
    </>
  );
}

/** Places of the skin in which no seam shall show, picked or painted on the bench. */
export function KeptClean({
  boxes,
  painted,
  longestMm,
  onChange,
  onWiped,
}: {
  boxes: readonly CleanBox[];
  painted: readonly CleanSpot[];
  longestMm: number;
  onChange: (boxes: CleanBox[]) => void;
  /** all paint is to come off */
  onWiped: () => void;
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
        onClick={() => {
          dispatch(holdBrush(null));
          dispatch(asking ? askForPoints(0) : askForPlace('clean'));
        }}
      >
        {asking ? 'Click the place on the model' : 'Keep a place clean'}
      </Button>
      <Brushes painted={painted} longestMm={longestMm} onWiped={onWiped} />
    </div>
  );
}
