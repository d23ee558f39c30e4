import { boundsOf, concatMeshes, type TriMesh } from '../../../mesh/TriMesh.ts';
import { identity3, placeMesh } from '../../../mesh/transform.ts';
import { fromSolid, withSolids, type Solid } from '../../../solid/kernel.ts';
import { printedApart } from '../../../trade/joinKinds.ts';
import type { LoosePart } from './Join.ts';
import { grown, prism, roundOutline, squareOutline, tongueOutline, type Maker } from './shapes.ts';

/** Between dowels on the bed, mm. */
const gapMm = 3;
/** How many stand in a row. */
const perRow = 10;

/** A dowel lying on the bed: a round one on a flat, so that it neither rolls nor needs support. */
function bodyOf(maker: Maker, { kind, acrossMm, lengthMm, heightMm, keyed }: LoosePart): Solid {
  const { keep } = maker;
  if (kind === 'tongue') return prism(maker, grown(maker, tongueOutline(acrossMm, lengthMm), 0), 0, heightMm, 1);
  const outline = kind === 'square' ? squareOutline(acrossMm, keyed) : roundOutline(acrossMm, keyed);
  const bar = prism(maker, grown(maker, outline, 0), 0, lengthMm, 1, true);
  // the flat of a keyed one lies at +x, and goes down
  const laid = keep(bar.rotate([0, 90, 0]));
  const { min } = laid.boundingBox();
  if (kind === 'square' || keyed) return keep(laid.translate([0, 0, -min[2]]));
  // a sliver of a fourteenth is left off below
  const foot = keep(laid.trimByPlane([0, 0, 1], min[2] + acrossMm / 14));
  return keep(foot.translate([0, 0, -foot.boundingBox().min[2]]));
}

/**
 * What has to be printed apart for the joins, as many of each size as are needed, in rows on the bed.
 *
 * @returns one mesh a size; none where nothing is printed apart
 */
export const looseMeshes = (loose: readonly LoosePart[]): Promise<{ name: string; mesh: TriMesh }[]> =>
  withSolids((kernel, keep) => {
    let y = 0;
    return loose
      .filter((l) => printedApart.includes(l.kind))
      .map((part) => {
        const one = fromSolid(bodyOf({ kernel, keep }, part));
        const { min, max } = boundsOf(one);
        const [wide, deep] = [max[0] - min[0] + gapMm, max[1] - min[1] + gapMm];
        const copies = Array.from({ length: part.count }, (_, i) =>
          placeMesh(one, identity3, [
            (i % perRow) * wide - min[0],
            y + Math.floor(i / perRow) * deep - min[1],
            -min[2],
          ]),
        );
        y += Math.ceil(part.count / perRow) * deep;
        return { name: `${part.count} of ${part.kind} ${part.size}`, mesh: concatMeshes(copies) };
      });
  });
