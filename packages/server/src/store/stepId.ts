import { createHash } from 'node:crypto';

/** JSON with keys in order and nothing undefined, so that equal values give equal text. */
export function canonicalJson(value: unknown): string {
  if (value === null || typeof value !== 'object') return JSON.stringify(value ?? null);
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  return `{${Object.entries(value)
    .filter(([, v]) => v !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([k, v]) => `${JSON.stringify(k)}:${canonicalJson(v)}`)
    .join(',')}}`;
}

/** Identity of a step: equal operation, version, params and inputs are the same step. */
export function stepId(operation: string, version: number, params: object, inputs: string[]): string {
  return createHash('sha256')
    .update(canonicalJson([operation, version, params, inputs]))
    .digest('hex');
}
