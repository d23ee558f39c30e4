import { createHash } from 'node:crypto';
import { Transform, type Readable } from 'node:stream';
import { isArchive, isLitter, isMeshFile, isPack, kitPath } from '@jasmorphe/core/kit/pieceNames';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import type { Staged } from '../store/Arrivals.ts';
import type { BlobStore } from '../store/BlobStore.ts';
import { writeNew } from '../store/writeNew.ts';
import { openArchive, type KitLimits } from './openArchive.ts';

/** A file of a drop, by itself or out of an archive, under a temporary name. */
export interface StagedFile extends Staged {
  path: string;
}

/** What a drop came to. */
export interface Gathered {
  meshes: StagedFile[];
  /** pictures and words that lay beside them */
  photos: StagedFile[];
  notes: StagedFile[];
  refused: { file: string; message: string }[];
}

const isPhoto = (path: string): boolean => /\.(jpe?g|png|webp)$/i.test(path);
const isNote = (path: string): boolean => /\.(txt|md)$/i.test(path);

/** Longer words are no note, bytes. */
const mostNoteBytes = 20_000;
/** Larger pictures are not kept, bytes. */
export const mostPhotoBytes = 30 * 2 ** 20;

/** Writes what a stream gives under a temporary name, with its hash; nothing is left where that fails. */
export async function stage(blobs: BlobStore, stream: Readable): Promise<Staged> {
  const temporary = blobs.incomingPath();
  const hash = createHash('sha256');
  let bytes = 0;
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      hash.update(chunk);
      done(null, chunk);
    },
  });
  await writeNew(temporary, stream, count);
  return { hash: hash.digest('hex'), bytes, temporary };
}

/**
 * Sorts the files of a drop: archives are opened, meshes, pictures and words are told apart, and what is none of them is
 * listed with why. Files are unpacked one after another, so that memory does not grow with the kit; none is put to its place yet.
 *
 * @param unpacked filled with where files out of archives lie: whoever calls removes what was not taken, whatever happens
 */
export async function gatherKit(
  blobs: BlobStore,
  files: readonly StagedFile[],
  unpacked: string[],
  limits?: KitLimits,
): Promise<Gathered> {
  const out: Gathered = { meshes: [], photos: [], notes: [], refused: [] };
  const sort = (file: StagedFile): void => {
    const { path, bytes } = file;
    const refused =
      bytes === 0
        ? 'The file is empty.'
        : isPhoto(path) && bytes > mostPhotoBytes
          ? 'The picture is larger than 30 MB.'
          : isNote(path) && bytes > mostNoteBytes
            ? 'The text is longer than a note may be.'
            : isArchive(path)
              ? 'An archive within an archive is not opened. Unpack it and drop what is in it.'
              : isMeshFile(path) || isPhoto(path) || isNote(path)
                ? null
                : 'It is neither a mesh (STL, OBJ, PLY, 3MF), a picture nor a text.';
    if (refused !== null) out.refused.push({ file: path, message: refused });
    else if (isMeshFile(path)) out.meshes.push(file);
    else if (isPhoto(path)) out.photos.push(file);
    else out.notes.push(file);
  };
  for (const given of files) {
    const file: StagedFile = { ...given, path: kitPath(given.path) || 'file' };
    if (isLitter(file.path)) continue;
    if (!isArchive(file.path) || file.bytes === 0) {
      sort(file);
      continue;
    }
    let archive: Awaited<ReturnType<typeof openArchive>>;
    try {
      archive = await openArchive(file.temporary, limits);
    } catch (error) {
      if (!isMeshError(error)) throw error;
      out.refused.push({ file: file.path, message: `${error.message} ${error.hint}` });
      continue;
    }
    try {
      if (archive.entries.length === 0) out.refused.push({ file: file.path, message: 'The archive is empty.' });
      if (isPack(archive.entries.map((e) => e.path))) {
        out.refused.push({ file: file.path, message: 'This is the pack of a whole project: drop it on the shelf.' });
        continue;
      }
      for (const entry of archive.entries) {
        if (isLitter(entry.path)) continue;
        const { path } = entry;
        const known = isMeshFile(path) || isPhoto(path) || isNote(path);
        if (entry.refused) out.refused.push({ file: path, message: entry.refused });
        else if (!known || entry.bytes === 0) sort({ path, hash: '', bytes: entry.bytes, temporary: '' });
        else
          try {
            const staged = await stage(blobs, await entry.open());
            unpacked.push(staged.temporary);
            sort({ path, ...staged });
          } catch (error) {
            // a full disk is no fault of the file
            if ((error as NodeJS.ErrnoException).code?.startsWith('E')) throw error;
            out.refused.push({
              file: path,
              message: isMeshError(error) ? error.message : `It cannot be unpacked: ${(error as Error).message}.`,
            });
          }
      }
    } finally {
      archive.close();
    }
  }
  return out;
}

/** The folder that all paths of a kit lie in says nothing of any of them. */
export function withoutCommonFolder<F extends { path: string }>(files: readonly F[]): F[] {
  const first = files[0]?.path.split('/') ?? [];
  let depth = 0;
  while (
    depth < first.length - 1 &&
    files.every((f) => f.path.split('/')[depth] === first[depth] && f.path.split('/').length > depth + 1)
  )
    depth++;
  return depth === 0 ? [...files] : files.map((f) => ({ ...f, path: f.path.split('/').slice(depth).join('/') }));
}
