import { Option } from 'commander';
import { paramFacts, rangeWords, type ParamFacts } from '@jasmorphe/core/params/facts';
import { fixed } from '@jasmorphe/core/words/numbers';
import { bed, direction, factor, length, number, points, stretch, whole, wholes } from './values.ts';

/** An option of a command: what commander needs, and nothing that must be loaded. */
export interface OptionSpec {
  flags: string;
  help: string;
  parse?: (text: string, before: never) => unknown;
  choices?: readonly string[];
  standard?: string;
  required?: true;
}

const dashed = (name: string): string => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

const readers: Partial<Record<ParamFacts['shape'], { says: string; parse: (text: string, before: never) => unknown }>> =
  {
    length: { says: 'mm', parse: length },
    number: { says: 'n', parse: number },
    whole: { says: 'n', parse: whole },
    factor: { says: 'f', parse: factor },
    direction: { says: 'x,y,z', parse: direction },
    point: { says: 'x,y,z', parse: direction },
    points: { says: 'x,y,z', parse: points },
    room: { says: 'XxYxZ', parse: bed },
    stretch: { says: 'x=f,y=f,z=f', parse: stretch },
    text: { says: 'text', parse: (text) => text },
  };

// lengths and factors go as far as anybody's, and say nothing
const rangeOf = (param: ParamFacts): string =>
  param.shape === 'number' || param.shape === 'whole' ? rangeWords(param) : '';

function standardOf({ shape, standard }: ParamFacts): string {
  if (shape === 'switch' || standard === undefined || standard === 0) return '';
  if (shape === 'length') return `default ${fixed(standard as number, 2).replace(/\.?0+$/, '')} mm`;
  if (Array.isArray(standard)) return `default ${standard.join(',')}`;
  return typeof standard === 'string' || typeof standard === 'number' ? `default ${standard}` : '';
}

/** The option of a param, from its checks and words; null where it has none of its own. */
function optionOf(param: ParamFacts): OptionSpec | null {
  if (param.flag === null) return null;
  const name = param.flag ?? dashed(param.name);
  const more = [rangeOf(param), standardOf(param)].filter(Boolean).join('; ');
  const help = `${param.help}${more ? ` (${more})` : ''}`;
  if (param.shape === 'switch')
    return {
      flags: param.standard === true ? `--no-${name}` : `--${name}`,
      help: param.standard === true ? `not: ${help}` : help,
    };
  const required = param.required ? { required: true as const } : {};
  if (param.shape === 'choice')
    return { flags: `--${name} <${param.name}>`, help, choices: param.choices!, ...required };
  if (param.shape === 'whole' && param.many) return { flags: `--${name} <n,n>`, help, parse: wholes, ...required };
  const reader = readers[param.shape];
  return reader ? { flags: `--${name} <${reader.says}>`, help, parse: reader.parse, ...required } : null;
}

/** The options of all params of a class that have one. */
export const optionsOf = (Params: new () => object): OptionSpec[] =>
  paramFacts(Params)
    .map(optionOf)
    .filter((o) => o !== null);

/** The params that options of a class's own name give; those not given are left out. */
export function paramsFrom(Params: new () => object, options: Record<string, unknown>): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const param of paramFacts(Params)) {
    if (param.flag === null) continue;
    const key = (param.flag ?? dashed(param.name)).replace(/-(\w)/g, (_, c: string) => c.toUpperCase());
    if (options[key] !== undefined) out[param.name] = options[key];
  }
  return out;
}

/** As commander takes it. */
export function commanderOption(spec: OptionSpec): Option {
  const option = new Option(spec.flags, spec.help);
  if (spec.choices) option.choices([...spec.choices]);
  if (spec.parse) option.argParser(spec.parse as (text: string, before: unknown) => unknown);
  if (spec.standard !== undefined) option.default(spec.standard);
  if (spec.required) option.makeOptionMandatory();
  return option;
}

/** Where to write. */
export const outputOption = (
  what = 'where to write; its ending picks the format. A folder, where there are several files',
): OptionSpec => ({
  flags: '-o, --output <path>',
  help: what,
  required: true,
});
