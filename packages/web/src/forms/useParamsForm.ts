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
  /** as they stand in the fields, or stood before one became wrong */
  values: P;
  set: (change: Partial<P>) => void;
}

/** Would all of them be taken? Those left open are not asked for. */
function taken<P extends FieldValues>(Class: new () => P, values: P): boolean {
  const params = Object.assign(new Class(), values);
  for (const [key, value] of Object.entries(values))
    if (value === null || value === undefined) delete (params as FieldValues)[key];
  return validateSync(params, { skipMissingProperties: true }).length === 0;
}

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
  const [values, setValues] = useState(begun);
  const good = useMemo(() => taken(Class, watched), [Class, watched]);
  // kept for the time when a field is wrong
  if (good && values !== watched) setValues(watched);
  return {
    Class,
    form,
    values: good ? watched : values,
    set(change) {
      for (const [name, value] of Object.entries(change))
        form.setValue(name as Path<P>, value as PathValue<P, Path<P>>, { shouldValidate: true, shouldDirty: true });
    },
  };
}
