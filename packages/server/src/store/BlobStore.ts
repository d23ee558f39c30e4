import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, mkdirSync } from 'node:fs';
import { open, readdir, readFile, rename, rm, stat, unlink, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { StoreError } from './troubles.ts';

export type BlobKind = 'meshes' | 'sources' | 'display';
/** Kinds that cannot be made again and are named by the SHA-256 of what they hold. */
export type KeptKind = 'meshes' | 'sources';

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException)?.code === 'ENOENT';

/** Paths whose content was held against their names since this thread began. */
const verified = new Set<string>();

/**
 * Files named by what they hold. A file is written under a temporary name, synced, and renamed, so that it is either
 * whole or not there; writing the same content twice does no harm. What nothing needs any more moves to the trash and
 * is fetched back from there when something needs it again.
 */
export class BlobStore {
  constructor(readonly root: string) {
    for (const kind of ['meshes', 'sources', 'display', 'incoming', 'trash/meshes', 'trash/sources'])
      mkdirSync(join(root, kind), { recursive: true });
  }

  path(kind: BlobKind, name: string): string {
    if (!/^[a-z0-9-]{8,100}$/.test(name)) throw new Error(`not a blob name: ${name}`);
    return join(this.root, kind, name.slice(0, 2), name);
  }

  trashPath(kind: KeptKind, name: string): string {
    return join(this.root, 'trash', kind, name);
  }

  incomingPath(): string {
    return join(this.root, 'incoming', randomUUID());
  }

  async has(kind: BlobKind, name: string): Promise<boolean> {
    return stat(this.path(kind, name)).then(
      () => true,
      () => false,
    );
  }

  /** True when the file is in its place, if need be by fetching it back from the trash. */
  async ensure(kind: KeptKind, name: string): Promise<boolean> {
    if (await this.has(kind, name)) return true;
    const path = this.path(kind, name);
    mkdirSync(dirname(path), { recursive: true });
    return rename(this.trashPath(kind, name), path).then(
      () => true,
      () => this.has(kind, name),
    );
  }

  /**
   * Holds the content of a file against its name, once a thread.
   *
   * @throws StoreError when it is missing or damaged
   */
  async verify(kind: KeptKind, name: string): Promise<void> {
    if (verified.has(this.path(kind, name))) return;
    const hash = createHash('sha256');
    try {
      for await (const chunk of createReadStream(this.path(kind, name))) hash.update(chunk as Buffer);
    } catch (error) {
      throw isMissing(error) ? new StoreError('file-missing', `${kind}/${name}`) : error;
    }
    this.settle(kind, name, hash.digest('hex'));
  }

  /** @throws StoreError when the file is missing, or when a first reading finds it damaged */
  async read(kind: KeptKind, name: string): Promise<Buffer> {
    let bytes: Buffer;
    try {
      bytes = await readFile(this.path(kind, name));
    } catch (error) {
      throw isMissing(error) ? new StoreError('file-missing', `${kind}/${name}`) : error;
    }
    if (!verified.has(this.path(kind, name))) this.settle(kind, name, createHash('sha256').update(bytes).digest('hex'));
    return bytes;
  }

  private settle(kind: KeptKind, name: string, found: string): void {
    if (found !== name) throw new StoreError('file-damaged', `${kind}/${name}`);
    verified.add(this.path(kind, name));
  }

  /** Writes bytes under their SHA-256 and returns it. */
  async put(kind: KeptKind, bytes: Uint8Array): Promise<string> {
    const hash = createHash('sha256').update(bytes).digest('hex');
    await this.write(kind, hash, bytes);
    return hash;
  }

  async write(kind: BlobKind, name: string, bytes: Uint8Array): Promise<void> {
    // what is written again is in use again: its date keeps a collector away
    if (await this.touch(kind, name)) return;
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
    return utimes(this.path(kind, name), now, now).then(
      () => true,
      () => false,
    );
  }

  /** Moves a finished temporary file to its place. */
  async adopt(kind: BlobKind, name: string, temporary: string): Promise<void> {
    const path = this.path(kind, name);
    mkdirSync(dirname(path), { recursive: true });
    await rename(temporary, path);
    verified.delete(path);
  }

  /** Removes what can be made again. */
  async removeDisplay(name: string): Promise<void> {
    await rm(this.path('display', name), { force: true });
  }

  /** Moves a file to the trash, where it stays as long as `emptyTrash` lets it. */
  async discard(kind: KeptKind, name: string): Promise<void> {
    const to = this.trashPath(kind, name);
    await rename(this.path(kind, name), to);
    verified.delete(this.path(kind, name));
    const now = new Date();
    await utimes(to, now, now);
  }

  /** Names of all blobs of a kind with the time they were last written, ms. */
  async *list(kind: BlobKind): AsyncGenerator<{ name: string; writtenMs: number; bytes: number }> {
    for (const folder of await readdir(join(this.root, kind)))
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
