import { sizeText } from '../../words/numbers.ts';
import { Param } from '../../params/Param.ts';
import { IsObject, IsOptional } from 'class-validator';
import type { Vec3, Xyz } from '../../mesh/TriMesh.ts';
import { referenceKinds, type ReferenceKind } from '../../reference/ReferenceBody.ts';
import { IsChoice } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export class ReferenceParams {
  @Param('what body')
  @IsOptional()
  @IsChoice(referenceKinds)
  kind: ReferenceKind = 'head';

  @Param("its measures; the median man's where left out", { flag: null })
  @IsOptional()
  @IsObject()
  measures: Record<string, number> = {};
}

export interface ReferenceReport {
  kind: ReferenceKind;
  measures: Record<string, number>;
  landmarks: Record<string, Vec3>;
  size: Xyz;
  /** where the measures that were left out come from */
  source: string;
}

export const description = describe<'reference', ReferenceParams, ReferenceReport>({
  name: 'reference',
  version: 1,
  makes: 'reference',
  takes: 'nothing',
  stop: 'size',
  study: true,
  shows: 'nothing',
  params: ReferenceParams,
  words: {
    summary: 'Makes a reference body: a head, a hand, a standing or seated figure',
    example: 'jasmorphe reference -o head.stl --kind head --measure girth=572',
    title: 'Reference body',
    done: 'Made as a reference body',
    button: 'Add the body',
    rows: [
      { label: 'Body', of: (r) => r.kind },
      { label: 'Size', of: (r, { length }) => sizeText(r.size, length) },
    ],
    table: {
      heads: ['Measure', ''],
      rows: (r, { length }) => Object.entries(r.measures).map(([name, mm]) => [name, length(mm)]),
    },
    says: (r) => `${r.source}.`,
  },
});
