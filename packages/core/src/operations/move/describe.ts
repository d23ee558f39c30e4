import { IsBoolean, IsOptional } from 'class-validator';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { IsTriple } from '../../params/checks.ts';
import { Param, saysWhen } from '../../params/Param.ts';
import { fixed, type Speaker } from '../../words/numbers.ts';
import { describe } from '../Description.ts';

/** The face is laid down first, then it is turned about the middle of its bounds, set on the bed, and shifted. */
export class MoveParams {
  @Param('a point on the face that is laid down', { says: () => 'a face laid down' })
  @IsOptional()
  @IsTriple()
  face?: [number, number, number];

  @Param('turned by degrees about x, then y, then z', {
    says: (t: number[]) =>
      t.some((d) => d !== 0) ? `turned ${t.map((d) => `${Number(d.toPrecision(4))}°`).join(', ')}` : null,
  })
  @IsOptional()
  @IsTriple()
  turn: [number, number, number] = [0, 0, 0];

  @Param('set with its lowest point at height 0 and its middle over the origin', { says: saysWhen('set on the bed') })
  @IsOptional()
  @IsBoolean()
  onBed: boolean = false;

  @Param('shifted by so much along x, y and z', {
    says: (by: number[], { length }: Speaker) =>
      by.some((mm) => mm !== 0) ? `shifted ${by.map((mm) => length(mm)).join(', ')}` : null,
  })
  @IsOptional()
  @IsTriple()
  by: [number, number, number] = [0, 0, 0];
}

export interface MoveReport {
  size: Xyz;
  min: Xyz;
  /** how far the middle of its bounds went, mm */
  movedMm: number;
  /** the flat that was laid down, mm²; null where none was asked for */
  faceAreaMm2: number | null;
}

export const description = describe<'move', MoveParams, MoveReport>({
  name: 'move',
  version: 1,
  makes: 'skin',
  takes: 'mesh',
  stop: 'size',
  shows: 'skin',
  params: MoveParams,
  words: {
    summary: 'Shifts and turns a model, or lays one of its faces down',
    example: 'jasmorphe move mask.stl -o lying.stl --face 0,0,12 --on-bed',
    title: 'Move',
    done: 'Moved',
    button: 'Move it',
    figure: (_, r, { length }) => length(r.movedMm),
    replays: ({ face }) => (face ? 'the face nearest to the same point is laid down' : 'it is moved by as much'),
    rows: [
      { label: 'Width', of: (r, { length }) => length(r.size.x) },
      { label: 'Depth', of: (r, { length }) => length(r.size.y) },
      { label: 'Height', of: (r, { length }) => length(r.size.z) },
      { label: 'Lowest at', of: (r, { length }) => length(r.min.z) },
      { label: 'Middle went', of: (r, { length }) => length(r.movedMm) },
      {
        label: 'Face',
        of: (r) => (r.faceAreaMm2 === null ? '—' : `${fixed(r.faceAreaMm2 / 100, 2)} cm²`),
        method: 'triangles in one plane with the point, within 1°',
      },
    ],
    fileWord: 'moved',
  },
});
