/** Stable identifiers of what can go wrong; screens and scripts may switch on them. */
export type MeshErrorCode =
  | 'empty-file'
  | 'unknown-format'
  | 'truncated'
  | 'wrong-count'
  | 'bad-number'
  | 'bad-index'
  | 'bad-syntax'
  | 'no-triangles'
  | 'point-cloud'
  | 'no-model'
  | 'archive-too-large'
  | 'bad-archive'
  | 'no-pack'
  | 'pack-newer'
  | 'pack-damaged'
  | 'folder-taken'
  | 'no-backup'
  | 'backup-damaged'
  | 'backup-newer'
  | 'bad-params'
  | 'not-solid'
  | 'too-fine'
  | 'no-ground'
  | 'nothing-left'
  | 'no-seam'
  | 'cannot'
  | 'cancelled';

/** An answer a maker can act on: what was found and where (`message`), and what to try (`hint`). */
export class MeshError extends Error {
  constructor(
    readonly code: MeshErrorCode,
    message: string,
    readonly hint: string = '',
    readonly field?: string,
  ) {
    super(message);
    this.name = 'MeshError';
  }
}

export const isMeshError = (error: unknown): error is MeshError =>
  error instanceof Error && error.name === 'MeshError' && 'code' in error;
