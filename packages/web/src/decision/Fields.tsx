import Switch from '@mui/material/Switch';
import { useEffect, useState } from 'react';
import { parseFactor, parseLength } from '@jasmorphe/core/formats/quantity';
import { lengthText } from '../app/figures.ts';
import { useAppSelector } from '../app/store.ts';

interface LineProps {
  label: string;
  hint?: string;
}

/** A length that may be typed as 42.5, 1.75 m or 15 1/2 in; a bare number is in the unit on display. */
export function LengthField({
  label,
  hint,
  mm,
  onChange,
  optional,
}: LineProps & { mm: number | null; onChange: (mm: number | null) => void; optional?: boolean }) {
  const unit = useAppSelector((s) => s.ui.unit);
  const shown = mm === null ? '' : lengthText(mm, unit).replace(/\u2009/g, '');
  const [text, setText] = useState(shown);
  const [editing, setEditing] = useState(false);
  useEffect(() => {
    if (!editing) setText(shown);
  }, [shown, editing]);
  // while it is typed into, x4 and +5% work on the length that stood there
  const [before, setBefore] = useState<number | undefined>(undefined);
  const read = (t: string) => (t.trim() === '' ? null : parseLength(t, unit, before));
  const parsed = read(text);
  // once left, the field shows the last length that was understood; a word then would only push the button away
  const wrong = editing && (text.trim() === '' ? !optional : parsed === null || parsed <= 0);
  return (
    <label className={`fieldLine${wrong ? ' wrong' : ''}`}>
      <span title={hint}>{label}</span>
      <input
        className="figure"
        inputMode="decimal"
        value={text}
        placeholder={optional ? 'none' : ''}
        aria-invalid={wrong}
        onFocus={(e) => {
          setEditing(true);
          setBefore(mm ?? undefined);
          e.target.select();
        }}
        onBlur={() => {
          setEditing(false);
          setBefore(undefined);
        }}
        onChange={(e) => {
          setText(e.target.value);
          const value = read(e.target.value);
          if (value !== null && value > 0) onChange(value);
          else if (optional && e.target.value.trim() === '') onChange(null);
        }}
      />
      {wrong && <em role="alert">such as 42.5, 1.75 m or 15 1/2 in</em>}
    </label>
  );
}

/** A word or number with its own way of reading; `parse` gives null for what it does not understand. */
export function ParsedField({
  label,
  hint,
  text,
  parse,
  onChange,
  example,
}: LineProps & {
  text: string;
  parse: (t: string) => number | null;
  onChange: (value: number) => void;
  example: string;
}) {
  const [typed, setTyped] = useState(text);
  const [editing, setEditing] = useState(false);
  useEffect(() => {
    if (!editing) setTyped(text);
  }, [text, editing]);
  const wrong = editing && parse(typed) === null;
  return (
    <label className={`fieldLine${wrong ? ' wrong' : ''}`}>
      <span title={hint}>{label}</span>
      <input
        className="figure"
        value={typed}
        aria-invalid={wrong}
        onFocus={(e) => {
          setEditing(true);
          e.target.select();
        }}
        onBlur={() => setEditing(false)}
        onChange={(e) => {
          setTyped(e.target.value);
          const value = parse(e.target.value);
          if (value !== null) onChange(value);
        }}
      />
      {wrong && <em role="alert">{example}</em>}
    </label>
  );
}

export function ChoiceField<T extends string>({
  label,
  hint,
  value,
  choices,
  onChange,
}: LineProps & { value: T; choices: readonly { value: T; text: string }[]; onChange: (v: T) => void }) {
  return (
    <label className="fieldLine">
      <span title={hint}>{label}</span>
      <select className="figure" value={value} onChange={(e) => onChange(e.target.value as T)}>
        {choices.map((c) => (
          <option key={c.value} value={c.value}>
            {c.text}
          </option>
        ))}
      </select>
    </label>
  );
}

export function YesNoField({
  label,
  hint,
  value,
  onChange,
}: LineProps & { value: boolean; onChange: (v: boolean) => void }) {
  return (
    <label className="fieldLine">
      <span title={hint}>{label}</span>
      <Switch size="small" checked={value} onChange={(e) => onChange(e.target.checked)} />
    </label>
  );
}

/** A factor, typed as x4, 400%, +5%, 1:6 or a quotient of lengths. */
export function FactorField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (f: number) => void;
}) {
  return (
    <ParsedField
      label={label}
      text={`x${Number(value.toPrecision(6))}`}
      parse={(t) => {
        const f = parseFactor(t);
        return f !== null && f > 0 ? f : null;
      }}
      onChange={onChange}
      example="such as x4, 400%, +5%, 1:6 or 62 in / 15.5 in"
    />
  );
}
