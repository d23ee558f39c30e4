import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { mmPerUnit } from '@jasmorphe/core/formats/units';
import { normalize } from '@jasmorphe/core/mesh/transform';
import type { Vec3, Xyz } from '@jasmorphe/core/mesh/TriMesh';
import { heightOver, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { useLength } from '../../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { askForPlace, askForPoints } from '../../bench/benchSlice.ts';
import { acrossOf, grown } from '../../bench/boxes.ts';
import { usePickedPlace } from '../../decision/usePickedPlace.ts';
import { ChoiceField, LengthField, NumberField } from '../../forms/Fields.tsx';
import { CloseIcon } from '../../ui/icons.tsx';
import { Row, Rows } from '../../ui/Rows.ts';

const degrees = 180 / Math.PI;
/** How large the box of a cut that ends is at first, as a share of the model's longest side. */
const boxShare = 0.25;

/** How a normal leans off the vertical, and to which side that points, degrees. */
export function leanOf([x, y, z]: Vec3): { tilt: number; turn: number } {
  const round = (a: number): number => Math.round(a * 100) / 100;
  return {
    tilt: round(Math.acos(Math.max(-1, Math.min(1, z))) * degrees),
    turn: Math.hypot(x, y) < 1e-9 ? 0 : round(Math.atan2(y, x) * degrees),
  };
}

/** The same in words: along an axis, or by its angles. */
export function leanText(normal: Vec3): string {
  const k = normal.findIndex((x) => x === 1);
  if (k >= 0) return `across ${'xyz'[k]}`;
  const { tilt, turn } = leanOf(normal);
  return tilt === 0 ? 'across z' : `${tilt.toFixed(0)}° towards ${turn.toFixed(0)}°`;
}

/** The same plane leaned otherwise, about the point by which it is known, or about the middle of the model. */
export function leaned(cut: PlaneCut, { tilt, turn }: { tilt: number; turn: number }, middle: Vec3): PlaneCut {
  const s = Math.sin(tilt / degrees);
  const clean = (x: number): number => (Math.abs(x) < 1e-12 ? 0 : Math.abs(Math.abs(x) - 1) < 1e-12 ? Math.sign(x) : x);
  const normal = normalize([
    clean(s * Math.cos(turn / degrees)),
    clean(s * Math.sin(turn / degrees)),
    clean(Math.cos(tilt / degrees)),
  ]);
  const about = cut.through ?? middle;
  // the foot of the point in the plane as it was
  const h = cut.through ? 0 : heightOver(cut, about);
  const foot: Vec3 = [0, 1, 2].map((k) => about[k] - h * cut.normal[k]) as unknown as Vec3;
  const offset = normal[0] * foot[0] + normal[1] * foot[1] + normal[2] * foot[2];
  return { ...cut, normal, offset };
}

/** A plane moved along its normal; the point by which it is known goes with it. */
export const moved = (cut: PlaneCut, offset: number): PlaneCut => ({
  ...cut,
  offset,
  ...(cut.through
    ? {
        through: [0, 1, 2].map((k) => cut.through![k] + (offset - cut.offset) * cut.normal[k]) as unknown as Vec3,
      }
    : {}),
});

/** A cut through the part in hand alone: it goes through what is nearest to the middle of its box. */
function oneOf(cut: PlaneCut, part: { min: Xyz; size: Xyz } | null): PlaneCut {
  if (!part) return cut;
  const { min, size } = part;
  const at: Vec3 = [min.x + size.x / 2, min.y + size.y / 2, min.z + size.z / 2];
  const h = heightOver(cut, at);
  return { ...cut, through: [0, 1, 2].map((k) => at[k] - h * cut.normal[k]) as unknown as Vec3 };
}

/** The maker's own cuts: each with where it is and how it leans, to be changed or taken away. */
export function OwnCuts({
  cuts,
  middle,
  picked,
  handles,
  longestMm,
  part,
  onHandles,
  onPick,
  onChange,
}: {
  cuts: readonly PlaneCut[];
  middle: Vec3;
  picked: number | null;
  /** what the handles on the bench do with the one that is picked */
  handles: 'move' | 'turn';
  longestMm: number;
  /** box of the part in hand, to which a cut can be kept */
  part: { min: Xyz; size: Xyz } | null;
  onHandles: (handles: 'move' | 'turn') => void;
  onPick: (index: number | null) => void;
  onChange: (cuts: PlaneCut[]) => void;
}) {
  const unit = useAppSelector((s) => s.ui.unit);
  const perUnit = mmPerUnit[unit];
  const length = useLength();
  const set = (i: number, cut: PlaneCut) => onChange(cuts.map((c, k) => (k === i ? cut : c)));
  const open = picked === null ? undefined : cuts[picked];
  const dispatch = useAppDispatch();
  const { asking } = usePickedPlace('box', (at) => {
    if (open) set(picked!, { ...open, within: grown({ min: at, max: at }, boxShare * longestMm) });
  });
  return (
    <div>
      <Rows component="ol" aria-label="Own cuts">
        {cuts.map((cut, i) => (
          <Row key={i}>
            <Button
              variant="text"
              color={i === picked ? 'primary' : 'inherit'}
              aria-pressed={i === picked}
              onClick={() => onPick(i === picked ? null : i)}
            >
              Cut {i + 1}
            </Button>
            <span className="figure">
              {cut.loop ? 'along a crease' : `${length(cut.offset)} · ${leanText(cut.normal)}`}
              {cut.within ? ' · in a box' : cut.through ? ' · one part' : ''}
            </span>
            <IconButton
              size="small"
              aria-label={`Take cut ${i + 1} away`}
              onClick={() => {
                onPick(null);
                onChange(cuts.filter((_, k) => k !== i));
              }}
            >
              <CloseIcon fontSize="inherit" />
            </IconButton>
          </Row>
        ))}
      </Rows>
      {open && !open.loop && (
        <div className="fields">
          <ChoiceField
            label="Handles on the bench"
            value={handles}
            choices={[
              { value: 'move', text: 'draw' },
              { value: 'turn', text: 'lean' },
            ]}
            onChange={onHandles}
          />
          <ChoiceField
            label="Cuts"
            value={open.within ? 'box' : open.through ? 'one' : 'all'}
            choices={[
              { value: 'all', text: 'all that it meets' },
              ...(open.through || part ? [{ value: 'one' as const, text: 'one part' }] : []),
              { value: 'box', text: 'only in a box' },
            ]}
            onChange={(to) => {
              const { normal, offset } = open;
              dispatch(to === 'box' ? askForPlace('box') : askForPoints(0));
              set(picked!, to === 'all' ? { normal, offset } : to === 'one' ? oneOf({ normal, offset }, part) : open);
            }}
          />
          {asking && <p className="quiet">Click the place on the model where it shall cut.</p>}
          {open.within && (
            <LengthField
              label="Box, across"
              hint="sections that have their middle in it are cut, others are left whole"
              mm={acrossOf(open.within)}
              above0
              onChange={(mm) => mm !== null && set(picked!, { ...open, within: grown(open.within!, mm) })}
            />
          )}
          <NumberField
            label={`At, ${unit}`}
            hint="along its normal, from the origin of the model"
            value={open.offset / perUnit}
            onChange={(at) => at !== null && set(picked!, moved(open, at * perUnit))}
          />
          <NumberField
            label="Leans"
            hint="off the level, degrees: 0 is a level cut, 90 an upright one"
            value={leanOf(open.normal).tilt}
            onChange={(tilt) => tilt !== null && set(picked!, leaned(open, { ...leanOf(open.normal), tilt }, middle))}
          />
          <NumberField
            label="Towards"
            hint="to which side it leans, degrees from x to y"
            value={leanOf(open.normal).turn}
            onChange={(turn) => turn !== null && set(picked!, leaned(open, { ...leanOf(open.normal), turn }, middle))}
          />
        </div>
      )}
    </div>
  );
}
