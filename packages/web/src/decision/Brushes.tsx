import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { askForPoints, holdBrush, mostDabs } from '../bench/benchSlice.ts';
import { LengthField } from '../forms/Fields.tsx';

/** How broad the brush is to begin with, as a share of the model's longest side. */
const usualBrush = 0.03;

/** Skin that is painted: the brush, how broad it is, and how to take paint away again. */
export function Brushes({
  painted,
  longestMm,
  words,
  onWiped,
}: {
  painted: readonly CleanSpot[];
  longestMm: number;
  /** the button that takes the brush, and what it paints */
  words: { take: string; paints: string };
  /** all paint is to come off */
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
      <Box sx={{ display: 'flex', flexWrap: 'wrap' }}>
        <Button variant="text" aria-pressed={brush?.wipes === false} onClick={() => take(false)}>
          {brush?.wipes === false ? 'Draw over the skin' : words.take}
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
      </Box>
      {brush && (
        <LengthField
          label="Brush"
          hint={
            full
              ? `across; ${mostDabs} dabs are as many as are kept: rub some out, or take a broader brush`
              : `across; drawn over the model, it paints ${words.paints}`
          }
          mm={2 * brush.radiusMm}
          above0
          onChange={(mm) => mm !== null && dispatch(holdBrush({ ...brush, radiusMm: mm / 2 }))}
        />
      )}
    </>
  );
}
