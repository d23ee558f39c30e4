import { stageFinding } from '../../inspect/stageFinding.ts';
import { fixed } from '../../words/numbers.ts';
import { Param } from '../../params/Param.ts';
import { IsBoolean, IsObject, IsOptional } from 'class-validator';
import { referenceKinds, type ReferenceKind } from '../../reference/ReferenceBody.ts';
import type { Clearance } from '../../worn/clearance.ts';
import type { FieldOfView, Opening } from '../../worn/sight.ts';
import { IsChoice, IsFactor, IsMeshHash, IsMm, IsTriple } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export class ClearanceParams {
  @Param('kind of reference body; left out for a scan')
  @IsOptional()
  @IsChoice(referenceKinds)
  kind?: ReferenceKind;

  @Param("its measures; the median man's where left out", { flag: null })
  @IsOptional()
  @IsObject()
  measures: Record<string, number> = {};

  @Param('hash of a scanned body that was imported as a reference, instead of a kind', { flag: null })
  @IsOptional()
  @IsMeshHash()
  scan?: string;

  @Param('where the body stands in the piece')
  @IsOptional()
  @IsTriple()
  move: [number, number, number] = [0, 0, 0];

  @Param('how it is turned there: degrees about x, then y, then z')
  @IsOptional()
  @IsTriple()
  turn: [number, number, number] = [0, 0, 0];

  @Param('let the body settle in the piece by itself, turned as given, instead of moving it there')
  @IsOptional()
  @IsBoolean()
  seat: boolean = false;

  @Param('padding inside the piece')
  @IsOptional()
  @IsMm()
  lining: number = 0;

  @Param('clearance that the suggested factor is to leave beyond the lining')
  @IsOptional()
  @IsMm()
  want: number = 2;

  @Param('measured as if the piece were scaled by this about its origin')
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

export const description = describe<'clearance', ClearanceParams, ClearanceReport>({
  name: 'clearance',
  version: 2,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'size',
  study: true,
  shows: 'map',
  params: ClearanceParams,
  companions: (params) => (params.scan ? [params.scan] : []),
  findings: {
    at: [],
    of: (_, { contacts }) =>
      contacts.map((c) =>
        stageFinding(
          'contact',
          c.kind === 'through' ? 'failure' : 'attention',
          { through: c.kind === 'through', region: c.region, deepestMm: c.deepestMm, areaMm2: c.areaMm2 },
          { at: c.at, spanMm: c.spanMm, mends: ['size'] },
        ),
      ),
  },
  words: {
    summary: 'Measures the room between a piece and a body that it is worn on',
    example: 'jasmorphe clearance mask.stl --kind head --seat --lining 8',
    title: 'Clearance',
    done: 'Tried on',
    button: 'Try it on',
    rows: [
      { label: 'Body', of: (r) => r.body },
      { label: 'Tightest', of: (r, { length }) => length(r.leastMm), method: 'lining taken off' },
      { label: 'typical', of: (r, { length }) => length(r.typicalMm) },
      {
        label: 'Touching',
        of: (r) => `${fixed(r.touchingPct, 1)} %`,
        method: 'share of the inside with less than room for the lining',
      },
      {
        label: 'Fits at',
        of: (r) => (r.suggestedFactor === null ? '—' : `×${fixed(r.suggestedFactor, 3)}`),
        method: 'just gives the clearance asked for at its narrowest place',
      },
      {
        label: 'Sees',
        of: (r) =>
          r.sight ? `${fixed(Math.min(r.sight.both.leftDeg, r.sight.both.rightDeg), 0)}° to either side` : '—',
      },
      {
        label: 'Breath',
        of: (r) => (r.breathOfWindpipes === null ? '—' : `${fixed(r.breathOfWindpipes, 1)} windpipes`),
      },
    ],
  },
});
