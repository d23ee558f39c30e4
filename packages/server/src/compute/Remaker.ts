import { isMeshError } from '@jasmorphe/core/run/MeshError';
import type { BlobStore } from '../store/BlobStore.ts';
import type { Meshes } from '../store/Meshes.ts';
import { stepView, type StepRow } from '../store/rowViews.ts';
import { sourceOf } from '../store/sourceOf.ts';
import { StoreError } from '../store/troubles.ts';
import type { ComputePort } from './ComputePort.ts';

/**
 * Works meshes out anew whose files are missing or damaged: by a step that made them, from its file or from meshes before it,
 * which may have to be worked out first. A step gives the same bytes each time.
 */
export class Remaker {
  /** under way, by mesh: what several want at once is worked out once */
  private readonly underWay = new Map<string, Promise<boolean>>();

  constructor(
    private readonly meshes: Meshes,
    private readonly blobs: BlobStore,
    private readonly compute: ComputePort,
  ) {}

  /** @throws StoreError where a mesh is not there, or not whole, and cannot be worked out */
  async all(hashes: readonly string[]): Promise<void> {
    for (const hash of new Set(hashes)) {
      const trouble = await this.blobs.troubleWith('meshes', hash);
      if (trouble === null) continue;
      const work = this.underWay.get(hash) ?? this.isWhole(hash, new Set()).finally(() => this.underWay.delete(hash));
      this.underWay.set(hash, work);
      if (!(await work)) throw new StoreError(trouble, `meshes/${hash}`);
    }
  }

  /** The bytes of a mesh, whatever its file is like. @throws StoreError as of `all` */
  async read(hash: string): Promise<Buffer> {
    await this.all([hash]);
    return this.blobs.read('meshes', hash);
  }

  /** @param wanting meshes that are worked out from this one: it is not worked out from them */
  private async isWhole(hash: string, wanting: ReadonlySet<string>): Promise<boolean> {
    if (wanting.has(hash)) return false;
    if (await this.blobs.isSound('meshes', hash)) return true;
    const wants = new Set([...wanting, hash]);
    for (const { step, fileName } of await this.meshes.makersOf(hash)) {
      const source = step.inputs.map(sourceOf).find((s) => s !== null);
      const inputs = step.inputs.filter((input) => sourceOf(input) === null);
      let whole = !source || (await this.blobs.isSound('sources', source));
      for (const input of inputs) whole &&= await this.isWhole(input, wants);
      if (
        whole &&
        (await this.isMade(step, inputs, source ? { hash: source, name: fileName || 'file' } : undefined, hash))
      )
        return true;
    }
    return false;
  }

  private async isMade(
    step: StepRow,
    inputs: string[],
    source: { hash: string; name: string } | undefined,
    hash: string,
  ): Promise<boolean> {
    const { operation, params } = stepView(step);
    try {
      const task = { kind: 'run', operation, params: { ...params }, inputs: source ? [] : inputs, source } as const;
      await this.compute.run(task).result;
    } catch (error) {
      // what this version refuses, another step may give
      if (!isMeshError(error)) throw error;
    }
    return this.blobs.isSound('meshes', hash);
  }
}
