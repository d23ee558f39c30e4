import { getMetadataStorage } from 'class-validator';
import { wordsOf, type ParamWords } from './Param.ts';

/** What kind of value a param takes: what an option or a field must be able to read. */
export type ParamShape =
  | 'length'
  | 'number'
  | 'whole'
  | 'factor'
  | 'switch'
  | 'choice'
  | 'text'
  | 'direction'
  | 'point'
  | 'points'
  | 'room'
  | 'stretch'
  | 'other';

/** All that a params class says of one of its params. */
export interface ParamFacts extends ParamWords {
  name: string;
  shape: ParamShape;
  /** a list of such */
  many: boolean;
  required: boolean;
  /** undefined where it has none */
  standard: unknown;
  choices: readonly string[] | null;
  /** smallest and largest that are taken; null sets no limit */
  least: number | null;
  most: number | null;
  /** the smallest, or the largest, itself is not taken */
  above: boolean;
  below: boolean;
}

const shapes: Record<string, ParamShape> = {
  isLengthMm: 'length',
  isMm: 'length',
  isFactor: 'factor',
  isPositiveTriple: 'room',
  isDirection: 'direction',
  isTriple: 'point',
  isTriples: 'points',
  isFactorTriple: 'stretch',
  isPercentBelow: 'number',
  isBoolean: 'switch',
  isInt: 'whole',
  isNumber: 'number',
  isIn: 'choice',
  isChoice: 'choice',
  isString: 'text',
};

interface Schema {
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  exclusiveMaximum?: number;
  enum?: readonly string[];
}

const read = new Map<new () => object, ParamFacts[]>();

/** The params of a class in the order of its fields: shapes, limits and defaults are read off its checks and its fields, once. */
export function paramFacts(Params: new () => object): readonly ParamFacts[] {
  let facts = read.get(Params);
  if (!facts) read.set(Params, (facts = readFacts(Params)));
  return facts;
}

function readFacts(Params: new () => object): ParamFacts[] {
  const standards = new Params() as Record<string, unknown>;
  const all = getMetadataStorage().getTargetValidationMetadatas(Params, '', false, false);
  const names = [...new Set([...wordsOf(Params).keys(), ...all.map((m) => m.propertyName)])];
  return names.map((name) => {
    const checks = all.filter((m) => m.propertyName === name);
    const of = (check: string): unknown => checks.find((m) => m.name === check)?.constraints?.[0];
    // a check of ours carries the schema of what it lets pass
    const schema = checks
      .map((m) => m.constraints?.[0] as Schema | undefined)
      .find((s) => typeof s === 'object' && s !== null && !Array.isArray(s) && ('type' in s || 'enum' in s));
    const shape = checks.map((m) => shapes[m.name ?? '']).find((s) => s !== undefined) ?? 'other';
    return {
      ...(wordsOf(Params).get(name) ?? { help: '' }),
      name,
      shape,
      many: checks.some((m) => m.each || m.name === 'isArray'),
      required: !checks.some((m) => m.type === 'conditionalValidation') && standards[name] === undefined,
      standard: standards[name],
      choices: ((of('isIn') as string[] | undefined) ?? schema?.enum)?.map(String) ?? null,
      least: (of('min') as number | undefined) ?? schema?.minimum ?? schema?.exclusiveMinimum ?? null,
      most: (of('max') as number | undefined) ?? schema?.maximum ?? schema?.exclusiveMaximum ?? null,
      above: schema?.exclusiveMinimum !== undefined,
      below: schema?.exclusiveMaximum !== undefined,
    };
  });
}

/** One param of a class. */
export function paramFact(Params: new () => object, name: string): ParamFacts {
  const fact = paramFacts(Params).find((f) => f.name === name);
  if (!fact) throw new Error(`${Params.name} has no param "${name}"`);
  return fact;
}

/** The numbers that a param takes, in words: from 0 to below 50; above 0; empty where any will do. */
export function rangeWords({ least, most, above, below }: ParamFacts): string {
  const from = least === null ? '' : `${above ? 'above' : 'from'} ${least}`;
  const to = most === null ? '' : `${from ? (below ? 'to below' : 'to') : below ? 'below' : 'at most'} ${most}`;
  return [from, to].filter(Boolean).join(' ');
}
