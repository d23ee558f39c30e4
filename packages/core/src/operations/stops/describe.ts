import { IsOptional } from 'class-validator';
import { stageFinding } from '../../inspect/stageFinding.ts';
import { AreEach } from '../../params/nested.ts';
import { Param } from '../../params/Param.ts';
import { isHeld, StopWish, type PrintStop } from '../../planning/layers/StopWish.ts';
import { stopText, stopTroubleText } from '../../trade/stopKinds.ts';
import { countOf, fixed, whole } from '../../words/numbers.ts';
import { describe } from '../Description.ts';
import { LyingParams } from '../lying.ts';

/** More stops than anybody tends. */
const mostStops = 20;

export class StopsParams extends LyingParams {
  @Param('what the print stops for, each at a height or by a place', { flag: null })
  @IsOptional()
  @AreEach(StopWish, 0, mostStops)
  stops: StopWish[] = [];
}

export interface StopsReport {
  stops: PrintStop[];
  /** rows of the rotation in which it lies */
  rotation: number[][];
  heightMm: number;
  layerMm: number;
  firstLayerMm: number;
  layers: number;
}

export const description = describe<'stops', StopsParams, StopsReport>({
  name: 'stops',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'layout',
  stays: true,
  shows: 'nothing',
  params: StopsParams,
  findings: {
    at: ['layout'],
    of: (_, { stops }) =>
      stops.flatMap(({ standsOutMm, trouble, wish, what }) => [
        ...(standsOutMm !== null && standsOutMm > 1e-6
          ? [stageFinding('stands-out', 'failure', { byMm: standsOutMm }, { name: `${wish}` })]
          : []),
        ...(trouble !== null ? [stageFinding('no-stop', 'attention', { what, trouble }, { name: `${wish}` })] : []),
      ]),
  },
  words: {
    summary: 'Says after which layers a print stops, for another colour or to put something in',
    example: 'jasmorphe stops B3.stl --printer longbed.json --colour 12.5=brass --insert 3,4,10=magnet --high 5',
    title: 'Stops',
    done: 'Stops kept',
    button: 'Keep these stops',
    figure: (_, { stops }) => countOf(stops.filter(isHeld).length, 'stop'),
    rows: [
      { label: 'Stops', of: (r) => whole(r.stops.filter(isHeld).length) },
      {
        label: 'Layers',
        of: (r, { length }) => `${whole(r.layers)} of ${length(r.layerMm)}, ${length(r.heightMm)} high`,
      },
    ],
    table: {
      heads: ['Stop', 'After layer', 'Height', 'Of its time'],
      rows: (r, { length }) =>
        r.stops.map((s) => [
          stopText(s),
          ...(isHeld(s)
            ? [whole(s.afterLayer + 1), length(s.atMm), `${fixed(100 * s.share, 0)} %`]
            : [stopTroubleText(s.trouble), '', '']),
        ]),
    },
  },
});
