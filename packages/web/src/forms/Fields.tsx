import FormControl from '@mui/material/FormControl';
import FormLabel from '@mui/material/FormLabel';
import NativeSelect from '@mui/material/NativeSelect';
import Switch from '@mui/material/Switch';
import { useId, useState } from 'react';
import { isFactor, mostMm } from '@jasmorphe/core/params/checks';
import { parseFactor, parseLength } from '@jasmorphe/core/formats/quantity';
import { lengthText } from '@jasmorphe/core/words/numbers';
import { useAppSelector } from '../app/store.ts';
import { Tip } from '../ui/Tip.tsx';
import { TypedLine, type LineProps } from './TypedLine.tsx';

export type { LineProps } from './TypedLine.tsx';

const lengthExample = 'a length such as 42.5, 1.75 m or 15 1/2 in';

export interface LengthFieldProps extends LineProps {
  mm: number | null;
  onChange: (mm: number | null) => void;
  /** may be left empty */
  optional?: boolean;
  /** what is too short or too long is refused by whoever has the field */
  any?: boolean;
  /** more than nothing, mm */
  above0?: boolean;
  most?: number;
  /** why the length is not taken; null when it is */
  refused?: string | null;
}

/**
 * A length that may be typed as 42.5, 1.75 m or 15 1/2 in; a bare number is in the unit on display. Nothing is shorter than
 * nothing.
 */
export function LengthField({
  mm,
  onChange,
  optional = false,
  any = false,
  above0 = false,
  most = any ? Infinity : mostMm,
  refused,
  ...line
}: LengthFieldProps) {
  const unit = useAppSelector((s) => s.ui.unit);
  const shown = mm === null ? '' : lengthText(mm, unit).replace(/\u2009/g, '');
  // while it is typed into, x4 and +5% work on the length that stood there
  const [before, setBefore] = useState<number | undefined>(undefined);
  const read = (text: string) => parseLength(text, unit, before ?? mm ?? undefined);
  const wrongOf = (text: string): string | null => {
    if (text.trim() === '') return optional ? null : `wants ${lengthExample}`;
    const found = read(text);
    if (found === null) return lengthExample;
    if (!any && (found < 0 || (above0 && found === 0)))
      return `a length ${above0 ? 'above' : 'of'} 0${above0 ? '' : ' or more'}`;
    return found > most ? `at most ${lengthText(most, unit)}` : null;
  };
  return (
    <TypedLine
      {...line}
      shown={shown}
      placeholder={optional ? 'none' : ''}
      wrongOf={wrongOf}
      refused={refused}
      onBegin={() => setBefore(mm ?? undefined)}
      onType={(text) => onChange(text.trim() === '' ? null : read(text))}
    />
  );
}

export interface NumberFieldProps extends LineProps {
  value: number | null;
  onChange: (value: number | null) => void;
  optional?: boolean;
  refused?: string | null;
  /** smallest and largest that are taken */
  least?: number;
  most?: number;
  /** what a text must look like */
  example?: string;
}

/** A plain number; a percent sign behind it goes without saying. */
export function NumberField({
  value,
  onChange,
  optional = false,
  refused,
  least = -Infinity,
  most = Infinity,
  example = 'a number such as 12.5',
  ...line
}: NumberFieldProps) {
  const read = (text: string) => {
    const plain = text
      .replace(/[%°]/g, '')
      .replace(/\u2212/g, '-')
      .trim();
    return plain !== '' && Number.isFinite(Number(plain)) ? Number(plain) : null;
  };
  const wrongOf = (text: string): string | null => {
    if (text.trim() === '') return optional ? null : example;
    const found = read(text);
    if (found === null) return example;
    if (found < least) return `${least} or more`;
    return found > most ? `at most ${most}` : null;
  };
  return (
    <TypedLine
      {...line}
      shown={value === null ? '' : String(Number(value.toPrecision(6)))}
      wrongOf={wrongOf}
      refused={refused}
      onType={(text) => onChange(text.trim() === '' ? null : read(text))}
    />
  );
}

/** 1:6 or 4:1 of a factor; null where it is no such ratio. */
function ratioText(factor: number): string | null {
  const parts = factor < 1 ? 1 / factor : factor;
  const whole = Math.round(parts);
  if (Math.abs(parts - whole) > 1e-6 * parts) return null;
  return factor < 1 ? `1:${whole}` : `${whole}:1`;
}

/** A factor, typed as x4, 400%, +5%, 1:6 or a quotient of lengths. */
export function FactorField({
  value,
  onChange,
  refused,
  ratio = false,
  ...line
}: LineProps & {
  value: number;
  onChange: (factor: number) => void;
  refused?: string | null;
  /** shown as one to so many, where it is that */
  ratio?: boolean;
}) {
  const [before, setBefore] = useState(value);
  const wrongOf = (text: string): string | null => {
    const found = parseFactor(text, before);
    if (found === null) return 'such as x4, 400%, +5%, 1:6 or 62 in / 15.5 in';
    return isFactor(found) ? null : 'a factor from 0.0001 to 100 000';
  };
  return (
    <TypedLine
      {...line}
      shown={(ratio && ratioText(value)) || `x${Number(value.toPrecision(6))}`}
      onBegin={() => setBefore(value)}
      wrongOf={wrongOf}
      refused={refused}
      onType={(t) => onChange(parseFactor(t, before)!)}
    />
  );
}

/** A word or a few. */
export function TextField({
  value,
  onChange,
  refused,
  maxLength,
  ...line
}: LineProps & { value: string; onChange: (text: string) => void; refused?: string | null; maxLength?: number }) {
  return (
    <TypedLine
      {...line}
      words
      maxLength={maxLength}
      shown={value}
      wrongOf={() => null}
      refused={refused}
      onType={onChange}
    />
  );
}

export interface Choice<T extends string> {
  value: T;
  text: string;
}

export function ChoiceField<T extends string>({
  label,
  hint,
  value,
  choices,
  onChange,
}: LineProps & { value: T; choices: readonly Choice<T>[]; onChange: (v: T) => void }) {
  const id = useId();
  return (
    <FormControl variant="standard">
      <Tip says={hint}>
        <FormLabel htmlFor={id}>{label}</FormLabel>
      </Tip>
      <NativeSelect id={id} value={value} sx={{ maxWidth: 200 }} onChange={(e) => onChange(e.target.value as T)}>
        {choices.map((c) => (
          <option key={c.value} value={c.value}>
            {c.text}
          </option>
        ))}
      </NativeSelect>
    </FormControl>
  );
}

export function YesNoField({
  label,
  hint,
  value,
  onChange,
}: LineProps & { value: boolean; onChange: (v: boolean) => void }) {
  const id = useId();
  return (
    <FormControl variant="standard">
      <Tip says={hint}>
        <FormLabel htmlFor={id}>{label}</FormLabel>
      </Tip>
      <Switch id={id} size="small" checked={value} onChange={(e) => onChange(e.target.checked)} />
    </FormControl>
  );
}
