import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import type { BodyView } from '@jasmorphe/contracts/views';
import { placed } from '@jasmorphe/core/worn/Placement';
import { useChangeReferenceMutation } from '../../app/api.ts';

/** Moves the bodies held against a model along when it grows, so that they keep their place within it. */
export function useCarriedReferences(body: BodyView): (grows: number) => void {
  const [change] = useChangeReferenceMutation();
  return (grows) => {
    for (const r of body.references) {
      const points = Object.values(r.landmarks);
      const middle = [0, 1, 2].map((k) =>
        points.length > 0 ? points.reduce((s, p) => s + p[k], 0) / points.length : 0,
      );
      const at = placed({ moveMm: r.move, turnDeg: r.turn }, middle as unknown as Triple);
      void change({ id: r.id, bodyId: body.id, move: r.move.map((m, k) => m + (grows - 1) * at[k]) as Triple });
    }
  };
}
