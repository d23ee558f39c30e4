import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readFile, readdir, rename, rm, rmdir, writeFile } from 'node:fs/promises';
import { basename, dirname, extname, join, resolve } from 'node:path';
import { statesUnit } from '@jasmorphe/core/formats/readMesh';
import { guessUnit, type LengthUnit } from '@jasmorphe/core/formats/units';
import { exportFormats, type ExportFormat } from '@jasmorphe/core/formats/exportFormats';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { FileWords } from '@jasmorphe/core/formats/threeMf';
import { formatOfName, writeMesh } from '@jasmorphe/core/formats/writeMesh';
import type { RunContext } from '@jasmorphe/core/run/context';
import { MeshError } from '@jasmorphe/core/run/MeshError';
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

/** All that comes in on standard input. */
async function standardInput(): Promise<Uint8Array> {
  const pieces: Buffer[] = [];
  for await (const piece of process.stdin) pieces.push(piece as Buffer);
  return Buffer.concat(pieces);
}

/**
 * The files named: a pattern with * or ? in its last part stands for those it matches, in the order of their names.
 *
 * @throws MeshError when a pattern matches none
 */
export async function filesOf(given: readonly string[]): Promise<string[]> {
  const out: string[] = [];
  for (const path of given) {
    const name = basename(path);
    if (!/[*?]/.test(name) || existsSync(path)) {
      out.push(path);
      continue;
    }
    const parts = name
      .split(/([*?])/)
      .map((p) => (p === '*' ? '.*' : p === '?' ? '.' : p.replace(/[\\^$.+()[\]{}|/]/g, '\\$&')));
    const pattern = new RegExp(`^${parts.join('')}$`, 'u');
    const folder = dirname(path);
    const found = await readdir(folder).catch(() => [] as string[]);
    const matching = found.filter((f) => pattern.test(f) && (name.startsWith('.') || !f.startsWith('.'))).sort();
    if (matching.length === 0) throw new MeshError('cannot', `No file matches "${path}".`, 'Check the path.');
    out.push(...matching.map((f) => join(folder, f)));
  }
  return out;
}

/**
 * Where each of several files is written: into the folder, under its own name, in its own format where that can be
 * written, else as 3MF.
 */
export function outputsOf(folder: string, files: readonly string[]): string[] {
  const taken = new Set<string>();
  return files.map((file) => {
    const name = file === '-' ? 'stdin.stl' : basename(file);
    const ending = extname(name).toLowerCase();
    const stem = ending ? name.slice(0, -ending.length) : name;
    const format = (exportFormats as readonly string[]).includes(ending.slice(1)) ? ending : '.3mf';
    let out = `${stem}${format}`;
    for (let n = 2; taken.has(out.toLowerCase()); n++) out = `${stem}-${n}${format}`;
    taken.add(out.toLowerCase());
    return join(folder, out);
  });
}

/**
 * Makes the folder of several outputs. `undo` takes it away again if it was not there before and nothing is in it.
 *
 * @throws MeshError when one of them would take the place of a file that is read
 */
export async function makeFolderFor(
  outputs: readonly string[],
  inputs: readonly string[],
): Promise<{ undo: () => Promise<void> }> {
  const read = new Set(inputs.map((path) => resolve(path)));
  const clash = outputs.find((path) => read.has(resolve(path)));
  if (clash !== undefined)
    throw new MeshError('cannot', `"${clash}" would be written over itself.`, 'Choose another folder.');
  const folder = dirname(outputs[0]);
  try {
    const first = await mkdir(folder, { recursive: true });
    return { undo: async () => void (first && (await rmdir(folder).catch(() => undefined))) };
  } catch (error) {
    throw new MeshError('cannot', `"${folder}" cannot be made: ${reasonOf(error)}.`, 'Choose another folder.');
  }
}

/**
 * The format that an output's name asks for; checked before any work is done.
 *
 * @throws MeshError where its ending is none that can be written
 */
export const checkOutput = (path: string): ExportFormat => formatOfName(path);

/**
 * Reads and imports a mesh file; `-` is standard input.
 *
 * @throws MeshError when it is not there or not a mesh
 */
export async function readInput(
  path: string,
  unit: LengthUnit | undefined,
  context: RunContext,
  stdin: () => Promise<Uint8Array> = standardInput,
): Promise<{ mesh: TriMesh; report: ImportReport; note: string | null }> {
  let bytes: Uint8Array;
  try {
    bytes = await (path === '-' ? stdin() : readFile(path));
  } catch (error) {
    throw new MeshError('cannot', `"${path}" cannot be read: ${reasonOf(error)}.`, 'Check the path.');
  }
  // on the command line a number without a unit is in mm, so that scripts never depend on a guess
  const wanted = unit ?? (statesUnit(bytes) ? 'auto' : 'mm');
  const { outputs, report } = await importMesh.run([], parseParams(ImportParams, { unit: wanted }), {
    ...context,
    source: { name: path === '-' ? 'standard input' : basename(path), mediaType: '', bytes },
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
export async function writeMeshFile(path: string, mesh: TriMesh, words: Partial<FileWords> = {}): Promise<void> {
  const title = titleOf(path);
  await writeOutput(path, writeMesh(mesh, formatOfName(path), title, { title, ...words }));
}

/** What a file is called. */
export const titleOf = (path: string): string => basename(path).replace(/\.[^.]+$/, '');

/** A mesh as a file for `writeFolder`. */
export const fileOf = (name: string, format: ExportFormat, mesh: TriMesh): { name: string; bytes: Uint8Array } => ({
  name: `${name}.${format}`,
  bytes: writeMesh(mesh, format, name, { title: name }),
});

/**
 * What a JSON file says; `-` is standard input.
 *
 * @param what it is, for the message
 * @throws MeshError when it is not there or no JSON
 */
export async function readJson(path: string, what: string, field: string): Promise<unknown> {
  try {
    return JSON.parse(
      path === '-' ? Buffer.from(await standardInput()).toString('utf8') : await readFile(path, 'utf8'),
    );
  } catch (error) {
    throw new MeshError(
      'bad-params',
      `The ${what} "${path}" cannot be read: ${reasonOf(error)}.`,
      'It is a JSON file; see the README.',
      field,
    );
  }
}

/**
 * A printer with its settings, from a JSON file.
 *
 * @throws MeshError when it is not there or not such a profile
 */
export const readProfile = async (path: string): Promise<PrinterProfile> =>
  parseParams(PrinterProfile, await readJson(path, 'printer profile', 'printer'));

/** Writes several files into a folder or folders in it, all or none. */
export async function writeFolder(folder: string, files: { name: string; bytes: Uint8Array }[]): Promise<void> {
  const fresh = !existsSync(folder);
  const done: string[] = [];
  try {
    await mkdir(folder, { recursive: true });
    for (const { name, bytes } of files) {
      const path = join(folder, name);
      await mkdir(dirname(path), { recursive: true });
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
