import { createHash } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { isDeepStrictEqual } from 'node:util';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { fileNameIn } from '@jasmorphe/core/kit/pieceNames';
import { toCanonical, fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { boundsOf, triangleCount, vertexCount, xyz, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { stage } from '../kit/gatherKit.ts';
import { openArchive, type ArchiveEntry, type KitLimits } from '../kit/openArchive.ts';
import type { Staged, Take } from '../store/Arrivals.ts';
import type { BlobStore, KeptKind } from '../store/BlobStore.ts';
import { troubleOf } from '../store/troubles.ts';
import { oddRow } from './checkRows.ts';
import { countOfRows, type PackCount } from './packArchive.ts';
import { damagedPack, filesOf, readPackList, type PackedProject, type PackedRows } from './PackedProject.ts';
import type { Packs } from './Packs.ts';
import { beyondLimits } from './rowLimits.ts';

/** What a pack may hold: far more than a kit, and its own list says what is in it. */
const packLimits: KitLimits = { entries: 200_000, fileBytes: 2 * 2 ** 30, bytes: 200 * 2 ** 30, ratio: 200 };

/** The list of a pack is no larger than this, bytes. */
const mostListBytes = 256 * 2 ** 20;
/** The head of a mesh file of ours is no longer than this, bytes. */
const mostHeadBytes = 500;

/** A pack that was looked through: its list, and its files under temporary names. */
export interface ReadPack {
  packed: PackedProject;
  files: (Staged & { kind: KeptKind })[];
}

async function bytesOf(entry: ArchiveEntry): Promise<Buffer> {
  const chunks: Buffer[] = [];
  try {
    for await (const chunk of await entry.open()) chunks.push(chunk as Buffer);
  } catch (error) {
    if (isMeshError(error)) throw error;
    throw damagedPack(`${entry.path} cannot be unpacked`);
  }
  return Buffer.concat(chunks);
}

/** A mesh as `writePly` writes it, corner for corner. @throws MeshError `pack-damaged` */
function readOwnPly(bytes: Buffer, name: string): Uint8Array {
  const end = bytes.indexOf('end_header\n');
  const head = bytes.toString('latin1', 0, Math.max(0, end));
  const v = Number(/element vertex (\d+)/.exec(head)?.[1]);
  const t = Number(/element face (\d+)/.exec(head)?.[1]);
  const start = end + 'end_header\n'.length;
  if (end < 0 || !(v >= 0) || !(t >= 0) || bytes.length !== start + 12 * v + 13 * t)
    throw damagedPack(`mesh ${name} is not as it was written`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const positions = new Float32Array(3 * v);
  for (let i = 0; i < 3 * v; i++) positions[i] = view.getFloat32(start + 4 * i, true);
  const triangles = new Uint32Array(3 * t);
  for (let i = 0; i < t; i++)
    for (let k = 0; k < 3; k++) triangles[3 * i + k] = view.getUint32(start + 12 * v + 13 * i + 1 + 4 * k, true);
  return toCanonical({ positions, triangles });
}

type MeshRow = PackedRows['meshes'][number];

/** May a file be the mesh that a row counts the corners and triangles of? Asked before any of it is unpacked. */
const mayBe = ({ bytes }: ArchiveEntry, { vertices, triangles }: MeshRow): boolean => {
  const body = 12 * vertices + 13 * triangles;
  return bytes >= body && bytes <= body + mostHeadBytes;
};

/** Does a row say of a mesh what can be seen of it without inspecting it anew? */
function tellsOf(row: MeshRow, mesh: TriMesh, bytes: number): boolean {
  const { min, max } = boundsOf(mesh);
  const facts = row.facts as Inspection;
  return (
    row.triangles === triangleCount(mesh) &&
    row.vertices === vertexCount(mesh) &&
    row.bytes === bytes &&
    isDeepStrictEqual([facts.min, facts.max], [xyz(min), xyz(max)])
  );
}

/** The list of an archive, held to what our tables, our answers and our API take. @throws MeshError */
async function listOf(entry: ArchiveEntry | undefined): Promise<PackedProject> {
  if (!entry)
    throw new MeshError(
      'no-pack',
      'This is no pack of a project.',
      'To read meshes of an archive, drop it into a project.',
    );
  if (entry.refused !== null || entry.bytes > mostListBytes) throw damagedPack('its list cannot be read');
  const packed = readPackList((await bytesOf(entry)).toString('utf8'));
  const odd = oddRow(packed.rows) ?? beyondLimits(packed.rows);
  if (odd !== null) throw damagedPack(odd);
  return packed;
}

/**
 * Looks through an archive: its list is held to what may be put in, and every file to the hash that names it. Nothing is put to
 * its place; on failure nothing is left.
 *
 * @throws MeshError `no-pack`, `pack-newer`, `pack-damaged`, `bad-archive`, `archive-too-large`
 */
export async function readPack(path: string, blobs: BlobStore): Promise<ReadPack> {
  const archive = await openArchive(path, packLimits);
  const files: ReadPack['files'] = [];
  const keep = async (kind: KeptKind, stream: Readable): Promise<string> => {
    const staged = await stage(blobs, stream);
    files.push({ ...staged, kind });
    return staged.hash;
  };
  try {
    const byPath = new Map(archive.entries.map((e) => [e.path, e]));
    const packed = await listOf(byPath.get('pack.json'));
    const there = packed.rows.meshes.map((row): [MeshRow, ArchiveEntry] => {
      const name = row.hash.slice(0, 12);
      const entry = byPath.get(`meshes/${row.hash}.ply`);
      if (!entry || entry.refused !== null) throw damagedPack(`mesh ${name} is missing`);
      if (!mayBe(entry, row)) throw damagedPack(`mesh ${name} is not as large as its list says`);
      return [row, entry];
    });
    const filed = new Map(
      archive.entries
        .filter((e) => /^sources\/[0-9a-f]{64}\//.test(e.path))
        .map((e) => [e.path.split('/')[1], e] as const),
    );
    const sources = filesOf(packed.rows).sources.map((hash): [string, ArchiveEntry] => {
      const entry = filed.get(hash);
      if (!entry || entry.refused !== null) throw damagedPack(`the file ${hash.slice(0, 12)} is missing`);
      return [hash, entry];
    });
    for (const [row, entry] of there) {
      const name = row.hash.slice(0, 12);
      const bytes = readOwnPly(await bytesOf(entry), name);
      if (createHash('sha256').update(bytes).digest('hex') !== row.hash)
        throw damagedPack(`mesh ${name} is not what its name says`);
      if (!tellsOf(row, fromCanonical(bytes), bytes.length))
        throw damagedPack(`what it says of mesh ${name} is not so`);
      await keep('meshes', Readable.from([Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length)]));
    }
    for (const [hash, entry] of sources) {
      const kept = await keep('sources', await entry.open()).catch((error: unknown) => {
        // a full disk is no fault of the pack
        throw troubleOf(error) ? error : damagedPack(`${fileNameIn(entry.path)} cannot be unpacked`);
      });
      if (kept !== hash) throw damagedPack(`${fileNameIn(entry.path)} is not what its name says`);
    }
    return { packed, files };
  } catch (error) {
    await dropFiles(files);
    throw error;
  } finally {
    archive.close();
  }
}

const dropFiles = async (files: ReadPack['files']): Promise<void> => {
  for (const { temporary } of files) await rm(temporary, { force: true });
};

/**
 * Puts a project in that was looked through, with its files, at once or not at all.
 *
 * @throws MeshError `pack-damaged`
 */
export async function putPack(
  { packed, files }: ReadPack,
  take: Take,
  packs: Packs,
): Promise<PackCount & { projectId: string }> {
  try {
    for (const file of files) await take(file, file.kind);
    return { projectId: await packs.put(packed), ...countOfRows(packed.rows) };
  } finally {
    await dropFiles(files);
  }
}
