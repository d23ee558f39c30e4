import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './workspace.mjs';

// The JSON Schemas of what the API answers with, made from the types in `contracts/src/responses.ts` by the compiler's own
// checker, so that they are what the code says. They are made by the build, and anew where a type may be another.

const source = join(root, 'packages/contracts/src/responses.ts');
const target = join(root, 'packages/contracts/src/responseSchemas.ts');

/** What the file is made of, as a hash: all that a type of an answer can come from. */
function madeOf() {
  const hash = createHash('sha256').update(readFileSync(join(root, 'scripts/responseSchemas.mjs')));
  for (const folder of ['packages/core/src', 'packages/contracts/src']) {
    const files = readdirSync(join(root, folder), { recursive: true }).map((f) => join(root, folder, f));
    for (const file of files.filter((f) => f.endsWith('.ts') && f !== target).sort()) hash.update(readFileSync(file));
  }
  return hash.digest('hex');
}

/** Makes the file, unless it is made of what there is now. */
export async function ensureSchemas() {
  const head = `// Made by the build from the types in responses.ts. ${madeOf()}\n`;
  if (existsSync(target) && readFileSync(target, 'utf8').startsWith(head)) return;
  const { default: ts } = await import('typescript');
  // whoever reads it meanwhile finds a whole one
  const fresh = `${target}.${process.pid}`;
  writeFileSync(fresh, head + responseSchemas(ts));
  renameSync(fresh, target);
}

