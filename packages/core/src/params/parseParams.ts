import { validateSync, type ValidationError } from 'class-validator';
import { MeshError } from '../run/MeshError.ts';
import { labelOf, sentenceOf } from './fieldLabel.ts';

/** First failed check of a validation, as one sentence and the path of its field. */
export function firstProblem(errors: ValidationError[], path = ''): { field: string; message: string } {
  const error = errors[0];
  const field = path ? `${path}.${error.property}` : error.property;
  if (error.constraints) {
    if (error.constraints.whitelistValidation) return { field, message: `There is no field "${field}".` };
    return { field, message: sentenceOf(Object.values(error.constraints)[0], error.property) };
  }
  return error.children?.length
    ? firstProblem(error.children, field)
    : { field, message: sentenceOf('is not valid', field) };
}

/** Where a text holds a character that no text has; null where none does. Databases and other programs end a text there. */
function nulIn(value: unknown, path: string): string | null {
  if (typeof value === 'string') return value.includes('\0') ? path : null;
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return null;
  for (const [key, inner] of Object.entries(value)) {
    if (key.includes('\0')) return path || 'a name';
    // numbers are by far the most of what lists hold
    if (typeof inner === 'number') continue;
    const found = nulIn(inner, path === '' ? key : path);
    if (found !== null) return found;
  }
  return null;
}

/**
 * Makes a params object of `Params` from plain JSON and checks it; unknown fields are refused.
 *
 * @throws MeshError `bad-params` with the field that is wrong
 */
export function parseParams<Params extends object>(Params: new () => Params, plain: unknown): Params {
  if (plain !== undefined && (plain === null || typeof plain !== 'object' || Array.isArray(plain)))
    throw new MeshError('bad-params', 'The parameters must be an object.', 'Send JSON such as {"wall": 3}.');
  const nul = nulIn(plain, '');
  if (nul !== null)
    throw new MeshError(
      'bad-params',
      `"${labelOf(nul.replaceAll('\0', ''))}" holds a character that no text has (U+0000).`,
      'Take it out. Nothing was changed.',
      nul.replaceAll('\0', ''),
    );
  const params = new Params();
  for (const [key, value] of Object.entries((plain as object) ?? {}))
    if (value !== undefined && value !== null) {
      if (key === '__proto__' || key === 'constructor')
        throw new MeshError('bad-params', `${key} is no parameter.`, '', key);
      (params as Record<string, unknown>)[key] = value;
    }
  const errors = validateSync(params, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  if (errors.length > 0) {
    const { field, message } = firstProblem(errors);
    throw new MeshError('bad-params', message, 'Nothing was changed.', field);
  }
  return params;
}

/**
 * An object of a class as it was kept: fields that came later have their defaults, and those that the class has no more
 * stay as they were. Nothing is checked: what was taken once is not refused when it is read.
 */
export function readKept<T extends object>(Class: new () => T, kept: unknown): T {
  const out = new Class();
  if (kept === null || typeof kept !== 'object' || Array.isArray(kept)) return out;
  for (const [key, value] of Object.entries(kept))
    if (value !== undefined && value !== null && key !== '__proto__') (out as Record<string, unknown>)[key] = value;
  return out;
}
