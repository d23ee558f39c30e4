import type { PrinterProfile } from '../planning/PrinterProfile.ts';

/** A class of printer, by what fits into it: no make and no model. */
export interface PrinterClass {
  id: string;
  name: string;
  profile: Partial<PrinterProfile>;
}

/** Starting points for a new printer. Sizes, speeds and powers are common practice for each class. */
export const printerClasses: readonly PrinterClass[] = [
  {
    id: 'small-bed',
    name: 'Small bed, filament',
    profile: { kind: 'filament', bedMm: [180, 180, 180], powerW: 90, accelerationMmS2: 2000, wallSpeedMmS: 60 },
  },
  {
    id: 'medium-bed',
    name: 'Medium bed, filament',
    profile: { kind: 'filament', bedMm: [250, 220, 250], powerW: 130 },
  },
  {
    id: 'large-bed',
    name: 'Large bed, filament',
    profile: { kind: 'filament', bedMm: [400, 400, 400], nozzleMm: 0.6, lineWidthMm: 0.65, layerMm: 0.3, powerW: 350 },
  },
  {
    id: 'small-vat',
    name: 'Small vat, resin',
    profile: {
      kind: 'resin',
      bedMm: [130, 80, 160],
      layerMm: 0.05,
      firstLayerMm: 0.05,
      pixelMm: 0.035,
      powerW: 45,
      partLifeH: 2000,
      startS: 120,
      pricePerKg: 34,
    },
  },
  {
    id: 'medium-vat',
    name: 'Medium vat, resin',
    profile: {
      kind: 'resin',
      bedMm: [192, 120, 245],
      layerMm: 0.05,
      firstLayerMm: 0.05,
      pixelMm: 0.05,
      powerW: 90,
      partLifeH: 2000,
      startS: 120,
      pricePerKg: 34,
    },
  },
  {
    id: 'large-vat',
    name: 'Large vat, resin',
    profile: {
      kind: 'resin',
      bedMm: [300, 160, 350],
      layerMm: 0.05,
      firstLayerMm: 0.05,
      pixelMm: 0.05,
      powerW: 180,
      partLifeH: 2000,
      startS: 180,
      pricePerKg: 34,
    },
  },
];
