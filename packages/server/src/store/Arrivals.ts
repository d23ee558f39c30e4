import { rm } from 'node:fs/promises';
import { log } from '../log.ts';
import type { BlobStore, KeptKind } from './BlobStore.ts';

/** A file that has arrived whole and waits to be taken up. */
export interface Staged {
  hash: string;
  bytes: number;
  /** where it lies; whoever staged it removes it from there, unless it was taken */
  temporary: string;
}

/** Puts a file that arrived to its place. */
export type Take = (file: Pick<Staged, 'hash' | 'temporary'>, kind?: KeptKind) => Promise<void>;

/** A file by what it is and holds. */
export interface KeptFile {
  kind: KeptKind;
  name: string;
}

/**
 * Files that come with requests. They go to their places once a request is not refused for what it asks, and one that is refused
 * all the same takes with it what it brought: nothing is left for hours that nobody asked to keep.
 */
export class Arrivals {
  /** by kind and hash: how many requests have it in hand, and whether one of them brought it */
  private readonly inHand = new Map<string, KeptFile & { holders: number; brought: boolean }>();

  /** @param forget removes files that nothing on record needs */
  constructor(
    private readonly blobs: BlobStore,
    private readonly forget: (files: readonly KeptFile[]) => Promise<void>,
  ) {}

  /** Does what is asked for with files that came; what is taken goes again where it fails. */
  async taking<T>(work: (take: Take) => Promise<T>): Promise<T> {
    const mine = new Set<string>();
    const take: Take = async ({ hash, temporary }, kind = 'sources') => {
      const key = `${kind}/${hash}`;
      const held = this.inHand.get(key) ?? { kind, name: hash, holders: 0, brought: false };
      this.inHand.set(key, held);
      if (!mine.has(key)) held.holders++;
      mine.add(key);
      if (await this.blobs.isSound(kind, hash)) await rm(temporary, { force: true });
      else {
        await this.blobs.adopt(kind, hash, temporary);
        held.brought = true;
      }
    };
    try {
      const done = await work(take);
      this.letGo(mine);
      return done;
    } catch (error) {
      await this.forget(this.letGo(mine)).catch((trouble: unknown) =>
        // it is collected with what else nobody needs
        log.warn(trouble, 'A file that was refused could not be removed yet'),
      );
      throw error;
    }
  }

  /** @returns what was brought and nobody has in hand any more */
  private letGo(mine: ReadonlySet<string>): KeptFile[] {
    return [...mine].flatMap((key) => {
      const { kind, name, brought, ...held } = this.inHand.get(key)!;
      if (held.holders > 1) {
        this.inHand.get(key)!.holders--;
        return [];
      }
      this.inHand.delete(key);
      return brought ? [{ kind, name }] : [];
    });
  }
}
