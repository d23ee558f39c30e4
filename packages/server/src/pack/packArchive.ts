import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { writePly } from '@jasmorphe/core/formats/ply';
import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import { forbidsAltered, licences, termsOf } from '@jasmorphe/core/trade/licences';
import { originOf } from '../files/fileWords.ts';
import type { BlobStore } from '../store/BlobStore.ts';
import { filesOf, type PackedProject, type PackedRows } from './PackedProject.ts';

/** What a pack holds, in numbers. */
export interface PackCount {
  projects: number;
  models: number;
  meshes: number;
  bytes: number;
}

export const countOfRows = ({ models, meshes }: PackedRows): PackCount => ({
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
    const { source, terms, says } = originOf(m, project);
    const by = [source.from, source.by && `by ${source.by}`, source.address, source.date].filter(Boolean).join(', ');
    lines.push(
      `${m.name} (${m.sourceName})`,
      ...(by ? [`  ${by}`] : []),
      `  ${says}. ${licences[terms].allows}`,
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
        async () => done(null, createReadStream(await blobs.placeOf('sources', hash))),
        (error: unknown) => {
          fail(error);
          done(error, Readable.from([]));
        },
      );
    });
  zip.end();
  return { stream: zip.outputStream as Readable, count: countOfRows(rows) };
}
