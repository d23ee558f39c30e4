import { expect } from 'chai';
import type { BatchView, KitDrop, KitView } from '@jasmorphe/contracts/kitViews';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { Client } from './client.ts';

/** A box from corner to corner as a file: twelve triangles, closed. */
export function boxFile(min: readonly number[], max: readonly number[]): Uint8Array {
  const corner = (i: number) => [0, 1, 2].map((k) => ((i >> k) & 1 ? max[k] : min[k]));
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return writeBinaryStl({
    positions: Float32Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap(corner)),
    triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
  });
}

/** Files of a drop, by their paths. */
export type Files = Record<string, Uint8Array>;

/** Calls as the page of a kit makes them. */
export class KitClient extends Client {
  drop(projectId: string, files: Files, fields: Record<string, string> = {}) {
    const form = new FormData();
    for (const [name, value] of Object.entries(fields)) form.append(name, value);
    for (const [name, bytes] of Object.entries(files)) form.append('file', new Blob([bytes as BlobPart]), name);
    return this.call<KitDrop>('POST', `/api/projects/${projectId}/kit`, form);
  }

  kitOf = async (projectId: string) => (await this.call<KitView>('GET', `/api/projects/${projectId}/kit`)).body;

  /** Drops files and waits until they are read. */
  async read(projectId: string, files: Files): Promise<{ drop: KitDrop; kit: KitView; batch: BatchView }> {
    const answer = await this.drop(projectId, files);
    expect(answer.status, JSON.stringify(answer.body)).equal(202);
    await this.of().queue.idle();
    const kit = await this.kitOf(projectId);
    return { drop: answer.body, kit, batch: await this.batchOf(answer.body.batch!.id) };
  }

  batchOf = async (id: string) => (await this.call<BatchView>('GET', `/api/batches/${id}`)).body;

  batch(projectId: string, operation: string, params: object, bodyIds: string[], dry = false) {
    return this.call<BatchView>('POST', `/api/projects/${projectId}/batches`, { operation, params, bodyIds, dry });
  }
}
