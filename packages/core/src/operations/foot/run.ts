import { type FootChoice, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { isSound } from '../../inspect/Inspection.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { MeshError } from '../../run/MeshError.ts';
import { normalize, placeMesh, rotationToZ, transpose } from '../../mesh/transform.ts';
import { boundsOf, type TriMesh } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { originOf } from '../../mesh/edges.ts';
import { fillHoles } from '../../repair/fillHoles.ts';
import { clipMesh } from '../../section/clip.ts';
import { Slicer } from '../../section/Slicer.ts';
import { fromSolid, splitByPlane, toSolid, withSolids } from '../../solid/kernel.ts';

/** Heights are looked at up to this share of the model's. */
const highest = 0.12;
/** The proposal is the lowest cut that gives this share of the area that the highest would. */
const enough = 0.7;

/**
 * The lowest cut that gives most of the area to be had low down: more height buys little more foot.
 *
 * @param mesh standing along z
 */
function proposeFoot(mesh: TriMesh): { proposed: FootChoice; choices: FootChoice[] } {
  const { min, max } = boundsOf(mesh);
  const tall = max[2] - min[2];
  const slicer = new Slicer(mesh);
  const choices: FootChoice[] = [];
  const steps = 24;
  for (let i = 1; i <= steps; i++) {
    const heightMm = tall * highest * (i / steps) ** 1.5;
    choices.push({ heightMm, areaMm2: Math.max(0, slicer.at(min[2] + heightMm).areaMm2) });
  }
  const most = Math.max(...choices.map((c) => c.areaMm2));
  const proposed = choices.find((c) => c.areaMm2 >= enough * most) ?? choices[0];
  return { proposed, choices };
}

/** Cuts the bottom flat, so that the model stands, and closes the cut. */
export const foot = makeOperation(description, async ([input], params, context) => {
  const turn = rotationToZ(normalize(params.up));
  const upright = placeMesh(weldExact(input), turn);
  const { min, max } = boundsOf(upright);
  context.progress(0.1, 'Looking for a height');
  const { proposed, choices } = proposeFoot(upright);
  const heightMm = params.height ?? proposed.heightMm;
  if (heightMm >= max[2] - min[2])
    throw new MeshError(
      'nothing-left',
      `Cutting ${heightMm.toFixed(1)} mm off a model ${(max[2] - min[2]).toFixed(1)} mm tall leaves nothing.`,
      'Choose a lower cut.',
      'height',
    );
  const z = min[2] + heightMm;
  const before = inspectMesh(upright, { brief: true }, context);
  context.progress(0.6, 'Cutting the foot');
  const cut = isSound(before)
    ? await withSolids((kernel, keep) => {
        const [above, below] = splitByPlane(keep(toSolid(kernel, upright)), [0, 0, 1], z);
        keep(below);
        return fromSolid(keep(above));
      })
    : closeAt(upright, z);
  const contact = Math.max(0, new Slicer(cut).at(z + 1e-4 * (max[2] - min[2])).areaMm2);
  return {
    outputs: [placeMesh(cut, transpose(turn))],
    report: {
      heightMm,
      contactAreaMm2: contact,
      proposed,
      choices,
      removedVolumeMm3: before.watertight ? volumeOf(upright) - volumeOf(cut) : null,
    },
  };
});

/** A mesh with other faults cut at a height: only the loops of the cut are closed, flat. */
function closeAt(mesh: TriMesh, z: number): TriMesh {
  const clipped = clipMesh(mesh, [0, 0, 1], z);
  return fillHoles(
    clipped.mesh,
    {
      limitMm: Infinity,
      follow: false,
      wanted: (m, loop) => loop.every((h) => clipped.onCut[originOf(m, h)] === 1),
    },
    { progress() {}, checkCancelled() {}, seed: 1 },
  ).mesh;
}
