/** A closed skin on which cuts are tried. */
export interface Skin {
  positions: Float32Array;
  triangles: Uint32Array;
  /** how much a seam shows on each triangle; 0 on the faces of cuts */
  seen: Float32Array;
  /** where it is known already */
  volumeMm3?: number;
}
