import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { useLength } from '../../app/useLength.ts';

const Loops = styled('fieldset')({
  border: 0,
  borderBottom: '1px solid var(--line2)',
  margin: 0,
  padding: '6px 0 8px',
  display: 'grid',
  gridTemplateColumns: '1fr 1fr',
  gap: '3px 10px',
  '& legend': { padding: 0 },
});

/** Which open loops are closed, one by one; those beyond the listed ones go together. */
export function LoopsField({
  before,
  value,
  onChange,
}: {
  before: Inspection;
  value: number[] | undefined;
  onChange: (loops: number[] | undefined) => void;
}) {
  const length = useLength();
  const all = Array.from({ length: before.openLoops }, (_, i) => i + 1);
  const listed = before.findings.filter((f) => f.loop !== undefined).sort((a, b) => a.loop! - b.loop!);
  const rest = all.slice(listed.length);
  const closes = (n: number) => value === undefined || value.includes(n);
  const toggle = (numbers: number[]) => {
    const now = new Set(value ?? all);
    const on = numbers.every((n) => now.has(n));
    for (const n of numbers)
      if (on) now.delete(n);
      else now.add(n);
    onChange(now.size === before.openLoops ? undefined : [...now].sort((a, b) => a - b));
  };
  const box = (key: number, numbers: number[], label: string) => (
    <FormControlLabel
      key={key}
      control={<Checkbox checked={numbers.every(closes)} onChange={() => toggle(numbers)} />}
      label={<span className="figure">{label}</span>}
    />
  );
  return (
    <Loops>
      <legend>Open loops to close</legend>
      {listed.map((f) => box(f.loop!, [f.loop!], `${f.loop} · ${length(f.lengthMm ?? 0)} round`))}
      {rest.length > 0 && box(0, rest, `the other ${rest.length}`)}
    </Loops>
  );
}
