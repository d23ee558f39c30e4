import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { Area, AreaChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { axes, type Axis } from '@jasmorphe/core/mesh/axes';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import type { NaturalPlane } from '@jasmorphe/core/planning/cuts/naturalPlanes';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { planeOf } from '@jasmorphe/core/planning/cuts/PlaneCut';
import type { Mirror } from '@jasmorphe/core/planning/cuts/symmetry';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { setSection } from '../../bench/benchSlice.ts';
import { axisLook, chartMargin, tooltipLook } from '../../ui/chartLook.ts';
import { Toggles } from '../../ui/Toggles.tsx';
import { fullMesh } from '../../worker/fullMesh.ts';
import { ChartFigure } from '../../ui/layout.ts';
import { Row, Rows } from '../../ui/Rows.ts';

interface Sampled {
  at: number;
  mm2: number;
}

/** The axis that a direction is nearest to. */
const longestOf = (v: Vec3): number => v.reduce((best, x, k) => (Math.abs(x) > Math.abs(v[best]) ? k : best), 0);

const isAcross = ({ normal }: Mirror, k: number): boolean => normal[k] === 1;

/** Undersides offered below the chart. */
const offered = 4;

/**
 * Section area along an axis of the full mesh, with the cuts across it and the flats that begin there: a good cut lies
 * where little is cut, or where an underside begins. A pointer over it shows the section on the bench, a click cuts there.
 */
export default function AreaProfile({
  hash,
  cuts,
  onCut,
}: {
  hash: string;
  cuts: readonly PlaneCut[];
  onCut: (cut: PlaneCut) => void;
}) {
  const length = useLength();
  const say = useSpeaker();
  const unit = useAppSelector((s) => s.ui.unit);
  const mm2 = unit === 'in' ? 25.4 ** 2 : 100;
  const dispatch = useAppDispatch();
  const [axis, setAxis] = useState<Axis>('z');
  const [found, setFound] = useState<{ of: string; data: Sampled[]; flats: NaturalPlane[]; mirrors: Mirror[] } | null>(
    null,
  );
  const [over, setOver] = useState<number | null>(null);
  const k = axes.indexOf(axis) as 0 | 1 | 2;
  const key = `${hash} ${axis}`;
  useEffect(() => {
    let live = true;
    const look = async () => {
      const profile = await fullMesh().profile(hash, k, 160);
      const flats = await fullMesh().undersides(hash, k);
      const data = profile.map(({ at, areaMm2 }) => ({ at, mm2: Math.max(0, areaMm2) }));
      const mirrors = (await fullMesh().mirrors(hash)).filter((m) => longestOf(m.normal) === k);
      if (live) setFound({ of: key, data, flats, mirrors });
    };
    look().catch(() => undefined);
    return () => void (live = false);
  }, [hash, k, key]);
  // the section that was shown for the pointer goes with it
  const showing = useRef(false);
  useEffect(
    () => () => {
      if (showing.current) dispatch(setSection(null));
    },
    [dispatch],
  );
  const data = found?.of === key ? found.data : [];
  const flats = found?.of === key ? found.flats : [];
  const mirrors = found?.of === key ? found.mirrors : [];
  const hover = (at: number | null) => {
    setOver(at);
    if (at === null) {
      if (showing.current) dispatch(setSection(null));
      showing.current = false;
      return;
    }
    const step = data.length > 1 ? data[1].at - data[0].at : 1;
    const from = data[0].at - step / 2;
    const to = data[data.length - 1].at + step / 2;
    showing.current = true;
    dispatch(setSection({ axis: k, share: (at - from) / (to - from) }));
  };
  const across = cuts.filter((c) => Math.abs(c.normal[k]) === 1);
  return (
    <ChartFigure aria-label={`Section area along ${axis}, with the cuts across it`}>
      <figcaption className="label">Section area, {unit === 'in' ? 'in²' : 'cm²'}</figcaption>
      <Toggles
        label="Along which axis"
        choices={axes.map((a) => ({ value: a, text: a }))}
        on={[axis]}
        onToggle={setAxis}
      />
      {data.length > 0 && (
        <ResponsiveContainer width="100%" height={104}>
          <AreaChart
            data={data}
            accessibilityLayer={false}
            margin={chartMargin}
            onMouseMove={(e) => hover(e.activeLabel === undefined ? null : Number(e.activeLabel))}
            onMouseLeave={() => hover(null)}
            onClick={(e) => e.activeLabel !== undefined && onCut(planeOf({ axis, mm: Number(e.activeLabel) }))}
          >
            <XAxis
              dataKey="at"
              type="number"
              domain={['dataMin', 'dataMax']}
              tickFormatter={(v: number) => length(v, false)}
              {...axisLook}
            />
            <YAxis domain={[0, 'auto']} width={34} tickFormatter={(v: number) => fixed(v / mm2, 0)} {...axisLook} />
            <Tooltip
              formatter={(v) => [say.area(Number(v)), 'area']}
              labelFormatter={(v) => `${axis} ${length(Number(v))}, click to cut here`}
              contentStyle={tooltipLook}
            />
            <Area
              type="linear"
              dataKey="mm2"
              stroke="var(--verdigris)"
              fill="var(--verdigrisGround)"
              isAnimationActive={false}
            />
            {flats.map((f) => (
              <ReferenceLine key={`flat${f.at}`} x={f.at} stroke="var(--ochre)" strokeDasharray="2 3" />
            ))}
            {mirrors
              .filter((m) => isAcross(m, k))
              .map((m) => (
                <ReferenceLine key={`mirror${m.offset}`} x={m.offset} stroke="var(--verdigris)" strokeDasharray="6 3" />
              ))}
            {across.map((c) => (
              <ReferenceLine key={c.offset} x={c.offset * c.normal[k]} stroke="var(--ink)" />
            ))}
            {over !== null && <ReferenceLine x={over} stroke="var(--verdigris)" />}
          </AreaChart>
        </ResponsiveContainer>
      )}
      {mirrors.length > 0 && (
        <Rows aria-label={`Planes along ${axis} in which it is mirrored`}>
          {mirrors.map((m) => (
            <Row key={`${m.normal.join()} ${m.offset}`}>
              <span>
                {isAcross(m, k) ? (
                  <>
                    Its two sides mirror each other at {axis} <span className="figure">{length(m.offset)}</span>.
                  </>
                ) : (
                  'Its two sides mirror each other in a plane that leans.'
                )}
              </span>
              <Button
                variant="text"
                size="small"
                onClick={() => onCut(isAcross(m, k) ? planeOf({ axis, mm: m.offset }) : m)}
              >
                Cut there
              </Button>
            </Row>
          ))}
        </Rows>
      )}
      {flats.length > 0 && (
        <Rows aria-label={`Flats that begin along ${axis}`}>
          {flats.slice(0, offered).map((f) => (
            <Row key={f.at}>
              <span>
                A flat begins at {axis} <span className="figure">{length(f.at)}</span>; a cut there saves{' '}
                <span className="figure">{say.volume(f.supportMm3)}</span> of support.
              </span>
              <Button variant="text" size="small" onClick={() => onCut(planeOf({ axis, mm: f.at }))}>
                Cut there
              </Button>
            </Row>
          ))}
        </Rows>
      )}
    </ChartFigure>
  );
}
