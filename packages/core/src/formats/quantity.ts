import { mmPerUnit, type LengthUnit } from './units.ts';

/** A value with the power of length it carries: 0 for a bare number, 1 for a length in mm. */
interface Quantity {
  value: number;
  power: number;
  /** a share of something, such as 5 % or 1:6 */
  share: boolean;
}

const unitWords: Record<string, LengthUnit> = {
  '"': 'in',
  '″': 'in',
  '”': 'in',
  "'": 'ft',
  '′': 'ft',
  '’': 'ft',
  inch: 'in',
  inches: 'in',
  feet: 'ft',
  foot: 'ft',
  ...Object.fromEntries(
    (['', 'milli', 'centi'] as const).flatMap((much) =>
      ['metre', 'metres', 'meter', 'meters'].map((word) => [much + word, much === '' ? 'm' : `${much[0]}m`] as const),
    ),
  ),
  ...(Object.fromEntries(Object.keys(mmPerUnit).map((u) => [u, u])) as Record<LengthUnit, LengthUnit>),
};

const spaces = /[\u2009\u202f\u00a0]/g;

/** As plain text: one kind of minus, point and times sign; thousands joined. */
const plain = (text: string): string =>
  text
    .trim()
    .toLowerCase()
    // spaces between thousands, as figures are shown here
    .replace(/(\d)[ \u2009\u202f\u00a0](?=\d{3}(?!\d|\/))/g, '$1')
    .replace(spaces, ' ')
    .replace(/\u2212/g, '-')
    .replace(/[\u00d7\u22c5]/g, '*')
    .replace(/\u00f7/g, '/')
    // a comma before one or two figures is a decimal point; before three it could be either and is not guessed at
    .replace(/,(?=\d{1,2}(?!\d))/g, '.');

/** Reads sums, products, ratios, fractions, shares and units, by recursive descent. */
class Reader {
  private at = 0;

  /** @param bare mm in a bare number that is added to a length standing there already */
  constructor(
    private readonly text: string,
    private readonly bare: number,
  ) {}

  /** @param now what a leading operator works on */
  read(now: Quantity | null): Quantity | null {
    const out = this.sum(/^\s*(?:[-+*/]|x(?=\s*[\d.(]))/.test(this.text) ? now : null);
    return out && this.at === this.text.length && Number.isFinite(out.value) ? out : null;
  }

  private takes(pattern: RegExp): string | null {
    const match = pattern.exec(this.text.slice(this.at));
    if (!match) return null;
    this.at += match[0].length;
    return match[0].trim();
  }

  private sum(first: Quantity | null): Quantity | null {
    let left = first && /^\s*[-+]/.test(this.text) ? first : this.product(first);
    while (left) {
      const sign = this.takes(/^\s*[-+]\s*/);
      if (!sign) return left;
      const term = this.primary();
      const right = term && this.product(term);
      if (!right) return null;
      const by = sign === '-' ? -right.value : right.value;
      // 5 % more is 5 % of what stands before
      if (right.share) left = { ...left, value: left.value * (1 + by) };
      else if (left.power === right.power) left = { ...left, value: left.value + by };
      else if (left === first && right.power === 0) left = { ...left, value: left.value + by * this.bare };
      else return null;
    }
    return null;
  }

  private product(first: Quantity | null): Quantity | null {
    let left = first ?? this.signed();
    while (left) {
      const sign = this.takes(/^\s*(?:[*/:]|x(?=\s*[\d.(+-]))\s*/);
      if (!sign) return left;
      const right = this.signed();
      if (!right) return null;
      left =
        sign === '*' || sign === 'x'
          ? { value: left.value * right.value, power: left.power + right.power, share: left.share && right.share }
          : {
              value: left.value / right.value,
              power: left.power - right.power,
              share: sign === ':' && left.power === right.power,
            };
    }
    return null;
  }

  private signed(): Quantity | null {
    const sign = this.takes(/^\s*[-+]\s*(?=[\d.(])/);
    const q = this.primary();
    return q && sign === '-' ? { ...q, value: -q.value } : q;
  }

  private primary(): Quantity | null {
    if (!this.takes(/^\s*\(/)) return this.quantity();
    const q = this.sum(null);
    return q && this.takes(/^\s*\)\s*/) ? q : null;
  }

  /** A number with its unit, or several that follow one another from feet down to inches. */
  private quantity(): Quantity | null {
    const q = this.oneQuantity();
    if (!q || q.power !== 1) return q;
    let value = q.value;
    while (/^\s*[\d.]/.test(this.text.slice(this.at))) {
      const next = this.oneQuantity();
      if (!next || next.power !== 1) return null;
      value += next.value;
    }
    return { ...q, value };
  }

  private oneQuantity(): Quantity | null {
    const match =
      /^\s*(?:(\d+)\s+(\d+)\/(\d+)|(\d+)\/(\d+)(?![\d.])|(\d+\.?\d*(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?))\s*/.exec(
        this.text.slice(this.at),
      );
    if (!match) return null;
    this.at += match[0].length;
    const [, whole, over, under, top, bottom, decimal] = match;
    const value =
      decimal !== undefined ? Number(decimal) : Number(whole ?? 0) + Number(over ?? top) / Number(under ?? bottom);
    if (this.takes(/^%\s*/)) return { value: value / 100, power: 0, share: true };
    const word = this.takes(/^(?:"|″|”|'|′|’|(?!x\s*[\d.(+-])[a-z]+)\s*/);
    if (word === null) return { value, power: 0, share: false };
    const unit = Object.hasOwn(unitWords, word) ? unitWords[word] : undefined;
    return unit ? { value: value * mmPerUnit[unit], power: 1, share: false } : null;
  }
}

/**
 * Reads a length as a maker types it: `42.5`, `1.75 m`, `15 1/2 in`, `5 ft 3 in`, `15.5 in x 400 %`, `(2 + 3) * 4 cm`,
 * `1.75 m : 6`. With `now`, also what is to be done to the length that stands there: `x4`, `400%`, `+5%`, `1:6`.
 *
 * @param fallback unit of a bare number
 * @param now the length that the field holds, mm
 * @returns mm, or null when it is no length
 */
export function parseLength(text: string, fallback: LengthUnit = 'mm', now?: number): number | null {
  const given = now === undefined ? null : { value: now, power: 1, share: false };
  const out = new Reader(plain(text), mmPerUnit[fallback]).read(given);
  if (out?.power === 1) return out.value;
  if (out?.power !== 0) return null;
  if (out.share) return given ? out.value * given.value : null;
  return out.value * mmPerUnit[fallback];
}

/**
 * Reads a factor: `x4`, `400%`, `+5%`, `1:6`, `0.5`, `3/4`, `62 in / 15.5 in`. A leading sign counts from the factor that
 * stands there, as it counts from the length that stands there in `parseLength`: `+5%` on 2 is 2.1.
 *
 * @param now the factor that the field holds; 1 where there is none
 * @returns null when it is none
 */
export function parseFactor(text: string, now = 1): number | null {
  const signed = /^\s*[-+\u2212]/.test(text);
  const out = new Reader(plain(text), 1).read({ value: signed ? now : 1, power: 0, share: false });
  return out?.power === 0 ? out.value : null;
}
