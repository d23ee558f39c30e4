import Switch from '@mui/material/Switch';
import { useEffect, useState } from 'react';
import { parseFactor, parseLength } from '@jasmorphe/core/formats/quantity';
import { rangeWords, takesNumber, type ParamFacts } from '@jasmorphe/core/params/facts';
import { lengthText } from '@jasmorphe/core/words/numbers';
import { useAppSelector } from '../app/store.ts';
import { useFieldState } from './fieldsOfDecision.ts';

interface LineProps {
  label: string;
  hint?: string;
}

const mostMm = 1e6;

/** The line of a field that is typed into: what is not understood stays, is marked, and holds the button back. */
function TypedLine({
  label,
  hint,
  shown,
  placeholder,
  wrongOf,
  onType,
  onBegin,
}: LineProps & {
  /** the value that holds, as text */
  shown: string;
  placeholder?: string;
  /** why a text is not taken; null when it is */
  wrongOf: (text: string) => string | null;
  /** called with texts that are taken */
  onType: (text: string) => void;
  onBegin?: () => void;
}) {
  const [text, setText] = useState(shown);
  const [editing, setEditing] = useState(false);
  const why = wrongOf(text);
  const wrong = why !== null;
  useEffect(() => {
    if (!editing) setText((old) => (wrongOf(old) === null ? shown : old));
    // the test follows from what is shown
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown, editing]);
  const { submit } = useFieldState(label, wrong, why ?? '');
  return (
    <label className={`fieldLine${wrong ? ' wrong' : ''}`}>
      <span title={hint}>{label}</span>
      <input
        className="figure"
        inputMode="decimal"
        value={text}
        placeholder={placeholder}
        // the sentence below is no part of its name
        aria-label={label}
        aria-invalid={wrong}
        title={why ?? undefined}
        onFocus={(e) => {
          setEditing(true);
          onBegin?.();
          e.target.select();
        }}
        onBlur={() => setEditing(false)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return;
          e.preventDefault();
          if (!wrong) submit();
        }}
        onChange={(e) => {
          setText(e.target.value);
          if (wrongOf(e.target.value) === null) onType(e.target.value);
        }}
      />
      {wrong && editing && <em role="alert">{why}</em>}
    </label>
  );
}

/** A length that may be typed as 42.5, 1.75 m or 15 1/2 in; a bare number is in the unit on display. */
export function LengthField({
  label,
  hint,
  mm,
  onChange,
  optional,
  zero,
  most = mostMm,
}: LineProps & {
  mm: number | null;
  onChange: (mm: number | null) => void;
  /** may be left empty */
  optional?: boolean;
  /** may be 0 */
  zero?: boolean;
  /** largest that is taken, mm */
  most?: number;
}) {
  const unit = useAppSelector((s) => s.ui.unit);
  const shown = mm === null ? '' : lengthText(mm, unit).replace(/\u2009/g, '');
  // while it is typed into, x4 and +5% work on the length that stood there
  const [before, setBefore] = useState<number | undefined>(undefined);
  const wrongOf = (text: string): string | null => {
    if (text.trim() === '') return optional ? null : 'wants a length such as 42.5, 1.75 m or 15 1/2 in';
    const value = parseLength(text, unit, before ?? mm ?? undefined);
    if (value === null) return 'such as 42.5, 1.75 m or 15 1/2 in';
    if (value < 0 || (value === 0 && !zero)) return zero ? '0 or more' : 'more than 0';
    return value > most ? `at most ${lengthText(most, unit)}` : null;
  };
  return (
    <TypedLine
      label={label}
      hint={hint}
      shown={shown}
      placeholder={optional ? 'none' : ''}
      wrongOf={wrongOf}
      onBegin={() => setBefore(mm ?? undefined)}
      onType={(text) => onChange(text.trim() === '' ? null : parseLength(text, unit, before ?? mm ?? undefined))}
    />
  );
}

/** A word or number with its own way of reading; `parse` gives null for what it does not understand. */
export function ParsedField({
  label,
  hint,
  text,
  parse,
  onChange,
  onBegin,
  example,
}: LineProps & {
  text: string;
  parse: (t: string) => number | null;
  onChange: (value: number) => void;
  onBegin?: () => void;
  example: string;
}) {
  return (
    <TypedLine
      label={label}
      hint={hint}
      shown={text}
      wrongOf={(t) => (parse(t) === null ? example : null)}
      onBegin={onBegin}
      onType={(t) => onChange(parse(t)!)}
    />
  );
}

/** A number within the limits that its param is checked by. */
export function NumberField({
  param,
  value,
  onChange,
  ...line
}: LineProps & { param: ParamFacts; value: number; onChange: (value: number) => void }) {
  const kind = param.shape === 'whole' ? 'a whole number' : 'a number';
  return (
    <ParsedField
      hint={param.help}
      {...line}
      text={String(Number(value.toPrecision(6)))}
      parse={(t) => {
        const text = t
          .replace('%', '')
          .replace(/\u2212/g, '-')
          .trim();
        return text !== '' && takesNumber(param, Number(text)) ? Number(text) : null;
      }}
      onChange={onChange}
      example={[kind, rangeWords(param)].filter(Boolean).join(' ')}
    />
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
  const [before, setBefore] = useState(value);
  return (
    <ParsedField
      label={label}
      text={`x${Number(value.toPrecision(6))}`}
      onBegin={() => setBefore(value)}
      parse={(t) => {
        const f = parseFactor(t, before);
        return f !== null && f >= 1e-4 && f <= 1e5 ? f : null;
      }}
      onChange={onChange}
      example="such as x4, 400%, +5%, 1:6 or 62 in / 15.5 in; from 0.0001 to 100 000"
    />
  );
}
