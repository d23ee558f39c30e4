/** What was seen of a piece. */
export interface SeenPiece {
  id: string;
  name: string;
  overhangPct: number;
  detailMm: number | null;
}

/** The pieces that try a printer hardest: the finest, and the one with the most overhang. */
export function testPiecesOf<P extends SeenPiece>(pieces: readonly P[]): { finest: P | null; hanging: P | null } {
  let finest: P | null = null;
  let hanging: P | null = null;
  for (const p of pieces) {
    if (p.detailMm !== null && (finest === null || p.detailMm < finest.detailMm!)) finest = p;
    if (p.overhangPct > 0 && (hanging === null || p.overhangPct > hanging.overhangPct)) hanging = p;
  }
  return { finest, hanging };
}
