import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, mkdirSync } from 'node:fs';
import { open, readdir, readFile, rename, rm, stat, unlink, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { StoreError } from './troubles.ts';

export type BlobKind = 'meshes' | 'sources' | 'display';
/** Kinds that cannot be made again and are named by the SHA-256 of what they hold. */
export type KeptKind = 'meshes' | 'sources';

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException)?.code === 'ENOENT';

/** SHA-256 of a file, read piece by piece. */
export async function hashOfFile(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** Paths whose content was held against their names since this thread began, as they were then. */
const verified = new Map<string, string>();

/** Nothing is in a folder that is not there. */
function noFolder(error: unknown): string[] {
  if (!isMissing(error)) throw error;
  return [];
}

/** Changes when a file is written; null where there is none. */
const stampOf = (path: string): Promise<string | null> =>
  stat(path).then(
    ({ size, mtimeMs }) => `${size} ${mtimeMs}`,
    () => null,
  );

const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

/** Notes that a file holds what its name says. @throws StoreError where it does not */
function settle(path: string, kind: KeptKind, name: string, found: string | null, stamp: string | null): void {
  if (found !== name || stamp === null)
    throw new StoreError(found === null ? 'file-missing' : 'file-damaged', `${kind}/${name}`);
  verified.set(path, stamp);
}

/**
 * Files named by what they hold. A file is written under a temporary name, synced, and renamed, so that it is either
 * whole or not there; writing the same content twice does no harm. What nothing needs any more moves to the trash and
 * is fetched back from there when something needs it again.
 */
export class BlobStore {
  /** @param readOnly makes no folder and moves no file: what lies in the trash is read there */
  constructor(
    readonly root: string,
    private readonly readOnly = false,
  ) {
    if (readOnly) return;
    for (const kind of ['meshes', 'sources', 'display', 'incoming', 'trash/meshes', 'trash/sources', 'trash/damaged'])
      mkdirSync(join(root, kind), { recursive: true });
  }

  path(kind: BlobKind, name: string): string {
    if (!/^[a-z0-9-]{8,100}$/.test(name)) throw new Error(`not a blob name: ${name}`);
    return join(this.root, kind, name.slice(0, 2), name);
  }

  trashPath(kind: KeptKind, name: string): string {
    return join(this.root, 'trash', kind, name);
  }

  /** Where a file is read: in its place, or without moving it in the trash. */
  async placeOf(kind: KeptKind, name: string): Promise<string> {
    const inTrash = this.readOnly && !(await this.has(kind, name)) && (await isThere(this.trashPath(kind, name)));
    return inTrash ? this.trashPath(kind, name) : this.path(kind, name);
  }

  incomingPath(): string {
    return join(this.root, 'incoming', randomUUID());
  }

  async has(kind: BlobKind, name: string): Promise<boolean> {
    return isThere(this.path(kind, name));
  }

  /** True when the file is in its place, if need be by fetching it back from the trash. */
  async ensure(kind: KeptKind, name: string): Promise<boolean> {
    if (await this.has(kind, name)) return true;
    if (this.readOnly) return isThere(this.trashPath(kind, name));
    const path = this.path(kind, name);
    mkdirSync(dirname(path), { recursive: true });
    return rename(this.trashPath(kind, name), path).then(
      () => true,
      () => this.has(kind, name),
    );
  }

  /**
   * Holds the content of a file against its name, once a thread and for as long as nobody writes it.
   *
   * @throws StoreError when it is missing or damaged
   */
  async verify(kind: KeptKind, name: string): Promise<void> {
    const path = await this.placeOf(kind, name);
    const stamp = await stampOf(path);
    if (stamp !== null && verified.get(path) === stamp) return;
    const found = stamp === null ? null : await hashOfFile(path);
    settle(path, kind, name, found, stamp);
  }

  /**
   * What is wrong with a file: it is missing, or does not hold what its name says; null where nothing is. One that is damaged is
   * put aside, so that it is fetched from elsewhere or worked out anew.
   */
  async troubleWith(kind: KeptKind, name: string): Promise<'file-missing' | 'file-damaged' | null> {
    if (!(await this.ensure(kind, name))) return 'file-missing';
    try {
      await this.verify(kind, name);
      return null;
    } catch (error) {
      if (!(error instanceof StoreError)) throw error;
      if (error.trouble !== 'file-damaged') return 'file-missing';
      await this.putAside(kind, name);
      return 'file-damaged';
    }
  }

  /** Is a file in its place, and does it hold what its name says? See `troubleWith`. */
  async isSound(kind: KeptKind, name: string): Promise<boolean> {
    return (await this.troubleWith(kind, name)) === null;
  }

  /** Moves a file that is not what its name says out of the way; it is kept, for whoever wants to look at it. */
  async putAside(kind: KeptKind, name: string): Promise<void> {
    if (this.readOnly) return;
    await rename(this.path(kind, name), join(this.root, 'trash', 'damaged', name)).catch((error: unknown) => {
      // somebody else did so a moment ago
      if (!isMissing(error)) throw error;
    });
  }

  /** @throws StoreError when the file is missing, or when a first reading finds it damaged */
  async read(kind: KeptKind, name: string): Promise<Buffer> {
    const path = await this.placeOf(kind, name);
    const stamp = await stampOf(path);
    if (stamp === null) throw new StoreError('file-missing', `${kind}/${name}`);
    const bytes = await readFile(path);
    if (verified.get(path) !== stamp) settle(path, kind, name, createHash('sha256').update(bytes).digest('hex'), stamp);
    return bytes;
  }

  /** Writes bytes under their SHA-256 and returns it. */
  async put(kind: KeptKind, bytes: Uint8Array): Promise<string> {
    const hash = createHash('sha256').update(bytes).digest('hex');
    await this.write(kind, hash, bytes);
    return hash;
  }

  async write(kind: BlobKind, name: string, bytes: Uint8Array): Promise<void> {
    // what is written again is in use again: its date keeps a collector away
    if ((kind === 'display' || (await this.isSound(kind, name))) && (await this.touch(kind, name))) return;
    const temporary = this.incomingPath();
    const file = await open(temporary, 'wx');
    try {
      await file.writeFile(bytes);
      await file.sync();
    } catch (error) {
      await file.close();
      await unlink(temporary).catch(() => undefined);
      throw error;
    }
    await file.close();
    await this.adopt(kind, name, temporary);
  }

  private async touch(kind: BlobKind, name: string): Promise<boolean> {
    const now = new Date();
    const path = this.path(kind, name);
    try {
      await utimes(path, now, now);
    } catch {
      return false;
    }
    // its date alone is another
    const stamp = await stampOf(path);
    if (stamp !== null && verified.has(path)) verified.set(path, stamp);
    return true;
  }

  /** Moves a finished temporary file to its place. */
  async adopt(kind: BlobKind, name: string, temporary: string): Promise<void> {
    const path = this.path(kind, name);
    mkdirSync(dirname(path), { recursive: true });
    await rename(temporary, path);
  }

  /** Removes a file for good that came a moment ago and was refused. */
  async remove(kind: KeptKind, name: string): Promise<void> {
    await rm(this.path(kind, name), { force: true });
  }

  /** Removes what can be made again. */
  async removeDisplay(name: string): Promise<void> {
    await rm(this.path('display', name), { force: true });
  }

  /** Moves a file to the trash, where it stays as long as `emptyTrash` lets it. */
  async discard(kind: KeptKind, name: string): Promise<void> {
    const to = this.trashPath(kind, name);
    await rename(this.path(kind, name), to);
    const now = new Date();
    await utimes(to, now, now);
  }

  /** Names of all blobs of a kind with the time they were last written, ms. */
  async *list(kind: BlobKind): AsyncGenerator<{ name: string; writtenMs: number; bytes: number }> {
    for (const folder of await readdir(join(this.root, kind)).catch(noFolder))
      for (const name of await readdir(join(this.root, kind, folder)).catch(() => [])) {
        const found = await stat(join(this.root, kind, folder, name)).catch(() => null);
        if (found?.isFile()) yield { name, writtenMs: found.mtimeMs, bytes: found.size };
      }
  }

  async *listTrash(kind: KeptKind): AsyncGenerator<{ name: string; sinceMs: number; bytes: number }> {
    for (const name of await readdir(join(this.root, 'trash', kind))) {
      const found = await stat(this.trashPath(kind, name)).catch(() => null);
      if (found) yield { name, sinceMs: found.mtimeMs, bytes: found.size };
    }
  }

  /** Deletes what has been in the trash for longer than so many days. Returns how many files went. */
  async emptyTrash(kind: KeptKind, days: number): Promise<number> {
    let gone = 0;
    const before = Date.now() - days * 86_400_000;
    for await (const { name, sinceMs } of this.listTrash(kind))
      if (sinceMs <= before) {
        await rm(this.trashPath(kind, name), { force: true });
        gone++;
      }
    return gone;
  }

  /** Throws away what uploads or writes left half-done when the process died. */
  async clearIncoming(): Promise<void> {
    for (const name of await readdir(join(this.root, 'incoming')))
      await rm(join(this.root, 'incoming', name), { force: true });
  }
}
