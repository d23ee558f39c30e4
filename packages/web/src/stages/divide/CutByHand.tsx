import Button from '@mui/material/Button';
import type { ComponentProps } from 'react';
import { planeOf, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { lazyPart } from '../../app/Boundary.tsx';
import { Creases } from './Creases.tsx';
import { OwnCuts } from './OwnCuts.tsx';

const AreaProfile = lazyPart(() => import('./AreaProfile.tsx'));

/** Where a maker may cut by hand: in the areas along an axis, in creases, anywhere; and the cuts that are made so. */
export function CutByHand({
  hash,
  shown,
  own,
  listed,
  onLook,
  ...of
}: {
  /** of the mesh that is cut; null while it cannot be */
  hash: string | null;
  /** cuts that stand in the areas */
  shown: PlaneCut[];
  own: PlaneCut[] | null;
  /** the maker's own cuts are what is chosen */
  listed: boolean;
  onLook: (cut: PlaneCut | null) => void;
} & Omit<ComponentProps<typeof OwnCuts>, 'cuts'>) {
  const add = (cut: PlaneCut) => of.onChange([...(own ?? []), cut]);
  return (
    <>
      {hash !== null && (
        <>
          <AreaProfile hash={hash} cuts={shown} onCut={add} />
          <Creases hash={hash} onLook={onLook} onCut={add} />
          <Button
            variant="text"
            sx={{ alignSelf: 'flex-start' }}
            onClick={() => {
              add(planeOf({ axis: 'z', mm: of.middle[2] }));
              of.onPick(own?.length ?? 0);
            }}
          >
            Add a cut
          </Button>
        </>
      )}
      {own && own.length > 0 && listed && <OwnCuts cuts={own} {...of} />}
    </>
  );
}
