import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { open, readdir, readFile, rename, rm, stat, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';

export type BlobKind = 'meshes' | 'sources' | 'display';

/**
 * Files named by what they hold. A file is written under a temporary name, synced, and renamed, so that it is either
 * whole or not there; writing the same content twice does no harm.
 */
export class BlobStore {
  constructor(readonly root: string) {
    for (const kind of ['meshes', 'sources', 'display', 'incoming']) mkdirSync(join(root, kind), { recursive: true });
  }

  path(kind: BlobKind, name: string): string {
    if (!/^[a-z0-9-]{8,100}$/.test(name)) throw new Error(`not a blob name: ${name}`);
    return join(this.root, kind, name.slice(0, 2), name);
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

  read(kind: BlobKind, name: string): Promise<Buffer> {
    return readFile(this.path(kind, name));
  }

  /** Writes bytes under their SHA-256 and returns it. */
  async put(kind: 'meshes' | 'sources', bytes: Uint8Array): Promise<string> {
    const hash = createHash('sha256').update(bytes).digest('hex');
    await this.write(kind, hash, bytes);
    return hash;
  }

  async write(kind: BlobKind, name: string, bytes: Uint8Array): Promise<void> {
    if (await this.has(kind, name)) return;
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

  /** Moves a finished temporary file to its place. */
  async adopt(kind: BlobKind, name: string, temporary: string): Promise<void> {
    const path = this.path(kind, name);
    mkdirSync(dirname(path), { recursive: true });
    await rename(temporary, path);
  }

  async remove(kind: BlobKind, name: string): Promise<void> {
    await rm(this.path(kind, name), { force: true });
  }

  /** Names of all blobs of a kind. */
  async list(kind: BlobKind): Promise<string[]> {
    const out: string[] = [];
    for (const folder of await readdir(join(this.root, kind)))
      out.push(...(await readdir(join(this.root, kind, folder))));
    return out;
  }

  /** Throws away what uploads or writes left half-done when the process died. */
  async clearIncoming(): Promise<void> {
    for (const name of await readdir(join(this.root, 'incoming')))
      await rm(join(this.root, 'incoming', name), { force: true });
  }
}
