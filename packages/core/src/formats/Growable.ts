/** Float32 numbers pushed one after another into a buffer that doubles. */
export class GrowableFloats {
  data: Float32Array;
  length = 0;

  constructor(capacity = 3072) {
    this.data = new Float32Array(capacity);
  }

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) {
      const grown = new Float32Array(this.data.length * 2);
      grown.set(this.data);
      this.data = grown;
    }
    this.data[this.length++] = a;
    this.data[this.length++] = b;
    this.data[this.length++] = c;
  }
}

/** Unsigned 32-bit numbers pushed in threes into a buffer that doubles. */
export class GrowableIndices {
  data: Uint32Array;
  length = 0;

  constructor(capacity = 3072) {
    this.data = new Uint32Array(capacity);
  }

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) {
      const grown = new Uint32Array(this.data.length * 2);
      grown.set(this.data);
      this.data = grown;
    }
    this.data[this.length++] = a;
    this.data[this.length++] = b;
    this.data[this.length++] = c;
  }
}
