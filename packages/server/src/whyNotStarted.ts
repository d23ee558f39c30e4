import { FolderInUse } from './store/folderLock.ts';
import { troubleOf } from './store/troubles.ts';

/** Why a server could not start, in a sentence or two. */
export function whyNotStarted(error: unknown, port: number, dataFolder: string): string {
  if (error instanceof FolderInUse) return error.message;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'EADDRINUSE') return `Port ${port} is taken. Give another with --port.`;
  if (code === 'EACCES' && /listen/.test(message))
    return `Port ${port} is not for ordinary users. Give another with --port.`;
  if (code === 'EEXIST' || code === 'ENOTDIR') return `${dataFolder} is no folder. Give another with --data.`;
  const trouble = troubleOf(error);
  if (trouble) return `Cannot start on ${dataFolder}: ${trouble.message} ${trouble.hint}`;
  return `Cannot start: ${message}`;
}

/** A port from the command line; null when it is none. */
export function readPort(text: string): number | null {
  return /^\d{1,5}$/.test(text) && Number(text) <= 65_535 ? Number(text) : null;
}
