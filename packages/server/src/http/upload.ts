import busboy from 'busboy';
import type { Request } from 'express';
import { createHash } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { Transform, type Readable } from 'node:stream';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import type { Services } from '../Services.ts';
import type { Staged, Take } from '../store/Arrivals.ts';
import type { BlobStore } from '../store/BlobStore.ts';
import { writeNew } from '../store/writeNew.ts';
import { ApiError } from './ApiError.ts';

/** A file of an upload, under a temporary name. */
export interface Arrived extends Staged {
  /** as the sender named it, folders and all */
  path: string;
}

/** What came with a request, and what puts a file of it to its place. */
export interface Upload {
  files: Arrived[];
  fields: Record<string, string>;
  take: Take;
}

/** The name of a file without its folders, fit to be kept. */
export const fileNameOf = ({ path }: Arrived): string =>
  safeFileName(path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1));

/**
 * Receives files, and does with them what is asked for. What is not taken is gone when the answer is given, and so is what was
 * taken where it is refused after all.
 *
 * @param most files at once
 * @throws ApiError as of `receiveUploads`
 */
export async function withUpload<T>(
  request: Request,
  { blobs, library }: Pick<Services, 'blobs' | 'library'>,
  { limitBytes, most }: { limitBytes: number; most: number },
  work: (upload: Upload) => Promise<T>,
): Promise<T> {
  const { files, fields } = await receiveUploads(request, blobs, limitBytes, most);
  try {
    return await library.arrivals.taking((take) => work({ files, fields, take }));
  } finally {
    for (const { temporary } of files) await rm(temporary, { force: true });
  }
}

/** A file on its way to the disk. */
interface Incoming {
  path: string;
  temporary: string;
  stream: Readable;
  hash: ReturnType<typeof createHash>;
  bytes: number;
  tooLarge: boolean;
  written: Promise<void>;
}

/**
 * Streams the files of a multipart request to disk, hashing them on the way. Nothing stays unless all arrived whole; then
 * they lie under temporary names.
 *
 * @param most files at once
 * @throws ApiError when there is no file, more than so many, too much of one, or the connection broke
 */
async function receiveUploads(
  request: Request,
  blobs: BlobStore,
  limitBytes: number,
  most: number,
): Promise<{ files: Arrived[]; fields: Record<string, string> }> {
  let parser: busboy.Busboy;
  try {
    parser = busboy({
      headers: request.headers,
      limits: { files: most, fileSize: limitBytes, fields: 20, fieldSize: 10_000 },
      defParamCharset: 'utf8',
      preservePath: true,
    });
  } catch {
    throw new ApiError(
      415,
      'bad-upload',
      'The request is not a multipart upload.',
      'Send the mesh as the field "file" of a multipart form.',
    );
  }
  const fields: Record<string, string> = {};
  const incoming: Incoming[] = [];
  try {
    await new Promise<void>((resolve, reject) => {
      parser.on('field', (name, value) => (fields[name] = value));
      parser.on('filesLimit', () =>
        reject(
          most === 1
            ? new ApiError(400, 'bad-upload', 'More than one file was sent at once.', 'Send one file a request.')
            : new ApiError(400, 'bad-upload', `More than ${most} files were sent at once.`, 'Pack them as a ZIP.'),
        ),
      );
      parser.on('file', (_field, stream, info) => {
        const file: Incoming = {
          path: info.filename ?? 'model',
          temporary: blobs.incomingPath(),
          stream,
          hash: createHash('sha256'),
          bytes: 0,
          tooLarge: false,
          written: Promise.resolve(),
        };
        const count = new Transform({
          transform(chunk: Buffer, _encoding, done) {
            file.bytes += chunk.length;
            file.hash.update(chunk);
            done(null, chunk);
          },
        });
        stream.on('limit', () => (file.tooLarge = true));
        file.written = writeNew(file.temporary, stream, count);
        file.written.catch(reject);
        incoming.push(file);
      });
      const cutOff = () =>
        reject(
          new ApiError(
            400,
            'cut-off',
            `The upload was cut off after ${incoming.reduce((n, f) => n + f.bytes, 0)} bytes.`,
            'Nothing was kept. Send it again.',
          ),
        );
      parser.on('error', cutOff);
      parser.on('close', () => resolve());
      request.on('aborted', cutOff);
      request.pipe(parser);
    });
    if (incoming.length === 0)
      throw new ApiError(400, 'bad-upload', 'The upload holds no file.', 'Send the mesh as the field "file".');
    await Promise.all(incoming.map((f) => f.written));
    const large = incoming.find((f) => f.tooLarge);
    if (large)
      throw new ApiError(
        413,
        'too-large',
        `${most === 1 ? 'The file' : large.path} is larger than ${Math.round(limitBytes / 2 ** 20)} MB.`,
        'Simplify it where it was made, or raise the limit at start.',
      );
    return {
      files: incoming.map(({ path, bytes, hash, temporary }) => ({ path, bytes, temporary, hash: hash.digest('hex') })),
      fields,
    };
  } catch (error) {
    request.unpipe(parser);
    request.resume();
    for (const f of incoming) {
      f.stream.destroy();
      await f.written.catch(() => undefined);
      await rm(f.temporary, { force: true });
    }
    throw error;
  }
}
