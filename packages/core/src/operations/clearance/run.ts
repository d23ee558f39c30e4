import { type ClearanceParams, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { isSound } from '../../inspect/Inspection.ts';
import { sliceContext } from '../../run/context.ts';
import { MeshError } from '../../run/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { referenceKinds, type ReferenceBody } from '../../reference/ReferenceBody.ts';
import { makeReference } from '../../reference/makeReference.ts';
import { windpipeMm2 } from '../../trade/anthropometry.ts';
import { clearanceOf, regionsOfBox } from '../../worn/clearance.ts';
import { piecePoints, type Placement } from '../../worn/Placement.ts';
import { seatIn } from '../../worn/seat.ts';
import { WornBody } from '../../worn/WornBody.ts';
import { fieldOfView, openingsFrom, type FieldOfView, type Opening } from '../../worn/sight.ts';

const bodyOf = (params: ClearanceParams, scan: TriMesh | undefined): { name: string; body: ReferenceBody } => {
  if ((params.kind !== undefined) === (params.scan !== undefined || scan !== undefined))
    throw new MeshError(
      'bad-params',
      params.kind ? 'Give a kind of body or a scan, not both.' : 'No body was given to measure against.',
      `A kind is one of ${referenceKinds.join(', ')}.`,
      'kind',
    );
  return params.kind
    ? { name: params.kind, body: makeReference(params.kind, params.measures) }
    : { name: 'scan', body: { mesh: scan!, landmarks: {}, regions: regionsOfBox(scan!) } };
};

/** Eyes stand off the skin by this, so that the skin they sit in does not blind them, mm. */
const eyeOff = 1.5;

/** How much room a piece leaves around a body, where it touches, and what is seen and breathed through it. */
export const clearance = makeOperation(description, async ([mesh, scan], params, context) => {
  const { name, body } = bodyOf(params, scan);
  let placement: Placement = { moveMm: params.move, turnDeg: params.turn };
  const sound = params.kind ? true : isSound(inspectMesh(body.mesh, { brief: true }, sliceContext(context, 0, 0.1)));
  const piece = params.factor === 1 ? mesh : scaleMesh(mesh, [params.factor, params.factor, params.factor]);
  const worn = new WornBody(body.mesh, sound);
  if (params.seat) {
    const room = params.lining + params.want;
    placement = { ...placement, moveMm: seatIn(piece, worn, params.turn, room, sliceContext(context, 0.1, 0.4)) };
  }
  const result = clearanceOf(
    piece,
    worn,
    placement,
    body.regions,
    params.lining,
    params.want,
    sliceContext(context, 0.4, 0.8),
  );
  let sight: FieldOfView | null = null;
  let openings: Opening[] | null = null;
  if (params.kind === 'head') {
    // as the head sees it
    const around: TriMesh = { positions: piecePoints(piece, placement), triangles: piece.triangles };
    const off = (p: Vec3): Vec3 => [p[0], p[1] - eyeOff, p[2]];
    const { landmarks } = body;
    context.progress(0.85, 'Looking out');
    sight = fieldOfView(
      around,
      body.mesh,
      { left: off(landmarks['left eye']), right: off(landmarks['right eye']) },
      sliceContext(context, 0.85, 0.95),
    );
    context.progress(0.95, 'Looking for openings to breathe through');
    openings = openingsFrom(around, off(landmarks.mouth), context);
  }
  return {
    outputs: [],
    report: {
      ...result,
      body: name,
      sight,
      openings,
      breathOfWindpipes:
        openings && openings.filter((o) => o.ahead).reduce((sum, o) => sum + o.areaMm2, 0) / windpipeMm2,
    },
  };
});
