/** A figure of the trade: every default and check value stands here once, with its unit, reason and source. */
export interface Figure {
  value: number;
  unit: string;
  reason: string;
  source: string;
}

const practice = 'common practice';

export const figures = {
  resinWallMm: { value: 2.5, unit: 'mm', reason: 'thinner resin walls flex and crack', source: practice },
  largeResinWallMm: { value: 3, unit: 'mm', reason: '3 to 3.5 mm for large resin pieces', source: practice },
  shellWallMm: {
    value: 10,
    unit: 'mm',
    reason: 'large filament figures are printed as shells of about 10 mm with no infill',
    source: practice,
  },
  drainMm: {
    value: 3.5,
    unit: 'mm',
    reason: 'resin must run out and washing fluid get in: 3 to 4 mm on large pieces',
    source: practice,
  },
  drainsPerCavity: { value: 2, unit: 'holes', reason: 'one lets liquid out, the other lets air in', source: practice },
  plugClearanceMm: { value: 0.1, unit: 'mm', reason: 'a plug is pushed in and sanded', source: practice },
  sliverMm: {
    value: 15,
    unit: 'mm',
    reason: 'smaller parts of a divide are hard to hold, glue and find again',
    source: practice,
  },
  bedMarginMm: { value: 3, unit: 'mm', reason: 'a brim or skirt needs room at the edge of the bed', source: practice },
  layerMm: { value: 0.2, unit: 'mm', reason: 'the usual layer of a 0.4 mm nozzle', source: practice },
  resinLayerMm: { value: 0.05, unit: 'mm', reason: 'the usual layer of a resin printer', source: practice },
  firstLayerMm: {
    value: 0.2,
    unit: 'mm',
    reason: 'as the other layers unless the printer is set otherwise',
    source: practice,
  },
  overhangDeg: {
    value: 45,
    unit: 'degrees from the vertical',
    reason: 'steeper than this prints without support',
    source: practice,
  },
  bridgeMm: {
    value: 10,
    unit: 'mm',
    reason: 'short bridges are fine: threads of filament hold across this much between two sides',
    source: 'from memory',
  },
  leanLeastDeg: {
    value: 15,
    unit: 'degrees',
    reason: 'resin leans back by 15 to 40 degrees, so that each layer peels little area',
    source: practice,
  },
  leanMostDeg: { value: 40, unit: 'degrees', reason: 'upper end of leaning back', source: practice },
  tipDeg: {
    value: 12,
    unit: 'degrees',
    reason: 'what falls over sooner gets knocked over by the nozzle or torn off by the film',
    source: 'our own judgement',
  },
  handSPerCm2: {
    value: 30,
    unit: 's/cm²',
    reason: 'support is taken off skin that is seen, and the marks are sanded',
    source: 'our own judgement',
  },
  stepSandSPerCm2: {
    value: 4,
    unit: 's/cm² for each 0.1 mm of the steps',
    reason: 'steps of the layers are filled and sanded where they are seen',
    source: 'our own judgement',
  },
  islandS: {
    value: 45,
    unit: 'seconds',
    reason: 'a place that starts in mid-air is looked for, given its support, and clipped off',
    source: 'our own judgement',
  },
  tipSunkMm: { value: 0.2, unit: 'mm', reason: 'a tip is sunk into the part, so that it holds', source: practice },
  tipApartMm: {
    value: 4,
    unit: 'mm',
    reason: 'resin sags between tips that are farther apart',
    source: 'our own judgement',
  },
  strandTipApartMm: {
    value: 6,
    unit: 'mm',
    reason: 'strands of filament hold between tips so far apart',
    source: 'our own judgement',
  },
  liftMm: {
    value: 5,
    unit: 'mm',
    reason: 'resin parts on struts hang clear of the plate, so that they come off it and drain',
    source: 'from memory',
  },
  coolLayerS: {
    value: 8,
    unit: 'seconds',
    reason: 'a layer of filament that is laid sooner has not set when the next one comes',
    source: 'from memory',
  },
  thinnestLayerShare: {
    value: 0.25,
    unit: 'of the nozzle',
    reason: 'thinner layers do not come out evenly',
    source: practice,
  },
  thickestLayerShare: {
    value: 0.75,
    unit: 'of the nozzle',
    reason: 'thicker layers do not hold together',
    source: practice,
  },
  layerStepMm: { value: 0.04, unit: 'mm', reason: 'whole steps of usual leadscrews', source: 'from memory' },
  haltsShare: {
    value: 0.08,
    unit: 'of the time spent laying',
    reason:
      'what speeding up and slowing down adds where no layers are worked out: 5 to 11 % for parts of large shells',
    source: 'measured on our own estimates of the demo parts',
  },
  brimMm: {
    value: 8,
    unit: 'mm',
    reason: 'tall thin parts get knocked over and long thin ones lift at their ends: a brim holds them',
    source: practice,
  },
  travelMmS: {
    value: 120,
    unit: 'mm/s',
    reason: 'what is said of travel as a share of the time spent laying is said of a head that travels so fast',
    source: 'from memory',
  },
  travelLiftMm: {
    value: 1,
    unit: 'mm',
    reason: 'the nozzle is lifted while it travels, so that it knocks nothing over',
    source: practice,
  },
  raftLayers: {
    value: 3,
    unit: 'layers',
    reason: 'a raft of filament: one that holds on to the bed, one across it, one to stand on',
    source: practice,
  },
  raftMarginMm: {
    value: 15,
    unit: 'mm',
    reason: 'a raft reaches so far beyond the part; doubled for tall ones',
    source: practice,
  },
  supportGapMm: {
    value: 0.2,
    unit: 'mm',
    reason: 'the usual gap above support; 0.23 to 0.25 comes off more easily',
    source: practice,
  },
  supportSideMm: { value: 0.35, unit: 'mm', reason: 'the usual gap beside support, to 0.4 mm', source: practice },
  interfaceLayers: { value: 3, unit: 'layers', reason: 'dense layers between support and part', source: practice },
  jointLayers: {
    value: 10,
    unit: 'layers',
    reason:
      'next to a joint 3 to 4 walls and 30 to 40 % infill, never 100: what is laid too much has somewhere to go and the faces still close',
    source: practice,
  },
  tallTimes: {
    value: 4,
    unit: 'times the width of the foot',
    reason: 'higher than this a part sways as it is printed',
    source: 'our own judgement',
  },
  partsApartMm: {
    value: 5,
    unit: 'mm',
    reason: 'room between parts on one bed: brims, the nozzle on its way, a scraper',
    source: practice,
  },
  failuresPerH: {
    value: 1 / 160,
    unit: 'failures an hour',
    reason: 'until the log of the maker tells better: one print of 160 h fails',
    source: 'our own judgement',
  },
  changeBedS: {
    value: 900,
    unit: 'seconds',
    reason: 'parts off, bed clean, the next file sent, first layers watched',
    source: 'our own judgement',
  },
  takeOffS: {
    value: 300,
    unit: 'seconds',
    reason: 'of changing a bed: parts off and the bed clean, before anything is started again',
    source: 'our own judgement',
  },
  stopS: {
    value: 600,
    unit: 'seconds',
    reason: 'of hands at a stop of a print: another colour loaded and purged, or a thing put in',
    source: 'our own judgement',
  },
  standsStillS: {
    value: 3600,
    unit: 'seconds',
    reason: 'a print that stands still for longer lets go of the bed, or shows a seam there',
    source: 'our own judgement',
  },
  longPrintS: {
    value: 6 * 3600,
    unit: 'seconds',
    reason: 'prints of so long are looked at again before much is lost',
    source: 'our own judgement',
  },
  secondLookShare: {
    value: 0.15,
    unit: 'of the print',
    reason: 'look at the first layers, and again here',
    source: practice,
  },
  washS: {
    value: 900,
    unit: 'seconds',
    reason: 'resin off the plate, washed for 2 to 4 min in a station, set to dry, gloves on and off',
    source: 'our own judgement',
  },
  resinDryS: {
    value: 4 * 3600,
    unit: 'seconds',
    reason: 'dried for hours: wet pieces cure with white bloom',
    source: practice,
  },
  cureS: {
    value: 900,
    unit: 'seconds',
    reason: 'supports off and cured, about 4 min in a station',
    source: 'our own judgement',
  },
  glueJointS: {
    value: 900,
    unit: 'seconds',
    reason: 'a joint fitted dry, roughened, glued and held',
    source: 'our own judgement',
  },
  seamJointS: {
    value: 600,
    unit: 'seconds',
    reason: 'the seam of a joint filled and sanded through the grits',
    source: 'our own judgement',
  },
  fastGlueDryS: { value: 1800, unit: 'seconds', reason: 'weighted down for about 30 min', source: practice },
  slowGlueDryS: { value: 12 * 3600, unit: 'seconds', reason: 'epoxy takes load overnight', source: 'from memory' },
  fillerDryS: { value: 2 * 3600, unit: 'seconds', reason: 'body filler before it is sanded', source: 'from memory' },
  reserveG: {
    value: 20,
    unit: 'grams',
    reason: 'left on a spool that is to hold: the end that sticks, the purge, a slip of the scales',
    source: 'our own judgement',
  },
  thickerLayerFactor: {
    value: 1.4,
    unit: 'times the layer',
    reason: 'from 0.2 to 0.28 mm of a 0.4 mm nozzle: the next usual step',
    source: practice,
  },
  fitClearanceMm: { value: 0.15, unit: 'mm a side', reason: 'a snug push fit, sanded to size', source: practice },
  joinAcrossMm: { value: 6, unit: 'mm', reason: 'stout enough to hold parts while glue cures', source: practice },
  bandMm: {
    value: 10,
    unit: 'mm',
    reason: 'room for a pin of 6 mm with 2 mm of flesh on either side; screws with their nuts want about 20 mm',
    source: 'our own judgement',
  },
  joinSkinMm: { value: 0.8, unit: 'mm', reason: 'two lines of a 0.4 mm nozzle around a hole', source: practice },
  slowGlueMm2: {
    value: 5000,
    unit: 'mm²',
    reason: 'fast glue sets before so large a face is closed; epoxy gives time and fills gaps',
    source: 'our own judgement',
  },
  tagMm: {
    value: 8,
    unit: 'mm',
    reason: 'read at arm’s length, small enough for most faces',
    source: 'our own judgement',
  },
  tagDepthMm: { value: 0.6, unit: 'mm', reason: 'three layers of 0.2 mm', source: practice },
  spinClearanceMm: { value: 0.6, unit: 'mm gap', reason: 'parts that must spin freely', source: practice },
  pixelMm: { value: 0.05, unit: 'mm', reason: 'the side of a pixel of a usual screen', source: 'from memory' },
  filamentDiameterMm: { value: 1.75, unit: 'mm', reason: 'the usual filament', source: practice },
  personMm: {
    value: 1750,
    unit: 'mm',
    reason: 'a grown person standing, to hold large things against',
    source: practice,
  },
  variantBoxPct: {
    value: 12,
    unit: '% of the longest side',
    reason: 'forms of one piece, such as an open and a shut jaw, differ by no more in size and place',
    source: 'our own judgement',
  },
  handMm: { value: 190, unit: 'mm', reason: "a grown person's hand, from wrist to fingertip", source: practice },
  filamentDensityGCm3: { value: 1.24, unit: 'g/cm3', reason: 'the usual filament plastic', source: practice },
  resinDensityGCm3: { value: 1.1, unit: 'g/cm3', reason: 'the usual resin, liquid', source: practice },
  thinWallMm: {
    value: 0.8,
    unit: 'mm',
    reason: 'two lines of a 0.4 mm nozzle: thinner walls vanish or break',
    source: practice,
  },
  resinThinMm: {
    value: 0.3,
    unit: 'mm',
    reason: 'thinner resin walls tear off the film or break in washing',
    source: practice,
  },
  nozzleMm: { value: 0.4, unit: 'mm', reason: 'the usual nozzle', source: practice },
  fineLayerBelow: {
    value: 0.5,
    unit: 'factor',
    reason: 'below half size detail is lost in the usual layer',
    source: practice,
  },
  fineLayerMm: { value: 0.12, unit: 'mm', reason: 'finer layers for small copies: 0.12 to 0.16 mm', source: practice },
  fineLayerMostMm: { value: 0.16, unit: 'mm', reason: 'upper end of the finer layers', source: practice },
  thinGapMm: {
    value: 0.3,
    unit: 'mm',
    reason: 'narrower gaps close up when layers are laid or cured side by side',
    source: practice,
  },
  facetMm: {
    value: 0.1,
    unit: 'mm off a smooth curve',
    reason: 'half a layer: flats deeper than this can be seen and felt',
    source: practice,
  },
  creaseDeg: {
    value: 40,
    unit: 'degrees between neighbours',
    reason: 'a sharper fold is meant as an edge, a softer one as part of a curve',
    source: practice,
  },
} as const satisfies Record<string, Figure>;

/** Nozzles that are sold for hobby printers, mm. Common practice. */
export const nozzlesMm = [0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.8, 1] as const;

/** Grams in a metre of filament: a cylinder of the diameter given (closed form). */
export const gramsPerMetre = (diameterMm: number, densityGCm3: number): number =>
  (Math.PI / 4) * diameterMm ** 2 * densityGCm3;
