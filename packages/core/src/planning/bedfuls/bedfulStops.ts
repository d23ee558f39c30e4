/** A part of a bedful as far as its stops go. */
export interface StoppedPart {
  tag: string;
  heightMm: number;
  durationS: number;
  /** from the bed up, with how much of the time of its layers is over then; what each is for, in words */
  stops: readonly { atMm: number; afterLayer: number; share: number; says: string }[];
}

/** A stop of a bedful. */
export interface BedfulStop {
  /** after that layer, from 0, at that height */
  afterLayer: number;
  atMm: number;
  /** how much of the time of the bedful is over then, 0 to 1 */
  share: number;
  /** what is to be done, for each part that it is for */
  says: string;
}

/** How much of a part's time is over when the printer is at a height: known at its stops, and even between them. */
function shareAt({ heightMm, stops }: StoppedPart, mm: number): number {
  let [low, below] = [0, 0];
  for (const { atMm, share } of [...stops, { atMm: heightMm, share: 1 }]) {
    if (mm <= atMm) return atMm > low ? below + ((share - below) * (mm - low)) / (atMm - low) : share;
    [low, below] = [atMm, share];
  }
  return 1;
}

/** Stops of parts that are printed one after the other, each in its own time. */
function stopsInTurn(parts: readonly StoppedPart[], wholeS: number): BedfulStop[] {
  let before = 0;
  return parts.flatMap(({ tag, durationS, stops }) => {
    const begun = before;
    before += durationS;
    return stops.map(({ afterLayer, atMm, share, says }) => ({
      afterLayer,
      atMm,
      share: wholeS > 0 ? (begun + share * durationS) / wholeS : 0,
      says: `${tag} ${says}`,
    }));
  });
}

/**
 * Stops of all parts of a bedful. They are laid side by side, layer by layer, so that those after one layer are one; or one
 * after the other.
 */
export function bedfulStops(parts: readonly StoppedPart[], inTurn = false): BedfulStop[] {
  const wholeS = parts.reduce((n, p) => n + p.durationS, 0);
  if (inTurn) return stopsInTurn(parts, wholeS);
  const out = new Map<number, BedfulStop>();
  const all = parts.flatMap((p) => p.stops.map((s) => ({ ...s, tag: p.tag }))).sort((a, b) => a.atMm - b.atMm);
  for (const { afterLayer, atMm, says, tag } of all) {
    const words = `${tag} ${says}`;
    const there = out.get(afterLayer);
    if (there) {
      there.says += `, ${words}`;
      continue;
    }
    const share = parts.reduce((n, p) => n + p.durationS * shareAt(p, atMm), 0) / wholeS;
    out.set(afterLayer, { afterLayer, atMm, share: wholeS > 0 ? share : 0, says: words });
  }
  return [...out.values()];
}
