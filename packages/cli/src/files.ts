import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { statesUnit } from '@jasmorphe/core/formats/readMesh';
import { guessUnit, type LengthUnit } from '@jasmorphe/core/formats/units';
import { formatOfName, writeMesh } from '@jasmorphe/core/formats/writeMesh';
import type { RunContext } from '@jasmorphe/core/run/context';
import { MeshError } from '@jasmorphe/core/mesh/MeshError';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { importMesh } from '@jasmorphe/core/operations/import/run';
import { ImportParams, type ImportReport } from '@jasmorphe/core/operations/import/describe';
import { parseParams } from '@jasmorphe/core/params/parseParams';

const reasons: Record<string, string> = {
  ENOENT: 'there is no such file or folder',
  EISDIR: 'it is a folder',
  ENOTDIR: 'part of the path is a file, not a folder',
  EACCES: 'it may not be touched by this user',
  EPERM: 'it may not be touched by this user',
  ENOSPC: 'the disk is full',
  EROFS: 'the disk cannot be written to',
  ENAMETOOLONG: 'the name is too long',
};

/** Why a file could not be read or written, in words. */
export const reasonOf = (error: unknown): string =>
  reasons[(error as NodeJS.ErrnoException).code ?? ''] ?? (error as Error).message;

/**
 * Reads and imports a mesh file.
 *
 * @throws MeshError when it is not there or not a mesh
 */
export async function readInput(
  path: string,
  unit: LengthUnit | undefined,
  context: RunContext,
): Promise<{ mesh: TriMesh; report: ImportReport; note: string | null }> {
  let bytes: Uint8Array;
  try {
    bytes = await readFile(path);
  } catch (error) {
    throw new MeshError('cannot', `"${path}" cannot be read: ${reasonOf(error)}.`, 'Check the path.');
  }
  // on the command line a number without a unit is in mm, so that scripts never depend on a guess
  const wanted = unit ?? (statesUnit(bytes) ? 'auto' : 'mm');
  const { outputs, report } = await importMesh.run([], parseParams(ImportParams, { unit: wanted }), {
    ...context,
    source: { name: basename(path), mediaType: '', bytes },
  });
  const odd = report.notes.join(' ') || null;
  if (report.unitFrom === 'file') return { mesh: outputs[0], report, note: odd };
  const largest = Math.max(report.fileSize.x, report.fileSize.y, report.fileSize.z);
  const guess = guessUnit(largest);
  const note =
    unit === undefined && guess.unit !== 'mm'
      ? `The file states no unit and was taken as mm, though ${guess.unit} looks likelier (${guess.reason}). Give --unit to say so.`
      : odd;
  return { mesh: outputs[0], report, note };
}

/** Writes a file whole or not at all: under a temporary name beside it, then renamed. */
export async function writeOutput(path: string, bytes: Uint8Array): Promise<void> {
  const temporary = join(dirname(path), `.${basename(path)}.${randomUUID()}`);
  try {
    await writeFile(temporary, bytes, { flag: 'wx' });
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw new MeshError(
      'cannot',
      `"${path}" cannot be written: ${reasonOf(error)}.`,
      'Does the folder exist, and is there room?',
    );
  }
}

/** Writes a mesh as a file of the format that its name asks for. */
export const writeMeshFile = (path: string, mesh: TriMesh): Promise<void> =>
  writeOutput(path, writeMesh(mesh, formatOfName(path), basename(path).replace(/\.[^.]+$/, '')));

/** Writes several files into a folder, all or none. */
export async function writeFolder(folder: string, files: { name: string; bytes: Uint8Array }[]): Promise<void> {
  const fresh = !existsSync(folder);
  const done: string[] = [];
  try {
    await mkdir(folder, { recursive: true });
    for (const { name, bytes } of files) {
      const path = join(folder, name);
      await writeOutput(path, bytes);
      done.push(path);
    }
  } catch (error) {
    for (const path of done) await rm(path, { force: true });
    if (fresh) await rm(folder, { recursive: true, force: true });
    throw error instanceof MeshError
      ? error
      : new MeshError('cannot', `"${folder}" cannot be made: ${reasonOf(error)}.`, 'Choose another folder.');
  }
}
