import { Area, AreaChart, ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { ReportOf } from '@jasmorphe/core/operations/catalogue';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { axisLook, chartMargin, tooltipLook } from '../../ui/chartLook.ts';
import { ChartFigure } from '../../ui/layout.ts';

/**
 * Area of the layers by their height, with what starts in mid-air, what is laid too fast, and the layer that is looked
 * at. A click looks at that one.
 */
export default function LayersChart({
  report,
  at,
  onLook,
}: {
  report: ReportOf<'layers'>;
  /** index of the layer that is looked at, among those shown */
  at: number;
  onLook: (index: number) => void;
}) {
  const length = useLength();
  const data = report.shown.map(({ zMm, areaMm2 }, index) => ({ zMm, cm2: areaMm2 / 100, index }));
  const look = (label: unknown): void => {
    const z = Number(label);
    const index = data.findIndex((d) => d.zMm >= z - 1e-9);
    if (index >= 0) onLook(index);
  };
  return (
    <ChartFigure aria-label="Area of the layers by height">
      <figcaption className="label">Area of the layers, cm²</figcaption>
      <ResponsiveContainer width="100%" height={104}>
        <AreaChart
          data={data}
          accessibilityLayer={false}
          margin={chartMargin}
          onClick={(e) => e.activeLabel !== undefined && look(e.activeLabel)}
        >
          <XAxis
            dataKey="zMm"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={(v: number) => length(v, false)}
            {...axisLook}
          />
          <YAxis domain={[0, 'auto']} width={34} tickFormatter={(v: number) => fixed(v, 0)} {...axisLook} />
          <Tooltip
            formatter={(v) => [`${fixed(Number(v), 1)} cm²`, 'area']}
            labelFormatter={(v) => `${length(Number(v))} up, click to look`}
            contentStyle={tooltipLook}
          />
          {report.fast.map((f) => (
            <ReferenceArea key={f.fromLayer} x1={f.fromMm} x2={f.toMm} fill="var(--ochre)" fillOpacity={0.25} />
          ))}
          <Area
            type="linear"
            dataKey="cm2"
            stroke="var(--verdigris)"
            fill="var(--verdigrisGround)"
            isAnimationActive={false}
          />
          {report.islands.slice(0, 40).map((i, k) => (
            <ReferenceLine key={k} x={i.zMm} stroke="var(--madder)" strokeDasharray="2 3" />
          ))}
          {data[at] && <ReferenceLine x={data[at].zMm} stroke="var(--ink)" />}
        </AreaChart>
      </ResponsiveContainer>
    </ChartFigure>
  );
}
