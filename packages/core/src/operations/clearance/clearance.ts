import { IsBoolean, IsObject, IsOptional } from 'class-validator';
import { inspectMesh, isSound } from '../../mesh/inspect.ts';
import { sliceContext } from '../../mesh/context.ts';
import { MeshError } from '../../mesh/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import { referenceKinds, type ReferenceBody, type ReferenceKind } from '../../reference/ReferenceBody.ts';
import { makeReference } from '../../reference/makeReference.ts';
import { windpipeMm2 } from '../../trade/anthropometry.ts';
import { clearanceOf, regionsOfBox, type Clearance } from '../../worn/clearance.ts';
import { piecePoints, type Placement } from '../../worn/Placement.ts';
import { seatIn } from '../../worn/seat.ts';
import { WornBody } from '../../worn/WornBody.ts';
import { fieldOfView, openingsFrom, type FieldOfView, type Opening } from '../../worn/sight.ts';
import { IsChoice, IsFactor, IsMeshHash, IsMm, IsTriple } from '../checks.ts';
import type { Operation } from '../Operation.ts';

export class ClearanceParams {
  /** Kind of reference body; left out for a scan. */
  @IsOptional()
  @IsChoice(referenceKinds)
  kind?: ReferenceKind;

  /** Its measures, mm; the median man's where left out. */
  @IsOptional()
  @IsObject()
  measures: Record<string, number> = {};

  /** Hash of a scanned body that was imported as a reference, instead of a kind. */
  @IsOptional()
  @IsMeshHash()
  scan?: string;

  /** Where the body stands in the piece, mm. */
  @IsOptional()
  @IsTriple()
  move: [number, number, number] = [0, 0, 0];

  /** How it is turned there: degrees about x, then y, then z. */
  @IsOptional()
  @IsTriple()
  turn: [number, number, number] = [0, 0, 0];

  /** Let the body settle in the piece by itself, turned as given, instead of moving it there. */
  @IsOptional()
  @IsBoolean()
  seat: boolean = false;

  /** Padding inside the piece, mm. */
  @IsOptional()
  @IsMm()
  lining: number = 0;

  /** Clearance that the suggested factor is to leave beyond the lining, mm. */
  @IsOptional()
  @IsMm()
  want: number = 2;

  /** Measured as if the piece were scaled by this about its origin. */
  @IsOptional()
  @IsFactor()
  factor: number = 1;
}

export interface ClearanceReport extends Clearance {
  body: string;
  /** what is seen through the piece; heads only */
  sight: FieldOfView | null;
  /** openings seen from the mouth, the largest first; heads only */
  openings: Opening[] | null;
  /** area of the openings ahead of the mouth, in windpipes; heads only */
  breathOfWindpipes: number | null;
}

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
export const clearance: Operation<ClearanceParams, ClearanceReport> = {
  name: 'clearance',
  version: 2,
  summary: 'Measures the room between a piece and a body that it is worn on',
  params: ClearanceParams,
  study: true,
  companions: (params) => (params.scan ? [params.scan] : []),
  async run([mesh, scan], params, context) {
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
  },
};
