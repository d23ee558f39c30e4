import { stageFinding } from '../../inspect/stageFinding.ts';
import { fixed, whole } from '../../words/numbers.ts';
import type { PlaceVerdict } from '../../planning/places.ts';
import { Param } from '../../params/Param.ts';
import { IsArray, IsOptional } from 'class-validator';
import { examplePlaces, type Place } from '../../trade/placeKinds.ts';
import { IsFactor, IsMeshHash, IsPlaces } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export class WhereaboutsParams {
  @Param('rooms, benches, doors and boots, with their sizes', { flag: null })
  @IsOptional()
  @IsPlaces()
  places: Place[] = examplePlaces;

  @Param('measured as if scaled by this')
  @IsOptional()
  @IsFactor()
  factor: number = 1;

  @Param('hashes of the parts that the model comes apart into', { flag: null })
  @IsOptional()
  @IsArray()
  @IsMeshHash({ each: true })
  parts: string[] = [];
}

export const description = describe<'whereabouts', WhereaboutsParams, { places: PlaceVerdict[] }>({
  name: 'whereabouts',
  formerly: 'places',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'size',
  study: true,
  shows: 'nothing',
  params: WhereaboutsParams,
  companions: (params) => params.parts,
  findings: {
    at: [],
    of: (_, r) =>
      r.places
        .filter((p) => !p.fits)
        .map((p) =>
          stageFinding(
            'place-denied',
            p.kind === 'stand' || (p.parts && p.parts.fit < p.parts.of) ? 'failure' : 'attention',
            {
              place: p.name,
              way: p.kind,
              largestFactor: p.largestFactor,
              parts: p.parts && { fit: p.parts.fit, of: p.parts.of },
            },
            { name: p.name, mends: ['size', 'divide'] },
          ),
        ),
  },
  words: {
    summary: 'Tests a model against rooms, benches, doors and car boots',
    example: 'jasmorphe whereabouts carnyx.stl --stand -x-x2300 --pass 760x1980',
    title: 'Places',
    done: 'Tried in places',
    button: 'Try the places',
    rows: [
      { label: 'Fits in', of: (r) => `${whole(r.places.filter((p) => p.fits).length)} of ${whole(r.places.length)}` },
    ],
    table: {
      heads: ['Place', 'Fits', 'Largest factor', 'Parts that fit'],
      rows: (r) =>
        r.places.map((p) => [
          p.name,
          p.fits ? 'yes' : 'no',
          Number.isFinite(p.largestFactor) ? `×${fixed(p.largestFactor, 2)}` : 'any',
          p.parts ? `${whole(p.parts.fit)} of ${whole(p.parts.of)}` : '—',
        ]),
    },
  },
});
