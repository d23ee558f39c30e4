import { fixed, whole } from '../../words/numbers.ts';
import { Param, saysWhen } from '../../params/Param.ts';
import { IsBoolean, IsIn, IsNumber, IsOptional } from 'class-validator';
import type { Ground } from '../../mesh/ground.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { IsDirection, IsMm, IsTriple } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export const keepChoices = ['all', 'largest', 'picked'] as const;

/** Box, plane, ground and what hangs together may be asked for at once: they are applied in that order. */
export class CropParams {
  @Param('lower corner of the box that is kept', { says: () => 'to a box', flag: null })
  @IsOptional()
  @IsTriple()
  min?: [number, number, number];

  @Param('upper corner of the box that is kept', { flag: null })
  @IsOptional()
  @IsTriple()
  max?: [number, number, number];

  @Param('normal of a plane; what lies on its side is kept', { says: () => 'by a plane', flag: null })
  @IsOptional()
  @IsDirection()
  normal?: [number, number, number];

  @Param('where the plane lies along its normal, from the origin', { flag: null })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  offset?: number;

  @Param('take away the ground that the thing stood on, if there is one', { says: saysWhen('ground taken off') })
  @IsOptional()
  @IsBoolean()
  ground: boolean = false;

  @Param("how far above the ground's plane to cut; just above its roughness if left out")
  @IsOptional()
  @IsMm()
  groundMargin?: number;

  @Param('all: strays too; largest: the shell with most skin; picked: the shell nearest to a point')
  @IsOptional()
  @IsIn(keepChoices)
  keep: (typeof keepChoices)[number] = 'all';

  @Param('a point on the shell to keep')
  @IsOptional()
  @IsTriple()
  at?: [number, number, number];
}

export interface Stray {
  triangles: number;
  at: Xyz;
  spanMm: number;
}

export interface CropReport {
  trianglesBefore: number;
  trianglesAfter: number;
  size: Xyz;
  ground: Ground | null;
  /** pieces that hung on nothing and were dropped, the largest first, at most fifty */
  strays: Stray[];
  straysDropped: number;
}

export const description = describe<'crop', CropParams, CropReport>({
  name: 'crop',
  version: 1,
  makes: 'skin',
  takes: 'mesh',
  stop: 'intake',
  reopens: true,
  shows: 'skin',
  params: CropParams,
  words: {
    summary: 'Crops a scan to a box or plane, takes the ground off it and drops strays',
    example: 'jasmorphe crop scan.stl -o alone.stl --ground --keep largest',
    title: 'Crop',
    done: 'Cropped',
    button: 'Crop',
    figure: (_, r) => `−${whole(r.trianglesBefore - r.trianglesAfter)}`,
    replays: () => 'the crop keeps its place',
    rows: [
      { label: 'Triangles left', of: (r) => whole(r.trianglesAfter) },
      { label: 'Strays dropped', of: (r) => whole(r.straysDropped) },
      { label: 'Largest stray', of: (r, { length }) => (r.strays.length > 0 ? length(r.strays[0].spanMm) : '—') },
      { label: 'Ground', of: (r) => (r.ground ? `${fixed(r.ground.areaMm2 / 100, 0)} cm²` : '—') },
      { label: 'Height', of: (r, { length }) => length(r.size.z) },
    ],
    says: (r, { length }) =>
      r.ground
        ? `The ground is flat within ${length(r.ground.flatMm)}; the cut lies just above it.`
        : r.straysDropped > 0
          ? `${whole(r.straysDropped)} loose pieces go: ${r.strays
              .slice(0, 6)
              .map((p) => `${whole(p.triangles)} triangles, ${length(p.spanMm)} across`)
              .join('; ')}${r.straysDropped > 6 ? ' …' : '.'}`
          : 'Nothing hangs loose.',
    fileWord: 'cropped',
  },
});
