/** A report as short readable lines; nested objects are indented, long lists cut. */
export function readable(value: unknown, indent = ''): string {
  if (Array.isArray(value)) {
    if (value.length === 0) return 'none';
    const shown = value
      .slice(0, 20)
      .map((v) => `\n${indent}- ${typeof v === 'object' && v !== null ? oneLine(v) : String(v)}`);
    return shown.join('') + (value.length > 20 ? `\n${indent}  … and ${value.length - 20} more` : '');
  }
  if (typeof value === 'object' && value !== null) {
    const entries = Object.entries(value);
    if (indent !== '' && entries.every(([, v]) => typeof v !== 'object')) return oneLine(value);
    return entries
      .map(([k, v]) => {
        const nested =
          typeof v === 'object' &&
          v !== null &&
          !Array.isArray(v) &&
          Object.values(v).some((x) => typeof x === 'object');
        return `${indent}${k}: ${nested ? '\n' : ''}${readable(v, `${indent}  `)}`;
      })
      .join('\n');
  }
  return figure(value);
}

const figure = (v: unknown): string =>
  typeof v === 'number' && !Number.isInteger(v)
    ? String(Number(v.toPrecision(6)))
    : v === null
      ? 'not known'
      : String(v);

const oneLine = (value: object): string =>
  Object.entries(value)
    .map(([k, v]) => `${k} ${typeof v === 'object' && v !== null ? `(${oneLine(v)})` : figure(v)}`)
    .join(', ');
