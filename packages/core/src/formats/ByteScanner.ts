const powers = Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));
const decoder = new TextDecoder('latin1');

/**
 * Walks over the words of a text file as bytes, without ever making a string of a whole line, so that lines may be
 * of any length. Blanks are everything up to and with the space character; a line ends at \n, \r or \r\n.
 */
export class ByteScanner {
  at = 0;
  line = 1;
  /** first and past-the-last byte of the word last found */
  from = 0;
  to = 0;

  constructor(readonly bytes: Uint8Array) {}

  get done(): boolean {
    return this.at >= this.bytes.length;
  }

  /** Finds the next word on this line. False at the end of the line or file. A backslash at the end joins lines. */
  word(): boolean {
    const { bytes } = this;
    let i = this.at;
    for (; i < bytes.length; i++) {
      const c = bytes[i];
      if (c === 10 || c === 13) break;
      if (c === 92 && (bytes[i + 1] === 10 || bytes[i + 1] === 13)) {
        i += bytes[i + 1] === 13 && bytes[i + 2] === 10 ? 2 : 1;
        this.line++;
        continue;
      }
      if (c > 32) {
        const from = i;
        while (i < bytes.length && bytes[i] > 32) i++;
        this.from = from;
        this.to = i;
        this.at = i;
        return true;
      }
    }
    this.at = i;
    return false;
  }

  /** Finds the next word, over line ends. */
  wordAcross(): boolean {
    while (!this.word()) {
      if (this.done) return false;
      this.nextLine();
    }
    return true;
  }

  /** Moves past the end of this line. */
  nextLine(): void {
    const { bytes } = this;
    let i = this.at;
    while (i < bytes.length && bytes[i] !== 10 && bytes[i] !== 13) i++;
    if (bytes[i] === 13 && bytes[i + 1] === 10) i++;
    this.at = i + 1;
    this.line++;
  }

  text(): string {
    return decoder.decode(this.bytes.subarray(this.from, this.to));
  }

  /** Is the word last found this one? Letters are compared without case; `lower` must be in lower case. */
  is(lower: string): boolean {
    if (this.to - this.from !== lower.length) return false;
    for (let i = 0; i < lower.length; i++) {
      let c = this.bytes[this.from + i];
      if (c >= 65 && c <= 90) c += 32;
      if (c !== lower.charCodeAt(i)) return false;
    }
    return true;
  }

  /**
   * The word last found as a number, or NaN. Up to 15 digits and a small exponent take the exact fast path of Clinger
   * (1990); the rest goes to the language's own parser.
   */
  number(): number {
    const { bytes, to } = this;
    let i = this.from;
    let negative = false;
    if (bytes[i] === 45 || bytes[i] === 43) negative = bytes[i++] === 45;
    let mantissa = 0;
    let digits = 0;
    let exponent = 0;
    const start = i;
    for (; i < to && bytes[i] >= 48 && bytes[i] <= 57; i++) {
      mantissa = mantissa * 10 + bytes[i] - 48;
      digits++;
    }
    if (bytes[i] === 46 && i < to) {
      i++;
      for (; i < to && bytes[i] >= 48 && bytes[i] <= 57; i++) {
        mantissa = mantissa * 10 + bytes[i] - 48;
        digits++;
        exponent--;
      }
    }
    if (digits === 0 || i === start) return NaN;
    if (i < to && (bytes[i] | 32) === 101) {
      let e = 0;
      let down = false;
      i++;
      if (bytes[i] === 45 || bytes[i] === 43) down = bytes[i++] === 45;
      const first = i;
      for (; i < to && bytes[i] >= 48 && bytes[i] <= 57; i++) e = e * 10 + bytes[i] - 48;
      if (i === first) return NaN;
      exponent += down ? -e : e;
    }
    if (i !== to) return NaN;
    if (digits > 15 || exponent < -22 || exponent > 22) return Number(this.text());
    const value = exponent < 0 ? mantissa / powers[-exponent] : mantissa * powers[exponent];
    return negative ? -value : value;
  }
}
