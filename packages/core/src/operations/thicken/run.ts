import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { extractLevel } from '../../field/extractLevel.ts';
import { makeSimpler } from '../../repair/makeSimpler.ts';
import { Bvh, newHit } from '../../mesh/Bvh.ts';
import { sliceContext } from '../../run/context.ts';
import { deviationOf } from '../../mesh/deviation.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { isSound } from '../../inspect/Inspection.ts';
import { areaOf, volumeOf } from '../../mesh/measures.ts';
import { MeshError } from '../../run/MeshError.ts';
import { sampleWalls, thicknessFigures, thinPct } from '../../mesh/thickness.ts';
import { boundsOf, concatMeshes, diagonalOf, triangleCount } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { refusalOf } from '../../solid/refusal.ts';
import { joinShells } from '../mend/join.ts';
import { midSurface } from './midSurface.ts';

/** Cells of the grid that the skin of what grows may pass through: so many cost little, and so many are the most. */
const easyCells = 60_000;
/** Cells that a wall is at least wide. */
const coarsest = 1.8;
const mostCells = 700_000;
/** Walls count as thin below this share of the least thickness: the grid rounds what grows by as much. */
const slack = 0.97;
const samples = 40_000;

/**
 * Makes walls that are too thin as thick as asked, and nothing else. Everything within half the thickness of the middle of
 * the thin walls is joined to the body along exact crossing curves, so triangles away from thin walls stay bit for bit.
 */
export const thicken = makeOperation(description, async ([input], { min, side }, context) => {
  const mesh = weldExact(input);
  const before = inspectMesh(mesh, { brief: true }, sliceContext(context, 0, 0.1));
  if (!isSound(before))
    throw new MeshError(
      'not-solid',
      'The mesh is not a sound solid, so it cannot be told where its walls are.',
      'Mend it first.',
    );
  // the coarsest grid that still shows such a wall, over the most cells
  const most = mostCells * (min / coarsest) ** 2;
  const middle = midSurface(mesh, min, side, most, sliceContext(context, 0.1, 0.3));
  if (!middle)
    throw new MeshError(
      'too-fine',
      `Walls thinner than ${min} mm cover more than ${(most / 200).toFixed(0)} cm² of this model: that is a shell, not a few thin places.`,
      'Wrap it with a grown skin in Mend, or hollow the solid to a wall in Hollow.',
      'min',
    );
  const walls = sampleWalls(mesh, samples, sliceContext(context, 0.3, 0.35));
  const thinBefore = thinPct(mesh, walls, slack * min);
  const area = areaOf(mesh);
  if (triangleCount(middle) === 0)
    throw new MeshError(
      'cannot',
      `No wall of any size is thinner than ${min} mm: all but one in a hundred places measure ${thicknessFigures(walls, null).p01Mm.toFixed(2)} mm or more.`,
      'Nothing needs to grow.',
      'min',
    );
  // of the grown skin, both sides
  const skin = 2 * areaOf(middle);
  const fine = Math.min(min / 4, Math.max(min / 6, Math.sqrt(skin / easyCells)));
  const detail = Math.max(fine, Math.sqrt(skin / mostCells), diagonalOf(mesh) / 8000);
  const tree = new Bvh(middle);
  const hit = newHit();
  const box = boundsOf(middle);
  const reach = min / 2;
  let growth = extractLevel(
    {
      distance: (x, y, z, limit) => Math.min(limit, tree.nearest(x, y, z, limit, hit).distance),
      inside: () => false,
      depth: -reach,
      closed: true,
    },
    {
      min: [box.min[0] - reach, box.min[1] - reach, box.min[2] - reach],
      max: [box.max[0] + reach, box.max[1] + reach, box.max[2] + reach],
    },
    detail,
    sliceContext(context, 0.35, 0.6),
  );
  growth = await makeSimpler(growth, 0.02 * min, sliceContext(context, 0.6, 0.7));
  const grown = await joinShells(weldExact(concatMeshes([mesh, growth])), sliceContext(context, 0.7, 0.85));
  const broken = grown ? await refusalOf(grown) : 'it could not be joined without crossings';
  if (!grown || broken)
    throw new MeshError(
      'cannot',
      `What grows could not be joined to the body: ${broken}.`,
      'Try a slightly different thickness, or wrap the model with a grown skin in Mend.',
    );
  const left = thinPct(grown, sampleWalls(grown, samples, sliceContext(context, 0.85, 0.9)), slack * min);
  const volume = volumeOf(grown);
  return {
    outputs: [grown],
    report: {
      minMm: min,
      thinBeforePct: thinBefore,
      thinAfterPct: left,
      thinAreaBeforeMm2: (area * thinBefore) / 100,
      thinAreaAfterMm2: (areaOf(grown) * left) / 100,
      volumeMm3: volume,
      addedMm3: volume - volumeOf(mesh),
      deviation: deviationOf(mesh, grown, 40_000, sliceContext(context, 0.9, 1)),
      trianglesBefore: triangleCount(mesh),
      trianglesAfter: triangleCount(grown),
      detailMm: detail,
      note:
        left > 0.2
          ? `${left.toFixed(1)} % of the skin still reads thinner: sharp edges do, however thick the wall behind them.`
          : 'Every wall measured is as thick as asked.',
    },
  };
});
