/** Numbers pushed one after another into a buffer that doubles. */
class Growable<A extends Float32Array | Uint32Array> {
  length = 0;

  constructor(public data: A) {}

  push(a: number): void {
    if (this.length + 1 > this.data.length) this.grow();
    this.data[this.length++] = a;
  }

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) this.grow();
    this.data[this.length++] = a;
    this.data[this.length++] = b;
    this.data[this.length++] = c;
  }

  push4(a: number, b: number, c: number, d: number): void {
    if (this.length + 4 > this.data.length) this.grow();
    this.data[this.length++] = a;
    this.data[this.length++] = b;
    this.data[this.length++] = c;
    this.data[this.length++] = d;
  }

  /** What was pushed so far, as an array of its own. */
  taken(): A {
    return this.data.slice(0, this.length) as A;
  }

  private grow(): void {
    const grown = new (this.data.constructor as new (n: number) => A)(2 * this.data.length + 4);
    grown.set(this.data);
    this.data = grown;
  }
}

export class GrowableFloats extends Growable<Float32Array<ArrayBuffer>> {
  constructor(capacity = 3072) {
    super(new Float32Array(capacity));
  }
}

export class GrowableIndices extends Growable<Uint32Array<ArrayBuffer>> {
  constructor(capacity = 3072) {
    super(new Uint32Array(capacity));
  }
}
