import { applyMat3, identity3, placeMesh, rotationToZ, vec3, type Mat3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { faceAt } from '../../planning/faceAt.ts';
import { rotationOf } from '../../worn/Placement.ts';
import { MeshError } from '../../run/MeshError.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

const middleOf = (mesh: TriMesh): Vec3 => {
  const { min, max } = boundsOf(mesh);
  return vec3((k) => (min[k] + max[k]) / 2);
};

/** Turned about the middle of its bounds; the very same where there is nothing to turn. */
function turned(mesh: TriMesh, rows: Mat3): TriMesh {
  const middle = middleOf(mesh);
  const to = applyMat3(rows, middle);
  return placeMesh(mesh, rows, [middle[0] - to[0], middle[1] - to[1], middle[2] - to[2]]);
}

/** Shifts and turns a model to numbers, or lays a face down. Triangles stay as they are; only corners move. */
export const move = makeOperation(description, async ([source], { face, turn, onBed, by }, context) => {
  const from = middleOf(source);
  let mesh = source;
  context.progress(0.2, 'Turning');
  const laid = face ? faceAt(source, face) : null;
  if (laid) mesh = turned(mesh, rotationToZ([-laid.normal[0], -laid.normal[1], -laid.normal[2]]));
  if (turn.some((d) => d !== 0)) mesh = turned(mesh, rotationOf({ moveMm: [0, 0, 0], turnDeg: turn }));
  context.checkCancelled();
  const middle = middleOf(mesh);
  const shift = onBed ? ([by[0] - middle[0], by[1] - middle[1], by[2] - boundsOf(mesh).min[2]] as const) : by;
  context.progress(0.7, 'Shifting');
  if (shift.some((mm) => mm !== 0)) mesh = placeMesh(mesh, identity3, [shift[0], shift[1], shift[2]]);
  const box = boundsOf(mesh);
  const largest = Math.max(...box.min.map(Math.abs), ...box.max.map(Math.abs));
  if (!(largest <= 1e6))
    throw new MeshError(
      'bad-params',
      `That takes the model ${largest.toPrecision(3)} mm away from the origin.`,
      'Up to 1 km is taken.',
      'by',
    );
  const to = middleOf(mesh);
  return {
    outputs: [mesh],
    report: {
      size: xyz(sizeOf(box)),
      min: xyz(box.min),
      movedMm: Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]),
      faceAreaMm2: laid?.areaMm2 ?? null,
    },
  };
});
