import { validateSync } from 'class-validator';
import { useMemo, useState } from 'react';
import {
  useForm,
  useWatch,
  type DefaultValues,
  type FieldValues,
  type Path,
  type PathValue,
  type UseFormReturn,
} from 'react-hook-form';
import { paramsResolver } from './paramsResolver.ts';

/** A form over a params class. */
export interface ParamsForm<P extends FieldValues> {
  Class: new () => P;
  form: UseFormReturn<P>;
  /** as they stand in the fields; a field that is wrong has what it had before, and holds the button for as long as it is shown */
  values: P;
  set: (change: Partial<P>) => void;
}

/** Which of them would not be taken? Those left open are not asked for. */
function refusedOf<P extends FieldValues>(Class: new () => P, values: P): string[] {
  const params = Object.assign(new Class(), values);
  for (const [key, value] of Object.entries(values))
    if (value === null || value === undefined) delete (params as FieldValues)[key];
  return validateSync(params, { skipMissingProperties: true }).map((error) => error.property);
}

const isSame = (a: FieldValues, b: FieldValues): boolean =>
  Object.keys({ ...a, ...b }).every((key) => Object.is(a[key], b[key]));

/**
 * The fields of a card, held by the class of its params.
 *
 * @param start what the fields begin with; what is left out has the default of its param
 */
export function useParamsForm<P extends FieldValues>(Class: new () => P, start: Partial<P>): ParamsForm<P> {
  const [begun] = useState(() => ({ ...new Class(), ...start }));
  const form = useForm<P>({
    mode: 'onChange',
    defaultValues: begun as DefaultValues<P>,
    resolver: useMemo(() => paramsResolver(Class), [Class]),
  });
  const watched = useWatch({ control: form.control }) as P;
  const [last, setLast] = useState<P>(begun);
  // one that is wrong, and may be shown no more, takes none of the others with it
  const values = useMemo(() => {
    const refused = refusedOf(Class, watched);
    return refused.length === 0
      ? watched
      : { ...watched, ...Object.fromEntries(refused.map((name) => [name, last[name] as unknown])) };
  }, [Class, watched, last]);
  if (!isSame(values, last)) setLast(values);
  return {
    Class,
    form,
    values,
    set(change) {
      for (const [name, value] of Object.entries(change))
        form.setValue(name as Path<P>, value as PathValue<P, Path<P>>, { shouldValidate: true, shouldDirty: true });
    },
  };
}
