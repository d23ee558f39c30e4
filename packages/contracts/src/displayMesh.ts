/*
 * Display mesh, as the browser gets it: reduced to a budget, positions as 16-bit fractions of the bounds.
 *
 *   0  4 bytes   "JMD1"
 *   4  uint32    vertices V
 *   8  uint32    triangles T
 *  12  uint32    triangles of the full mesh
 *  16  6 float32 bounds: min x, y, z, size x, y, z
 *  40  uint32    bytes of packed vertices A
 *  44  uint32    bytes of packed indices B
 *  48  A bytes   meshopt-coded vertices, 8 bytes each: x, y, z, 0 as uint16
 *   .. B bytes   meshopt-coded triangle indices, 4 bytes each
 */
export const displayMagic = 0x31444d4a;
export const displayHeaderBytes = 48;
export const displayVertexBytes = 8;

/** Triangles that a display mesh may have when the caller names no budget. */
export const defaultDisplayBudget = 150_000;
