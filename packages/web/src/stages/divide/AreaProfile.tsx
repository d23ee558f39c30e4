import { useEffect, useState } from 'react';
import { Area, AreaChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { CutAt } from '@jasmorphe/core/operations/divide/grid';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { fullMesh } from '../../worker/fullMesh.ts';

/** Section area along z of the full mesh, with the level cuts drawn in: a good cut lies where little is cut. */
export default function AreaProfile({ hash, cuts }: { hash: string; cuts: CutAt[] }) {
  const length = useLength();
  const [data, setData] = useState<{ at: number; cm2: number }[]>([]);
  useEffect(() => {
    let live = true;
    void fullMesh()
      .load(hash)
      .then(() => fullMesh().profile(2, 160))
      .then((p) => live && setData(p.map(({ at, areaMm2 }) => ({ at, cm2: Math.max(0, areaMm2) / 100 }))))
      .catch(() => undefined);
    return () => void (live = false);
  }, [hash]);
  if (data.length === 0) return null;
  return (
    <figure className="profile" role="img" aria-label="Section area along z, with the level cuts">
      <figcaption className="label">Section area along z, cm²</figcaption>
      <ResponsiveContainer width="100%" height={96}>
        <AreaChart data={data} accessibilityLayer={false} margin={{ top: 4, right: 4, bottom: 0, left: 0 }}>
          <XAxis
            dataKey="at"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={(v: number) => length(v, false)}
            tick={{ fontSize: 10, fill: 'var(--ink2)' }}
            stroke="var(--line)"
          />
          <YAxis
            domain={[0, 'auto']}
            width={34}
            tickFormatter={(v: number) => fixed(v, 0)}
            tick={{ fontSize: 10, fill: 'var(--ink2)' }}
            stroke="var(--line)"
          />
          <Tooltip
            formatter={(v) => [`${fixed(Number(v), 1)} cm²`, 'area']}
            labelFormatter={(v) => `z ${length(Number(v))}`}
            contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--line)', fontSize: 12 }}
          />
          <Area
            type="linear"
            dataKey="cm2"
            stroke="var(--verdigris)"
            fill="var(--verdigrisGround)"
            isAnimationActive={false}
          />
          {cuts
            .filter((c) => c.axis === 'z')
            .map((c) => (
              <ReferenceLine key={c.mm} x={c.mm} stroke="var(--ink)" />
            ))}
        </AreaChart>
      </ResponsiveContainer>
    </figure>
  );
}
