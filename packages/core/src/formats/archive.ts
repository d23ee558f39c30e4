import { Unzip, UnzipInflate, zipSync } from 'fflate';
import { MeshError } from '../run/MeshError.ts';

/** What an archive may unpack to. */
export interface ArchiveLimits {
  entries: number;
  bytes: number;
  /** unpacked over packed, looked at once 4 MiB have been unpacked; meshes as XML pack to a tenth or so */
  ratio: number;
}

const archiveLimits: ArchiveLimits = { entries: 2000, bytes: 2 ** 30, ratio: 60 };

/**
 * Unpacks the entries of a ZIP archive that `wanted` picks, counting bytes as they come out, so that an archive
 * which lies about its sizes stops at the limit all the same. Names are only looked up, never written to disk.
 *
 * @throws MeshError `archive-too-large`, `bad-archive`
 */
export function readArchive(
  bytes: Uint8Array,
  wanted: (name: string) => boolean,
  limits = archiveLimits,
): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>();
  let entries = 0;
  let unpacked = 0;
  // thrown once the unpacker has returned: it would take an error of ours for one of its own
  let stop: MeshError | undefined;
  const tooLarge = (what: string) =>
    new MeshError(
      'archive-too-large',
      `The archive ${what}.`,
      'Unpack it yourself and import the model inside, if you trust it.',
    );
  const unzip = new Unzip((file) => {
    if (++entries > limits.entries) stop ??= tooLarge(`has more than ${limits.entries} entries`);
    if (stop) return;
    const name = file.name.replace(/\\/g, '/').replace(/^\/+/, '');
    if (!wanted(name)) return;
    // stored or deflated, as nearly every archive is
    if (file.compression !== 0 && file.compression !== 8) {
      stop ??= new MeshError(
        'bad-archive',
        `The entry "${name}" is packed in a way that is not read here (method ${file.compression}).`,
        'Pack the archive again as a plain ZIP, or import the model inside.',
      );
      return;
    }
    const chunks: Uint8Array[] = [];
    let size = 0;
    file.ondata = (error, chunk, final) => {
      if (stop) return;
      if (error) {
        stop = new MeshError(
          'bad-archive',
          `The entry "${name}" of the archive cannot be unpacked: ${error.message}.`,
          'The file is damaged or cut off. Fetch it again.',
        );
        return;
      }
      size += chunk.length;
      unpacked += chunk.length;
      if (unpacked > limits.bytes) stop = tooLarge(`unpacks to more than ${Math.round(limits.bytes / 2 ** 20)} MB`);
      else if (unpacked > 2 ** 22 && unpacked > limits.ratio * bytes.length)
        stop = tooLarge(`unpacks to more than ${limits.ratio} times its size, which no model does`);
      if (stop) return;
      chunks.push(chunk);
      if (!final) return;
      const whole = new Uint8Array(size);
      let at = 0;
      for (const c of chunks) {
        whole.set(c, at);
        at += c.length;
      }
      files.set(name, whole);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  // small bites: what a bite unpacks to is in memory before it can be counted
  const step = 1 << 14;
  try {
    for (let at = 0; at < bytes.length && !stop; at += step)
      unzip.push(bytes.subarray(at, Math.min(at + step, bytes.length)), at + step >= bytes.length);
  } catch (error) {
    if (error instanceof MeshError) throw error;
    throw new MeshError(
      'bad-archive',
      `The archive cannot be unpacked: ${error instanceof Error ? error.message : String(error)}.`,
      'The file is damaged or cut off. Fetch it again.',
    );
  }
  if (stop) throw stop;
  if (entries === 0)
    throw new MeshError(
      'bad-archive',
      'The file begins like an archive but has no entries.',
      'The file is damaged or cut off. Fetch it again.',
    );
  return files;
}

/** A ZIP archive of the files given, with a fixed date so that the same files give the same bytes. */
export function writeArchive(files: Record<string, Uint8Array>): Uint8Array {
  const dated: Record<string, [Uint8Array, { mtime: Date; level: 6 }]> = {};
  for (const [name, bytes] of Object.entries(files)) dated[name] = [bytes, { mtime: new Date(1980, 0, 2), level: 6 }];
  return zipSync(dated);
}
