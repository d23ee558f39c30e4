/** A body measure as published: millimetres at the 5th, 50th and 95th percentile. */
export interface BodyMeasure {
  women: readonly [number, number, number];
  men: readonly [number, number, number];
}

/**
 * Where the figures come from. Typed from memory of the published tables, so they are starting points to be checked
 * against the wearer with a tape, not a copy of the survey.
 */
export const anthropometrySource =
  'Gordon et al. 1989, 1988 Anthropometric Survey of U.S. Army Personnel (NATICK/TR-89/044), from memory';

export const bodyMeasures = {
  headGirth: { women: [523, 545, 572], men: [543, 567, 594] },
  headLength: { women: [177, 187, 198], men: [185, 197, 209] },
  headBreadth: { women: [137, 144, 153], men: [143, 152, 161] },
  /** chin to the top of the head */
  headHeight: { women: [203, 218, 235], men: [218, 232, 247] },
  /** between the pupils */
  eyesApart: { women: [57, 62, 69], men: [59, 65, 71] },
  handLength: { women: [165, 180, 197], men: [179, 194, 211] },
  handBreadth: { women: [73, 79, 86], men: [84, 90, 98] },
  stature: { women: [1528, 1628, 1737], men: [1647, 1755, 1867] },
  shoulderBreadth: { women: [397, 433, 472], men: [450, 491, 535] },
  hipBreadth: { women: [343, 384, 432], men: [329, 366, 412] },
  sittingHeight: { women: [795, 851, 910], men: [855, 914, 972] },
  /** floor to the hollow of the knee, seated */
  kneeHollow: { women: [351, 389, 429], men: [395, 434, 476] },
  /** back of the seat to the front of the knee, seated */
  seatToKnee: { women: [542, 588, 640], men: [569, 615, 667] },
} as const satisfies Record<string, BodyMeasure>;

export type BodyMeasureName = keyof typeof bodyMeasures;

export const percentiles = [5, 50, 95] as const;
export type Percentile = (typeof percentiles)[number];

/** Segment lengths and joint heights of a standing person as shares of the stature (Drillis and Contini 1966, as in Winter's handbook; from memory). */
export const segmentShares = {
  ankle: 0.039,
  knee: 0.285,
  hip: 0.53,
  shoulder: 0.818,
  chin: 0.87,
  eye: 0.936,
  upperArm: 0.186,
  forearm: 0.146,
  hand: 0.108,
  footLength: 0.152,
  footBreadth: 0.055,
} as const;

/** Area of the windpipe of a grown person, mm2: a bore of about 18 mm (anatomy handbooks; from memory). An opening for breath should be several times that. */
export const windpipeMm2 = 250;