/** @returns {string} the file as it should be, behind its first line */
function responseSchemas(ts) {
  const { config } = ts.readConfigFile(join(root, 'tsconfig.base.json'), (path) => ts.sys.readFile(path));
  const { options } = ts.parseJsonConfigFileContent({ ...config, files: [source] }, ts.sys, root);
  const program = ts.createProgram([source], { ...options, noEmit: true, customConditions: ['source'] });
  const checker = program.getTypeChecker();
  const file = program.getSourceFile(source);
  /** @type {Record<string, object>} */
  const named = {};
  const underWay = new Set();

  const described = (schema, symbol) => {
    const text = ts.displayPartsToString(symbol?.getDocumentationComment(checker) ?? []).replace(/\s+/g, ' ');
    return text && !('$ref' in schema) ? { description: text, ...schema } : schema;
  };

  /** A name that the schema can be filed under; null for what is written where it stands. */
  const nameOf = (type) => {
    const alias = type.aliasSymbol && !type.aliasTypeArguments?.length ? type.aliasSymbol.name : null;
    const { symbol } = type;
    const own =
      symbol &&
      symbol.flags & (ts.SymbolFlags.Interface | ts.SymbolFlags.Class) &&
      !checker.getTypeArguments(type).length
        ? symbol.name
        : null;
    return alias ?? own;
  };

  const schemaOf = (type) => {
    const name = type.flags & ts.TypeFlags.Object || type.isUnion() ? nameOf(type) : null;
    if (!name) return inline(type);
    if (!(name in named) && !underWay.has(name)) {
      underWay.add(name);
      named[name] = described(inline(type), type.aliasSymbol ?? type.symbol);
    }
    return { $ref: `#/components/schemas/${name}` };
  };

  const unionOf = (types) => {
    const parts = types.filter((t) => !(t.flags & ts.TypeFlags.Undefined));
    const nullable = parts.some((t) => t.flags & ts.TypeFlags.Null);
    const rest = parts.filter((t) => !(t.flags & ts.TypeFlags.Null));
    const schemas = [];
    const words = rest.filter((t) => t.isStringLiteral());
    if (words.length > 0) schemas.push({ type: 'string', enum: words.map((t) => t.value).sort() });
    const numbers = rest.filter((t) => t.isNumberLiteral());
    if (numbers.length > 0) schemas.push({ type: 'number', enum: numbers.map((t) => t.value).sort((a, b) => a - b) });
    const truths = rest.filter((t) => t.flags & ts.TypeFlags.BooleanLiteral);
    if (truths.length === 2) schemas.push({ type: 'boolean' });
    else if (truths.length === 1) schemas.push(inline(truths[0]));
    const others = rest.filter(
      (t) => !t.isStringLiteral() && !t.isNumberLiteral() && !(t.flags & ts.TypeFlags.BooleanLiteral),
    );
    schemas.push(...others.map(schemaOf));
    if (nullable) schemas.push({ type: 'null' });
    return schemas.length === 1 ? schemas[0] : { anyOf: schemas };
  };

  const objectOf = (type) => {
    const properties = {};
    const required = [];
    for (const property of checker.getPropertiesOfType(type)) {
      const of = checker.getTypeOfSymbol(property);
      if (of.getCallSignatures().length > 0) continue;
      properties[property.name] = described(schemaOf(of), property);
      const optional = property.flags & ts.SymbolFlags.Optional;
      const open = of.isUnion() && of.types.some((t) => t.flags & ts.TypeFlags.Undefined);
      if (!optional && !open) required.push(property.name);
    }
    const more = checker.getIndexTypeOfType(type, ts.IndexKind.String);
    return {
      type: 'object',
      ...(Object.keys(properties).length > 0 ? { properties } : {}),
      ...(required.length > 0 ? { required } : {}),
      ...(more ? { additionalProperties: schemaOf(more) } : {}),
    };
  };

  const inline = (type) => {
    // as it was written: `StepView | null` names StepView, where the compiler has a flat list of all its members
    if (type.isUnion()) return unionOf(type.origin?.types ?? type.types);
    if (type.isStringLiteral() || type.isNumberLiteral()) return { const: type.value };
    if (type.flags & ts.TypeFlags.BooleanLiteral) return { const: checker.typeToString(type) === 'true' };
    if (type.flags & (ts.TypeFlags.StringLike | ts.TypeFlags.TemplateLiteral)) return { type: 'string' };
    if (type.flags & ts.TypeFlags.NumberLike) return { type: 'number' };
    if (type.flags & ts.TypeFlags.BooleanLike) return { type: 'boolean' };
    if (type.flags & ts.TypeFlags.Null) return { type: 'null' };
    if (type.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown | ts.TypeFlags.NonPrimitive)) return {};
    // what has a name in it is referred to, and not written out for each member of a union
    if (type.isIntersection() && type.types.some(nameOf)) return { allOf: type.types.map(schemaOf) };
    if (checker.isTupleType(type)) {
      const items = checker.getTypeArguments(type).map(schemaOf);
      return { type: 'array', prefixItems: items, minItems: items.length, maxItems: items.length };
    }
    if (checker.isArrayType(type)) return { type: 'array', items: schemaOf(checker.getTypeArguments(type)[0]) };
    return objectOf(type);
  };

  const answers = file.statements.find((s) => ts.isInterfaceDeclaration(s) && s.name.text === 'Responses');
  const type = checker.getTypeAtLocation(answers.name);
  const responses = Object.fromEntries(
    checker.getPropertiesOfType(type).map((p) => [p.name, schemaOf(checker.getTypeOfSymbol(p))]),
  );
  const sorted = Object.fromEntries(Object.entries(named).sort(([a], [b]) => (a < b ? -1 : 1)));
  // a line for each type: what has changed is seen, and nobody has to read the rest
  const lines = (of) =>
    Object.entries(of)
      .map(([name, schema]) => `  ${name}: ${JSON.stringify(schema)},\n`)
      .join('');
  return `
/** Schemas of the types that answers are made of, by name. */
export const answerSchemas: Record<string, object> = {
${lines(sorted)}};

/** What each kind of answer is. */
export const responseSchemas = {
${lines(responses)}} as const;
`;
}

if (process.argv[1]?.endsWith('responseSchemas.mjs')) await ensureSchemas();
