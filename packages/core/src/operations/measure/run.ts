import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { measureOn } from '../../measuring/measure.ts';
import { axes } from '../../mesh/axes.ts';

/** Measures one length. */
export const measure = makeOperation(description, async ([mesh], { kind, at, axis }) => {
  return { outputs: [], report: measureOn(mesh, kind, at, axes.indexOf(axis) as 0 | 1 | 2) };
});
