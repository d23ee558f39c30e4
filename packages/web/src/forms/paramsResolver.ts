import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import type { FieldErrors, FieldValues, Resolver } from 'react-hook-form';
import { sentenceOf } from '@jasmorphe/core/params/fieldLabel';

/**
 * Checks the fields of a form by the class that the server and the command line check by, in the same words. Fields that
 * are left open are not asked for here: the server does that, and the button waits for what it needs.
 */
export function paramsResolver<P extends FieldValues>(Class: new () => P): Resolver<P> {
  const check = classValidatorResolver(
    Class,
    { validator: { skipMissingProperties: true } },
    { mode: 'sync', raw: true },
  );
  return async (values, context, options) => {
    const found = await check(values, context, options);
    // the field's label stands beside it
    for (const [name, error] of Object.entries(found.errors as FieldErrors<FieldValues>))
      if (error && typeof error.message === 'string') error.message = sentenceOf(error.message, name, null);
    return found;
  };
}
