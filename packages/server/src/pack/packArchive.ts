import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { isDeepStrictEqual } from 'node:util';
import { ZipFile } from 'yazl';
import { writePly } from '@jasmorphe/core/formats/ply';
import { fromCanonical, toCanonical } from '@jasmorphe/core/mesh/canonical';
import { fileNameIn } from '@jasmorphe/core/kit/pieceNames';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { boundsOf, triangleCount, vertexCount, xyz, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { forbidsAltered, licences, termsOf } from '@jasmorphe/core/trade/licences';
import { openArchive, type ArchiveEntry, type KitLimits } from '../kit/openArchive.ts';
import type { BlobStore } from '../store/BlobStore.ts';
import { keep } from '../kit/gatherKit.ts';
import { troubleOf } from '../store/troubles.ts';
import { oddRow } from './checkRows.ts';
import { filesOf, readPackList, type PackedProject, type PackedRows } from './PackedProject.ts';
import type { Packs } from './Packs.ts';

/** What a pack may hold: far more than a kit, and its own list says what is in it. */
export const packLimits: KitLimits = { entries: 200_000, fileBytes: 8 * 2 ** 30, bytes: 200 * 2 ** 30, ratio: 1000 };

/** The list of a pack is no larger than this, bytes. */
const mostListBytes = 512 * 2 ** 20;

/** What a pack holds, in numbers. */
export interface PackCount {
  projects: number;
  models: number;
  meshes: number;
  bytes: number;
}

const countOfRows = ({ models, meshes }: PackedRows): PackCount => ({
  projects: 1,
  models: models.length,
  meshes: meshes.length,
  bytes: meshes.reduce((n, m) => n + m.bytes, 0),
});

/** Pieces that were altered though their terms keep altered files from being passed on. */
export function alteredAgainstTerms(rows: PackedRows): string[] {
  const [project] = rows.projects;
  return rows.models
    .filter((m) => forbidsAltered(termsOf(m, project)))
    .filter((m) => (rows.lineStates.find((s) => s.bodyId === m.id && s.seq === m.seq)?.cursor ?? 0) > 1)
    .map((m) => m.name);
}

/** What a pack says of whence its models came, for people who open it. */
function notice(rows: PackedRows): string {
  const [project] = rows.projects;
  const altered = new Set(alteredAgainstTerms(rows));
  const lines = [`${project.name}`, ''];
  for (const m of rows.models) {
    const own = Object.values(m.source).some(Boolean) ? m.source : project.source;
    const by = [own.from, own.by && `by ${own.by}`, own.address, own.date].filter(Boolean).join(', ');
    const terms = licences[termsOf(m, project)];
    lines.push(
      `${m.name} (${m.sourceName})`,
      ...(by ? [`  ${by}`] : []),
      `  ${[terms.name, m.licence || project.licence].filter(Boolean).join(': ')}. ${terms.allows}`,
      ...(altered.has(m.name)
        ? ['  ALTERED, AND NOT TO BE PASSED ON: its terms keep altered files with whoever made them.']
        : []),
      '',
    );
  }
  return lines.join('\r\n');
}

/**
 * The archive of a project, as a stream: `pack.json` with its rows, `meshes/HASH.ply`, `sources/HASH/NAME` and
 * `NOTICE.txt`. Meshes are written one at a time.
 */
export function writePack(packed: PackedProject, blobs: BlobStore): { stream: Readable; count: PackCount } {
  const zip = new ZipFile();
  const { rows } = packed;
  const { meshes, sources } = filesOf(rows);
  const fail = (error: unknown) => zip.outputStream.emit('error', error);
  zip.on('error', fail);
  zip.addBuffer(Buffer.from(JSON.stringify(packed)), 'pack.json');
  zip.addBuffer(Buffer.from(notice(rows)), 'NOTICE.txt');
  for (const hash of meshes)
    zip.addReadStreamLazy(`meshes/${hash}.ply`, (done) => {
      blobs.read('meshes', hash).then(
        (bytes) => done(null, Readable.from([Buffer.from(writePly(fromCanonical(bytes)))])),
        (error: unknown) => {
          fail(error);
          done(error, Readable.from([]));
        },
      );
    });
  const nameOf = new Map<string, string>([
    ...rows.attachments.flatMap((a): [string, string][] => (a.hash ? [[a.hash, a.name]] : [])),
    ...rows.models.map((m): [string, string] => [m.sourceHash, m.sourceName]),
  ]);
  for (const hash of sources)
    zip.addReadStreamLazy(`sources/${hash}/${safeFileName(nameOf.get(hash) ?? 'file')}`, (done) => {
      blobs.verify('sources', hash).then(
        () => done(null, createReadStream(blobs.path('sources', hash))),
        (error: unknown) => {
          fail(error);
          done(error, Readable.from([]));
        },
      );
    });
  zip.end();
  return { stream: zip.outputStream as Readable, count: countOfRows(rows) };
}

const damaged = (what: string): MeshError =>
  new MeshError('pack-damaged', `The pack is damaged: ${what}.`, 'Nothing was unpacked. Fetch the archive again.');

async function bytesOf(entry: ArchiveEntry): Promise<Buffer> {
  const chunks: Buffer[] = [];
  try {
    for await (const chunk of await entry.open()) chunks.push(chunk as Buffer);
  } catch (error) {
    if (isMeshError(error)) throw error;
    throw damaged(`${entry.path} cannot be unpacked`);
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
    throw damaged(`mesh ${name} is not as it was written`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const positions = new Float32Array(3 * v);
  for (let i = 0; i < 3 * v; i++) positions[i] = view.getFloat32(start + 4 * i, true);
  const triangles = new Uint32Array(3 * t);
  for (let i = 0; i < t; i++)
    for (let k = 0; k < 3; k++) triangles[3 * i + k] = view.getUint32(start + 12 * v + 13 * i + 1 + 4 * k, true);
  return toCanonical({ positions, triangles });
}

/** Does a row say of a mesh what can be seen of it without inspecting it anew? */
function tellsOf(row: PackedRows['meshes'][number], mesh: TriMesh, bytes: number): boolean {
  const { min, max } = boundsOf(mesh);
  const facts = row.facts as Inspection;
  return (
    row.triangles === triangleCount(mesh) &&
    row.vertices === vertexCount(mesh) &&
    row.bytes === bytes &&
    isDeepStrictEqual([facts.min, facts.max], [xyz(min), xyz(max)])
  );
}

/**
 * Unpacks an archive: every file is held to the hash that names it before the project is put in, at once or not at all.
 *
 * @throws MeshError `no-pack`, `pack-newer`, `pack-damaged`, `bad-archive`, `archive-too-large`
 */
export async function unpack(path: string, blobs: BlobStore, packs: Packs): Promise<PackCount & { projectId: string }> {
  const archive = await openArchive(path, packLimits);
  try {
    const byPath = new Map(archive.entries.map((e) => [e.path, e]));
    const list = byPath.get('pack.json');
    if (!list)
      throw new MeshError(
        'no-pack',
        'This is no pack of a project.',
        'To read meshes of an archive, drop it into a project.',
      );
    if (list.refused !== null || list.bytes > mostListBytes) throw damaged('its list cannot be read');
    const packed = readPackList((await bytesOf(list)).toString('utf8'));
    const odd = oddRow(packed.rows);
    if (odd) throw damaged(odd);
    for (const row of packed.rows.meshes) {
      const name = row.hash.slice(0, 12);
      const entry = byPath.get(`meshes/${row.hash}.ply`);
      if (!entry || entry.refused !== null) throw damaged(`mesh ${name} is missing`);
      const bytes = readOwnPly(await bytesOf(entry), name);
      if (createHash('sha256').update(bytes).digest('hex') !== row.hash)
        throw damaged(`mesh ${name} is not what its name says`);
      if (!tellsOf(row, fromCanonical(bytes), bytes.length)) throw damaged(`what it says of mesh ${name} is not so`);
      await blobs.put('meshes', bytes);
    }
    const filed = new Map(
      archive.entries
        .filter((e) => /^sources\/[0-9a-f]{64}\//.test(e.path))
        .map((e) => [e.path.split('/')[1], e] as const),
    );
    for (const hash of filesOf(packed.rows).sources) {
      const entry = filed.get(hash);
      if (!entry || entry.refused !== null) throw damaged(`the file ${hash.slice(0, 12)} is missing`);
      const kept = await keep(blobs, await entry.open()).catch((error: unknown) => {
        // a full disk is no fault of the pack
        throw troubleOf(error) ? error : damaged(`${fileNameIn(entry.path)} cannot be unpacked`);
      });
      if (kept.hash !== hash) throw damaged(`${fileNameIn(entry.path)} is not what its name says`);
    }
    const projectId = await packs.put(packed);
    const { rows } = packed;
    return {
      projectId,
      ...countOfRows(rows),
    };
  } finally {
    archive.close();
  }
}
