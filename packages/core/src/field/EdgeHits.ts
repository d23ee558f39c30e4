/** Crossings of grid edges and skin. `edge` is the number of the edge's lower point. */
export interface EdgeHits {
  edge: Uint32Array;
  /** place along the edge, 0 to 1 */
  along: Float32Array;
  triangle: Uint32Array;
  /** 1 where the way along the axis leaves the body */
  leaving: Uint8Array;
}
