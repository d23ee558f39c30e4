export const measureKinds = ['points', 'axis', 'circle', 'rim', 'girth'] as const;

export type MeasureKind = (typeof measureKinds)[number];
