import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { CurveOfProject } from '@jasmorphe/contracts/dayViews';
import { fixed, lengthBrief, secondsText } from '@jasmorphe/core/words/numbers';
import { useLength } from '../app/useLength.ts';
import { axisLook, chartMargin, tooltipLook } from '../ui/chartLook.ts';
import { ChartFigure } from '../ui/layout.ts';

/** Expected hours, failures and bench together, by how long the pieces are; the optimum and the present cut on it. */
export default function CutChart({ curve: { curve, pieceMm } }: { curve: CurveOfProject }) {
  const length = useLength();
  const data = curve.points.map((p) => ({ mm: p.pieceMm, hours: (p.machineS + p.benchS) / 3600, pieces: p.pieces }));
  const best = data[curve.best];
  return (
    <ChartFigure aria-label="Piece length and expected hours">
      <figcaption className="label">Piece length and expected hours</figcaption>
      <ResponsiveContainer width="100%" height={132}>
        <LineChart data={data} accessibilityLayer={false} margin={chartMargin}>
          <CartesianGrid stroke="var(--line2)" vertical={false} />
          <XAxis
            dataKey="mm"
            type="number"
            scale="log"
            domain={['dataMin', 'dataMax']}
            tickCount={5}
            tickFormatter={(v: number) => lengthBrief(v, length)}
            {...axisLook}
          />
          <YAxis domain={['auto', 'auto']} width={34} tickFormatter={(v: number) => fixed(v, 0)} {...axisLook} />
          <Tooltip
            formatter={(v) => [`${fixed(Number(v), 1)} h`, 'expected, bench too']}
            labelFormatter={(v) => `pieces of ${length(Number(v))}`}
            contentStyle={tooltipLook}
          />
          <Line dataKey="hours" type="monotone" dot={false} stroke="var(--verdigris)" isAnimationActive={false} />
          <ReferenceLine
            x={pieceMm}
            stroke="var(--ochre)"
            strokeDasharray="4 3"
            label={{
              value: `yours ${lengthBrief(pieceMm, length)}`,
              fontSize: 10,
              fill: 'var(--ochre)',
              position: 'insideTopRight',
            }}
          />
          <ReferenceDot x={best.mm} y={best.hours} r={4} fill="var(--verdigris)" stroke="none" />
        </LineChart>
      </ResponsiveContainer>
      <small>
        (e<sup>rt</sup> − 1)/r a piece, with bench work for each joint. Best at about {lengthBrief(best.mm, length)}:{' '}
        {secondsText(best.hours * 3600)} against {secondsText(curve.nowS)} now.{' '}
        {curve.oneMoreS > 0
          ? `One more piece would save ${secondsText(curve.oneMoreS)}.`
          : `One more piece would cost ${secondsText(-curve.oneMoreS)} more than it saves.`}
      </small>
    </ChartFigure>
  );
}
