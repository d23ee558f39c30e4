import { mkdir } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { exportFormats, type ExportFormat } from '@jasmorphe/core/formats/exportFormats';
import type { LengthUnit, StatedUnit } from '@jasmorphe/core/formats/units';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { frameOf } from '@jasmorphe/core/kit/frame';
import { kitUnit } from '@jasmorphe/core/kit/kitUnit';
import { distinctNames, fileNameIn, pieceName } from '@jasmorphe/core/kit/pieceNames';
import { variantGroups, type Likeness } from '@jasmorphe/core/kit/variants';
import { boundsOf, sizeOf, triangleCount, xyz, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import { ImportParams, type ImportReport } from '@jasmorphe/core/operations/import/describe';
import { importMesh } from '@jasmorphe/core/operations/import/run';
import type { OperationContext } from '@jasmorphe/core/operations/Operation';
import { operations } from '@jasmorphe/core/operations/runs';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { writeMeshFile } from '../files.ts';
import { kitFiles, type KitFile } from './kitFiles.ts';

/** What is done to every piece. */
export interface KitDeeds {
  factor?: number;
  mend?: boolean;
  hollow?: number;
  format?: ExportFormat;
  unit?: LengthUnit;
  /** folder for the pieces */
  output: string;
  context: OperationContext;
}

interface Read {
  file: KitFile;
  copies: number;
  report: ImportReport;
  likeness: Likeness;
}

const reason = (error: unknown): string => {
  if (!isMeshError(error)) throw error;
  return [error.message, error.hint].filter(Boolean).join(' ');
};

async function importOf({ path, read }: KitFile, unit: LengthUnit | 'auto', context: OperationContext) {
  const { outputs, report } = await importMesh.run([], parseParams(ImportParams, { unit }), {
    ...context,
    progress() {},
    source: { name: fileNameIn(path), mediaType: '', bytes: await read() },
  });
  return { mesh: outputs[0], report };
}

/** Reads every file once, to know the kit as a whole before anything is made of it. No mesh is kept. */
async function readAll(files: readonly KitFile[], deeds: KitDeeds, failed: { file: string; message: string }[]) {
  const byHash = new Map<string, Read>();
  for (const [i, file] of files.entries()) {
    deeds.context.progress((0.3 * i) / files.length, `Reading ${file.path}`);
    const twin = byHash.get(file.hash);
    if (twin) {
      twin.copies++;
      continue;
    }
    try {
      const { mesh, report } = await importOf(file, deeds.unit ?? 'auto', deeds.context);
      const { min, max } = boundsOf(mesh);
      byHash.set(file.hash, { file, copies: 1, report, likeness: { id: file.hash, path: file.path, min, max } });
    } catch (error) {
      failed.push({ file: file.path, message: reason(error) });
    }
  }
  return [...byHash.values()];
}

async function worked(mesh: TriMesh, { mend, factor, hollow, context }: KitDeeds): Promise<TriMesh> {
  let out = mesh;
  const quiet = { ...context, progress() {} };
  if (mend) [out] = (await operations.mend.run([out], parseParams(operations.mend.params, {}), quiet)).outputs;
  if (factor !== undefined)
    [out] = (await operations.size.run([out], parseParams(operations.size.params, { factor }), quiet)).outputs;
  if (hollow !== undefined)
    [out] = (
      await operations.hollow.run([out], parseParams(operations.hollow.params, { wall: hollow }), quiet)
    ).outputs;
  return out;
}

const formatOf = (path: string): ExportFormat =>
  exportFormats.find((f) => path.toLowerCase().endsWith(`.${f}`)) ?? '3mf';

/**
 * Does the same to every file of a kit. One mesh is in memory at a time; one that fails does not stop the others.
 *
 * @throws MeshError `no-model` where there is no mesh at all, `cannot` where none could be done
 */
export async function doKit(given: readonly string[], deeds: KitDeeds) {
  const { files, failed } = await kitFiles(given);
  if (files.length === 0 && failed.length === 0)
    throw new MeshError('no-model', 'There is no mesh among the files.', 'STL, OBJ, PLY and 3MF files are read.');
  const pieces = await readAll(files, deeds, failed);
  const whole = kitUnit(
    pieces.map((p) => ({ name: fileNameIn(p.file.path), fileSize: p.report.fileSize, fileUnit: p.report.fileUnit })),
  );
  const unit: StatedUnit = deeds.unit ?? whole?.unit ?? pieces[0]?.report.unit ?? 'mm';
  const { shared } = frameOf(pieces.map((p) => p.likeness));
  const variantOf = new Map<string, string>();
  for (const { ids } of variantGroups(
    pieces.map((p) => p.likeness),
    shared,
  ))
    for (const id of ids.slice(1)) variantOf.set(id, pieces.find((p) => p.file.hash === ids[0])!.file.path);
  const names = distinctNames(
    pieces.map(({ file: { path } }) => {
      const folder = path.split('/').slice(0, -1).map(safeFileName);
      return [...folder, `${safeFileName(pieceName(path))}.${deeds.format ?? formatOf(path)}`].join('/');
    }),
  );
  const inputs = new Set(files.flatMap((f) => (f.onDisk ? [resolve(f.onDisk)] : [])));
  const clash = names.find((name) => inputs.has(resolve(deeds.output, name)));
  if (clash !== undefined)
    throw new MeshError('cannot', `"${clash}" would be written over itself.`, 'Choose another folder.');
  const done = [];
  for (const [i, { file, copies, report }] of pieces.entries()) {
    deeds.context.progress(0.3 + (0.7 * i) / pieces.length, `${file.path}, ${i + 1} of ${pieces.length}`);
    try {
      const own = report.fileUnit !== null && deeds.unit === undefined;
      const { mesh } = await importOf(file, own ? 'auto' : (unit as LengthUnit), deeds.context);
      const made = await worked(mesh, deeds);
      const out = join(deeds.output, names[i]);
      await mkdir(dirname(out), { recursive: true });
      await writeMeshFile(out, made);
      const { watertight } = inspectMesh(made, { skipSelfIntersections: true, brief: true });
      done.push({
        file: file.path,
        triangles: triangleCount(made),
        size: xyz(sizeOf(boundsOf(made))),
        watertight,
        out,
        variantOf: variantOf.get(file.hash) ?? null,
        copies,
      });
    } catch (error) {
      failed.push({ file: file.path, message: reason(error) });
    }
  }
  if (done.length === 0)
    throw new MeshError(
      'cannot',
      'No piece of the kit could be done.',
      failed
        .map((f) => `${f.file}: ${f.message}`)
        .slice(0, 5)
        .join('\n'),
    );
  const why = deeds.unit !== undefined ? 'as you said' : (whole?.reason ?? 'the files state it');
  return { pieces: done, failed, unit, reason: why };
}
