/** Of the end of an archive with its longest remark, bytes. */
const mostEndBytes = 22 + 0xffff + 20;
/** Larger lists are not read to see what an archive is, bytes. */
const mostListBytes = 64 * 2 ** 20;

const viewOf = async (blob: Blob, from: number, to: number): Promise<DataView> =>
  new DataView(await blob.slice(Math.max(0, from), to).arrayBuffer());

/** Where the list of an archive begins and how long it is; null where there is none. */
async function listAt(blob: Blob): Promise<{ from: number; bytes: number } | null> {
  const startsAt = Math.max(0, blob.size - mostEndBytes);
  const end = await viewOf(blob, startsAt, blob.size);
  for (let i = end.byteLength - 22; i >= 0; i--) {
    if (end.getUint32(i, true) !== 0x06054b50) continue;
    const [bytes, from] = [end.getUint32(i + 12, true), end.getUint32(i + 16, true)];
    if (from !== 0xffffffff && bytes !== 0xffffffff) return { from, bytes };
    // large archives say it elsewhere, and before this where that is
    if (i < 20 || end.getUint32(i - 20, true) !== 0x07064b50) return null;
    const large = await viewOf(blob, Number(end.getBigUint64(i - 12, true)), blob.size);
    if (large.byteLength < 56 || large.getUint32(0, true) !== 0x06064b50) return null;
    return { from: Number(large.getBigUint64(48, true)), bytes: Number(large.getBigUint64(40, true)) };
  }
  return null;
}

/**
 * Names in a ZIP archive, read from its list alone (PKWARE, .ZIP File Format Specification 6.3, sections 4.3.12 to 4.3.16);
 * none where it is no archive.
 */
export async function zipNames(blob: Blob): Promise<string[]> {
  const at = await listAt(blob);
  if (at === null || at.bytes > mostListBytes) return [];
  const list = await viewOf(blob, at.from, at.from + at.bytes);
  const names: string[] = [];
  for (let i = 0; i + 46 <= list.byteLength && list.getUint32(i, true) === 0x02014b50;) {
    const [name, extra, remark] = [28, 30, 32].map((k) => list.getUint16(i + k, true));
    const ends = Math.min(i + 46 + name, list.byteLength);
    names.push(new TextDecoder().decode(new Uint8Array(list.buffer, i + 46, ends - i - 46)));
    i += 46 + name + extra + remark;
  }
  return names;
}
