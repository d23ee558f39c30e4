import { createReadStream } from 'node:fs';
import { readdir, readFile, stat } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import { basename, join } from 'node:path';
import { isArchive, isLitter, isMeshFile, isPack, kitPath } from '@jasmorphe/core/kit/pieceNames';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { filesOf, reasonOf } from '../files.ts';

/** Archives are opened as the server opens them; it is loaded for them alone. */
const opened = async (path: string) => (await import('@jasmorphe/server/kit/openArchive')).openArchive(path);

/** A mesh file of a kit, read when it is needed. */
export interface KitFile {
  /** as it is shown: its path within the kit */
  path: string;
  /** path on the disk; null within an archive */
  onDisk: string | null;
  hash: string;
  read: () => Promise<Uint8Array>;
}

export interface KitFiles {
  files: KitFile[];
  failed: { file: string; message: string }[];
}

async function* walk(folder: string, within: string): AsyncGenerator<{ path: string; onDisk: string }> {
  const entries = await readdir(folder, { withFileTypes: true });
  for (const e of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const onDisk = join(folder, e.name);
    const path = within === '' ? e.name : `${within}/${e.name}`;
    if (isLitter(path)) continue;
    if (e.isDirectory()) yield* walk(onDisk, path);
    else if (e.isFile()) yield { path, onDisk };
  }
}

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** Collects the mesh files of folders, archives and files; what cannot be read is listed. */
export async function kitFiles(given: readonly string[]): Promise<KitFiles> {
  const out: KitFiles = { files: [], failed: [] };
  const single = given.length === 1;
  for (const root of await filesOf(given)) {
    const found = await stat(root).catch((error: unknown) => {
      throw new MeshError('cannot', `"${root}" cannot be read: ${reasonOf(error)}.`, 'Check the path.');
    });
    if (!found.isDirectory()) await take(out, basename(root), root);
    else for await (const f of walk(root, single ? '' : basename(root))) await take(out, f.path, f.onDisk);
  }
  return out;
}

async function take(out: KitFiles, given: string, onDisk: string): Promise<void> {
  const path = kitPath(given);
  const refuse = (file: string, message: string) => void out.failed.push({ file, message });
  try {
    const { size } = await stat(onDisk);
    if (isArchive(path)) await takeArchive(out, path, onDisk);
    else if (!isMeshFile(path)) {
      // pictures and words beside the meshes are no failure of the kit
    } else if (size === 0) refuse(path, 'The file is empty.');
    else out.files.push({ path, onDisk, hash: await hashOf(onDisk), read: () => readFile(onDisk) });
  } catch (error) {
    refuse(path, isMeshError(error) ? `${error.message} ${error.hint}` : `It cannot be read: ${reasonOf(error)}.`);
  }
}

async function takeArchive(out: KitFiles, archivePath: string, onDisk: string): Promise<void> {
  const archive = await opened(onDisk);
  try {
    if (isPack(archive.entries.map((e) => e.path))) {
      out.failed.push({ file: archivePath, message: 'This is the pack of a whole project: unpack it.' });
      return;
    }
    for (const entry of archive.entries) {
      const { path } = entry;
      if (isLitter(path)) continue;
      const refuse = (message: string) => void out.failed.push({ file: path, message });
      if (isArchive(path)) refuse('An archive within an archive is not opened. Unpack it first.');
      else if (!isMeshFile(path)) continue;
      else if (entry.refused) refuse(entry.refused);
      else if (entry.bytes === 0) refuse('The file is empty.');
      else {
        const read = () => readEntry(onDisk, path);
        const hash = createHash('sha256');
        try {
          for await (const chunk of await entry.open()) hash.update(chunk as Buffer);
        } catch (error) {
          refuse(isMeshError(error) ? error.message : `It cannot be unpacked: ${(error as Error).message}.`);
          continue;
        }
        out.files.push({ path, onDisk: null, hash: hash.digest('hex'), read });
      }
    }
    if (archive.entries.length === 0) out.failed.push({ file: archivePath, message: 'The archive is empty.' });
  } finally {
    archive.close();
  }
}

async function readEntry(onDisk: string, path: string): Promise<Uint8Array> {
  const archive = await opened(onDisk);
  try {
    const entry = archive.entries.find((e) => e.path === path);
    if (!entry) throw new MeshError('bad-archive', `"${path}" is no longer in the archive.`, '');
    const chunks: Buffer[] = [];
    for await (const chunk of await entry.open()) chunks.push(chunk as Buffer);
    return Buffer.concat(chunks);
  } finally {
    archive.close();
  }
}
