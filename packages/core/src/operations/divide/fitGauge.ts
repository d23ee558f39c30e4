import type { TriMesh } from '../../mesh/TriMesh.ts';
import { MeshError } from '../../run/MeshError.ts';
import { fromSolid, withSolids, type Solid } from '../../solid/kernel.ts';
import { figures } from '../../trade/figures.ts';
import { fixed } from '../../words/numbers.ts';
import { grown, prism, roundOutline } from './joins/shapes.ts';
import { wordOutline } from './tags.ts';

/** Steps of a gauge, mm a side (common practice: finer ones are not told apart). */
export const gaugeSteps: readonly number[] = [0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4];

const thick = 8;
const wall = 3;
const letterMm = 4;
/** The pin is longer than the comb is thick, so that it can be pushed out again, mm. */
const pinOver = 6;

/**
 * A fit gauge: a comb with one hole a step, its gap on each side engraved beside it in hundredths of a millimetre, and a
 * loose pin with a handle. Printed as everything is, it tells which gap a printer and its material need: the step into
 * which the pin goes snugly.
 *
 * @param steps gap on each side, mm, 0.02 to 1.5; at most 20
 * @throws MeshError `bad-params` for other steps
 */
export const fitGauge = (steps: readonly number[] = gaugeSteps): Promise<TriMesh> => {
  if (steps.length === 0 || steps.length > 20 || !steps.every((s) => Number.isFinite(s) && s >= 0.02 && s <= 1.5))
    throw new MeshError('bad-params', 'A gauge has one to 20 steps from 0.02 to 1.5 mm.', 'Nothing was made.', 'steps');
  const across = figures.joinAcrossMm.value;
  return withSolids((kernel, keep) => {
    const maker = { kernel, keep };
    const pin = grown(maker, roundOutline(across, false), 0);
    const pitch = across + 2 * Math.max(...steps) + wall;
    const deep = across + 2 * Math.max(...steps) + 2 * wall + letterMm + 1;
    const long = steps.length * pitch + wall;
    const box = (x: number, y: number, z: number): Solid => keep(kernel.Manifold.cube([x, y, z]));
    const holeY = wall + across / 2 + Math.max(...steps);
    const tools = steps.flatMap((step, i) => {
      const x = wall / 2 + pitch * (i + 0.5);
      const hole = prism(maker, grown(maker, roundOutline(across, false), step), -1, thick + 1, 1);
      const word = wordOutline(maker, fixed(100 * step, 0), letterMm);
      const mark = prism(maker, keep(word.translate([x, deep - letterMm / 2 - 1.5])), thick - 0.6, thick + 1, 1);
      return [keep(hole.translate([x, holeY, 0])), mark];
    });
    const comb = keep(box(long, deep, thick).subtract(keep(kernel.Manifold.union(tools))));
    const handle = keep(box(14, 14, 5).translate([0, -20, 0]));
    const stem = keep(prism(maker, pin, 4, 5 + thick + pinOver, 1, true).translate([7, -13, 0]));
    return fromSolid(keep(kernel.Manifold.compose([comb, keep(handle.add(stem))])));
  });
};
