import { expect } from 'chai';
import { getMetadataStorage, validateSync } from 'class-validator';
import { labelOf } from '@jasmorphe/core/params/fieldLabel';
import { firstProblem } from '@jasmorphe/core/params/parseParams';
import { descriptionOf, operationNames } from '@jasmorphe/core/operations/catalogue';
import { openApiDocument } from '@jasmorphe/contracts/openapi';

/** Every class of what is sent, of params and of what lies within them, with the names of its fields. */
function checkedClasses(): Map<new () => object, Set<string>> {
  // the catalogue and the document have brought in whatever is checked
  openApiDocument();
  for (const name of operationNames) descriptionOf(name);
  const { validationMetadatas } = getMetadataStorage() as unknown as {
    validationMetadatas: Map<new () => object, { propertyName: string }[]>;
  };
  return new Map([...validationMetadatas].map(([Class, rules]) => [Class, new Set(rules.map((r) => r.propertyName))]));
}

/** What nobody would send on purpose. */
const odd: unknown[] = [null, '', 'x'.repeat(70_000), 'banana', -1, 0, 1e99, NaN, 1.5, true, [], [null], ['x'], [-1], {}, { a: 1 }]; // oxfmt-ignore

/** A name as code writes it: with a capital within. */
const nameOfCode = /\b[a-z]+\d*[A-Z]\w*/;

describe('what a check says of a field', () => {
  it('has no name of code in it, whatever the class, the field and the value', function () {
    this.timeout(60_000);
    const classes = checkedClasses();
    expect(classes.size).above(60);
    let said = 0;
    for (const [Class, fields] of classes)
      for (const field of fields) {
        // units stand at the end, and nothing else has a capital within
        expect(labelOf(field), field).match(/^[A-Z][a-z\d ]*(, \S+)?$/);
        for (const value of odd) {
          const errors = validateSync(Object.assign(new Class(), { [field]: value }), { forbidUnknownValues: false });
          const own = errors.filter((e) => e.property === field);
          if (own.length === 0) continue;
          const { message } = firstProblem(own);
          const where = `${Class.name}.${field} = ${JSON.stringify(value)?.slice(0, 20)}: ${message}`;
          expect(message, where).match(/^"[A-Z].*" \S.*\.$/s);
          expect(message.replace(/"[^"]*banana[^"]*"|x{9,}/g, ''), where).not.match(nameOfCode);
          said++;
        }
      }
    expect(said).above(1000);
  });

  it('has units as people write them', () => {
    const labels = { grossG: 'Gross, g', openedOn: 'Opened on', pricePerKg: 'Price per kg', accelerationMmS2: 'Acceleration, mm/s²', 'parts.3.heightMm': 'Height, mm', 'bed.0': 'Bed', to: 'To' }; // oxfmt-ignore
    for (const [field, label] of Object.entries(labels)) expect(labelOf(field)).equal(label);
  });
});
