/** Units by the ends of names of fields, as the names are written. */
const units: readonly (readonly [end: string, unit: string])[] = [
  ['GCm3', 'g/cm³'],
  ['Mm3S', 'mm³/s'],
  ['MmS2', 'mm/s²'],
  ['MmS', 'mm/s'],
  ['Mm', 'mm'],
  ['Cm3', 'cm³'],
  ['Pct', '%'],
  ['Deg', '°'],
  ['G', 'g'],
  ['H', 'h'],
  ['S', 's'],
  ['W', 'W'],
];

/**
 * What people call a field: its name in words, with its unit, such as `Gross, g` for `grossG`. Of a path, its last name. A form that has
 * its own word for it puts that in its place.
 */
export function labelOf(field: string): string {
  const name = field.split('.').findLast((part) => !/^\d*$/.test(part)) ?? field;
  const [end, unit] = units.find(([e]) => name.endsWith(e) && name.length > e.length) ?? ['', ''];
  const text = name
    .slice(0, name.length - end.length)
    .replace(/([a-z\d])([A-Z])/g, '$1 $2')
    .toLowerCase();
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}${unit && `, ${unit}`}`;
}

/**
 * What a check says of a field, as a sentence: the same wherever a value is refused.
 *
 * @param says begins with the field's name, as messages of class-validator do
 * @param label what the field is called; left out where that stands beside it already
 */
export function sentenceOf(says: string, field: string, label: string | null = labelOf(field)): string {
  const text = says
    .replace(/[.]$/, '')
    .replace(/^(?:each value in |nested property |property )/, '')
    .replace(field, '')
    .trim();
  const named = label === null ? text : `"${label}" ${text}`;
  return `${named.charAt(0).toUpperCase()}${named.slice(1)}.`;
}
