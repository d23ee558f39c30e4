import { dualContour } from '../../field/dualContour.ts';
import { scanConvert } from '../../field/scanConvert.ts';
import type { RunContext } from '../../run/context.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { diagonalOf, type TriMesh } from '../../mesh/TriMesh.ts';
import { makeConsistent } from '../../repair/orient.ts';
import { dropCollapsed } from './stitch.ts';

/**
 * A body is not believed that is smaller or larger by these factors than what the winding number of the torn skin
 * tells, which is itself too small by a tenth where one large opening is left.
 */
const leastBody = 0.8;
const mostBody = 1.6;

export interface TornSkin {
  /** the old skin with all its holes, made to face one way */
  skin: TriMesh;
  /** can a body of this volume, mm3, be the one that the skin suggests? */
  mayBe(volume: number): boolean;
}

/** The torn skin and the body that it bounds by its winding number, measured on a grid to about a hundredth. */
export function tornSkin(source: TriMesh, context: RunContext): TornSkin {
  const torn = dropCollapsed(source);
  const skin = makeConsistent(torn).mesh;
  const rough = volumeOf(dualContour(scanConvert(skin, diagonalOf(skin) / 100, context), skin, 0, context));
  return {
    skin,
    mayBe: (volume) => !(rough > 0) || (volume > leastBody * rough && volume < mostBody * rough),
  };
}
