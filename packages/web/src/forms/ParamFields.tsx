import type { ReactNode } from 'react';
import { FormProvider, useController, useFormContext, type FieldValues } from 'react-hook-form';
import { paramFact, rangeWords, type ParamFacts } from '@jasmorphe/core/params/facts';
import { ClassContext, useClass } from './classContext.ts';
import { ChoiceField, FactorField, LengthField, NumberField, TextField, YesNoField, type Choice } from './Fields.tsx';
import type { ParamsForm } from './useParamsForm.ts';

/** Fields within it stand for params of the form's class by their names: their hints, limits and words are the param's own. */
export function ParamFields<P extends FieldValues>({ of, children }: { of: ParamsForm<P>; children: ReactNode }) {
  return (
    <FormProvider {...of.form}>
      <ClassContext value={of.Class}>{children}</ClassContext>
    </FormProvider>
  );
}

interface ParamProps {
  name: string;
  label: string;
  /** instead of the param's own help */
  hint?: string;
}

function useParam(name: string): {
  param: ParamFacts;
  value: unknown;
  change: (value: unknown) => void;
  refused: string | null;
} {
  const param = paramFact(useClass(), name);
  const { control } = useFormContext();
  const { field, fieldState } = useController({ name, control });
  return {
    param,
    value: field.value as unknown,
    // an empty field stands for nothing
    change: (value) => field.onChange(value ?? undefined),
    refused: fieldState.error?.message ?? null,
  };
}

/** May it be left empty? */
export const isOpen = (param: ParamFacts): boolean => !param.required && param.standard === undefined;

interface ParamLengthProps extends ParamProps {
  /** counts here, though its class lets it be left out */
  needed?: boolean;
  /** largest that makes sense here, mm, where that is less than the param takes */
  most?: number;
  /** told once the field has another value */
  onChanged?: () => void;
}

export function ParamLength({ name, label, hint, needed = false, most, onChanged }: ParamLengthProps) {
  const { param, value, change, refused } = useParam(name);
  const mm = (value as number | undefined) ?? null;
  return (
    <LengthField
      label={label}
      hint={hint ?? param.help}
      mm={mm}
      onChange={(v) => {
        change(v);
        onChanged?.();
      }}
      optional={!needed && isOpen(param)}
      any
      most={most}
      refused={refused}
    />
  );
}

/** @param standing what holds as long as the field has no value of its own */
export function ParamNumber({ name, label, hint, standing }: ParamProps & { standing?: number }) {
  const { param, value, change, refused } = useParam(name);
  const example = [param.shape === 'whole' ? 'a whole number' : 'a number', rangeWords(param)]
    .filter(Boolean)
    .join(' ');
  return (
    <NumberField
      label={label}
      hint={hint ?? param.help}
      value={(value as number | undefined) ?? standing ?? null}
      onChange={change}
      optional={isOpen(param)}
      example={example}
      refused={refused}
    />
  );
}

export function ParamFactor({ name, label, hint, ratio }: ParamProps & { ratio?: boolean }) {
  const { param, value, change, refused } = useParam(name);
  return (
    <FactorField
      ratio={ratio}
      label={label}
      hint={hint ?? param.help}
      value={(value as number | undefined) ?? 1}
      onChange={change}
      refused={refused}
    />
  );
}

export function ParamText({ name, label, hint, maxLength }: ParamProps & { maxLength?: number }) {
  const { param, value, change, refused } = useParam(name);
  return (
    <TextField
      label={label}
      hint={hint ?? (param.help || undefined)}
      value={(value as string | undefined) ?? ''}
      onChange={change}
      refused={refused}
      maxLength={maxLength}
    />
  );
}

export function ParamChoice<T extends string>({
  name,
  label,
  hint,
  choices,
}: ParamProps & { choices: readonly Choice<T>[] }) {
  const { param, value, change } = useParam(name);
  return (
    <ChoiceField
      label={label}
      hint={hint ?? (param.help || undefined)}
      value={value as T}
      choices={choices}
      onChange={change}
    />
  );
}

export function ParamYesNo({ name, label, hint }: ParamProps) {
  const { param, value, change } = useParam(name);
  return <YesNoField label={label} hint={hint ?? param.help} value={value === true} onChange={change} />;
}
