import { mediaTypes, type ExportFormat } from '@jasmorphe/core/formats/exportFormats';
import { writeArchive } from '@jasmorphe/core/formats/archive';
import { writeThreeMf } from '@jasmorphe/core/formats/threeMf';
import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { catalogue, descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import { layApart, layOnBed } from '@jasmorphe/core/planning/partPose';
import { makesSkin } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import type { Services } from './Services.ts';

/** A name that says what the file is: model, largest side, what was done to it last. */
export function fileNameOf(body: Pick<BodyView, 'name' | 'line' | 'cursor' | 'mesh'>): string {
  const { x, y, z } = body.mesh.facts.size;
  const last = body.line.slice(0, body.cursor).findLast(makesSkin)?.operation;
  return safeFileName(
    [body.name, `${Math.round(Math.max(x, y, z))}mm`, last && descriptionOf(last).words.fileWord]
      .filter(Boolean)
      .join('_'),
  );
}

/**
 * The file of a body: the mesh, or all its parts.
 *
 * @param what parts: each an object of the 3MF, or a file of an archive; whole: the model in one piece
 * @param pose model: as they stand in the model; bed: each as it lies on the printer
 */
export async function exportFile(
  { library, blobs, pool }: Services,
  view: BodyView,
  format: ExportFormat,
  what: 'parts' | 'whole',
  pose: 'model' | 'bed',
): Promise<{ name: string; type: string; bytes: Uint8Array }> {
  const meshOf = async (hash: string) => fromCanonical(await blobs.read('meshes', hash));
  const lying = pose === 'bed';
  if (view.kind === 'part') {
    const { parts, name: model } = await library.views.view(view.modelId);
    const part = parts.find((p) => p.id === view.id);
    const name = safeFileName(`${model}_${part?.tag ?? view.name}${lying ? '_on-bed' : ''}`);
    const { bytes } = await written(pool, format, name, view.mesh.hash, lying ? part?.rotation : undefined);
    return { name: `${name}.${format}`, type: mediaTypes[format], bytes };
  }
  const base = fileNameOf(view);
  if (view.parts.length === 0 || what === 'whole') {
    const { bytes } = await written(pool, format, base, view.mesh.hash);
    return { name: `${base}.${format}`, type: mediaTypes[format], bytes };
  }
  const all = `${base}_${view.parts.length}-${view.parts.length === 1 ? 'part' : 'parts'}${lying ? '_on-bed' : ''}`;
  if (format === '3mf') {
    const meshes = await Promise.all(view.parts.map((p) => meshOf(p.mesh.hash)));
    const laid = lying ? layApart(meshes.map((mesh, i) => layOnBed(mesh, view.parts[i].rotation))) : meshes;
    const objects = laid.map((mesh, i) => ({ name: view.parts[i].tag, mesh }));
    return { name: `${all}.3mf`, type: mediaTypes['3mf'], bytes: writeThreeMf(objects) };
  }
  const entries: Record<string, Uint8Array> = {};
  for (const p of view.parts) {
    const { bytes } = await written(pool, format, p.tag, p.mesh.hash, lying ? p.rotation : undefined);
    entries[`${safeFileName(`${view.name}_${p.tag}`)}.${format}`] = bytes;
  }
  return { name: `${all}.zip`, type: 'application/zip', bytes: writeArchive(entries) };
}

/** The file of one mesh, written in a thread; lying on the bed where a rotation is given. */
async function written(pool: Services['pool'], format: ExportFormat, name: string, hash: string, lie?: number[][]) {
  const params = { format, name, ...(lie ? { rotation: lie } : {}) };
  const { files } = await pool.run({ operation: catalogue.export.name, params, inputs: [hash] }, () => undefined)
    .result;
  return files[0];
}
