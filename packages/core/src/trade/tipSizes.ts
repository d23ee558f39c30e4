/** Sizes of the tips by which a support touches a part. */
export const tipSizes = ['fine', 'middling', 'stout'] as const;
export type TipSize = (typeof tipSizes)[number];

/** Diameters of a tip where it touches, and of the shaft under it, mm. */
export interface TipForm {
  tipMm: number;
  shaftMm: number;
}

/** Of resin: common practice. */
export const resinTips: Record<TipSize, TipForm> = {
  fine: { tipMm: 0.15, shaftMm: 1 },
  middling: { tipMm: 0.35, shaftMm: 1.5 },
  stout: { tipMm: 0.5, shaftMm: 2.3 },
};

/** Of filament, in lines of a usual nozzle: our own judgement. */
export const filamentTips: Record<TipSize, TipForm> = {
  fine: { tipMm: 0.9, shaftMm: 2.5 },
  middling: { tipMm: 1.3, shaftMm: 3.2 },
  stout: { tipMm: 1.8, shaftMm: 4.5 },
};
