import { type Stray, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { shellsOf } from '../../mesh/edges.ts';
import { findGround } from '../../mesh/ground.ts';
import { shellMeasures } from '../../mesh/shells.ts';
import { triangleCentre } from '../../mesh/measures.ts';
import { MeshError } from '../../run/MeshError.ts';
import { once } from '../../mesh/once.ts';
import { boundsOf, subMesh, triangleCount, xyz, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { normalize } from '../../mesh/transform.ts';
import { windingOf } from '../../mesh/WindingTree.ts';
import { weldExact } from '../../mesh/weld.ts';
import { clipMesh } from '../../section/clip.ts';

/** Takes what does not belong to the model off a scan. Cut edges stay open for Mend to close. */
export const crop = makeOperation(description, async ([input], params, context) => {
  const source = weldExact(input);
  let mesh = source;
  const { min, max } = boundsOf(source);
  for (let k = 0; k < 3; k++) {
    const axis = [0, 0, 0];
    axis[k] = 1;
    if (params.min && params.min[k] > min[k]) mesh = clipMesh(mesh, axis as unknown as Vec3, params.min[k]).mesh;
    if (params.max && params.max[k] < max[k])
      mesh = clipMesh(mesh, axis.map((x) => -x) as unknown as Vec3, -params.max[k]).mesh;
  }
  if (params.offset !== undefined && !params.normal)
    throw new MeshError('bad-params', 'A plane needs a normal beside its offset.', 'Give both.', 'normal');
  if (params.normal) mesh = clipMesh(mesh, normalize(params.normal), params.offset ?? 0).mesh;
  if (params.keep === 'picked' && !params.at)
    throw new MeshError('bad-params', 'Which shell is to be kept is not said.', 'Give a point on it.', 'at');
  context.checkCancelled();
  context.progress(0.3, 'Looking for the ground');
  const ground = params.ground ? findGround(mesh) : null;
  if (params.ground && !ground)
    throw new MeshError(
      'no-ground',
      'No flat patch reaches out under the model: there is no ground to take off.',
      'Crop with a box or a plane instead.',
      'ground',
    );
  if (ground) mesh = clipMesh(mesh, ground.normal, ground.offset + (params.groundMargin ?? 2.5 * ground.flatMm)).mesh;
  if (triangleCount(mesh) === 0)
    throw new MeshError(
      'nothing-left',
      'Nothing of the model lies inside that.',
      'Choose a larger box or turn the plane round.',
    );
  context.progress(0.7, 'Looking for strays');
  const { label, count } = shellsOf(mesh);
  const { boxes } = shellMeasures(mesh);
  const size = new Uint32Array(count);
  for (const s of label) size[s]++;
  const span = (s: number) => Math.hypot(...[0, 1, 2].map((k) => boxes[6 * s + 3 + k] - boxes[6 * s + k]));
  let strays: Stray[] = [];
  let straysDropped = 0;
  if (params.keep !== 'all' && count > 1) {
    const kept = params.at && params.keep === 'picked' ? nearestShell(mesh, label, params.at) : largestOf(size, span);
    const home = insideOf(mesh, label, kept, boxes);
    const gone = Array.from({ length: count }, (_, s) => s).filter((s) => s !== kept && !home(s));
    gone.sort((a, b) => size[b] - size[a] || a - b);
    straysDropped = gone.length;
    strays = gone.slice(0, 50).map((s) => ({
      triangles: size[s],
      at: xyz([0, 1, 2].map((k) => (boxes[6 * s + k] + boxes[6 * s + 3 + k]) / 2) as unknown as Vec3),
      spanMm: span(s),
    }));
    const keep: number[] = [];
    const drop = new Uint8Array(count);
    for (const s of gone) drop[s] = 1;
    for (let t = 0; t < label.length; t++) if (!drop[label[t]]) keep.push(t);
    mesh = subMesh(mesh, keep);
  }
  const after = boundsOf(mesh);
  return {
    outputs: [mesh],
    report: {
      trianglesBefore: triangleCount(source),
      trianglesAfter: triangleCount(mesh),
      size: xyz([0, 1, 2].map((k) => after.max[k] - after.min[k]) as unknown as Vec3),
      ground,
      strays,
      straysDropped,
    },
  };
});

/** Tells the shells that lie inside one, such as its cavities: they belong to it. */
function insideOf(mesh: TriMesh, label: Uint32Array, shell: number, boxes: Float32Array): (s: number) => boolean {
  const own: number[] = [];
  const first = new Int32Array(boxes.length / 6).fill(-1);
  label.forEach((s, t) => {
    if (s === shell) own.push(t);
    if (first[s] < 0) first[s] = t;
  });
  const alone = once(() => subMesh(mesh, own));
  return (s) => {
    for (let k = 0; k < 3; k++)
      if (boxes[6 * s + k] < boxes[6 * shell + k] || boxes[6 * s + 3 + k] > boxes[6 * shell + 3 + k]) return false;
    return windingOf(alone()).at(...triangleCentre(mesh, first[s])) >= 0.5;
  };
}

function nearestShell(mesh: TriMesh, label: Uint32Array, at: readonly number[]): number {
  return label[treeOf(mesh).nearest(at[0], at[1], at[2], Infinity, newHit()).triangle];
}

/** The shell with the most triangles, or of those the one that reaches farthest. */
function largestOf(size: Uint32Array, span: (s: number) => number): number {
  let best = 0;
  for (let s = 1; s < size.length; s++)
    if (size[s] > size[best] || (size[s] === size[best] && span(s) > span(best))) best = s;
  return best;
}
