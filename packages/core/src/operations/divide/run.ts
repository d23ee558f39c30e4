import { type DivideParams, type DividedPart, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { MeshError } from '../../run/MeshError.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { boundsOf, sizeOf, xyz, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { flattestPose } from '../../planning/partPose.ts';
import { roomOf } from '../../planning/room.ts';
import { cutSegments, measureCut } from '../../section/cut.ts';
import { fromSolid, splitByPlane, toSolid, withSolids, type Solid } from '../../solid/kernel.ts';
import { axes } from '../../mesh/axes.ts';
import { bestLie, cellsFor, gridCuts, type CutAt } from './grid.ts';
import { bodiesOf } from '../mend/join.ts';
import { addJoins } from './joins.ts';
import { engraveTags } from './tags.ts';

/** Chooses the cuts: those given, or the even grid with the fewest cells over the ways the bed can lie. */
export function planCuts(mesh: TriMesh, params: DivideParams): { cuts: CutAt[]; reason: string } {
  const box = boundsOf(mesh);
  const size = sizeOf(box);
  const room = roomOf(params.bed, params.margin);
  if (params.at) {
    for (const { axis, mm } of params.at) {
      const k = axes.indexOf(axis);
      if (!(mm > box.min[k] && mm < box.max[k]))
        throw new MeshError(
          'bad-params',
          `A cut at ${axis} = ${mm} mm misses the model, which reaches from ${box.min[k].toFixed(1)} to ${box.max[k].toFixed(1)}.`,
          '',
          'at',
        );
    }
    const seen = new Set<string>();
    const cuts = params.at.filter(({ axis, mm }) => !seen.has(`${axis}${mm}`) && seen.add(`${axis}${mm}`));
    return {
      cuts: cuts.slice().sort((a, b) => axes.indexOf(a.axis) - axes.indexOf(b.axis) || a.mm - b.mm),
      reason: 'Your own cuts.',
    };
  }
  const best = params.plan === 'grid' ? room : bestLie(size, room);
  const cells = cellsFor(size, best);
  if (cells > 2000)
    throw new MeshError(
      'bad-params',
      `The bed is so small that ${cells} cells would be needed.`,
      'Size the model down, or give a larger bed.',
      'bed',
    );
  return {
    cuts: gridCuts(box.min, size, best),
    reason:
      best === room
        ? `Even cells within ${best.map((x) => Math.round(x)).join(' × ')} mm.`
        : `Parts lie turned on the bed: ${cells} cells rather than ${cellsFor(size, room)}.`,
  };
}

/** A, B, ... Z, AA, AB ... */
export function letters(n: number): string {
  let out = '';
  for (let i = n; i >= 0; i = Math.floor(i / 26) - 1) out = String.fromCharCode(65 + (i % 26)) + out;
  return out;
}

/** Cuts a solid by planes into parts that fit the bed; every part keeps its place. */
export const divide = makeOperation(description, async ([mesh], params, context) => {
  const { cuts, reason } = planCuts(mesh, params);
  const room = roomOf(params.bed, params.margin);
  return withSolids(async (kernel, keep) => {
    context.progress(0, 'Cutting');
    let cells: { solid: Solid; level: number }[] = [{ solid: keep(toSolid(kernel, mesh)), level: 0 }];
    const whole = cells[0].solid.volume();
    // level by level first, so that letters go up with z
    const ordered = [...cuts].sort(
      (a, b) =>
        Number(b.axis === 'z') - Number(a.axis === 'z') || axes.indexOf(a.axis) - axes.indexOf(b.axis) || a.mm - b.mm,
    );
    ordered.forEach(({ axis, mm }, i) => {
      context.checkCancelled();
      context.progress((0.5 * i) / ordered.length, `Cut ${i + 1} of ${ordered.length}`);
      const k = axes.indexOf(axis);
      const normal = [0, 1, 2].map((q) => (q === k ? 1 : 0)) as unknown as Vec3;
      const next: typeof cells = [];
      for (const cell of cells) {
        const { min, max } = cell.solid.boundingBox();
        if (max[k] <= mm || min[k] >= mm) {
          next.push(min[k] >= mm && k === 2 ? { ...cell, level: cell.level + 1 } : cell);
          continue;
        }
        const [above, below] = splitByPlane(cell.solid, normal, mm);
        keep(above);
        keep(below);
        if (!below.isEmpty()) next.push({ solid: below, level: cell.level });
        if (!above.isEmpty()) next.push({ solid: above, level: cell.level + (k === 2 ? 1 : 0) });
      }
      cells = next;
    });
    const lumps: { solid: Solid; level: number; tag: string }[] = [];
    for (const cell of cells)
      // the kernel's own way apart would make a part of every cavity
      for (const body of bodiesOf(fromSolid(cell.solid)))
        lumps.push({ solid: keep(toSolid(kernel, body)), level: cell.level, tag: '' });
    if (params.maxParts !== undefined && lumps.length > params.maxParts)
      throw new MeshError(
        'cannot',
        `${lumps.length} parts are needed, and at most ${params.maxParts} were allowed.`,
        'Allow more parts, give a larger bed, or size the model down.',
        'maxParts',
      );
    const sum = lumps.reduce((v, l) => v + l.solid.volume(), 0);
    const order = (l: { solid: Solid; level: number }): Vec3 => {
      const { min, max } = l.solid.boundingBox();
      return [l.level, Math.round((min[1] + max[1]) / 2), (min[0] + max[0]) / 2];
    };
    lumps.sort((a, b) => {
      const p = order(a);
      const q = order(b);
      return p[0] - q[0] || p[1] - q[1] || p[2] - q[2];
    });
    const perLevel = new Map<number, number>();
    for (const lump of lumps) {
      const number = (perLevel.get(lump.level) ?? 0) + 1;
      perLevel.set(lump.level, number);
      lump.tag = `${letters(lump.level)}${number}`;
    }
    context.progress(0.55, 'Placing joins');
    const joins =
      params.join === 'none'
        ? lumps.map(() => [])
        : addJoins(kernel, keep, lumps, cuts, params.join, params.clearance, context);
    if (params.labels) engraveTags(kernel, keep, lumps, cuts);
    const outputs: TriMesh[] = [];
    const parts: DividedPart[] = [];
    for (let i = 0; i < lumps.length; i++) {
      context.checkCancelled();
      context.progress(0.7 + (0.3 * i) / lumps.length, `Does ${lumps[i].tag} fit?`);
      const part = fromSolid(lumps[i].solid);
      const { fits, rotation, heightMm, footMm2 } = await flattestPose(part, room);
      const box = boundsOf(part);
      outputs.push(part);
      parts.push({
        tag: lumps[i].tag,
        volumeMm3: volumeOf(part),
        size: xyz(sizeOf(box)),
        min: xyz(box.min),
        fits,
        pose: { rotation },
        heightMm,
        footMm2,
        joins: joins[i],
      });
    }
    return {
      outputs,
      report: {
        parts,
        cuts: cuts.map(({ axis, mm }) => {
          const normal = [0, 1, 2].map((q) => (q === axes.indexOf(axis) ? 1 : 0)) as unknown as Vec3;
          return {
            axis,
            normal: xyz(normal),
            offset: mm,
            areaMm2: measureCut(cutSegments(mesh, normal, mm), normal).areaMm2,
          };
        }),
        volumeError: whole > 0 ? Math.abs(sum - whole) / whole : 0,
        reason,
      },
    };
  });
});
