import { inflateSync } from 'node:zlib';

/** Bytes of the heads of both formats, and of what they tell of each table. */
const woff = { signature: 0x774f4646, head: 44, entry: 20 };
const sfnt = { head: 12, entry: 16 };

/**
 * The TrueType or OpenType font that a WOFF file packs (W3C, WOFF File Format 1.0, 2012). Readers of fonts unpack each table by
 * themselves, in JavaScript and anew for every document, which took more than half of the time of a book.
 *
 * @throws Error where it is no WOFF file
 */
export function unpackWoff(file: Buffer): Buffer {
  if (file.readUInt32BE(0) !== woff.signature) throw new Error('This is no WOFF file.');
  const count = file.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = woff.head + woff.entry * i;
    const [offset, packed, length] = [4, 8, 12].map((k) => file.readUInt32BE(at + k));
    const bytes = file.subarray(offset, offset + packed);
    // what would not have become smaller stands there as it is
    const table = packed < length ? inflateSync(bytes) : bytes;
    return { tag: file.subarray(at, at + 4), sum: file.readUInt32BE(at + 16), table };
  });
  const size = tables.reduce((n, { table }) => n + padded(table.length), sfnt.head + sfnt.entry * count);
  const font = Buffer.alloc(size);
  file.copy(font, 0, 4, 8);
  // for a search by halves: the largest power of two that is no more than the count, in entries, and what is left of them
  const halvings = Math.floor(Math.log2(count));
  const range = sfnt.entry * 2 ** halvings;
  for (const [k, value] of [count, range, halvings, sfnt.entry * count - range].entries())
    font.writeUInt16BE(value, 4 + 2 * k);
  let end = sfnt.head + sfnt.entry * count;
  for (const [i, { tag, sum, table }] of tables.entries()) {
    const at = sfnt.head + sfnt.entry * i;
    tag.copy(font, at);
    font.writeUInt32BE(sum, at + 4);
    font.writeUInt32BE(end, at + 8);
    font.writeUInt32BE(table.length, at + 12);
    table.copy(font, end);
    end += padded(table.length);
  }
  return font;
}

/** Tables begin at multiples of four bytes. */
const padded = (length: number): number => Math.ceil(length / 4) * 4;
