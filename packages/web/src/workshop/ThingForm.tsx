import Button from '@mui/material/Button';
import { memo, useCallback, useState, type ReactNode } from 'react';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { labelOf } from '@jasmorphe/core/params/fieldLabel';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { wordsOf } from '../app/api.ts';
import { paramFact } from '@jasmorphe/core/params/facts';
import { ChoiceField, LengthField, NumberField, YesNoField, type Choice } from '../forms/Fields.tsx';
import { FieldsContext, useHold } from '../forms/hold.ts';
import { isOpen } from '../forms/ParamFields.tsx';
import { Note } from '../ui/Note.tsx';
import { WordsField } from '../ui/WordsField.tsx';
import { ThingActions, ThingSection } from './ThingSection.ts';

/** A field of a thing: what it is called and how it is filled in. */
export type FieldOf<T> = {
  key: keyof T & string;
  label: string;
  hint?: string;
  /** left out unless it is so of what stands in the fields */
  when?: (value: Partial<T>) => boolean;
} & (
  | { as: 'words'; maxLength: number; rows?: number; placeholder?: string }
  | { as: 'number' }
  | { as: 'length' }
  | { as: 'room' }
  | { as: 'yesNo' }
  | { as: 'choice'; choices: readonly Choice<string>[] }
);

/** What is printed with, of printers and materials. */
export const printKinds: readonly Choice<string>[] = [
  { value: 'filament', text: 'filament' },
  { value: 'resin', text: 'resin' },
];

export interface FieldGroup<T> {
  title: string;
  fields: readonly FieldOf<T>[];
}

/** Three lengths: how much room there is. */
function RoomField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number[];
  onChange: (value: number[]) => void;
}) {
  return (
    <>
      {['x', 'y', 'z'].map((axis, k) => (
        <LengthField
          key={axis}
          label={`${label}, ${axis}`}
          mm={value[k] ?? null}
          onChange={(mm) => onChange(value.map((old, i) => (i === k ? (mm ?? old) : old)))}
        />
      ))}
    </>
  );
}

/** A field is drawn anew where something of it is another, not for every letter in one beside it. */
const Field = memo(function Field({
  of,
  optional,
  invalid,
  value,
  set,
}: {
  of: FieldOf<Record<string, unknown>>;
  /** may be left empty */
  optional: boolean;
  /** the words in it are not taken; figures know by themselves */
  invalid: boolean;
  value: unknown;
  set: (change: Record<string, unknown>) => void;
}) {
  const { key, label, hint } = of;
  const onChange = (now: unknown): void => set({ [key]: now });
  switch (of.as) {
    case 'words':
      return (
        <WordsField
          label={label}
          value={(value as string | null | undefined) ?? ''}
          maxLength={of.maxLength}
          rows={of.rows}
          placeholder={of.placeholder}
          invalid={invalid}
          onChange={onChange}
        />
      );
    case 'number':
      return (
        <NumberField
          label={label}
          hint={hint}
          value={(value as number | undefined) ?? null}
          optional={optional}
          onChange={(v) => onChange(v ?? undefined)}
        />
      );
    case 'length':
      return (
        <LengthField
          label={label}
          hint={hint}
          mm={(value as number | undefined) ?? null}
          optional={optional}
          onChange={(v) => onChange(v ?? undefined)}
        />
      );
    case 'room':
      return <RoomField label={label} value={(value as number[] | undefined) ?? [0, 0, 0]} onChange={onChange} />;
    case 'yesNo':
      return <YesNoField label={label} hint={hint} value={value === true} onChange={onChange} />;
    case 'choice':
      return (
        <ChoiceField
          label={label}
          hint={hint}
          value={(value as string | undefined) ?? of.choices[0].value}
          choices={of.choices}
          onChange={onChange}
        />
      );
  }
});

/** A refusal in the words of the form: what it calls its field in the place of what the class does. */
const inWordsOf = <T,>(groups: readonly FieldGroup<T>[], message: string, field: string | undefined): string => {
  const own = groups.flatMap((g) => g.fields).find((f) => f.key === field?.split('.')[0]);
  return field !== undefined && own ? message.replace(`"${labelOf(field)}"`, `"${own.label}"`) : message;
};

/** What the class that the server checks a thing by says of it, in the words of the form, and of which field; null where it would be taken. */
export function problemOf<T extends object>(
  Class: new () => T,
  value: Partial<T>,
  groups: readonly FieldGroup<T>[] = [],
): { says: string; field: string | undefined } | null {
  try {
    parseParams(Class, value);
    return null;
  } catch (error) {
    if (!isMeshError(error)) throw error;
    return { says: inWordsOf(groups, error.message, error.field), field: error.field };
  }
}

/** A thing of the workshop in fields, checked by the class that the server checks it by. */
export function ThingForm<T extends object>({
  title,
  Class,
  start,
  groups,
  save,
  onClose,
  button = 'Keep',
  more,
}: {
  title: string;
  Class: new () => T;
  start: Partial<T>;
  groups: readonly FieldGroup<T>[];
  save: (value: Partial<T>) => PromiseLike<{ error?: unknown }>;
  onClose: () => void;
  button?: string;
  more?: (value: Partial<T>, set: (change: Partial<T>) => void) => ReactNode;
}) {
  const [value, setValue] = useState<Partial<T>>(start);
  const [refused, setRefused] = useState<string | null>(null);
  const [saving, setSaving] = useState(false);
  const set = useCallback((change: Partial<T>) => {
    setRefused(null);
    setValue((old) => ({ ...old, ...change }));
  }, []);
  // what was typed into a field that is no longer shown does not count
  const hidden = groups.flatMap((g) => g.fields.filter((f) => f.when && !f.when(value)).map((f) => f.key));
  const counting: Partial<T> = { ...value, ...Object.fromEntries(hidden.map((key) => [key, start[key]])) };
  const problem = problemOf(Class, counting, groups);
  const keep = async () => {
    setSaving(true);
    const { error } = await save(counting);
    setSaving(false);
    if (error) {
      const { message, hint, field } = wordsOf(error);
      setRefused([inWordsOf(groups, message, field), hint].filter(Boolean).join(' '));
    } else onClose();
  };
  const { wrong, held, submit, fields } = useHold(() => void keep(), problem !== null || saving);
  const says = refused ?? wrong ?? problem?.says ?? null;
  return (
    <ThingSection aria-label={title}>
      <h2 className="question">{title}</h2>
      <FieldsContext value={fields}>
        {groups.map((group) => {
          const shown = group.fields.filter((f) => !f.when || f.when(value));
          return shown.length === 0 ? null : (
            <fieldset key={group.title} className="fields">
              <legend className="label accent">{group.title}</legend>
              {shown.map((f) => (
                <Field
                  key={f.key}
                  of={f as FieldOf<Record<string, unknown>>}
                  optional={isOpen(paramFact(Class, f.key))}
                  invalid={problem?.field === f.key && value[f.key] !== ''}
                  value={value[f.key]}
                  set={set as (change: Record<string, unknown>) => void}
                />
              ))}
            </fieldset>
          );
        })}
        {more?.(value, set)}
      </FieldsContext>
      {says !== null && (
        <Note tone="attention" role="status">
          {says}
        </Note>
      )}
      <ThingActions>
        <Button variant="contained" disabled={held} onClick={submit}>
          {button}
        </Button>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
      </ThingActions>
    </ThingSection>
  );
}
