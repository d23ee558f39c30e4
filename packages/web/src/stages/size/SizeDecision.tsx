import { useState } from 'react';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { parseFactor } from '@jasmorphe/core/formats/quantity';
import { axes, type Axis, type SizeReport } from '@jasmorphe/core/operations/size/size';
import { figures } from '@jasmorphe/core/trade/figures';
import { fixed, massText, volumeText } from '../../app/figures.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField, ParsedField } from '../../decision/Fields.tsx';
import { useStep } from '../useStep.ts';

type Way = 'dimension' | 'factor' | 'measured';

/** How large shall it be? Every figure follows as one types. */
export function SizeDecision({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { run, applied, sending } = useStep(body, 'size', 'size');
  const done = applied?.step.report as SizeReport | undefined;
  const now = body.mesh.facts;
  // when the stage is done its figures count from the size before it
  const before = done ? done.before : now.size;
  const scaled = done ? done.factor.x : 1;
  const old = (applied?.step.params ?? {}) as {
    factor?: number;
    axis?: Axis;
    to?: number;
    measured?: number;
    real?: number;
  };
  const [way, setWay] = useState<Way>(old.measured ? 'measured' : old.factor ? 'factor' : 'dimension');
  const [axis, setAxis] = useState<Axis>(
    old.axis ?? (before.z >= before.x && before.z >= before.y ? 'z' : before.x >= before.y ? 'x' : 'y'),
  );
  const [to, setTo] = useState(old.to ?? now.size[axis]);
  const [factor, setFactor] = useState(old.factor ?? scaled);
  const [measured, setMeasured] = useState(old.measured ?? 10);
  const [real, setReal] = useState(old.real ?? 10);
  const wanted = way === 'factor' ? factor : way === 'dimension' ? to / before[axis] : real / measured;
  const params = way === 'factor' ? { factor } : way === 'dimension' ? { axis, to } : { measured, real };
  const bed = printers[0]?.profile.bedMm ?? [220, 220, 250];
  const largestFit = Math.min(...axes.map((a, k) => bed[k] / before[a]));
  const columns = [1, wanted, largestFit];
  const volume = now.volumeMm3 === null ? null : Math.abs(now.volumeMm3) / scaled ** 3;
  const density = figures.filamentDensityGCm3.value;
  const row = (label: string, of: (f: number) => string, method?: string) => ({
    label,
    cells: columns.map(of),
    method,
  });
  const grows = wanted / scaled;
  return (
    <Decision
      step={done ? 'Sized' : 'Decision'}
      question="How large shall it be?"
      lead={
        done
          ? 'Change a figure and everything after it replays.'
          : 'The figures follow as you type. Fields take 1.75 m, 15 1/2 in, ×4, 400 %, 1:6.'
      }
      options={[
        { name: done ? 'Before' : 'As it is' },
        { name: `×${fixed(wanted, wanted >= 10 ? 1 : 3)}` },
        { name: 'On the bed' },
      ]}
      rows={[
        row('Width', (f) => length(before.x * f, false)),
        row('Depth', (f) => length(before.y * f, false)),
        row('Height', (f) => length(before.z * f, false)),
        row(
          'Volume, solid',
          (f) => (volume === null ? '—' : volumeText(volume * f ** 3)),
          'grows with the cube of the factor',
        ),
        row(
          'Mass, solid',
          (f) => (volume === null ? '—' : massText(((volume * f ** 3) / 1000) * density)),
          `at ${density} g/cm³, common practice`,
        ),
        row('1 mm of wall is', (f) => length(f), 'walls drawn in the file scale too'),
        row('Material', (f) => `×${fixed(f ** 3, f ** 3 >= 10 ? 0 : 2)}`, 'cube of the factor'),
      ]}
      chosen={1}
      onChoose={(i) => {
        setWay('factor');
        setFactor(Number(columns[i].toPrecision(9)));
      }}
      advised={null}
      advice={
        volume === null ? (
          'Volume and mass are known once the skin is closed. Size may come first all the same.'
        ) : (
          <>
            “On the bed” is the largest that stands on <b>{printers[0]?.profile.name ?? 'a usual bed'}</b> in one piece
            as it is turned now.
          </>
        )
      }
      fields={
        <>
          <ChoiceField
            label="By"
            value={way}
            onChange={setWay}
            choices={[
              { value: 'dimension', text: 'one overall dimension' },
              { value: 'factor', text: 'a factor' },
              { value: 'measured', text: 'a length I know' },
            ]}
          />
          {way === 'dimension' && (
            <>
              <ChoiceField
                label="Along"
                value={axis}
                onChange={setAxis}
                choices={[
                  { value: 'x', text: 'width (x)' },
                  { value: 'y', text: 'depth (y)' },
                  { value: 'z', text: 'height (z)' },
                ]}
              />
              <LengthField label="Shall be" mm={to} onChange={(v) => v && setTo(v)} />
            </>
          )}
          {way === 'factor' && (
            <ParsedField
              label="Factor"
              text={`x${Number(factor.toPrecision(6))}`}
              parse={(t) => {
                const f = parseFactor(t);
                return f !== null && f > 0 ? f : null;
              }}
              onChange={setFactor}
              example="such as x4, 400%, +5% or 1:6"
            />
          )}
          {way === 'measured' && (
            <>
              <LengthField label="On the model it is" mm={measured} onChange={(v) => v && setMeasured(v)} />
              <LengthField label="It should be" mm={real} onChange={(v) => v && setReal(v)} />
            </>
          )}
        </>
      }
      action={{
        label: `Size to ${length(Math.max(before.x, before.y, before.z) * wanted)}`,
        disabled: sending || !Number.isFinite(wanted) || Math.abs(grows - 1) < 1e-6,
        run: () => run(params),
      }}
      busy={body.busyJobId !== null}
    />
  );
}
