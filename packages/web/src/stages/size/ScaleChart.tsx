import { Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { ChartFigure } from '../../ui/layout.ts';

/** A size at which something ends: a bed, a ceiling, a door. */
export interface Limit {
  factor: number;
  name: string;
}

/** How length, area and volume go with the factor, around the one chosen, with the sizes at which something ends. */
export default function ScaleChart({
  factor,
  longestMm,
  limits,
}: {
  factor: number;
  longestMm: number;
  limits: Limit[];
}) {
  const length = useLength();
  const low = factor / 2;
  const high = factor * 2;
  const data = Array.from({ length: 41 }, (_, i) => {
    const f = low * (high / low) ** (i / 40);
    const q = f / factor;
    return { f, length: q, area: q ** 2, volume: q ** 3 };
  });
  const near = limits.filter((l) => l.factor > low && l.factor < high);
  return (
    <ChartFigure role="img" aria-label="How length, skin and volume grow with the factor" data-testid="scale-chart">
      <figcaption className="label">
        Against ×{fixed(factor, factor >= 10 ? 1 : 2)}: length, skin (finish), volume (material, time, cost)
      </figcaption>
      <ResponsiveContainer width="100%" height={118}>
        <LineChart data={data} accessibilityLayer={false} margin={{ top: 14, right: 8, bottom: 0, left: 0 }}>
          <XAxis
            dataKey="f"
            type="number"
            scale="log"
            domain={[low, high]}
            ticks={[low, factor, high]}
            tickFormatter={(v: number) => length(v * longestMm, false)}
            tick={{ fontSize: 10, fill: 'var(--ink2)' }}
            stroke="var(--line)"
          />
          <YAxis
            width={34}
            scale="log"
            domain={[0.125, 8]}
            ticks={[0.125, 0.5, 1, 2, 8]}
            tickFormatter={(v: number) => `×${v < 1 ? v.toFixed(v < 0.2 ? 3 : 1) : v}`}
            tick={{ fontSize: 10, fill: 'var(--ink2)' }}
            stroke="var(--line)"
          />
          <Tooltip
            formatter={(v, name) => [`×${fixed(Number(v), 2)}`, String(name)]}
            labelFormatter={(v) => `×${fixed(Number(v), 2)}, ${length(Number(v) * longestMm)}`}
            contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--line)', fontSize: 12 }}
          />
          <ReferenceLine x={factor} stroke="var(--ink)" />
          {near.map((l, i) => (
            <ReferenceLine
              key={l.name}
              x={l.factor}
              stroke="var(--ochre)"
              strokeDasharray="4 3"
              label={{
                value: l.name,
                position: 'insideTopLeft',
                fontSize: 10,
                fill: 'var(--ink2)',
                dy: 11 * (i % 3) - 12,
              }}
            />
          ))}
          <Line dataKey="length" dot={false} stroke="var(--ink3)" strokeWidth={1.5} isAnimationActive={false} />
          <Line
            dataKey="area"
            dot={false}
            stroke="var(--ink2)"
            strokeDasharray="5 3"
            strokeWidth={1.5}
            isAnimationActive={false}
          />
          <Line dataKey="volume" dot={false} stroke="var(--verdigris)" strokeWidth={2} isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
    </ChartFigure>
  );
}
