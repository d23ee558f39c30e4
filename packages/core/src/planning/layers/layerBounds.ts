import type { PrinterProfile } from '../PrinterProfile.ts';

/** Height of the top of a layer above the bed, mm. @param layer from 0; -1 is the bed itself */
export const topOfLayer = (
  layer: number,
  { firstLayerMm, layerMm }: Pick<PrinterProfile, 'firstLayerMm' | 'layerMm'>,
): number => (layer < 0 ? 0 : firstLayerMm + layer * layerMm);

/** Height of the middle of a layer above the bed, mm. @param layer from 0 */
export const middleOfLayer = (layer: number, profile: Pick<PrinterProfile, 'firstLayerMm' | 'layerMm'>): number =>
  (topOfLayer(layer - 1, profile) + topOfLayer(layer, profile)) / 2;

/** The last layer whose top lies at or under a height; -1 where not even the first does. */
export const layerUnder = (
  mm: number,
  { firstLayerMm, layerMm }: Pick<PrinterProfile, 'firstLayerMm' | 'layerMm'>,
): number => (mm < firstLayerMm - 1e-6 ? -1 : Math.floor((mm - firstLayerMm) / layerMm + 1e-6));

/** The layer that lays what is at a height, from 0: a boundary belongs to the layer over it. */
export const layerAt = (mm: number, profile: Pick<PrinterProfile, 'firstLayerMm' | 'layerMm'>): number =>
  layerUnder(Math.max(0, mm), profile) + 1;

/** A stop of the print, such as for another colour: after which layer, and at what height that ends. */
export interface Pause {
  askedMm: number;
  afterLayer: number;
  atMm: number;
}

/** Where a print stops for a height: on the layer boundary at or under it. Null below the first layer and above the part. */
export function pauseAt(mm: number, heightMm: number, profile: PrinterProfile): Pause | null {
  const afterLayer = layerUnder(mm, profile);
  const atMm = topOfLayer(afterLayer, profile);
  return afterLayer < 0 || atMm >= heightMm - 1e-6 ? null : { askedMm: mm, afterLayer, atMm };
}
