/** Mixes the bits of a 32-bit number. */
export const scatter = (x: number): number => {
  x = Math.imul(x ^ (x >>> 16), 0x45d9f3b);
  x = Math.imul(x ^ (x >>> 16), 0x45d9f3b);
  return x ^ (x >>> 16);
};

const slotFor = (a: number, b: number, c: number): number => scatter(a ^ scatter(b ^ scatter(c)));

/** Numbers points by their exact coordinates, -0 being 0: open addressing over the three 32-bit patterns. */
export class PointTable {
  /** number + 1 of the point in each slot, 0 where there is none */
  private slots: Int32Array;
  private bits: Uint32Array;
  private count = 0;
  private readonly point = new Float32Array(3);
  private readonly pattern = new Uint32Array(this.point.buffer);

  /** @param expected about how many points there will be */
  constructor(expected: number) {
    let size = 1 << 10;
    while (size < 1.5 * expected) size *= 2;
    this.slots = new Int32Array(size);
    this.bits = new Uint32Array(3 * Math.max(16, expected));
  }

  /** Number of point i of `positions`, a new one if it was not met before. Numbers count up from 0. */
  add(positions: Float32Array, i: number): number {
    const slot = this.slotOf(positions, i);
    const known = this.slots[slot];
    if (known > 0) return known - 1;
    if (3 * this.count + 3 > this.bits.length) {
      const more = new Uint32Array(2 * this.bits.length);
      more.set(this.bits);
      this.bits = more;
    }
    this.bits.set(this.pattern, 3 * this.count);
    this.slots[slot] = ++this.count;
    if (3 * this.count > 2 * this.slots.length) this.widen();
    return this.count - 1;
  }

  /** Number of point i of `positions`, or -1. */
  find(positions: Float32Array, i: number): number {
    return this.slots[this.slotOf(positions, i)] - 1;
  }

  /** x, y, z of the points by number. */
  positions(): Float32Array {
    return new Float32Array(this.bits.slice(0, 3 * this.count).buffer);
  }

  private slotOf(positions: Float32Array, i: number): number {
    const { point, pattern, slots, bits } = this;
    point[0] = positions[3 * i] + 0;
    point[1] = positions[3 * i + 1] + 0;
    point[2] = positions[3 * i + 2] + 0;
    const a = pattern[0];
    const b = pattern[1];
    const c = pattern[2];
    const mask = slots.length - 1;
    let slot = slotFor(a, b, c) & mask;
    for (let id = slots[slot]; id > 0; id = slots[slot]) {
      const j = 3 * id - 3;
      if (bits[j] === a && bits[j + 1] === b && bits[j + 2] === c) break;
      slot = (slot + 1) & mask;
    }
    return slot;
  }

  private widen(): void {
    const { bits } = this;
    const slots = new Int32Array(2 * this.slots.length);
    const mask = slots.length - 1;
    for (let id = 1; id <= this.count; id++) {
      let slot = slotFor(bits[3 * id - 3], bits[3 * id - 2], bits[3 * id - 1]) & mask;
      while (slots[slot] > 0) slot = (slot + 1) & mask;
      slots[slot] = id;
    }
    this.slots = slots;
  }
}
