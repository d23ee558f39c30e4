import type { Speaker } from '../words/numbers.ts';

/** What a param is called and how it is said. */
export interface ParamWords {
  /** what it is: for the command line, the API description and hints of fields */
  help: string;
  /** how a step says it; left out where it is not said, or goes without saying */
  says?: (value: never, say: Speaker) => string | null;
  /** the option of the command line, if it is not its name; null where another option stands for it */
  flag?: string | null;
}

const words = new Map<object, Map<string, ParamWords>>();

/** Words of one param of a params class; its checks stand beside it. */
export const Param =
  (help: string, more: Omit<ParamWords, 'help'> = {}): PropertyDecorator =>
  (target, name) => {
    const own = words.get(target.constructor) ?? new Map<string, ParamWords>();
    words.set(target.constructor, own.set(String(name), { help, ...more }));
  };

/** Words of the params of a class, in the order in which they stand there. */
export function wordsOf(Params: new () => object): ReadonlyMap<string, ParamWords> {
  const own = words.get(Params);
  const base = Object.getPrototypeOf(Params) as (new () => object) | null;
  const inherited = base && base !== Function.prototype ? wordsOf(base) : null;
  // those of the class that it extends come first
  return inherited?.size ? new Map([...inherited, ...(own ?? [])]) : (own ?? new Map<string, ParamWords>());
}

/** A length, said after what it is of. */
export const saysLength =
  (what: string) =>
  (mm: number, { length }: Speaker): string =>
    `${what} ${length(mm)}`;

/** Said only where it is so. */
export const saysWhen =
  (what: string) =>
  (on: boolean): string | null =>
    on ? what : null;
