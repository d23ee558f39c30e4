import { IsInt, IsOptional, Max, Min } from 'class-validator';
import { IsRotation } from '../../params/checks.ts';
import { Param } from '../../params/Param.ts';
import { describe } from '../Description.ts';

export class DrawingParams {
  @Param('rows of the rotation in which it is drawn; as it stands if left out', { flag: null })
  @IsOptional()
  @IsRotation()
  rotation: number[][] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];

  @Param('level lines around it')
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(200)
  levels: number = 24;
}

export const viewNames = ['corner', 'front', 'top'] as const;
export type ViewName = (typeof viewNames)[number];

/** A body as lines on paper. Lengths in mm, from the lower left corner of the view, y up. */
export interface DrawnView {
  name: ViewName;
  wideMm: number;
  highMm: number;
  /** rings of its outline, each as x, y, x, y ...; holes too */
  outline: number[][];
  /** sharp edges that are seen */
  creases: number[][];
  /** level lines that are seen */
  levels: number[][];
}

export interface DrawingReport {
  views: DrawnView[];
  /** as it is turned */
  size: { x: number; y: number; z: number };
}

export const description = describe<'drawing', DrawingParams, DrawingReport>({
  name: 'drawing',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'layout',
  study: true,
  shows: 'nothing',
  params: DrawingParams,
  words: {
    summary: 'Draws a body in lines: outline, sharp edges and level lines, from the corner, the front and above',
    title: 'Drawing',
    done: 'Drawn',
    button: 'Draw it',
  },
});
