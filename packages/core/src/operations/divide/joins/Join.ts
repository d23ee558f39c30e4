import type { Xyz } from '../../../mesh/TriMesh.ts';
import type { MadeKind } from '../../../trade/joinKinds.ts';

/** One join as a part sees it. */
export interface PlacedJoin {
  kind: MadeKind;
  /** does this part carry the pin, or the hole for it? */
  role: 'pin' | 'hole';
  /** tag of the part on the other side */
  to: string;
  /** middle of it, in the plane of the cut */
  at: Xyz;
  /** number of the cut, from 1 */
  cut: number;
  /** across: of the pin, the magnet, the thread; width of a tongue, a slide or a groove */
  diameterMm: number;
  /** how far it stands in the part with the hole */
  depthMm: number;
  /** of a dowel or bolt, or of a tongue or slide along the face; else 0 */
  lengthMm: number;
  /** flesh left beside it in the plane of the cut, clearance taken off */
  wallMm: number;
  /** what is bought or printed for it, such as `M3 x 16`; else empty */
  size: string;
  /** stands in a boss that was made for it */
  boss: boolean;
  /** placed by hand */
  own: boolean;
}

/** A wish that could not be met. */
export interface JoinLeftOut {
  at: Xyz;
  why: 'noFace' | 'noRoom';
}

/** Things to print or buy for the joins. */
export interface LoosePart {
  kind: 'dowel' | 'square' | 'tongue' | 'magnet' | 'bolt' | 'nut';
  /** such as `6 x 11` or `M3 x 16`, mm */
  size: string;
  /** across and long, mm; a tongue's length is along the face, and it is as high as it says */
  acrossMm: number;
  lengthMm: number;
  heightMm: number;
  /** has a flat or a cut corner, so that it goes in one way */
  keyed: boolean;
  count: number;
}

/** Two faces that could be put together though they do not belong together. */
export interface Mixable {
  /** tags: this part's pins enter the other's holes */
  part: string;
  other: string;
  cut: number;
  otherCut: number;
  /** by how much it would be turned, degrees */
  turnDeg: number;
}
