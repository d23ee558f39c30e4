import { promisify } from 'node:util';
import type { Readable } from 'node:stream';
import yauzl, { getFileNameLowLevel, type Entry, type ZipFile } from 'yauzl';
import { kitPath } from '@jasmorphe/core/kit/pieceNames';
import { MeshError } from '@jasmorphe/core/run/MeshError';

/** What an archive of a kit may hold. */
export interface KitLimits {
  entries: number;
  /** of one file, unpacked */
  fileBytes: number;
  /** of all, unpacked */
  bytes: number;
  /** unpacked over packed, looked at above 64 MiB: meshes pack to a twentieth at the best */
  ratio: number;
}

const kitLimits: KitLimits = { entries: 5000, fileBytes: 2 * 2 ** 30, bytes: 8 * 2 ** 30, ratio: 200 };

/** A file in an archive. */
export interface ArchiveEntry {
  /** fit to be shown and compared; nothing is ever written under it */
  path: string;
  bytes: number;
  /** why it cannot be read; null when it can */
  refused: string | null;
  open: () => Promise<Readable>;
}

const bad = (why: string, hint = 'The file is damaged or cut off. Fetch it again.'): MeshError =>
  new MeshError('bad-archive', why, hint);

const openZip = promisify<string, yauzl.Options, ZipFile>((path, options, done) => yauzl.open(path, options, done));

/** Unix marks a link by its mode, kept in the upper half of the attributes. */
const isLink = (e: Entry): boolean => ((e.externalFileAttributes >>> 16) & 0o170000) === 0o120000;

function refusalOf(e: Entry, limits: KitLimits): string | null {
  if ((e.generalPurposeBitFlag & 1) !== 0) return 'It is locked with a password.';
  if (e.compressionMethod !== 0 && e.compressionMethod !== 8)
    return `It is packed in a way that is not read here (method ${e.compressionMethod}).`;
  if (e.uncompressedSize > limits.fileBytes)
    return `It is larger than ${Math.round(limits.fileBytes / 2 ** 20)} MB unpacked.`;
  return null;
}

/**
 * Reads the list of a ZIP archive, whose sizes are held to what it says when entries are opened. Folders and links are left
 * out.
 *
 * @throws MeshError `bad-archive`, `archive-too-large`
 */
export async function openArchive(
  path: string,
  limits: KitLimits = kitLimits,
): Promise<{ entries: ArchiveEntry[]; close: () => void }> {
  let zip: ZipFile;
  try {
    // names are decoded here: a bad one must not take the others with it
    zip = await openZip(path, { lazyEntries: true, autoClose: false, decodeStrings: false, validateEntrySizes: true });
  } catch (error) {
    throw bad(`The archive cannot be read: ${(error as Error).message.replace(/^./, (c) => c.toLowerCase())}.`);
  }
  const entries: ArchiveEntry[] = [];
  try {
    if (zip.entryCount > limits.entries)
      throw new MeshError(
        'archive-too-large',
        `The archive has ${zip.entryCount} entries; more than ${limits.entries} are no kit.`,
        'Unpack it yourself and drop what you need.',
      );
    let packed = 0;
    let unpacked = 0;
    await new Promise<void>((resolve, reject) => {
      zip.on('error', (error: Error) => reject(bad(`The list of the archive cannot be read: ${error.message}.`)));
      zip.on('end', resolve);
      zip.on('entry', (e: Entry) => {
        const name = getFileNameLowLevel(
          e.generalPurposeBitFlag,
          e.fileName as unknown as Buffer,
          e.extraFields,
          false,
        );
        packed += e.compressedSize;
        unpacked += e.uncompressedSize;
        if (unpacked > limits.bytes || (unpacked > 2 ** 26 && unpacked > limits.ratio * packed)) {
          reject(
            new MeshError(
              'archive-too-large',
              unpacked > limits.bytes
                ? `The archive unpacks to more than ${Math.round(limits.bytes / 2 ** 30)} GB.`
                : `The archive unpacks to more than ${limits.ratio} times its size, which no kit does.`,
              'Unpack it yourself and drop the files, if you trust it.',
            ),
          );
          return;
        }
        if (!/[/\\]$/.test(name) && !isLink(e))
          entries.push({
            path: kitPath(name),
            bytes: e.uncompressedSize,
            refused: refusalOf(e, limits),
            open: () =>
              new Promise((done, fail) =>
                zip.openReadStream(e, (error, stream) =>
                  error ? fail(bad(`"${kitPath(name)}" cannot be unpacked: ${error.message}.`)) : done(stream),
                ),
              ),
          });
        zip.readEntry();
      });
      zip.readEntry();
    });
    return { entries: entries.filter((e) => e.path !== ''), close: () => zip.close() };
  } catch (error) {
    zip.close();
    throw error;
  }
}
