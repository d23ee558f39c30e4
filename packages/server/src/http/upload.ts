import busboy from 'busboy';
import type { Request } from 'express';
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { Transform, type Readable } from 'node:stream';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import type { BlobStore } from '../store/BlobStore.ts';
import { ApiError } from './ApiError.ts';

export interface Upload {
  hash: string;
  fileName: string;
  bytes: number;
  fields: Record<string, string>;
}

/**
 * Streams the one file of a multipart request to disk, hashing it on the way. Nothing stays unless it arrived whole.
 *
 * @throws ApiError when there is no file, more than one, too much of it, or the connection broke
 */
export async function receiveUpload(request: Request, blobs: BlobStore, limitBytes: number): Promise<Upload> {
  let parser: busboy.Busboy;
  try {
    parser = busboy({
      headers: request.headers,
      limits: { files: 1, fileSize: limitBytes, fields: 20, fieldSize: 10_000 },
      defParamCharset: 'utf8',
    });
  } catch {
    throw new ApiError(
      415,
      'bad-upload',
      'The request is not a multipart upload.',
      'Send the mesh as the field "file" of a multipart form.',
    );
  }
  const temporary = blobs.incomingPath();
  const fields: Record<string, string> = {};
  const hash = createHash('sha256');
  let bytes = 0;
  let fileName = '';
  let tooLarge = false;
  let writing: Promise<void> | undefined;
  let incoming: Readable | undefined;
  try {
    await new Promise<void>((resolve, reject) => {
      parser.on('field', (name, value) => (fields[name] = value));
      parser.on('filesLimit', () =>
        reject(new ApiError(400, 'bad-upload', 'More than one file was sent at once.', 'Send one file a request.')),
      );
      parser.on('file', (_field, stream, info) => {
        incoming = stream;
        fileName = safeFileName(info.filename ?? 'model');
        const count = new Transform({
          transform(chunk: Buffer, _encoding, done) {
            bytes += chunk.length;
            hash.update(chunk);
            done(null, chunk);
          },
        });
        stream.on('limit', () => (tooLarge = true));
        writing = pipeline(stream, count, createWriteStream(temporary, { flags: 'wx', flush: true }));
        writing.catch(reject);
      });
      const cutOff = () =>
        reject(
          new ApiError(
            400,
            'cut-off',
            `The upload was cut off after ${bytes} bytes.`,
            'Nothing was kept. Send it again.',
          ),
        );
      parser.on('error', cutOff);
      parser.on('close', () => resolve());
      request.on('aborted', cutOff);
      request.pipe(parser);
    });
    if (!writing)
      throw new ApiError(400, 'bad-upload', 'The upload holds no file.', 'Send the mesh as the field "file".');
    await writing;
    if (tooLarge)
      throw new ApiError(
        413,
        'too-large',
        `The file is larger than ${Math.round(limitBytes / 2 ** 20)} MB.`,
        'Simplify it where it was made, or raise the limit at start.',
      );
    const name = hash.digest('hex');
    await blobs.adopt('sources', name, temporary);
    return { hash: name, fileName, bytes, fields };
  } catch (error) {
    request.unpipe(parser);
    request.resume();
    incoming?.destroy();
    await writing?.catch(() => undefined);
    await rm(temporary, { force: true });
    throw error;
  }
}
