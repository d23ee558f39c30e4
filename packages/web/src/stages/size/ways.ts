import type { Axis } from '@jasmorphe/core/mesh/axes';

/** Ways to arrive at a size. */
export const ways = {
  dimension: 'one overall dimension',
  factor: 'a factor or percent',
  measured: 'lengths that I know',
  ratio: 'a ratio of an original',
  bed: 'the largest that fits the bed',
  body: 'a body that it must fit',
  stretch: 'a factor for each axis',
} as const;
export type Way = keyof typeof ways;

/** Parameters of the size operation as a step keeps them. */
export interface SizeKept {
  factor?: number;
  axis?: Axis;
  to?: number;
  measured?: number;
  real?: number;
  readings?: { measured: number; real: number }[];
  ratio?: number;
  original?: number;
  bed?: [number, number, number];
  margin?: number;
  stretch?: [number, number, number];
  shrinkage?: number;
}

/** The way that parameters were given by. */
export const wayOf = (p: SizeKept): Way =>
  p.stretch
    ? 'stretch'
    : p.bed
      ? 'bed'
      : p.ratio
        ? 'ratio'
        : p.readings || p.measured
          ? 'measured'
          : p.factor
            ? 'factor'
            : 'dimension';
